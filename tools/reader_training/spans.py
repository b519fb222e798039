"""The notation of the corpora turned into spans: which words of an utterance carry which act and which figure.

A line of a corpus says *what* a careful reader logs, not *where* the words stand. Here each act is anchored on the words
that name what it is done to (or on the pronoun or verb if it is not named), and counts, sizes, lengths, what is held,
places and covers on theirs. What cannot be found is left out, and marked so that nothing is learned from its absence.
"""

import re
from dataclasses import dataclass, field

from corpus import acts_of

#: acts of the notation that the reader tells apart; "same" and the later ones have no object of their own
ACTS = (
    "unscrew loosen out peel unclip disconnect desolder cut drill soften wait pry fold open turn bleed isolate "
    "place connect fasten stick clean roll route check align identify measure weigh condition spec "
    "photo pause resume undo same correct"
).split()
REMARKS = "caution praise complaint finding hypothetical variant mark chat noise announce".split()
ROLES = "n n2 size len len2 held at under with face value marking renew reuse over tool".split()
#: acts done to fasteners: anchored on the word for them, what they hold is a figure of its own
FASTENING = {"unscrew", "loosen", "fasten", "unclip", "desolder", "cut", "drill", "disconnect", "roll"}

NUMBERS = {
    1: "1 one won single a an lone solitary sole",
    2: "2 two to too both pair couple twin",
    3: "3 three tree free trio",
    4: "4 four for fore",
    5: "5 five fife v",
    6: "6 six sick sicks sex",
    7: "7 seven",
    8: "8 eight ate",
    9: "9 nine",
    10: "10 ten tin",
    11: "11 eleven",
    12: "12 twelve dozen",
    13: "13 thirteen",
    14: "14 fourteen",
    15: "15 fifteen",
    16: "16 sixteen",
    18: "18 eighteen",
    17: "17 seventeen",
    19: "19 nineteen",
    20: "20 twenty",
    21: "21 twenty-one",
    22: "22 twenty-two",
    24: "24 twenty-four",
    25: "25 twenty-five",
    27: "27 twenty-seven",
    30: "30 thirty",
    40: "40 forty",
}
VALUE_OF = {w: n for n, ws in NUMBERS.items() for w in ws.split()}
NOUNS = {
    "unscrew": r"screws?|scrws?|scr|bolts?|nuts?|self-?tappers?|tappers?|stand-?offs?|spacers?|crossheads?|schraubs?",
    "loosen": r"screws?|scr|bolts?|nuts?|thumb ?screws?|grub",
    "fasten": r"screws?|scr|bolts?|nuts?|self-?tappers?|tappers?",
    "unclip": r"clips?|catch(?:es)?|tabs?|hooks?|snaps?|snap-fits?|latch(?:es)?|barbs?|claws?|tongues?|lugs?|bayonets?|springs?",
    "desolder": r"wires?|joints?|leads?|legs?|pins?|solder",
    "cut": r"ties?|zip|cable ties?|wires?|glue|seal|tabs?",
    "drill": r"rivets?|screws?|heads?|pegs?",
    "disconnect": r"plugs?|connectors?|leads?|cables?|flex(?:es|is|i)?|ribbons?|spades?|wires?|coax(?:es)?|pigtails?|zif",
    "roll": r"rollers?|rolls?|rolled|passes|times",
}
VERBS = {
    "unscrew": r"unscrew\w*|undo\w*|undone|back\w*|turn\w*|remov\w*|out|driv\w*|come\w*|came|off",
    "loosen": r"loos\w*|lose\w*|slack\w*|eas\w*|back\w*",
    "out": r"out|off|away|remov\w*|lift\w*|took|tak\w*|com\w*|came|pull\w*|withdr\w*|slid\w*|drop\w*|follow\w*|free",
    "peel": r"peel\w*|peal\w*|stripp?\w*|pull\w*|off|lift\w*|scratch\w*",
    "unclip": r"unclip\w*|unhook\w*|releas\w*|press\w*|unsnap\w*|squeez\w*|disengag\w*|twist\w*|pop\w*|unlatch\w*",
    "disconnect": r"disconnect\w*|unplug\w*|pull\w*|pop\w*|detach\w*|off|out|flip\w*|free\w*|releas\w*|drawn?|drew",
    "desolder": r"desolder\w*|unsolder\w*|solder\w*|melt\w*|wick\w*|iron\w*",
    "cut": r"cut\w*|snip\w*|slit\w*|sever\w*|saw\w*|slic\w*",
    "drill": r"drill\w*|ground",
    "soften": r"heat\w*|warm\w*|soften\w*|hair ?dryer|iso\w*|ipa|alcohol|acetone|drip\w*|solvent|hot",
    "wait": r"wait\w*|weight|allow\w*|leav\w*|left|let|cool\w*|dry|rest\w*|stand",
    "pry": r"pr[yi]\w*|lever\w*|prise\w*|card|pick|blade|spudger|lift\w*",
    "fold": r"fold\w*|tip\w*|lay|laid|swing\w*|swung|flip\w*|hing\w*|turn\w*",
    "open": r"open\w*|swing\w*|swung|hing\w*|up",
    "turn": r"turn\w*|flip\w*|upside|over|belly|face|stand|stood|invert\w*|laid|lay",
    "bleed": r"bl[ee]+d\w*|discharg\w*|short\w*",
    "isolate": r"unplug\w*|switch\w*|isolat\w*|power\w*|pwr|mains|disconnect\w*|off|dead",
    "place": r"back|in|on|fit\w*|insert\w*|plac\w*|set\w*|lower\w*|seat\w*|put\w*|go\w*|went|install\w*|refit\w*|replac\w*",
    "connect": r"connect\w*|reconnect\w*|plug\w*|in|on|click\w*|clip\w*|push\w*|press\w*",
    "fasten": r"tighten\w*|fasten\w*|screw\w*|driv\w*|torque\w*|in|back",
    "stick": r"stick\w*|stuck|glue\w*|apply|applied|lay|laid|put|smear\w*|grease\w*|tape\w*|seal\w*|spread\w*|new|fresh|dab\w*|blob",
    "clean": r"clean\w*|wip\w*|brush\w*|blow\w*|blew|scrap\w*|wash\w*",
    "roll": r"roll\w*|press\w*",
    "route": r"rout\w*|root\w*|run|ran|led|lead|tuck\w*|keep|lay|laid|around|round|behind|under|through|over|stow\w*",
    "check": r"check\w*|test\w*|work\w*|run\w*|ran|ok|power\w*|boot\w*|play\w*|tr[iy]\w*|spin\w*|turn\w*|light\w*|hold\w*",
    "align": r"align\w*|line\w*|lining|match\w*|mark\w*|centr\w*|locat\w*",
    "identify": r"mark\w*|say\w*|read\w*|chip|call\w*|bear\w*|label\w*|stamp\w*|print\w*|written|is",
    "measure": r"measur\w*|read\w*|meter|gives?|gave|shows?|ohms?|volts?|at|calliper\w*|caliper\w*",
    "weigh": r"weigh\w*|ways|scale\w*|gram\w*|mass|balance|g|kg",
    "condition": r"grade\w*|condition|cond|call",
    "spec": r"rat\w*|says?|written|nominal|new|plate|spec\w*",
    "photo": r"photo\w*|pic\w*|snap\w*|shot|shoot|camera|foto",
    "pause": r"pause\w*|stop\w*|break|tea|moment|interrupt\w*|rest",
    "resume": r"resum\w*|back|continu\w*|go|rolling|again|carry",
    "undo": r"undo|put|back|scratch|no|nope|delete|forget|revers\w*|strike|take",
    "same": r"same|again|likewise|repeat\w*|ditto|too|also",
    "correct": r"no|sorry|correct\w*|make|was|were|not|wait|oops|should|actually|mean|meant",
}
#: rarer words that an act stands on where none of the above is there
RARER = {
    "wait": r"minutes?|mins?|seconds?|secs?|hours?|our|overnight|night|weekend|tomorrow|count|hold|clamp\w*|\d+ ?(?:s|h|min)",
    "soften": r"torch|mat|spirit|oil|soak\w*|degrees|air",
    "turn": r"(?:on|up ?on|in) (?:its|it's|his|her|the) [\w-]+|tip\w*|spin\w*|rotat\w*|swivel\w*|place|put|set|feet|head|lying|"
    r"right way|roll\w*|\w+ (?:up|down|dn)(?:wards?|most)?",
    "isolate": r"un ?pl\w+|dis connected|plug|adapter|current|fuse|gas|air|handbrake|iso|lock\w*|cord|shut|key|battery|supply|out",
    "place": r"new|closed?|takes?|up|down|hang\w*|all|mount\w*|follow\w*|assy|reas\w*",
    "fasten": r"nip\w*|snug|tight|secur\w*|bolt\w*|flang\w*|clos\w*|do(?:ne)?|up|torque|hand-tight|tension|run|home|follow\w*",
    "clean": r"degreas\w*|rins\w*|scrub\w*|dried|cln|steeped|benzine|everything|pick\w*|scratch\w*|vinegar|alcohol|water",
    "check": r"proved|fault|good|alive|sounds?|sounded|goes|leaks?|ensure|verify|solid|bright|done|now",
    "measure": r"pulls?|draws?|drew|takes?|have|get|ripple|difference|left|came|falls?|set|runs?|out|nom|o/p",
    "spec": r"should|supposed|printed|stamped|book|stands|unit|f=|power|gives|current|resistance|nom|set|label|watts?|volts?",
    "pause": r"hold|brk|brake|coffee|lunch|minute|sec|hang on|door|phone|suspend\w*|broke|day|brb|eat\w*|dinner|back|tbc|tmrw|later",
    "resume": r"where|were|on|cont|okay|ok|right|further|morning|later|rstrt|ready",
    "undo": r"scrap|scrub|rm|del|deleted|last|mind|disregarded|cancel|redo|struck|erase\w*",
    "same": r"another|more|other|dto|times|each|every",
    "condition": r"good|nick|state|new|ok|worn|\w\+?",
    "correct": r"corr|miscounted|misread|wrong|by the way|btw|for|said|rather|then|proved|scratch|find|idiot|is|are|they're|it's",
    "open": r"apart|hand|flap|part\w*|separat\w*|hang\w*|dangl\w*",
    "unclip": r"opening tool|letting go|hooks?|bend|bent|spr[ua]ng|spread|ears?|click|barb|let\w* go",
    "disconnect": r"plug\w*|loose|slot|wires?|fast-ons?|separat\w*|part(?:ed)?",
}
PRONOUNS = r"\b(?:it|them|they|this|that|these|those|both|one|ones|lot|he|she|'em|em)\b"


