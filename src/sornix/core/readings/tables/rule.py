"""What a column is computed from: a formula, words for codes, the number of entries in lists, or
the parts of dates and times."""

from attrs import evolve, frozen


@frozen
class Formula:
    """Computed from other columns by ordinary mathematics."""

    text: str

    @property
    def words(self) -> str:
        return f"= {self.text}"

    def inputs(self) -> tuple[str, ...]:
        from sornix.core.formula import names_in, parse_formula

        return tuple(dict.fromkeys(name.name for name in names_in(parse_formula(self.text))))

    def following(self, old: str, new: str) -> "Formula":
        """The same rule after a column was renamed."""
        from sornix.core.formula import parse_formula, renamed

        return Formula(renamed(self.text, parse_formula(self.text), old, new))


@frozen
class CodeWords:
    """The words that stand for the codes in a column: (code, word) pairs. Other cells stay."""

    column: str
    words_of: tuple[tuple[str, str], ...]

    @property
    def words(self) -> str:
        said = ", ".join(f"{code} = {word}" for code, word in self.words_of)
        return f"words for “{self.column}”: {said}"

    def inputs(self) -> tuple[str, ...]:
        return (self.column,)

    def following(self, old: str, new: str) -> "CodeWords":
        return evolve(self, column=new) if self.column == old else self


@frozen
class EntryCount:
    """How many entries each cell of a column of lists holds, divided by a separator."""

    column: str
    separator: str = ","

    @property
    def words(self) -> str:
        return f"entries of “{self.column}” divided by “{self.separator}”"

    def inputs(self) -> tuple[str, ...]:
        return (self.column,)

    def following(self, old: str, new: str) -> "EntryCount":
        return evolve(self, column=new) if self.column == old else self


@frozen
class Together:
    """Dates and the times of day beside them, as one time."""

    date: str
    clock: str

    @property
    def words(self) -> str:
        return f"“{self.date}” and “{self.clock}” together"

    def inputs(self) -> tuple[str, ...]:
        return (self.date, self.clock)

    def following(self, old: str, new: str) -> "Together":
        parts = (new if part == old else part for part in self.inputs())
        return Together(*parts)


@frozen
class DateParts:
    """Years, months and what follows them in columns of numbers, as one time: the names of the
    columns from the coarsest part on, year, month, day, hour, minute, second."""

    columns: tuple[str, ...]

    @property
    def words(self) -> str:
        return f"{', '.join(f'“{one}”' for one in self.columns)} as one time"

    def inputs(self) -> tuple[str, ...]:
        return self.columns

    def following(self, old: str, new: str) -> "DateParts":
        return DateParts(tuple(new if part == old else part for part in self.columns))


@frozen
class GoingOn:
    """Times of day that go on over midnight: hours since the midnight before the first."""

    column: str

    @property
    def words(self) -> str:
        return f"“{self.column}” in hours, going on over midnight"

    def inputs(self) -> tuple[str, ...]:
        return (self.column,)

    def following(self, old: str, new: str) -> "GoingOn":
        return evolve(self, column=new) if self.column == old else self


Rule = Formula | CodeWords | EntryCount | Together | DateParts | GoingOn
