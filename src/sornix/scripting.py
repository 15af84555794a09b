"""Sornix in Python: readings, figures and fits from scripts and notebooks, without a window."""

from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.document import ENDING, Document, Export, load_document, out_endings
from sornix.core.document.value import new_document
from sornix.core.drawing import Drawing
from sornix.core.errors import DocumentError, ReadingsError
from sornix.core.figure import caption, series_name, trend_fit
from sornix.core.frozen import frozen
from sornix.core.readings import TEXT, TIME, Column, Table, Tables, table_named
from sornix.core.readings.changes.together import with_whole_times
from sornix.core.statement import read_statement, write_statement
from sornix.core.text import plural

_EXPORT = Export()
_PICTURE_DPI = 150.0


@frozen(slots=False)
class Readings:
    """A table of readings: its `name`, its columns as arrays, their units, and what was doubtful.

    `readings["Depth"]` is the column of that name: float64 with NaN where nothing was read,
    datetime64[us] with NaT for dates and times, str objects ("" where nothing stood) for words.
    """

    table: Table

    @property
    def name(self) -> str:
        return self.table.name

    @property
    def columns(self) -> tuple[str, ...]:
        """The names of the columns."""
        return self.table.column_names

    @property
    def units(self) -> dict[str, str]:
        """The unit of each column as it was written, "" for none."""
        return {column.name: column.unit for column in self.table.columns}

    @property
    def doubts(self) -> tuple[str, ...]:
        """What may have been read otherwise than it was meant, and what was passed over."""
        read_as = self.table.read_as
        told = tuple(read_as.doubts.values()) if read_as is not None else ()
        return (*told, *self.table.remarks)

    def __getitem__(self, name: str) -> NDArray[Any]:
        return _array_of(self.table.column(name))

    def __iter__(self) -> Iterator[str]:
        return iter(self.columns)

    def __len__(self) -> int:
        return self.table.row_count

    def __repr__(self) -> str:
        units = self.units
        titles = (f"{name} / {units[name]}" if units[name] else name for name in self.columns)
        return f"<{self.name}: {plural(len(self), 'row')}; {', '.join(titles)}>"


class Fitted(NamedTuple):
    """A trend that was fitted: the name of its `series`, its `model`, the `equation` as it is
    printed, `values` and standard `errors` of its parameters by name, R², and the number `n` of
    readings."""

    series: str
    model: str
    equation: str
    values: dict[str, float]
    errors: dict[str, float | None]
    r_squared: float | None
    n: int


@frozen(slots=False)
class Drawn:
    """A figure: it shows itself in a notebook, is saved, and says what it draws."""

    document: Document
    drawing: Drawing

    def __repr__(self) -> str:
        figure, drawing = self.document.figure, self.drawing
        said = caption(figure, self.document.tables, drawing.equations, drawing.shades)
        return f"<{drawing.width_mm:g} × {drawing.height_mm:g} mm: {said}>"

    @property
    def statement(self) -> str:
        """What the figure says, in words that `draw` takes."""
        return write_statement(self.document.figure, self.document.tables, plotted=True)

    @property
    def trends(self) -> tuple[Fitted, ...]:
        """The trends on the figure, in numbers. Raises TrendImpossible."""
        return tuple(_fitted(self))

    def save(
        self, path: str | Path, *, dpi: float = _EXPORT.dots_per_inch, width_px: int | None = None,
        transparent: bool = False, outlines: bool = False,
    ) -> list[Path]:  # fmt: skip
        """Writes the figure as .png, .svg, .pdf, .html (a page that can be pointed at), .csv (the
        numbers that are drawn) or .sornix; gives the files. Raises DocumentError."""
        from sornix.paint import exportfiles

        target = Path(path)
        if target.suffix.lower() not in out_endings():
            raise DocumentError(
                f"Figures cannot be written as “{target.suffix or 'a file without ending'}”.",
                where=str(target),
                remedy=f"Let the name end in one of {', '.join(out_endings())}.",
            )
        how = Export(
            dots_per_inch=dpi, width_px=width_px, transparent=transparent, outlines=outlines
        )
        document = Document(self.document.tables, self.document.figure, how)
        return exportfiles.write_out(document, self.drawing, target)

    def _as(self, ending: str) -> bytes:
        from sornix.paint.export import export
        from sornix.paint.exportfiles import told_of

        how = Export(dots_per_inch=_PICTURE_DPI)
        return export(self.drawing, ending, how, told_of(self.document, self.drawing))

    def _repr_svg_(self) -> str:
        return self._as(".svg").decode("utf-8")

    def _repr_png_(self) -> bytes:
        return self._as(".png")


