"""Drives, sizes, lengths and single numbers read by exact code from the words that were marked as such."""

from __future__ import annotations

import re

from text_to_num import text2num

from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import INCHES, Item, items
from oddbolt.core.narration.language.vocabulary import Vocabulary
from oddbolt.core.reference.tables import drives

#: characters of the longest number that is read
LONGEST = 60

#: words that tell a count without being number words
COUNT_WORDS = {"both": 2, "pair": 2, "couple": 2, "single": 1, "a": 1, "an": 1, "lone": 1, "solitary": 1, "sole": 1,
               "dozen": 12, "trio": 3, "another": 1, "twin": 2, "twice": 2, "thrice": 3}  # fmt: skip

#: letters of a size code as they are spoken and written down by ear
SPELT = (
    (r"p(?:ee|ea|e)?[ -]?(?:aitch|haitch|h|age|each)", "ph"),
    (r"p(?:ee|ea)?[ -]?(?:zed|zee|z)", "pz"),
    (r"(?:eye|i)[ -]?p(?:ee)?", "ip"),
    (r"(?:tea|tee|tx|star|hexalobular|t)", "t"),
    (r"(?:why|wye|y)", "y"),
    (r"(?:pea|pee|p)", "p"),
    (r"(?:are|r)", "r"),
)

TENS = r"(?:twenty|thirty|forty)[ -](?:five|seven)s?"

NOUGHTS = r"(?:zero|oh|o|naught|nought|null|0)"

UNITS_OF_LENGTH = r"(?:mm|mil(?:s|l|limet(?:er|re)s?)?|millimet(?:er|re)s?)"

#: how a drive without letters is named, with the number before or behind it
KEYS = (
    (
        "external-hex",
        r"a\.?/?f|across (?:the )?flats|(?:open |ring |box )?(?:spanner|wrench)|socket(?! (?:head|screw|cap|pattern))"
        r"|nut ?(?:driver|drv)|hex(?:agon)? heads?"
        r"|(?<!cross )(?<!socket )(?<!button )(?<!pan )(?<!flat )(?<!cheese )(?<!round )heads?",
    ),
    ("hex-socket", r"hex(?:agon)?(?: socket)?(?: key| driver| bit)?|hex[ -]?head|socket head|key"),
    ("slotted", r"slot(?:ted|ty)?|flat[ -]?(?:blade|head)?|blade"),
    ("three-wing", r"(?:three|tri)[ -]?wing(?:ed)?"),
    ("five-lobe", r"(?:five|5)[ -]?(?:lobed?|point(?![ -](?:\d|oh|one|two|three|four|five|six|seven|eight|nine)\b))"),
)

#: parts of an inch -> how many make one
PARTS_OF = {"half": 2, "quarter": 4, "eighth": 8, "sixteenth": 16}

NUMBER = r"(?:\d+(?:[.,]\d+)?|point [a-z]+|[a-z]+ and (?:a )?half|[a-z]+[ -]point[ -][a-z]+|[a-z]+)"

#: drives whose tool may be told by its width in mm
BY_WIDTH = frozenset("slotted hex-socket external-hex square five-lobe three-wing stand-off".split())

WORDS = "one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve"

#: such a drive with its number in figures, its name, and all names that hold a number which is no size
LOBED = lazy_pattern(r"\b([356])[ -]?((?:lobe|wing)(?! ?nut)\w*)")

LOBED_NAME = lazy_pattern(r"\b(?:[356]|three|five|six|tri)[ -]?(?:lobe|wing)\w*")

LOBES = lazy_pattern(r"\b(?:six|6|five|5|three|3|tri|two|2)[ -]?(?:lobe|wing|point|pin)\w*")

DECIMAL_ALONE = lazy_pattern(r"(?<![\d.,])(\d+[.,]\d+)(?![\d.,])")

#: a diameter and a length: "3 by 12", "4 x 14"
BY_LENGTH = lazy_pattern(rf"\b({NUMBER})\s*(?:by|x|×)\s*({NUMBER})\b")

#: what stands between a count and a code in shorthand: "10xT10"
TIMES_CODE = lazy_pattern(r"(?<=\d)[x×](?=[a-z]{1,2}\d)")

#: a decimal in words, that might be taken for the name of a drive: "five point five"
DIGITS = "zero one two three four five six seven eight nine".split()

DECIMAL = lazy_pattern(rf"\b({'|'.join(DIGITS)}) point ({'|'.join(DIGITS)})\b")

#: a size told of several: "tens", "fifteens", "twenty fives"
ONE_OF = lazy_pattern(rf"^((?:{WORDS}|\w+teen)|(?:twenty|thirty)[ -]five)s$")

#: a number with the unit of length behind it: the width of a tool, never the number of a size code
IN_MM = lazy_pattern(rf"({NUMBER})\s*{UNITS_OF_LENGTH}\b")

#: a figure taken back at once: "four … no, five"
TAKEN_BACK = lazy_pattern(r"\b(?:no|nope|wait|sorry|i mean|make that|correction|actually|rather)\b")


