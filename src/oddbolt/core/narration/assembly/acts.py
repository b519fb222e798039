"""Acts put together from spans: which of them stand, and which figures belong to which."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from itertools import pairwise

from attrs import define, evolve, field

from oddbolt.core.narration.assembly.by_length import pairs_in
from oddbolt.core.narration.assembly.figures import TAKEN_BACK
from oddbolt.core.narration.assembly.names import NO_NOUN
from oddbolt.core.narration.assembly.patterns import UNPLUG
from oddbolt.core.narration.assembly.tallies import IN_ALL
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.understanding import ACTS, FASTENING, NUMBERS, OF_SCREWS, ROLES, Span, Understood, parted

#: figure -> the acts it may belong to; the others may belong to any
FITS = {
    "n": frozenset(ACTS) - {"identify", "measure", "weigh", "spec", "condition", "wait", "turn", "soften", "isolate"},
    "n2": FASTENING | {"correct"},
    "size": FASTENING | {"correct"},
    "len": FASTENING | {"correct", "measure"},
    "len2": FASTENING | {"correct"},
    "held": FASTENING | {"stick", "roll", "peel", "clean"},
    "under": FASTENING | {"out", "peel", "correct"},
    "with": frozenset({"soften", "clean", "bleed", "pry"}),
    "face": frozenset({"turn"}),
    "value": frozenset({"weigh", "measure", "spec", "soften", "fasten", "stick", "wait", "identify", "check"}),
    "marking": frozenset({"identify", "spec"}),
    "renew": frozenset(ACTS),
    "over": frozenset({"out", "peel", "fold", "open", "pry"}),
}
#: what goes on a number: "two and a half mil"
OF_NUMBER = lazy_pattern(r"\s*(?:and a half|point|mm\b|mil\w*\b|[x×\d])")
#: a count and a size, or a size and a length, written as one word: "2xT8", "T10x14"
BOTH_FIGURES = lazy_pattern(r"\d\s?[x×]\s?[A-Z]{1,2}\d|[A-Z]{1,2}\d+\s?[x×]\s?\d")
#: words without which nothing is taken back
UNDO_WORDS = lazy_pattern(
    r"\b(?:un ?do\w*|re-?do|scrap|scratch|scrub|str(?:ike|uck)|forget|forgot|delet\w+|del|rm|cancel\w*|disregard\w*"
    r"|never ?mind|ignore|wipe|back|take (?:that|it|the last)|revers\w+|again|stays?|leave|left|false|wrong"
    r"|not (?:off|out)|isn['’]?t (?:off|out|it)|still|too soon|needless|make it back"
    r"|remove (?:that|the last) (?:step|entry|line))\b",
    re.IGNORECASE,
)
#: words without which nothing is done again
SAME_WORDS = lazy_pattern(
    r"\b(?:same|again|likewise|ditto|dto|repeat\w*|rpt|also|too|as (?:before|well|above)|once more|idem|alike"
    r"|similar\w*|manner|like (?:that|this|so|the)|more|twice|times|so (?:too|with|for|is|are|the)|another|other"
    r"|do (?:that|it|this)|both (?:sides|ends))\b",
    re.IGNORECASE,
)
#: an article before a size
ARTICLE = lazy_pattern(r"\b(?P<one>an?|one) (?:hex |slotted |cross )?$", re.IGNORECASE)
#: what is done to fasteners, and no fasteners
VERB_ALONE = lazy_pattern(r"(?:unscrew|undo|remov|loosen|slacken|tighten|fasten|driv|back)(?:e|s|ed|ing|es)?")
#: acts on fasteners that have a diameter
BY_DIAMETER = OF_SCREWS | {"drill"}
#: an act must be at least this sure
LEAST = 0.5
#: a further one of a list, "the fan, and its lead", needs only this much beside one that is this sure
LEAST_LISTED, BESIDE_SURE = 0.2, 0.75
LISTED = lazy_pattern(
    r"\s*(?:,|;|&|\+|(?:and|n|then|plus|off|out|back|on|in|away|first)\b)"
    r"(?:[\s,;]+(?:and|then|also|the|a|an|its|his|her|both|with it|after|off|out|back|that|this|\d+))*\s*",
    re.IGNORECASE,
)
STRONG = lazy_pattern(r"[.;!?](?=\s|$)|\s(?:and )?then\s|\s->\s|→")
WEAK = lazy_pattern(r",|\sand\s|\s\+\s|:")
#: what stands before the words that begin a clause
CLAUSE = lazy_pattern(
    r"(?:^|[,;.:+&]|\b(?:and|then|n|plus))\s*"
    r"(?:(?:the|its|a|an|new|and|then|old|also|this|that|my|his|both|\d+x?|two|three|four|five|six)\s+)*$",
    re.IGNORECASE,
)


#: what links two groups, and what makes the second some of the first
LINK = lazy_pattern(r"\s*(?:,|;|and|plus|\+|&)?\s*(?:and|then|also)?\s*(?:the|another|other)?\s*")
OF_THOSE = lazy_pattern(r"\s*(?:of (?:them|those|these|which)|are|is|were|was|being|longer|shorter)\b")


@define
class Act:
    """One act of an utterance: where it stands, how sure it is, the spans of its figures, and its region."""

    action: str
    start: int
    end: int
    sure: float
    figures: dict[str, list[Span]] = field(factory=dict)
    region: tuple[int, int] = (0, 0)

    def spans(self, role: str) -> list[Span]:
        """The spans of one figure."""
        return self.figures.get(role, [])


def acts_in(heard: Understood) -> list[Act]:
    """The acts of an utterance in the order of its words, each with the figures that belong to it."""
    found = [Act(s.label, s.start, s.end, s.sure) for s in heard.spans if s.label in ACTS and s.sure >= LEAST]
    faint = [
        s
        for s in heard.spans
        if s.label in ACTS and LEAST_LISTED <= s.sure < LEAST and s.start < s.end
        if not (s.label in OF_SCREWS and VERB_ALONE.fullmatch(s.words(heard.text).lower()))
    ]
    found += [
        Act(s.label, s.start, s.end, LEAST) for s in faint if _listed(s, _beside_sure(found, heard.text), heard.text)
    ]
    found = [_on_its_pronoun(act, heard.text) for act in found]
    acts = _once(sorted(found, key=lambda a: (a.action, a.start)), heard.text)
    acts += _between(acts, heard.text)
    acts = _consistent(acts, heard)
    acts.sort(key=lambda a: (a.start, a.end))
    _bound(acts, heard.text)
    heard = evolve(heard, spans=_one_figure_each(heard.spans, heard.text))
    sizes = {span.start: _owner(span, acts, heard.text) for span in heard.spans if span.label == "size"}
    for span in heard.spans:
        if span.label in ROLES:
            owner = _with_size(span, sizes, heard.text) or _owner(span, acts, heard.text)
            if owner is not None:
                owner.figures.setdefault(span.label, []).append(span)
    _by_diameter(acts, heard.text)
    _to_the_next(acts, heard.text)
    groups = [group for act in acts for group in _of_two_sizes(act, heard.text) or [act]]
    groups = [group for act in groups for group in _of_two_codes(act, heard.text) or [act]]
    return [group for act in groups for group in _divided(act, heard.text)]


def _by_diameter(acts: Sequence[Act], text: str) -> None:
    """Of screws told by diameter and length, "four 3 x 8 screws", the numbers are what the words show them to be,
    whatever they were marked for."""
    for pair in pairs_in(text):
        act = next((a for a in acts if a.action in BY_DIAMETER and a.region[0] <= pair.start < a.region[1]), None)
        if act is None or not pair.known:
            continue
        taken = [(pair.start, pair.end), *([pair.count] if pair.count else [])]
        for other in acts:
            for role in NUMBERS & set(other.figures):
                kept = [s for s in other.spans(role) if not any(s.start < end and at < s.end for at, end in taken)]
                other.figures[role] = kept
        act.figures.setdefault("len", []).append(Span("len", *pair.along))
        if pair.count:
            act.figures.setdefault("n", []).append(Span("n", *pair.count))


def _to_the_next(acts: Sequence[Act], text: str) -> None:
    """Of two groups of fasteners the number, and the place behind it, that stands between them behind a number of the
    first is the second's: "the four corners, T9, plus one in the middle, which is a T6"."""
    for one, other in pairwise([a for a in acts if a.action in OF_SCREWS and a.start < len(text)]):
        numbers = sorted(one.spans("n"), key=lambda s: s.start)
        if one.action != other.action or len(numbers) < 2 or other.spans("n"):
            continue
        last = numbers[-1]
        if not one.end <= last.start < other.start or OF_THOSE.match(text[last.end :].lower()):
            continue
        for role in ("n", "at"):
            moved = [s for s in one.spans(role) if last.start <= s.start < other.start]
            other.figures.setdefault(role, []).extend(moved)
            one.figures[role] = [s for s in one.spans(role) if s not in moved]


