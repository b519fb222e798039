"""The reading of one sentence while it is being made: what was found so far, and how drafts are made and changed."""

from __future__ import annotations

import re
from typing import Any

from oddbolt.core.narration.draft import DraftNote, DraftStep, Mentioned, Piece, evolve
from oddbolt.core.narration.language.clauses import Clause
from oddbolt.core.narration.language.nouns import Noun
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import Item, put_right
from oddbolt.core.narration.language.vocabulary import Vocabulary
from oddbolt.core.narration.memory import Memory
from oddbolt.core.reference.joint_kinds import ids_where, joint_kinds

PLUGS = ids_where("plug")
FASTENERS = frozenset(joint_kinds()) - PLUGS
#: A plug's own word is not part of the name of what it belongs to; a lead's or ribbon's is.
PLUG_WORDS = frozenset("connector connectors plug plugs tab tabs".split())
FLIPS = lazy_pattern(
    r"\b(?:flip|lift|open|raise|swing|hinge|release)(?:ed|ing|s|ped|ping)?\s+(?:(?:up|open)\s+)?(?:the|its|that|this|a)?\s*"
    r"(?:\w+\s+){0,2}(?:bar|lid|latch(?:e(?=s))?|flap|lock|lever)s?\b"
)
LATCH_WORDS = frozenset("lid latch flap bar tab lock lids latches flaps bars locks".split())


