"""A generator of bench talk: utterances with their spans, made from the patterns in talk.txt, in six manners.

Everything in it is invented. One utterance holds one to four acts; manners differ in articles, case, stops, hesitations,
abbreviations and the slips of a speech recogniser.
"""

import random
import re
from dataclasses import replace
from pathlib import Path

from spans import ACTS, DOUBTFUL, REMARKS, Line

HERE = Path(__file__).parent
MANNERS = ("terse", "dictated", "manual", "chatty", "nonnative", "slips")
TIES = "cable tie|zip tie|old glue|seal|wires|tape|security seal|strap|shrink tube|lead|hose|cell tabs".split("|")
CAPS = "flash capacitor|big capacitor|mains capacitor|motor cap|capacitor|bulk cap|photo flash cap".split("|")
GLUES = "adhesive|tape|thermal paste|gasket|glue|adhesive strips|silicone|foam tape|thermal gel|grease|double-sided tape|sealant|thermal pad".split(
    "|"
)
OWNERS = "battery|fan|motor|speaker|display|sensor|antenna|camera|keypad|lamp|pump|power|heater|switch|microphone|trigger|button|encoder|main|interface|LED|charging|touch|thermistor|ground|motor|solenoid|thermostat".split(
    "|"
)
FILLERS = "um|uh|you know|like|right|so|okay|kind of|just|actually|basically|let's see".split("|")
SHORT = {
    "battery": "batt",
    "motor": "mtr",
    "board": "bd",
    "speaker": "spkr",
    "display": "disp",
    "connector": "conn",
    "screws": "scr",
    "bottom": "btm",
    "with": "w/",
    "cover": "cvr",
    "bracket": "brkt",
    "capacitor": "cap",
    "assembly": "assy",
    "cable": "cbl",
    "and": "+",
    "camera": "cam",
    "through": "thru",
    "gasket": "gskt",
    "microphone": "mic",
    "antenna": "ant",
    "housing": "hsg",
    "removed": "rmvd",
    "left": "L",
    "right": "R",
}
SLIPS = {
    "four": "for", "two": "too", "one": "won", "eight": "ate", "three": "tree", "off": "of", "there": "their",
    "right": "write", "to": "too", "loose": "lose", "loosen": "lose in", "screw": "screw", "peel": "peal", "wait": "weight",
    "T5": "tea five", "T6": "tea six", "T8": "tea ate", "T10": "tea ten", "T3": "tea three", "T4": "tea for",
    "T15": "tea fifteen", "T20": "tea twenty", "PH0": "pee aitch zero", "PH1": "pee aitch won", "PH2": "pee aitch two",
    "PH00": "pee aitch double zero", "knob": "nob", "lever": "leaver", "straight": "strait", "here": "hear",
    "hole": "whole", "new": "knew", "through": "threw", "six": "sick", "be": "bee", "unplug": "un plug",
    "brake": "break", "it's": "its", "that's": "thats", "don't": "dont", "there's": "theirs", "I'm": "im", "I'll": "ill",
    "gear": "gere", "board": "bored", "main": "mane", "seal": "seel", "flex": "flecks", "pry": "prize", "unclip": "un clip",
    "heat": "heet", "case": "case", "plug": "plug", "route": "root", "motor": "motor", "IP5": "eye pee five",
    "PZ2": "pee zed too", "PZ1": "pee zed won", "clips": "clips", "by": "buy", "weighs": "ways",
}  # fmt: skip


#: acts whose anchor is one word: the noun of the fastener
ONE_WORD = ("unscrew", "loosen", "fasten", "unclip", "drill", "roll")


