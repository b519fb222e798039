"""How well loose talk is read: the corpora in tests/narration/corpus held against what a careful reader logs.

    python tests/corpus.py [--measure] [--wrong MANNER] [FILE …]

Without ``--measure`` the stories for developing are read (dev-b, dev-d, dev-e and the even ones of dev-c and dev-f).
With it only the totals of the odd stories of dev-c and dev-f are told, never their sentences. SPEC.md explains the
notation.
Lenient: the act and what it is about are right. Strict: count, drive or size, length and where it was hidden as well.
"""

import argparse
import re
from collections import Counter, defaultdict
from pathlib import Path

from attrs import evolve

from oddbolt.core.narration import Memory, read, shipped
from oddbolt.listening.network import load

FOLDER = Path(__file__).parent / "narration" / "corpus"
HALVES = ("dev-c", "dev-f")
#: an act of the notation -> the actions of a draft that say the same
SAME = {
    "unscrew": {"unscrew"},
    "loosen": {"loosen"},
    "out": {"take out", "peel", "pry"},
    "peel": {"peel", "take out"},
    "unclip": {"unclip", "release"},
    "disconnect": {"disconnect"},
    "desolder": {"desolder"},
    "cut": {"cut"},
    "drill": {"drill", "cut"},
    "soften": {"soften"},
    "wait": {"wait", "soften"},
    "pry": {"pry", "take out"},
    "fold": {"fold", "open"},
    "open": {"open", "fold"},
    "turn": {"turn"},
    "isolate": {"prepare"},
    "bleed": {"bleed"},
    "place": {"place"},
    "connect": {"connect"},
    "fasten": {"fasten"},
    "stick": {"apply"},
    "clean": {"clean"},
    "roll": {"press"},
    "route": {"route"},
    "check": {"check"},
    "align": {"align"},
}
NOTED = {"identify", "measure", "weigh", "condition", "spec"}
ASIDE = {"photo": "photo", "pause": "pause", "resume": "go on", "undo": "undo"}
#: acts whose object is not looked at: it is the device, or told in many ways
LOOSE = {"isolate", "turn", "wait", "clean", "check", "roll", "align", "route", "correct", "same"}


def acts_of(expected):
    """[(action, {field: value})] of a line, and its remarks."""
    acts, remarks = [], []
    for piece in expected.split(" + "):
        head, *fields = [p.strip() for p in piece.split(";")]
        pairs = dict(f.split("=", 1) for f in fields if "=" in f)
        (remarks if head.startswith("-") else acts).append((head, pairs))
    return acts, remarks


def stories(measure=False, files=()):
    """(file, story number, manner, [(sentence, expected)])."""
    for path in sorted(FOLDER.glob("dev-*.tsv" if not files else "*.tsv")):
        number, manner, lines = -1, "", []
        wanted = path.stem in files if files else True
        for line in [*path.read_text(encoding="utf-8").splitlines(), "# device\t\t"]:
            if line.startswith("# device"):
                odd = path.stem in HALVES and number % 2 == 1
                if lines and wanted and odd == measure:
                    yield path.stem, number, manner, lines
                number, manner, lines = number + 1, line.split("\t")[-1], []
            elif "\t" in line:
                lines.append(tuple(line.split("\t", 1)))


def plain(name):
    return " ".join(re.sub(r"[^a-z0-9 ]", " ", name.lower()).removeprefix("the ").split()).rstrip("s")


def alike(told, wanted):
    """Whether a name means one of those wanted; any of its alternatives will do."""
    names = {plain(p) for p in wanted.split("/")}
    said = {plain(p) for p in told if p}
    return any(a == b or a.endswith(" " + b) or b.endswith(" " + a) for a in names for b in said)


def about(step, action, wanted):
    """Whether a drafted step is about what was named."""
    if "part" not in wanted or action in LOOSE:
        return True
    plugs = (
        [f"{p} {w}" for p in step.parts for w in ("plug", "connector")] if action in ("disconnect", "connect") else []
    )
    return alike((*step.parts, *plugs, *step.under, step.place, step.note), wanted["part"])


DRIVES = {"hex": "hex-socket", "hex-ext": "external-hex"}


def sized(step, wanted):
    size = wanted.get("size", "").removesuffix(" mm")
    return (not size or step.size.removesuffix(" mm") == size) and (
        "drive" not in wanted or step.drive == DRIVES.get(wanted["drive"], wanted["drive"])
    )


def strictly(step, wanted):
    """Whether count, drive and size, and length are right as well."""
    n = wanted.get("n", "")
    return (
        (not n.isdigit() or step.count == int(n) or (n == "1" and step.count is None))
        and sized(step, wanted)
        and ("len" not in wanted or step.length_mm == float(wanted["len"]))
    )


def drafts_of(reading):
    """What a reading says, as (sort, action, draft) for each thing."""
    out = [("step", s.action, s) for s in reading.steps]
    out += [("note", n.kind, n) for n in reading.findings if n.kind in NOTED]
    out += [("aside", a.kind, a) for a in reading.asides or ((reading.aside,) if reading.aside else ())]
    # a step told of before, and said to be done now, is settled and not drafted a second time: it may be what is
    # wanted, and adds nothing where it is not
    out += [("step", a.action, a) for a in reading.amends if a.corrects == ("doubt",)]
    out += [("amend", "correct", a) for a in reading.amends if a.corrects and a.corrects != ("doubt",)]
    return out


