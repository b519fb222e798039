"""What is done to recorded steps at the desk: carried, split, joined, said again, found."""

from __future__ import annotations

from attrs import evolve

from oddbolt.core.errors import OddBoltError
from oddbolt.core.narration.doubts import unsure_steps
from oddbolt.core.study import put, remove
from oddbolt.core.study.formatting import plural
from oddbolt.core.study.steps import another_way, freeing_step, joined, moved, same_again, split, step_of
from oddbolt.desk.state.session import Session


class StepActions:
    """The actions of the menu Steps; they work on the steps chosen, else on the one of what is selected, else on the
    last one."""

    def __init__(self, session: Session) -> None:
        self.session = session

    @property
    def steps(self) -> tuple[str, ...]:
        """The steps worked on."""
        study = self.session.study
        chosen = tuple(id for id in self.session.chosen if id in study.steps)
        one = freeing_step(study, self.session.selection) or next(reversed(study.steps), "")
        return chosen or ((one,) if one else ())

    def carry(self, by: int) -> None:
        """Carry the steps by so many places. An order that cannot be worked is shown, not forbidden."""
        steps = self.steps
        if steps and self.session.attempt("move steps" if len(steps) > 1 else "move step", moved, steps, by):
            self.session.choose(steps)

    def split(self) -> None:
        """Make the last thing the step does a step of its own."""
        self._with_new("split the step", split)

    def another_way(self) -> None:
        """Add a step that does the same: another way to it."""
        self._with_new("add alternative", another_way)

    def same_again(self) -> None:
        """Add the same step on things of their own."""
        self._with_new("repeat last step", same_again)

    def _with_new(self, label: str, make: object) -> None:
        for step in self.steps[-1:]:
            try:
                study, new = make(self.session.study, step)  # type: ignore[operator]
            except OddBoltError as error:
                self.session.tell(str(error))
                return
            if self.session.edit(study, label):
                self.session.select(new)

    def join(self) -> None:
        """Make one step of those chosen, or of the step and the next."""
        order = list(self.session.study.steps)
        steps = sorted(self.steps, key=order.index)
        if len(steps) == 1 and steps[0] != order[-1]:
            steps.append(order[order.index(steps[0]) + 1])
        if len(steps) < 2:
            self.session.tell("There is no next step to merge with.")
            return
        study = self.session.study
        try:
            for other in steps[1:]:
                study = joined(study, steps[0], other)
        except OddBoltError as error:
            self.session.tell(str(error))
            return
        if self.session.edit(study, f"merge {plural(len(steps), 'step')}"):
            self.session.select(steps[0])

    def next_unsure(self) -> None:
        """Show the next step that the reader was not sure of."""
        study = self.session.study
        ids, order = unsure_steps(study), list(study.steps)
        if not ids:
            self.session.tell("Every reading is settled.")
            return
        here = step_of(study, self.session.selection)
        at = order.index(here) if here in study.steps else -1
        id = next((i for i in ids if order.index(i) > at), ids[0])
        self.session.select(id)
        doubt = study.steps[id].doubt
        self.session.tell(f"Step {order.index(id) + 1}: {doubt}. Ctrl+I says it was read right, F2 corrects it.")

    def settle(self) -> None:
        """Say that the chosen step was read right, and go on to the next unsure one."""
        study = self.session.study
        step = study.steps.get(step_of(study, self.session.selection))
        if step is None or not step.doubt:
            self.session.tell("This step is settled; Ctrl+U goes to the next unsure one.")
        elif self.session.edit(put(study, evolve(step, doubt="")), "reading is right"):
            self.next_unsure()

    def remove(self) -> None:
        """Take out all that is chosen together, as one edit."""
        study, chosen = self.session.study, self.session.chosen
        if len(chosen) < 2:
            if chosen:
                self.session.remove(chosen[0])
            return
        for id in chosen:
            study = remove(study, id)
        if self.session.edit(study, f"remove {plural(len(chosen), 'thing')}"):
            self.session.tell(f"Removed {plural(len(chosen), 'thing')} and all references to them. Ctrl+Z undoes this.")

    def go_to_freeing(self) -> bool:
        """Select the step that freed what is selected. False, and told, if there is none."""
        selected = self.session.selection
        step = freeing_step(self.session.study, selected)
        if step:
            self.session.select(step)
        elif selected:
            self.session.tell(f"No step frees {self.session.study.name(selected)} yet.")
        else:
            self.session.tell("Select a part, a joint, a photo or a finding first.")
        return bool(step)