@dataclass
class Line:
    """One utterance with what was found of it: spans (label, start, end), the acts and remarks it holds, and the
    labels that must not be learned from because their words were not found."""

    text: str
    spans: list = field(default_factory=list)
    acts: list = field(default_factory=list)
    remarks: list = field(default_factory=list)
    unfound: set = field(default_factory=set)
    phase: str = "apart"
    before: str = ""
    file: str = ""
    manner: str = ""


def words_of(text):
    """The words of a text with their places; a decimal is one word."""
    found = re.finditer(r"\d+[.,]\d+[^\W_]*|[^\W_]+(?:['’-][^\W_]+)*", text)
    return [(m.group().lower(), m.start(), m.end()) for m in found]


def _alike(a, b):
    a, b = a.rstrip("s."), b.rstrip("s.")
    if a == b or (len(a) > 3 and len(b) > 3 and (a.startswith(b) or b.startswith(a))):
        return True
    if len(b) >= 2 and len(a) > len(b) and len(b) <= 4 and a[0] == b[0] and _within(b, a):
        return 0.6  # "bd" for board, "batt" for battery
    if min(len(a), len(b)) >= 4 and a[0] == b[0]:
        return _near(a, b)
    if min(len(a), len(b)) >= 3 and a[1:] == b[1:]:
        return 0.7
    if "k" + b == a or "k" + a == b or "w" + b == a:
        return 0.9
    return False


