"""What each edit makes of a document, or why it is refused, a line each in tests/data/edited.txt.

Walks by chance over the demo documents: every edit of a figure, of the figures of a document and of
a table is found by its signature, so that a new one is walked too. It is made anew by
`python -m tests.core.edited`; what changed is to be read in the difference before it is kept."""

import inspect
import random
from collections.abc import Callable, Iterator, Mapping
from typing import Any

from attrs import evolve

from sornix.core import document as documents
from sornix.core import figure as figures
from sornix.core.cautions import find_cautions
from sornix.core.document import Document, change_table
from sornix.core.document.differences import differences
from sornix.core.drawing import draw_figure
from sornix.core.errors import SornixError
from sornix.core.figure import AXES, ERRORS, FORMS, FORMULA, LABELS, MARKS, SHOWS, TOGETHER, Figure
from sornix.core.readings import KIND_WORDS
from sornix.core.readings.changes.operations import OPERATIONS
from sornix.core.readings.tables.origin import Grouping
from sornix.core.readings.tables.units import offers
from sornix.core.statement import write_statement
from sornix.core.trends import MODELS
from sornix.demo import DEMOS, demo_document
from tests.base import DATA
from tests.core.measure import PlainMeasure

FILE = DATA / "edited.txt"
_STEPS, _NOTED = 40, 0.15
_NUMBERS = (0.0, 0.5, 1.0, 2.0, 3.0, 5.0, 10.0, 40.0, 250.0, -1.0)
_TEXTS = ("", "  Of {mu} x^2 ", "North", "a*x + b", "Level", "1")
_MODELS = [*(name for name in MODELS if name.startswith(("line", "poly"))), FORMULA]
# too slow for a walk, or not an edit
_KINDS = ["log", "linear", "time", "category"]
_NOT_WALKED = {"small_panels", "with_table_read_again", "change_table", "change_read_off"}
# without these, there is little to change
_FIRST = (
    "add_trend",
    "add_curve",
    "add_guide",
    "add_note",
    "add_series",
    "read_off_trend",
    "add_panel",
)


def _acts() -> dict[str, Callable[..., Any]]:
    found: dict[str, Callable[..., Any]] = {}
    for module, subject in ((figures, "figure"), (documents, "document")):
        for name, made in vars(module).items():
            if not inspect.isfunction(made) or name in _NOT_WALKED:
                continue
            signature = inspect.signature(made)
            first = next(iter(signature.parameters), "")
            if first == subject and signature.return_annotation in (Figure, Document):
                found[name] = made
    return found | {f"table: {name}": act for name, act in OPERATIONS.items()}


