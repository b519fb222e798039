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

from oddbolt.core.narration import Memory, read

FOLDER = Path(__file__).parent / "narration" / "corpus"
HALVES = ("dev-c", "dev-f")
#: an act of the notation -> the actions of a draft that say the same
SAME = {
    "unscrew": {"unscrew"},
    "loosen": {"unscrew", "release"},
    "out": {"take out", "peel", "pry"},
    "peel": {"peel", "take out"},
    "unclip": {"unclip", "release"},
    "disconnect": {"disconnect"},
    "desolder": {"desolder"},
    "cut": {"cut"},
    "drill": {"cut", "release"},
    "soften": {"soften"},
    "pry": {"pry", "take out"},
    "fold": {"fold"},
    "open": {"fold"},
    "isolate": {"prepare", "disconnect", "take out"},
    "bleed": {"prepare"},
    "place": {"place"},
    "connect": {"connect"},
    "fasten": {"fasten"},
    "stick": {"apply", "place"},
    "roll": {"press"},
}
#: acts that are recorded otherwise than as a step today, or not at all
BESIDE = {
    "turn",
    "wait",
    "clean",
    "route",
    "check",
    "align",
    "identify",
    "measure",
    "weigh",
    "condition",
    "spec",
    "photo",
    "pause",
    "resume",
    "undo",
    "same",
    "correct",
}


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
    for path in sorted(FOLDER.glob("dev-*.tsv")):
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


def about(step, wanted):
    """Whether a drafted step is about what was named; any of its alternatives will do."""
    if "part" not in wanted:
        return True
    names = {plain(p) for p in wanted["part"].split("/")}
    told = {plain(p) for p in (*step.parts, *step.under, step.place) if p}
    return any(a == b or a.endswith(" " + b) or b.endswith(" " + a) for a in names for b in told)


def strictly(step, wanted):
    size = wanted.get("size", "").removesuffix(" mm")
    return (
        ("n" not in wanted or step.count == int(wanted["n"]))
        and (not size or step.size.removesuffix(" mm") == size)
        and ("drive" not in wanted or step.drive.split("-")[0] == wanted["drive"].split("-")[0])
        and ("len" not in wanted or step.length_mm == float(wanted["len"]))
    )


def scored(measure=False, files=()):
    """Totals for each manner and each act, and the lines that were read wrongly."""
    total, by_act, wrong = defaultdict(Counter), defaultdict(Counter), []
    for file, story, manner, lines in stories(measure, files):
        memory = Memory()
        for sentence, expected in lines:
            reading, memory = read(sentence, memory)
            acts, remarks = acts_of(expected)
            steps, clean = list(reading.steps), True
            n = total[manner]
            n["sentences"] += 1
            for action, fields in acts:
                if action in BESIDE:
                    continue
                n["acts"] += 1
                by_act[action]["acts"] += 1
                hit = next((s for s in steps if s.action in SAME.get(action, ()) and about(s, fields)), None)
                if hit is None:
                    clean = False
                    continue
                steps.remove(hit)
                n["found"] += 1
                by_act[action]["found"] += 1
                strict = strictly(hit, fields)
                n["strict"] += strict
                clean &= strict
                if "n" in fields:
                    n["counts"] += 1
                    n["counts right"] += hit.count == int(fields["n"]) if fields["n"].isdigit() else 0
            n["drafted"] += len(reading.steps)
            n["false"] += 0 if any(a in BESIDE for a, _ in acts) and len(steps) <= 1 else len(steps)
            if not acts and remarks:
                n["remarks"] += 1
                n["remarks quiet"] += not reading.steps
            clean &= not steps
            n["clean"] += clean
            if not clean:
                wrong.append(
                    (
                        file,
                        story,
                        manner,
                        sentence,
                        expected,
                        [(s.action, s.count, s.size, s.parts) for s in reading.steps],
                    )
                )
    return total, by_act, wrong


def main():
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("files", nargs="*", help="dev-b and so on; all if none is named")
    parser.add_argument("--measure", action="store_true", help="only totals of the stories that are kept for measuring")
    parser.add_argument("--wrong", default="", metavar="MANNER", help="print what was read wrongly in this manner")
    options = parser.parse_args()
    total, by_act, wrong = scored(options.measure, options.files)
    share = lambda n, a, b: f"{n[a]:>4}/{n[b]:<4} {n[a] / max(1, n[b]):>4.0%}"  # noqa: E731
    for manner, n in [*total.items(), ("all", sum(total.values(), Counter()))]:
        print(
            f"{manner:<10} acts {share(n, 'found', 'acts')}  strict {share(n, 'strict', 'acts')}  counts "
            f"{share(n, 'counts right', 'counts')}  false {share(n, 'false', 'drafted')}  "
            f"remarks quiet {share(n, 'remarks quiet', 'remarks')}  clean {share(n, 'clean', 'sentences')}"
        )
    print(
        "  ".join(f"{act} {n['found']}/{n['acts']}" for act, n in sorted(by_act.items(), key=lambda a: -a[1]["acts"]))
    )
    for line in wrong if options.wrong and not options.measure else ():
        if line[2] == options.wrong:
            print(*line[:2], line[3], "|", line[4], "|", line[5])


if __name__ == "__main__":
    main()
