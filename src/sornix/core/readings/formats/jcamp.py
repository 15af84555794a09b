"""Spectra in JCAMP-DX, the exchange form of IUPAC.

R. S. McDonald and P. A. Wilks, "JCAMP-DX: A Standard Form for Exchange of Infrared Spectra in
Computer Readable Form", Applied Spectroscopy 42 (1988) 151–162, for records, blocks, and the forms
of numbers (AFFN, PAC, SQZ, DIF, DUP); A. N. Davies and P. Lampen, "JCAMP-DX for NMR", Applied
Spectroscopy 47 (1993) 1093–1099, for NTUPLES.
"""

import re
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path
from typing import NamedTuple

import numpy as np
from attrs import evolve

from sornix.core.errors import ReadingsError
from sornix.core.patterns import pattern
from sornix.core.readings.cells.header import Heading
from sornix.core.readings.files.encoding import utf8
from sornix.core.readings.formats.columns import scaled
from sornix.core.readings.formats.ordinates import Ends, evenly_spaced
from sornix.core.readings.tables.column import Column, Floats, number_column, text_column
from sornix.core.readings.tables.table import Table, told_of_all, unique_names
from sornix.core.text import plural, short

_LABEL = pattern(r"\s*##([^=\n]*)=(.*)", re.DOTALL)
_NOT_IN_LABELS = pattern(r"[\s\-/_]")
# names and units of what is usually along x and y
_USUAL: Mapping[str, Heading] = {
    "1/CM": Heading("Wavenumber", "cm⁻¹"),
    "CM-1": Heading("Wavenumber", "cm⁻¹"),
    "MICROMETERS": Heading("Wavelength", "µm"),
    "NANOMETERS": Heading("Wavelength", "nm"),
    "SECONDS": Heading("Time", "s"),
    "MINUTES": Heading("Time", "min"),
    "HZ": Heading("Frequency", "Hz"),
    "PPM": Heading("Chemical shift", "ppm"),
    "M/Z": Heading("m/z"),
    "DEGREES": Heading("Angle", "°"),
    "TRANSMITTANCE": Heading("Transmittance"),
    "%TRANSMITTANCE": Heading("Transmittance", "%"),
    "REFLECTANCE": Heading("Reflectance"),
    "ABSORBANCE": Heading("Absorbance"),
    "KUBELKAMUNK": Heading("Kubelka–Munk"),
    "ARBITRARYUNITS": Heading("Intensity", "arb. units"),
    "RELATIVEABUNDANCE": Heading("Relative abundance"),
    "RELATIVEINTENSITY": Heading("Relative intensity"),
    "COUNTS": Heading("Counts"),
}
Block = dict[str, list[str]]


class _Spectrum(NamedTuple):
    """The columns of a table, its title, and what is to be said of it."""

    title: str
    columns: list[Column]
    notes: list[str]


def read_jcamp(raw: bytes, path: Path) -> tuple[Table, ...]:
    """The tables in the blocks of a JCAMP-DX text. Raises ReadingsError."""
    text = utf8(raw, path.name).text.decode("utf-8")
    found: list[_Spectrum] = []
    passed: list[str] = []
    for block in _blocks(text):
        made = list(_spectra(block, path))
        found += made
        if not made and _one(block, "DATATYPE").upper() != "LINK":
            passed.append(_one(block, "TITLE") or "without a title")
    if not found:
        raise ReadingsError(
            "This JCAMP-DX file holds no spectrum, curve or table of peaks.", where=path.name
        )
    names = unique_names(short(one.title, 60) or path.stem for one in found)
    tables = [
        Table(name, tuple(_named_apart(one.columns)), tuple(one.notes))
        for name, one in zip(names, found, strict=True)
    ]
    if passed:
        listed = short(", ".join(f"“{title}”" for title in passed), 80)
        words = f"{plural(len(passed), 'block')} without readings: {listed}."
        tables = [evolve(t, notes=(*t.notes, words)) for t in tables]
    return told_of_all(tables, "file")


