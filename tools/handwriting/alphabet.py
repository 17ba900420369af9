"""The signs that the reader knows. Class 0 of the network is "nothing" (the blank of CTC), class i + 1 is ALPHABET[i]."""

PLAIN = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789 .,;:!?'\"()-+=/&%"
MORE = "@#$£€°*_<>[]×"
ACCENTED = "àáâäãåæçèéêëìíîïñòóôöõøùúûüßÀÁÂÄÅÆÇÈÉÊÑÓÔÖØÚÜ"
ALPHABET = PLAIN + MORE + ACCENTED
CLASSES = len(ALPHABET) + 1
BLANK = 0

INDEX = {c: i + 1 for i, c in enumerate(ALPHABET)}


def encode(text):
    """Classes of a text; KeyError for a sign that is not read."""
    return [INDEX[c] for c in text]


def decode(classes):
    """Text of a row of classes as CTC gives them: repeated ones are one, blanks part them."""
    out, last = [], BLANK
    for c in classes:
        if c != last and c != BLANK:
            out.append(ALPHABET[c - 1])
        last = c
    return "".join(out)
