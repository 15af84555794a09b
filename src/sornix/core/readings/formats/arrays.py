"""Files of arrays (HDF5, NetCDF, NumPy) as tables.

Variables of one dimension in common make a table, a variable of two dimensions a table of its own,
with a column for each place along the second; along the first, where only the places along the
second are known, or none and it is much wider than high. What attributes say is done as the
conventions for climate and forecast metadata have it (CF 1.11, sections 2.5, 3, 4.4 and 8.1):
values that stand for missing readings, scale and offset, units, and times counted since a moment.
"""

import re
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.errors import ReadingsError
from sornix.core.patterns import pattern
from sornix.core.readings.cells.header import Heading, parse_heading
from sornix.core.readings.files.kinds import MOST_COLUMNS, Manner, make_column
from sornix.core.readings.formats.apart import opened
from sornix.core.readings.formats.columns import (
    IN_SECONDS,
    MOST_WHOLE,
    ROUNDED,
    said_of,
    scaled,
)
from sornix.core.readings.formats.opening_tables import as_written
from sornix.core.readings.tables.column import NUMBER, Column, moments_column, number_column
from sornix.core.readings.tables.dialect import NOTHING_HELD, Dialect, Held, ReadAs
from sornix.core.readings.tables.table import Table, told_of_all, unique_names
from sornix.core.text import short, spoken

_SINCE = pattern(
    r"\s*(micro|milli)?(second|sec|s|minute|min|hour|hr|h|day|d|week)s?\s+since\s+(.+)",
    re.IGNORECASE,
)
_MOMENT = pattern(
    r"(\d{1,4})-(\d{1,2})-(\d{1,2})"
    r"(?:(?:T|\s+)(\d{1,2})(?::(\d{1,2})(?::(\d{1,2}(?:\.\d*)?))?)?)?"
    r"\s*(?:Z|UTC|GMT|([+-])(\d{1,2}(?::?\d{2})?))?"
)
_SECONDS = {"s": 1.0, "m": 60.0, "h": 3600.0, "d": 86400.0, "w": 604800.0}
_PARTS = {None: 1.0, "milli": 1e-3, "micro": 1e-6}
# calendars that are the usual one since 1582
_USUAL_CALENDARS = ("", "standard", "gregorian", "proleptic_gregorian")
# where moments are counted from, to the microsecond
_EPOCH = np.datetime64("1970-01-01T00:00:00", "us")


class Variable(NamedTuple):
    """An array of a file: its path, the paths of its dimensions ("" for one that has no name), its
    values, and what its attributes say."""

    path: str
    dimensions: tuple[str, ...]
    values: NDArray[Any]
    attributes: Mapping[str, Any] = {}

    @property
    def group(self) -> str:
        return self.path.rpartition("/")[0]

    @property
    def name(self) -> str:
        return self.path.rpartition("/")[2]

    def said(self, name: str) -> str:
        """An attribute as text, "" where it is not there."""
        value = self.attributes.get(name, "")
        return value.strip() if isinstance(value, str) else ""

    def along(self, axis: int) -> tuple[str, str]:
        """What is the same for all variables that share a dimension: its path, or else their group
        and how long it is."""
        path = self.dimensions[axis]
        return ("", path) if path else (self.group, str(self.values.shape[axis]))


def read_arrays(kind: str, words: str, path: Path, held: Held = NOTHING_HELD) -> tuple[Table, ...]:
    """The tables in a file of a kind that `opening_arrays` knows; arrays that are `held` to be
    lying have a reading in each column. Raises ReadingsError."""
    if kind == "netcdf":
        with path.open("rb") as file:
            if file.read(4)[3:] == b"\x05":
                raise ReadingsError(
                    "This NetCDF file is of the kind for 64-bit data, which is not read.",
                    where=path.name,
                    remedy="Convert it to NetCDF-4.",
                )
    _, (found, closed) = opened("opening_arrays", kind, words, path)
    return tables_of([Variable(*one) for one in found], path, closed, held)


