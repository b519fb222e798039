"""Photos at the desk: how they come in, are walked through, marked and cut by keys."""

from io import BytesIO

import pytest
from PIL import Image
from PySide6.QtCore import QMimeData, Qt, QUrl
from PySide6.QtGui import QGuiApplication, QImage

from oddbolt.core.study.photos import callouts_of
from oddbolt.demo import tide_logger
from oddbolt.desk.photos.importer import SMALL
from oddbolt.instruments.camera import shoot

KEY = Qt.Key
DEMO = len(tide_logger.pictures())


def photos(window):
    return list(window.session.study.photos.values())


def came(qtbot, window, more):
    """Wait until so many photos came beyond those of the demo."""
    qtbot.waitUntil(lambda: len(photos(window)) == DEMO + more and not window.importer.busy, timeout=5000)


@pytest.fixture
def view(window):
    window.session.select("S3")
    window.photo_panel.view.setFocus()
    return window.photo_panel.view


def test_files_are_kept_with_the_step_and_hostile_ones_refused(qtbot, window, tmp_path):
    window.session.select("S30")
    good, bad, fake = tmp_path / "strange latch.jpg", tmp_path / "bad.txt", tmp_path / "fake.jpg"
    good.write_bytes(tide_logger.photo_bytes(4))
    bad.write_text("not a JPEG or PNG picture")
    fake.write_bytes(b"\xff\xd8\xff" + b"nonsense" * 40)
    steps = window.session.stack.count()
    window.photo_panel.add([good, bad, fake, tmp_path / "none.jpg"])
    came(qtbot, window, 1)
    last = photos(window)[-1]
    assert (last.step, last.caption, last.width) == ("S30", "strange latch", 1200)
    assert all(name in window.notice.text.text() for name in ("bad.txt", "fake.jpg", "none.jpg"))
    assert window.session.stack.count() == steps + 1
    window.session.stack.undo()
    assert len(photos(window)) == DEMO


def test_a_picture_or_files_are_pasted(qtbot, window):
    board = QGuiApplication.clipboard()
    image = QImage(50, 30, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.red)
    board.setImage(image)
    window.photo_panel.paste()
    came(qtbot, window, 1)
    assert (photos(window)[-1].width, photos(window)[-1].height) == (50, 30)
    board.setText("not a JPEG or PNG picture")
    window.photo_panel.paste()
    assert "No picture on the clipboard" in window.notice.text.text()


def test_dropped_files_come_in(qtbot, window, tmp_path):
    path = tmp_path / "a.png"
    path.write_bytes(tide_logger.photo_bytes(2))
    held = QMimeData()
    held.setUrls([QUrl.fromLocalFile(str(path)), QUrl("https://nowhere.invalid/x.png")])
    event = type("Event", (), {"mimeData": lambda _: held})()
    window.photo_panel.view.dropEvent(event)
    came(qtbot, window, 1)


def test_a_camera_drops_pictures_into_a_watched_folder(qtbot, window, say, tmp_path):
    folder = tmp_path / "card"
    folder.mkdir()
    shoot(folder, tide_logger.photo_bytes(1), pause_s=0)
    window.photo_panel.watch(folder)
    say("undo two PH00 screws on the fan")
    shoot(folder, tide_logger.photo_bytes(2), pause_s=0.01)
    came(qtbot, window, 1)
    logged = list(window.session.study.steps)[-1]
    assert photos(window)[-1].step == logged
    assert photos(window)[-1].caption == ""  # what a camera calls its pictures says nothing
    (folder / "half.jpg").write_bytes(tide_logger.photo_bytes(3)[:9000])
    qtbot.waitUntil(lambda: "half.jpg" in window.notice.text.text(), timeout=5000)
    (folder / "half.jpg").write_bytes(tide_logger.photo_bytes(3))  # it was not whole yet
    came(qtbot, window, 2)
    folder.rename(tmp_path / "away")
    qtbot.waitUntil(lambda: "is gone" in window.notice.text.text(), timeout=5000)
    (tmp_path / "away").rename(folder)
    qtbot.waitUntil(lambda: "is back" in window.notice.text.text(), timeout=5000)
    shoot(folder, tide_logger.photo_bytes(4), pause_s=0)
    came(qtbot, window, 3)
    window.photo_panel.watch(None)


def test_the_practice_camera_takes_a_picture(qtbot, window):
    window.bench.practice_shot()
    came(qtbot, window, 1)


