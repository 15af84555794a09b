"""Courses beside one another: readings that go one way in each of several groups, which stand one
below the other, and begin anew with the next: casts, runs, days."""

from collections.abc import Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from sornix.core.figure.derived.roles import CODES, GROUPS, MOMENT, QUANTITY, Seen
from sornix.core.figure.derived.runs import chosen
from sornix.core.readings import Column

_FEWEST, _MOST, _SHORTEST = 2, 8, 3


class Courses(NamedTuple):
    """What the readings of each group stand along, its role, the column of the groups, and the rows
    of the first."""

    along: Column
    role: str
    groups: Column
    first: slice


def courses(seen: Sequence[Seen]) -> Courses | None:
    """What readings stand along that begin anew with each group; None where they do not, or where
    something as likely goes one way from the first row to the last."""
    groups = [one.column for one in seen if one.role == GROUPS]
    spans = _spans(groups[0]) if len(groups) == 1 else []
    if not _FEWEST <= len(spans) <= _MOST or min(s.stop - s.start for s in spans) < _SHORTEST:
        return None
    places = [one for one in seen if one.role in (MOMENT, QUANTITY) or
              (one.role == CODES and (one.column.unit or chosen(one.column)))]  # fmt: skip
    ranked = sorted(places, key=lambda one: (one.role != MOMENT, -chosen(one.column)))
    best = next((one for one in ranked if one.column.way in (-2, 2) or
                 _go_alike([cut(one.column, span) for span in spans])), None)  # fmt: skip
    if best is None or best.column.way:
        return None
    role = MOMENT if best.role == MOMENT else QUANTITY
    return Courses(best.column, role, groups[0], spans[0])


def cut(column: Column, rows: slice) -> Column:
    """Some rows of a column."""
    return Column(column.name, column.unit, column.kind, column.values[rows].copy(),
                  form=column.form)  # fmt: skip


def _spans(groups: Column) -> list[slice]:
    """The rows of each group; nothing where one comes more than once, or rows are of none."""
    cells = groups.values
    edges = [0, *(np.flatnonzero(cells[1:] != cells[:-1]) + 1).tolist(), len(cells)]
    names = [cells[at] for at in edges[:-1]]
    if "" in names or len(set(names)) < len(names):
        return []
    return [slice(a, b) for a, b in pairwise(edges)]


def _go_alike(parts: Sequence[Column]) -> bool:
    """Whether all go one way, and the same."""
    whole = all(part.count == len(part) for part in parts)
    return whole and {part.way for part in parts} in ({2}, {-2})