def tables_of(
    variables: Sequence[Variable],
    path: Path,
    closed: Sequence[str] = (),
    held: Held = NOTHING_HELD,
) -> tuple[Table, ...]:
    """The tables that variables make; `closed` are the names of those that could not be opened.
    Raises ReadingsError."""
    known = [one for given in variables for one in _taken_apart(given)]
    lines = [one for one in known if one.values.ndim == 1 and one.values.size]
    sheets = [one for one in known if one.values.ndim == 2 and one.values.size]
    groups: dict[tuple[str, str], list[Variable]] = {}
    for one in lines:
        groups.setdefault(one.along(0), []).append(one)
    left_out = [one.name or path.stem for one in known if one.values.ndim > 2]
    single = [one.name for one in known if not one.values.ndim]
    read_as = {one.path: _read_as(one, groups, held) for one in sheets}
    sheets = [_turned(one) if read_as[one.path].dialect.lying else one for one in sheets]
    wide = [one for one in sheets if one.values.shape[1] > MOST_COLUMNS]
    sheets = [one for one in sheets if one.values.shape[1] <= MOST_COLUMNS]
    placed = [_places(one, groups.get(one.along(i), ()), i) for one in sheets for i in (0, 1)]
    told = {id(one) for one in placed if one is not None}
    tables = [
        _of_lines(among, path, alone=len(groups) == 1)
        for among in groups.values()
        # what only says where the rows and columns of a variable stand is told there
        if len(among) > 1 or id(among[0]) not in told
    ]
    tables += [evolve(_of_sheet(one, groups, path), read_as=read_as[one.path]) for one in sheets]
    tables = [table for table in tables if any(c.has_places and c.count for c in table.columns)]
    if not tables:
        raise ReadingsError(
            "There are no numbers in one or two dimensions in this file.", where=path.name,
            remedy="Objects of a programming language are not opened." if closed else "",
        )  # fmt: skip
    notes = [
        *_left_out("with more dimensions than a table has", left_out),
        *_left_out(f"with more than {spoken(MOST_COLUMNS)} columns", [one.name for one in wide]),
        *_left_out("being single values", single),
        *_left_out("since they could not be opened", [n.strip("/") or path.stem for n in closed]),
    ]
    names = unique_names(table.name for table in tables)
    tables = [evolve(t, name=n) for t, n in zip(tables, names, strict=True)]
    return tuple(evolve(t, notes=(*t.notes, *notes)) for t in told_of_all(tables, "file"))


def _left_out(what: str, names: Sequence[str]) -> Iterator[str]:
    if names:
        listed = short(", ".join(f"“{name}”" for name in names), 80)
        yield f"Left out, {what}: {listed}."


def _taken_apart(one: Variable) -> Iterator[Variable]:
    """A variable as those of simple values in as few dimensions as it needs: fields of records by
    themselves, complex numbers in two parts, no dimension that is 1 long."""
    values = one.values
    if values.ndim > 1 and 1 in values.shape:
        kept = [axis for axis, size in enumerate(values.shape) if size != 1] or [0]
        one = one._replace(
            values=values.reshape([values.shape[axis] for axis in kept]),
            dimensions=tuple(one.dimensions[axis] for axis in kept),
        )
    if one.values.dtype.names:
        for name in one.values.dtype.names:
            yield from _taken_apart(
                one._replace(path=f"{one.path.rstrip('/')}/{name}", values=one.values[name],
                             dimensions=(*one.dimensions, *[""] * (one.values[name].ndim
                                                                   - one.values.ndim)))
            )  # fmt: skip
    elif one.values.dtype.kind == "c":
        for name, part in (("real", one.values.real), ("imaginary", one.values.imag)):
            yield one._replace(path=f"{one.path} {name}", values=part)
    else:
        yield one


# -- tables --------------------------------------------------------------------------------------


class _Made(NamedTuple):
    """A column, and what is to be said of all such {names}."""

    column: Column
    said: tuple[str, ...] = ()


def _of_lines(variables: Sequence[Variable], path: Path, *, alone: bool) -> Table:
    """The table of variables along one dimension, what says the places along it first."""
    places = [one for one in variables if one.path == one.dimensions[0]]
    one_way = [one for one in variables if _goes_one_way(one.values)]
    if not places and len(one_way) == 1:
        places = one_way
    others = [one for one in variables if all(one is not place for place in places)]
    made = [_column(one) for one in (*places, *others)]
    groups = list(dict.fromkeys(one.group for one in others or places))
    name = groups[0].strip("/").replace("/", ", ") if len(groups) == 1 else ""
    if not name and variables[0].dimensions[0] and not alone:
        name = f"{path.stem} by {variables[0].dimensions[0].rpartition('/')[2]}"
    return _table(name or path.stem, made)


