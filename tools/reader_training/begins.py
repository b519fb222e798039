"""Where a sentence begins in talk without stops: a small recurrent network on two layers of the trained encoder.

It is trained after the encoder, on what those layers of the network as it ships say of stories run together without
stops, and becomes a third output of it. The stories and lists of the manners that are typed in shorthand, or have no
stops themselves, are not learned from.
"""

import random
import re
import time

import numpy as np
import onnx
import torch
from torch import nn

from oddbolt.listening import pieces

MANNERS = ("chatty", "manual", "nonnative", "dictated")
#: the layers of the encoder that are listened to, counted from nought
LAYERS = (1, 3)
#: words of one piece of talk, width of the recurrent network, passes, utterances at once
WORDS, WIDE, PASSES, TOGETHER = 60, 80, 10, 32
#: this share of the stories keeps its capitals, this share its commas
CAPITALS, COMMAS = 0.2, 0.1
#: what a talker puts before this share of the sentences
LED_IN, LEADS = 0.35, (
    "so", "and", "and then", "then", "now", "okay so", "so now", "next", "and now", "alright so", "okay", "um", "uh so",
    "so then", "and so", "after that", "next up", "so next", "well", "all right", "right so", "and um", "but",
)  # fmt: skip
OUTPUT = "begins"


class Begins(nn.Module):
    """How likely a sentence begins at each piece, as a score: 0 is as likely as not."""

    def __init__(self, width):
        super().__init__()
        self.narrow = nn.Linear(width, WIDE)
        self.there_and_back = nn.GRU(WIDE, WIDE, bidirectional=True)
        self.told = nn.Linear(2 * WIDE, 1)
        self.drop = nn.Dropout(0.3)

    def forward(self, layers):
        """``layers`` is utterances × pieces × width."""
        x = self.drop(torch.tanh(self.narrow(self.drop(layers))))
        return self.told(self.drop(self.there_and_back(x.transpose(0, 1))[0])).squeeze(-1).transpose(0, 1)


