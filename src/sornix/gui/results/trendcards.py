"""The cards of a trend: its numbers, its residuals, what is read off it, and shapes compared."""

from collections.abc import Callable
from functools import partial
from itertools import product

from attrs import define

from sornix.core.document import Document, add_residuals
from sornix.core.document.predicted import draw_each, draw_prediction
from sornix.core.document.unknowns import read_off_column
from sornix.core.drawing import AGAINST, RESIDUALS_MM, Drawing, Style, draw_residuals, style_of
from sornix.core.drawing.marks.marks import trend_colour
from sornix.core.errors import EditRefused, TrendImpossible
from sornix.core.figure import (
    Figure,
    Trend,
    change_read_off,
    read_off_trend,
    series_name,
    tell_at,
    treat_samples,
    trend_fit,
    trend_words,
)
from sornix.core.figure.derived.runs import is_standard
from sornix.core.figure.derived.trendsamples import trend_columns
from sornix.core.figure.prose.trendreport import (
    CHANCE,
    INTERVALS_95,
    asked_read_offs,
    how_words,
    place_words,
    symbol_words,
    trend_sections,
)
from sornix.core.readings import Column
from sornix.core.text import (
    parse_measured,
    parse_number,
    plain_text,
    rich,
    row_words,
    significant,
    spoken,
)
from sornix.core.trends import UNTREATED, Equation, Fit
from sornix.core.trends.fits.account import (
    Row,
    addition_rows,
    limit_rows,
    parameter_rows,
    quality_rows,
    read_off_rows,
    told_rows,
    treatment_words,
)
from sornix.gui.results.card import Ask, AskDocument, Card
from sornix.gui.results.trendparts import AskingLine
from sornix.gui.session.scene import Scene
from sornix.gui.widgets.inlinecontrols import Choice

# Puts a card with a heading and the colour of its edge.
PutCard = Callable[[str, str], Card]


@define
class _Telling:
    """What a person wants told of a trend, which is no part of the figure."""

    everything: bool = False
    against: str = "x"
    # whether samples were treated, and how is asked for
    treating: bool = False
    # the number of replicates that was typed last
    many: str = "1"