def _of_two_sizes(act: Act, text: str) -> list[Act]:
    """The groups of an act on fasteners of which each has its number and its size behind a number of all: "four screws
    (two T8, two T10)"; none where it is not told so."""
    numbers, sizes = (sorted(act.spans(role), key=lambda s: s.start) for role in ("n", "size"))
    if act.action not in OF_SCREWS or len(numbers) != 3 or len(sizes) != 2:
        return []
    pairs = list(zip(numbers[1:], sizes, strict=True))
    if not all(n.end <= z.start and NEXT_TO.fullmatch(text[n.end : z.start]) for n, z in pairs):
        return []
    shared = {k: v for k, v in act.figures.items() if k not in ("n", "size", "len")}
    return [
        evolve(
            act, start=n.start if k else act.start, figures={**shared, "n": [n], "size": [z]}, region=(n.start, z.end)
        )
        for k, (n, z) in enumerate(pairs)
    ]


def _of_two_codes(act: Act, text: str) -> list[Act]:
    """The groups of an act on fasteners of which each has its number and its size: "five T2s on the frame, plus one
    over there which is a PH000"; none where it is not told so."""
    numbers, sizes, lengths = (sorted(act.spans(role), key=lambda s: s.start) for role in ("n", "size", "len"))
    role = "size"
    if len(lengths) == 2 and sum(p.known for p in pairs_in(text[slice(*act.region)])) == 2:  # "two 3x8, four 3x12"
        role, sizes = "len", lengths
    if act.action in OF_SCREWS and len(sizes) == 2:
        numbers = _with_articles(numbers, sizes, text)
    if act.action not in OF_SCREWS or len(numbers) < 2 or len(sizes) != 2:
        return []
    one, other = numbers[0], next((n for n in reversed(numbers) if n.start <= sizes[1].start), numbers[0])
    told = [text[s.start : s.end].lower() for s in sizes]
    apart = one.start <= sizes[0].start < other.start <= sizes[1].start and told[0] != told[1]
    if not apart or OF_THOSE.match(text[other.end :].lower()) or TAKEN_BACK.search(text[one.end : other.start].lower()):
        return []
    groups = []
    for n in range(2):
        mine = [s for s in numbers if (s.start < other.start) == (n == 0)]
        figures = {"n": mine, role: [sizes[n]]}
        for other_role in set(act.figures) - {"n", role}:
            told_here = act.spans(other_role)
            before = [s for s in told_here if s.start < one.start]
            mine = [s for s in told_here if s.start >= one.start and (s.start < other.start) == (n == 0)]
            figures |= {other_role: [*before, *mine]} if before or mine else {}
        region = (act.region[0], other.start) if n == 0 else (other.start, max(act.region[1], sizes[1].end))
        groups.append(evolve(act, start=act.start if n == 0 else other.start, figures=figures, region=region))
    return groups


