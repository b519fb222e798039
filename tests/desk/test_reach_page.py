"""Strata closer and folded, found by typing, drawn to a file; wishes, all parts, contradictions; by mouse and keys."""

import json
import random
from xml.etree import ElementTree

import pytest
from builders import chain_study, study_of
from PIL import Image
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QImage, QWheelEvent

from oddbolt.__main__ import main
from oddbolt.core.reach import reach_of_all, route_to
from oddbolt.core.study import Fact, Part, Step, change, put
from oddbolt.demo import tide_logger
from oddbolt.desk.painters.strata import Strata
from oddbolt.desk.state import figures
from oddbolt.desk.widgets import theme

KEY = Qt.Key
BATTERY = "P29"


@pytest.fixture
def strata(qtbot):
    theme.load_fonts()
    study = tide_logger.study()
    made = Strata()
    made.resize(840, 420)
    qtbot.addWidget(made)
    made.show_ground(study, reach_of_all(study), False, [BATTERY], route_to(study, [BATTERY]))
    return made


@pytest.fixture
def page(qtbot, window):
    window.show_stage(window.reach)
    window.reach.choose((BATTERY,))
    return window.reach


def named(strata):
    return set(strata.ground.boxes)


def test_closer_every_part_gets_its_name_and_the_chosen_one_stays_in_sight(qtbot, strata):
    before = named(strata)
    while strata.ground.grains and strata.zoom < 20:
        qtbot.keyClicks(strata, "+")
        assert strata.rect().toRectF().contains(strata.box_of(BATTERY))
    assert before < named(strata) == {b.part for b in strata.ground.bands}
    qtbot.keyClicks(strata, "0")
    assert strata.zoom == 1
    assert named(strata) == before
    at = strata.box_of("P42").center()
    control, none = Qt.KeyboardModifier.ControlModifier, Qt.MouseButton.NoButton
    turned = QWheelEvent(at, at, QPoint(), QPoint(0, 480), none, control, Qt.ScrollPhase.NoScrollPhase, False)
    strata.wheelEvent(turned)
    assert strata.zoom > 2


def test_what_is_closer_can_be_drawn_about_with_the_mouse_but_not_out_of_the_ground(qtbot, strata):
    strata.closer(6)
    here = strata.box_of(BATTERY).topLeft()
    qtbot.mousePress(strata, Qt.MouseButton.LeftButton, pos=QPoint(400, 300))
    for n in range(1, 6):
        qtbot.mouseMove(strata, QPoint(400 - 20 * n, 300))
    with qtbot.assertNotEmitted(strata.picked):
        qtbot.mouseRelease(strata, Qt.MouseButton.LeftButton, pos=QPoint(300, 300))
    assert strata.box_of(BATTERY).left() == pytest.approx(here.x() - 100, abs=2)
    strata._pan(QPointF(1e6, 1e6))
    assert strata.box_of(strata.ground.bands[0].part).right() < strata.width()
    strata._pan(QPointF(-1e6, -1e6))
    assert strata.offset == QPointF(0, 0)


def test_a_module_folds_to_a_body_and_opens_again(qtbot, strata):
    before = named(strata)
    inside = {p for p in before if "P38" in strata.study.carriers(p)}
    foot = next(foot for foot, module in strata._feet() if module == "P38")
    qtbot.mouseClick(strata, Qt.MouseButton.LeftButton, pos=foot.center().toPoint())
    assert strata.folded == {"P38"}
    assert not inside & named(strata)
    body = strata.ground.bodies["P38"]
    assert body.height() > 100
    assert "P42" in strata.ground.grains  # of priority, so its place is seen
    qtbot.keyClick(strata, KEY.Key_Space)  # that of the battery
    assert strata.folded == {"P38", "P15"}
    assert strata.ground.where(BATTERY) is not None
    strata.grab()
    qtbot.keyClick(strata, KEY.Key_Space)
    qtbot.mouseClick(strata, Qt.MouseButton.LeftButton, pos=body.center().toPoint())
    assert strata.folded <= {"P38"}
    strata.folded.clear()
    strata._place()
    assert named(strata) == before