class Talk:
    """All patterns, and how one of them is spoken."""

    def __init__(self, seed, names=()):
        self.rng = random.Random(seed)
        self.lists, self.patterns = {}, []
        for raw in (HERE / "talk.txt").read_text(encoding="utf-8").splitlines():
            if raw.startswith("@"):
                name, words = raw[1:].split("\t")
                self.lists[name] = words.split("|")
            elif raw.startswith("|"):
                self.patterns.append(raw[1:])
        self.names = list(names)
        self.groups = 0

    def part(self):
        r = self.rng
        if self.names and r.random() < 0.3:
            return r.choice(self.names)
        head = r.choice(self.lists["head"])
        if r.random() < 0.55:
            return head
        return f"{r.choice(self.lists['mod'])} {head}"

    def slot(self, name):
        r = self.rng
        if name == "part":
            return self.part()
        if name == "parts":
            return self.part() + "s"
        if name == "plug":
            plug = r.choice(self.lists["plugs"])
            if r.random() < 0.8:
                return f"{r.choice(OWNERS)} {plug}"
            return r.choice([plug, r.choice(OWNERS), f"J{r.randint(1, 12)}", f"CN{r.randint(1, 9)}"])
        if name == "plugs2":
            plug = r.choice(["connectors", "plugs", "ribbons", "flexes", "leads", "wires", "cables", "spades", "tags"])
            return plug if r.random() < 0.5 else f"{r.choice(OWNERS)} {plug}"
        if name in ("tie", "cap", "glue"):
            return r.choice({"tie": TIES, "cap": CAPS, "glue": GLUES}[name])
        return r.choice(self.lists[name])

    def expand(self, text):
        """Choices and slots filled; spans stay as marks."""
        r = self.rng
        while True:
            m = re.search(r"\(([^()]*\|[^()]*)\)", text)
            if not m:
                break
            text = text[: m.start()] + r.choice(m.group(1).split("|")) + text[m.end() :]
        text = text.replace("<place2>", self._placed())
        while "<" in text:
            text = re.sub(r"<(\w+)>", lambda m: self._place_slot(m.group(1)), text, count=1)
        return text

    def _place_slot(self, name):
        return self.slot(name)

    def _placed(self):
        place = self.rng.choice(self.lists["place"])
        m = re.match(r"((?:in|at|on|along|around|by|near|down|above|next to|under|round|inside)(?: the)?) (.*)", place)
        return f"{m[1]} [at {m[2]}]" if m else f"[at {place}]"

    def clause(self):
        """[(word, labels)] and whole labels of one pattern."""
        text = self.expand(self.rng.choice(self.patterns))
        whole = re.findall(r"!(\w+)", text)
        text = re.sub(r"\s*!\w+", "", text)
        words = []
        for m in re.finditer(r"\[([\w,]+)\s?([^\]]*)\]|([^\[\]]+)", text):
            if m[3] is not None:
                words += [(w, ()) for w in m[3].split()]
            else:
                self.groups += 1
                inside = m[2].split()
                for i, w in enumerate(inside):
                    last = i == len(inside) - 1
                    words.append(
                        (
                            w,
                            tuple(
                                (x, self.groups)
                                for x in m[1].split(",")
                                if x != "finding_" and (last or x not in ONE_WORD)
                            ),
                        )
                    )
        return words, whole

    def utterance(self, manner=""):
        """A :class:`Line` of one to four clauses in one manner."""
        r = self.rng
        manner = manner or r.choice(MANNERS)
        count = r.choices((1, 2, 3, 4), (55, 30, 11, 4))[0]
        words, whole = [], []
        for k in range(count):
            more, holds = self.clause()
            if k and any(w in REMARKS for w in holds) and r.random() < 0.6:
                more, holds = self.clause()
            if k:
                joint = {
                    "terse": [",", ";", ".", "", "->", "+"],
                    "manual": [".", "and", ";", ", then", "."],
                    "slips": ["and", "and then", "then", "", "so"],
                    "chatty": [", and", ", and then", ".", ", so", ", then", "… and"],
                }.get(manner, [", and", ".", "and then", ", then", ", while", ";"])
                words += [(w, ()) for w in r.choice(joint).split()]
            elif manner in ("chatty", "slips") and r.random() < 0.45:
                words += [
                    (w, ()) for w in [*r.choice(self.lists["lead"]).split(), *([","] if manner == "chatty" else [])]
                ]
            words += more
            whole += holds
        words = self.spoken(words, manner)
        line = Line("", manner=manner, file="made")
        text, open_spans = "", {}
        for word, labels in words:
            glue = "" if not text or (re.match(r"^[,.;:?!…)]", word) and not re.match(r"^\.\d", word)) else " "
            start = len(text) + len(glue)
            text += glue + word
            trail = len(re.search(r"[,.;:?!…)]*$", word)[0])
            lead = len(re.match(r"[(]*", word)[0])
            for label in labels:
                old = open_spans.get(label)
                open_spans[label] = (old[0] if old else start + lead, len(text) - trail)
        line.text = text
        line.spans = sorted({(label[0], s, e) for label, (s, e) in open_spans.items()}, key=lambda x: x[1])
        line.acts = [s[0] for s in line.spans if s[0] in ACTS]
        line.acts += [w for w in dict.fromkeys(whole) if w in ACTS]
        line.remarks = [w for w in dict.fromkeys(whole) if w in REMARKS]
        gone_back = {"place", "connect", "fasten", "stick", "roll", "align", "route"} & set(line.acts)
        line.phase = (
            ("back" if r.random() < 0.85 else "apart") if gone_back else ("apart" if r.random() < 0.93 else "back")
        )
        return line

    def spoken(self, words, manner):
        r = self.rng
        out = []
        for word, labels in words:
            bare = word.strip(",.;:()")
            if manner == "terse":
                if bare in ("the", "a", "an", "its") and r.random() < 0.9:
                    continue
                if bare in SHORT and r.random() < 0.5:
                    word = word.replace(bare, SHORT[bare])
            elif manner == "slips":
                word = re.sub(r"[,.;:()…?!-]+$|^\(", "", word) if not re.fullmatch(r"[\d.]+", word) else word
                bare = word
                if bare in SLIPS and r.random() < 0.45:
                    word = SLIPS[bare]
                word = word.lower()
                if r.random() < 0.012 and len(word) > 4:
                    k = r.randrange(1, len(word) - 1)
                    word = word[:k] + word[k + 1 :]
            elif manner == "nonnative" and bare in ("the", "a", "an") and r.random() < 0.4:
                continue
            elif manner == "chatty" and r.random() < 0.03:
                out.append((r.choice(FILLERS) + ",", ()))
            for w in word.split():
                out.append((w, labels))
        out = [w for w in out if w[0]]
        if out and manner not in ("terse", "slips"):
            out[0] = (out[0][0][:1].upper() + out[0][0][1:], out[0][1])
            if r.random() < 0.9 and not re.search(r"[.?!]$", out[-1][0]):
                out.append((".", ()))
        return out