def _with_articles(numbers: list[Span], sizes: Sequence[Span], text: str) -> list[Span]:
    """The numbers of two groups, or the articles where these alone count them: "a 3 mm hex and a hex 4"."""
    out = [n for n in numbers if not any(z.start < n.end and n.start < z.end for z in sizes)]
    found = [ARTICLE.search(text[: size.start]) for size in sizes]
    ones = [Span("n", *f.span("one")) for f in found if f is not None]
    alone = all(any((n.start, n.end) == (o.start, o.end) for o in ones) for n in out)
    return ones if len(ones) == len(sizes) and alone else numbers


def _divided(act: Act, text: str) -> list[Act]:
    """The groups of an act on fasteners of which each has its number and its part or place: "four at the corners, and
    the two at the gland plate". Numbers of two places alone are one group."""
    numbers = sorted(act.spans("n"), key=lambda s: s.start)
    where = sorted((*act.spans("held"), *act.spans("at")), key=lambda s: s.start)
    if act.action not in FASTENING or not 1 < len(numbers) == len(where):
        return [act]
    if all(w.label == "held" and w.end <= n.start <= w.end + 2 for w, n in zip(where, numbers, strict=True)):
        return _listed_behind(act, where, numbers)
    begins = [n.start for n in numbers]
    in_turn = all(n.end <= w.start for n, w in zip(numbers, where, strict=True))
    linked = all(
        w.end <= n.start and LINK.fullmatch(text[w.end : n.start].lower())
        for w, n in zip(where, numbers[1:], strict=False)
    )
    held = all(w.label == "held" for w in where[1:])
    if not (in_turn and linked and held) or any(OF_THOSE.match(text[n.end :].lower()) for n in numbers[1:]):
        return [act]
    shared = {k: v for k, v in act.figures.items() if k not in ("n", "held", "at", "size", "len")}
    groups = []
    for n, number in enumerate(numbers):
        figures = {**shared, "n": [number], where[n].label: [where[n]]}
        ends = begins[n + 1] if n + 1 < len(begins) else len(text)
        for role in ("size", "len"):
            mine = [s for s in act.spans(role) if (n == 0 or number.start <= s.start) and s.start < ends]
            figures |= {role: mine or act.spans(role)[:1]}
        first, last = (where[n - 1].end if n else act.region[0]), n + 1 == len(numbers)
        region = (first, max(act.region[1], where[n].end) if last else where[n].end)
        groups.append(evolve(act, figures={k: v for k, v in figures.items() if v}, region=region))
    return groups


