"""Why a step stands as it does: the words of its sentence, what each was taken for, and who read it so."""

from __future__ import annotations

from itertools import takewhile

from attrs import evolve

from oddbolt.core.narration.language.vocabulary import Vocabulary
from oddbolt.core.narration.reader import read
from oddbolt.core.narration.reading.reader import read_by_rules
from oddbolt.core.narration.recording import memory_of
from oddbolt.core.narration.understanding.labels import ACTS
from oddbolt.core.study import Study

#: what the labels of the network are called where a person reads them
CALLED = {
    "n": "count", "n2": "second count", "len": "length", "len2": "second length", "at": "place", "under": "lies under",
    "with": "with what", "face": "face", "renew": "to be renewed", "held": "what it holds", "out": "taken out",
    "roll": "pressed", "same": "the same again", "correct": "correction",
}  # fmt: skip
#: a span that is less sure than this is not told
TOLD = 0.3


def explained(study: Study, step_id: str, words: Vocabulary) -> str:
    """How the sentence of a step was read, in one sentence: its words and what each was taken for, how sure that was,
    and whether the rules read the same. A step that was not said has nothing to explain."""
    step = study.steps[step_id]
    if not step.said:
        return "This step was not said; it was entered by hand."
    before = dict(takewhile(lambda row: row[1].said != step.said, study.steps.items()))
    memory = memory_of(evolve(study, steps=before))
    by_rules, _ = read_by_rules(step.said, memory, words)
    rules = list(dict.fromkeys(s.action for s in by_rules.steps))
    if words.tagger is None:
        read_so = ", ".join(rules) or "nothing"
        return f"Read by the rules alone: {read_so}."
    reading, _ = read(step.said, memory, words)
    heard = words.tagger(step.said, "back" if memory.phase == "back" else "apart", memory.before)
    pieces = [
        f"{CALLED.get(span.label, span.label)} “{span.words(step.said)}”"
        for span in heard.spans
        if span.sure >= TOLD and span.words(step.said).strip()
    ]
    acts = [s.label for s in heard.spans if s.label in ACTS]
    sure = [f"{s.sure:.0%}" for s in reading.steps if s.said == step.said][:1]
    told = [f"Read as: {', '.join(pieces) or 'no words of an act'}"]
    told += [f"sure to {sure[0]}"] if sure else []
    same = set(rules) == {s.action for s in reading.steps}
    told.append("the rules read the same" if same else f"the rules read {', '.join(rules) or 'nothing'}")
    told += ["nothing of it was heard as done"] if not acts and not rules else []
    return "; ".join(told) + "."
