"""How well narration is read: drafted logs held against logs written by hand. Used by the tests and the bench."""

from collections import Counter
from pathlib import Path

from attrs import evolve

from oddbolt.core.narration import draft
from oddbolt.files.captions import read_cues

HERE = Path(__file__).parent / "narration"


def hand_logs():
    """(caption file, [[action, count, drive or size, parts], ...]) of every narration with a log by hand."""
    for log in sorted(HERE.glob("*.log")):
        captions = next(p for p in HERE.glob(log.stem + ".*") if p.suffix in (".vtt", ".srt", ".txt"))
        steps = [line.split(" ", 1)[1].split(":") for line in log.read_text(encoding="utf-8").splitlines() if line]
        yield captions, steps


def same_parts(named, wanted):
    return not wanted or {p.strip().lower() for p in wanted.split(",")} == {p.lower() for p in named}


def matches(step, wanted):
    action, count, drive, parts = wanted
    return (
        step.action == action
        and (not count or step.count == (None if count == "?" else int(count)))
        and (not drive or drive in (step.drive, step.size))
        and same_parts(step.parts, parts)
    )


#: acts that the logs by hand, older than these, call otherwise; and acts that they do not tell
CALLED = {"loosen": "unscrew", "open": "fold", "bleed": "prepare"}
UNTOLD = ("turn", "wait", "check", "clean", "route", "align")
EACH = ("take out", "disconnect", "place", "connect", "peel")


def one_by_one(steps):
    """Drafted steps on several parts as one each, in the words of the logs."""
    for step in steps:
        step = evolve(step, action=CALLED.get(step.action, step.action))
        if step.action in UNTOLD:
            continue
        if step.action in EACH and len(step.parts) > 1:
            yield from (evolve(step, parts=(part,), count=None) for part in step.parts)
        else:
            yield step


def each_by_itself(wanted):
    for action, count, drive, parts in wanted:
        names = [p.strip() for p in parts.split(",")]
        if action in EACH and len(names) > 1:
            yield from ([action, "", drive, name] for name in names)
        else:
            yield [action, count, drive, parts]


def paired(steps, wanted, same):
    """Pairs (drafted, by hand) in order, each at most once: the longest common subsequence under ``same``."""
    table = [[0] * (len(wanted) + 1) for _ in range(len(steps) + 1)]
    for i in range(len(steps) - 1, -1, -1):
        for j in range(len(wanted) - 1, -1, -1):
            hit = 1 + table[i + 1][j + 1] if same(steps[i], wanted[j]) else 0
            table[i][j] = max(hit, table[i + 1][j], table[i][j + 1])
    pairs, i, j = [], 0, 0
    while i < len(steps) and j < len(wanted):
        if same(steps[i], wanted[j]) and table[i][j] == 1 + table[i + 1][j + 1]:
            pairs.append((steps[i], wanted[j]))
            i, j = i + 1, j + 1
        elif table[i + 1][j] >= table[i][j + 1]:
            i += 1
        else:
            j += 1
    return pairs


def scores(vocabulary=None):
    """Totals over all hand logs, and the lines that went wrong."""
    n, wrong = Counter(), []
    for captions, wanted in hand_logs():
        steps = list(one_by_one(draft(read_cues(captions), vocabulary).steps))
        wanted = list(each_by_itself(wanted))
        right = paired(steps, wanted, matches)
        groups = [w for w in wanted if w[0] in ("unscrew", "fasten") and w[1]]
        out = [w for w in wanted if w[0] in ("take out", "pry", "peel")]
        n.update(steps=len(steps), wanted=len(wanted), right=len(right), groups=len(groups), out=len(out))
        n["groups right"] += sum(w in groups for _, w in right)
        n["out right"] += sum(w in out for _, w in right)
        n["false"] += len(steps) - len(paired(steps, wanted, lambda s, w: s.action == w[0]))
        missed = [w for w in wanted if w not in [x for _, x in right]]
        extra = [s.json() for s in steps if s not in [x for x, _ in right]]
        wrong += [f"{captions.name}: {w}" for w in missed] + [f"{captions.name} drafted: {e}" for e in extra]
    return n, wrong


if __name__ == "__main__":
    n, wrong = scores()
    print(dict(n))
    print(*wrong, sep="\n")
