"""The row of the figures of a document, as small live pictures: to go between them, to put them in
order, to add, name and remove them. A document with one figure has no row."""

from collections.abc import Callable, Iterator
from functools import partial
from typing import NamedTuple

from PyQt6.QtCore import QEvent, QPoint, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QIcon, QImage, QKeyEvent, QMouseEvent, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QApplication,
    QBoxLayout,
    QFrame,
    QHBoxLayout,
    QMenu,
    QScrollArea,
    QToolButton,
    QWidget,
)

from sornix.core.document import Document, figure_names, move_figure, remove_figure
from sornix.core.drawing import Drawing, draw_figure
from sornix.core.errors import SornixError
from sornix.core.figure import Figure, waiting
from sornix.core.readings import Table
from sornix.gui.base.plain import plain_tip
from sornix.gui.base.worker import Worker
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench
from sornix.gui.widgets.bars import Bar
from sornix.gui.widgets.inlinecontrols import ActWord, Choice, ChoiceWord
from sornix.paint.export import image
from sornix.paint.measure import QtMeasure

_PICTURE = QSize(92, 62)
_RATIO = 2
# Pictures follow the work when it rests for so long.
_REST_MS = 150


class _Picture(NamedTuple):
    """A picture, and the very values that it was made from."""

    figure: Figure
    tables: tuple[Table, ...]
    image: QImage


