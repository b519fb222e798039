"""The network of the reader and how it is trained: a small pretrained encoder with one head for spans (begin, inside,
outside, for every label at once, so that one word may carry two acts) and one for what the whole utterance holds."""

import math
import random
import time

import numpy as np
import torch
from spans import ACTS
from torch import nn

from oddbolt.core.narration.understanding import BEFORE, LABELS, PHASES, WHOLE
from oddbolt.listening import pieces


class Tagger(nn.Module):
    def __init__(self, encoder):
        super().__init__()
        self.encoder = quickened(encoder)
        wide = encoder.config.hidden_size
        self.drop = nn.Dropout(0.15)
        self.spans = nn.Linear(wide, 3 * len(LABELS))
        self.whole = nn.Linear(2 * wide, len(WHOLE))
        with torch.no_grad():
            self.spans.bias.view(len(LABELS), 3)[:, 1:] = -2.0
            self.whole.bias[:] = -2.0

    def forward(self, ids, mask):
        hidden = self.encoder(input_ids=ids, attention_mask=mask).last_hidden_state
        hidden = self.drop(hidden)
        spans = self.spans(hidden).view(*ids.shape, len(LABELS), 3)
        weight = mask.unsqueeze(-1).to(hidden.dtype)
        mean = (hidden * weight).sum(1) / weight.sum(1)
        top = hidden.masked_fill(weight == 0, -1e4).amax(1)
        return spans, self.whole(torch.cat([mean, top], -1))


class QuickDropout(nn.Module):
    """Dropout whose random numbers are drawn once and read from another place each time: a third of the time of torch's
    own on a processor without a graphics card."""

    def __init__(self, share, drawn=4_000_000):
        super().__init__()
        self.drawn = (torch.rand(drawn) >= share).float() / (1 - share)

    def forward(self, x):
        if not self.training:
            return x
        begin = int(torch.randint(0, len(self.drawn) - x.numel(), (1,)))
        return x * self.drawn[begin : begin + x.numel()].view(x.shape)


def quickened(encoder):
    """The encoder with quick dropout behind its layers; inside the attention torch's own stays."""
    quick = None
    for module in encoder.modules():
        if isinstance(getattr(module, "dropout", None), nn.Dropout) and type(module).__name__.endswith("Output"):
            quick = quick or QuickDropout(module.dropout.p)
            module.dropout = quick
    return encoder


class Encoded:
    """Utterances as numbers, cut by the program's own list of pieces; context words stand right after the first."""

    def __init__(self, known):
        self.known = known
        self.context = {word: known[f"[unused{n}]"] for n, word in enumerate(CONTEXTS, 1)}

    def ids(self, text, phase, before):
        ids, places = pieces.cut(text, self.known)
        head = [self.known["[CLS]"], self.context[phase], self.context[before if before in BEFORE else ""]]
        return [*head, *ids, self.known["[SEP]"]], [None] * 3 + list(places) + [None]

    def example(self, line):
        ids, offs = self.ids(line.text, line.phase, line.before)
        tags = np.zeros((len(ids), len(LABELS)), dtype=np.int64)
        tags[[o is None for o in offs]] = -100
        for label, start, end in line.spans:
            k, first = LABELS.index(label), True
            for i, o in enumerate(offs):
                if o is not None and o[0] < end and start < o[1]:
                    tags[i, k] = 1 if first else 2
                    first = False
        for label in line.unfound:
            if label in LABELS:
                tags[:, LABELS.index(label)] = -100
        told = {*line.acts, *line.remarks}
        whole = np.array(
            [float(w in told) if w in told or w in ACTS or w not in line.unfound else -1.0 for w in WHOLE],
            dtype=np.float32,
        )
        return ids, tags, whole


def batches(examples, size, rng):
    order = list(range(len(examples)))
    rng.shuffle(order)
    chunks = [
        sorted(order[i : i + size * 20], key=lambda j: len(examples[j][0])) for i in range(0, len(order), size * 20)
    ]
    out = [c[i : i + size] for c in chunks for i in range(0, len(c), size)]
    rng.shuffle(out)
    for group in out:
        yield padded([examples[j] for j in group])