def in_mm(text: str) -> str:
    """The text with parts of an inch put into mm, to 0.01: "1/4 hex" -> "6.35 mm hex"; one inch is 25.4 mm
    (international yard and pound agreement of 1959, from memory, unverified)."""

    def width(found: re.Match[str]) -> str:
        if found["over"]:
            return f"{round(25.4 * int(found['over']) / int(found['under']), 2):g} mm"
        first, *last = re.split(r"[ -]", found["words"])
        many = {"three": 3, "five": 5, "seven": 7}.get(first, 1)
        return f"{round(25.4 * many / PARTS_OF[(last or [first])[-1].rstrip('s')], 2):g} mm"

    return INCHES.sub(width, text)


#: a key or spanner with its width, and size codes spelt by ear, that may stand anywhere near the fasteners
KEYED = lazy_pattern(
    r"(?P<number>\d+(?:[.,]\d+)?|point [a-z]+|[a-z]+(?:[ -](?:point|and a)[ -][a-z]+)?)[ -]*"
    r"(?:mm|mil\w*|millimet\w*)?[ -]*"
    r"(?P<key>spanner|wrench|a/?f\b|across (?:the )?flats|nut ?driver|hex(?:agon)?(?: socket)?(?: key| bit)?\b)"
)

BY_EAR = lazy_pattern(
    r"\b(?:p(?:ee)? (?:aitch|h)|pee (?:zed|zee)|eye pee|tea|tee)[ -](?:number )?"
    r"(?:(?:double|triple) )?\w+(?: (?:oh|zero))?\b"
)


def key_near(text: str, vocabulary: Vocabulary) -> tuple[str, str]:
    """(drive, size) of a key, a spanner or a code spelt by ear in a stretch of text; ("", "") if there is none."""
    low = in_mm(text.lower())
    spelt = BY_EAR.search(low)
    if spelt and (told := _coded(spelt.group(), vocabulary))[1]:
        return told
    found = KEYED.search(low)
    number = found["number"] if found else ""
    value = number_of(number, vocabulary)
    if found is None or value is None:
        return "", ""
    return ("hex-socket" if found["key"].startswith("hex") else "external-hex"), f"{value:g}"


def number_of(words: str, vocabulary: Vocabulary) -> float | None:
    """A number in figures or words, as one says or mishears it; None if it is none."""
    low = re.sub(r"^[x×](?=\d)|(?<=\d)\s?[x×]$", "", in_mm(words.lower()).strip(" .,;:()*#-"))
    low = re.sub(r"^(?:all|the|these|those|of|only|just|another|another)\s+(?=\w)", "", low)
    if not low or len(low) > LONGEST:
        return None
    low = re.sub(rf"\s*-?{UNITS_OF_LENGTH}$", "", low) or low
    if re.fullmatch(r"\d+(?:[.,]\d+)?", low):
        return float(low.replace(",", "."))
    if low in COUNT_WORDS:
        return float(COUNT_WORDS[low])
    half = re.fullmatch(r"(.+?)[ -]and[ -](?:a[ -])?half", low)
    if half and (whole := number_of(half[1], vocabulary)) is not None:
        return whole + 0.5
    if low in ("half", "half a", "a half"):
        return 0.5
    parts = re.split(r"[ -]?point[ -]?", low)
    if len(parts) == 2:
        whole, rest = (number_of(p, vocabulary) if p else 0.0 for p in parts)
        zero = {"nought": 0.0, "naught": 0.0, "oh": 0.0, "zero": 0.0}
        whole = zero.get(parts[0], whole) if whole is None else whole
        if whole is not None and rest is not None:
            return float(f"{whole:g}.{rest:g}")
    if low in vocabulary.number_slips:
        return float(vocabulary.number_slips[low])
    joined = " ".join(str(vocabulary.number_slips.get(w, w)) for w in low.replace("-", " ").split())
    try:
        return float(text2num(low.replace("-", " "), "en"))
    except ValueError:
        pass
    found = re.match(r"\d{1,15}(?:\.\d{1,4})?(?!\d)", joined)
    first = low.split()[0]
    if found:
        return float(found.group())
    if first != low:
        return number_of(first, vocabulary)
    return None


