"""The statement: the sentence that says what the figure does, each changeable word a control."""

from collections.abc import Sequence
from functools import partial
from operator import is_
from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from sornix.core import figure as edits
from sornix.core.figure import AXES, Figure, Panel
from sornix.core.figure.edits.panelstogether import spread_panels
from sornix.core.figure.edits.together import series_lines, set_columns, trend_lines
from sornix.gui.base.plain import plain_label
from sornix.gui.session.editing import Editing, Together
from sornix.gui.session.scalewords import (
    PARTS,
    choose_kind,
    free_part,
    hold_typed,
    nudge,
    show_direction,
    show_held,
    show_kind,
    shows_range,
)
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench
from sornix.gui.statement.figureline import FigureLine
from sornix.gui.statement.plotline import PlotLine, column_ticks
from sornix.gui.statement.trendline import TrendLine
from sornix.gui.widgets.bars import Bar
from sornix.gui.widgets.inlinecontrols import (
    ActWord,
    ChoiceWord,
    NumberWord,
    StatementLine,
    scrolling,
)

if TYPE_CHECKING:
    from sornix.gui.statement.curveline import CurveLine
    from sornix.gui.statement.figureline import FigureChoices
    from sornix.gui.statement.panelsline import PanelsLine
    from sornix.gui.statement.serieslines import SeriesLines
    from sornix.gui.statement.trendlines import TrendLines
    from sornix.gui.widgets.ticklist import TickList


class _ScaleWords(QWidget):
    """“x from 0 to 12 every 2 →”."""

    def __init__(self, bench: Editing, axis: str) -> None:
        super().__init__()
        self._bench, self._axis = bench, axis
        # what was shown last follows from these
        self._told: list[object] = []
        self.fields = {part: NumberWord(f"{AXES[axis]} {word}") for part, word in PARTS.items()}
        self.direction = ActWord("", "")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 8, 0)
        row.setSpacing(5)
        words = (f"{AXES[axis]} from", "to", "every")
        self._labels = [plain_label(word) for word in words]
        for label, field in zip(self._labels, self.fields.values(), strict=True):
            row.addWidget(label)
            row.addWidget(field)
        self.kind = ChoiceWord(f"The kind of scale of {AXES[axis]}")
        self.kind.chosen.connect(lambda chosen: choose_kind(bench, axis, chosen))
        row.addWidget(self.kind)
        row.addWidget(self.direction)
        for part, field in self.fields.items():
            field.entered.connect(partial(hold_typed, bench, axis, part, field))
            field.freed.connect(partial(free_part, bench, axis, part))
            field.nudged.connect(partial(nudge, bench, axis, part))
        self.direction.clicked.connect(
            lambda: bench.edit(f"reversed {AXES[axis]}", lambda f: edits.reverse(f, axis))
        )

    def show_scene(self, scene: Scene) -> None:
        """Shows the scale of the axis in a scene; an edit of one leaves the others as they are."""
        scale, resolved = scene.figure.panel.scale(self._axis), scene.place.scale(self._axis)
        told = [scale, resolved, scene.tables, *(panel.series for panel in scene.figure.panels)]
        same = len(told) == len(self._told) and all(map(is_, told, self._told))
        if same and not any(field.is_touched for field in self.fields.values()):
            return
        self._told = told
        shows_range(self.fields.values(), self._labels, scene, self._axis)
        for part, field in self.fields.items():
            show_held(field, scene, self._axis, part)
        show_kind(self.kind, scene, self._axis)
        # a linear scale, and time for times, go without saying
        self.kind.setVisible(not scene.place.scale(self._axis).traits.plain)
        show_direction(self.direction, scene, self._axis)