def test_callouts_are_chosen_moved_lettered_and_removed_by_keys(qtbot, window, view):
    study = window.session.study
    before = {c.letter: c for c in callouts_of(study, window.photo_panel.id)}
    qtbot.keyClick(view, KEY.Key_B)
    assert window.session.selection == before["B"].about
    for _ in range(5):
        qtbot.keyClick(view, KEY.Key_Right)
    qtbot.keyClick(view, KEY.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    moved = window.session.study.callouts[before["B"].id]
    assert (moved.x - before["B"].x, moved.y - before["B"].y) == pytest.approx((0.05, -0.002))
    qtbot.keyClick(view, KEY.Key_Return)
    assert window.margin.title.text() == "Callout B"
    letter = window.margin.fields["letter"][1]
    letter.setText("a")
    letter.entered.emit("a")
    letters = {c.id: c.letter for c in callouts_of(window.session.study, window.photo_panel.id)}
    assert (letters[before["B"].id], letters[before["A"].id]) == ("A", "B")
    view.setFocus()
    qtbot.keyClick(view, KEY.Key_Delete)
    assert before["B"].id not in window.session.study.callouts
    qtbot.keyClick(view, KEY.Key_Insert)
    added = list(window.session.study.callouts.values())[-1]
    assert (added.letter, added.x, added.y) == ("A", 0.5, 0.5)
    about = window.margin.fields
    window.session.select(added.id)
    about = window.margin.fields["about"][1]
    about.entered.emit("step 2")
    assert window.session.study.callouts[added.id].about == "S2"
    about.entered.emit("no such thing")
    assert "There is no" in window.notice.text.text()


def test_a_callout_is_dragged(qtbot, window, view):
    mark = view.marks[0]
    view.grab()
    picture = view._place(view.rect().toRectF())
    start = view._point(picture, mark).toPoint()
    before = window.session.study.callouts[mark.id]
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseMove(view, start + view.rect().center() * 0.1)
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=start + view.rect().center() * 0.1)
    after = window.session.study.callouts[mark.id]
    assert after.x > before.x
    assert after.y > before.y


def test_a_photo_is_cut_and_turned_by_keys_and_the_picture_stays_whole(qtbot, window, view):
    id = window.photo_panel.id
    digest = window.session.study.photos[id].sha256
    data = window.session.picture(digest)
    window.photo_panel.begin_cut()
    for _ in range(20):
        qtbot.keyClick(view, KEY.Key_Right)
        qtbot.keyClick(view, KEY.Key_Left, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClick(view, KEY.Key_Return)
    shown = window.session.study.photos[id]
    assert (shown.left, shown.top, shown.right, shown.bottom) == pytest.approx((0.3, 0.1, 0.7, 0.9))
    window.photo_panel.turn(90)
    assert (view.image.width(), view.image.height()) == (720, 480)
    assert window.session.picture(digest) == data
    window.photo_panel.whole()
    window.photo_panel.turn(270)
    assert view.image.size().width() == 1200
    window.photo_panel.begin_cut()
    qtbot.keyClick(view, KEY.Key_Escape)
    assert view.frame is None


def test_before_stands_beside_after(window, view):
    window.photo_panel.show_pair()
    assert not window.photo_panel.before.isVisible() or "before" in window.photo_panel.before.caption
    second = photos(window)[1]
    window.session.select(second.step)
    assert window.photo_panel.before.isVisible()
    assert window.photo_panel.before.caption.startswith("before · Lid closed · step 3")
    assert window.photo_panel.view.caption.startswith("after · Lid away")
    window.photo_panel.mark("before")
    assert window.session.study.photos[second.id].role == "before"
    window.photo_panel.show_pair()
    assert not window.photo_panel.before.isVisible()


def test_the_contact_sheet_is_walked_and_a_photo_opened_large(qtbot, window, tmp_path):
    window.show_aside(window.photos)
    sheet = window.photos.sheet
    qtbot.waitUntil(lambda: window.importer.image(photos(window)[0], SMALL) is not None)
    first = photos(window)[0].id
    assert window.session.selection == first
    qtbot.keyClick(sheet, KEY.Key_Right)
    qtbot.keyClick(sheet, KEY.Key_Down)
    qtbot.keyClick(sheet, KEY.Key_Up)
    assert window.session.selection == photos(window)[1].id
    qtbot.keyClick(sheet, KEY.Key_Escape)
    assert window.stack.currentWidget() is window.take_apart
    window.show_aside(window.photos)
    qtbot.keyClick(sheet, KEY.Key_Return)
    assert window.stack.currentWidget() is window.take_apart
    assert window.photo_panel.id == photos(window)[1].id
    qtbot.keyClick(window.photo_panel.view, KEY.Key_Right)
    assert window.photo_panel.id == photos(window)[2].id
    steps = len(window.session.study.steps)
    window.show_aside(window.photos)
    window.session.select("S20")
    for key in (KEY.Key_Return, KEY.Key_Delete):  # a step is no photo
        qtbot.keyClick(sheet, key)
    assert len(window.session.study.steps) == steps
    assert window.stack.currentWidget() is window.photos
    window.writing.write("contact sheet", tmp_path / "photos.pdf")
    assert (tmp_path / "photos.pdf").read_bytes().startswith(b"%PDF")


def test_pictures_of_any_size_arrive_beside_the_work(qtbot, window, tmp_path):
    out = BytesIO()
    Image.effect_noise((5000, 4000), 60).save(out, "JPEG", quality=70)
    (tmp_path / "big.jpg").write_bytes(out.getvalue())
    window.session.select("S30")
    window.photo_panel.add([tmp_path / "big.jpg"])
    came(qtbot, window, 1)
    qtbot.waitUntil(lambda: window.photo_panel.view.image.width() == 2000, timeout=5000)
