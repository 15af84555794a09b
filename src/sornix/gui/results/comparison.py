"""Shapes through the same readings in a table under the figure, where it can be read: each with its
equation, its numbers and its residuals, and drawn on the figure in its colour while it is pointed
at."""

from collections.abc import Callable, Sequence
from itertools import cycle
from typing import NamedTuple

from attrs import evolve
from PyQt6.QtCore import QEvent, QObject, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QIcon, QKeyEvent, QPixmap
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
)

from sornix.core.drawing import draw_residuals, style_of
from sornix.core.errors import SornixError
from sornix.core.figure import Figure, Panel, Trend, add_curve, change_trend, trend_model
from sornix.core.figure.model.additions import Constant
from sornix.core.figure.prose.comparing import ALIKE, USUAL, Compared, compared, nested
from sornix.core.text import r_squared_text, shortest, significant
from sornix.core.trends import MODELS
from sornix.core.trends.fits.account import p_text, parameter_rows
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.session.editing import Editing
from sornix.gui.session.scene import Scene
from sornix.gui.widgets.bars import Bar
from sornix.gui.widgets.inlinecontrols import ActWord, ChoiceWord
from sornix.gui.widgets.shapechoices import shape_choices
from sornix.paint.export import image

_HEADS = ("shape", "equation", "parameters", "scatter", "AICc", "residuals against x")
_WIDTHS = (178, 100, 80, 58, 66, 128)
_SHAPE, _EQUATION, _RESIDUALS = 0, 1, 5
_PICTURE = QSize(120, 20)
_PICTURE_MM = (40.0, 6.7)
_MOST_ROWS = 5


class _Cell(QTableWidgetItem):
    """A cell that is sorted by a number, or by its text; what has none comes last."""

    def __init__(self, text: str, by: float | None = None, *, is_text: bool = False) -> None:
        super().__init__(text)
        self.by: tuple[float, str] = (0.0, text) if is_text else (
            (float("inf"), "") if by is None else (by, ""))  # fmt: skip
        self.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)

    def __lt__(self, other: QTableWidgetItem) -> bool:
        return isinstance(other, _Cell) and self.by < other.by


class _Told(NamedTuple):
    """A row: what was tried, and the place in the palette that it is drawn in."""

    one: Compared
    palette_index: int