def run_together(stories, rng):
    """[(text, places where a sentence begins)] of stories without stops, in pieces of so many words."""
    for _, manner, lines in stories:
        if manner not in MANNERS:
            continue
        small, commas = rng.random() >= CAPITALS, rng.random() < COMMAS
        words = []
        for line in lines:
            for sentence in re.split(r"(?<=[.!?;])(?<!\b[A-Za-z]\.)\s+", line.text):
                said = without_stops(sentence, commas)
                if said and rng.random() < LED_IN:
                    said = [*rng.choice(LEADS).split(), said[0][0].lower() + said[0][1:], *said[1:]]
                words += [(w, n == 0) for n, w in enumerate(said)]
        for first in range(0, max(1, len(words) - 5), WORDS // 2):
            text, places = "", set()
            for word, begins in words[first : first + WORDS]:
                text += " " if text else ""
                if begins:
                    places.add(len(text))
                text += word.lower() if small else word
            yield text, places


def without_stops(sentence, commas=False):
    """The words of a sentence as a recogniser without punctuation writes them."""
    bare = re.sub(r"(?<!\d)[.](?!\d)|[!?;:…]|[.](?=\s|$)|\s[-–—]+\s|[—–()\"“”]", " ", sentence)
    return [w for w in (bare if commas else re.sub(r",(?!\d)", " ", bare)).split() if re.search(r"\w", w)]


def fitted(blob, known, context, stories):
    """The network with the beginnings of sentences as a further output, learned from stories (number, manner, lines);
    ``context`` are the numbers that stand before the pieces."""
    graph = _without(onnx.load_from_string(blob))
    session, rng = _listening(graph), random.Random(1)
    heard = [_told(session, known, context, told) for _ in range(2) for told in run_together(stories, rng)]
    torch.manual_seed(1)
    head = Begins(heard[0][0].shape[1])
    optimizer = torch.optim.AdamW(head.parameters(), lr=2e-3, weight_decay=0.01)
    began = time.time()
    for n in range(PASSES):
        order, loss_sum = rng.sample(range(len(heard)), len(heard)), 0.0
        for group in optimizer.param_groups:
            group["lr"] = 2e-3 * (1 - n / PASSES)
        for i in range(0, len(order), TOGETHER):
            layers, wanted = _padded([heard[k] for k in order[i : i + TOGETHER]])
            told = wanted >= 0
            loss = nn.functional.binary_cross_entropy_with_logits(head(layers)[told], wanted[told])
            optimizer.zero_grad()
            loss.backward()
            optimizer.step()
            loss_sum += loss.item() * TOGETHER / len(order)
        print(f"beginnings of sentences, pass {n + 1}: loss {loss_sum:.3f}, {time.time() - began:.0f} s", flush=True)
    return _joined(graph, head.eval())


def _layers(graph):
    """The names of the outputs of the encoder's layers."""
    norms = [n.output[0] for n in graph.graph.node if n.op_type == "LayerNormalization"]
    return [norms[2 * k + 2] for k in LAYERS]  # the first is of the embeddings, then two for each layer


def _without(graph):
    """A network without the output that this file makes."""
    own = [n for n in graph.graph.node if n.name.startswith(OUTPUT)]
    for node in own:
        graph.graph.node.remove(node)
    for values in (graph.graph.output, graph.graph.initializer):
        for value in [v for v in values if v.name.startswith(OUTPUT)]:
            values.remove(value)
    return graph


def _listening(graph):
    """The network with the layers that are listened to as its last outputs."""
    import onnxruntime

    listening = onnx.ModelProto()
    listening.CopyFrom(graph)
    for name in _layers(graph):
        listening.graph.output.append(onnx.helper.make_tensor_value_info(name, onnx.TensorProto.FLOAT, None))
    return onnxruntime.InferenceSession(listening.SerializeToString())


def _told(session, known, context, told):
    """(what the layers say of each piece, 1 where a sentence begins, -1 inside a word or before the first)."""
    text, begins = told
    ids, places = pieces.cut(text, known)
    row = np.array([[*context, *ids, known["[SEP]"]]], dtype=np.int64)
    layers = np.concatenate([x[0, len(context) : -1] for x in session.run(None, {"ids": row})[-len(LAYERS) :]], -1)
    inside = [n > 0 and places[n - 1][1] == start for n, (start, _) in enumerate(places)]
    wanted = [-1.0 if within or not n else float(places[n][0] in begins) for n, within in enumerate(inside)]
    return layers.astype(np.float16), np.array(wanted, dtype=np.float32)


def _padded(group):
    longest = max(len(w) for _, w in group)
    layers = torch.zeros((len(group), longest, group[0][0].shape[1]))
    wanted = torch.full((len(group), longest), -1.0)
    for r, (said, told) in enumerate(group):
        layers[r, : len(told)] = torch.from_numpy(said.astype(np.float32))
        wanted[r, : len(told)] = torch.from_numpy(told)
    return layers, wanted


def _joined(graph, head):
    """The network with this head, its weights of 8 bits each."""
    add, node = graph.graph.initializer, graph.graph.node

    def eight_bits(name, values):
        """A table of weights, of 8 bits with a scale for each row; the name of what they stand for."""
        values = np.ascontiguousarray(values.detach().numpy().astype(np.float32))
        scale = np.abs(values).max(-1, keepdims=True) / 127
        for kind, kept in (("bits", np.rint(values / scale).astype(np.int8)), ("scale", scale)):
            add.append(onnx.numpy_helper.from_array(kept, f"{OUTPUT}.{name}.{kind}"))
        op("Cast", [f"{OUTPUT}.{name}.bits"], f"{name}.wide", to=onnx.TensorProto.FLOAT)
        return op("Mul", [f"{OUTPUT}.{name}.wide", f"{OUTPUT}.{name}.scale"], name)

    def exactly(name, values):
        values = np.asarray(values.detach().numpy() if torch.is_tensor(values) else values)
        add.append(onnx.numpy_helper.from_array(np.ascontiguousarray(values), f"{OUTPUT}.{name}"))
        return f"{OUTPUT}.{name}"

    def op(kind, inputs, name, **how):
        out = f"{OUTPUT}.{name}" if name else OUTPUT
        node.append(onnx.helper.make_node(kind, inputs, [out], name=f"{OUTPUT}_{name or 'told'}", **how))
        return out

    def in_order(weights):
        """Gates in the order of ONNX: update, reset, new; torch has reset, update, new."""
        reset, update, new = weights.chunk(3)
        return torch.cat([update, reset, new])

    gru = head.there_and_back
    ways = [
        [in_order(getattr(gru, f"{kind}_l0{way}")) for way in ("", "_reverse")] for kind in ("weight_ih", "weight_hh")
    ]
    bias = torch.stack(
        [torch.cat([in_order(getattr(gru, f"bias_{k}_l0{way}")) for k in ("ih", "hh")]) for way in ("", "_reverse")]
    )
    said = op("Concat", _layers(graph), "layers", axis=-1)
    narrow = op("MatMul", [said, eight_bits("narrow", head.narrow.weight.T)], "narrowed")
    narrow = op("Tanh", [op("Add", [narrow, exactly("narrow_bias", head.narrow.bias)], "shifted")], "bent")
    turned = op("Transpose", [narrow], "turned", perm=[1, 0, 2])
    out = op(
        "GRU",
        [
            turned,
            *(eight_bits(f"gates{n}", torch.stack(way)) for n, way in enumerate(ways)),
            exactly("gates_bias", bias),
        ],
        "there_and_back",
        direction="bidirectional",
        hidden_size=WIDE,
        linear_before_reset=1,
    )
    both = op("Transpose", [out], "both", perm=[2, 0, 1, 3])  # utterances, pieces, ways, width
    flat = op("Reshape", [both, exactly("shape", np.array([0, 0, 2 * WIDE]))], "flat")
    score = op(
        "Add",
        [op("MatMul", [flat, exactly("told", head.told.weight.T)], "scored"), exactly("told_bias", head.told.bias)],
        "score",
    )
    op("Squeeze", [score, exactly("last", np.array([-1]))], "")
    graph.graph.output.append(onnx.helper.make_tensor_value_info(OUTPUT, onnx.TensorProto.FLOAT, ["one", "pieces"]))
    onnx.checker.check_model(graph)
    return graph.SerializeToString()
