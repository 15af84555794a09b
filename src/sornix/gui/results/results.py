"""The ledger: trend, residuals, readings and cautions as cards that can be copied."""

from collections.abc import Callable, Sequence
from functools import partial
from itertools import pairwise
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QApplication, QFrame, QScrollArea, QVBoxLayout, QWidget

from sornix.core.drawing import style_of
from sornix.core.figure import (
    Series,
    axis_unit,
    between,
    bring_back,
    note_text,
    own_axis,
    own_column,
    pinned,
    row_count,
    series_name,
    series_points,
)
from sornix.core.readings import TEXT, TIME, Column
from sornix.core.readings.tables.shown import shown_number
from sornix.core.text import (
    capital,
    counted,
    plain_text,
    plural,
    rich,
    row_words,
    significant,
    unit_words,
)
from sornix.core.text.moments import moment_text, moment_words
from sornix.core.trends.fits.sample import ratio_unit
from sornix.gui.base.plain import plain_label
from sornix.gui.base.theme import Theme
from sornix.gui.results.card import BY_TAB, Ask, AskDocument, Card
from sornix.gui.results.kept import Kept, Part
from sornix.gui.session.scene import Scene
from sornix.gui.widgets.bars import Bar

if TYPE_CHECKING:
    from sornix.core.cautions import Finding
    from sornix.gui.results.trendcards import TrendCards

_MOST_LISTED = 12
# between cards, in pixels
_APART = 7

# A mean that is so small a part of the readings is 0.
_CRUMBS = 1e-14


