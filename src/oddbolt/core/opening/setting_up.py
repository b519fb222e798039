"""Edits that set up an edge plan or a warm-up: each takes a study and returns a new one, and the id of what it made."""

from __future__ import annotations

from attrs import evolve

from oddbolt.core.errors import BenchError
from oddbolt.core.opening.edge import outline_for, usual_entry, usual_stretches
from oddbolt.core.reference.tables import table
from oddbolt.core.study import EdgePlan, Keepout, Layer, Study, Warmup, change, new_id, put, put_all, remove

#: layers of an ordinary glued back over a cell (common practice, no source): material, mm, role
ORDINARY = (
    ("soda-lime glass", 1.0, "cover"),
    ("acrylic tape", 0.3, "glue"),
    ("air", 0.5, "gap"),
    ("lithium pouch cell", 5.0, "guarded"),
)


def begin_plan(study: Study) -> tuple[Study, str]:
    """A new edge plan; with the usual stretches, if the device has an outline."""
    plan = EdgePlan(new_id(study, "O"), f"Cover {len(study.edge_plans) + 1}")
    after = put(study, plan)
    return (lay_usual(after, plan.id) if study.device.outline else after), plan.id


def lay_usual(study: Study, plan_id: str) -> Study:
    """The usual stretches along a plan's edge, in place of those there. Raises BenchError without an outline."""
    plan = _plan(study, plan_id)
    outline = outline_for(study, plan)
    first = int(new_id(study, "E")[1:])
    for old in [s.id for s in study.stretches.values() if s.plan == plan_id]:
        study = remove(study, old)
    return put_all(study, usual_stretches(plan, outline, first))


def split(study: Study, stretch_id: str) -> Study:
    """A stretch parted in its middle; its clips are shared out. Raises BenchError if it is none."""
    stretch = study.stretches.get(stretch_id)
    if stretch is None:
        raise BenchError("Select an edge segment first.")
    length = outline_for(study, study.edge_plans[stretch.plan]).length_mm
    middle = round((stretch.from_mm + ((stretch.to_mm - stretch.from_mm) % length) / 2) % length, 1)
    count = None if stretch.count is None else max(1, stretch.count // 2)
    rest = None if stretch.count is None else max(1, stretch.count - (count or 0))
    second = evolve(stretch, id=new_id(study, "E"), name=f"{stretch.name}, end", from_mm=middle, count=rest)
    return put(put(study, evolve(stretch, to_mm=middle, count=count)), second)


def add_keepout(study: Study, plan_id: str) -> tuple[Study, str]:
    """A keep-out in the middle of a plan. Raises BenchError without an outline."""
    x, y = outline_for(study, _plan(study, plan_id)).middle
    id = new_id(study, "Z")
    return put(study, Keepout(id, plan_id, "sensor", round(x, 1), round(y, 1), 6.0, 4.0)), id


def begin_warmup(study: Study) -> tuple[Study, str]:
    """A new warm-up with ordinary layers."""
    warmup = Warmup(new_id(study, "W"), f"Warm-up {len(study.warmups) + 1}")
    first = int(new_id(study, "L")[1:])
    layers = [Layer(f"L{first + n}", warmup.id, m, mm, role) for n, (m, mm, role) in enumerate(ORDINARY)]
    return put_all(study, [warmup, *layers]), warmup.id


def with_heater(study: Study, warmup_id: str, heater: str) -> Study:
    """A warm-up with another heater; a contact that is still the usual one of the old becomes that of the new."""
    rows = table("materials")["heating"]
    usual = {"plate": float(rows["plate_coupling_w_m2k"]), "air": float(rows["dryer_coupling_w_m2k"])}
    warmup = study.warmups[warmup_id]
    fields: dict[str, object] = {"heater": heater}
    if heater in usual and warmup.coupling_w_m2k in usual.values():
        fields["coupling_w_m2k"] = usual[heater]
    return change(study, warmup_id, **fields)


def usual_pick(study: Study, stretch_id: str) -> Study:
    """A stretch with the usual angle and depth for its length (common practice, no source)."""
    stretch = study.stretches[stretch_id]
    plan = study.edge_plans[stretch.plan]
    around = outline_for(study, plan).length_mm
    lengths = {s.id: (s.to_mm - s.from_mm) % around for s in study.stretches.values() if s.plan == plan.id}
    angle, depth = usual_entry(lengths[stretch_id], max(lengths.values()))
    return change(study, stretch_id, angle_deg=angle, depth_mm=depth)


def add_layer(study: Study, warmup_id: str) -> tuple[Study, str]:
    """A layer at the inner end of a warm-up's stack. Raises BenchError without a warm-up."""
    if warmup_id not in study.warmups:
        raise BenchError("No warm-up yet; start one first.")
    id = new_id(study, "L")
    return put(study, Layer(id, warmup_id, "air", 0.5)), id


def _plan(study: Study, plan_id: str) -> EdgePlan:
    if plan_id not in study.edge_plans:
        raise BenchError("No edge plan yet; start one first.")
    return study.edge_plans[plan_id]
