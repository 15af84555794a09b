"""Columns that come in pairs: curves that each have places of their own."""

from collections.abc import Sequence

import numpy as np

from sornix.core.figure.derived.roles import EMPTY, ONCE_MORE, UNCERTAINTY, Seen
from sornix.core.figure.derived.runs import chosen, steadiness
from sornix.core.readings import NUMBER, TIME, Column
from sornix.core.text.names import name_stem


def paired(seen: Sequence[Seen]) -> list[tuple[Column, Column]]:
    """Each column that was measured with the one that it stands along, where a table has several of
    these, `x1, y1, x2, y2`; else none. Of several that hold the same places the first is taken."""
    columns = [one.column for one in seen if one.column.kind in (NUMBER, TIME)
               and one.role not in (EMPTY, UNCERTAINTY) and not _is_worked_out(one)]  # fmt: skip
    blocks: list[list[Column]] = []
    for column in columns:
        if not blocks or _is_called_as(column, blocks[0][0]):
            blocks.append([])
        blocks[-1].append(column)
    if len(blocks) < 2 or len(set(map(len, blocks))) > 1 or len(blocks[0]) < 2:
        return []
    heads = [block[0] for block in blocks]
    if not all(map(steadiness, heads)):
        return []
    alike = all(
        name_stem(a.name) == name_stem(b.name)
        for block in blocks for a, b in zip(block, blocks[0], strict=True)
    )  # fmt: skip
    if not alike and not all(chosen(head) == 2 for head in heads):
        return []
    places = [next(one for one in heads if np.array_equal(one.known, head.known)) for head in heads]
    return [(x, y) for x, (_, *others) in zip(places, blocks, strict=True) for y in others]


def _is_worked_out(one: Seen) -> bool:
    return one.role == ONCE_MORE and one.column.rule is not None


def _is_called_as(column: Column, head: Column) -> bool:
    same = (column.kind, column.unit) == (head.kind, head.unit)
    return same and name_stem(column.name).casefold() == name_stem(head.name).casefold()
