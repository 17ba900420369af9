"""Writes the word list that the application reads by: SCOWL's words of levels 10 to 55, names among them, each level under its number. The licence of SCOWL goes beside it."""
import hashlib
import os
import shutil
import sys

from alphabet import INDEX
from texts import SCOWL

KINDS = ("english-words", "british-words", "american-words", "english-upper", "british-upper", "american-upper", "english-contractions", "english-proper-names")
LEVELS = (10, 20, 35, 40, 50, 55)
LEFT_OUT = {"3567dd408c98adb2", "8db57758a5a84c14", "079f912e7f330a1b"}
"""Words that are names of products too: the beginnings of their SHA-256, in small letters."""
COPYRIGHT = "/usr/share/doc/scowl/copyright"


def main(out):
    seen, lines = set(), []
    for level in LEVELS:
        words = set()
        for kind in KINDS:
            path = os.path.join(SCOWL, f"{kind}.{level}")
            if os.path.exists(path):
                with open(path, encoding="iso-8859-1") as f:
                    # The ending of a genitive is read by a rule of its own.
                    words |= {w for w in f.read().split() if not w.endswith("'s") and all(c in INDEX for c in w) and len(w) < 25 and hashlib.sha256(w.lower().encode()).hexdigest()[:16] not in LEFT_OUT}
        fresh = sorted(words - seen)
        seen |= words
        lines += [f"#{level}", *fresh]
    with open(os.path.join(out, "english.txt"), "w", encoding="utf-8") as f:
        f.write("\n".join(lines) + "\n")
    shutil.copyfile(COPYRIGHT, os.path.join(out, "english-LICENCE.txt"))
    print(len(seen), "words")


if __name__ == "__main__":
    main(sys.argv[1])