def _listed_behind(act: Act, where: Sequence[Span], numbers: Sequence[Span]) -> list[Act]:
    """The groups of notes that tell each thing with its number: "cover 4, handle 2, base 6, all PH2"."""
    shared = {k: v for k, v in act.figures.items() if k not in ("n", "held")}
    ends = [w.start for w in where[1:]] + [max(act.region[1], numbers[-1].end)]
    return [
        evolve(act, figures={**shared, "n": [n], "held": [w]}, region=(w.start, end))
        for w, n, end in zip(where, numbers, ends, strict=True)
    ]


def _one_figure_each(spans: Sequence[Span], text: str) -> tuple[Span, ...]:
    """The spans without a count on words that are surer another number, and the other way round; a size does not begin
    with the count before it, "three hex socket screws"; what is told for the whole is a count, "twelve in all"."""
    spans = [evolve(s, label="n") if _told_in_all(s, text) else s for s in spans]
    counts = [s for s in spans if s.label == "n"]
    others = [s for s in spans if s.label in NUMBERS and s.label != "n"]
    out = []
    for span in spans:
        rivals = others if span.label == "n" else counts if span.label in NUMBERS else []
        both = BOTH_FIGURES.search(span.words(text)) is not None
        if not both and any((r.start, r.end) == (span.start, span.end) and r.sure > span.sure for r in rivals):
            continue
        within = (n for n in counts if n.start == span.start and n.end < span.end and n.sure > span.sure)
        count = next(within, None) if span.label == "size" else None
        if count is not None and not OF_NUMBER.match(text[count.end :].lower()):
            out.append(evolve(span, start=count.end + 1))
        else:
            out.append(span)
    return tuple(out)


def _told_in_all(span: Span, text: str) -> bool:
    return span.label in ("size", "len") and span.words(text).isalnum() and IN_ALL.match(text, span.end) is not None


def _with_size(span: Span, sizes: Mapping[int, Act | None], text: str) -> Act | None:
    """The act whose size stands right behind a number: "five T8s"; None if there is none."""
    if span.label != "n":
        return None
    behind = ((text[span.end : at], act) for at, act in sizes.items() if at >= span.end)
    return next((act for gap, act in behind if NEXT_TO.fullmatch(gap)), None)


#: a thing named between two of a list: "the hopper the belt and the drum"
BETWEEN = lazy_pattern(
    r",?\s+(?:and )?(?:the|its|his|my)\s+(?P<name>(?!other\b|same\b|rest\b)[a-z-]+(?: (?!and\b|then\b)[a-z-]+)?),?\s+"
    r"(?:(?:and|then|and then)\s+)?(?:the|its|his|my)\s+",
    re.IGNORECASE,
)