class Results(Bar):
    """Cards about what the figure shows, told anew for every scene. `comparing` asks to compare the
    shape of a trend with others."""

    comparing = pyqtSignal(str)

    def __init__(
        self,
        theme: Theme,
        copy: Callable[[str], None],
        ask: Ask,
        ask_document: AskDocument,
        again: Callable[[], None],
    ) -> None:
        """`again` shows the same scene once more, with more or less told of it."""
        super().__init__("ledger")
        self.theme = theme
        self._ask = ask
        self._copy = copy
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setFrameShape(QFrame.Shape.NoFrame)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        column = QVBoxLayout(self)
        column.setContentsMargins(1, 0, 0, 0)
        column.addWidget(self._area)
        self._body = QWidget()
        self._body.setObjectName("ledgerBody")
        inside = QVBoxLayout(self._body)
        inside.setContentsMargins(14, 10, 12, 14)
        inside.setSpacing(_APART)
        inside.addStretch(1)
        self._parts = Kept(inside)
        self._area.setWidget(self._body)
        self._cards: list[tuple[str, Card]] = []
        self._ask_document, self._again = ask_document, again
        self._trends: TrendCards | None = None

    @property
    def text(self) -> str:
        """All cards as plain text."""
        return "\n\n".join(f"{heading}\n{card.text}" for heading, card in self._cards)

    @property
    def _trend_cards(self) -> "TrendCards":
        """What makes the cards of trends, from the first trend on."""
        if self._trends is None:
            from sornix.gui.results.trendcards import TrendCards

            self._trends = TrendCards(
                self._copy, self._ask, self._ask_document, self._again, self.comparing.emit
            )
        return self._trends

    def bring_into_sight(self, widget: QWidget) -> None:
        """Scrolls so that something of the ledger can be seen."""
        QApplication.sendPostedEvents()
        self._area.ensureWidgetVisible(widget, 0, 40)

    def show_scene(self, scene: Scene) -> None:
        # typing goes on in the field of the same name
        typing = self.focusWidget()
        name = typing.accessibleName() if typing is not None and typing.hasFocus() else ""
        position = self._area.verticalScrollBar()
        before = position.value() if position else 0
        self._cards = []
        self._parts.begin()
        panel = scene.figure.panel
        # what a careful colleague would say is not to be scrolled for
        self._cautions(scene)
        for trend in panel.drawn_trends:
            self._trend_cards.show(scene, trend, self._card)
        if not panel.trends and panel.has_axes:
            card = self._card("Trend", "#8fa19d")
            card.sentence("No trend on this figure. Choose one in the statement’s Trend line.")
        elif not panel.has_axes and panel.trends:
            kept = "its trend is" if len(panel.trends) == 1 else "its trends are"
            card = self._card("Trend", "#8fa19d")
            card.sentence(f"This panel has no axes: {kept} kept, and not drawn.")
        self._pins(scene)
        self._left_out(scene)
        self._readings_cards(scene)
        self._quiet_cautions(scene)
        for _, card in self._cards:
            card.end()
        self._parts.end()
        if self._parts.has_new():
            # from word to word in the order in which they stand
            there = [w for w in self._parts.in_order() if w.focusPolicy() & BY_TAB]
            for one, following in pairwise(there):
                QWidget.setTabOrder(one, following)
        if position is not None:
            position.setValue(before)
        if name and typing is not None and not typing.isVisible():
            again = [w for w in self._parts.in_order() if w.accessibleName() == name]
            if again:
                again[0].setFocus()

    def _card(self, heading: str, colour: str, *, headed: bool = True) -> Card:
        """A card of its own, under its heading or with the one before."""

        def make() -> Part:
            column, card = QVBoxLayout(), Card(self._copy)
            column.setSpacing(_APART)
            above = [plain_label(heading)] if headed else []
            for label in above:
                label.setObjectName("heading")
                column.addWidget(label)
            column.addWidget(card)
            return Part((heading, headed), column, *above, card, inner=card.parts)

        part = self._parts.next((heading, headed), make)
        assert isinstance(part.item, QVBoxLayout)
        part.item.setContentsMargins(0, _APART if headed and self._cards else 0, 0, 0)
        card = part.widgets[-1]
        assert isinstance(card, Card)
        card.begin(self.theme, colour)
        self._cards.append((heading, card))
        return card

    def _readings_cards(self, scene: Scene) -> None:
        panel, style = scene.figure.panel, style_of(scene.figure)
        card = self._card("Readings", style.look(panel.series[0].palette_index).colour)
        for series in panel.series:
            colour = style.look_of(series).colour
            self._series_rows(card, scene, series, colour, brief=len(panel.series) > 2)

    def _series_rows(
        self, card: Card, scene: Scene, series: Series, colour: str, *, brief: bool
    ) -> None:
        panel = scene.figure.panel
        points = series_points(series, scene.figure.panel, scene.tables)
        along_x = own_axis(panel) == "x"
        values = points.x if along_x else points.y
        own = own_column(panel, series, scene.tables)
        unit = unit_words(own.unit)
        missing = row_count(series, scene.tables) - len(values)
        count = plural(len(values), "reading")
        count += f", {counted(missing)} missing" if missing else ""
        card.name(plain_text(rich(series_name(panel, series, scene.tables))), colour)
        if not len(values):
            card.row("number", count)
            return
        ends = (*(points.x_ends if along_x else points.y_ends), values[0], values[-1])
        of_all = {}
        if own.kind == TEXT:
            # places in a list are no numbers: there is no mean of names
            first, last = (own.cell(int(points.rows[at])) for at in (0, -1))
        else:
            least, greatest, first, last = _as_readings(own, ends)
            mean = _mean_words(own, points.means[0 if along_x else 1], ends)
            names = ("latest", "earliest") if own.kind == TIME else ("greatest", "least")
            of_all = {names[0]: greatest, names[1]: least, "mean": mean}
        if brief:
            said = f", {least} to {greatest} {unit}".rstrip() + f", mean {mean}" if of_all else ""
            card.small(f"{count}{said}; first {first}, last {last}")
            return
        card.row("number", count)
        for name, told in of_all.items():
            card.row(name, f"{told} {unit}".strip())
        # to be compared with the table: is this column drawn in this colour?
        for name, value, at in (("first", first, 0), ("last", last, -1)):
            card.row(f"{name}, {row_words(points.rows[at])}", f"{value} {unit}".strip())

    def _pins(self, scene: Scene) -> None:
        """What lies between pinned positions, from each to the next."""
        panel, tables = scene.figure.panel, scene.tables
        pins = [n for n in panel.notes if not n.text and pinned(n, panel, tables) is not None]
        if len(pins) < 2:
            return
        card = self._card("Between pins", "#56646c")
        x_unit, y_unit = (unit_words(axis_unit(panel, tables, a)) for a in "xy")
        for one, other in pairwise(pins[:_MOST_LISTED]):
            found = between(one, other, panel, tables)
            if found is None:
                continue
            said = (note_text(note, panel, tables) for note in (one, other))
            card.sentence(" → ".join(plain_text(rich(text)) for text in said))
            card.row("along x", f"{significant(found.dx)} {x_unit}".strip())
            card.row("along y", f"{significant(found.dy)} {y_unit}".strip())
            if found.slope is not None:
                unit = plain_text(rich(ratio_unit(y_unit, x_unit)))
                card.row("slope", f"{significant(found.slope)} {unit}".strip())
            if found.area is not None:
                unit = f"{y_unit} {x_unit}".strip()
                card.row("area under the line", f"{significant(found.area)} {unit}".strip())
        card.finish("what lies between the pins")

    def _left_out(self, scene: Scene) -> None:
        """The readings left out, each with its reason and a way back."""
        panel = scene.figure.panel
        card = None
        for series in panel.series:
            for left in series.left_out[:_MOST_LISTED]:
                if card is None:
                    card = self._card("Left out of trends", "#8fa19d")
                reason = f": {left.reason}" if left.reason else ""
                edit = partial(bring_back, series_id=series.id, rows=(left.row,))
                said = f"{capital(row_words(left.row))}{reason}"
                card.act(said, "bring back", "brought a reading back", edit, self._ask)
            more = len(series.left_out) - _MOST_LISTED
            if card is not None and more > 0:
                card.small(f"… and {more} more of {series_name(panel, series, scene.tables)}")

    def _cautions(self, scene: Scene) -> None:
        for number, finding in enumerate(f for f in scene.cautions if f.loud):
            card = self._card("Cautions", "#d9a21b", headed=number == 0)
            card.sentence(finding.text)
            self._caution_links(card, finding)

    def _quiet_cautions(self, scene: Scene) -> None:
        """What misleads few, and what was noted, small, at the foot."""
        mild = [finding for finding in scene.cautions if finding.mild and not finding.noted]
        noted = [finding for finding in scene.cautions if finding.noted]
        for heading, findings in (("Also", mild), ("Noted", noted)):
            if not findings:
                continue
            card = self._card(heading, "#8fa19d")
            for finding in findings:
                card.small(finding.text)
                self._caution_links(card, finding)

    def _caution_links(self, card: Card, finding: "Finding") -> None:
        """What can be done about a caution."""
        from sornix.core.cautions import note_caution, tell_again

        if finding.remedy is not None and not finding.noted:
            remedy = finding.remedy
            act = partial(self._ask, remedy.step, remedy.edit)
            card.link(remedy.words, f"{remedy.words}: {finding.text}", act)
        if finding.noted:
            again = partial(tell_again, finding=finding)
            card.link("Tell it again", f"Tell it again: {finding.text}",
                      partial(self._ask, "told a caution again", again))  # fmt: skip
            return
        note = partial(note_caution, finding=finding)
        card.link("Noted", f"Noted: {finding.text}", partial(self._ask, "noted a caution", note),
                  "It goes to the foot, and comes back when its cause has grown")  # fmt: skip


def _as_readings(column: Column, values: Sequence[float]) -> list[str]:
    """Values of a column as the table shows them."""
    if column.kind == TIME:
        return [moment_text(float(value), column.form) for value in values]
    return [shown_number(float(value), column.decimals) for value in values]


def _mean_words(column: Column, mean: float, ends: Sequence[float]) -> str:
    """A mean of values between ends: it is no reading, and told as finely as these need."""
    if column.kind == TIME:
        return moment_words(mean, abs(float(ends[1]) - float(ends[0])) * 1e-3)
    # residuals have the mean 0, and a sum of binary numbers leaves crumbs
    crumbs = abs(mean) < _CRUMBS * max(abs(float(end)) for end in ends)
    return "0" if crumbs else significant(mean, 4)
