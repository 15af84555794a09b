"""The statement: the sentence that says what the figure does, each changeable word a control."""

from collections.abc import Sequence
from functools import partial
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from sornix.core import figure as edits
from sornix.core.drawing import STYLES
from sornix.core.drawing.marks import trend_colour
from sornix.core.errors import TrendImpossible
from sornix.core.figure import (
    AXES,
    SHOWS,
    Figure,
    Panel,
    Trend,
    series_points,
    trend_fit,
)
from sornix.core.scales import KINDS
from sornix.core.text import plural
from sornix.core.trends import MODELS
from sornix.desk.bars import Bar
from sornix.desk.plotline import PlotLine
from sornix.desk.scalewords import (
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
from sornix.desk.theme import readable
from sornix.desk.words import (
    ActWord,
    Choice,
    ChoiceWord,
    NumberWord,
    StatementLine,
    group,
    plain_word,
)
from sornix.desk.workbench import Scene, Workbench

if TYPE_CHECKING:
    from sornix.desk.curveline import CurveLine
    from sornix.desk.panelsline import PanelsLine
    from sornix.desk.serieslines import SeriesLines

_NO_TREND = "no trend"
_RANGE = "range"
_REACHES = {False: "over its readings", True: "over the whole axis"}


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
        self._labels = [plain_word(word) for word in words]
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
        kind = scene.place.scale(self._axis).kind
        self.kind.setVisible(kind not in ("linear", "time"))
        show_direction(self.direction, scene, self._axis)


class _TrendLine(StatementLine):
    """“Trend: straight line through all 24 readings with equation, R²”."""

    def __init__(self, bench: Workbench, trend_id: str | None, first: bool) -> None:
        super().__init__("Trend" if first else "and")
        self._bench, self._id = bench, trend_id
        self.model = ChoiceWord("The shape of the trend")
        self.through = ChoiceWord("The readings that the trend goes through")
        self.all = plain_word("")
        self.shows = ChoiceWord("What is written on the figure")
        self.parts = group(plain_word("through"), self.through, self.all)
        self.ends = {part: NumberWord(f"The trend {PARTS[part]} x") for part in ("start", "end")}
        self.range = group(
            plain_word("from"), self.ends["start"], plain_word("to"), self.ends["end"]
        )
        for part, field in self.ends.items():
            field.entered.connect(partial(self._hold, part))
            field.freed.connect(partial(self._hold, part, ""))
        self.reach = ChoiceWord("How far the trend is drawn")
        self.extra = group(plain_word("with"), self.shows)
        self.another = ActWord("+ another", "Add another trend", link=True)
        self.another.clicked.connect(self._add_another)
        self.add(self.model, self.parts, self.range, self.reach, self.extra, self.another)
        self.model.chosen.connect(self._choose_model)
        self.through.chosen.connect(self._choose_series)
        self.shows.chosen.connect(self._toggle)
        self.reach.chosen.connect(self._choose_reach)

    def _choose_model(self, choice: object) -> None:
        trend_id = self._id
        if choice is None and trend_id is not None:
            self._bench.edit("removed a trend", lambda f: edits.remove_trend(f, trend_id))
        elif trend_id is not None:
            self._change(f"put a {MODELS[str(choice)].words} there", model=str(choice))
        else:
            self._add(str(choice))

    def _add(self, model: str) -> None:
        """A trend through the first series that has none of that shape."""
        scene = self._bench.scene
        if scene is not None:
            panel = scene.figure.panel
            without = [s.id for s in panel.series
                       if all(t.model != model for t in panel.trends_of(s.id))]  # fmt: skip
            name = f"added a {MODELS[model].words}"
            series = [*without, panel.series[0].id][0]
            self._bench.edit(name, lambda f: edits.add_trend(f, series, model))

    def _choose_reach(self, reach: object) -> None:
        if reach != _RANGE:
            self._change("changed the reach of a trend", extended=reach)
            return
        # the range begins as that of the readings, for its ends to be typed
        trend, scene = self._trend(), self._bench.scene
        if trend is not None and scene is not None:
            try:
                used = trend_fit(trend, scene.figure.panel, scene.tables).x
            except TrendImpossible:
                return
            words = "held the range of a trend"
            self._change(words, start=float(used.min()), end=float(used.max()))

    def _hold(self, part: str, text: str) -> None:
        """Holds an end of the x that the trend goes over, or frees it."""
        trend, scene = self._trend(), self._bench.scene
        if trend is None or scene is None:
            return

        def change(figure: Figure) -> Figure:
            scale = scene.place.on(figure.panel.one_series(trend.series)).x
            value = KINDS[scale.kind].parse(text, scale.start) if text.strip() else None
            return edits.change_trend(figure, trend.id, **{part: value})

        if not self._bench.edit(f"changed the {part} of a trend", change):
            self.ends[part].mark_wrong()

    def _show_ends(self, trend: Trend, scene: Scene) -> None:
        panel = scene.figure.panel
        scale = scene.place.on(panel.one_series(trend.series)).x
        words = KINDS[scale.kind].words
        try:
            used = trend_fit(trend, panel, scene.tables).x
        except TrendImpossible:
            used = np.array([scale.start, scale.end])
        for part, free in (("start", float(used.min())), ("end", float(used.max()))):
            held = trend.start if part == "start" else trend.end
            text = words(free if held is None else held, 0.0)
            self.ends[part].show_value(text, held=held is not None, full=text)

    def _add_another(self) -> None:
        """The shape of this line through the next series, or else the next shape."""
        trend, scene = self._trend(), self._bench.scene
        if trend is None or scene is None:
            return
        panel = scene.figure.panel
        free = [(m, s.id) for m in [trend.model, *MODELS] for s in panel.series
                if all(t.model != m for t in panel.trends_of(s.id))]  # fmt: skip
        if free:
            model, series = free[0]
            name = f"added a {MODELS[model].words}"
            self._bench.edit(name, lambda f: edits.add_trend(f, series, model))

    def _choose_series(self, series: object) -> None:
        self._change("put the trend through other readings", series=series)

    def _toggle(self, part: object) -> None:
        trend = self._trend()
        if trend is None:
            return
        shows = set(trend.shows) ^ {str(part)}
        self._change(
            "changed the label of a trend", shows=tuple(part for part in SHOWS if part in shows)
        )

    def _trend(self) -> Trend | None:
        trends = self._bench.scene.figure.panel.trends if self._bench.scene else ()
        return next((t for t in trends if t.id == self._id), None)

    def _change(self, name: str, **changes: object) -> None:
        trend_id = self._id
        if trend_id is not None:
            self._bench.edit(name, lambda f: edits.change_trend(f, trend_id, **changes))

    def show_scene(self, scene: Scene) -> None:
        panel = scene.figure.panel
        trend = self._trend()
        several = len(panel.series) > 1
        names = {s.id: edits.series_name(panel, s, scene.tables) for s in panel.series}
        shapes = [
            Choice(m.name, m.words, trend is not None and m.name == trend.model)
            for m in MODELS.values()
        ]
        self.another.setVisible(trend is not None and trend.id == panel.trends[-1].id)
        self.parts.setVisible(trend is not None)
        self.extra.setVisible(trend is not None)
        self.reach.setVisible(trend is not None)
        held = trend is not None and (trend.start, trend.end) != (None, None)
        self.range.setVisible(held)
        if trend is None:
            self.model.setStyleSheet("")
            self.model.set_choices(_NO_TREND, [Choice(c.value, c.text) for c in shapes])
            return
        colour = trend_colour(trend, panel, STYLES[scene.figure.style])
        text = readable(colour, self._bench.theme.card)
        self.model.setStyleSheet(f"color: {text}; border-bottom-color: {colour};")
        words = MODELS[trend.model].words
        self.model.set_choices(words, [*shapes, Choice(None, _NO_TREND, divided=True)])
        self.through.setVisible(several)
        self.through.set_choices(
            names[trend.series], [Choice(i, n, i == trend.series) for i, n in names.items()]
        )
        self._show_ends(trend, scene)
        self.reach.set_choices(
            _REACHES[trend.extended],
            [
                *(Choice(k, w, k == trend.extended) for k, w in _REACHES.items()),
                Choice(_RANGE, "through a range of x…", divided=True, enabled=not held),
            ],
        )
        self.all.setText(_through_words(trend, scene, several))
        listed = ", ".join(SHOWS[part] for part in trend.shows) or "nothing written"
        self.shows.set_choices(listed, [Choice(k, w, k in trend.shows) for k, w in SHOWS.items()])


def _through_words(trend: Trend, scene: Scene, several: bool) -> str:
    panel = scene.figure.panel
    total = len(series_points(panel.one_series(trend.series), panel, scene.tables).x)
    try:
        count = trend_fit(trend, panel, scene.tables).n
    except TrendImpossible:
        count = total
    if count < total:
        return f"{count} of {plural(total, 'reading')}"
    return ("" if several else "all ") + plural(count, "reading")


# More plot lines than this scroll, so that the paper keeps its place.
_MOST_PLOT_LINES = 3


def _scrolling(lines: Sequence[QWidget]) -> QWidget:
    """The lines under each other; a few of them in sight where there are many."""
    holder = QWidget()
    column = QVBoxLayout(holder)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(6)
    for line in lines:
        column.addWidget(line)
    column.addStretch(1)
    holder.setObjectName("plotLines")
    if len(lines) <= _MOST_PLOT_LINES:
        return holder
    area = QScrollArea()
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setWidget(holder)
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFixedHeight(_MOST_PLOT_LINES * 32 - 4)
    return area


class Statement(Bar):
    """All lines of the statement of the panel in hand."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__("statement")
        self._bench = bench
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(18, 9, 14, 10)
        self._column.setSpacing(6)
        self._shape: object = None
        self.panels: PanelsLine | None = None
        self.plots: list[PlotLine] = []
        self.curves: list[CurveLine] = []
        # the series whose further lines are open, and what holds these
        self._opened = ""
        self.further = QWidget()
        self._lines: SeriesLines | None = None
        holder = QVBoxLayout(self.further)
        holder.setContentsMargins(0, 0, 0, 0)
        self.scales: dict[str, _ScaleWords] = {}
        self.trends: list[_TrendLine] = []
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
        parts: list[PlotLine | _ScaleWords | _TrendLine] = [*self.plots, *self.trends]
        if self.panels is not None:
            self.panels.show_scene(scene)
        for part in (*parts, *self.curves, *self.scales.values()):
            part.show_scene(scene)
        if self._lines is not None and self._opened in ids:
            self._lines.show_scene(scene)

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
            from sornix.desk.serieslines import SeriesLines

            self._lines = SeriesLines(self._bench, series_id)
            layout.addWidget(self._lines)
            if self._bench.scene is not None:
                self._lines.show_scene(self._bench.scene)

    def preview(self, scene: Scene) -> None:
        """Shows the scales of a scene while a gesture goes on."""
        for words in self.scales.values():
            words.show_scene(scene)

    def _make_lines(self, panel: Panel, panels: int) -> None:
        while (item := self._column.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None and widget is not self.further:
                widget.hide()
                widget.deleteLater()
        series = [one.id for one in panel.series]
        self.plots = [PlotLine(self._bench, s, i == 0) for i, s in enumerate(series)]
        self.scales = {axis: _ScaleWords(self._bench, axis) for axis in panel.axes}
        scale_line = StatementLine("Scales")
        scale_line.add(*self.scales.values())
        self.trends = [
            _TrendLine(self._bench, t, i == 0)
            for i, t in enumerate([trend.id for trend in panel.trends] or [None])
        ]
        self.panels = None
        if panels > 1:
            from sornix.desk.panelsline import PanelsLine

            self.panels = PanelsLine(self._bench, panels)
            self._column.addWidget(self.panels)
        self._column.addWidget(_scrolling(self.plots))
        for i, plot in enumerate(self.plots):
            plot.further.toggled.connect(partial(self._open_series, series[i]))
        self.further.hide()
        self._column.addWidget(self.further)
        if self._opened in series:
            self.plots[series.index(self._opened)].further.setChecked(True)
        if panel.curves:
            from sornix.desk.curveline import CurveLine
        self.curves = [CurveLine(self._bench, c, i == 0) for i, c in enumerate(panel.curves)]
        for line in (scale_line, *self.curves, *self.trends):
            self._column.addWidget(line)
