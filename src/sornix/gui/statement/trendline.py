"""The line of the statement for a trend: its shape, its readings, its reach, what it shows."""

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QPushButton

from sornix.core import figure as edits
from sornix.core.colours import readable
from sornix.core.drawing import style_of
from sornix.core.drawing.marks.marks import trend_colour
from sornix.core.errors import TrendImpossible
from sornix.core.figure import (
    FORMULA,
    SHOWS,
    Figure,
    Trend,
    series_points,
    trend_fit,
    trend_model,
    trend_words,
)
from sornix.core.figure.edits.together import spread_trends, trend_through
from sornix.core.figure.edits.trendedits import put_own_shape
from sornix.core.figure.model.trend import OwnShape
from sornix.core.scales import KINDS
from sornix.core.text import plural, with_article
from sornix.core.trends import MODELS, ON_LOGS
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.base.themes import theme_now
from sornix.gui.session.editing import Editing, Together
from sornix.gui.session.scalewords import PARTS
from sornix.gui.session.scene import Scene
from sornix.gui.widgets.inlinecontrols import (
    ActWord,
    Choice,
    ChoiceWord,
    NumberWord,
    StatementLine,
    group,
)
from sornix.gui.widgets.shapechoices import shape_choices, with_formula

_NO_TREND = "no trend"
_RANGE = "range"
_EACH = "each"
_REACH = "reach"
_LOGS = {False: "on the readings", True: "on their logarithms"}
# what a formula begins as where there is no trend to take it from
_FIRST_FORMULA = "a + b * x"