class Comparison(Bar):
    """The table; `closed` when it is not wanted any more."""

    closed = pyqtSignal()

    def __init__(self, bench: Editing, copy: Callable[[str], None]) -> None:
        super().__init__("comparison")
        self._bench, self._copy = bench, copy
        self.trend_id = ""
        self._shapes = list(USUAL)
        self._told: dict[str, _Told] = {}
        self._drawn = ""
        self.table = QTableWidget(0, len(_HEADS))
        self.table.setAccessibleName("Shapes compared")
        self.table.setHorizontalHeaderLabels(list(_HEADS))
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setIconSize(_PICTURE)
        self.table.setShowGrid(False)
        self.table.setMouseTracking(True)
        side, head = self.table.verticalHeader(), self.table.horizontalHeader()
        assert side is not None and head is not None
        side.hide()
        side.setDefaultSectionSize(_PICTURE.height() + 5)
        head.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        for number, width in enumerate(_WIDTHS):
            self.table.setColumnWidth(number, width)
        head.setSectionResizeMode(_EQUATION, QHeaderView.ResizeMode.Stretch)
        self.table.setSortingEnabled(True)
        self.table.sortByColumn(_HEADS.index("AICc"), Qt.SortOrder.AscendingOrder)
        self.judged = plain_label("")
        self.judged.setObjectName("small")
        self.judged.setWordWrap(True)
        self.shapes = ChoiceWord("Shapes that are compared")
        self.shapes.chosen.connect(self._toggle)
        self.keep = QPushButton("keep")
        self.keep.clicked.connect(self._keep)
        self.copy = ActWord("copy", "Copy the comparison as text", link=True)
        self.copy.clicked.connect(lambda: self._copy(self.text))
        self.close_act = ActWord("close", "Close the comparison", link=True)
        self.close_act.clicked.connect(self.leave)
        row = QHBoxLayout()
        row.addWidget(self.shapes)
        row.addWidget(self.keep)
        row.addStretch(1)
        row.addWidget(self.copy)
        row.addWidget(self.close_act)
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 6, 14, 8)
        column.setSpacing(4)
        column.addWidget(self.table)
        column.addWidget(self.judged)
        column.addLayout(row)
        self.table.cellEntered.connect(lambda row, _: self._point_at(row))
        self.table.currentCellChanged.connect(lambda row, *_: self._picked(row))
        self.table.cellDoubleClicked.connect(lambda *_: self._keep())
        self.table.installEventFilter(self)
        viewport = self.table.viewport()
        assert viewport is not None
        viewport.installEventFilter(self)

    # -- showing ---------------------------------------------------------------------------------

    @property
    def text(self) -> str:
        """The table and what it means, as it stands."""
        rows = [
            "\t".join(self._cell(row, c) for c in range(_RESIDUALS))
            for row in range(self.table.rowCount())
        ]
        return "\n".join(["\t".join(_HEADS[:_RESIDUALS]), *rows, self.judged.text()])

    def _cell(self, row: int, column: int) -> str:
        item = self.table.item(row, column)
        return item.text() if item is not None else ""

    def compare(self, trend_id: str) -> None:
        """Compares the shape of a trend with others."""
        self.trend_id = trend_id
        scene = self._bench.scene
        if scene is not None:
            with scene.looking():
                self.show_scene(scene)
        self.table.setFocus()

    def show_scene(self, scene: Scene) -> None:
        """Shows how shapes go through the readings of a scene."""
        if self._drawn:
            return
        panel = scene.figure.panel
        trend = next((t for t in panel.trends if t.id == self.trend_id), None)
        if trend is None:
            self.leave()
            return
        names = [trend.model, *(name for name in self._shapes if name != trend.model)]
        found = compared(trend, panel, scene.tables, names)
        places = _places(panel, trend, names, len(style_of(scene.figure).looks))
        told = {one.words: _Told(one, places[one.trend.model]) for one in found}
        if {w: (t.one.fit, t.one.pending) for w, t in told.items()} != {
            w: (t.one.fit, t.one.pending) for w, t in self._told.items()
        }:
            self._told = told
            self._fill(scene, trend)
        tests = (
            f"F test, {t.small} within {t.large}: p {p_text(t.test.p)}." for t in nested(found)
        )
        self.judged.setText(" ".join([_judged(found), *tests]))
        models = [model for model in MODELS.values() if model.names]
        self.shapes.set_choices("shapes", shape_choices(names, models))

    def _fill(self, scene: Scene, trend: Trend) -> None:
        style = style_of(scene.figure)
        now = self._at(self.table.currentRow())
        self.table.setSortingEnabled(False)
        self.table.setRowCount(len(self._told))
        look = style.look_of(scene.figure.panel.one_series(trend.series)).colour
        for row, (words, told) in enumerate(self._told.items()):
            one, colour = told.one, style.look(told.palette_index).colour
            for column, cell in enumerate(_cells(one)):
                self.table.setItem(row, column, cell)
            shape = self.table.item(row, _SHAPE)
            assert shape is not None
            present = one.trend.model == trend.model
            swatch = QPixmap(12, 12)
            swatch.fill(QColor(colour))
            shape.setIcon(_as_it_is(swatch))
            shape.setText(f"{words} ✓" if present else words)
            shape.setToolTip("This one is on the figure" if present else "")
            shape.setData(Qt.ItemDataRole.UserRole, words)
            if one.fit is not None:
                drawing = draw_residuals(one.fit, style, (look, colour), _PICTURE_MM)
                picture = image(drawing, 2 * _PICTURE.width() / _PICTURE_MM[0])
                picture.setDevicePixelRatio(2)
                residuals = self.table.item(row, _RESIDUALS)
                assert residuals is not None
                residuals.setIcon(_as_it_is(QPixmap.fromImage(picture)))
        self.table.setSortingEnabled(True)
        side = self.table.verticalHeader()
        head = self.table.horizontalHeader()
        assert side is not None and head is not None
        rows = min(len(self._told), _MOST_ROWS)
        self.table.setFixedHeight(rows * side.defaultSectionSize() + head.sizeHint().height() + 4)
        for row in range(self.table.rowCount()):
            if self._at(row) == now:
                self.table.selectRow(row)
        if now is None:
            self.table.selectRow(0)
        self._picked(self.table.currentRow())

    def _at(self, row: int) -> str | None:
        """The words of the shape in a row."""
        item = self.table.item(row, _SHAPE)
        return str(item.data(Qt.ItemDataRole.UserRole)) if item is not None else None

    # -- pointing and keeping --------------------------------------------------------------------

    def _picked(self, row: int) -> None:
        words = self._at(row)
        told = self._told.get(words or "")
        can = told is not None and told.one.fit is not None and told.one.trend.id == self.trend_id
        self.keep.setEnabled(can)
        self.keep.setText(f"keep the {words}" if words else "keep")
        self.keep.setAccessibleName(f"Keep the {words}")
        if self.table.hasFocus():
            self._point_at(row)

    def _point_at(self, row: int) -> None:
        """Draws a shape on the figure in its colour, until another one is pointed at."""
        words = self._at(row)
        told = self._told.get(words or "")
        if words == self._drawn:
            return
        self._unpoint()
        if told is None or told.one.fit is None:
            return
        fit = told.one.fit
        formula = trend_model(told.one.trend).formula
        if not formula:
            return
        values = dict(zip(fit.names, fit.values, strict=True))

        def change(figure: Figure) -> Figure:
            shown = add_curve(figure, fit.along.in_formula(formula), told.one.words)
            curve = shown.panel.curves[-1]
            constants = tuple(
                Constant(c.name, values.get(c.name, c.value)) for c in curve.constants
            )
            curve = evolve(curve, constants=constants, palette_index=told.palette_index)
            return shown.with_panel(evolve(shown.panel, curves=(*shown.panel.curves[:-1], curve)))

        try:
            self._drawn = told.one.words
            self._bench.preview(change)
        except SornixError:
            self._unpoint()

    def _unpoint(self) -> None:
        if self._drawn:
            self._drawn = ""
            self._bench.cancel()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        kind = event.type() if event is not None else QEvent.Type.None_
        if kind in (QEvent.Type.Leave, QEvent.Type.FocusOut):
            self._unpoint()
        if isinstance(event, QKeyEvent) and kind == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._keep()
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.leave()
                return True
        return super().eventFilter(watched, event)

    def leave(self) -> None:
        """Closes the comparison."""
        self._unpoint()
        self.trend_id = ""
        self._told = {}
        self.hide()
        self.closed.emit()

    def _keep(self) -> None:
        told = self._told.get(self._at(self.table.currentRow()) or "")
        if told is None or told.one.fit is None:
            return
        self._unpoint()
        kept, trend_id = told.one.trend, self.trend_id
        self._bench.edit(
            f"kept the {told.one.words}",
            lambda f: change_trend(f, trend_id, model=kept.model, on_logs=False,
                                   method=kept.method, weights=kept.weights),
        )  # fmt: skip

    def _toggle(self, name: object) -> None:
        shape = str(name)
        if shape in self._shapes:
            self._shapes.remove(shape)
        else:
            self._shapes.append(shape)
        scene = self._bench.scene
        if scene is not None:
            with scene.looking():
                self.show_scene(scene)


