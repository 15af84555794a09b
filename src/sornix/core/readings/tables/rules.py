"""Columns that are computed from others by a rule."""

import json
import re
from collections.abc import Mapping
from typing import Any

import numpy as np
from attrs import evolve

from sornix.core.errors import EditRefused, FormulaError, UnknownColumn
from sornix.core.readings.tables.column import TEXT, Column, number_column, text_column
from sornix.core.readings.tables.rule import (
    COUNTS,
    CodeWords,
    Counted,
    DateParts,
    DayOfYear,
    EntryCount,
    Formula,
    GoingOn,
    Residuals,
    Rule,
    Together,
    TrendWork,
)
from sornix.core.readings.tables.table import Table


def _formula(rule: Formula, name: str, table: Table) -> Column:
    from sornix.core.formula import Name, evaluate, parse_formula

    def value_of(found: Name) -> Any:
        try:
            column = table.column(found.name)
        except UnknownColumn as error:
            said = f"There is no column “{found.name}”. {error.remedy}"
            raise FormulaError(said, rule.text, found.at) from error
        if column.kind == TEXT:
            said = f"“{found.name}” holds text, and a formula needs numbers."
            raise FormulaError(said, rule.text, found.at)
        return column.numbers

    values = evaluate(parse_formula(rule.text), value_of)
    return number_column(name, np.broadcast_to(values, (table.row_count,)))


def _words(rule: CodeWords, name: str, table: Table) -> Column:
    words = dict(rule.words_of)
    cells = table.column(rule.column).cells()
    return text_column(name, [words.get(cell, cell) for cell in cells])


def _entries(rule: EntryCount, name: str, table: Table) -> Column:
    def count(cell: str) -> float:
        return float(sum(bool(entry.strip()) for entry in cell.split(rule.separator)))

    cells = table.column(rule.column).cells()
    return number_column(name, [count(cell) for cell in cells])


def _computed(rule: Rule, name: str, table: Table) -> Column:
    """The column that a rule makes of a table. Raises EditRefused and FormulaError."""
    match rule:
        case Formula():
            return _formula(rule, name, table)
        case CodeWords():
            return _words(rule, name, table)
        case EntryCount():
            return _entries(rule, name, table)
        case Residuals():
            return number_column(name, rule.work.residuals(rule.trend, table))
        case Together() | DateParts() | GoingOn() | Counted() | DayOfYear():
            from sornix.core.readings.tables.timerules import time_of

            return time_of(rule, name, table)


_RULES: Mapping[str, Any] = {
    "formula": Formula, "words": CodeWords, "entries": EntryCount, "together": Together,
    "date-parts": DateParts, "going-on": GoingOn, "counted": Counted, "day-of-year": DayOfYear,
    "residuals": Residuals,
}  # fmt: skip
_LEAST_PARTS = 2
# Who knows of trends, once it is there: whoever makes or reads documents.
TREND_WORK: list[TrendWork] = []


def rule_to_json(rule: Rule) -> dict[str, Any]:
    """A rule as JSON has it."""
    kind = next(name for name, cls in _RULES.items() if isinstance(rule, cls))
    if isinstance(rule, Formula):
        return {"rule": kind, "formula": rule.text}
    if isinstance(rule, CodeWords):
        return {"rule": kind, "column": rule.column, "words": dict(rule.words_of)}
    if isinstance(rule, Together):
        return {"rule": kind, "date": rule.date, "clock": rule.clock}
    if isinstance(rule, DateParts):
        return {"rule": kind, "columns": list(rule.columns)}
    if isinstance(rule, GoingOn):
        return {"rule": kind, "column": rule.column}
    if isinstance(rule, DayOfYear):
        return {"rule": kind, "year": rule.year, "day": rule.day, "clock": rule.clock}
    if isinstance(rule, Counted):
        return {"rule": kind, "column": rule.column, "in": rule.count}
    if isinstance(rule, Residuals):
        return {"rule": kind, "of": rule.said, "trend": json.loads(rule.trend),
                "columns": list(rule.columns)}  # fmt: skip
    return {"rule": kind, "column": rule.column, "separator": rule.separator}


def _count(name: Any) -> str:
    """What moments are counted in. Raises KeyError for what nobody counts in."""
    if name not in COUNTS:
        raise KeyError(name)
    return str(name)