def drive_of(words: str, vocabulary: Vocabulary) -> tuple[str, str]:
    """(drive, size) told by some words: "PH 00", "tea five", "cross number two", "2.5 hex", "10 mm spanner". A part
    that is not told is ""."""
    low = re.sub(r"[’']s\b|(?<=\d)s\b", "", in_mm(words.lower())).replace("-", " ").strip(" .,;:()")
    low = re.sub(r"\bhex(?=\d)", "hex ", low)
    low = LOBED.sub(lambda found: f"{DIGITS[int(found[1])]} {found[2]}", low)
    low = DECIMAL.sub(lambda m: f"{DIGITS.index(m[1])}.{DIGITS.index(m[2])}", TIMES_CODE.sub(" ", low))
    coded = _coded(low, vocabulary)
    if coded[1]:
        return coded
    keyed = ""
    for drive, names in KEYS:
        told = r"\d+[.,]\d+" if drive in ("five-lobe", "three-wing") else NUMBER  # others count: "4 five-lobe"
        for pattern in (rf"({told})\s*{UNITS_OF_LENGTH}?\s*(?:{names})\b", rf"\b(?:{names})\s*(?:size )?({NUMBER})"):
            found = re.search(pattern, low)
            value = number_of(found[1], vocabulary) if found else None
            if found and found[1] in ("a", "an"):  # "a hex 2.5", "with a spanner of thirteen"
                keyed, value = keyed or drive, None
            if found and value is not None:
                size = f"{value:g}"
                prefix = "" if IN_MM.search(found.group()) else drives()[drive].prefix
                return drive, f"{prefix}{size}" if prefix else size
    named = named_drive(low, vocabulary)
    if named:
        wide = IN_MM.search(low) if named in BY_WIDTH else None
        across = number_of(wide[1], vocabulary) if wide else None
        if across is not None:
            return named, f"{across:g}"
        row = drives()[named]
        named_at = next((i.start for i in items(low, vocabulary) if i.has("drive")), 0)
        rest = LOBES.sub(" ", low)
        wide = DECIMAL_ALONE.search(rest) if named in BY_WIDTH else None
        if wide is not None:
            return named, f"{float(wide[1].replace(',', '.')):g}"
        number = re.search(rf"(?:number|size|no\.?|nr|#)\s*({NOUGHTS}\b|\w+)|(?<![\d.,])(\d+)(?![\d.,])", rest)
        digits = _digits(number[1] or number[2], vocabulary) if number else ""
        if not digits:
            tail = [w for w in low[named_at:].split()[1:] if _digits(w, vocabulary)]
            digits = _digits(tail[-1], vocabulary) if tail else ""
        if digits and f"{row.prefix}{digits}" in row.sizes:
            return named, f"{row.prefix}{digits}"
        return named, ""
    return keyed, ""


def _coded(low: str, vocabulary: Vocabulary) -> tuple[str, str]:
    """A size code, as written or as spoken."""
    zeros = re.sub(rf"\b(?:double|two) {NOUGHTS}s?\b|\b{NOUGHTS} {NOUGHTS}\b", "00", low)
    zeros = re.sub(rf"\btriple {NOUGHTS}s?\b|\b{NOUGHTS} {NOUGHTS} {NOUGHTS}\b|\b00 {NOUGHTS}\b", "000", zeros)
    if re.fullmatch(r"(?:size |number |nr |no |# ?)?0{2,3}", zeros):
        return "cross", f"PH{re.sub('[^0]', '', zeros)}"  # no other drive has such sizes
    sizes = {s.lower(): (row.id, s) for row in drives().values() if row.prefix for s in row.sizes}
    for spelt, letters in SPELT:
        for found in re.finditer(
            rf"(?<![a-z0-9]){spelt}[ .-]*(?:number |size |nr |no )?({TENS}|\d+|[a-z]+)(?:\b|(?=[x×]\d))", zeros
        ):
            digits = _digits(found[1], vocabulary)
            if letters + digits in sizes:
                return sizes[letters + digits]
        back = re.search(rf"(?<![\w./])(\d+) ?{letters}(?![a-z0-9])", zeros)
        if back and letters + back[1] in sizes:
            return sizes[letters + back[1]]
    return "", ""


def _digits(word: str, vocabulary: Vocabulary) -> str:
    if re.fullmatch(r"0{1,3}|\d+", word):
        return word
    if re.fullmatch(NOUGHTS, word):
        return "0"
    word = ONE_OF.sub(r"\1", {"sixes": "six", "twenties": "twenty", "thirties": "thirty"}.get(word, word))
    if word.endswith("s") and word[:-1] in vocabulary.number_slips:
        word = word[:-1]  # "tea ates"
    value = number_of(word, vocabulary) if word not in ("a", "an", "to", "too", "for") else None
    if word in ("to", "too", "for"):
        value = float(vocabulary.number_slips[word])
    return f"{value:g}" if value is not None and value == int(value) else ""


def named_drive(words: str, vocabulary: Vocabulary) -> str:
    """The drive that some words name; "" if none."""
    for item in items(words, vocabulary):
        if item.has("drive"):
            return item.may["drive"]
    return ""


def quantities(text: str, vocabulary: Vocabulary) -> list[Item]:
    """The quantities with a unit that a text tells, with their places."""
    return [i for i in items(text, vocabulary) if i.number is not None and i.unit]


def length_of(words: str, vocabulary: Vocabulary) -> float | None:
    """A length in mm, its unit said or not: "x16", "twelve mil", "40 long"."""
    both = BY_LENGTH.search(words.lower())
    across, along = (number_of(both[n], vocabulary) for n in (1, 2)) if both is not None else (None, None)
    if across is not None and along is not None and across < along:
        return along
    for item in quantities(words, vocabulary):
        if item.unit == "length":
            return item.number
    low = re.sub(rf"\b(?:{UNITS_OF_LENGTH}|long|lg|l|length|of)\b", " ", words.lower()).strip(" x×.,")
    value = number_of(low, vocabulary) if low else None
    return value if value is not None and 0 < value < 1000 else None