def _between(found: Sequence[Act], text: str) -> list[Act]:
    """The acts on things that stand between two of a list and of which the network marked none."""
    out = []
    for one, other in pairwise(sorted((a for a in found if a.start < a.end), key=lambda a: a.start)):
        gap = BETWEEN.fullmatch(text[one.end : other.start])
        listed = one.action == other.action and one.action in ("out", "place", "disconnect", "connect", "peel", "clean")
        if gap is not None and listed and not (NO_NOUN | {"back", "for", "as"}) & set(gap["name"].lower().split()):
            at = one.end + gap.start("name")
            out.append(Act(one.action, at, at + len(gap["name"]), LEAST))
    return out


#: an act -> its verb and the word behind it that points at what it is done to: "peel that back"
POINTS = {
    action: lazy_pattern(
        rf"\b(?:{verbs})(?:s|ed|d|ing)? (?P<it>it|that|this|them|those|these)\b(?! (?:one|part|side)\b)"
    )
    for action, verbs in {
        "peel": "peel|pull|strip",
        "soften": "heat|warm|soften|soak",
        "pry": "pry|prise|lever|spudge",
        "cut": "cut|snip|clip",
        "desolder": "desolder|unsolder",
        "fold": "fold|swing|tilt|tip",
    }.items()
}


def _on_its_pronoun(act: Act, text: str) -> Act:
    """An act without words of its own on the word that its verb points with."""
    points = POINTS.get(act.action)
    found = points.search(text.lower()) if points is not None and act.start >= len(text) else None
    return evolve(act, start=found.start("it"), end=found.end("it")) if found is not None else act


def _beside_sure(found: list[Act], text: str) -> list[Act]:
    """The acts that are sure enough for others to stand beside them, and those of a list with one: of "a ring, a washer
    and a spring" all three if the spring is."""
    sure = [a for a in found if a.sure >= BESIDE_SURE and a.start < a.end]
    more = [a for a in found if a.sure < BESIDE_SURE and a.start < a.end]
    return sure + [a for a in more if _listed(Span(a.action, a.start, a.end, a.sure), sure, text)]


def _listed(span: Span, found: list[Act], text: str) -> bool:
    """Whether a span stands in a list with an act of its sort that is sure, or begins a clause beside one."""
    begins = CLAUSE.search(text[: span.start]) is not None
    for act in found:
        if act.action == span.label:
            first, second = (act.end, span.start) if act.start < span.start else (span.end, act.start)
            if first <= second and (begins or LISTED.fullmatch(text[first:second])):
                return True
    return False


def _consistent(acts: list[Act], heard: Understood) -> list[Act]:
    """Without what another act of the utterance explains: the mass of a glue is not weighed, a correction undoes
    nothing, a lead pulled is not taken out as well."""
    there = {a.action for a in acts}
    out = []
    for act in acts:
        if act.action == "weigh" and "stick" in there and heard.holds("weigh") < 0.97:
            continue
        if act.action == "same" and SAME_WORDS.search(heard.text) is None:
            continue  # nothing is done again by "both are identical"
        if act.action == "undo" and UNDO_WORDS.search(heard.text) is None:
            continue  # nothing is taken back by "last time I broke the ribbon here"
        if act.action == "undo" and "correct" in there and heard.holds("correct") > heard.holds("undo"):
            continue
        if act.action == "correct" and "undo" in there and heard.holds("correct") <= heard.holds("undo"):
            continue
        if act.action == "out" and _stays(act, acts, heard.text):
            continue
        if act.action == "out" and _only_unplugged(act, acts, heard.text):
            continue
        if act.action in ("place", "connect") and SWITCHED.match(heard.text, act.start):
            continue
        rival = next((b for b in acts if b is not act and (b.start, b.end) == (act.start, act.end)), None)
        most = 1.0 if rival is not None and frozenset({act.action, rival.action}) in EXCLUSIVE else BOTH_SURE
        lesser = rival is not None and act.sure < min(rival.sure, most)
        if lesser and rival is not None and frozenset({act.action, rival.action}) in RIVALS:
            continue
        out.append(act)
    return out