def read(path: str | Path, *, sheet: str | None = None, **held: Any) -> list[Readings]:
    """The tables in a file of any type that Sornix reads, or in a document.

    What is `held` of the dialect is kept to (`separator=";"`, `decimal=","`, `order="month"` …);
    all else is found. Raises ReadingsError.
    """
    return [Readings(table) for table in _tables_in(Path(path), sheet, held)]


def draw(readings: object, statement: str = "", *, sheet: str | None = None) -> Drawn:
    """The figure that a statement says of readings; without words, or where these leave it open, as
    Sornix would draw it.

    `readings` are the path of a file or document, what `read` gives, a mapping of names (with
    units: "Depth (m)") to arrays, or any table of another library that offers its columns by the
    Arrow C stream or the dataframe interchange protocol. A document without a statement is drawn
    as it is. Raises ReadingsError and StatementError.
    """
    from sornix.paint import offscreen

    document = _document_of(readings, sheet)
    if statement.strip():
        figure = read_statement(statement, document.tables, document.figure, checked=True)
        document = Document(document.tables, figure)
    return Drawn(document, offscreen.drawing_of(document))


def fit(readings: object, statement: str, *, sheet: str | None = None) -> tuple[Fitted, ...]:
    """The trends that a statement says of readings (see `draw`), in numbers: “Trend power law”, or
    “Plot Flow against Level; Trend power law from 0.5”. Raises TrendImpossible as well."""
    return draw(readings, statement, sheet=sheet).trends


def _fitted(drawn: Drawn) -> Iterator[Fitted]:
    figure, tables = drawn.document.figure, drawn.document.tables
    for index, place in enumerate(drawn.drawing.panels):
        panel = figure.seen(index)
        for trend in panel.trends:
            found = trend_fit(trend, panel, tables)
            yield Fitted(
                series_name(panel, panel.one_series(trend.series), tables),
                trend.model,
                place.equations[trend.id].text if found.names else "",
                {name: found.value(name) for name in found.names},
                {name: found.standard_error(name) for name in found.names},
                found.r_squared,
                found.n,
            )


# -- readings ----------------------------------------------------------------------------------


def _array_of(column: Column) -> NDArray[Any]:
    if column.kind == TEXT:
        return np.array(column.values, dtype=object)
    if column.kind != TIME:
        return column.numbers.copy()
    micro = np.full(len(column), np.datetime64("NaT", "us"))
    known = column.present
    micro[known] = np.round(column.numbers[known] * 1e6).astype("int64").astype("datetime64[us]")
    return micro


def _tables_in(path: Path, sheet: str | None, held: Mapping[str, Any]) -> Tables:
    from sornix.core.readings.formats.sources import read_file

    if path.suffix.lower() != ENDING:
        return tuple(map(with_whole_times, read_file(path, sheet, dict(held))))
    tables = load_document(path).tables
    return tables if sheet is None else (table_named(tables, sheet),)


def _document_of(readings: object, sheet: str | None) -> Document:
    if isinstance(readings, str | Path):
        path = Path(readings)
        if path.suffix.lower() == ENDING and sheet is None:
            return load_document(path)
        return new_document(*_tables_in(path, sheet, {}))
    if isinstance(readings, Readings):
        return new_document(readings.table)
    if isinstance(readings, Sequence) and all(isinstance(one, Readings) for one in readings):
        return new_document(*(one.table for one in readings))
    return new_document(_table_of(readings))


def _table_of(readings: object) -> Table:
    """A table of arrays, or of another library. Raises ReadingsError."""
    import pyarrow as pa

    from sornix.core.readings.formats.columns import table_of_arrow

    try:
        if isinstance(readings, Mapping):
            table = pa.table({str(k): pa.array(np.asarray(v)) for k, v in readings.items()})
        elif hasattr(readings, "__arrow_c_stream__"):
            table = pa.table(readings)
        elif hasattr(readings, "__dataframe__"):
            from pyarrow.interchange import from_dataframe

            table = from_dataframe(readings)
        else:
            raise ReadingsError(
                f"There are no readings in {type(readings).__name__}.",
                remedy="Give a path, a mapping of names to arrays, or a table.",
            )
    except (pa.ArrowException, TypeError, ValueError) as error:
        raise ReadingsError(
            f"These readings are no table ({error}).",
            remedy="All columns have the same length, and hold numbers, times or words.",
        ) from error
    return table_of_arrow(table, "readings", "readings")