def _within(short, long):
    at = 0
    for c in short:
        at = long.find(c, at) + 1
        if at == 0:
            return False
    return True


def _near(a, b):
    import difflib

    return 0.7 if difflib.SequenceMatcher(None, a, b).ratio() > 0.79 else False


def find_name(text, names, after=0, used=()):
    """The span that names one of ``names`` best: whole names first, then their last words; after ``after`` if it can."""
    words = words_of(text)
    best = (0.0, None)
    for name in (n.strip().lower() for n in names.split("/")):
        parts = name.split()
        parts = [p for p in re.split(r"[\s-]+", name) if p]
        flat = [(piece, s + off, s + off + len(piece)) for w, s, _ in words for piece, off in _split(w)]
        for i in range(len(flat)):
            got = []
            score = 0.0
            j = i
            for p in parts:
                if j >= len(flat):
                    break
                like = _alike(p, flat[j][0])
                if not like:
                    break
                score += float(like)
                got.append(j)
                j += 1
            if len(got) == len(parts):
                s, e = flat[got[0]][1], flat[got[-1]][2]
                total = (
                    score
                    + 0.2 * (s >= after)
                    - 0.6 * any(s < ue and us < e for us, ue in used)
                    - 0.001 * abs(s - after) / 10
                )
                if total > best[0]:
                    best = (total, (s, e))
    return best[1]