def _stays(act: Act, acts: Sequence[Act], text: str) -> bool:
    """Whether only its screws are taken from a thing, and another comes out, "two screws from the bracket, and lift the
    fan out"; or the thing itself is told of again: "four screws from the cover, cover off"."""
    if OF_SCREWS_OF.search(text[: act.start].lower()) is None:
        return False
    later = [b for b in acts if b.action == "out" and b.start > act.end]
    last = text[act.start : act.end].lower().split()[-1:]
    if any(text[b.start : b.end].lower().split()[-1:] == last for b in later):
        return True
    behind = set(re.findall(r"\w+", text[act.end :].lower()))
    return bool(later) and not behind & {*last, "it", "they", "them", "this", "that", "both", "all"}


def _only_unplugged(act: Act, acts: Sequence[Act], text: str) -> bool:
    """Whether a thing is but unplugged where it was taken for taken out as well: "disconnect the heater and lift the
    fan out"."""
    plug = any(b.action == "disconnect" and (b.start, b.end) == (act.start, act.end) for b in acts)
    verb = UNPLUG.search(text[: act.start].lower()) if plug else None
    if verb is None or text[: verb.start()].lower().endswith("and "):
        return False
    rest = text[act.end :].lower()
    behind = re.split(r"[,.;]|\band\b|\bthen\b", rest)[0]
    return re.search(r"\b(?:out|off|away)\b", behind) is None and re.search(r"\b(?:it|them|that|this)\b", rest) is None


#: what leads from screws to what they hold
OF_SCREWS_OF = lazy_pattern(
    r"\b(?:screws?|bolts?|nuts?|clips?)(?: \w+)? (?:from|of|holding|securing|retaining|in|on) (?:the |its |this )?$"
)
#: "switch on the supply" puts nothing in its place
SWITCHED = lazy_pattern(
    r"(?:switch|power|turn)(?:ed|es|s|ing)? (?:(?:it|the [\w ]{1,20}?) )?(?:on|up)\b", re.IGNORECASE
)
#: two acts that are seldom both meant by the same words; they are where the lesser is this sure
BOTH_SURE = 0.65
RIVALS = tuple(
    frozenset(pair.split("/"))
    for pair in (
        "out/peel out/disconnect pry/out fold/open place/connect out/clean place/out connect/disconnect "
        "unscrew/fasten unscrew/loosen place/check cut/peel place/stick identify/spec spec/measure "
        "weigh/measure fold/turn out/identify unclip/disconnect soften/out open/out unclip/out stick/soften"
    ).split()
)
#: two acts that the same words never both mean, however sure they are
EXCLUSIVE = (frozenset({"fold", "open"}),)
#: a number in figures or words
NUMBERED = lazy_pattern(
    r"\b(?:\d+|one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve|won|too|tree|fore?|ate)\b"
)
#: what stands between a number and the size code that goes with it
NEXT_TO = lazy_pattern(r"\s?[x×]?\s?")


def _once(acts: list[Act], text: str) -> list[Act]:
    """Two acts of one sort on words that belong together are one: "the flap of the free arm"."""
    out: list[Act] = []
    for act in acts:
        last = out[-1] if out and out[-1].action == act.action else None
        apart = (
            last is not None
            and act.action not in ONE_A_SENTENCE
            and not _the_same(text, last, act)
            and (
                parted(text, act.action, (last.start, last.end), (act.start, act.end))
                or _counted_apart(text, last, act, acts)
            )
        )
        if last is None or apart:
            out.append(act)
        else:
            last.sure = max(last.sure, act.sure)
    return out


#: what is found by one check is told in several words: "it rings, picture is there"
ONE_A_SENTENCE = frozenset({"check"})
#: acts that are told of a thing once, however often it is named
TOLD_ONCE = frozenset("place pry stick check clean identify align fold open soften".split())


def _the_same(text: str, one: Act, other: Act) -> bool:
    """Whether two acts of a sort stand on the same word: "the seal, chamfer out … that seal"."""
    words = [re.findall(r"[^\W\d_]+", text[a.start : a.end].lower())[-1:] for a in (one, other)]
    return one.action in TOLD_ONCE and words[0] == words[1] != []


def _counted_apart(text: str, first: Act, second: Act, acts: Sequence[Act]) -> bool:
    """Whether two groups of fasteners have another act and a number between them: "case down three screws door on one
    screw"."""
    if first.action not in FASTENING or not first.end < second.start:
        return False
    between = any(first.end <= a.start and a.end <= second.start for a in acts if a.action != first.action)
    return between and NUMBERED.search(text[first.end : second.start].lower()) is not None