def _named_apart(columns: Sequence[Column]) -> Iterator[Column]:
    names = unique_names(column.name for column in columns)
    return (evolve(c, name=name) for c, name in zip(columns, names, strict=True))


# -- records and blocks --------------------------------------------------------------------------


def _blocks(text: str) -> Iterator[Block]:
    """The records of each block by their labels, without blanks and signs; inner blocks first."""
    open_ones: list[Block] = []
    for part in re.split(r"(?m)^(?=[ \t]*##)", text):
        record = _LABEL.match(part)
        if record is None:
            continue
        label = _NOT_IN_LABELS.sub("", record[1]).upper()
        value = re.sub(r"\$\$.*", "", record[2])
        if label == "":
            # a comment
            continue
        if label == "TITLE" or not open_ones:
            open_ones.append({})
        if label == "END":
            yield open_ones.pop()
        else:
            open_ones[-1].setdefault(label, []).append(value.strip())
    yield from reversed(open_ones)


def _one(block: Block, label: str) -> str:
    return block.get(label, [""])[0]


def _number(block: Block, label: str, usual: float) -> float:
    return _as_number(_one(block, label), usual)


def _as_number(text: str, usual: float) -> float:
    try:
        found = float(text.replace(",", ".").split()[0]) if text.strip() else usual
    except ValueError:
        return usual
    return found if np.isfinite(found) else usual


def _heading(block: Block, axis: str, units: str) -> Heading:
    """The name and unit of what is along an axis."""
    key = _NOT_IN_LABELS.sub("", units).upper() if units.upper() not in _USUAL else units.upper()
    usual = _USUAL.get(key, Heading(axis.lower(), units or ""))
    label = _one(block, f"{axis}LABEL")
    return Heading(label, usual.unit or (units if key not in _USUAL else "")) if label else usual


# -- what blocks hold ----------------------------------------------------------------------------


def _spectra(block: Block, path: Path) -> Iterator[_Spectrum]:
    title = _one(block, "TITLE")
    x = _heading(block, "X", _one(block, "XUNITS"))
    y = _heading(block, "Y", _one(block, "YUNITS"))
    factors = _number(block, "XFACTOR", 1.0), _number(block, "YFACTOR", 1.0)
    if "NTUPLES" in block:
        yield from _pages(block, title, path)
    for label in ("XYDATA", "RADATA"):
        for value in block.get(label, []):
            form, _, body = value.partition("\n")
            if "++" in form:
                letter = "X" if label == "XYDATA" else "R"
                ends = Ends(
                    _number(block, f"FIRST{letter}", np.nan),
                    _number(block, f"LAST{letter}", np.nan),
                    _number(block, f"DELTA{letter}", np.nan),
                    _number(block, "NPOINTS", np.nan), factors[0],
                    factors[1] if label == "XYDATA" else _number(block, "AFACTOR", 1.0),
                    _number(block, f"FIRST{'Y' if letter == 'X' else 'A'}", np.nan),
                )  # fmt: skip
                places, heights, notes = evenly_spaced(body, ends, path)
                columns = [number_column(*_parts(x, places)), number_column(*_parts(y, heights))]
                yield _Spectrum(title, columns, notes)
            else:
                yield _listed(title, value, (x, y), factors, path)
    for label in ("XYPOINTS", "PEAKTABLE", "PEAKASSIGNMENTS"):
        for value in block.get(label, []):
            name = f"{title}, peaks" if label != "XYPOINTS" and "XYDATA" in block else title
            yield _listed(name, value, (x, y), factors, path)


def _parts(heading: Heading, values: Floats) -> tuple[str, Floats, str]:
    return heading.name, values, heading.unit


# -- listed readings and peaks -------------------------------------------------------------------

_FURTHER = {"W": "Width", "M": "Multiplicity", "A": "Assignment"}


