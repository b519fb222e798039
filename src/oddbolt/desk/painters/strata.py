"""The device as ground: the surface at the top, each part at its depth, the shaft to the chosen one lit from above."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from itertools import pairwise

from PySide6.QtCore import QEvent, QPointF, QRect, QRectF, QSize, QSizeF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFontMetricsF,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QWheelEvent,
)
from PySide6.QtWidgets import QToolTip

from oddbolt.core.reach import Reach, Route
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import plural
from oddbolt.desk.painters.ground import FOOT, LEFT, ROW_LEAST, TOP, Ground, GroundBand, lay_out, place
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import tip
from oddbolt.desk.widgets.spoken import ARROWS, Painted

#: how much closer one key or notch goes, how close at the most, and how high a row may become
CLOSER, CLOSEST, ROW_MOST = 1.25, 60.0, 44
#: so many doubts in sight are drawn in full
FEW = 24
EMPTY = "Nothing has come off yet. Log steps on Take apart, and every part finds its depth here."


class Strata(Painted):
    """Shows the ground. Arrow keys travel from part to part, letters find, + and − go closer and back, the space bar
    folds a module; ``picked`` gives a part's id."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.study: Study | None = None
        self.reach: Mapping[str, Reach] = {}
        self.ground = Ground([], [], [], [])
        self.route: Route | None = None
        self.chosen: Sequence[str] = ()
        self.unit = "steps"
        self.zoom, self.offset = 1.0, QPointF(0, 0)
        self.folded: set[str] = set()
        self.sought, self.found = "", list[str]()
        #: answers what there is to say of a part
        self.about: Callable[[str], str] = lambda part: self.study.name(part) if self.study else ""
        self._lit: dict[str, int] = {}
        self._deepest = 1.0
        self._widths: dict[str, float] = {}
        self._along: set[str] = set()
        self._grabbed: QPointF | None = None
        self._dragging = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Strata: every part at its depth")
        self.setMinimumHeight(150)

    def sizeHint(self) -> QSize:
        return QSize(820, 460)

    def show_ground(
        self, study: Study, reach: Mapping[str, Reach], minutes: bool, chosen: Sequence[str], route: Route | None
    ) -> None:
        """Show a study's ground with the route to the chosen parts."""
        moved = tuple(chosen) != tuple(self.chosen)
        self.study, self.reach, self.chosen, self.route = study, reach, chosen, route
        self.unit = "minutes" if minutes else "steps"
        self.folded &= set(study.parts)
        self.found = [p for p in self.found if p in study.parts]
        self._lit = self._on_route()
        self._along = self._coming_along()
        self._deepest = max((r.steps.least for r in reach.values() if r.steps), default=1.0) + 1
        self._place()
        self.say_items([b.part for b in self.ground.bands], chosen[-1] if chosen else "", self._said)
        if moved and chosen:
            self._into_sight(chosen[-1])
        self.update()

    def _said(self, part: str) -> tuple[str, str]:
        return (self.study.name(part) if self.study else part), self.about(part).replace("\n", ", ")

    def item_box(self, id: str) -> QRect:
        box = self.box_of(id)
        return box.toRect() if box is not None else self.rect()

    def resizeEvent(self, event: QEvent) -> None:
        self._place()

    # -- geometry -----------------------------------------------------------------------------------

    def _room(self) -> QSizeF:
        return QSizeF(self.width(), self.height())

    def _whole(self) -> QSizeF:
        """The size of the whole at this zoom. It grows in height only until every depth has a row of its own."""
        inner = self.height() - TOP - FOOT
        tall = max(inner, min(inner * self.zoom, self._deepest * ROW_MOST if self.unit == "steps" else inner * 4))
        return QSizeF((self.width() - LEFT - 8) * self.zoom + LEFT + 8, tall + TOP + FOOT)

    def _place(self) -> None:
        if self.study is None:
            return
        study, whole = self.study, self._whole()
        most_rows = max(6, int((whole.height() - TOP - FOOT) // ROW_LEAST) - 1)
        self.ground = lay_out(study, self.reach, self.unit == "minutes", most_rows)
        widths, metrics = self._widths, QFontMetricsF(theme.text(9.5, bold=True))

        def wanted(part: str) -> float:
            name = study.parts[part].name
            if name not in widths:
                widths[name] = metrics.horizontalAdvance(name)
            return widths[name] + (28.0 if part in self._lit else 18.0)

        priority = {p.id for p in study.parts.values() if p.priority}
        first = (set(self.chosen), set(self.found), set(self._lit), priority)
        place(self.ground, whole.width(), whole.height(), wanted, first, self.folded)
        self._pan(QPointF(0, 0))

    def _coming_along(self) -> set[str]:
        """What lies inside the chosen parts."""
        study = self.study
        modules = {part.inside for part in study.parts.values()} & set(self.chosen) if study is not None else set()
        if study is None or not modules:
            return set()
        return {p for p in study.parts if modules.intersection(study.carriers(p))}

    def _pan(self, by: QPointF) -> None:
        """Move what is seen, as far as there is something."""
        whole, room = self._whole(), self._room()
        x = min(max(0.0, self.offset.x() + by.x()), max(0.0, whole.width() - room.width()))
        y = min(max(0.0, self.offset.y() + by.y()), max(0.0, whole.height() - room.height()))
        self.offset = QPointF(x, y)
        self.update()

    def closer(self, factor: float, at: QPointF | None = None) -> None:
        """Go closer by a factor, or back (below 1), with this point or the chosen part staying where it is."""
        chosen = self.ground.where(self.chosen[-1]) if self.chosen else None
        if at is None and chosen is not None:
            at = chosen.center() - self.offset
        at = at if at is not None else QPointF(self.width() / 2, self.height() / 2)
        before = self._whole()
        self.zoom = min(CLOSEST, max(1.0, self.zoom * factor))
        after = self._whole()
        deep = self.offset + at - QPointF(LEFT, TOP)
        x = deep.x() * (after.width() - LEFT) / max(1.0, before.width() - LEFT)
        y = deep.y() * (after.height() - TOP) / max(1.0, before.height() - TOP)
        self.offset = QPointF(x + LEFT, y + TOP) - at
        self._place()
        if self.chosen and chosen is not None:
            self._into_sight(self.chosen[-1])

    def whole(self) -> None:
        """Show the whole device again."""
        self.zoom, self.offset = 1.0, QPointF(0, 0)
        self._place()

    def fold(self, module: str) -> None:
        """Fold a module to a body, or open it."""
        if module:
            self.folded ^= {module}
            self._place()

    def fold_chosen(self) -> None:
        """Fold the module of the chosen part, or open it."""
        self.fold(self._module_of(self.chosen[-1] if self.chosen else ""))

    def _into_sight(self, part: str) -> None:
        box = self.ground.where(part)
        if box is None:
            return
        left, right = self.offset.x() + LEFT + 10, self.offset.x() + self.width() - 14
        top, bottom = self.offset.y() + TOP + 6, self.offset.y() + self.height() - FOOT - 6
        x = min(0.0, box.left() - left) or max(0.0, box.right() - right)
        y = min(0.0, box.top() - top) or max(0.0, box.bottom() - bottom)
        self._pan(QPointF(x, y))

    # -- painting -----------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.paint(painter)

    def paint(self, painter: QPainter) -> None:
        """Draw what is seen with this painter, which may be that of a picture."""
        if self.study is None or not self.ground.bands:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.text(11))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, EMPTY)
            return
        self._draw_depths(painter)
        painter.save()
        painter.setClipRect(QRectF(LEFT - 10, TOP - 2, self.width() - LEFT + 10, self.height() - FOOT - TOP + 2))
        painter.translate(-self.offset)
        seen = QRectF(self.offset, self._room())
        for module, body in self.ground.bodies.items():
            self._draw_body(painter, module, body)
        boxes = [b for b in self.ground.bands if (r := self.ground.boxes.get(b.part)) and r.intersects(seen)]
        doubtful = [b for b in boxes if b.row_most > b.row or b.open]
        few = len(doubtful) <= FEW
        for band in doubtful:
            part = self.study.parts[band.part]
            self._draw_doubt(painter, band, few or part.priority or band.part in self.chosen)
        self._draw_grains(painter, seen)
        self._draw_shaft(painter)
        for band in boxes:
            self._draw_box(painter, band)
        painter.setFont(theme.figures(8.5))
        painter.setPen(theme.colour("muted"))
        for at, parts in self.ground.more:
            painter.drawText(at, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, f" +{len(parts)}")
        self._draw_numbers(painter, seen)
        painter.restore()
        self._draw_modules(painter)
        self._draw_words(painter)

    def _draw_depths(self, painter: QPainter) -> None:
        """The rows, the surface, and what each depth is called."""
        high, right = self.ground.row_high, self.width() - 4
        shades, rows = theme.current.depth, self.ground.rows
        painter.save()
        painter.setClipRect(QRectF(0, TOP - 8, self.width(), self.height() - TOP - FOOT + 8))
        painter.translate(0, -self.offset.y())
        painter.setFont(theme.figures(9))
        for r, label in enumerate(rows):
            y = TOP + r * high
            if not self.offset.y() - high < y < self.offset.y() + self.height():
                continue
            shade = QColor(shades[min(len(shades) - 1, r * len(shades) // max(1, len(rows)))])
            painter.fillRect(QRectF(LEFT, y, right - LEFT, high + 1), shade)
            painter.setPen(QPen(theme.colour("rule"), 1))
            painter.drawLine(QPointF(LEFT, y), QPointF(right, y))
            painter.setPen(theme.colour("muted"))
            at = QRectF(0, y, LEFT - 12, high)
            painter.drawText(at, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, label)
        surface = QPainterPath(QPointF(LEFT, TOP))
        x = float(LEFT)
        while x < right:
            surface.quadTo(x + 9, TOP - (5 if int(x / 18) % 3 else 2), min(x + 18, right), TOP)
            x += 18
        painter.setPen(QPen(theme.colour("ink"), 1.8))
        painter.drawPath(surface)
        painter.restore()
        for c, left in enumerate(self.ground.lefts[:-1]):
            x = left - self.offset.x()
            if c and x > LEFT:
                painter.setPen(QPen(theme.colour("muted"), 0.8, Qt.PenStyle.DotLine))
                painter.drawLine(QPointF(x, TOP + 3), QPointF(x, self.height() - FOOT))

    def _draw_words(self, painter: QPainter) -> None:
        """Above the ground: the unit of depth, what is looked for, how close one is."""
        painter.setFont(theme.text(9))
        painter.setPen(theme.colour("muted"))
        painter.drawText(
            QRectF(0, 2, LEFT - 6, 16), Qt.AlignmentFlag.AlignRight, "steps" if self.unit == "steps" else "min"
        )
        said = "surface"
        if self.sought:
            found = plural(len(self.found), "part") if self.found else "nothing"
            said = f"“{self.sought}”: {found}" + (" · Enter goes from one to the next" if self.found else "")
            painter.setPen(theme.colour("copper"))
        elif self.zoom > 1:
            said = f"{self.zoom:.1f} times as close · 0 shows the whole"
        painter.drawText(QRectF(LEFT, 2, self.width() - LEFT - 8, 16), Qt.AlignmentFlag.AlignRight, said)

    def _feet(self) -> list[tuple[QRectF, str]]:
        """The feet of the columns: where the name of a module stands and can be clicked."""
        lefts, top = self.ground.lefts, self.height() - FOOT + 3
        x = self.offset.x()
        feet = [QRectF(left - x, top, right - left, FOOT - 3) for left, right in pairwise(lefts)]
        return list(zip(feet, self.ground.modules, strict=True))

    def _draw_modules(self, painter: QPainter) -> None:
        painter.setFont(theme.text(9))
        for (foot, module), name in zip(self._feet(), self.ground.columns, strict=True):
            left, right = max(foot.left(), LEFT), min(foot.right(), self.width() - 4)
            if right - left < 12:
                continue
            painter.setPen(theme.colour("muted"))
            x, y = left + 9, foot.center().y()
            if module:
                painter.setBrush(theme.colour("muted"))
                ends = (QPointF(-3, -4), QPointF(3, 0), QPointF(-3, 4))
                if module not in self.folded:
                    ends = (QPointF(-4, -2), QPointF(4, -2), QPointF(0, 4))
                painter.drawPolygon([QPointF(x, y) + end for end in ends])
                painter.setBrush(Qt.BrushStyle.NoBrush)
            if module not in self.folded:
                room = QRectF(left + (18 if module else 5), foot.top(), right - left - 20, foot.height())
                shown = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, int(room.width()))
                painter.drawText(room, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, shown)

    def _draw_body(self, painter: QPainter, module: str, body: QRectF) -> None:
        """A folded module: one body from its shallowest part to its deepest."""
        study = self.study
        assert study is not None
        painter.setPen(QPen(theme.colour("muted"), 0.9))
        painter.setBrush(theme.colour("card"))
        painter.drawRect(body)
        painter.save()
        painter.translate(body.left(), body.bottom())
        painter.rotate(-90)
        painter.setFont(theme.text(9))
        painter.setPen(theme.colour("ink"))
        words = f"{study.name(module)} · {plural(self.ground.sizes[module], 'part')}"
        room = QRectF(6, 0, body.height() - 12, body.width())
        shown = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(room.width()))
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, shown)
        painter.restore()

    def _draw_doubt(self, painter: QPainter, band: GroundBand, whole: bool) -> None:
        """A range is drawn as a range: a dashed shaft from the least depth to the most, or out of sight; only the
        beginning of it among many."""
        box, high = self.ground.boxes[band.part], self.ground.row_high
        bottom = TOP + (band.row_most + (1.5 if band.open else 0.85)) * high
        if not whole:
            bottom = min(bottom, box.bottom() + 0.35 * high)
        bottom = min(bottom, self.offset.y() + self.height())
        wide = min(14.0, box.width() / 4)
        strong = band.part in self.chosen
        painter.setPen(QPen(theme.colour("copper" if strong else "muted"), 1, Qt.PenStyle.DashLine))
        fill = QColor(theme.colour("card"))
        fill.setAlpha(200 if strong else 70)
        painter.setBrush(fill)
        painter.drawRect(QRectF(box.right() - wide - 4, box.bottom(), wide, bottom - box.bottom()))

    def _draw_grains(self, painter: QPainter, seen: QRectF) -> None:
        plain, lit, chosen = list[QRectF](), list[QRectF](), list[QRectF]()
        marked = set(self.found)
        for part, box in self.ground.grains.items():
            if box.intersects(seen):
                heap = chosen if part in self.chosen else lit if part in self._lit or part in marked else plain
                heap.append(box)
        painter.setPen(QPen(theme.colour("muted"), 0.8))
        painter.setBrush(theme.colour("card"))
        painter.drawRects(plain)
        painter.setPen(QPen(theme.colour("copper"), 1.6))
        painter.drawRects(lit)
        painter.setBrush(theme.colour("copper"))
        painter.drawRects(chosen)

    def _on_route(self) -> dict[str, int]:
        """part -> its number among what comes off on the route."""
        out: dict[str, int] = {}
        if self.route is not None and self.study is not None:
            for leg in self.route.legs:
                step = self.study.steps[leg.step]
                for part in (*step.takes_out, *step.opens):
                    out.setdefault(part, len(out) + 1)
        return out

    def _draw_shaft(self, painter: QPainter) -> None:
        stops = sorted((n, box.left(), box) for p, n in self._lit.items() if (box := self.ground.where(p)))
        if not stops:
            return
        path = QPainterPath(QPointF(stops[0][2].left() + 2, TOP))
        for _, _, box in stops:
            here, turn = path.currentPosition(), box.top() - 2
            path.lineTo(here.x(), turn)
            path.lineTo(box.left() + 2, turn)
            path.lineTo(box.left() + 2, box.center().y())
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colour("copper"), 2.2))
        painter.drawPath(path)

    def _draw_box(self, painter: QPainter, band: GroundBand) -> None:
        study = self.study
        assert study is not None
        box, part = self.ground.boxes[band.part], study.parts[band.part]
        chosen, lit = band.part in self.chosen, band.part in self._lit
        painter.setBrush(theme.colour("copper") if chosen else theme.colour("card"))
        edge = QPen(theme.colour("copper") if lit else theme.colour("muted"), 1.8 if lit else 0.9)
        if band.part in self.found:
            edge = QPen(theme.colour("sea"), 2.6)
        elif band.part in self._along and not lit:
            edge = QPen(theme.colour("copper"), 1.2, Qt.PenStyle.DotLine)
        painter.setPen(edge)
        painter.drawRect(box)
        painter.setFont(theme.text(9.5, bold=lit or part.priority))
        painter.setPen(theme.colour("card") if chosen else theme.colour("ink"))
        inner = box.adjusted(14 if lit else 6, 0, -4, 0)
        metrics = painter.fontMetrics()
        name = metrics.elidedText(part.name, Qt.TextElideMode.ElideRight, int(inner.width()))
        painter.drawText(inner, Qt.AlignmentFlag.AlignVCenter, name)
        note = f"+{band.along}" if band.along else "renew" if part.reuse == "renew" else ""
        room = inner.width() - metrics.horizontalAdvance(name)
        painter.setFont(theme.figures(8))
        if note and room > painter.fontMetrics().horizontalAdvance(note) + 10:
            painter.setPen(theme.colour("card") if chosen else theme.colour("muted"))
            painter.drawText(inner, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, note)

    def _draw_numbers(self, painter: QPainter, seen: QRectF) -> None:
        painter.setFont(theme.figures(8))
        for part, n in self._lit.items():
            box = self.ground.boxes.get(part)
            if box is None or not box.intersects(seen):
                continue
            centre = QPointF(box.left() + 2, box.center().y())
            painter.setBrush(theme.colour("paper"))
            painter.setPen(QPen(theme.colour("copper"), 1.6))
            painter.drawEllipse(centre, 8.5, 8.5)
            painter.setPen(theme.colour("copper"))
            painter.drawText(QRectF(centre.x() - 10, centre.y() - 8, 20, 16), Qt.AlignmentFlag.AlignCenter, str(n))

    # -- the hand -----------------------------------------------------------------------------------

    def box_of(self, part: str) -> QRectF | None:
        """Where a part is drawn in the window."""
        box = self.ground.where(part)
        return box.translated(-self.offset) if box is not None else None

    def _hit(self, at: QPointF) -> str:
        if at.y() > self.height() - FOOT or at.x() < LEFT - 10:
            return ""
        there = at + self.offset
        for places, near in ((self.ground.boxes, 0.0), (self.ground.grains, 1.5)):
            for part, box in places.items():
                if box.adjusted(-near, -near, near, near).contains(there):
                    return part
        return ""

    def _module_at(self, at: QPointF) -> str:
        body = next((m for m, body in self.ground.bodies.items() if body.contains(at + self.offset)), "")
        return body or next((module for foot, module in self._feet() if foot.contains(at)), "")

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and self.study is not None:
            at = QPointF(event.pos())
            hit, module = self._hit(at), self._module_at(at)
            more = next((parts for box, parts in self.ground.more if box.contains(at + self.offset)), [])
            words = self.about(hit) if hit else ", ".join(self.study.name(p) for p in more[:40])
            if not words and module:
                words = f"{self.study.name(module)}: a click {'opens' if module in self.folded else 'folds'} it"
            QToolTip.showText(event.globalPos(), tip(words), self)
            return True
        return super().event(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._grabbed, self._dragging = event.position(), False

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grabbed is None or not event.buttons():
            return
        by = self._grabbed - event.position()
        if self._dragging or by.manhattanLength() > 5:
            self._dragging, self._grabbed = True, event.position()
            self._pan(by)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        dragged, self._grabbed, self._dragging = self._dragging, None, False
        if dragged:
            return
        if hit := self._hit(event.position()):
            self.picked.emit(hit)
        else:
            self.fold(self._module_at(event.position()))

    def wheelEvent(self, event: QWheelEvent) -> None:
        turned = event.angleDelta()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.closer(CLOSER ** (turned.y() / 120), event.position())
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._pan(QPointF(-turned.y() or -turned.x(), 0))
        else:
            self._pan(QPointF(-turned.x(), -turned.y()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, text = Qt.Key(event.key()), event.text()
        if key in ARROWS:
            self._travel(*ARROWS[key])
        elif key in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp):
            self._pan(QPointF(0, (self.height() - TOP - FOOT) * (1 if key == Qt.Key.Key_PageDown else -1)))
        elif self.sought and key in (Qt.Key.Key_Escape, Qt.Key.Key_Backspace):
            self.seek(self.sought[:-1] if key == Qt.Key.Key_Backspace else "")
        elif self.found and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            at = self.found.index(self.chosen[-1]) if self.chosen and self.chosen[-1] in self.found else -1
            self.picked.emit(self.found[(at + 1) % len(self.found)])
        elif text in ("+", "=", "-", "−") and not self.sought:
            self.closer(CLOSER if text in "+=" else 1 / CLOSER)
        elif text == "0" and not self.sought:
            self.whole()
        elif text == " " and not self.sought:
            self.fold_chosen()
        elif text.isprintable() and text and not event.modifiers() & ~Qt.KeyboardModifier.ShiftModifier:
            self.seek(self.sought + text)
        else:
            super().keyPressEvent(event)

    def seek(self, words: str) -> None:
        """Mark the parts in whose names these words stand."""
        self.sought = words
        wanted = words.casefold().split()
        there = [b.part for b in self.ground.bands] if self.study is not None else []
        names = {p: self.study.name(p).casefold() for p in there} if self.study is not None else {}
        self.found = [p for p, name in names.items() if wanted and all(w in name for w in wanted)]
        self._place()
        if self.found:
            self._into_sight(self.found[0])

    def _module_of(self, part: str) -> str:
        if self.study is None or part not in self.study.parts:
            return ""
        root = (self.study.carriers(part) or [part])[-1]
        return root if root in self.ground.modules else ""

    def _travel(self, dx: int, dy: int) -> None:
        """To the nearest part in a direction, a box or a grain."""
        places = self.ground.boxes | self.ground.grains
        here = places.get(self.chosen[-1]) if self.chosen else None
        if here is None:
            if places:
                self.picked.emit(next(iter(places)))
            return
        best, target = 1e9, ""
        for part, box in places.items():
            across, down = box.center().x() - here.center().x(), box.center().y() - here.center().y()
            along, aside = (across * dx, abs(down)) if dx else (down * dy, abs(across))
            if along > 1 and along + 3 * aside < best:
                best, target = along + 3 * aside, part
        if target:
            self.picked.emit(target)