def reworded(line, talk, rng):
    """A line of a corpus with other parts and figures in its place, so that its structure is learned and not its words."""
    named = ("out", "held", "place", "disconnect", "pry", "fold", "open", "connect", "clean", "route", "align", "identify",
             "weigh", "measure", "condition", "soften", "peel", "under", "renew", "check", "spec")  # fmt: skip
    spans = sorted({(s, e) for label, s, e in line.spans if label in named and e - s > 3})
    swaps, last = [], -1
    for s, e in spans:
        labels = {label for label, a, b in line.spans if (a, b) == (s, e)}
        over = any(a < e and s < b and (a, b) != (s, e) for _, a, b in line.spans)
        word = line.text[s:e]
        if s < last or over or rng.random() < 0.35 or re.search(r"\b(it|them|this|that|off|out|up)\b", word.lower()):
            continue
        if labels & {"disconnect", "connect", "route"}:
            new = talk.slot("plug") if rng.random() < 0.7 else talk.part()
        elif labels & {"peel"}:
            new = talk.slot("film")
        elif not labels - {"at"}:
            continue
        else:
            new = talk.part()
            if word.endswith("s") and not word.endswith("ss") and not new.endswith("s"):
                new += "s"
        if line.text[s:e][0].isupper():
            new = new[0].upper() + new[1:]
        if line.manner == "slips":
            new = new.lower()
        if line.manner == "terse" and rng.random() < 0.5:
            new = " ".join(SHORT.get(w, w) for w in new.split())
        swaps.append((s, e, new))
        last = e
    for label, s, e in line.spans:
        word = line.text[s:e]
        if any(a < e and s < b for a, b, _ in swaps) or rng.random() < 0.4:
            continue
        if label == "n" and word.isdigit():
            swaps.append((s, e, rng.choice(talk.lists["d"])))
        elif (
            label == "n"
            and word in ("two", "three", "four", "five", "six", "seven", "eight")
            and line.manner != "slips"
        ):
            swaps.append((s, e, rng.choice(("two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"))))
        elif label == "size" and re.fullmatch(r"(T|PH|PZ|IP)\d+", word):
            swaps.append((s, e, rng.choice([t for t in talk.lists["tsize"] if re.match(r"[A-Z]", t)])))
    return swapped(line, swaps)