class SentenceState:
    """One sentence on its way to drafts; the modules beside this one each read one sort of clause into it."""

    def __init__(self, text: str, memory: Memory, vocabulary: Vocabulary, at_s: float | None) -> None:
        self.text, self.memory, self.vocabulary, self.at_s = text, memory, vocabulary, at_s
        self.low = re.sub(r"\s+", " ", put_right(text).lower().replace("-", " ").replace("’", "'"))
        self.made: list[DraftStep] = []
        self.amended: dict[str, DraftStep] = {}
        self.cautions: list[DraftNote] = []
        self.findings: list[DraftNote] = []
        self.renew: list[str] = []
        self.routes: list[Mentioned] = []
        self.unknown: list[Piece] = []
        self.tool: tuple[str, tuple[int, int]] = ("", (0, 0))
        self.held_by = ""
        self.driver: tuple[str, str] = ("", "")
        self.topic = memory.parts[-1] if memory.parts else ""
        self.sentence_parts: list[str] = []
        self.spread: list[int] = []
        self.lead_place = ""
        self.seen_under: tuple[str, ...] = ()
        self.seen_each: Noun | None = None
        self.verbless_lead = ""
        self.purpose_parts: tuple[str, ...] = ()
        self.phase = ""
        self.pending = memory.pending
        self.pending_dwell: Item | None = None
        self.carried: Clause | None = None
        self.variant = ""
        self.shorthand = False
        self.colon = 0
        self.it = ""
        self.subjects: list[Noun] = []
        self.lead: Noun | None = None
        self.opened = False
        self.listed: list[Noun] = []

    def emit(self, clause: Clause, action: str, nouns: list[Noun] | None = None, **fields: Any) -> None:
        if action == "soften" and self.pending_dwell is not None and fields.get("dwell_s") is None:
            fields["dwell_s"] = self.pending_dwell.number
        step = DraftStep(
            action, at_s=self.at_s, said=self.text.strip(), **{k: v for k, v in fields.items() if v not in (None, "")}
        )
        if not step.phase and self.memory.phase == "back":
            step = evolve(step, phase="put back")
        if self.variant and action != "prepare":
            step = evolve(step, variant=self.variant)
        self.append(evolve(step, pieces=tuple(self.pieces(clause, nouns or [], fields, action))))

    def last_step(self) -> DraftStep | None:
        """The step drafted last, of this sentence or the one before."""
        return next(iter([*self.made[::-1], *self.memory.steps[:-2:-1]]), None)

    def append(self, step: DraftStep) -> None:
        self.memory.counter += 1
        self.made.append(evolve(step, ref=f"d{self.memory.counter}", said=step.said or self.text.strip()))

    def update(self, step: DraftStep, **changes: Any) -> None:
        after = evolve(step, **{k: v for k, v in changes.items() if v is not None})
        for i, made in enumerate(self.made):
            if made.ref == step.ref:
                self.made[i] = after
                return
        before = self.amended.get(step.ref, step)
        self.amended[step.ref] = evolve(before, **{k: v for k, v in changes.items() if v is not None})

    def pieces(self, clause: Clause, nouns: list[Noun], fields: dict[str, Any], action: str = "") -> list[Piece]:
        out: list[Piece] = []
        if action:
            out.append(
                Piece("action", action, *clause.verb_span) if clause.action else Piece("action", action, 0, 0, 0.7)
            )
        for noun in nouns:
            if noun.count_span and (noun.kind or noun.size or noun.drive):
                out.append(Piece("count", fields.get("count", noun.count), *noun.count_span))
            if noun.drive_span:
                out.append(Piece("drive", " ".join(filter(None, (noun.drive, noun.size))), *noun.drive_span))
            if noun.words and not noun.kind:
                out.append(Piece("parts", self.part_name(noun), noun.start, noun.end))
            elif noun.kind:
                out.append(
                    Piece(
                        "joint",
                        noun.kind,
                        noun.end - len(noun.words[-1]) if noun.count_span and noun.words else noun.start,
                        noun.end,
                    )
                )
        for relation, noun in clause.placed:
            field = (
                "under"
                if relation == "under"
                else "tool"
                if noun.is_tool
                else "place"
                if fields.get("place") == noun.name.lower()
                else "parts"
            )
            if (
                (noun.name and field != "parts")
                or noun.name in fields.get("parts", ())
                or self.part_name(noun) in fields.get("parts", ())
            ):
                out.append(Piece(field, self.part_name(noun), noun.start, noun.end))
        if fields.get("dwell_s") is not None:
            times = [item for item in clause.quantities if item.unit == "time"]
            out += [Piece("dwell_s", item.number, item.start, item.end) for item in times]
        return out

    def part_name(self, noun: Noun) -> str:
        if noun.pronoun:
            if self.seen_under and noun.pronoun in ("those", "them", "these") and not self.made:
                return self.seen_under[-1]
            topic = self.it if noun.pronoun == "it" and self.it else self.topic
            return topic if not noun.words else noun.name
        if not noun.words:
            return ""
        name = noun.name
        if noun.definite and len(noun.words) == 1 and not noun.kind:
            return self.memory.full_name(self.in_sentence(name))
        return name

    def in_sentence(self, name: str) -> str:
        return next((p for p in reversed(self.sentence_parts) if p.lower().endswith(" " + name.lower())), name)

    def modifier_part(self, noun: Noun) -> str:
        known = [w for w in noun.words[:-1] if w.lower() not in {u for u, _, _ in noun.unknown}]
        name = " ".join(known)
        return name if name and self.head_is_part(name) else ""

    def head_is_part(self, name: str) -> bool:
        head = name.lower().split()[-1]
        return (
            any(cls == "part" for _, cls, _ in self.vocabulary.phrases.get(head, ()))
            or self.memory.full_name(name) != name
        )

    def where(self, clause: Clause, parts_too: bool) -> dict[str, Any]:
        """Place, parts held, what lies over, and the tool, from the placed nouns of a clause."""
        out: dict[str, Any] = {}
        parts: list[str] = []
        for relation, noun in clause.placed:
            if self.no_part(noun):
                continue
            name = self.part_name(noun)
            if relation == "under" and name and not noun.is_place:
                out.setdefault("under", ())
                out["under"] = (*out["under"], noun.name or name)
            elif relation == "over" and name and clause.action in ("take out", "peel", "pry", "fold"):
                out["over"] = (*out.get("over", ()), name)
            elif relation in ("holds", "held") and name and parts_too and not noun.is_place:
                parts.append(name)
            elif relation in ("for", "of", "on", "from", "in", "off", "to", "into", "through") and parts_too and name:
                if noun.is_place and not self.really_part(noun):
                    out.setdefault("place", noun.name.lower())
                elif noun.is_part or relation in ("for", "of", "from", "on"):
                    if relation in ("for", "of", "on", "from", "off") and not noun.is_tool:
                        parts.append(name)
                    else:
                        out.setdefault("place", noun.name.lower())
            elif (
                relation
                in (
                    "at",
                    "along",
                    "near",
                    "around",
                    "by",
                    "in",
                    "on",
                    "round",
                    "next",
                    "across",
                    "inside",
                    "between",
                    "through",
                    "above",
                    "beside",
                )
                and name
                and not noun.is_tool
            ):
                out.setdefault("place", noun.name.lower())
        if parts and parts_too:
            out["parts"] = tuple(dict.fromkeys(parts))
        if self.tool[0]:
            out["tool"] = self.tool[0]
        return out

    def really_part(self, noun: Noun) -> bool:
        head = noun.name.lower().split()[-1]
        classes = {cls for _, cls, _ in self.vocabulary.phrases.get(head, ())}
        return "part" in classes and "place" not in classes

    def sides(self, clause: Clause) -> int:
        return next((n for phrase, n in self.vocabulary.sides.items() if phrase in clause.text), 1)

    def latch(self) -> str:
        """How the connector spoken of locks, "" if nobody said."""
        if not re.search(r"\b(connector|flex|ribbon|cable|plug|zif|socket)s?\b", self.low):
            return ""
        for latch in ("flip-lock", "slide-in"):
            if self.vocabulary.marked(f"latch-{latch}", self.low):
                return latch
        return "flip-lock" if FLIPS.search(self.low) else ""

    def no_part(self, noun: Noun) -> bool:
        if noun.pronoun or noun.kind or noun.size or noun.drive or noun.thread:
            return False
        words = noun.name.lower().split()
        return not words or words[-1] in self.vocabulary.not_parts or words[0] in ("closer", "quick")

    def device_words(self) -> set[str]:
        return {
            "device",
            "unit",
            "machine",
            "appliance",
            "instrument",
            "mains",
            "power cord",
            "mains lead",
            "power lead",
            "power cable",
            "mains cable",
            "charger",
            "power supply",
            self.memory.device.lower(),
        } - {""}

    def wholly_device(self, name: str) -> bool:
        return name.lower() in self.device_words()

    def last_group(self) -> DraftStep | None:
        pool = [*self.memory.steps[-3:], *self.made]
        return next(
            (s for s in reversed(pool) if s.joint in FASTENERS and s.action in ("unscrew", "unclip", "peel")), None
        )

    def is_latest(self, step: DraftStep) -> bool:
        return bool(self.memory.steps) and self.memory.steps[-1].ref == step.ref

    def plug_owner(self, noun: Noun) -> str:
        if noun.pronoun:
            return self.memory.full_name(self.topic) if self.topic else ""
        words = list(noun.words)
        if noun.kind in PLUGS:
            tail = noun.joint_tail.split()
            lows = [w.lower() for w in " ".join(words).replace("-", " ").split()]
            whole = " ".join(words).replace("-", " ").split()
            if len(lows) == len(tail) and noun.kind != "coax" and tail[-1] not in PLUG_WORDS:
                return self.memory.full_name(self.in_sentence(" ".join(whole))) if noun.definite else " ".join(whole)
            if noun.kind == "coax" or tail[-1] in PLUG_WORDS or len(lows) == len(tail):
                whole = (
                    whole[: len(lows) - len(tail)] if not (tail[-1] in PLUG_WORDS and len(tail) == 1) else whole[:-1]
                )
            return " ".join(whole)
        return self.part_name(noun)

    def before_verb(self, clause: Clause) -> str:
        stop = clause.verb_span[0] if clause.action else clause.end
        return re.sub(r"\s+", " ", self.text[clause.start : stop].lower().replace("-", " ").replace("’", "'"))
