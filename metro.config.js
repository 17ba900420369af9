const path = require('node:path');
const { getDefaultConfig } = require('expo/metro-config');

const config = getDefaultConfig(__dirname);

/**
 * Here a module is run when something of it is first needed, so that the first screen does not wait for what reads films and archives. It costs a look-up at each use,
 * which screens do not feel; the core, and packages that compute, are run at once.
 */
const WHEN_NEEDED = /^(app|src\/(features|store|ui)|node_modules\/(expo-router|react-native-paper|react-native-web|zod\/v4\/classic))\//;
const atOnce = new Proxy({}, { has: (_, file) => !WHEN_NEEDED.test(path.relative(__dirname, String(file)).replaceAll(path.sep, '/')) });
config.transformer.getTransformOptions = async () => ({ transform: { inlineRequires: { blockList: atOnce } } });

module.exports = config;
