"""Kinds of joints are data: every row is complete, and a new kind is one row and a recipe."""

import shutil
import subprocess
import sys
from pathlib import Path

import attrs
import pytest

import oddbolt
from oddbolt.core.narration import shipped
from oddbolt.core.reach.motions import joint_seconds
from oddbolt.core.reference.joint_kinds import joint_kinds, kind_undone_by
from oddbolt.core.reference.tables import table
from oddbolt.core.study import Joint

NEW_KIND = """
[[kind]]
id = "hook tape"
plural = "hook tapes"
figures = ["width_mm", "length_mm"]
unit = "cm"
usual_length_mm = 50.0
pried = true
risk = 1.0
actions = ["rip"]
back = "press"
"""
RECIPE = """
[recipes."hook tape"]
once = ["EF", "R30B"]
each = []
per_cm = ["APA", "D1E"]
"""
TRIED = """
from oddbolt.core.reach import reach_of_all, route_to
from oddbolt.core.study import Joint, Part, Step, Study, put_all
from oddbolt.desk.inspector.fields import fields_of
from oddbolt.files.report import report_html
from oddbolt.files.store import Store
from pathlib import Path

joint = Joint("J1", "hook tape", holds=("P1",), length_mm=80.0)
steps = [Step("S1", "rip", releases=("J1",)), Step("S2", "lift", takes_out=("P1",))]
study = put_all(Study(), [Part("P1", "Lid"), joint, *steps])
route = route_to(study, ("P1",))
assert route.proved and route.seconds > 5, route
assert reach_of_all(study)["P1"].steps.least == 1
assert "1 hook tape, Lid" in report_html(study)
assert {"width_mm", "length_mm"} <= {f.name for f in fields_of(joint)}
Store.create(Path("a.oddbolt"), study, []).close()
again = Store.open(Path("a.oddbolt"))[1]
assert again.joints["J1"] == joint
print("all of it works")
"""


@pytest.mark.parametrize("kind", joint_kinds().values(), ids=lambda kind: kind.id)
def test_every_row_is_complete(kind):
    recipe = table("motions")["recipes"][kind.id]
    assert recipe["once"]
    assert recipe.get("each") or recipe.get("per_cm")
    assert ("per_cm" in recipe) == (kind.unit == "cm") == (kind.usual_length_mm is not None)
    assert set(kind.figures) <= {a.name for a in attrs.fields(Joint)}
    assert kind.risk >= 0
    assert 0.5 < joint_seconds(Joint("J1", kind.id)) < 120
    assert joint_seconds(Joint("J1", kind.id, count=3)) >= joint_seconds(Joint("J1", kind.id))


def test_no_action_undoes_two_kinds_and_the_reader_knows_each_kind_by_some_word():
    actions = [a for kind in joint_kinds().values() for a in kind.actions]
    assert len(actions) == len(set(actions)) == len(kind_undone_by())
    assert set(table("vocabulary")["joints"]) == set(joint_kinds())
    assert shipped()


def test_a_new_kind_is_one_row_and_a_recipe(tmp_path):
    package = tmp_path / "src" / "oddbolt"
    shutil.copytree(Path(oddbolt.__file__).parent, package, ignore=shutil.ignore_patterns("__pycache__", "photos"))
    for name, more in (("joint_kinds", NEW_KIND), ("motions", RECIPE)):
        path = package / "core" / "reference" / f"{name}.toml"
        path.write_text(path.read_text() + more)
    done = subprocess.run(
        [sys.executable, "-c", f"import sys; sys.path.insert(0, {str(package.parent)!r})\n{TRIED}"],
        cwd=tmp_path,
        capture_output=True,
        text=True,
    )
    assert done.stdout == "all of it works\n", done.stderr
