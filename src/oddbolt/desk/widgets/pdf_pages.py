"""The pages of a PDF as pictures: on the screen one below the other, and on paper at their own size."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QRect, QSize, QSizeF, Qt
from PySide6.QtGui import QImage, QKeyEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QScrollArea

from oddbolt.core.errors import FileError
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import Painted

GAP, EDGE, WIDEST, LEAST = 14, 10, 760, 430
POINT_MM = 25.4 / 72
#: pages kept as pictures, and letters of a page that are told
KEPT, TOLD = 9, 400


class PdfFile:
    """An open PDF. Raises FileError for what is none."""

    def __init__(self, path: Path) -> None:
        import pypdfium2 as pdfium  # wanted only where a PDF is shown

        try:
            self.document = pdfium.PdfDocument(path.read_bytes())
        except (OSError, pdfium.PdfiumError) as error:
            raise FileError(f"{path.name} cannot be shown: {error}.") from None
        self.sizes = [QSizeF(*(side * POINT_MM for side in page.get_size())) for page in self.document]

    def __len__(self) -> int:
        return len(self.sizes)

    def image(self, number: int, dots_per_mm: float) -> QImage:
        """A page as a picture."""
        page = self.document[number]
        drawn = page.render(scale=dots_per_mm * POINT_MM, rev_byteorder=True)
        pixels = drawn.to_numpy()
        high, wide, channels = pixels.shape
        form = QImage.Format.Format_RGB888 if channels == 3 else QImage.Format.Format_RGBX8888
        return QImage(pixels.tobytes(), wide, high, wide * channels, form).copy()

    def text(self, number: int) -> str:
        """The words of a page, from its beginning."""
        found = self.document[number].get_textpage()
        return " ".join(found.get_text_range(0, min(TOLD, max(0, found.count_chars()))).split())


class PdfPages(Painted):
    """The pages in rows, as many beside each other as can be read; each is drawn when it comes into sight."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.file: PdfFile | None = None
        self._images: dict[tuple[int, int], QImage] = {}
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(name)
        self.at = 0

    def show_file(self, file: PdfFile | None) -> None:
        """Show a PDF, or nothing."""
        self.file, self._images = file, {}
        self.at = min(self.at, max(0, len(file) - 1)) if file else 0
        self._place()
        self.say_items(range(len(file)) if file else (), self.at, self._said)
        self.update()

    def _said(self, n: int) -> tuple[str, str]:
        if self.file is None:
            return "", ""
        name = f"page {n + 1} of {len(self.file)}"
        return name, f"{name}: {self.file.text(n)}"

    def _across(self) -> int:
        """How many pages stand beside each other."""
        return max(1, min(3, (self.width() - EDGE) // (LEAST + GAP)))

    def _wide(self) -> int:
        across = self._across()
        return max(200, min(WIDEST, (self.width() - 2 * EDGE - (across - 1) * GAP) // across))

    def _high(self, n: int) -> int:
        assert self.file is not None
        size = self.file.sizes[n]
        return round(self._wide() * size.height() / size.width())

    def _row_high(self, row: int) -> int:
        assert self.file is not None
        across = self._across()
        return max(self._high(n) for n in range(row * across, min(len(self.file), (row + 1) * across))) + GAP

    def _place(self) -> None:
        rows = -(-len(self.file) // self._across()) if self.file else 0
        self.setMinimumHeight(sum(self._row_high(row) for row in range(rows)) + 2 * EDGE if rows else 100)

    def sizeHint(self) -> QSize:
        return QSize(WIDEST + 2 * EDGE, self.minimumHeight())

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._place()

    def item_box(self, id: int) -> QRect:
        across, wide = self._across(), self._wide()
        row, column = divmod(id, across)
        left = (self.width() - across * wide - (across - 1) * GAP) // 2
        top = EDGE + sum(self._row_high(r) for r in range(row))
        return QRect(left + column * (wide + GAP), top, wide, self._high(id))

    def paintEvent(self, event: QPaintEvent) -> None:
        if self.file is None:
            return
        painter = QPainter(self)
        for n in range(len(self.file)):
            box = self.item_box(n)
            if box.intersects(event.rect()):
                painter.drawImage(box.topLeft(), self._image(n))  # as it is: scaled, it would lose rows
                painter.setPen(QPen(theme.colour("rule"), 1))
                painter.drawRect(box)

    def _image(self, n: int) -> QImage:
        assert self.file is not None
        ratio = self.devicePixelRatioF()
        key = (n, round(self._wide() * ratio))
        if key not in self._images:
            if len(self._images) >= KEPT:
                self._images.pop(next(iter(self._images)))
            image = self.file.image(n, self._wide() * ratio / self.file.sizes[n].width())
            image.setDevicePixelRatio(ratio)
            self._images[key] = image
        return self._images[key]

    def keyPressEvent(self, event: QKeyEvent) -> None:
        by = {Qt.Key.Key_PageDown: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_PageUp: -1, Qt.Key.Key_Up: -1}
        ends = {Qt.Key.Key_Home: 0, Qt.Key.Key_End: len(self.file) - 1 if self.file else 0}
        key = Qt.Key(event.key())
        if self.file is None or key not in (*by, *ends):
            super().keyPressEvent(event)
            return
        self.go_to(ends.get(key, self.at + by.get(key, 0)))

    def go_to(self, page: int) -> None:
        """Bring a page into sight."""
        if self.file is None or not len(self.file):
            return
        self.at = max(0, min(len(self.file) - 1, page))
        self.say_items(range(len(self.file)), self.at, self._said)
        area = self.parent().parent() if self.parent() is not None else None
        if isinstance(area, QScrollArea):
            area.verticalScrollBar().setValue(self.item_box(self.at).top() - EDGE)
        self.update()