def test_typing_finds_parts_and_enter_goes_from_one_to_the_next(qtbot, strata):
    told = []
    strata.picked.connect(told.append)
    qtbot.keyClicks(strata, "board")
    names = [strata.study.name(p) for p in strata.found]
    assert len(names) >= 4
    assert all("board" in n.casefold() for n in names)
    for _ in range(len(names) + 1):
        qtbot.keyClick(strata, KEY.Key_Return)
        strata.chosen = [told[-1]]
    assert told == [*strata.found, strata.found[0]]
    qtbot.keyClick(strata, KEY.Key_Backspace)
    assert strata.sought == "boar"
    qtbot.keyClicks(strata, "zz")
    assert not strata.found
    qtbot.keyClick(strata, KEY.Key_Escape)
    assert not strata.sought


def test_two_thousand_parts_have_each_a_place_and_the_deepest_is_found(qtbot, strata):
    study = chain_study(2000, fork=14)
    reach = reach_of_all(study)
    strata.show_ground(study, reach, False, ["P1231"], None)
    placed = [*strata.ground.boxes, *strata.ground.grains, *(p for _, parts in strata.ground.more for p in parts)]
    assert sorted(placed) == sorted(study.parts)
    strata.closer(60)
    assert strata.rect().toRectF().intersects(strata.box_of("P1231"))
    qtbot.keyClicks(strata, "plate 1999")
    assert strata.found == ["P1999"]
    assert strata.rect().toRectF().intersects(strata.box_of("P1999"))


def test_a_range_that_goes_far_below_does_not_press_the_rest_flat(qtbot, strata):
    study = tide_logger.study()
    for n, part in enumerate(study.parts):
        if part not in ("P29", "P17"):
            study = put(study, Fact(f"F{900 + n}", part, "P17", "assumed"))
    strata.show_ground(study, reach_of_all(study), False, [], None)
    sure = max(r.steps.least for r in reach_of_all(study).values() if r.steps)
    assert float(strata.ground.rows[-1]) <= 1.6 * sure + 2
    strata.grab()


def test_in_grey_deeper_is_darker_and_words_can_be_read():
    """Relative luminance and contrast by WCAG 2.1."""

    def luminance(colour):
        parts = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in colour.getRgbF()[:3]]
        return sum(w * c for w, c in zip((0.2126, 0.7152, 0.0722), parts, strict=True))

    for one in (theme.DAY, theme.NIGHT):
        theme.current = one
        depths = [luminance(theme.QColor(c)) for c in one.depth]
        assert depths == sorted(depths, reverse=True)
        for words, ground in (("ink", "card"), ("card", "copper"), ("copper", "paper"), ("muted", "paper")):
            light, dark = sorted((luminance(theme.colour(words)), luminance(theme.colour(ground))), reverse=True)
            assert (light + 0.05) / (dark + 0.05) >= 4.5
    theme.current = theme.DAY


def test_the_strata_are_drawn_into_files(window, page, tmp_path, demo_file, capsys):
    for ending in ("svg", "png"):
        window.writing.write("strata", tmp_path / f"strata.{ending}")
    words = "".join(ElementTree.parse(tmp_path / "strata.svg").getroot().itertext())
    assert "Strata of the" in words
    assert "Battery" in words
    picture = Image.open(tmp_path / "strata.png")
    assert picture.size == (2800, 1720)
    assert len(picture.convert("L").getcolors(1 << 16)) > 30
    assert (
        main(["reach", str(demo_file), "-o", str(tmp_path / "again.svg"), "--depth", "minutes", "--target", "core"])
        == 0
    )
    assert ">min<" in (tmp_path / "again.svg").read_text().replace("\n", "").replace(" ", "")
    assert main(["reach", str(demo_file), "-o", str(tmp_path / "gone" / "a.svg")]) == 1
    assert "cannot be written" in capsys.readouterr().err
    assert isinstance(window.grab().toImage(), QImage)


# -- what is wished, all parts, contradictions ------------------------------------------------------------------


