"""What a sentence stands among: columns, series, axes, and the words of other options."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import cached_property

from sornix.core.errors import SornixError
from sornix.core.figure import Panel, Series, scale_kind, series_name
from sornix.core.figure.derived.points import axis_unit
from sornix.core.readings import Tables
from sornix.core.scales import KINDS, Kind
from sornix.core.statement.words.furthest import Furthest
from sornix.core.statement.words.pattern import Slot
from sornix.core.statement.words.slots import GONE, bare, by_first_word, number_words
from sornix.core.statement.words.tokens import quoted
from sornix.core.text.moments import typed_moment

# Words with which a value begins that no calendar can say.
SINCE = "s since 1970"


class Around:
    """The tables that a statement speaks of, and the panel that a sentence belongs to, if it is
    known already. `names` are those that series are given in the statement."""

    def __init__(
        self, tables: Tables, panel: Panel | None = None, names: Iterable[str] = (),
        begins: frozenset[str] = frozenset(),
    ) -> None:  # fmt: skip
        self.tables, self.panel, self.begins = tables, panel, begins
        self._given = tuple(names)
        # how far what is read now could be read
        self.furthest: Furthest | None = None

    def missed(self, at: int, slot: Slot) -> None:
        if self.furthest is not None:
            self.furthest.missed(at, slot)

    def within(self, begins: frozenset[str]) -> "Around":
        """The same among other options."""
        found = Around(self.tables, self.panel, self._given, begins)
        for known in ("column_names", "columns", "names"):
            # found once for all sentences
            found.__dict__[known] = getattr(self, known)
        return found

    @cached_property
    def column_names(self) -> tuple[str, ...]:
        every = (name for table in self.tables for name in table.column_names)
        return tuple(dict.fromkeys(every))

    @cached_property
    def columns(self) -> Mapping[str, Sequence[str]]:
        return by_first_word(self.column_names)

    @cached_property
    def names(self) -> Mapping[str, Sequence[str]]:
        return by_first_word(self._given or self.column_names)

    # -- writing -----------------------------------------------------------------------------

    def column_words(self, name: str) -> str:
        if name not in self.column_names:
            return f"{quoted(name)} {GONE}"
        return name if bare(name, self.columns) else quoted(name)

    def series_words(self, series_id: str) -> str:
        assert self.panel is not None
        series = self.panel.one_series(series_id)
        name = self.name_of(series)
        if [self.name_of(one) for one in self.panel.series].count(name) > 1 or not name:
            return f"series {self.panel.series.index(series) + 1}"
        return name if bare(name, self.columns) and name in self.column_names else quoted(name)

    def name_of(self, series: Series) -> str:
        assert self.panel is not None
        return series_name(self.panel, series, self.tables)

    def kind_of(self, axis: str) -> str:
        """The kind of scale of an axis of the panel, linear where its columns tell nothing."""
        assert self.panel is not None
        try:
            return scale_kind(self.panel, self.tables, axis)
        except SornixError:
            return "linear"

    def unit_of(self, axis: str) -> str:
        assert self.panel is not None
        return axis_unit(self.panel, self.tables, axis)

    def value_words(self, axis: str, value: float) -> str:
        kind = KINDS[self.kind_of(axis)]
        return _words(
            kind, value, lambda v: kind.words(v, 0.0), lambda said: typed_moment(said, 0.0)
        )

    def step_words(self, axis: str, value: float) -> str:
        kind = KINDS[self.kind_of(axis)]
        return _words(kind, value, kind.step_words, kind.parse_step)


def _words(
    kind: Kind, value: float, say: Callable[[float], str], read: Callable[[str], float]
) -> str:
    """A value by the calendar of its axis where that loses nothing, otherwise as a number."""
    if not kind.traits.dated:
        return number_words(value)
    try:
        said = say(value)
        if read(said) == value:
            return said
    except (SornixError, ValueError, OverflowError):
        pass
    return f"{number_words(value)} {SINCE}"