def _bound(acts: list[Act], text: str) -> None:
    """Cut the utterance into one region for each act, at the stop or link between two of them."""
    placed = [a for a in acts if a.start < len(text)]
    left = 0
    for i, act in enumerate(placed):
        right = len(text)
        if i + 1 < len(placed):
            gap = text[act.end : placed[i + 1].start]
            marks = list(STRONG.finditer(gap)) or list(WEAK.finditer(gap))
            right = act.end + (marks[-1].start() if marks else max(0, len(gap)))
            if placed[i + 1].start <= act.end:
                right = act.end
        act.region = (left, max(right, act.end))
        left = act.region[1]
    for act in acts:
        if act.start >= len(text):
            act.region = (0, len(text))


#: a word for what the counted things are like; none that leads to another thing: "four under the wires"
LIKE = (
    r"(?!(?:and|or|then|the|a|an|its|from|with|by|for|to|in|on|at|of|off|out|under|behind|beside|over|near)\b)[\w-]+ "
)
#: things that are counted -> the acts on them
COUNTED_THINGS = tuple(
    (lazy_pattern(rf"\s*(?:of (?:its|the|these|those) )?(?:{LIKE}){{0,2}}?(?:{things})\b"), frozenset(actions.split()))
    for things, actions in (
        ("screws?|bolts?|scr|stand-?offs?", "unscrew loosen fasten drill"),
        ("clips?|catch(?:es)?|hooks?|latch(?:es)?", "unclip"),
        ("tabs?", "unclip disconnect connect"),
        ("plugs?|connectors?|conns?|spades?", "disconnect connect"),
        ("wires?|cables?|leads?", "disconnect connect desolder cut"),
        ("(?:solder )?(?:points?|pts|joints?|blobs|dabs)", "desolder connect"),
    )
)
#: acts that count such things and no others
COUNTING = frozenset().union(*(actions for _, actions in COUNTED_THINGS))


def counts_such(action: str, behind: str) -> bool:
    """Whether the words behind a number tell things that this act counts: "three plugs"."""
    return any(action in acts_on and pattern.match(behind.lower()) for pattern, acts_on in COUNTED_THINGS)


def _owner(span: Span, acts: list[Act], text: str) -> Act | None:
    fits = [a for a in acts if a.action in FITS.get(span.label, frozenset(ACTS))]
    if span.label == "under":  # nothing lies under itself
        fits = [a for a in fits if (a.start, a.end) != (span.start, span.end)]
    if not fits:
        return None
    if span.label == "n":  # a number belongs to an act on such things as it counts, and to none on others
        thing = next((acts_on for pattern, acts_on in COUNTED_THINGS if pattern.match(text[span.end :].lower())), None)
        if thing is not None:
            fits = [a for a in fits if a.action in thing] or [a for a in fits if a.action not in COUNTING]
        if not fits:
            return None
    if span.label == "held":  # "case down three screws, door on one screw": a part put in its place, then its screws
        placed = sorted(a.start for a in acts if a.action == "place")
        following = next((p for p in placed if p > span.start), len(text))
        then = [a for a in fits if a.action == "fasten" and span.end <= a.start < following]
        if span.start in placed and then:
            return then[0]
    return min(fits, key=lambda a: (_apart(span, a, text), a.start))


def _apart(span: Span, act: Act, text: str) -> float:
    """How far a figure stands from an act: stops between them count for much, other words for little."""
    if act.start >= len(text):
        return 60.0
    if span.start < act.end and act.start < span.end:
        return 0.0
    first, second = (span.end, act.start) if span.end <= act.start else (act.end, span.start)
    between = text[first:second]
    stops = len(re.findall(r"[.;!?](?=\s|$)", between))
    links = len(re.findall(r"\b(?:and|then)\b|,|\+", between))
    inside = act.region[0] <= span.start < act.region[1]
    if span.label == "n":  # a number stands before what it counts
        if act.end <= span.start and not between.strip() and text[span.start] in "x×":
            return 1.0  # "feet x4"
        close = not stops and not links and not re.search(r"[:;]", between) and len(between.split()) <= 4
        if act.start >= span.end and close:
            return len(between) * 0.2
        return len(between) + 25 + 60 * stops + 12 * links - (10 if inside else 0)
    return len(between) + 60 * stops + 12 * links - (25 if inside else 0)