def fits(draft, action, fields, last):
    sort, said, thing = draft
    if action in NOTED:
        return sort == "note" and said == action
    if action in ASIDE:
        return sort == "aside" and said == ASIDE[action]
    if action == "same":
        return said == "repeat" or (sort == "step" and thing.action in last)
    if action == "correct":
        return sort == "amend"
    return sort == "step" and said in SAME[action] and about(thing, action, fields)


def scored(measure=False, files=(), vocabulary=None):
    """Totals for each manner and each act, the lines that were read wrongly, and (sureness, right) of every draft."""
    total, by_act, wrong, curve = defaultdict(Counter), defaultdict(Counter), [], []
    for file, story, manner, lines in stories(measure, files):
        memory, last = Memory(), ()
        for sentence, expected in lines:
            reading, memory = read(sentence, memory, vocabulary)
            acts, remarks = acts_of(expected)
            left, clean = drafts_of(reading), True
            n = total[manner]
            n["sentences"] += 1
            for action, fields in acts:
                n["acts"] += 1
                by_act[action]["acts"] += 1
                hit = next((d for d in left if fits(d, action, fields, last)), None)
                if hit is None:
                    clean = False
                    continue
                left.remove(hit)
                n["found"] += 1
                by_act[action]["found"] += 1
                step = hit[2] if hit[0] in ("step", "amend") else None
                if step is not None and hit[0] == "step":
                    curve.append((step.sure, True))
                strict = step is None or action in ("same",) or strictly(step, fields)
                n["strict"] += strict
                clean &= strict
                if step is not None and fields.get("n", "").isdigit():
                    n["counts"] += 1
                    n["counts right"] += step.count == int(fields["n"])
                if step is not None and ("size" in fields or "drive" in fields):
                    n["sizes"] += 1
                    n["sizes right"] += sized(step, fields)
            left = [d for d in left if getattr(d[2], "corrects", ()) != ("doubt",)]
            n["drafted"] += sum(getattr(d[2], "corrects", ()) != ("doubt",) for d in drafts_of(reading))
            n["false"] += len(left)
            for d in left:
                by_act[d[1]]["false"] += 1
            curve += [(d[2].sure, False) for d in left if d[0] == "step"]
            wanted = {r.lstrip("-") for r, _ in remarks}
            if wanted & {"caution", "praise", "complaint", "finding", "mark"} and not acts:
                n["remarks"] += 1
                kinds = {"damage" if k == "finding" else k for k in wanted}
                told = {f.kind for f in reading.findings} | {"caution" for _ in reading.cautions}
                n["remarks right"] += bool(kinds & told) and not left
            elif remarks and not acts:
                n["remarks"] += 1
                n["remarks right"] += not left
            clean &= not left
            n["clean"] += clean
            last = tuple(s.action for s in reading.steps) or last
            if not clean:
                said = [
                    (
                        d[1],
                        getattr(d[2], "count", ""),
                        getattr(d[2], "size", ""),
                        getattr(d[2], "parts", ""),
                        getattr(d[2], "sure", ""),
                    )
                    for d in drafts_of(reading)
                ]
                wrong.append((file, story, manner, sentence, expected, said))
    return total, by_act, wrong, curve


def main():
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("files", nargs="*", help="dev-b and so on; all if none is named")
    parser.add_argument("--measure", action="store_true", help="only totals of the stories that are kept for measuring")
    parser.add_argument("--wrong", default="", metavar="MANNER", help="print what was read wrongly in this manner")
    parser.add_argument("--rules", action="store_true", help="read by rules alone")
    parser.add_argument("--weights", default="", help="a folder with other weights")
    parser.add_argument("--every", default="", help="only stories with number k where k %% 5 == this")
    options = parser.parse_args()
    vocabulary = shipped()
    if not options.rules:
        tagger = load(Path(options.weights) if options.weights else None)
        vocabulary = evolve(vocabulary, tagger=tagger)
    if options.every:
        whole = stories
        globals()["stories"] = lambda *a: (s for s in whole(*a) if s[1] % 5 == int(options.every))
    total, by_act, wrong, curve = scored(options.measure, options.files, vocabulary)
    share = lambda n, a, b: f"{n[a]:>4}/{n[b]:<4} {n[a] / max(1, n[b]):>4.0%}"  # noqa: E731
    for manner, n in [*total.items(), ("all", sum(total.values(), Counter()))]:
        print(
            f"{manner:<10} right {share(n, 'clean', 'sentences')}  acts {share(n, 'found', 'acts')}  counts "
            f"{share(n, 'counts right', 'counts')}  sizes {share(n, 'sizes right', 'sizes')}  false "
            f"{share(n, 'false', 'drafted')}  remarks {share(n, 'remarks right', 'remarks')}"
        )
    print(
        "  ".join(
            f"{act} {n['found']}/{n['acts']}-{n['false']}"
            for act, n in sorted(by_act.items(), key=lambda a: -a[1]["acts"])
        )
    )
    for low, high in ((0, 0.6), (0.6, 0.7), (0.7, 0.8), (0.8, 0.85), (0.85, 0.9), (0.9, 1.01)):
        here = [right for sure, right in curve if low <= sure < high]
        if here:
            print(f"confidence {low:.2f} to {high:.2f}: {sum(here)}/{len(here)} right, {sum(here) / len(here):.0%}")
    for line in wrong if options.wrong and not options.measure else ():
        if options.wrong in (line[2], "all"):
            print(*line[:2], line[3], "|", line[4], "|", line[5])


if __name__ == "__main__":
    main()
