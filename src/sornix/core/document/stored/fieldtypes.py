"""The types of columns as data packages have them (Frictionless Data, Table Schema)."""

from collections.abc import Mapping
from typing import Any

import numpy as np

from sornix.core.document.stored.storedcells import FIRST_MOMENT, LAST_MOMENT
from sornix.core.readings import NUMBER, TEXT, TIME, Column

_TYPES = {NUMBER: "number", TIME: "datetime", TEXT: "string"}
_KINDS = {type_: kind for kind, type_ in _TYPES.items()} | dict.fromkeys(
    ("date", "time", "yearmonth"), TIME
)
# How times are written, by their form: the type and the format that other readers have for it. What
# is written in several ways has the format "any".
_WRITTEN = {
    "month": ("yearmonth", "default"),
    "day": ("date", "default"),
    "minute": ("datetime", "%Y-%m-%d %H:%M"),
    "second": ("datetime", "%Y-%m-%d %H:%M:%S"),
    "fraction": ("datetime", "any"),
    "clock": ("time", "any"),
}
_PARTS_OF_DAY = {"day": 86_400.0, "minute": 60.0, "second": 1.0}


def type_of(column: Column) -> dict[str, str]:
    """The type of a column to other readers, and how its cells are written."""
    if column.texts:
        # it holds other text in places
        return {"type": "any"}
    if column.kind != TIME:
        return {"type": _TYPES[column.kind]}
    low, high = column.ends or (0.0, 0.0)
    if low < FIRST_MOMENT or high > LAST_MOMENT:
        # no reader has dates for these
        return {"type": "any"}
    type_, format_ = _WRITTEN.get(column.form, ("datetime", "any"))
    if not _is_written_evenly(column):
        type_, format_ = "datetime", "any"
    return {"type": type_, "format": format_}


def _is_written_evenly(column: Column) -> bool:
    """Whether no moment is finer than the form of its column: those are written as finely as they
    are."""
    known = column.numbers[column.present]
    if column.form == "clock":
        return bool(((known >= 0) & (known < _PARTS_OF_DAY["day"])).all())
    if column.form == "month":
        days = np.floor(known / _PARTS_OF_DAY["day"])
        first = days.astype("datetime64[D]").astype("datetime64[M]").astype("datetime64[D]")
        return bool((first.astype(np.float64) * _PARTS_OF_DAY["day"] == known).all())
    part = _PARTS_OF_DAY.get(column.form)
    return part is None or not np.mod(known, part).any()


def kind_of(field: Mapping[str, Any]) -> str:
    """The kind of a column: as we wrote it, or by its type where another program did."""
    kind = field.get("sornix", {}).get("kind")
    return str(kind) if kind in _TYPES else _KINDS.get(field["type"], NUMBER)
