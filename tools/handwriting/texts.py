"""What is written in training: words as frequent as they are, numbers, dates, addresses, sums, other languages, and strings of chance."""
import os
import re

from alphabet import INDEX

SCOWL = "/usr/share/dict/scowl"
LEVELS = ((10, 6.0), (20, 4.0), (35, 3.0), (40, 1.0), (50, 1.0), (55, 0.5), (60, 0.5))
"""SCOWL's levels of frequency, and how often a word is taken from each."""
OTHERS = ("/usr/share/dict/ngerman", "/usr/share/dict/french", "/usr/share/dict/spanish")
MONTHS = "January February March April May June July August September October November December Jan Feb Mar Apr Jun Jul Aug Sep Sept Oct Nov Dec".split()
DAYS = "Monday Tuesday Wednesday Thursday Friday Saturday Sunday Mon Tue Wed Thu Fri Sat Sun".split()
LETTERS = "abcdefghijklmnopqrstuvwxyz"
ACCENTS = {"a": "àáâäãå", "e": "èéêë", "i": "ìíîï", "o": "òóôöõø", "u": "ùúûü", "c": "ç", "n": "ñ", "s": "ß", "A": "ÀÁÂÄÅ", "E": "ÈÉÊ", "O": "ÓÔÖØ", "U": "ÚÜ", "N": "Ñ", "C": "Ç"}


def _read(path, encoding="utf-8"):
    with open(path, encoding=encoding) as f:
        return [w for w in f.read().split() if all(c in INDEX for c in w)]


def levels():
    """[(weight, words)] of English."""
    out = []
    for level, weight in LEVELS:
        words = []
        for kind in ("english-words", "british-words", "american-words", "english-upper", "english-contractions"):
            path = os.path.join(SCOWL, f"{kind}.{level}")
            if os.path.exists(path):
                words += _read(path, "iso-8859-1")
        out.append((weight, sorted({w for w in words if not w.endswith("'s")})))
    return out


class Texts:
    def __init__(self):
        self.levels = levels()
        self.weights = [w for w, _ in self.levels]
        total = sum(self.weights)
        self.weights = [w / total for w in self.weights]
        self.others = [w for path in OTHERS if os.path.exists(path) for w in _read(path) if 1 < len(w) < 14]
        self.accented = [w for w in self.others if re.search(r"[^A-Za-z']", w)]

    def word(self, rnd):
        words = self.levels[rnd.choice(len(self.levels), p=self.weights)][1]
        return words[rnd.integers(len(words))]

    def number(self, rnd):
        n = lambda most: int(rnd.integers(most))
        kind = rnd.integers(14)
        if kind == 0:
            return str(n(10))
        if kind == 1:
            return str(n(100))
        if kind == 2:
            return str(n(10 ** int(rnd.integers(3, 8))))
        if kind == 3:
            return f"{n(100)}.{n(100)}"
        if kind == 4:
            return str(1900 + n(140))
        if kind == 5:
            return f"{n(101)}%"
        if kind == 6:
            return f"{1 + n(24)}:{n(60):02d}"
        if kind == 7:
            return f"{1 + n(31)}.{1 + n(12)}.{2000 + n(40)}" if n(2) else f"{1 + n(31)}/{1 + n(12)}/{n(100):02d}"
        if kind == 8:
            return f"{'€$£'[n(3)]}{n(1000)}" if n(2) else f"{n(1000)}.{n(100):02d} €"
        if kind == 9:
            return f"+{1 + n(98)} {n(1000)} {n(10 ** 6)}" if n(2) else f"0{n(1000)} {n(10 ** 5)}"
        if kind == 10:
            return f"{n(100)} {'+-=x×/<>'[n(8)]} {n(100)}"
        if kind == 11:
            return f"{n(40)}{['°', ' °C', ' m', ' kn', ' km', ' h', ' min', 'th', 'm'][n(9)]}"
        if kind == 12:
            return f"{LETTERS[n(26)]} = {n(100)}.{n(10)}"
        return f"{1 + n(30)} {MONTHS[n(len(MONTHS))]}" if n(2) else f"{DAYS[n(len(DAYS))]} {1 + n(31)}"

    def address(self, rnd):
        a, b = self.word(rnd).lower(), self.word(rnd).lower()
        end = ["com", "org", "net", "eu", "co.uk", "de", "example"][rnd.integers(7)]
        a, b = (re.sub("[^a-z0-9]", "", w) or "mail" for w in (a, b))
        return [f"{a}@{b}.{end}", f"{a}.{b}@mail.{end}", f"www.{a}.{end}", f"{a}_{b}@{b}.{end}", f"https://{b}.{end}/{a}"][rnd.integers(5)]

    def chance(self, rnd):
        n = int(rnd.integers(1, 8))
        signs = LETTERS + LETTERS.upper() + "0123456789" if rnd.random() < 0.6 else LETTERS if rnd.random() < 0.7 else "".join(INDEX).replace(" ", "")
        return "".join(signs[rnd.integers(len(signs))] for _ in range(n))

    def dressed(self, word, rnd):
        """Capitals and marks as they stand in notes."""
        p = rnd.random()
        if p < 0.14:
            word = word[:1].upper() + word[1:]
        elif p < 0.2:
            word = word.upper() if "ß" not in word else word
        if rnd.random() < 0.025:
            word += "'s"
        p = rnd.random()
        if p < 0.14:
            word += ".,;:!?"[min(5, int(rnd.exponential(1.6)))]
        elif p < 0.16:
            word = f"({word})"
        elif p < 0.175:
            word = f'"{word}"'
        elif p < 0.185:
            word = f"- {word}"
        elif p < 0.195:
            word += ["/", "-", "&", "+", "="][rnd.integers(5)] + self.word(rnd)
        elif p < 0.2:
            word = ["* ", "#", "> ", "[ ] "][rnd.integers(4)] + word
        return word

    def one(self, rnd):
        p = rnd.random()
        if p < 0.74:
            return self.dressed(self.word(rnd), rnd)
        if p < 0.83:
            return self.number(rnd)
        if p < 0.855:
            return self.address(rnd)
        if p < 0.92:
            return self.chance(rnd)
        if p < 0.97 and self.accented:
            return self.dressed(self.accented[rnd.integers(len(self.accented))], rnd)
        word = list(self.word(rnd))
        at = int(rnd.integers(len(word)))
        word[at] = (lambda s: s[rnd.integers(len(s))])(ACCENTS.get(word[at], word[at]))
        return "".join(word)

    def some(self, rnd, easy=0.0):
        """One to three words of at most 26 signs. easy: share of short plain ones, for the beginning."""
        if rnd.random() < easy:
            words = [w for w in (self.word(rnd) for _ in range(3)) if len(w) < 6]
            return words[0] if words else "the"
        count = 1 + int(rnd.random() < 0.3) + int(rnd.random() < 0.12)
        text = " ".join(self.one(rnd) for _ in range(count))
        text = "".join(c for c in text if c in INDEX)[:26].strip()
        return text or "a"