class _Tile(QToolButton):
    """A figure in the row. `dragged` gives the place on the screen where it was let go of."""

    dragged = pyqtSignal(int)
    stepped = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("figureTile")
        self.setCheckable(True)
        self.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
        self.setIconSize(_PICTURE)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self._from: QPoint | None = None
        self._home = QPoint()
        self.setFixedWidth(_PICTURE.width() + 16)
        # an empty piece of paper until it is drawn: it is as high from the beginning
        self.show_picture(QImage())

    def show_name(self, name: str) -> None:
        """The name under the picture, shortened where it is too long, and whole as the tip."""
        room = self.width() - 12
        short = self.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, room)
        self.setText(short.replace("&", "&&"))
        self.setAccessibleName(f"Figure: {name}")
        self.setToolTip(plain_tip(name))

    def show_picture(self, picture: QImage) -> None:
        paper = QPixmap(_PICTURE * _RATIO)
        paper.fill(Qt.GlobalColor.white)
        painter = QPainter(paper)
        spare = paper.size() - picture.size()
        if not picture.isNull():
            painter.drawImage(spare.width() // 2, spare.height() // 2, picture)
        painter.end()
        paper.setDevicePixelRatio(_RATIO)
        self.setIcon(QIcon(paper))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._from, self._home = event.globalPosition().toPoint(), self.pos()
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._from is not None:
            apart = event.globalPosition().toPoint().x() - self._from.x()
            if self.is_dragged or abs(apart) >= QApplication.startDragDistance():
                self.setDown(False)
                self.raise_()
                self.move(self._home.x() + apart, self._home.y())
                return
        super().mouseMoveEvent(event)

    @property
    def is_dragged(self) -> bool:
        """Whether it is somewhere else than at its place, under the hand."""
        return self._from is not None and self.pos() != self._home

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.is_dragged:
            self._from = None
            self.setDown(False)
            self.dragged.emit(self.x() + self.width() // 2)
            return
        self._from = None
        super().mouseReleaseEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        key = event.key() if event is not None else None
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.stepped.emit(-1 if key == Qt.Key.Key_Left else 1)
        else:
            super().keyPressEvent(event)


class FigureRow(Bar):
    """The row; `asked` names an act of the window about the figure in sight."""

    asked = pyqtSignal(str)
    folded = pyqtSignal(bool)

    def __init__(self, bench: Workbench) -> None:
        super().__init__("figureRow")
        self._bench = bench
        self._worker = Worker()
        self._pictures: list[_Picture | None] = []
        self._document: Document | None = None
        # the drawing of the figure in sight, which is there already
        self._drawn: tuple[Figure, Drawing] | None = None
        self.tiles: list[_Tile] = []
        self.is_folded = False
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(_REST_MS)
        self._rest.timeout.connect(self._draw_next)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 3, 10, 3)
        row.setSpacing(6)
        self.fold = ActWord("fold ▾", "Fold the row of figures away", link=True)
        self.fold.clicked.connect(lambda: self.set_folded(not self.is_folded))
        self.word = ChoiceWord("The figure in sight")
        self.word.chosen.connect(lambda place: bench.look_at(int(str(place))))
        self.more = ChoiceWord("Add a figure, or change the one in sight")
        for word in (self.word, self.more):
            word.setProperty("word", None)
            word.setProperty("link", "true")
        self.more.chosen.connect(lambda act: self.asked.emit(str(act)))
        self._area = QScrollArea()
        self._area.setFrameShape(QFrame.Shape.NoFrame)
        self._area.setWidgetResizable(True)
        self._area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._area.setObjectName("figureArea")
        inside = QWidget()
        self._row = QHBoxLayout(inside)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(4)
        self._row.addStretch(1)
        self._area.setWidget(inside)
        self._words = QBoxLayout(QBoxLayout.Direction.TopToBottom)
        self._words.setSpacing(1)
        self._words.addWidget(self.more, 0, Qt.AlignmentFlag.AlignLeft)
        self._words.addWidget(self.fold, 0, Qt.AlignmentFlag.AlignLeft)
        self._words.addStretch(1)
        row.addWidget(self._area, 1)
        row.addWidget(self.word)
        self._space = QWidget()
        row.addWidget(self._space, 1)
        row.addLayout(self._words)
        self.word.hide()
        self._space.hide()
        self.hide()

    def set_folded(self, folded: bool) -> None:
        """Shows the name of the figure in sight alone, or all pictures."""
        if folded != self.is_folded:
            self.folded.emit(folded)
        self.is_folded = folded
        self._area.setVisible(not folded)
        self.word.setVisible(folded)
        self._space.setVisible(folded)
        directions = QBoxLayout.Direction
        self._words.setDirection(directions.LeftToRight if folded else directions.TopToBottom)
        self.fold.setText("figures ▸" if folded else "fold ▾")
        self.fold.setAccessibleName("Show the row of figures" if folded else "Fold the row away")
        if self._document is not None:
            self._show(self._document)

    def show_scene(self, scene: Scene) -> None:
        """Names and order now; pictures as soon as the work rests."""
        document = scene.document
        if document.figures != () and "drawing" in scene.__dict__:
            self._drawn = document.figure, scene.drawing
        self._document = document
        self.setVisible(len(document.figures) > 1)
        if len(document.figures) > 1:
            self._show(document)
            self._rest.start()
        else:
            self._pictures = []

    def _show(self, document: Document) -> None:
        names = figure_names(document)
        self.word.set_choices(
            f"{document.place + 1} of {len(names)}: {names[document.place]}",
            [Choice(str(i), name, i == document.place) for i, name in enumerate(names)],
        )
        self.more.set_choices("figure", [
            Choice("figure-copy", "add a copy of this one"),
            Choice("figure-empty", "add an empty one"),
            Choice("figure-first", "add the first figure of a table…"),
            Choice("figure-residuals", "add the residuals of a trend",
                   enabled=bool(document.figure.panel.trends)),
            Choice("figure-name", "name…", divided=True),
            Choice("figure-earlier", "move earlier", enabled=document.place > 0),
            Choice("figure-later", "move later", enabled=bool(document.after)),
            Choice("figure-remove", "remove"),
        ])  # fmt: skip
        if self.is_folded:
            return
        self._match_pictures(document)
        while len(self.tiles) < len(names):
            self.tiles.append(self._tile(len(self.tiles)))
        while len(self.tiles) > len(names):
            tile = self.tiles.pop()
            self._row.removeWidget(tile)
            tile.deleteLater()
        for place, (tile, name) in enumerate(zip(self.tiles, names, strict=True)):
            tile.show_name(name)
            tile.setChecked(place == document.place)
            known = self._pictures[place]
            if known is not None:
                tile.show_picture(known.image)
        self._area.setFixedHeight(self.tiles[0].sizeHint().height() + 2)
        QTimer.singleShot(0, self._see)

    def _see(self) -> None:
        if self._document is not None and self._document.place < len(self.tiles):
            self._area.ensureWidgetVisible(self.tiles[self._document.place], 30, 0)

    def _match_pictures(self, document: Document) -> None:
        """The pictures that are known, in the order of the figures: of the very same figure, else
        of what stood in its place."""
        known = {id(one.figure): one for one in self._pictures if one is not None}
        places = [*self._pictures, *[None] * len(document.figures)]
        same = len(self._pictures) == len(document.figures)
        self._pictures = [
            known.get(id(figure), places[i] if same else None)
            for i, figure in enumerate(document.figures)
        ]

    def _tile(self, place: int) -> _Tile:
        tile = _Tile()
        tile.clicked.connect(partial(self._look, place))
        tile.dragged.connect(partial(self._put, place))
        tile.stepped.connect(partial(self._step, place))
        tile.customContextMenuRequested.connect(partial(self._open_menu, place))
        tile.installEventFilter(self)
        self._row.insertWidget(place, tile)
        return tile

    def eventFilter(self, watched: object, event: QEvent | None) -> bool:
        if (
            isinstance(watched, _Tile) and event is not None
            and event.type() == QEvent.Type.MouseButtonDblClick and watched.isChecked()
        ):  # fmt: skip
            self.asked.emit("figure-name")
            return True
        return False

    def _look(self, place: int) -> None:
        self._bench.look_at(place)
        # which one is in sight is said by the document, not by the click
        for i, tile in enumerate(self.tiles):
            tile.setChecked(self._document is not None and i == self._document.place)

    def _step(self, place: int, by: int) -> None:
        if 0 <= place + by < len(self.tiles):
            self.tiles[place + by].setFocus()

    def _put(self, place: int, x: int) -> None:
        """Takes a tile that was let go of with its middle at x to where that is in the order."""
        others = [t for i, t in enumerate(self.tiles) if i != place]
        to = sum(tile.x() + tile.width() // 2 < x for tile in others)
        self._row.invalidate()
        self._row.activate()
        if to != place:
            self._bench.edit_document("moved a figure", lambda d: move_figure(d, place, to))

    def _open_menu(self, place: int, at: QPoint) -> None:
        self._bench.look_at(place)
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        acts: dict[str, Callable[[], object]] = {
            "Name…": partial(self.asked.emit, "figure-name"),
            "Add a copy": partial(self.asked.emit, "figure-copy"),
            "Remove": partial(
                self._bench.edit_document, "removed a figure", lambda d: remove_figure(d, place)
            ),
        }
        for words, act in acts.items():
            action = menu.addAction(words)
            if action is not None:
                action.triggered.connect(lambda _=False, act=act: act())
        menu.popup(self.tiles[place].mapToGlobal(at))

    # -- pictures ------------------------------------------------------------------------------

    @property
    def is_up_to_date(self) -> bool:
        """Whether every picture is of what it stands for."""
        return self._document is None or not list(self._outdated(self._document))

    def _outdated(self, document: Document) -> Iterator[tuple[int, Figure, tuple[Table, ...]]]:
        """The figures whose pictures are of other figures or readings, with their tables."""
        for place, figure in enumerate(document.figures):
            tables = _tables_of(figure, document)
            known = self._pictures[place] if place < len(self._pictures) else None
            if known is None or known.figure is not figure or not _same(known.tables, tables):
                yield place, figure, tables

    def _draw_next(self) -> None:
        """Draws one of the pictures that are not of what they stand for; then the next."""
        document = self._document
        if document is None or self._worker.is_busy or self._bench.in_gesture or self.is_folded:
            return
        for place, figure, tables in list(self._outdated(document)):
            if self._drawn is not None and self._drawn[0] is figure:
                drawing = self._drawn[1]
                self._take(place, _Picture(figure, tables, _small(drawing)))
                continue
            then = partial(self._take_and_go, place, figure, tables)
            self._worker.start("", partial(_drawn, figure, document), then, lambda _: None)
            return

    def _take_and_go(
        self, place: int, figure: Figure, tables: tuple[Table, ...], picture: QImage
    ) -> None:
        now = self._document
        if now is not None and place < len(now.figures) and now.figures[place] is figure:
            self._take(place, _Picture(figure, tables, picture))
        self._draw_next()

    def _take(self, place: int, picture: _Picture) -> None:
        if place < len(self._pictures):
            self._pictures[place] = picture
            if place < len(self.tiles):
                self.tiles[place].show_picture(picture.image)


def _tables_of(figure: Figure, document: Document) -> tuple[Table, ...]:
    """The tables that a figure is drawn from."""
    drawn = {series.table for panel in figure.panels for series in panel.series}
    return tuple(table for table in document.tables if table.name in drawn)


def _same(one: tuple[Table, ...], other: tuple[Table, ...]) -> bool:
    return len(one) == len(other) and all(a is b for a, b in zip(one, other, strict=True))


def _small(drawing: Drawing) -> QImage:
    width, height = drawing.width_mm, drawing.height_mm
    return image(drawing, min((_PICTURE.width() * _RATIO) / width,
                              (_PICTURE.height() * _RATIO) / height))  # fmt: skip


def _drawn(figure: Figure, document: Document) -> QImage:
    """The picture of a figure, an empty one where it cannot be drawn."""
    try:
        with waiting():
            return _small(draw_figure(figure, document.tables, QtMeasure()))
    except (SornixError, ArithmeticError):
        blank = QImage(_PICTURE * _RATIO, QImage.Format.Format_RGB32)
        blank.fill(0xFFFFFFFF)
        return blank