def test_wishes_change_the_route_and_are_forgotten_with_the_study(qtbot, window, page):
    wishes, best = page.route_options, page.route
    wishes.more.click()
    wishes.avoid["solvent"].click()
    assert "softens Battery glue" in page.mind.text()
    assert wishes.more.text() == "1 option"
    wishes.avoid["solvent"].click()
    assert page.route.steps == best.steps
    wishes.power.setCurrentIndex(wishes.power.findData("not"))
    wishes.power.activated.emit(0)
    assert page.route.options.isolate == "not"
    wishes.least.button(5).click()
    wishes.weigh.setText("renewals 2 min, tool changes 1 min")
    qtbot.keyClick(wishes.weigh, KEY.Key_Return)
    assert dict(page.route.options.weights) == {"renewals": 120.0, "tool changes": 60.0}
    wishes.weigh.setText("beauty")
    qtbot.keyClick(wishes.weigh, KEY.Key_Return)
    assert "is not a weight" in window.notice.text.text()
    window.settings.put_bench(["hex socket 2.5", "PH00"])
    wishes.own.click()
    assert page.route is None
    window.session.opened.emit()
    assert page.route_options.options().tools is None
    window.show_stage(page)
    page.choose((BATTERY,))
    assert page.route.steps == best.steps


def test_all_parts_stand_with_their_bars_priority_first(qtbot, window, page):
    assert "further" in page.passes.text()
    page.below.button(3).click()
    table = page.all.table
    first = [table.rows.cells[n][0][0] for n in range(6)]
    assert set(first) == {p.name for p in window.session.study.parts.values() if p.priority}
    assert "cannot be reached" in page.all.said.text()
    table.grab()
    table.setCurrentIndex(table.model().index(0, 0))
    assert page.targets == (table.rows.ids[0],)


def test_facts_that_cannot_all_be_are_shown_and_one_is_taken_back(qtbot, window, page):
    session = window.session
    session.who = "KL"
    assert session.stated(BATTERY, "P19", "seen")  # and the main board lies over the battery
    assert "circle" in page.mind.text()
    page.below.button(2).click()
    doubts = [line for line in page.questions.lines if line.fact]
    assert len(doubts) >= 2
    assert "contradict each other" in page.questions.said.text()
    mine = next(n for n, line in enumerate(doubts) if (line.over, line.under) == (BATTERY, "P19"))
    assert "KL" in doubts[mine].words
    page.questions.table.setCurrentIndex(page.questions.table.model().index(mine, 0))
    qtbot.keyClick(page.questions.table, KEY.Key_N)
    assert not any(line.fact for line in page.questions.lines)
    fact = next(f for f in session.study.facts.values() if (f.over, f.under) == (BATTERY, "P19"))
    assert (fact.state, fact.by) == ("ruled out", "KL")
    assert fact.at[:4].isdecimal()


