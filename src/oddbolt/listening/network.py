"""The network loaded and asked: text in, scores for spans and for the whole utterance out."""

from __future__ import annotations

import hashlib
import json
from functools import lru_cache
from importlib.resources import files
from importlib.resources.abc import Traversable
from typing import Any

import numpy as np
from attrs import evolve

from oddbolt.core.errors import OddBoltError
from oddbolt.core.narration.language.vocabulary import Vocabulary
from oddbolt.core.narration.understanding import (
    ACTS,
    BEFORE,
    LABELS,
    PHASES,
    WHOLE,
    Tagger,
    Understood,
    calibrated,
    traits,
    understood,
)
from oddbolt.listening import pieces

#: utterances whose answer is kept: the say line asks again at every key
KEPT = 512


class ListeningError(OddBoltError):
    """The files of the network are missing, damaged, or made for other labels."""


def weights() -> Traversable:
    """The folder of the network's files as shipped."""
    return files("oddbolt.listening") / "weights"


def load(folder: Traversable | None = None, raw: bool = False) -> Tagger:
    """The network as a function; takes about 0.1 s. ``raw`` leaves the sureness of acts as the network tells it. Raises
    ListeningError for missing, damaged or foreign files."""
    where = folder or weights()
    try:
        card = json.loads((where / "card.json").read_text(encoding="utf-8"))
        blob = b"".join((where / name).read_bytes() for name in card["files"])
        known = pieces.numbered((where / "pieces.txt").read_text(encoding="utf-8").split("\n"))
    except (OSError, ValueError, KeyError, TypeError) as error:
        raise ListeningError(f"The reader's network is not there: {error}.") from None
    if hashlib.sha256(blob).hexdigest() != card.get("sha256"):
        raise ListeningError("The reader's network is damaged: its sum does not match.")
    if (card.get("labels"), card.get("whole")) != (list(LABELS), list(WHOLE)):
        raise ListeningError("The reader's network was made for other labels.")
    try:
        first, last = known["[CLS]"], known["[SEP]"]
        context = {word: known[f"[unused{n}]"] for n, word in enumerate((*PHASES, *BEFORE), 1)}
    except KeyError:
        raise ListeningError("The reader's network was made for other labels.") from None
    sureness = () if raw else tuple(card.get("sureness", ()))
    if sureness and len(sureness) != len(traits(0.0, ACTS[0], {}, True)):
        raise ListeningError("The reader's network was made for other labels.")
    session = _session(blob)

    @lru_cache(maxsize=KEPT)
    def listen(text: str, phase: str, before: str) -> Understood:
        ids, places = pieces.cut(text, known)
        if not ids:
            return Understood(text)
        row = np.array(
            [[first, context[phase], context[before if before in BEFORE else ""], *ids, last]], dtype=np.int64
        )
        tags, whole, *more = session.run(None, {"ids": row})
        heard = understood(text, places, tags[0, 3:-1], whole[0])
        if more:
            likely = 1 / (1 + np.exp(-more[0][0, 3:-1].astype(float)))
            heard = evolve(heard, begins={place: float(p) for (place, _), p in zip(places, likely, strict=True)})
        return calibrated(heard, sureness) if sureness else heard

    return listen


def _session(blob: bytes) -> Any:
    import onnxruntime

    options = onnxruntime.SessionOptions()
    options.intra_op_num_threads = 1
    options.inter_op_num_threads = 1
    options.log_severity_level = 3
    try:
        return onnxruntime.InferenceSession(blob, options, providers=["CPUExecutionProvider"])
    except Exception as error:  # noqa: BLE001 - whatever the library cannot read is one answer for the user
        raise ListeningError(f"The reader's network cannot be run: {error}.") from None


@lru_cache(maxsize=1)
def shipped_tagger() -> Tagger | None:
    """The shipped network, loaded once; None if it cannot be had."""
    try:
        return load()
    except ListeningError:
        return None


def listening_vocabulary(vocabulary: Vocabulary, wait: bool = True) -> Vocabulary:
    """The vocabulary with the shipped network beside it, as it is if the network cannot be had; without ``wait``, if
    it is not loaded yet."""
    if not wait and not shipped_tagger.cache_info().currsize:
        return vocabulary
    tagger = shipped_tagger()
    return evolve(vocabulary, tagger=tagger) if tagger is not None else vocabulary