def _listed(
    title: str, value: str, headings: Sequence[Heading], factors: Sequence[float], path: Path
) -> _Spectrum:
    """Readings or peaks written one by one, as (XY..XY), (XYW..XYW) or (XYMA)."""
    form, _, body = value.partition("\n")
    letters = re.sub(r"[^A-Z]", "", form.split("..")[0].upper()) or "XY"
    entries = list(_entries(body, len(letters)))
    if not entries:
        raise ReadingsError("There is nothing under a label of peaks or points.", where=path.name)
    columns: list[Column] = []
    for place, letter in enumerate(letters):
        cells = [entry[place] if place < len(entry) else "" for entry in entries]
        if letter in "MA":
            columns.append(text_column(_FURTHER[letter], [c.strip(" <>") for c in cells]))
            continue
        factor = dict(zip("XY", factors, strict=True)).get(letter, 1.0)
        values = scaled(np.array([_as_number(cell, np.nan) for cell in cells]), factor)
        known = dict(zip("XY", headings, strict=True))
        heading = known.get(letter, Heading(_FURTHER.get(letter, letter), known["X"].unit))
        columns.append(number_column(*_parts(heading, values)))
    short_ones = sum(len(entry) < len(letters) for entry in entries if "A" not in letters)
    notes = []
    if short_ones:
        notes.append(f"{plural(short_ones, 'entry', 'entries')} lacked a number.")
    return _Spectrum(title, columns, notes)


def _entries(body: str, width: int) -> Iterator[list[str]]:
    """The parts of each reading or peak."""
    if "(" in body:
        for entry in re.findall(r"\(([^()]*(?:<[^>]*>[^()]*)?)\)", body):
            words = re.findall(r"<[^>]*>", entry)
            yield [*(c.strip() for c in re.sub(r"<[^>]*>", "", entry).split(",") if c.strip()),
                   *words]  # fmt: skip
        return
    for line in body.splitlines():
        for group in line.split(";"):
            cells = [cell for cell in re.split(r"[,\s]+", group.strip()) if cell]
            yield from (cells[i : i + width] for i in range(0, len(cells), width))


# -- pages of several variables ------------------------------------------------------------------


def _pages(block: Block, title: str, path: Path) -> Iterator[_Spectrum]:
    """What is written in pages: those along one x in a table together."""
    known = {
        label: [cell.strip() for cell in _one(block, label).split(",")]
        for label in ("SYMBOL", "VARNAME", "UNITS", "FIRST", "LAST", "FACTOR", "VARDIM")
    }
    symbols = [symbol.upper() for symbol in known["SYMBOL"]]

    def of(label: str, symbol: str) -> str:
        cells = known[label]
        at = symbols.index(symbol) if symbol in symbols else len(cells)
        return cells[at] if at < len(cells) else ""

    together: dict[tuple[float, ...], list[Column]] = {}
    notes: list[str] = []
    for page, value in zip(block.get("PAGE", []), block.get("DATATABLE", []), strict=False):
        form, _, body = value.partition("\n")
        pair = re.search(r"\(\s*([A-Z])\s*(\+\+)?\s*\(?\s*([A-Z])", form.upper())
        if pair is None:
            notes.append(f"The page “{short(page, 30)}” is in a form that is not read.")
            continue
        x, y = pair[1], pair[3]
        headings = [
            Heading(of("VARNAME", one) or usual.name, usual.unit)
            for one in (x, y)
            for usual in [_heading({}, one, of("UNITS", one))]
        ]
        factors = [_as_number(of("FACTOR", one), 1.0) for one in (x, y)]
        if pair[2] is None:
            listed = _listed(title, value, headings, factors, path)
            yield listed._replace(title=f"{title}, {page}" if page else title)
            continue
        ends = Ends(
            _as_number(of("FIRST", x), np.nan), _as_number(of("LAST", x), np.nan), np.nan,
            _as_number(of("VARDIM", x), np.nan), factors[0], factors[1], np.nan,
        )  # fmt: skip
        places, heights, said = evenly_spaced(body, ends, path)
        notes += said
        key = (float(places[0]), float(places[-1]), float(len(places)))
        among = together.setdefault(key, [number_column(*_parts(headings[0], places))])
        among.append(number_column(*_parts(headings[1], heights)))
    for columns in together.values():
        yield _Spectrum(title, columns, list(dict.fromkeys(notes)))