class _Walk:
    """A document, and arguments for edits of it, by chance."""

    def __init__(self, name: str) -> None:
        self.document = demo_document(name)
        self.dice = random.Random(name)

    def _columns(self) -> list[str]:
        return list(self.document.tables[0].column_names)

    def _number(self) -> float:
        column = self.dice.choice(self.document.tables[0].columns)
        if self.dice.random() < 0.6 and column.has_places and len(column):
            value = float(column.numbers[self.dice.randrange(len(column))])
            return value if value == value else 2.0  # noqa: PLR0124 - a missing one
        return self.dice.choice(_NUMBERS)

    def argument(self, act: str, parameter: inspect.Parameter) -> Any:
        panel, dice = self.document.figure.panel, self.dice
        name = parameter.name
        ids: dict[str, tuple[Any, ...]] = {
            "series_id": panel.series, "trend_id": panel.trends, "guide_id": panel.guides,
            "note_id": panel.notes, "curve_id": panel.curves,
        }  # fmt: skip
        if name in ids:
            return dice.choice([thing.id for thing in ids[name]] * 4 or ["s1"])
        style = self.document.figure.style
        row, here = dice.randrange(5), self.document.tables[0]
        pools: dict[str, Callable[[], Any]] = {
            "tables": lambda: self.document.tables,
            "table": lambda: here.name,
            "axis": lambda: dice.choice(list(AXES)),
            "direction": lambda: dice.choice("xy"),
            "by": lambda: dice.choice((-1, 1)),
            "index": lambda: dice.randrange(len(self.document.figure.panels)),
            "place": lambda: dice.randrange(len(self.document.figures)),
            "to": lambda: dice.randrange(len(self.document.figures)),
            "how": lambda: dice.choice(list(figures.ARRANGEMENTS)),
            "share": lambda: dice.choice(("none", "x", "y", "both")),
            "model": lambda: dice.choice(_MODELS),
            "mark": lambda: dice.choice(list(MARKS)),
            "together": lambda: dice.choice(list(TOGETHER)),
            "kind": lambda: dice.choice(
                {"set_errors": list(ERRORS), "set_kind": _KINDS}.get(act, list(KIND_WORDS))
            ),
            "rows": lambda: [row, row + 2],
            "cells": lambda: [(row, dice.randrange(3), dice.choice(("7", "<2", "a", "", "1e3")))],
            "names": lambda: [dice.choice(self._columns())],
            "columns": lambda: [{"name": "New", "unit": "m", "cells": ["1", "2,5", "x"]}],
            "rule": lambda: {"rule": "formula", "formula": f'2 * "{dice.choice(self._columns())}"'},
            "ranges": lambda: {"x": (1.0, 3.0), "y": (self._number(), 80.0)},
            "heights": lambda: (1.0, 2.0),
            "widths": lambda: dice.choice(((2.0, 1.0), (1.0,))),
            "what": figures.Legend,
            "spot": lambda: dice.choice((figures.Spot(0.2, 0.7), None)),
            "other": lambda: figures.Other("x * 32", "In grams"),
            "own": lambda: figures.own_style(self.document.figure, "Mine"),
            "grouping": lambda: Grouping(
                self.document.tables[0].name, (self._columns()[0],), (self._columns()[-1],)
            ),
            "width_mm": lambda: dice.choice((84.0, 174.0, 5.0)),
            "height_mm": lambda: dice.choice((63.0, 150.0)),
            "formula": lambda: dice.choice(("a*x + b", "a*exp(-x)", "x/", "b")),
            "unit": lambda: dice.choice([*offers(dice.choice(here.columns).unit), "m"]),
            "form": lambda: "limit",
            "way": lambda: dice.choice(("half", "mark")),
        }  # fmt: skip
        of_act: dict[str, Callable[[], Any]] = {
            "set_style": lambda: dice.choice(list(figures.STYLE_NAMES)),
            "choose_size": lambda: figures.STYLE_NAMES[style].sizes[0].name,
            "set_constant": lambda: "a",
            "change_setting": lambda: "slope",
            "draw_table": lambda: here.name,
        }
        if name == "name" and act in of_act:
            return of_act[act]()
        if name in pools:
            return pools[name]()
        if name in ("column", "x", "y") and parameter.annotation is str:
            return dice.choice(self._columns())
        said = str(parameter.annotation)
        if "float" in said:
            return self._number()
        if "bool" in said:
            return dice.random() < 0.5
        if "int" in said:
            return dice.randrange(4)
        return dice.choice([*_TEXTS, *self._columns()])

    def changes(self, name: str) -> dict[str, Any]:
        """A few of the options that an act with any `changes` takes."""
        dice = self.dice
        of: Mapping[str, dict[str, Any]] = {
            "change_series": {"x": dice.choice(self._columns()), "y": dice.choice(self._columns()),
                              "palette_index": 3},
            "change_scale": {"labels": dice.choice(list(LABELS)), "minor": "2", "zero": True,
                             "start": self._number(), "reversed": True, "room": 0.1},
            "change_axis_look": {"ticks": "in", "line": False, "size_pt": 9.0},
            "hold": {"start": self._number(), "end": self._number(), "step": dice.choice(_NUMBERS)},
            "change_trend": {"model": "polynomial-2", "start": self._number(), "extended": True,
                             "end": self._number(), "shows": tuple(dice.sample(list(SHOWS), 3))},
            "change_setting": {"start": self._number(), "held": 2.0, "low": -1.0},
            "change_panel": {"form": dice.choice(list(FORMS)), "names": "right", "bars": "stacked"},
            "change_guide": {"value": self._number(), "label": "limit"},
            "change_note": {"text": "Here", "x": self._number(), "y": 2.0},
            "change_errors": {"column": "5", "band": True},
            "style_series": {"colour": "teal", "size_mm": 2.0, "shape": "square"},
            "treat_samples": {"dilution": 2.0, "recovery": 0.9},
            "add_note": {"series": "s1", "row": dice.randrange(3)},
            "choose": {"decimal": "comma", "palette": "deep", "units": "brackets", "type_pt": 9.0},
        }  # fmt: skip
        known = of.get(name, {})
        return {key: known[key] for key in dice.sample(list(known), min(len(known), 2))}

    def step(self, name: str, act: Callable[..., Any]) -> tuple[str, Document]:
        """An act, as it is said in a line, and the document after it."""
        given: dict[str, Any] = {}
        for parameter in inspect.signature(act).parameters.values():
            if parameter.kind is parameter.VAR_KEYWORD:
                given |= self.changes(name)
            elif parameter.name not in ("figure", "document"):
                optional = parameter.default is not parameter.empty
                if not optional or self.dice.random() < 0.5:
                    given[parameter.name] = self.argument(name, parameter)
        said = {k: v for k, v in given.items() if k not in ("tables", "table", "own")}
        line = f"{name} {said}"
        old = self.document
        if name.startswith("table: "):
            given.pop("table")
            return line, change_table(
                old, old.tables[0].name, name.removeprefix("table: "), **given
            )
        if next(iter(inspect.signature(act).parameters)) == "document":
            return line, act(old, **given)
        return line, evolve(old, figure=act(old.figure, **given))


def lines() -> Iterator[str]:
    """Each step of a walk over each demo document, and what it comes to in the end."""
    acts = _acts()
    for name in DEMOS:
        walk = _Walk(name)
        yield f"== {name}"
        for chosen in 2 * (*_FIRST, *walk.dice.choices(list(acts), k=_STEPS)):
            try:
                line, after = walk.step(chosen, acts[chosen])
            except SornixError as error:
                yield f"{chosen}: {error}"
                continue
            yield line
            yield from (f"    {said}" for said in differences(walk.document, after))
            walk.document = after
            if walk.dice.random() < _NOTED:
                figure, tables = after.figure, after.tables
                found = find_cautions(figure, tables, draw_figure(figure, tables, PlainMeasure()))
                yield from (f"    noted: {one.text}" for one in found)
        yield from write_statement(
            walk.document.figure, walk.document.tables, whole=True
        ).splitlines()


if __name__ == "__main__":
    FILE.write_text("\n".join(lines()) + "\n")