def padded(group):
    longest = max(len(g[0]) for g in group)
    ids = torch.zeros((len(group), longest), dtype=torch.long)
    mask = torch.zeros((len(group), longest), dtype=torch.long)
    tags = torch.full((len(group), longest, len(LABELS)), -100)
    whole = torch.zeros((len(group), len(WHOLE)))
    for r, (i, t, w) in enumerate(group):
        ids[r, : len(i)] = torch.tensor(i)
        mask[r, : len(i)] = 1
        tags[r, : len(i)] = torch.from_numpy(t)
        whole[r] = torch.from_numpy(w)
    return ids, mask, tags, whole


#: the weights that are kept are a running mean of those passed through; this share of the mean stays at each batch
SMOOTHED = 0.993
#: pieces of words are not trained, so that words which no story holds keep their place beside those that one does
FROZEN_WORDS = True
#: this share of the pieces is hidden at each step, so that no act hangs on one word
WORD_DROPOUT = 0.1
#: pieces that tell what was before; they stand first in the list, behind the padding, then the unknown one and two more
CONTEXTS = (*PHASES, *BEFORE)
UNKNOWN_ID = len(CONTEXTS) + 1
LAST_SPECIAL = UNKNOWN_ID + 2


def train(model, make_epoch, epochs, size=32, rate=3.4e-4, head_rate=2.8e-3, seed=1, log=print):
    """``make_epoch(n)`` gives the examples of epoch n, so that each may be another mixture."""
    rng = random.Random(seed)
    torch.manual_seed(seed)
    first = make_epoch(0)
    total = sum(math.ceil(len(make_epoch(n) if n else first) / size) for n in range(1)) * epochs
    heads = [*model.spans.parameters(), *model.whole.parameters()]
    for piece in model.encoder.embeddings.word_embeddings.parameters():
        piece.requires_grad = not FROZEN_WORDS
    optimizer = torch.optim.AdamW(
        [
            {"params": [p for p in model.encoder.parameters() if p.requires_grad], "lr": rate},
            {"params": heads, "lr": head_rate},
        ],
        weight_decay=0.01,
        fused=True,
    )
    peaks = [g["lr"] for g in optimizer.param_groups]
    weight = torch.tensor([1.0, 1.3, 1.2])
    smooth = {k: v.detach().clone() for k, v in model.state_dict().items()}
    done, begin = 0, time.time()
    model.train()
    for epoch in range(epochs):
        sums = [0.0, 0]
        for ids, mask, tags, whole in batches(first if epoch == 0 else make_epoch(epoch), size, rng):
            pace = min(1.0, (done + 1) / (0.08 * total)) * max(0.02, 1 - done / total)
            for g, peak in zip(optimizer.param_groups, peaks, strict=True):
                g["lr"] = peak * pace
            hidden_words = (torch.rand(ids.shape) < WORD_DROPOUT) & (ids > LAST_SPECIAL)
            spans, told = model(ids.masked_fill(hidden_words, UNKNOWN_ID), mask)
            loss_spans = (
                nn.functional.cross_entropy(
                    spans.reshape(-1, 3), tags.reshape(-1), weight=weight, ignore_index=-100, reduction="sum"
                )
                / mask.sum()
            )
            loss_whole = nn.functional.binary_cross_entropy_with_logits(
                told, whole.clamp(min=0), weight=(whole >= 0).float(), reduction="sum"
            ) / len(ids)
            loss = loss_spans + 0.4 * loss_whole
            optimizer.zero_grad()
            loss.backward()
            nn.utils.clip_grad_norm_(model.parameters(), 1.0)
            optimizer.step()
            done += 1
            keep = min(SMOOTHED, done / (done + 10))
            with torch.no_grad():
                for k, v in model.state_dict().items():
                    if v.dtype.is_floating_point:
                        smooth[k].lerp_(v, 1 - keep)
            sums[0] += loss.item()
            sums[1] += 1
        log(f"epoch {epoch + 1}: loss {sums[0] / sums[1]:.3f}, {time.time() - begin:.0f} s")
    model.load_state_dict(smooth)
    model.eval()