def _places(panel: Panel, trend: Trend, names: list[str], looks: int) -> dict[str, int]:
    """The places of shapes in a palette of so many `looks`: the one that is on the figure has the
    colour that it has there; as long as there are enough, no other has that or one of a series."""
    own = panel.one_series(trend.series).palette_index
    own += 1 + panel.trends.index(trend) if len(panel.series) == 1 else 0
    drawn = [s.palette_index for s in panel.series] + [c.palette_index for c in panel.curves]
    taken = {place % looks for place in (own, *drawn)}
    free = cycle([place for place in range(looks) if place not in taken] or range(looks))
    return {name: own if name == trend.model else next(free) for name in names}


def _as_it_is(picture: QPixmap) -> QIcon:
    """An icon of the same colours in a row that is picked: the line on the figure has them too."""
    icon = QIcon(picture)
    icon.addPixmap(picture, QIcon.Mode.Selected)
    return icon


def _cells(one: Compared) -> list[_Cell]:
    """The cells of a shape, in the order of the columns."""
    if one.fit is None:
        why = "being fitted…" if one.pending else one.why
        return [_Cell(one.words, is_text=True), _Cell(why, is_text=True), *map(_Cell, [""] * 4)]
    fit = one.fit
    equation = _Cell(one.equation.text if one.equation is not None else "", is_text=True)
    adjusted, scatter, apart = fit.adjusted_r_squared, fit.residual_sd, one.apart
    values = "\n".join(f"{row.name}: {row.value}" for row in parameter_rows(fit))
    if adjusted is not None:
        values += f"\nadjusted R²: {r_squared_text(adjusted)}"
    equation.setToolTip(plain_tip("\n".join([values, *fit.notes])))
    count = _Cell(str(len(fit.names)), len(fit.names))
    count.setToolTip(plain_tip(values))
    further = "least" if apart == 0 else f"+ {shortest(apart or 0.0, 0.05)}"
    return [
        _Cell(one.words, is_text=True),
        equation,
        count,
        _Cell("" if scatter is None else significant(scatter, 2), scatter),
        _Cell("" if apart is None else further, apart),
        _Cell("", scatter),
    ]


def _judged(found: Sequence[Compared]) -> str:
    """What the numbers say about which shape to keep, and what they do not."""
    alike = [one.words for one in found if one.apart is not None and one.apart <= ALIKE]
    said = "R² cannot choose: it never falls when a shape has more parameters. "
    if len(alike) > 1:
        names = ", ".join(alike[:-1]) + " and " + alike[-1]
        said += f"By AICc these readings do not tell {names} apart; take the one that has a reason."
    elif alike:
        said += f"By AICc the {alike[0]} is ahead; look at its residuals too."
    return said
