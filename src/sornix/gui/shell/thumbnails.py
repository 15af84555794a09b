"""Small pictures for the start sheet: of the demo figures, and of recent documents as they were
saved last. They are drawn beside the window, one after the other, until a document is opened."""

import zipfile
from collections.abc import Callable, Iterator, Sequence
from functools import partial
from pathlib import Path

from PyQt6.QtGui import QImage

from sornix.core.document import ENDING
from sornix.demo import DEMOS
from sornix.gui.base.worker import Worker
from sornix.gui.widgets.startsheet import PICTURE, StartSheet

# drawn once for all windows
_drawn: dict[str, QImage] = {}
_LARGEST_PREVIEW = 20_000_000


def demo_picture(name: str) -> QImage:
    """The small picture of a demo figure."""
    if name not in _drawn:
        from sornix.core.drawing import draw_figure
        from sornix.core.figure import waiting
        from sornix.demo import demo_document
        from sornix.paint.export import image
        from sornix.paint.measure import QtMeasure

        document = demo_document(name)
        with waiting():
            drawing = draw_figure(document.figure, document.tables, QtMeasure())
        _drawn[name] = image(drawing, 2 * PICTURE.width() / drawing.width_mm)
    return _drawn[name]


def preview_in(path: Path) -> QImage | None:
    """The picture that a document carries, None for what has none."""
    if path.suffix.lower() != ENDING:
        return None
    try:
        with zipfile.ZipFile(path) as package:
            if package.getinfo("preview.png").file_size > _LARGEST_PREVIEW:
                return None
            picture = QImage.fromData(package.read("preview.png"))
    except (OSError, KeyError, ValueError, zipfile.BadZipFile):
        return None
    return None if picture.isNull() else picture


class Thumbnails:
    """Fills the start sheet of a window with pictures, while it is `wanted`."""

    def __init__(
        self, sheet: StartSheet, recent: Sequence[Path], wanted: Callable[[], bool]
    ) -> None:
        self._sheet, self._wanted = sheet, wanted
        self._worker = Worker()
        self._left = self._orders(recent)
        self._next()

    @property
    def is_busy(self) -> bool:
        """Whether more pictures come."""
        return self._worker.is_busy

    def _orders(self, recent: Sequence[Path]) -> Iterator[tuple[str, Callable[[], QImage | None]]]:
        yield from ((str(path), partial(preview_in, path)) for path in recent)
        yield from ((name, partial(demo_picture, name)) for name in DEMOS)

    def _next(self) -> None:
        order = next(self._left, None) if self._wanted() else None
        if order is not None:
            name, make = order
            self._worker.start("", make, partial(self._show, name), lambda _: self._next())

    def _show(self, name: str, picture: QImage | None) -> None:
        if picture is not None:
            self._sheet.show_picture(name, picture)
        self._next()