def test_a_double_click_on_the_ribbon_goes_to_the_step_and_its_photo(qtbot, window, page):
    page.ribbon.grab()
    box, step = page.ribbon._boxes[3]
    assert "from" in page.ribbon.about(step)
    qtbot.mouseDClick(page.ribbon, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert window.stack.currentWidget() is window.take_apart
    assert window.session.selection == step


def test_the_weighing_tells_how_far_it_is_and_pairs_and_idle_changes_are_listed(qtbot, window, page):
    told = []
    window.figures.weighed.connect(lambda n, of: told.append((n, of)))
    page.below.button(1).click()
    easier = page.what_if
    qtbot.waitUntil(lambda: easier.table.model().rowCount() > 5, timeout=20_000)
    assert [n for n, _ in told] == list(range(1, told[0][1] + 1))
    easier.cheap.grab()
    best = easier.cheap.best
    at = easier.cheap._place(best[0]).toPoint()
    easier.lists.button(2).click()
    assert "leave them as they are" in easier.said.text()
    easier.lists.button(1).click()
    qtbot.waitUntil(lambda: "pair" in easier.said.text() and "being" not in easier.said.text(), timeout=20_000)
    qtbot.mouseClick(easier.cheap, Qt.MouseButton.LeftButton, pos=at)
    assert easier.changes == best[0].changes


def test_the_command_line_knows_the_wishes(demo_file, tmp_path, capsys):
    route = ["route", str(demo_file), "--target", "battery", "--json"]
    assert main([*route, "--weigh", "renewals 2 min", "--isolate", "5"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["weights"] == {"renewals": 120.0}
    assert 5 in [leg["number"] for leg in told["legs"]]
    assert told["passed"]
    assert told["waits"][0]["until_s"] - told["waits"][0]["from_s"] == pytest.approx(60, abs=30)
    assert any(leg["no_way_round"] for leg in told["legs"])
    for wrong, why in (("--isolate", "12"), ("--avoid", "noise"), ("--weigh", "luck 3 s"), ("--variant", "none")):
        assert main([*route, wrong, why]) == 1
        assert why.split()[0] in capsys.readouterr().err
    assert main(["reach", str(demo_file), "--json"]) == 0
    battery = next(p for p in json.loads(capsys.readouterr().out)["parts"] if p["part"] == "Battery")
    assert battery["renewals"] == 1
    assert battery["risk"] > 10
    assert len(battery["tools"]) == 6


def test_a_time_told_by_three_is_typed_in_the_margin(qtbot, window):
    window.show_stage(window.take_apart)
    step = list(window.session.study.steps)[3]
    window.session.select(step)
    for name, text in (("likely_s", "40 s"), ("most_s", "2 min"), ("least_s", "3 min")):
        field = window.margin.fields[name][1]
        field.setText(text)
        field.editingFinished.emit()
    told = window.session.study.steps[step]
    assert (told.likely_s, told.most_s, told.least_s) == (40.0, 120.0, None)
    assert "quickest ≤ usual" in window.notice.text.text()
    assert change(window.session.study, step, likely_s=None).steps[step].likely_s is None


def plates(seed, n):
    """A core under n plates, some of them under others, with seven tools and two faces."""
    r = random.Random(seed)
    things = [Part("P1", "core"), *(Part(f"P{k}", f"plate {k}") for k in range(2, n + 1))]
    for k in range(2, n + 1):
        over = r.sample(range(max(2, k - 8), k), min(k - max(2, k - 8), r.randint(0, 2)))
        things += [Fact(f"F{k}", f"P{k}", "P1"), *(Fact(f"F{k}{o}", f"P{o}", f"P{k}") for o in over)]
    for k in [*range(2, n + 1), 1]:
        tool, face = r.choice(["", *"abcdef"]), r.choice(["front", "back"])
        things.append(Step(f"S{k}", "take out", takes_out=(f"P{k}",), tool=tool, face=face))
    return study_of(*things)


def test_a_route_that_is_not_proved_soon_gets_better_beside_the_work_or_is_left(qtbot, window, monkeypatch):
    monkeypatch.setattr(figures, "SOON_S", 0.0)
    page = window.reach
    monkeypatch.setattr(window.session, "store", None)
    window.show_stage(page)
    window.session.edit(plates(1, 55), "another device")
    page.choose(("P1",))
    first = page.route
    assert not first.proved
    assert "not proved best; none is under" in page.summary.text()
    assert page.stop.isVisible()
    qtbot.waitUntil(lambda: page.route.proved, timeout=100_000)
    assert first.bound_s <= page.route.seconds <= first.seconds
    assert not page.stop.isVisible()
    window.session.edit(plates(2, 110), "a hard one")
    assert page.stop.isVisible()
    page.stop.click()
    qtbot.waitUntil(lambda: not window.figures.improving, timeout=20_000)
    assert not page.route.proved
    assert not page.stop.isVisible()


@pytest.mark.parametrize("below", range(4))
def test_a_part_goes_and_comes_back_whatever_is_shown(qtbot, window, page, below):
    page.turn_to(below)
    window.figures.finish()
    for part in (BATTERY, "P15", "P42"):
        window.session.select(part)
        window.session.remove(part)
        assert page.strata.ground.where(part) is None
        window.session.stack.undo()
        assert page.strata.ground.where(part) is not None
    assert BATTERY not in page.what_if.targets or BATTERY in window.session.study.parts