class TrendLine(StatementLine):
    """“Trend: straight line through all 24 readings with equation, R²”."""

    # the id of the trend, and whether its further lines are wanted
    opened = pyqtSignal(str, bool)

    def __init__(
        self, bench: Editing, ids: Sequence[str], series: Sequence[str], first: bool
    ) -> None:
        """For a trend, or for several that are alike: then a word changes all of them. `series` are
        those of the line that they go through."""
        super().__init__("Trend" if first else "and")
        self.ids, self._line = tuple(ids), tuple(series)
        trend_id = ids[0] if ids else None
        self._single = bench
        if len(ids) > 1:
            bench = Together(bench, partial(spread_trends, ids=self.ids))
        self._bench, self.trend_id = bench, trend_id
        self.model = ChoiceWord("The shape of the trend")
        self.logs = ChoiceWord("Whether the readings or their logarithms are fitted")
        self.through = ChoiceWord("The series that the trend goes through")
        self.readings = ChoiceWord("The readings that the trend goes through")
        self.shows = ChoiceWord("What is shown on the figure")
        self.parts = group(plain_label("through"), self.through, self.readings)
        self.ends = {part: NumberWord(f"The trend {PARTS[part]} x") for part in ("start", "end")}
        self.range = group(
            plain_label("from"), self.ends["start"], plain_label("to"), self.ends["end"]
        )
        for part, field in self.ends.items():
            field.entered.connect(partial(self._hold, part))
            field.freed.connect(partial(self._hold, part, ""))
        self.extra = group(plain_label("with"), self.shows)
        self.further = QPushButton("more ▾")
        self.further.setProperty("link", "true")
        self.further.setCheckable(True)
        name = "Weights, method and parameters of this trend"
        self.further.setAccessibleName(name)
        self.further.setToolTip(plain_tip(name))
        self.further.toggled.connect(lambda on: self.opened.emit(trend_id or "", on))
        self.another = ActWord("+ another", "Add another trend", link=True)
        self.another.clicked.connect(self._add_another)
        self.add(self.model, self.logs, self.parts, self.range, self.extra)
        self.add(self.further, self.another)
        self.model.chosen.connect(self._choose_model)
        self.logs.chosen.connect(
            lambda on: self._change("fitted " + _LOGS[bool(on)], on_logs=bool(on))
        )
        self.through.chosen.connect(self._choose_series)
        self.shows.chosen.connect(self._toggle)
        self.readings.chosen.connect(self._choose_range)

    @property
    def edits(self) -> Editing:
        """Through which all of its trends are changed."""
        return self._bench

    # -- acting ----------------------------------------------------------------------------------

    def _choose_model(self, choice: object) -> None:
        trend_id = self.trend_id
        if choice is None:
            if trend_id is not None:
                self._bench.edit("removed a trend", lambda f: edits.remove_trend(f, trend_id))
            return
        if isinstance(choice, OwnShape):
            self._put_own(choice)
            return
        model = str(choice)
        if model == FORMULA:
            self._choose_formula()
        elif trend_id is not None:
            self._change(f"put {with_article(MODELS[model].words)} there", model=model, formula="")
        else:
            self._add(model)

    def _put_own(self, shape: OwnShape) -> None:
        """A shape of the user's own in the place of this trend, or through the first series."""
        trend_id = self.trend_id

        def change(figure: Figure) -> Figure:
            if trend_id is not None:
                return put_own_shape(figure, trend_id, shape)
            added = edits.add_trend(figure, figure.panel.series[0].id, FORMULA, shape.formula)
            return put_own_shape(added, added.panel.trends[-1].id, shape)

        self._bench.edit(f"put “{shape.name}” there", change)

    def _choose_formula(self) -> None:
        """The formula begins as that of the shape before, for its words to be changed."""
        trend = self._trend()
        if trend is None:
            self._add(FORMULA, _FIRST_FORMULA)
        elif trend.model != FORMULA:
            formula = trend_model(trend).formula or _FIRST_FORMULA
            self._change("put a formula there", model=FORMULA, formula=formula)
        added = self._bench.scene.figure.panel.trends if self._bench.scene else ()
        if added:
            self.opened.emit(self.trend_id or added[-1].id, True)

    def _add(self, model: str, formula: str = "") -> None:
        """A trend through the first series that has none of that shape."""
        scene = self._bench.scene
        if scene is not None:
            panel = scene.figure.panel
            without = [s.id for s in panel.series
                       if all(t.model != model for t in panel.trends_of(s.id))]  # fmt: skip
            name = f"added {with_article(FORMULA if formula else MODELS[model].words)}"
            series = [*without, panel.series[0].id][0]
            self._bench.edit(name, lambda f: edits.add_trend(f, series, model, formula))

    def _choose_range(self, choice: object) -> None:
        if choice != _RANGE:
            self._change("freed the range of a trend", start=None, end=None)
            return
        # the range begins as that of the readings, for its ends to be typed or dragged
        trend, scene = self._trend(), self._bench.scene
        if trend is not None and scene is not None:
            start, end = _used_ends(trend, scene)
            self._change("held the range of a trend", start=start, end=end)

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

    def _add_another(self) -> None:
        """The shape of this line through the next series, or else the next shape."""
        trend, scene = self._trend(), self._bench.scene
        if trend is None or scene is None:
            return
        panel = scene.figure.panel
        present = [trend.model] if trend.model in MODELS else []
        free = [(m, s.id) for m in [*present, *MODELS] for s in panel.series
                if all(t.model != m for t in panel.trends_of(s.id))]  # fmt: skip
        if free:
            model, series = free[0]
            name = f"added {with_article(MODELS[model].words)}"
            self._bench.edit(name, lambda f: edits.add_trend(f, series, model))

    def _choose_series(self, series: object) -> None:
        if self.trend_id is None:
            return
        wanted = self._line if series == _EACH else (str(series),)
        self._single.edit("put the trend through other readings",
                          lambda f: trend_through(f, self.ids, wanted))  # fmt: skip

    def _toggle(self, part: object) -> None:
        trend = self._trend()
        if trend is None:
            return
        if part == _REACH:
            self._change("changed the reach of a trend", extended=not trend.extended)
            return
        shows = set(trend.shows) ^ {str(part)}
        self._change(
            "changed what a trend shows", shows=tuple(part for part in SHOWS if part in shows)
        )

    def _trend(self) -> Trend | None:
        return trend_of(self._bench.scene, self.trend_id)

    def _change(self, name: str, **changes: object) -> None:
        trend_id = self.trend_id
        if trend_id is not None:
            self._bench.edit(name, lambda f: edits.change_trend(f, trend_id, **changes))

    # -- showing ---------------------------------------------------------------------------------

    def _dress_model(self, how: str) -> None:
        # to set a style sheet takes as long as to draw the line
        if self.model.styleSheet() != how:
            self.model.setStyleSheet(how)

    def show_scene(self, scene: Scene) -> None:
        panel = scene.figure.panel
        # of the scene that is shown, whatever the hand is just trying
        trend = next((t for t in panel.trends if t.id == self.trend_id), None)
        several = len(panel.series) > 1
        names = {s.id: edits.series_name(panel, s, scene.tables) for s in panel.series}
        self.another.setVisible(trend is not None and panel.trends[-1].id in self.ids)
        for word in (self.parts, self.extra, self.further):
            word.setVisible(trend is not None)
        held = trend is not None and (trend.start, trend.end) != (None, None)
        self.range.setVisible(held)
        self.logs.setVisible(trend is not None and trend.model in ON_LOGS)
        if trend is None:
            self._dress_model("")
            self.model.set_choices(_NO_TREND, partial(_model_choices, None, self._bench.shapes))
            return
        colour = trend_colour(trend, panel, style_of(scene.figure))
        text = readable(colour, theme_now().card)
        # the word alone, not its menu
        self._dress_model(f"QPushButton {{ color: {text}; border-bottom-color: {colour}; }}")
        typed = trend.model == FORMULA
        words = trend.called or FORMULA if typed else MODELS[trend.model].words
        if trend.columns:
            words = trend_words(trend)
        self.model.set_choices(words, partial(_model_choices, trend, self._bench.shapes))
        self.logs.set_choices(
            _LOGS[trend.on_logs], [Choice(k, w, k == trend.on_logs) for k, w in _LOGS.items()]
        )
        self.through.setVisible(several)
        together = len(self.ids) > 1
        choices = [Choice(i, n, not together and i == trend.series) for i, n in names.items()]
        each = f"each of the {len(self._line)}"
        if len(self._line) > 1:
            choices.insert(0, Choice(_EACH, each, together))
        words = each if len(self.ids) == len(self._line) else f"{len(self.ids)} series"
        self.through.set_choices(words if together else names[trend.series], choices)
        # how many readings are told of one alone
        self.readings.setVisible(not together)
        self.show_ends(scene)
        self.readings.set_choices(
            _through_words(trend, scene, several),
            [
                Choice(None, "all readings, but those left out", not held),
                Choice(_RANGE, "a range of x…", held),
            ],
        )
        listed = [SHOWS[part] for part in trend.shows]
        listed += ["whole axis"] * trend.extended
        entries = [Choice(k, w, k in trend.shows) for k, w in SHOWS.items()]
        entries.append(Choice(_REACH, "drawn over the whole axis", trend.extended, divided=True))
        self.shows.set_choices(", ".join(listed) or "nothing written", entries)
        # what is asked of a trend there is a word of, even where its lines are closed
        asked = len(trend.settings) + (trend.weights != "equal") + bool(trend.shared)
        asked += (
            len(trend.columns) + (trend.method != "least-squares") + (trend.intervals != "usual")
        )
        self.further.setText(f"more ({plural(asked, 'choice')}) ▾" if asked else "more ▾")

    def show_ends(self, scene: Scene) -> None:
        """Shows the range of x that the trend goes over."""
        panel = scene.figure.panel
        trend = trend_of(scene, self.trend_id)
        if trend is None:
            return
        scale = scene.place.on(panel.one_series(trend.series)).x
        words = KINDS[scale.kind].words
        for part, free in zip(("start", "end"), _used_ends(trend, scene), strict=True):
            held = trend.start if part == "start" else trend.end
            text = words(free if held is None else held, 0.0)
            self.ends[part].show_value(text, held=held is not None, full=text)