def _parts(names: Any) -> tuple[str, ...]:
    """The columns of the parts of a time. Raises KeyError for fewer than two."""
    if len(names) < _LEAST_PARTS:
        raise KeyError(names)
    return tuple(str(one) for one in names)


def rule_from_json(value: Mapping[str, Any]) -> Rule:
    """The rule in JSON. Raises KeyError or TypeError where it is none."""
    if value["rule"] == "formula":
        return Formula(str(value["formula"]))
    if value["rule"] == "words":
        return CodeWords(
            str(value["column"]), tuple((str(k), str(v)) for k, v in value["words"].items())
        )
    if value["rule"] == "entries":
        return EntryCount(str(value["column"]), str(value["separator"]))
    if value["rule"] == "together":
        return Together(str(value["date"]), str(value["clock"]))
    if value["rule"] == "date-parts":
        return DateParts(_parts(value["columns"]))
    if value["rule"] == "going-on":
        return GoingOn(str(value["column"]))
    if value["rule"] == "day-of-year":
        return DayOfYear(*(str(value[part]) for part in ("year", "day", "clock")))
    if value["rule"] == "counted":
        return Counted(str(value["column"]), _count(value["in"]))
    if value["rule"] == "residuals":
        columns = tuple(str(one) for one in value["columns"])
        told = json.dumps(value["trend"], sort_keys=True)
        TREND_WORK[0].check(told)
        return Residuals(str(value["of"]), told, columns, TREND_WORK[0])
    raise KeyError(value["rule"])


def recomputed(table: Table, before: Table | None = None) -> Table:
    """The table with every computed column brought up to date, in the order of their needs.

    `before` is the table as it last was in order: a column whose inputs are the same ones as
    then is kept. Raises EditRefused where columns need one another in a circle, and FormulaError.
    """
    computed = {column.name: column for column in table.columns if column.rule is not None}
    if not computed:
        return table
    old = {column.name: column for column in before.columns} if before is not None else {}
    columns = {column.name: column for column in table.columns}
    for name in _in_order(computed):
        column = computed[name]
        assert column.rule is not None
        inputs = column.rule.inputs()
        same = all(n in old and old[n] is columns.get(n) for n in inputs)
        if same and old.get(name) is column:
            continue
        now = evolve(table, columns=tuple(columns.values()))
        fresh = _computed(column.rule, name, now)
        columns[name] = evolve(fresh, unit=column.unit, rule=column.rule)
    return evolve(table, columns=tuple(columns.values()))


def _in_order(computed: Mapping[str, Column]) -> list[str]:
    """The names of computed columns, each after those that it needs."""
    order: list[str] = []

    def visit(name: str, way: tuple[str, ...]) -> None:
        if name in way:
            circle = " needs ".join(f"“{n}”" for n in (*way[way.index(name) :], name))
            raise EditRefused(
                f"These columns would be computed from one another: {circle}.",
                remedy="Take one of them out of the other’s formula.",
            )
        column = computed.get(name)
        if column is None or column.rule is None or name in order:
            return
        for needed in column.rule.inputs():
            visit(needed, (*way, name))
        order.append(name)

    for name in computed:
        visit(name, ())
    return order


def with_rule(table: Table, name: str, unit: str, rule: Rule, at: int | None = None) -> Table:
    """The table with a computed column put at a place (the end by default), or with the column of
    that name computed so. Raises EditRefused, FormulaError, UnknownColumn."""
    column = evolve(number_column(name, np.full(table.row_count, np.nan), unit), rule=rule)
    columns = list(table.columns)
    if name in table.column_names:
        columns[table.column_names.index(name)] = column
    else:
        columns.insert(len(columns) if at is None else at, column)
    return recomputed(evolve(table, columns=tuple(columns)))


def codes_in(text: str) -> tuple[tuple[str, str], ...]:
    """Pairs typed as `1 = reed, 2 = open water`. Raises EditRefused."""
    pairs = []
    for part in filter(None, (part.strip() for part in re.split(r"[,;\n]", text))):
        code, sign, word = (piece.strip() for piece in part.partition("="))
        if not (code and sign and word):
            raise EditRefused(
                f"“{part}” does not say which word stands for which code.",
                remedy="Write 1 = reed, 2 = open water.",
            )
        pairs.append((code, word))
    if not pairs:
        raise EditRefused("There are no codes here.", remedy="Write 1 = reed, 2 = open water.")
    return tuple(pairs)