class TrendCards:
    """Makes the cards of each trend of a scene."""

    def __init__(
        self, copy: Callable[[str], None], ask: Ask, ask_document: AskDocument,
        again: Callable[[], None], compare: Callable[[str], None],
    ) -> None:  # fmt: skip
        self._copy, self._ask, self._ask_document, self._again = copy, ask, ask_document, again
        self._compare = compare
        self._telling: dict[str, _Telling] = {}
        self._pictures: dict[str, tuple[Fit, object, Drawing]] = {}

    def show(self, scene: Scene, trend: Trend, place: PutCard) -> None:
        """Puts the cards of a trend."""
        panel, style = scene.figure.panel, style_of(scene.figure)
        telling = self._telling.setdefault(trend.id, _Telling())
        colour = trend_colour(trend, panel, style)
        series = panel.one_series(trend.series)
        several = len(panel.series) > 1
        of = plain_text(rich(series_name(panel, series, scene.tables)))
        name = f"Trend of {of}" if several else "Trend"
        if len(panel.trends) > 1:
            name += f": {trend_words(trend)}"
        card = place(name, colour)
        try:
            fit = trend_fit(trend, panel, scene.tables)
        except TrendImpossible as error:
            card.sentence(str(error))
            return
        equation = scene.drawing.place.equations.get(trend.id)
        self._numbers(card, scene, trend, fit, equation, colour)
        look = style.look_of(series).colour
        residuals = place("Residuals (reading − trend)", look)
        residuals.picture(
            self._residuals(trend, fit, style, (look, colour)),
            f"Residuals {AGAINST[telling.against]}",
        )
        size = significant(float(fit.told_residuals[fit.largest]), 2)
        residuals.small(f"Largest at {row_words(fit.rows[fit.largest])}: {size}")
        residuals.choice(
            "What residuals are drawn against", AGAINST[telling.against],
            [Choice(k, w, k == telling.against) for k, w in AGAINST.items()],
            lambda k: self._tell(trend.id, "against", str(k)),
        )  # fmt: skip
        residuals.link("as a figure", "Draw these residuals as a figure of its own",
                       partial(self._draw, trend.id, add_residuals))  # fmt: skip
        if trend.columns:
            drawn: dict[str, Callable[[], object]] = {
                "the readings against what the line says": partial(
                    self._draw, trend.id, draw_prediction
                ),
                "each column, the others at their averages": partial(
                    self._draw, trend.id, draw_each
                ),
            }
            residuals.menu_link("draw", "Further panels of this line in several columns", drawn)
        if fit.names:
            self._read_off(place("Read off", colour), scene, trend, fit)

    def _residuals(self, trend: Trend, fit: Fit, style: Style, colours: tuple[str, str]) -> Drawing:
        """The picture of what a trend leaves, the same while nothing of it has changed."""
        of = style, colours, self._telling[trend.id].against
        known = self._pictures.get(trend.id)
        if known is None or known[0] is not fit or known[1] != of:
            known = fit, of, draw_residuals(fit, style, colours, RESIDUALS_MM, of[2])
            self._pictures[trend.id] = known
        return known[2]

    def _tell(self, trend_id: str, what: str, value: object) -> None:
        setattr(self._telling[trend_id], what, value)
        self._again()

    # -- numbers -----------------------------------------------------------------------------

    def _numbers(
        self, card: Card, scene: Scene, trend: Trend, fit: Fit, equation: Equation | None,
        colour: str,
    ) -> None:  # fmt: skip
        panel, telling = scene.figure.panel, self._telling[trend.id]
        if equation is not None and equation.runs:
            card.headline(equation.runs, colour)
            card.small(symbol_words(trend, fit, panel, scene.tables))
        _rows(card, parameter_rows(fit))
        _rows(card, quality_rows(fit))
        card.small(how_words(trend, fit))
        for note in fit.notes:
            card.small(note)
        if telling.everything:
            for section in trend_sections(trend, panel, scene.tables, equation)[1:]:
                if section.heading in _FURTHER or section.heading.startswith(_BESIDE):
                    card.name(section.heading, colour)
                    _rows(card, section.rows)
        words = "less" if telling.everything else "all numbers"
        toggle = partial(self._tell, trend.id, "everything", not telling.everything)
        card.link(words, "Tests, influence and correlations of this trend", toggle)
        card.link("compare", "Compare this shape with others", partial(self._compare, trend.id))
        acts: dict[str, Callable[[], object]] = {"The card as text": lambda: self._copy(card.text)}
        if equation is not None and equation.runs:
            x = f'"{panel.one_series(trend.series).x or "x"}"'
            if fit.along.words:
                # what the equation leaves to the words beside it
                x = fit.along.counted_text(x)
            acts |= {
                "The equation as text": partial(self._copy, equation.text),
                "The equation as LaTeX": partial(self._copy, equation.latex),
                "The equation in Markdown": partial(self._copy, f"${equation.latex}$"),
                "The formula for a computed column": partial(self._copy, equation.formula(x)),
            }
        card.menu_link("copy", "Copy the numbers or the equation", acts)

    def _draw(self, trend_id: str, how: Callable[[Document, str], Document]) -> None:
        self._ask_document("drew a line in several columns", lambda d: how(d, trend_id))

    # -- reading off -------------------------------------------------------------------------

    def _read_off(self, card: Card, scene: Scene, trend: Trend, fit: Fit) -> None:
        panel = scene.figure.panel
        words, y_unit = place_words(trend, panel, scene.tables), fit.sample.y_unit
        telling = self._telling[trend.id]
        treated = trend.treatment != UNTREATED and not fit.along.words
        column, _ = trend_columns(trend, panel, scene.tables)
        treating = treated or telling.treating

        def asking() -> AskingLine:
            line = AskingLine(telling.many, trend.treatment, treating=treating)
            line.y_asked.connect(partial(self._ask_y, trend))
            line.x_asked.connect(partial(self._ask_x, trend, column))
            line.treated.connect(partial(self._treat, trend))
            return line

        # what was read off is asked no more
        card.widget((trend, telling.many, treating, column.kind), asking)
        for i, (asked, one) in enumerate(
            zip(trend.read_offs, asked_read_offs(trend, fit), strict=True)
        ):
            change = partial(change_read_off, trend_id=trend.id, index=i, y=None)
            drop = partial(self._ask, "no longer read off a y", change)
            if one is None:
                none = f"y = {spoken(asked.y)}: no x, or several, on this curve"
                card.removable(none, "", drop)
                continue
            row, *own = read_off_rows(fit, [one], words, y_unit, trend.treatment)
            of = f", mean of {asked.replicates}" if asked.replicates > 1 else ""
            card.removable(f"{row.name}{of}: x = {row.value}", row.about, drop)
            _rows(card, tuple(own))
        told = told_rows(fit, trend.told_at, words, y_unit)
        for x, row in zip(trend.told_at, told, strict=True):
            change = partial(tell_at, trend_id=trend.id, x=x)
            drop = partial(self._ask, "no longer told at an x", change)
            card.removable(f"{row.name}: y = {row.value}", row.about, drop)
        if any(one.y == 0 for one in trend.read_offs):
            _rows(card, addition_rows(fit, trend.treatment))
        if treated:
            card.small(f"In the sample: {treatment_words(trend.treatment)}")
        if trend.read_offs or is_standard(column):
            _rows(card, limit_rows(fit))
        if not (treated or telling.treating or fit.along.words):
            card.link(
                "treated samples",
                "Samples that were diluted, or of which a part is found again",
                partial(self._tell, trend.id, "treating", value=True),
            )
        card.menu_link("a whole column", "Read off every y of a column, as new columns",
                       self._columns(scene, trend))  # fmt: skip

    def _columns(self, scene: Scene, trend: Trend) -> dict[str, Callable[[], object]]:
        """The columns of which every y can be read off, alone or with their SD in another."""
        along = scene.figure.panel.one_series(trend.series).x
        columns: dict[str, Callable[[], object]] = {}
        for table in scene.tables:
            numbers = [c for c in table.columns if c.has_places and c.name != along]
            for one_of, sd in product(numbers, (None, *numbers)):
                if one_of is sd or (sd is not None and sd.unit != one_of.unit):
                    continue
                name = one_of.name if sd is None else f"{one_of.name} ± {sd.name}"
                columns[f"{name}, {table.name}"] = partial(
                    self._whole_column,
                    trend,
                    table.name,
                    one_of.name,
                    None if sd is None else sd.name,
                )
        return columns

    def _ask_y(self, trend: Trend, text: str, replicates: str) -> None:
        self._telling[trend.id].many = replicates

        def change(figure: Figure) -> Figure:
            many = parse_number(replicates) if replicates.strip() else 1.0
            if many != int(many):
                raise EditRefused("A y is the mean of a whole number of replicates.")
            y, sd = parse_measured(text)
            return read_off_trend(figure, trend.id, y, int(many), sd)

        self._ask("read off a y", change)

    def _treat(self, trend: Trend, part: str, text: str) -> None:
        def change(figure: Figure) -> Figure:
            if part == "dilution":
                return treat_samples(figure, trend.id, dilution=parse_number(text))
            value, sd = parse_measured(text)
            return treat_samples(figure, trend.id, recovery=value, recovery_sd=sd or 0.0)

        self._ask("changed what was done to samples", change)

    def _ask_x(self, trend: Trend, x: Column, text: str) -> None:
        self._ask("told a trend at an x", lambda f: tell_at(f, trend.id, x.typed(text)))

    def _whole_column(self, trend: Trend, table: str, column: str, sd: str | None) -> None:
        self._ask_document(
            f"read off {column}", lambda d: read_off_column(d, trend.id, table, column, sd)
        )


# What “all numbers” tells besides the card itself.
_BESIDE = "Beside "
_FURTHER = (INTERVALS_95, "Tests", CHANCE, "Readings that stand out", "Correlation of parameters")


def _rows(card: Card, rows: tuple[Row, ...]) -> None:
    for row in rows:
        card.row(row.name, row.value, row.about)
