"""Plain talk put together at random, of which it is known by its making what is to be logged.

    python tests/plain_talk.py [SEED]

Common practice, no source: how a newcomer words one step. Each sentence may be said with words of chat around it, or as
a recogniser writes it, in small letters and without stops.
"""

import random
import re
import sys
from collections import Counter

from oddbolt.core.narration import Memory, read, shipped

PARTS = (
    "fan motor battery board speaker cover display gasket bracket spring shaft belt filter pump keypad sensor lamp"
    " hopper impeller gearbox encoder transformer relay microphone nozzle blade drum roller bezel grille"
).split()
PLUGGED = "fan motor battery speaker display sensor pump lamp heater keypad".split()
SIZES = "T6 T8 T10 PH0 PH1 PH2 PZ1 IP5 T15".split()
NUMBERS = {2: "two", 3: "three", 4: "four", 5: "five", 6: "six", 7: "seven", 8: "eight", 9: "nine", 12: "twelve"}
LENGTHS = (6, 8, 10, 12, 16, 20)
DIAMETERS = (2, 3, 4, 5)
BEFORE = ("So next, ", "Okay, so ", "And then ", "Alright, ", "Now ", "Right, ", "Once that's done, ", "After that, ")
BEHIND = (
    "",
    "",
    " Easy.",
    " No problem there.",
    " Like that.",
    " Nice and easy.",
    " There we go.",
    " Keep track of it.",
)

#: sentences -> what they log: (action, count, size, length, part); a, b, c are parts, p, q plugged ones
SENTENCES = {
    "Remove the {a}.|Take the {a} out.|Lift the {a} off.|Slide the {a} out.|The {a} comes out."
    "|The {a} was removed.": "out:a",
    "Remove the {a} and the {b}.|Lift the {a} out, then the {b}.|The {a} and the {b} were taken out.": "out:a out:b",
    "Remove the {a}, the {b} and the {c}.": "out:a out:b out:c",
    "Undo the {n} {z} screws of the {a}.|{n} {z} screws hold the {a}, undo them."
    "|Back out the {n} {z} screws holding the {a}.|I took {n} {z} screws out of the {a}."
    "|Unscrew {n} {z} from the {a}.": "unscrew:n:z::a",
    "Undo {n} {z} screws, {l} mm long, from the {a}.|Remove the {n} {z}x{l} screws from the {a}.": "unscrew:n:z:l:a",
    "Undo {n} {d} x {l} {z} screws of the {a}.|Remove {n} {d}x{l} {z} screws from the {a}.": "unscrew:n:z:l:a",
    "Undo {n} {d} x {l} screws of the {a}.|{n} {d} by {l} screws out of the {a}.": "unscrew:n::l:a",
    "Remove the {l} x {d} mm {a}.|Lift out the {l} by {l} {a}.": "out:a",
    "Undo the {n} {z} screws and lift off the {a}.|{n} {z} screws, then the {a} comes off.": "unscrew:n:z::a out:a",
    "Undo {n} {z} screws from the {a} and {m} {y} from the {b}.": "unscrew:n:z::a unscrew:m:y::b",
    "{n} {z} screws in the {a}, one is hidden under the sticker, all out.": "unscrew:n:z::a",
    "Unplug the {p}.|Disconnect the {p} connector.|The {p} plug is unplugged."
    "|Flip up the latch and pull out the {p} ribbon.": "off:p",
    "Unplug the {p} and the {q}.|Disconnect the {p} cable and the {q} cable.": "off:p off:q",
    "Disconnect the {p} plug, then remove the {p}.": "off:p out:p",
    "Release {n} clips and lift off the {a}.|Press in {n} clips and the {a} comes off.": "unclip:n:::a out:a",
    "Desolder the {n} wires of the {p}.": "desolder:n:::p",
    "Refit the {a}.|Put the {a} back.": "<place:a",
    "Fit the {a} and tighten {n} {z} screws.": "<place:a fasten:n:z::a",
    "Reconnect the {p} cable.|Plug in the {p} again.": "<connect:p",
    "The {a} stays in.|Don't remove the {a}.|You don't have to remove the {a}.|The {a} looks good.|Leave the {a} alone."
    "|We'll come to the {a} later.": "",
}  # fmt: skip
ACTS = {"out": ("take out", "peel", "pry"), "off": ("disconnect",)}


