"""The statement: the sentence that says what the figure does, each changeable word a control."""

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from sornix.core import figure as edits
from sornix.core.figure import (
    AXES,
    Panel,
)
from sornix.gui.base.plain import plain_label
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
from sornix.gui.session.workbench import Scene, Workbench
from sornix.gui.statement.figureline import FigureLine
from sornix.gui.statement.plotline import PlotLine
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


class _ScaleWords(QWidget):
    """“x from 0 to 12 every 2 →”."""

    def __init__(self, bench: Workbench, axis: str) -> None:
        super().__init__()
        self._bench, self._axis = bench, axis
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
        self._bench = bench
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(18, 7, 14, 8)
        self._column.setSpacing(5)
        self._shape: object = None
        self.panels: PanelsLine | None = None
        self.plots: list[PlotLine] = []
        self.curves: list[CurveLine] = []
        # the series whose further lines are open, and what holds these
        self._opened = ""
        self.further = QWidget()
        self._lines: SeriesLines | None = None
        # the trend whose further lines are open
        self._opened_trend = ""
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

    def show_scene(self, scene: Scene) -> None:
        """Shows a scene; lines are made anew only where their number or order changed."""
        panel = scene.figure.panel
        ids = [series.id for series in panel.series]
        curves = [(curve.id, [c.name for c in curve.constants]) for curve in panel.curves]
        trends = [trend.id for trend in panel.trends]
        shape = (ids, trends, panel.axes, len(scene.figure.panels), curves)
        if shape != self._shape:
            self._shape = shape
            self._make_lines(panel, len(scene.figure.panels))
        parts: list[PlotLine | _ScaleWords | TrendLine] = [*self.plots, *self.trends]
        if self.panels is not None:
            self.panels.show_scene(scene)
        for part in (*parts, *self.curves, *self.scales.values()):
            part.show_scene(scene)
        self.figure_line.show_scene(scene)
        if self.choices is not None:
            self.choices.show_scene(scene)
        if self._lines is not None and self._opened in ids:
            self._lines.show_scene(scene)
        if self.trend_lines is not None and self._opened_trend in trends:
            self.trend_lines.show_scene(scene)

    @property
    def series_lines(self) -> "SeriesLines | None":
        """The further lines of a series, where they are open."""
        return self._lines

    def _open_series(self, series_id: str, opened: bool) -> None:
        """Shows the further lines of a series, or hides them; one series is open at a time."""
        if self._lines is not None:
            self._lines.hide()
            self._lines.deleteLater()
            self._lines = None
        self._opened = series_id if opened else ""
        self.further.setVisible(opened)
        for plot in self.plots:
            if plot.series_id != series_id and plot.further.isChecked():
                plot.further.blockSignals(True)
                plot.further.setChecked(False)
                plot.further.blockSignals(False)
        layout = self.further.layout()
        if opened and layout is not None:
            from sornix.gui.statement.serieslines import SeriesLines

            self._lines = SeriesLines(self._bench, series_id)
            layout.addWidget(self._lines)
            if self._bench.scene is not None:
                self._lines.show_scene(self._bench.scene)

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
        self._opened_trend = trend_id if opened else ""
        for line in self.trends:
            line.further.blockSignals(True)
            line.further.setChecked(opened and line.trend_id == trend_id)
            line.further.blockSignals(False)
        scene = self._bench.scene
        if opened and scene is not None:
            from sornix.gui.statement.trendlines import TrendLines

            self.trend_lines = TrendLines(self._bench, trend_id)
            self.trend_lines.show_scene(scene)
            at = next(i for i, line in enumerate(self.trends) if line.trend_id == trend_id)
            self._column.insertWidget(self._column.indexOf(self.trends[at]) + 1, self.trend_lines)
            self.opened.emit()

    def _make_lines(self, panel: Panel, panels: int) -> None:
        while (item := self._column.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None and widget not in (self.further, self.figure_line, self.choices):
                widget.hide()
                widget.deleteLater()
        series = [one.id for one in panel.series]
        self.plots = [PlotLine(self._bench, s, i == 0) for i, s in enumerate(series)]
        self.scales = {axis: _ScaleWords(self._bench, axis) for axis in panel.axes}
        scale_line = StatementLine("Scales")
        scale_line.add(*self.scales.values())
        self.trends = [
            TrendLine(self._bench, t, i == 0)
            for i, t in enumerate([trend.id for trend in panel.trends] or [None])
        ]
        self.panels = None
        if panels > 1:
            from sornix.gui.statement.panelsline import PanelsLine

            self.panels = PanelsLine(self._bench, panels)
            self._column.addWidget(self.panels)
        self._column.addWidget(scrolling(self.plots))
        for i, plot in enumerate(self.plots):
            plot.further.toggled.connect(partial(self._open_series, series[i]))
        self.further.hide()
        self._column.addWidget(self.further)
        if self._opened in series:
            self.plots[series.index(self._opened)].further.setChecked(True)
        if panel.curves:
            from sornix.gui.statement.curveline import CurveLine
        self.curves = [CurveLine(self._bench, c, i == 0) for i, c in enumerate(panel.curves)]
        for line in (scale_line, *self.curves, *self.trends, self.figure_line):
            self._column.addWidget(line)
        if self.choices is not None:
            self._column.addWidget(self.choices)
        self.trend_lines = None
        for trend in self.trends:
            trend.opened.connect(self._open_trend_line)
        known = [trend.id for trend in panel.trends]
        self.open_trend(self._opened_trend, opened=self._opened_trend in known)

    def _open_choices(self, opened: bool) -> None:
        """Shows the further lines about the figure, or hides them."""
        if self.choices is not None:
            self.choices.hide()
            self.choices.deleteLater()
            self.choices = None
        scene = self._bench.scene
        if opened and scene is not None:
            from sornix.gui.statement.figureline import FigureChoices

            self.choices = FigureChoices(self._bench)
            self.choices.show_scene(scene)
            self._column.addWidget(self.choices)
            self.opened.emit()

    def _open_trend_line(self, trend_id: str, opened: bool) -> None:
        self.open_trend(trend_id, opened=opened)
