/** Stands in for a style sheet where there is no page to dress. */
module.exports = {};