def _of_sheet(
    one: Variable, groups: Mapping[tuple[str, str], Sequence[Variable]], path: Path
) -> Table:
    """The table of a variable of two dimensions."""
    rows = _places(one, groups.get(one.along(0), ()), 0)
    across = _places(one, groups.get(one.along(1), ()), 1)
    title = _heading(one)
    made = [_column(rows)] if rows is not None else []
    if across is not None:
        where = _column(across).column
        unit = f" {where.unit}" if where.unit else ""
        names = [f"{title.name} at {_said_place(where, i)}{unit}" for i in range(len(where))]
    else:
        names = [f"{title.name} {i + 1}" for i in range(one.values.shape[1])]
    for i, name in enumerate(names):
        attributes = {**one.attributes, "long_name": name}
        part = one._replace(values=one.values[:, i], attributes=attributes)
        made.append(_column(part, title.unit))
    guessed = [p.name for p in (rows, across) if p is not None and p.path not in one.dimensions]
    said = [f"“{name}” was taken to say where the readings of “{title.name}” stand, since it is as "
            "long." for name in guessed]  # fmt: skip
    table = _table(one.name or path.stem, made)
    return evolve(table, notes=(*table.notes, *said))


def _read_as(
    one: Variable, groups: Mapping[tuple[str, str], Sequence[Variable]], held: Held
) -> ReadAs:
    """Whether a variable of two dimensions has a reading in each row, or in each column."""
    known = [_places(one, groups.get(one.along(i), ()), i) is not None for i in (0, 1)]
    high, wide = one.values.shape
    lying = known == [False, True] or (not any(known) and 2 * high <= wide)
    doubt = f"An array of {high} × {wide} without names may be {high} or {wide} columns."
    doubts = {"lying": doubt} if lying and not any(known) and "lying" not in held else {}
    return ReadAs(Dialect(lying=held.get("lying", lying)), ("lying",), held, doubts)


def _turned(one: Variable) -> Variable:
    return one._replace(values=one.values.T, dimensions=one.dimensions[::-1])


def _said_place(column: Column, row: int) -> str:
    if column.kind != NUMBER:
        return column.cell(row)
    value = float(column.numbers[row])
    # single numbers of 32 bits would have digits that nobody wrote
    return spoken(float(f"{value:.7g}")) if np.isfinite(value) else str(row + 1)


def _places(one: Variable, along: Sequence[Variable], axis: int) -> Variable | None:
    """What says where the rows or columns of a variable of two dimensions stand: the scale of that
    dimension, or the one variable that is as long and goes one way."""
    path = one.dimensions[axis]
    if path:
        return next((v for v in along if v.path == path), None)
    square = one.values.shape[0] == one.values.shape[1]
    if len(along) != 1 or (square and axis == 1) or not _goes_one_way(along[0].values):
        return None
    return along[0]


def _goes_one_way(values: NDArray[Any]) -> bool:
    """Whether each value is above the one before, or each below it."""
    if values.dtype.kind not in "iufM" or len(values) < 2:
        return False
    return bool((values[1:] > values[:-1]).all() or (values[1:] < values[:-1]).all())


def _table(name: str, made: Sequence[_Made]) -> Table:
    names = unique_names(one.column.name for one in made)
    columns = tuple(evolve(one.column, name=own) for one, own in zip(made, names, strict=True))
    notes = [(said, own) for one, own in zip(made, names, strict=True) for said in one.said]
    return Table(name, columns, said_of(notes))


# -- columns -------------------------------------------------------------------------------------


def _heading(one: Variable) -> Heading:
    """The name and the unit: as the attributes have them, or as they stand in its own name."""
    name = one.said("long_name") or one.name or "Value"
    unit = one.said("units")
    if unit in ("1", "none", "dimensionless"):
        return Heading(name)
    return Heading(name, unit) if unit else parse_heading(name)


def _column(one: Variable, unit: str | None = None) -> _Made:
    """The column of a variable of one dimension."""
    heading = _heading(one)
    heading = heading if unit is None else Heading(one.said("long_name"), unit)
    values = one.values
    kind = values.dtype.kind
    if kind == "M":
        moments = (values.astype("datetime64[us]") - _EPOCH).astype(np.float64) / 1e6
        moments[np.isnat(values)] = np.nan
        return _Made(moments_column(heading.name, moments))
    if kind == "m":
        lasting = values.astype("timedelta64[us]").astype(np.float64) / 1e6
        lasting[np.isnat(values)] = np.nan
        return _Made(number_column(heading.name, lasting, "s"), (IN_SECONDS,))
    if kind not in "buif":
        words = [_word(value) for value in values.tolist()]
        known = make_column(heading, words, None, Manner())
        return _Made(known.column, known.notes)
    return _numbers(one, heading)