def swapped(line, swaps):
    """The line with some stretches (start, end, new words) put in the place of others, and its spans moved along."""
    out = Line("", [], line.acts, line.remarks, set(line.unfound), line.phase, line.before, line.file, line.manner)
    move, at, text = [], 0, ""
    for s, e, new in sorted(swaps):
        if s < at:
            continue
        text += line.text[at:s]
        move.append((s, e, len(text), len(text) + len(new)))
        text += new
        at = e
    out.text = text + line.text[at:]

    def moved(p, end):
        shift = 0
        for s, e, a, b in move:
            if p >= e and not (end and p == s):
                shift = b - e
            elif s < p < e or (p == s and not end) or (p == e and end):
                return b if end else a
        return p + shift

    out.spans = [(label, moved(s, False), moved(e, True)) for label, s, e in line.spans]
    return out


def misheard(line, rng):
    """A line of prose as a recogniser writes it: small letters, no stops, some words as other words that sound alike."""
    low = noisy(line)
    swaps = []
    for m in re.finditer(r"[^\W_]+(?:'[^\W_]+)*", low.text):
        word = m.group()
        heard = SLIPS.get(word, SLIPS.get(line.text[m.start() : m.end()]))
        if heard and heard != word and rng.random() < 0.5:
            swaps.append((m.start(), m.end(), heard))
        elif len(word) > 5 and rng.random() < 0.02:
            k = rng.randrange(2, len(word) - 2)
            swaps.append((m.start(), m.end(), f"{word[:k]} {word[k:]}"))
    return swapped(low, swaps)


def clipped(line, rng):
    """A line of prose as it is typed in a hurry: articles left out, words cut short."""
    swaps = []
    for m in re.finditer(r"\b(?:the|a|an|its|and|then) |\b[A-Za-z]+\b", line.text):
        word = m.group()
        inside = any(s < m.end() and m.start() < e and m.end() > e for _, s, e in line.spans)
        if word.endswith(" ") and rng.random() < 0.8 and not inside:
            if not any(s < m.end() and m.start() < e for _, s, e in line.spans):
                swaps.append((m.start(), m.end(), ""))
        elif word.lower() in SHORT and rng.random() < 0.4:
            swaps.append((m.start(), m.end(), SHORT[word.lower()]))
    out = swapped(line, swaps)
    out.manner = "terse"
    return out


#: acts that are often told of several things in one breath
LISTED = ("out", "place", "connect", "disconnect", "peel", "clean", "unclip", "identify", "check")
#: remarks beside which two utterances can be one
BESIDE = {"caution", "finding", "praise", "complaint", "mark"}
#: acts that lean on the sentence before
LEANING = {"same", "correct", "undo", "resume"}
DETERMINED = re.compile(r"\b(the|its|this|my|old|both|his|her)\s+$", re.IGNORECASE)