def _model_choices(trend: Trend | None, own: Sequence[OwnShape]) -> list[Choice]:
    """What a trend can be: a shape, one of the user's own, a formula, or none."""
    shapes = shape_choices([trend.model] if trend is not None else [])
    called = trend.called if trend is not None and trend.model == FORMULA else None
    shapes += [
        Choice(one, with_formula(one.name, one.formula), one.name == called, divided=not i)
        for i, one in enumerate(own)
    ]
    other = called is not None and called not in {shape.name for shape in own}
    shapes.append(Choice(FORMULA, "a formula of your own…", other, divided=True))
    if trend is None:
        return [choice._replace(ticked=None) for choice in shapes]
    return [*shapes, Choice(None, _NO_TREND, divided=True)]


def trend_of(scene: Scene | None, trend_id: str | None) -> Trend | None:
    """The trend of an id in the panel in hand, if it is there."""
    trends = scene.figure.panel.trends if scene is not None else ()
    return next((trend for trend in trends if trend.id == trend_id), None)


def _used_ends(trend: Trend, scene: Scene) -> tuple[float, float]:
    """The ends of the x of the readings that a trend goes through, or of all where it cannot be
    fitted."""
    panel = scene.figure.panel
    try:
        return trend_fit(trend, panel, scene.tables).ends
    except TrendImpossible:
        points = series_points(panel.one_series(trend.series), panel, scene.tables)
        scale = scene.place.on(panel.one_series(trend.series)).x
        return points.x_ends if len(points.x) else (scale.start, scale.end)


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