def sentence(rng):
    """(sentence, what it logs, whether it is said while putting back)."""
    texts, logged = rng.choice(list(SENTENCES.items()))
    text = rng.choice(texts.split("|"))
    told = dict(zip("abc", rng.sample(PARTS, 3), strict=True)) | dict(zip("pq", rng.sample(PLUGGED, 2), strict=True))
    told |= dict(zip("nm", rng.sample(list(NUMBERS), 2), strict=True)) | dict(
        zip("zy", rng.sample(SIZES, 2), strict=True)
    )
    told |= {"l": rng.choice(LENGTHS), "d": rng.choice(DIAMETERS)}
    words = told | {k: rng.choice((NUMBERS[told[k]], str(told[k]))) for k in "nm"}
    said = text.format(**words)
    manner = rng.random()
    if manner < 0.4 and logged:
        low = said if said.startswith(("I ", *SIZES)) else said[0].lower() + said[1:]
        said = rng.choice(BEFORE) + low + rng.choice(BEHIND)
    elif manner < 0.5 and "," not in said:
        said = re.sub(r"[.]", "", said).lower()
    else:
        said = said[0].upper() + said[1:]
    wanted = []
    for piece in logged.removeprefix("<").split():
        act, *fields = piece.split(":")
        count, size, length, part = (None, None, None, *fields) if len(fields) == 1 else (told.get(f) for f in fields)
        wanted.append((ACTS.get(act, (act,)), count, size, length, told.get(part, part)))
    return said, wanted, logged.startswith("<")


def run_on(rng, several):
    """(so many sentences of taking apart as a recogniser writes them that sets no stops, what they log)."""
    told = []
    while len(told) < several:
        said, wanted, back = sentence(rng)
        if wanted and not back:
            told.append((re.sub(r"(?<!\d)[.](?!\d)|[.](?=\s|$)|,(?!\d)", "", said).lower(), wanted))
    return " ".join(said for said, _ in told), [act for _, wanted in told for act in wanted]


def right(steps, wanted):
    """Whether some drafts are what was to be logged, and nothing else."""
    left = list(steps)
    for actions, count, size, length, part in wanted:
        hit = next((s for s in left if s.action in actions and any(part in p.lower() for p in s.parts)), None)
        if hit is None or (count and hit.count != count) or (size and hit.size != size):
            return False
        if length and hit.length_mm != length:
            return False
        left.remove(hit)
    return not left


def scores(vocabulary, seed, many):
    """How many of so many sentences were read right; which were wrong, and which of those were not asked."""
    rng, n, wrong = random.Random(seed), Counter(), []
    for _ in range(many):
        said, wanted, back = sentence(rng)
        steps = read(said, Memory(phase="back" if back else ""), vocabulary)[0].steps
        good, asked = right(steps, wanted), any(s.doubt for s in steps)
        n.update({"told": 1, "right": good, "right and asked": good and asked})
        n["wrong, not asked"] += bool(steps) and not good and not asked
        if not good:
            wrong.append((said, [(s.action, s.count, s.size, s.length_mm, s.parts, s.sure, s.doubt) for s in steps]))
    return n, wrong


if __name__ == "__main__":
    from oddbolt.listening import listening_vocabulary

    found, errors = scores(listening_vocabulary(shipped()), int(sys.argv[1]) if len(sys.argv) > 1 else 1, 1000)
    print(dict(found))
    for line in errors:
        print(*line)
