"""Board map: a photo of a board with what lies on it outlined, named and measured."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QImage, QKeyEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton

from oddbolt.core.components import board_maps
from oddbolt.core.components.kinds import part_kinds
from oddbolt.core.components.layout import outline_mm
from oddbolt.core.errors import OddBoltError, VisionError
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.study import Photo, Region, Study, change, remove
from oddbolt.core.study.board_map import corners_in, corners_typed
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.painters.board_view import BoardView, Corners, Mark
from oddbolt.desk.state.actions import Action
from oddbolt.desk.state.background import Background
from oddbolt.desk.widgets.inputs import LineField
from oddbolt.desk.widgets.labels import Label

if TYPE_CHECKING:
    from oddbolt.core.vision.board import Proposal, Proposed

FACES = ("front", "back")
WHAT = {"part": "body", "area": "area", "hole": "hole", "edge": "board's edge"}


class BoardMapPage(Page):
    """One face of a board at a time. Outlines are proposed from the photo, taken, moved, drawn and named."""

    title, home = "Board map", "Parts"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.photo = ""
        self.proposed: dict[str, Proposal] = {}
        self.edge: Corners = ()
        self._images: dict[str, QImage] = {}
        self.work = Background(self, 1)
        self.busy = False
        self.view = BoardView()
        self.view.empty = (
            "No photo of a board is chosen. Select a photo on Take apart or Photos and choose Photo > Map this board."
        )
        self.maps = QComboBox()
        self.maps.setAccessibleName("photo")
        self.maps.activated.connect(lambda n: self.begin(self.maps.itemData(n)))
        self.head.addWidget(self.maps)
        back = QPushButton("Back")
        back.clicked.connect(self.left)
        self.head.addWidget(back)
        self.box.addLayout(self._line())
        self.box.addWidget(self.view, 1)
        self.told = Label()
        self.told.setObjectName("quiet")
        self.told.setWordWrap(True)
        foot = QHBoxLayout()
        foot.addWidget(self.told, 1)
        foot.addWidget(self.propose_button)
        foot.addWidget(self.take_all)
        self.box.addLayout(foot)
        self.view.picked.connect(self._pick)
        self.view.drawn.connect(self._drawn)
        self.view.moved.connect(self._moved)
        self.view.wanted.connect(self._wanted)

    def _line(self) -> QHBoxLayout:
        line = QHBoxLayout()
        self.board = self._field("board", lambda: [p.name for p in self.session.study.parts.values()], 130)
        self.board.entered.connect(self._set_board)
        self.faces = self.words(line, enumerate(FACES))
        self.faces.idClicked.connect(lambda n: self._edit("say which face", face=FACES[n]))
        self.across = self._field("photo shows, across", None, 90)
        self.across.entered.connect(self._set_wide)
        self.name = self._field("name", self._names, 170)
        self.name.entered.connect(self._name)
        self.long = self._field("its longest edge", None, 84)
        self.long.entered.connect(self._set_long)
        line.insertWidget(0, Label("board"))
        line.insertWidget(1, self.board)
        line.addSpacing(8)
        for caption, field in (("across", self.across), ("name", self.name), ("longest edge", self.long)):
            line.addWidget(Label(caption))
            line.addWidget(field)
        line.addStretch(1)
        self.kinds = QComboBox()
        for kind, word in WHAT.items():
            self.kinds.addItem(word, kind)
        self.kinds.setAccessibleName("outline of")
        self.kinds.activated.connect(lambda n: self._change("say what an outline is of", kind=self.kinds.itemData(n)))
        line.addWidget(self.kinds)
        self.propose_button = QPushButton("Propose outlines")
        self.propose_button.clicked.connect(self.propose)
        self.take_all = QPushButton("Take all")
        self.take_all.clicked.connect(self.take_all_proposed)
        return line

    def _field(self, name: str, names: object, wide: int) -> LineField:
        field = LineField(names)  # type: ignore[arg-type]
        field.setAccessibleName(name)
        field.setFixedWidth(wide)
        return field

    def _names(self) -> list[str]:
        inside = self.session.study.parts.values()
        return [*(p.name for p in inside), *part_kinds()]

    def actions_here(self) -> tuple[Action, ...]:
        here = self.in_sight
        return (
            Action("map.begin", "&Map this board", "Photo", self.map_shown, "Ctrl+Alt+B", why_not=self._no_photo),
            Action("map.propose", "&Propose outlines", "Photo", here(self.propose), "Ctrl+Alt+O", why_not=self.no_map),
            Action(
                "map.all", "Take &all proposals", "Photo", here(self.take_all_proposed), why_not=self._none_proposed
            ),
            Action("map.other", "Other &face of the board", "Photo", here(self.other_face), why_not=self.no_map),
        )

    def _no_photo(self) -> str:
        return "" if self.session.study.photos else "There are no photos."

    def no_map(self) -> str:
        """Why there is no map, in words."""
        return "" if self.photo in self.session.study.photos else "No board is mapped; select its photo first."

    def _none_proposed(self) -> str:
        return "" if self.proposed else "Nothing is proposed."

    # -- which photo ------------------------------------------------------------------------------------------

    def map_shown(self) -> None:
        """Map the photo that is selected, or that of what is selected."""
        study, at = self.session.study, self.session.selection
        region = next((r for r in study.regions.values() if at and at in (r.id, r.part)), None)
        board = next((m for m in study.board_maps.values() if at and at == m.part), None)
        of_step = next((p.id for p in study.photos.values() if at and p.step == at), "")
        photo = at if at in study.photos else region.photo if region else board.photo if board else of_step
        photo = photo or next((m.photo for m in study.board_maps.values()), "") or next(iter(study.photos), "")
        self.wanted.emit()
        self.begin(photo)

    def begin(self, photo: str) -> None:
        """Work on this photo."""
        self.photo, self.proposed, self.edge = photo, {}, ()
        self.refresh()
        self.view.setFocus()

    def other_face(self) -> None:
        """Show the other face of the same board."""
        study = self.session.study
        board = board_maps.map_of(study, self.photo)
        others = [m.photo for m in study.board_maps.values() if board and m.part == board.part and m.id != board.id]
        if board is None or not board.part or not others:
            self.session.tell("No other face of this board is mapped yet.")
            return
        self.begin(others[0])

    def arrive(self) -> None:
        self.view.setFocus()

    # -- showing ----------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        study = self.session.study
        if self.photo not in study.photos:
            self.photo = next((m.photo for m in study.board_maps.values()), "")
        self._fill_maps(study)
        photo = study.photos.get(self.photo)
        self.view.show_map(self._image(photo), self._marks(study), self._here())
        board = board_maps.map_of(study, self.photo)
        self.board.set_shown(study.name(board.part) if board and board.part else "")
        self.faces.button(FACES.index(board.face) if board else 0).setChecked(True)
        self.across.set_shown(f"{board.wide_mm:g} mm" if board and board.wide_mm else "")
        region = study.regions.get(self._here())
        self.name.set_shown((study.name(region.part) if region.part else region.name) if region else "")
        size = outline_mm(study, region) if region else None
        self.long.set_shown(f"{size[0]:.1f} mm" if size else "")
        for field in (self.name, self.long, self.kinds):
            field.setEnabled(region is not None)
        if region is not None:
            self.kinds.setCurrentIndex(self.kinds.findData(region.kind))
        self.take_all.setEnabled(bool(self.proposed))
        self.propose_button.setEnabled(photo is not None and not self.busy)
        self.beside.setText(board_maps.progress(study, self.photo).sentence if photo else "")
        self.told.setText(self._help(study, region))

    def _help(self, study: Study, region: Region | None) -> str:
        if self.busy:
            return "Looking for outlines …"
        if self.proposed:
            return (
                f"{len(self.proposed)} outlines proposed (dotted). Enter takes the one chosen, Delete drops it. "
                "A proposal is nobody's part until you take and name it."
            )
        if region is None:
            return "Arrows walk, Space goes to the next without a name. Draw an outline with the mouse or Insert."
        size = outline_mm(study, region)
        words = f"{size[0]:.1f} × {size[1]:.1f} mm, off by at most {2 * size[2]:.0%}" if size else "no scale yet"
        area = board_maps.area_of(study, region) if region.kind == "part" else ""
        return (
            f"{WHAT[region.kind]}{f' in {area}' if area else ''}: {words}. Enter names it, Ctrl+arrows move it, "
            "Shift+arrows change its size, Delete removes it."
        )

    def _fill_maps(self, study: Study) -> None:
        mapped = {m.photo: m for m in study.board_maps.values()}
        rows = [(study.name(m.id)[len("the map of ") :], p) for p, m in mapped.items()]
        rows += [(study.name(p), p) for p in study.photos if p not in mapped]
        if rows != [(self.maps.itemText(n), self.maps.itemData(n)) for n in range(self.maps.count())]:
            self.maps.clear()
            for text, photo in rows:
                self.maps.addItem(text, photo)
        self.maps.setCurrentIndex(self.maps.findData(self.photo))

    def _here(self) -> str:
        at = self.session.selection
        study = self.session.study
        if self.view.chosen in self.proposed and at not in study.regions:
            return self.view.chosen
        if at in study.regions and study.regions[at].photo == self.photo:
            return at
        return next((r.id for r in study.regions.values() if at and r.part == at and r.photo == self.photo), "")

    def _marks(self, study: Study) -> list[Mark]:
        out = []
        for region in board_maps.regions_of(study, self.photo):
            name = study.name(region.part) if region.part else region.name
            size = outline_mm(study, region)
            told = (name or "not named", WHAT[region.kind], f"{size[0]:.1f} by {size[1]:.1f} mm" if size else "")
            out.append(Mark(region.id, corners_in(region.outline), name, region.kind, ", ".join(filter(None, told))))
        for id, one in self.proposed.items():
            out.append(Mark(id, one.corners, "", "proposed", f"proposed {one.kind}"))
        return out

    def _image(self, photo: Photo | None) -> QImage | None:
        """The upright photo, whole."""
        if photo is None:
            return None
        if photo.sha256 not in self._images:
            from oddbolt.files.pictures import small

            data = self.session.picture(photo.sha256)
            try:
                whole = small(data, Photo(photo.id, photo.sha256), 1600) if data else b""
            except OddBoltError:
                whole = b""
            self._images = {photo.sha256: QImage.fromData(whole)}
        image = self._images[photo.sha256]
        return None if image.isNull() else image

    # -- proposing --------------------------------------------------------------------------------------------

    def propose(self) -> None:
        """Look for outlines beside the window."""
        photo = self.session.study.photos.get(self.photo)
        data = self.session.picture(photo.sha256) if photo else None
        if photo is None or not data or self.busy:
            return
        drawn = [r for r in board_maps.regions_of(self.session.study, self.photo) if r.kind == "edge"]
        edge = corners_in(drawn[0].outline) if drawn else ()
        self.busy = True
        self.refresh()
        self.work.start(lambda: _proposed(data, edge), lambda made: self._came(photo.id, made), self._failed)

    def _came(self, photo: str, made: tuple[Proposed | None, float | None, float, str]) -> None:
        self.busy = False
        found, wide, off, trouble = made
        if photo != self.photo:
            return
        board = board_maps.map_of(self.session.study, photo)
        if wide is not None and (board is None or board.wide_mm is None):
            self.session.attempt("take the scale from the mat", board_maps.scaled, photo, wide, "mat", off)
        if found is None:
            self.session.tell(trouble)
        else:
            taken = [corners_in(r.outline) for r in board_maps.regions_of(self.session.study, photo)]
            self.proposed = {f"proposal {n}": one for n, one in enumerate(found.outlines, 1) if _is_new(one, taken)}
            self.edge = found.edge
            if not self.proposed:
                self.session.tell("Nothing new is seen on the board.")
        self.session.select("")
        self.view.chosen = next(iter(self.proposed), "")
        self.refresh()

    def _failed(self, _error: Exception) -> None:
        self.busy = False
        self.refresh()

    def take_all_proposed(self) -> None:
        """Take every proposal as an outline, and the board's edge with them."""
        self._take(list(self.proposed))

    def _take(self, ids: list[str]) -> None:
        if not ids:
            return
        proposals = [(self.proposed[id].corners, self.proposed[id].kind) for id in ids]
        try:
            study, made = board_maps.accepted(self.session.study, self.photo, proposals)
            if self.edge and not any(r.kind == "edge" for r in board_maps.regions_of(study, self.photo)):
                study, _ = board_maps.outlined(study, self.photo, self.edge, "edge")
        except OddBoltError as error:
            self.session.tell(str(error))
            return
        after = list(self.proposed)
        at = after.index(ids[-1])
        for id in ids:
            del self.proposed[id]
        if self.session.edit(study, "take outlines" if len(ids) > 1 else "take an outline"):
            rest = [id for id in after[at:] + after[:at] if id in self.proposed]
            if rest:
                self.session.select("")
                self.view.chosen = rest[0]
                self.refresh()
            else:
                self.session.select(made[-1] if made else "")

    # -- outlines ---------------------------------------------------------------------------------------------

    def _pick(self, id: str) -> None:
        if id in self.proposed:
            self.view.chosen = id
            self.session.select("")
            self.view.chosen = id
        else:
            self.view.chosen = ""
            self.session.select(id)
        self.refresh()

    def _drawn(self, corners: Corners) -> None:
        try:
            study, id = board_maps.outlined(self.session.study, self.photo, corners)
        except OddBoltError as error:
            self.session.tell(str(error))
            return
        self.session.edit(study, "draw an outline")
        self.session.select(id)
        self.refresh()

    def _moved(self, id: str, corners: Corners) -> None:
        if id in self.session.study.regions:
            self.session.attempt("move an outline", change, id, outline=corners_typed(corners))
            self.refresh()

    def _wanted(self, what: str) -> None:
        id = self.view.chosen
        if what == "take" and id in self.proposed:
            self._take([id])
        elif what == "name" and self.name.isEnabled():
            self.name.setFocus()
            self.name.selectAll()
        elif what == "drop" and id in self.proposed:
            rest = list(self.proposed)
            del self.proposed[id]
            self.view.chosen = next((r for r in rest[rest.index(id) + 1 :] if r in self.proposed), "")
            self.refresh()
        elif what == "drop" and id in self.session.study.regions:
            self.session.attempt("remove an outline", remove, id)
            self.refresh()

    def _name(self, text: str) -> None:
        region = self._here()
        if self.session.attempt("name an outline", board_maps.named, region, text):
            self.view.setFocus()
        self.refresh()

    def _change(self, label: str, **fields: object) -> None:
        if self._here() in self.session.study.regions:
            self.session.attempt(label, change, self._here(), **fields)
        self.refresh()

    def _edit(self, label: str, part: str = "", face: str = "") -> None:
        try:
            study, _ = board_maps.mapped(self.session.study, self.photo, part, face)
        except OddBoltError as error:
            self.session.tell(str(error))
            return
        self.session.edit(study, label)
        self.refresh()

    def _set_board(self, text: str) -> None:
        if not text.strip():
            return
        try:
            (part,) = self.session.named(text, "P")
        except OddBoltError as error:
            self.session.tell(str(error))
            self.refresh()
            return
        self._edit("say which board it is", part=part)

    def _set_wide(self, text: str) -> None:
        self._measured("set the scale", text, lambda mm: board_maps.scaled(self.session.study, self.photo, mm, "typed"))

    def _set_long(self, text: str) -> None:
        here = self._here()
        self._measured(
            "take the scale from a part", text, lambda mm: board_maps.scaled_by(self.session.study, here, mm)
        )

    def _measured(self, label: str, text: str, make: object) -> None:
        try:
            length = quantity(text, "length")
            self.session.edit(make(length), label)  # type: ignore[operator]
        except (OddBoltError, ValueError) as error:
            self.session.tell(str(error))
        self.refresh()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)


def _proposed(data: bytes, edge: Corners) -> tuple[Proposed | None, float | None, float, str]:
    """What is proposed on a photo, how wide it is by the mat (None without one) and how far that may be off; or why
    nothing is."""
    import numpy as np

    from oddbolt.core.vision.board import propose
    from oddbolt.core.vision.find import find_mat
    from oddbolt.files.pictures import pixels_of

    try:
        picture = pixels_of(data, "The photo")
        found = propose(picture, edge)
    except OddBoltError as error:
        return None, None, 0.0, str(error)
    try:
        sheet = find_mat(np.ascontiguousarray(picture))
        return found, picture.shape[1] / sheet.px_per_mm, max(0.01, sheet.scale_off), ""
    except VisionError:
        return found, None, 0.0, ""


def _is_new(one: Proposal, taken: list[tuple[tuple[float, float], ...]]) -> bool:
    from shapely.geometry import Polygon

    shape = Polygon(one.corners).buffer(0)
    others = (Polygon(corners).buffer(0) for corners in taken)
    small = [o for o in others if o.area < 4 * shape.area]
    return not any(shape.intersection(o).area > board_maps.SAME * min(shape.area, o.area) for o in small)