def listed(line, talk, rng):
    """A line in which one more thing, or two, are named beside the first: "the lid and the seal", "with its spring"."""
    spans = [s for s in line.spans if s[0] in LISTED]
    rng.shuffle(spans)
    for label, start, end in spans:
        word = line.text[start:end]
        bare = line.manner in ("terse", "slips") and not DETERMINED.search(line.text[:start])
        if re.search(r"\b(it|them|this|that|they|those|both|off|out|in|on|one)\b", word.lower()):
            continue
        if not (bare or DETERMINED.search(line.text[:start])) or re.match(r"-|\s(?:of|and|with|,)\b", line.text[end:]):
            continue
        if any(a < end and start < b and (a, b) != (start, end) for _, a, b in line.spans) or word[:1].isdigit():
            continue
        new = [
            talk.slot("plug") if label in ("connect", "disconnect") else talk.part()
            for _ in range(rng.choice((1, 1, 2)))
        ]
        if line.manner == "slips":
            new = [n.lower() for n in new]
        article = "" if bare else rng.choice(("the ", "its ", "the ", ""))
        if len(new) == 1:
            links = [f" and {article}", ", ", " + ", " & "] if bare else [f" and {article}", f" and {article}", f" with {article}",
                     f" together with {article}", f" as well as {article}", f", and also {article}", f" along with {article}"]  # fmt: skip
            link = rng.choice(links if label in ("out", "place") else links[: 3 if bare else 2])
            pieces = [(link, new[0])]
        else:
            last = rng.choice((", ", f" and {article}", f", and {article}"))
            pieces = [(f", {article}" if rng.random() < 0.7 or bare else " and the ", new[0]), (last, new[1])]
        if line.manner == "slips":
            pieces = [(link.replace(",", "") or " ", n) for link, n in pieces]
        text, at, more = line.text[:end], end, []
        for link, name in pieces:
            text += link
            more.append((label, len(text), len(text) + len(name)))
            text += name
        shift = len(text) - at
        moved = [(k, a + shift * (a >= end), b + shift * (b > end)) for k, a, b in line.spans]
        acts = list(line.acts)
        acts[acts.index(label) : acts.index(label)] = [label] * len(more) if label in acts else []
        return replace(line, text=text + line.text[end:], spans=sorted([*moved, *more], key=lambda s: s[1]), acts=acts)
    return line


def joined(line, other, rng):
    """Two utterances of one manner and phase said in one breath."""
    first = line.text.rstrip()
    if line.manner == "terse":
        first, link = first.rstrip("."), rng.choice((", ", ". ", "; ", " -> ", ", "))
    elif line.manner == "slips":
        link = rng.choice((" and ", " and then ", " then ", " ", " so "))
    elif rng.random() < 0.4 or not first.endswith("."):
        link = " "
    else:
        first, link = first[:-1], rng.choice((", and ", ", and then ", ", then ", "; ", " and "))
    second = other.text
    if link.strip(". ") and re.match(r"[A-Z][a-z]", second) and not second.startswith("I "):
        second = second[0].lower() + second[1:]
    start = len(first) + len(link)
    return replace(
        line,
        text=first + link + second,
        spans=[*line.spans, *((k, a + start, b + start) for k, a, b in other.spans)],
        acts=[*line.acts, *other.acts],
        remarks=list(dict.fromkeys([*line.remarks, *other.remarks])),
        unfound=line.unfound | other.unfound,
    )


def joinable(line):
    """Whether a line can be said in one breath with another."""
    return (
        bool(line.acts)
        and not set(line.remarks) - BESIDE
        and not LEANING & set(line.acts)
        and len(line.text) < 110
        and line.before not in REMARKS
    )


def noisy(line):
    """A line of prose as a recogniser writes it: small letters, no stops."""
    keep = "".join(
        c.lower()
        if c not in ",.;:!?…"
        or (i and i + 1 < len(line.text) and line.text[i - 1].isdigit() and line.text[i + 1].isdigit())
        else " "
        for i, c in enumerate(line.text)
    )
    return Line(
        keep, line.spans, line.acts, line.remarks, set(line.unfound), line.phase, line.before, line.file, "slips"
    )


if __name__ == "__main__":
    talk = Talk(7)
    for _ in range(40):
        made = talk.utterance()
        print(
            made.manner, "|", made.text, "|", [(a, made.text[s:e]) for a, s, e in made.spans], made.acts, made.remarks
        )
    assert all(w in DOUBTFUL or w for w in DOUBTFUL)