class Statement(Bar):
    """All lines of the statement of the panel in hand; `opened` tells of lines that have come."""

    opened = pyqtSignal()
    # an act of the window, by its name
    asked = pyqtSignal(str)

    def __init__(self, bench: Workbench) -> None:
        super().__init__("statement")
        self._workbench = bench
        # words change all panels that are alike, unless the one in hand is to be alone
        self._alone = False
        self._bench: Editing = Together(bench, self._spread)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(18, 5, 14, 5)
        self._column.setSpacing(3)
        self._shape: object = None
        # series that are to stand by themselves, though others are alike
        self._apart: set[str] = set()
        self.ticks: TickList | None = None
        # the series whose columns are listed
        self._ticked: tuple[str, ...] = ()
        self.panels: PanelsLine | None = None
        self.plots: list[PlotLine] = []
        self.curves: list[CurveLine] = []
        # the series whose further lines are open, and whether these are its own alone
        self._opened, self._single = "", False
        self.further = QWidget()
        self._lines: SeriesLines | None = None
        # the trend whose further lines are open
        self.opened_trend = ""
        self.trend_lines: TrendLines | None = None
        self.figure_line = FigureLine(bench)
        self.figure_line.asked.connect(self.asked)
        self.figure_line.further.toggled.connect(self._open_choices)
        self.choices: FigureChoices | None = None
        holder = QVBoxLayout(self.further)
        holder.setContentsMargins(0, 0, 0, 0)
        self.scales: dict[str, _ScaleWords] = {}
        self.trends: list[TrendLine] = []
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def _spread(self, before: Figure, after: Figure) -> Figure:
        return after if self._alone else spread_panels(before, after)

    def _take_scope(self, alone: object) -> None:
        self._alone = bool(alone)
        if self._bench.scene is not None:
            self.show_scene(self._bench.scene)

    def show_scene(self, scene: Scene) -> None:
        """Shows a scene; lines are made anew only where their number or order changed."""
        panel = scene.figure.panel
        ids = [series.id for series in panel.series]
        # what is not alike any more goes back by itself once it is again
        alike = {one for line in series_lines(panel, scene.tables) if len(line) > 1 for one in line}
        self._apart &= alike
        lines = series_lines(panel, scene.tables, self._apart)
        trend_ids = trend_lines(panel, lines)
        curves = [(curve.id, [c.name for c in curve.constants]) for curve in panel.curves]
        trends = [trend.id for trend in panel.trends]
        shape = (lines, trend_ids, panel.axes, len(scene.figure.panels), curves)
        if shape != self._shape:
            self._shape = shape
            self._make_lines(panel, len(scene.figure.panels), lines, trend_ids)
        parts: list[PlotLine | _ScaleWords | TrendLine] = [*self.plots, *self.trends]
        if self.panels is not None:
            self.panels.show_scene(scene)
            self.panels.show_scope(scene, alone=self._alone)
        for part in (*parts, *self.curves, *self.scales.values()):
            part.show_scene(scene)
        # what has no axes has no scales, and no trend is drawn there
        for line in (self._scale_line, *self.curves, *self.trends):
            line.setVisible(panel.has_axes)
        self.figure_line.show_scene(scene)
        if self.choices is not None:
            self.choices.show_scene(scene)
        if self._lines is not None and self._opened in ids:
            self._lines.show_scene(scene)
        if self.trend_lines is not None and self.opened_trend in trends:
            self.trend_lines.show_scene(scene)
            self.trend_lines.setVisible(panel.has_axes)

    @property
    def series_lines(self) -> "SeriesLines | None":
        """The further lines of a series, where they are open."""
        return self._lines

    def _open_line(self, plot: PlotLine, opened: bool) -> None:
        """Shows the further lines of all series of a line, or hides them."""
        self._show_further(plot.series_id if opened else "", plot.edits)

    def _open_single(self, series_id: str) -> None:
        """Shows what is single to one series of a line, or hides it."""
        wanted = "" if self._single and self._opened == series_id else series_id
        self._show_further(wanted, self._bench, single=True)

    def _show_further(self, series_id: str, bench: Editing, *, single: bool = False) -> None:
        """Shows the further lines of a series, or none; those of one are open at a time."""
        if self._lines is not None:
            self._lines.hide()
            self._lines.deleteLater()
            self._lines = None
        self._opened, self._single = series_id, single
        self.further.setVisible(bool(series_id))
        for plot in self.plots:
            on = series_id == plot.series_id and not single
            buttons = [(plot.further, on)]
            buttons += [(b, single and one == series_id) for one, b in plot.swatches.items()]
            for button, checked in buttons:
                button.blockSignals(True)
                button.setChecked(checked)
                button.blockSignals(False)
        layout = self.further.layout()
        if series_id and layout is not None:
            from sornix.gui.statement.serieslines import SeriesLines

            self._lines = SeriesLines(bench, series_id)
            self._lines.apart.setVisible(single)
            self._lines.about.setVisible(single)
            self._lines.apart.clicked.connect(partial(self._set_apart, series_id))
            layout.addWidget(self._lines)
            if self._bench.scene is not None:
                self._lines.show_scene(self._bench.scene)

    def _open_again(self) -> None:
        """Shows what was open before the lines were made anew, where it is still there."""
        opened = self._opened
        plot = next((plot for plot in self.plots if opened in plot.ids), None)
        if plot is not None and self._single and len(plot.ids) > 1:
            self._opened = ""
            self._open_single(opened)
        elif plot is not None:
            plot.further.setChecked(True)

    def _set_apart(self, series_id: str) -> None:
        """A line of its own for a series."""
        self._apart.add(series_id)
        self._single = False
        if self._bench.scene is not None:
            self.show_scene(self._bench.scene)

    # -- the columns of a line -------------------------------------------------------------------

    def _list_columns(self, plot: PlotLine, word: QWidget) -> None:
        """Lists the columns that a line can draw, for ticks."""
        from sornix.gui.widgets.ticklist import TickList

        scene = self._bench.scene
        if scene is None:
            return
        self._ticked = plot.ids
        if self.ticks is None:
            self.ticks = TickList("The columns that are drawn", self)
            self.ticks.changed.connect(self._tick)
        self.ticks.open_under(word, *column_ticks(scene, plot.ids))

    def _tick(self, names: list[str]) -> None:
        ids = self._ticked
        if not self._bench.edit("changed which columns are drawn",
                                lambda f: set_columns(f, ids, names)):  # fmt: skip
            return
        scene = self._bench.scene
        if scene is not None:
            own = edits.own_axis(scene.figure.panel)
            drawn = {s.column(own): s.id for s in scene.figure.panel.series}
            self._ticked = tuple(drawn[name] for name in names if name in drawn)

    @staticmethod
    def _line_of(
        panel: Panel, trend_ids: Sequence[str], lines: list[tuple[str, ...]]
    ) -> tuple[str, ...]:
        """The series of the line that some trends go through; of the first line, for none."""
        of = panel.one_trend(trend_ids[0]).series if trend_ids else lines[0][0]
        return next(ids for ids in lines if of in ids)

    def preview(self, scene: Scene) -> None:
        """Shows the scales and the ranges of trends of a scene while a gesture goes on."""
        for words in self.scales.values():
            words.show_scene(scene)
        ids = {trend.id for trend in scene.figure.panel.trends}
        for line in self.trends:
            if line.trend_id in ids:
                line.show_ends(scene)

    def open_trend(self, trend_id: str, *, opened: bool = True) -> None:
        """Shows the further lines of a trend, or hides them; one trend is open at a time."""
        if self.trend_lines is not None:
            self.trend_lines.hide()
            self.trend_lines.deleteLater()
            self.trend_lines = None
        self.opened_trend = trend_id if opened else ""
        for line in self.trends:
            line.further.blockSignals(True)
            line.further.setChecked(opened and trend_id in line.ids)
            line.further.blockSignals(False)
        scene = self._bench.scene
        if opened and scene is not None:
            from sornix.gui.statement.trendlines import TrendLines

            line = next(line for line in self.trends if trend_id in line.ids)
            self.trend_lines = TrendLines(line.edits, line.ids[0])
            self.trend_lines.show_scene(scene)
            self.trend_lines.keep.clicked.connect(lambda: self.asked.emit("save-shape"))
            self._column.insertWidget(self._column.indexOf(line) + 1, self.trend_lines)
            self.opened.emit()

    def _make_lines(
        self, panel: Panel, panels: int, lines: list[tuple[str, ...]],
        trend_ids: list[tuple[str, ...]],
    ) -> None:  # fmt: skip
        while (item := self._column.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None and widget not in (self.further, self.figure_line, self.choices):
                widget.hide()
                widget.deleteLater()
        self.plots = [PlotLine(self._bench, ids, i == 0) for i, ids in enumerate(lines)]
        self.scales = {axis: _ScaleWords(self._bench, axis) for axis in panel.axes}
        self._scale_line = StatementLine("Scales")
        self._scale_line.add(*self.scales.values())
        self.trends = [
            TrendLine(self._bench, ids, self._line_of(panel, ids, lines), i == 0)
            for i, ids in enumerate(trend_ids or [()])
        ]
        self.panels = None
        if panels > 1:
            from sornix.gui.statement.panelsline import PanelsLine

            self.panels = PanelsLine(self._workbench, panels)
            self.panels.scope.chosen.connect(self._take_scope)
            self._column.addWidget(self.panels)
        self._column.addWidget(scrolling(self.plots))
        for plot in self.plots:
            plot.further.toggled.connect(partial(self._open_line, plot))
            plot.singled.connect(self._open_single)
            plot.listing.connect(partial(self._list_columns, plot))
        self.further.hide()
        self._column.addWidget(self.further)
        self._open_again()
        if panel.curves:
            from sornix.gui.statement.curveline import CurveLine
        self.curves = [CurveLine(self._workbench, c, i == 0) for i, c in enumerate(panel.curves)]
        for line in (self._scale_line, *self.curves, *self.trends, self.figure_line):
            self._column.addWidget(line)
        if self.choices is not None:
            self._column.addWidget(self.choices)
        self.trend_lines = None
        for trend in self.trends:
            trend.opened.connect(self._open_trend_line)
        known = [trend.id for trend in panel.trends]
        self.open_trend(self.opened_trend, opened=self.opened_trend in known)

    def _open_choices(self, opened: bool) -> None:
        """Shows the further lines about the figure, or hides them."""
        if self.choices is not None:
            self.choices.hide()
            self.choices.deleteLater()
            self.choices = None
        scene = self._bench.scene
        if opened and scene is not None:
            from sornix.gui.statement.figureline import FigureChoices

            self.choices = FigureChoices(self._workbench)
            self.choices.show_scene(scene)
            self._column.addWidget(self.choices)
            self.opened.emit()

    def _open_trend_line(self, trend_id: str, opened: bool) -> None:
        self.open_trend(trend_id, opened=opened)
