"""Fit how sure a draft is (WEIGHTS of ``core/narration/assembly/sureness.py``) on talk that the network never learned from.

    python tools/fit_sureness.py [--weights FOLDER] [--files NAME …] [--also FOLDER:K …]

That talk is: the stories that ``train_reader.py`` keeps out, the files fresh-1 to fresh-5 and fit-*, and the plain
narrations with a log by hand; with ``--files`` further files that the network of ``--weights`` was trained without; with ``--also`` the
stories k % 5 == K as read by a network that was trained without those. The odd stories of dev-c and dev-f and fresh-6
are only told how they fare. Prints the weights, to be put into the module, and for
several lines of doubt the share of wrong and of right drafts that lie below them.
"""

import argparse
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT / "src"), str(ROOT / "tests")]

import corpus  # noqa: E402
import evaluation  # noqa: E402
import numpy as np  # noqa: E402
from attrs import evolve  # noqa: E402

from oddbolt.core.narration import Memory, draft, read, shipped  # noqa: E402
from oddbolt.core.narration.assembly import settle, sureness  # noqa: E402
from oddbolt.files.captions import read_cues  # noqa: E402
from oddbolt.listening import load  # noqa: E402

KEPT_OUT = 3
HELD = 2.0
#: plain narration counts so often: it is a tenth of the drafts here, and most of what is said
PLAIN = 3
FRESH = (*(f"fresh-{n}" for n in range(1, 6)), *sorted(p.stem for p in corpus.FOLDER.glob("fit-*.tsv")))
LINES = (0.7, 0.74, 0.76, 0.78, 0.82)


def main():
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--weights", type=Path, default=None, help="a folder with another network")
    parser.add_argument("--files", nargs="*", default=[], help="further files that this network was trained without")
    parser.add_argument("--also", action="append", default=[], metavar="FOLDER:K", help="another network, its stories")
    options = parser.parse_args()
    words = evolve(shipped(), tagger=load(options.weights))
    seen = {}
    inner = sureness.traits
    settle.LEAST_SHARE = 0.0  # what is hardly ever right is to be learned from as well

    def noted(work, heard, step, found, beside, steps):
        told = inner(work, heard, step, found, beside, steps)
        seen[(work.text.strip(), step.ref)] = told
        return told

    sureness.traits = noted
    loose = of_stories([*kept_out(KEPT_OUT), *corpus.stories(False, (*FRESH, *options.files))], words, seen)
    for folder, k in (also.rsplit(":", 1) for also in options.also):
        loose += of_stories(kept_out(int(k)), evolve(shipped(), tagger=load(Path(folder))), seen)
    plain = of_hand_logs(words, seen)
    apart = of_stories([*corpus.stories(True), *corpus.stories(False, ("fresh-6",))], words, seen)
    weights = fitted(*arrays(loose + plain * PLAIN))
    print("WEIGHTS =", tuple(round(float(w), 3) for w in weights))
    for name, rows in (("loose", loose), ("plain", plain), ("apart, for measuring only", apart)):
        told(name, *arrays(rows), weights)


def kept_out(k):
    return [s for s in corpus.stories(False, ("dev-b", "dev-d", "dev-e")) if s[1] % 5 == k]


def of_stories(stories, words, seen):
    """[(traits, whether the draft is right in every figure)] of every drafted step."""
    out = []
    for *_, lines in stories:
        memory, last = Memory(), ()
        for sentence, expected in lines:
            reading, memory = read(sentence, memory, words)
            left = corpus.drafts_of(reading)
            for action, fields in corpus.acts_of(expected)[0]:
                hit = next((d for d in left if corpus.fits(d, action, fields, last)), None)
                if hit is not None:
                    left.remove(hit)
                    if hit[0] == "step":
                        out.append((hit[2], corpus.strictly(hit[2], fields)))
            out += [(d[2], False) for d in left if d[0] == "step"]
            last = tuple(s.action for s in reading.steps) or last
    return [(seen[key], right) for s, right in out if (key := (s.said.strip(), s.ref)) in seen]


def of_hand_logs(words, seen):
    out = []
    for captions, wanted in evaluation.hand_logs():
        left = list(evaluation.each_by_itself(wanted))
        for step in draft(read_cues(captions), words).steps:
            pieces = list(evaluation.one_by_one([step]))
            hits = [next((w for w in left if evaluation.matches(p, w)), None) for p in pieces]
            left = [w for w in left if w not in hits]
            key = (step.said.strip(), step.ref)
            if pieces and key in seen:
                out.append((seen[key], None not in hits))
    return out


def arrays(rows):
    return np.array([traits for traits, _ in rows]), np.array([float(right) for _, right in rows])


def fitted(x, y):
    """Logistic regression with a weak pull to nought, by Newton's steps."""
    w = np.zeros(x.shape[1])
    held = HELD * np.eye(len(w))
    held[0, 0] = 1e-3
    for _ in range(60):
        p = 1 / (1 + np.exp(-np.clip(x @ w, -30, 30)))
        w += np.linalg.solve((x * (p * (1 - p))[:, None]).T @ x + held, x.T @ (y - p) - held @ w)
    return w


def told(name, x, y, weights):
    p = 1 / (1 + np.exp(-x @ weights))
    print(f"{name}: {len(y)} drafts, {1 - y.mean():.0%} wrong")
    for line in LINES:
        sure = p >= line
        wrong, right = (1 - y)[~sure].sum() / (1 - y).sum(), y[~sure].sum() / y.sum()
        above = f"of those above {1 - y[sure].mean():.0%} wrong"
        print(f"  line {line}: {above}; below lie {wrong:.0%} of the wrong, {right:.0%} of the right")


if __name__ == "__main__":
    main()