def _word(value: Any) -> str:
    if isinstance(value, bytes):
        value = value.decode("utf-8", "replace")
    return str(value).strip("\0 ") if value is not None else ""


def _numbers(one: Variable, heading: Heading) -> _Made:
    raw = one.values
    found = raw.astype(np.float64)
    for mark in _marks(one):
        found[raw == mark] = np.nan
    said = []
    low, high = _valid(one)
    with np.errstate(invalid="ignore"):
        beyond = (found < low) | (found > high)
    if beyond.any():
        found[beyond] = np.nan
        said.append("Values of {names} outside their valid range count as missing.")
    scale, offset = _number(one, "scale_factor", 1.0), _number(one, "add_offset", 0.0)
    if scale != 1 or offset:
        found = scaled(found, scale, offset)
    elif raw.dtype.kind == "f" and raw.dtype.itemsize < 8:
        found = np.where(np.isfinite(found), as_written(raw), np.nan)
    if raw.dtype.kind in "iu" and np.abs(np.nan_to_num(found)).max(initial=0.0) > MOST_WHOLE:
        said.append(ROUNDED)
    since = _SINCE.fullmatch(heading.unit)
    if since is None:
        return _Made(number_column(heading.name, found, heading.unit), tuple(said))
    calendar = one.said("calendar").lower()
    begin = _begin(since[3].strip(), calendar) if calendar in _USUAL_CALENDARS else None
    if begin is None:
        said.append(f"{{names}} counts {short(heading.unit, 60)}, which was not understood.")
        return _Made(number_column(heading.name, found, ""), tuple(said))
    parts = _PARTS[since[1].lower() if since[1] else None] * _SECONDS[since[2][0].lower()]
    # to the microsecond: sums of days in binary are not whole seconds
    return _Made(moments_column(heading.name, np.round(begin + found * parts, 6)), tuple(said))


def _begin(text: str, calendar: str) -> float | None:
    """The moment that times are counted from, in seconds since 1970. Before 15 October 1582 it is
    one of Julius Caesar's calendar, unless the calendar goes on as today's (CF, section 4.4.1)."""
    found = _MOMENT.fullmatch(text)
    if found is None:
        return None
    year, month, day = (int(found[i]) for i in (1, 2, 3))
    if not 1 <= month <= 12 or not 1 <= day <= 31:
        return None
    months = 12 * (year - 1970) + month - 1
    first = np.datetime64(months, "M").astype("datetime64[D]").astype(int)
    days = int(first) + day - 1
    if calendar != "proleptic_gregorian" and (year, month, day) < (1582, 10, 15):
        # centuries that were leap years then and are not counted so now
        past = year - (month < 3)
        days += past // 100 - past // 400 - 2
    hours, minutes, seconds = (float(found[i] or 0) for i in (4, 5, 6))
    offset = 0.0
    if found[7]:
        digits = found[8].replace(":", "")
        hour, minute = (digits[:-2], digits[-2:]) if len(digits) > 2 else (digits, "0")
        offset = (3600 * int(hour) + 60 * int(minute)) * (-1 if found[7] == "-" else 1)
    return 86400.0 * days + 3600 * hours + 60 * minutes + seconds - offset


def _marks(one: Variable) -> list[Any]:
    found: list[Any] = []
    for name in ("_FillValue", "missing_value"):
        value = one.attributes.get(name)
        found += value if isinstance(value, list) else [value]
    return [value for value in found if isinstance(value, int | float)]


def _valid(one: Variable) -> tuple[float, float]:
    both = one.attributes.get("valid_range")
    if isinstance(both, list) and len(both) == 2:
        return float(both[0]), float(both[1])
    return _number(one, "valid_min", -np.inf), _number(one, "valid_max", np.inf)


def _number(one: Variable, name: str, usual: float) -> float:
    value = one.attributes.get(name, usual)
    return float(value) if isinstance(value, int | float) else usual