def _split(word):
    out, at = [], 0
    for piece in re.split(r"[-]", word):
        if piece:
            out.append((piece.split("'")[0].split("’")[0], at))
        at += len(piece) + 1
    return out


#: what heat and solvents are told by
MEANS = {
    "heat": r"hot[ -]?air|hair ?dr[iy]er|heat(?: gun|ing plate)?|warm(?:ing|ed)?(?: plate| air)?|gun|mat|iron|steam|torch|oven|plate",
    "solvent": r"alcohol|ipa|isopropyl(?: alcohol)?|iso|spirit|acetone|solvent|benzine",
}
DOUBTFUL = ("a", "an", "to", "for", "v", "too", "won", "free", "ate", "tin", "tree", "fore", "sick", "sicks", "sex")


PART_OF_NUMBER = re.compile(r"\s+(?:and (?:a )?half|point)\b", re.IGNORECASE)


def find_number(text, n, near, taken, slips=False):
    """Spans of the number words that tell ``n``, or that add up to it; homophones only where they are to be expected."""
    seen = []
    for w, s, e in words_of(text):
        if PART_OF_NUMBER.match(text[e:]) or any(a <= s < b and (a, b) != (s, e) for a, b in taken):
            continue
        m = re.fullmatch(r"x?(\d+)(?:x|off|no|pcs?)?", w)
        v = int(m.group(1)) if m else VALUE_OF.get(w)
        if v is not None and (s, e) not in taken:
            plain = w not in DOUBTFUL
            if not plain and not slips and not (w in ("a", "an") and n == 1):
                continue
            if m:
                s, e = s + m.start(1), s + m.end(1)
            seen.append((v, s, e, plain))
        elif w.startswith("twenty-") or w.startswith("thirty-"):
            u = {"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9}
            tail = w.split("-")[1]
            if tail in u:
                seen.append(((20 if w[0:6] == "twenty" else 30) + u[tail], s, e, True))
    same = [x for x in seen if x[0] == n]
    if same:
        best = min(same, key=lambda x: (not x[3], abs(x[1] - near)))
        return [(best[1], best[2])]
    for k in (2, 3, 4):
        for i in range(len(seen) - k + 1):
            if all(x[3] for x in seen[i : i + k]) and sum(x[0] for x in seen[i : i + k]) == n:
                return [(x[1], x[2]) for x in seen[i : i + k]]
    return []


SIZE_WORDS = {
    "T": r"(?:star |t|tea|tee|tx|hexalobular )[ -]?{n}(?:e?s)?|{n} ?t|t-?{n}|hexalobular[^.;]{{0,12}}? size {n}",
    "PH": r"(?:ph|pee aitch|pea aitch|pea h|p h|fill ups?|cross(?:-| )?head(?:s|ed)?|cross)[ ,-]*(?:screws? )?"
    r"(?:of )?(?:number |size |nr |no\.? ?|#)?{n}|{n} ?ph|#{n}|(?:number|size|no\.?) ?{n}(?= ?,? ?(?:cross|phs?\b))|"
    r"cross[- ]?head[^.;]{{0,22}}?(?:number|size) {n}|(?:size|number) {n}(?=[^.;]{{0,12}} cross)",
    "PZ": r"(?:pz|p z|pee zed|cross-z)[ -]*(?:number |size |nr |no\.? ?|#)?{n}",
    "IP": r"(?:ip|eye pee|i p)[ -]?{n}|{n} ?ip",
    "Y": r"(?:y|why|three-?wing)[ -]*(?:number |size )?{n}",
    "P": r"(?:p|pee|five-?lobe)[ -]*(?:number |size )?{n}",
}


def find_size(text, size, near, used=()):
    """The span that tells a driver size: the code, a spoken form of it, or bare mm of a hex; one of another act only if
    there is no other."""
    low = re.sub(r"(?<=\d)[x×](?=[a-z]{1,2}\d)", " ", text.lower())
    m = re.fullmatch(r"([A-Z]+)(\d+)", size)
    spots = []
    if m:
        code, n = m.groups()
        forms = {n, *(w for w in NUMBERS.get(int(n), "").split() if w not in ("a", "an", "free", "v"))}
        forms |= {w.replace("-", " ") for w in forms if "-" in w}
        if set(n) == {"0"}:
            forms |= {
                "double zero",
                "triple zero",
                "zero zero",
                "double oh",
                "oh oh",
                "double naught",
                "zero",
                "oh",
                "naught",
                "nought",
                "null",
                "aught",
                "double aught",
                "double o",
                "o",
            }
        alt = "(?:" + "|".join(sorted(map(re.escape, forms), key=len, reverse=True)) + ")"
        pattern = SIZE_WORDS.get(code, r"(?:" + code.lower() + r")[ -]?{n}")
        pattern = pattern.replace("{n}", alt).replace("{{", "{").replace("}}", "}")
        spots = [x.span() for x in re.finditer(r"(?<![a-z0-9])(?:" + pattern + r")(?![0-9a-z])", low)]
        if not spots and set(n) == {"0"}:
            spots = [x.span() for x in re.finditer(r"\b(?:(?:double|triple) (?:zero|o|oh|n?aught)|nought)\b", low)]
        if not spots:
            spots = [x.span() for x in re.finditer(r"(?<![a-z])" + code.lower() + r"[ -]?" + alt, low)]
    else:
        n = size.removesuffix(" mm").strip()
        forms = {
            n,
            n.replace(".", ","),
            *(NUMBERS.get(int(float(n)), "").split() if n.replace(".", "").isdigit() and float(n).is_integer() else ()),
        } - {"a", "an", "v", "free"}
        if n.replace(".", "").isdigit() and not float(n).is_integer():
            unit = {"5": "five", "2": "two", "7": "seven", "3": "three"}
            a, b = n.split(".")
            head = ["zero", "nought", "oh"] if a == "0" else NUMBERS.get(int(a), "").split()
            forms |= {f"{h} point {unit.get(b, b)}" for h in head}
            forms |= {f"{h} and {half}" for h in head for half in ("a half", "half") if b == "5"}
        forms |= {w.replace("-", " ") for w in forms if "-" in w}
        alt = "(?:" + "|".join(sorted(map(re.escape, forms), key=len, reverse=True)) + ")"
        spots = [
            x.span()
            for x in re.finditer(
                r"(?:(?<![\w.,])|(?<=[\dx×][x×]))" + alt + r"(?:[ -]?(?:mm|mill?\w*|af|a/f|lg?))?(?![\w])", low
            )
        ]
    if not spots:
        return None
    spots = [s for s in spots if s not in used] or spots
    return min(spots, key=lambda s: (abs(s[0] - near), -s[1]))


def find_word(text, pattern, after=0, near=None):
    spots = [m.span() for m in re.finditer(r"(?<![\w])(?:" + pattern + r")(?![\w])", text.lower())]
    if not spots:
        return None
    if near is not None:
        return min(spots, key=lambda s: abs(s[0] - near))
    return next((s for s in spots if s[0] >= after), spots[-1])


def aligned(text, expected, slips=False):
    """A :class:`Line` for one utterance of a corpus."""
    acts, remarks = acts_of(expected)
    line = Line(text)
    line.remarks = [r.lstrip("-") for r, _ in remarks if r.lstrip("-") in REMARKS]
    at, used = 0, {}
    for action, fields in acts:
        if action not in ACTS:
            continue
        line.acts.append(action)

        def add(label, span):
            return line.spans.append((label, *span)) if span and (label, *span) not in line.spans else None

        part = find_name(text, fields["part"], at, used.get(action, ())) if "part" in fields else None
        cable = find_name(text, fields["cable"], at, ()) if "cable" in fields else None
        what = find_name(text, fields["what"], at, ()) if "what" in fields else None
        size = find_size(text, fields["size"], at, used.get("size", ())) if "size" in fields else None
        taken = [*used.get("n", ()), *([size] if size else ())]
        anchor = None
        if action in FASTENING - {"disconnect", "roll"}:
            base = size[1] if size else at
            numbers = find_number(text, int(fields["n"]), base, taken, slips) if fields.get("n", "").isdigit() else []
            if numbers:
                base = numbers[0][1]
            noun = find_word(text, NOUNS.get(action, "x"), near=base)
            if noun and abs(noun[0] - base) < 45 and noun not in used.get(action, ()):
                anchor = noun
            elif part and action in ("cut", "desolder", "unclip", "drill"):
                anchor, part = part, None
            else:
                anchor = size or (numbers[0] if numbers else None) or find_word(text, VERBS[action], at)
                anchor = anchor or (find_word(text, RARER[action], at) if action in RARER else None)
            if part and anchor and part[0] <= anchor[0] and anchor[1] <= part[1]:
                anchor, part = part, None
            if part:
                add("held", part)
            elif "part" in fields and action in ("unscrew", "fasten", "loosen") and anchor is None:
                line.unfound.add("held")
        else:
            anchor = part or cable or (what if action in ("stick", "check") else None)
            if action == "stick" and what:
                anchor = what
                if part and part != what:
                    add("held", part)
            if action == "roll":
                anchor = find_word(text, NOUNS["roll"], at) or part
                if part and part != anchor:
                    add("held", part)
            if anchor is None:
                anchor = find_word(text, PRONOUNS, at) if "part" in fields else None
                if anchor is not None and any(anchor == (s, e) for a, s, e in line.spans if a == action):
                    anchor = None
                anchor = anchor or find_word(text, VERBS[action], at)
            anchor = anchor or (find_word(text, RARER[action], at) if action in RARER else None)
        if anchor is None:
            line.unfound.add(action)
        else:
            add(action, anchor)
            used.setdefault(action, []).append(anchor)
            if action not in ("turn", "isolate", "wait"):
                at = max(at, anchor[0]) if action in FASTENING else max(at, anchor[1])
        here = anchor[0] if anchor else at
        if fields.get("n", "").isdigit():
            numbers = find_number(text, int(fields["n"]), here, taken, slips)
            for s in numbers:
                if int(fields["n"]) > 1 or text[s[0] : s[1]].lower() not in ("a", "an", "to", "for"):
                    add("n", s)
                    used.setdefault("n", []).append(s)
            if not numbers:
                line.unfound.add("n")
        if size:
            add("size", size)
            used.setdefault("size", []).append(size)
        elif "size" in fields:
            line.unfound.add("size")
        if fields.get("n2", "").isdigit():
            for s in find_number(text, int(fields["n2"]), len(text), used.get("n", ()), slips)[:1]:
                add("n2", s)
                used.setdefault("n", []).append(s)
        for name, label in (("len", "len"), ("len2", "len2")):
            if name in fields:
                span = find_size(text, fields[name], here)
                if span and span != size:
                    add(label, span)
                elif not span:
                    line.unfound.add(label)
        for name in ("place", "under", "with", "face"):
            if name in fields:
                label = "at" if name == "place" else name
                span = find_name(text, fields[name].replace(",", "/"), 0, ())
                if not span and name == "with" and fields[name] in MEANS:
                    span = find_word(text, MEANS[fields[name]])
                if span:
                    add(label, span)
                else:
                    line.unfound.add(label)
        if "hidden" in fields and not fields["hidden"].isdigit():
            span = find_name(text, fields["hidden"], 0, ())
            if span:
                add("under", span)
        for name in ("mass", "value", "amount"):
            if name in fields:
                m = re.match(r"[\d.,]+", fields[name])
                span = find_size(text, m.group(), here) if m else None
                if span:
                    add("value", span)
        if action == "measure" and "what" in fields:
            m = re.search(r"[\d.,]+", fields["what"])
            span = find_size(text, m.group(), here) if m else None
            if span:
                add("value", span)
        if "marking" in fields:
            span = find_name(text, fields["marking"], 0, ())
            if span:
                add("marking", span)
            else:
                line.unfound.add("marking")
        if "renew" in fields:
            span = find_name(text, fields["renew"], 0, ())
            if span:
                add("renew", span)
        if "over" in fields and ">" in fields["over"]:
            span = find_name(text, fields["over"].split(">")[1], 0, ())
            if span:
                add("over", span)
    for kind, fields in remarks:
        if kind == "-announce":
            n = fields.get("n", "")
            size = find_size(text, fields["size"], 0) if "size" in fields else None
            if size:
                add_span(line, "size", size)
            if n.isdigit():
                for s in find_number(text, int(n), size[0] if size else 0, (), slips):
                    add_span(line, "n", s)
            for name, label in (("place", "at"), ("under", "under"), ("part", "held")):
                if name in fields:
                    span = find_name(text, fields[name], 0, ())
                    if span and (label, *span) not in line.spans and not any(span == s[1:] for s in line.spans):
                        add_span(line, label, span)
            if "len" in fields:
                span = find_size(text, fields["len"], 0)
                if span and span != size:
                    add_span(line, "len", span)
        if "renew" in fields:
            span = find_name(text, fields["renew"], 0, ())
            if span:
                add_span(line, "renew", span)
    return line


def add_span(line, label, span):
    if (label, *span) not in line.spans:
        line.spans.append((label, *span))


#: how the name of a list of sentences ends, which are not one story
LIST = re.compile(
    r",\s*(?:talked|dictated|manual|typed|terse|nonnative|misheard|chatty|slips|second language|written|spoken)\s*$"
)
BACK = {"place", "connect", "fasten", "stick", "roll", "align", "route"}
APART = {"unscrew", "out", "peel", "unclip", "disconnect", "desolder", "drill", "soften", "pry"}


def story_lines(path):
    """(story number, manner, [Line]) of one file, each line with the phase of its story and what the one before was: a
    remark, or else the last act. The lines of a list have nothing before them."""
    number, manner, lines, phase, before, is_list = -1, "", [], "apart", "", False
    for raw in [*path.read_text(encoding="utf-8").splitlines(), "# device\t\t"]:
        if raw.startswith("# device"):
            if lines:
                yield number, manner, lines
            number, manner, lines, phase, before = number + 1, raw.split("\t")[-1], [], "apart", ""
            is_list = LIST.search(raw.split("\t")[1]) is not None
        elif "\t" in raw:
            text, expected = raw.split("\t", 1)
            line = aligned(text, expected, manner == "slips")
            line.phase, line.before, line.file, line.manner = phase, before, path.stem, manner
            lines.append(line)
            back, apart = len(BACK & set(line.acts)), len(APART & set(line.acts))
            if back or apart:
                phase = "back" if back > apart else "apart" if apart > back else phase
            if line.acts:
                before = line.acts[-1]
            else:
                kept = "" if before in REMARKS else before
                before = next((r for r in line.remarks if r in ("hypothetical", "announce")), kept)
            if is_list:
                before = ""


SAME_ACT = {
    "take out": "out", "prepare": "isolate", "apply": "stick", "press": "roll", "release": "unclip", "connect": "connect",
}  # fmt: skip


def sentence_lines(path):
    """[Line] of the reader's own test sentences, which tell steps as action:count:drive or size:parts."""
    out = []
    for raw in path.read_text(encoding="utf-8").splitlines():
        if raw.startswith("#") or "\t" not in raw:
            continue
        text, told = raw.split("\t")
        acts = []
        for step in () if told.strip() == "-" else told.split(" ; "):
            action, count, size, parts = ([*step.strip().split(":"), "", "", "", ""])[:4]
            fields = [SAME_ACT.get(action, action)]
            fields += [f"n={count}"] if count else []
            if size:
                fields.append(f"size={size}" if re.search(r"\d", size) else f"drive={size}")
            for part in parts.split(",") if fields[0] in ("out", "disconnect", "place", "peel", "connect") else [parts]:
                acts.append("; ".join([*fields, *([f"part={part.strip()}"] if part.strip() else [])]))
        line = aligned(text, " + ".join(acts)) if acts else Line(text)
        if not all(a in ACTS for a in line.acts):
            continue
        line.unfound |= set(REMARKS)
        line.phase = "back" if BACK & set(line.acts) else "apart"
        line.file, line.manner = "sentences", "dictated"
        out.append(line)
    return out
