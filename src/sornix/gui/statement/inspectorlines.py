"""The further lines of the scale strip: what is changed now and then, each thing a word."""

from collections.abc import Callable, Mapping
from functools import partial
from typing import Any

from attrs import evolve
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from sornix.core.errors import EditRefused
from sornix.core.figure import (
    AXES,
    DASHES,
    Figure,
    GridLine,
    Scale,
    change_axis_look,
    change_scale,
    hold,
)
from sornix.core.figure.model.checks import Rule
from sornix.core.figure.model.scale import COLOURED, AxisOption, axis_options
from sornix.core.readings import table_named
from sornix.core.scales import KINDS
from sornix.core.text import parse_number, shortest
from sornix.gui.session.editing import Editing
from sornix.gui.session.scalewords import guide_words
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench
from sornix.gui.statement.wordlines import Chosen, Entries, NumberTyped, Pick, Typed, listed, made
from sornix.gui.widgets.inlinecontrols import (
    ActWord,
    Choice,
    ChoiceWord,
    FlowLayout,
    NumberWord,
    StatementLine,
)

_GRIDS = {
    (False, False): "no grid lines",
    (True, False): "grid lines at ticks",
    (True, True): "grid lines at minor ticks too",
}


def _of(part: Callable[[Scale], object]) -> Callable[[Scene, str], object]:
    """A part of the scale of an axis."""
    return lambda scene, axis: part(scene.figure.panel.scale(axis))


def _numbers_along(scene: Scene, axis: str) -> bool:
    return not scene.place.scale(axis).traits.listed


def _word_columns(scene: Scene, axis: str) -> Entries:
    """Columns whose cells can stand in place of values."""
    first = scene.figure.panel.series_on(axis)[0]
    columns = table_named(scene.tables, first.table).columns
    named = [(c.name, f"words of “{c.name}”") for c in columns if c.name != first.column(axis)]
    return [(None, "their values"), *named]


def _line_picks(which: str, words: str, shown: Callable[[Scene, str], bool]) -> list[Pick | Typed]:
    """Dash, width and colour of grid lines."""

    def line(scale: Scale) -> GridLine:
        return scale.look.major if which == "major" else scale.look.minor

    def put(figure: Figure, axis: str, **changes: Any) -> Figure:
        now = line(figure.panel.scale(axis))
        return change_axis_look(figure, axis, **{which: evolve(now, **changes)})

    def width(scene: Scene, axis: str) -> tuple[str, bool]:
        held = line(scene.figure.panel.scale(axis)).width_mm
        usual = 0.1 if which == "minor" else 0.18
        return shortest(held or usual, 0), held is not None

    lines = f"the lines {words}"
    return [
        Pick(f"Dashes of {lines}", listed({name: name for name in DASHES}),
             _of(lambda s: line(s).dash), lambda f, a, v: put(f, a, dash=v), shown, before=words),
        Typed(f"Width of {lines} in mm", "", "mm", width,
              lambda _b, f, a, t: put(f, a, width_mm=parse_number(t) if t else None), shown),
        Pick(f"Colour of {lines}", listed(COLOURED), _of(lambda s: line(s).colour),
             lambda f, a, v: put(f, a, colour=v), shown),
    ]  # fmt: skip


def _has_grid(scene: Scene, axis: str) -> bool:
    return scene.figure.panel.scale(axis).grid


def _has_minor_grid(scene: Scene, axis: str) -> bool:
    return _has_grid(scene, axis) and scene.figure.panel.scale(axis).look.minor_grid


def _origin(scene: Scene, axis: str) -> tuple[str, bool]:
    held = scene.figure.panel.scale(axis).origin
    kind = KINDS[scene.place.scale(axis).kind]
    return ("0" if held is None else kind.words(held, 0)), held is not None


def _put_origin(bench: Editing, figure: Figure, axis: str, text: str | None) -> Figure:
    scene = bench.scene
    if text is None or scene is None:
        return hold(figure, bench.tables, axis, origin=None)
    place = scene.place.scale(axis)
    value = KINDS[place.kind].parse(text, place.start)
    return hold(figure, bench.tables, axis, origin=value)


# What the style has where an option is free.
_OF_STYLE: Mapping[str, Callable[[Scene], float]] = {"size_pt": lambda scene: scene.style.label_pt}


def _typed(option: AxisOption) -> Typed:
    """A number among the options of an axis."""
    offer, name = option.offer, option.field.name
    rule, is_whole = option.field.validator, option.field.type is int
    assert isinstance(rule, Rule)

    def value(scene: Scene, axis: str) -> tuple[str, bool]:
        held = option.of(scene.figure.panel.scale(axis))
        shown = _OF_STYLE[name](scene) if held is None else held
        return shortest(shown, 0), held != option.field.default

    def put(_bench: Editing, figure: Figure, axis: str, text: str | None) -> Figure:
        number: Any = parse_number(text) if text else option.field.default
        if not rule.check(number) or (is_whole and number != round(number)):
            whole = "a whole number, " if is_whole else ""
            raise EditRefused(
                f"{offer.name}: not {shortest(number, 0)}.", remedy=f"Give {whole}{rule.words}."
            )
        return _put(option, figure, axis, int(number) if is_whole else number)

    return Typed(offer.name, offer.before, offer.after, value, put, _where(option))


def _where(option: AxisOption) -> Callable[[Scene, str], bool]:
    return lambda scene, axis: option.offer.where(scene.place.scale(axis).kind)


def _offered(line: str) -> list[Pick | Typed]:
    """The options of an axis that stand in a line."""
    return [
        _typed(one) if one.offer.entries is None else
        Pick(one.offer.name, listed(one.offer.entries), _of(one.of),
             partial(_put, one), _where(one), one.offer.before)
        for one in axis_options() if one.offer.line == line
    ]  # fmt: skip


def _put(option: AxisOption, figure: Figure, axis: str, value: Any) -> Figure:
    return figure.with_scale(axis, option.on(figure.panel.scale(axis), value))


def _put_grid(figure: Figure, axis: str, grids: tuple[bool, bool]) -> Figure:
    changed = change_scale(figure, axis, grid=grids[0])
    return change_axis_look(changed, axis, minor_grid=grids[1])


def _step_is_held(scene: Scene, axis: str) -> bool:
    return scene.figure.panel.scale(axis).step is not None and _numbers_along(scene, axis)


_LINES: dict[str, list[Pick | Typed]] = {
    "Range": _offered("Range"),
    "Ticks": [
        *_offered("Ticks"),
        Typed("The value that steps are counted from", "counted from", "", _origin, _put_origin,
              _step_is_held),
    ],
    "Labels": [
        *_offered("Labels"),
        Pick("What labels say", _word_columns, _of(lambda s: s.words),
             lambda f, a, v: change_scale(f, a, words=v)),
    ],
    "Lines": [
        Pick("Grid lines", listed(_GRIDS), _of(lambda s: (s.grid, s.grid and s.look.minor_grid)),
             _put_grid),
        *_line_picks("major", "at ticks", _has_grid),
        *_line_picks("minor", "at minor ticks", _has_minor_grid),
    ],
}  # fmt: skip


class FurtherLines(QWidget):
    """The lines under the strip. `asked` names what is to be asked in a line of text; `act` what is
    to be done at once."""

    asked = pyqtSignal(str)

    def __init__(self, bench: Workbench, axis: Callable[[], str]) -> None:
        super().__init__()
        self._axis = axis
        self._parts: list[Chosen | NumberTyped] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(2, 2, 0, 2)
        column.setSpacing(3)
        lines: dict[str, FlowLayout] = {}
        for name, words in _LINES.items():
            line = StatementLine(name)
            lines[name] = line.words
            for word in words:
                part = made(bench, word, axis, lambda: AXES[axis()])
                self._parts.append(part)
                line.add(part)
            column.addWidget(line)
        self.free = ActWord("free range and step", "Let range and step follow the readings")
        self.free.clicked.connect(lambda: self.asked.emit("free"))
        lines["Range"].addWidget(self.free)
        self.title = self._act_word("The title of the axis", lines["Range"])
        self.other = self._act_word("Other units on the other side", lines["Range"])
        self.beside = self._act_word("Text beside the numbers", lines["Labels"])
        self.guides = self._act_word("Lines and shaded ranges at values", lines["Lines"])

    def _act_word(self, name: str, line: FlowLayout) -> ChoiceWord:
        word = ChoiceWord(name)
        word.chosen.connect(lambda what: self.asked.emit(str(what)))
        line.addWidget(word)
        return word

    def parts(self) -> list[ChoiceWord | NumberWord]:
        """Every word that can be changed, in their order."""
        return [p.word if isinstance(p, Chosen) else p.field for p in self._parts]

    def show_scene(self, scene: Scene) -> None:
        axis = self._axis()
        for part in self._parts:
            part.show_scene(scene)
        scale = scene.figure.panel.scale(axis)
        self.free.setVisible((scale.start, scale.end, scale.step) != (None, None, None))
        own = scale.title is not None
        self.title.set_choices(
            "title of its own" if own else "title from the columns",
            [
                Choice("title", "Type its title…"),
                Choice("columns", "Title from the columns", not own),
            ],
        )
        other = scale.other
        self.other.setVisible(_numbers_along(scene, axis) and axis in "xy")
        self.other.set_choices(
            f"other side: {other.title or other.formula}" if other else "no other units",
            [
                Choice("other", "Other units on the other side…"),
                Choice("no-other", "No other units", enabled=other is not None),
            ],
        )
        beside = f"{scale.before}#{scale.after}"
        self.beside.set_choices(
            f"written as {beside}" if len(beside) > 1 else "nothing beside them",
            [
                Choice("beside", "Text beside the numbers…"),
                Choice("no-beside", "Nothing beside them", enabled=len(beside) > 1),
            ],
        )
        guides = [g for g in scene.figure.panel.guides if g.axis == axis]
        self.guides.setVisible(_numbers_along(scene, axis))
        self.guides.set_choices(
            f"{len(guides)} at values" if guides else "none at a value",
            [
                Choice("guide", "Line or shaded range at a value…"),
                *(Choice(f"guide/{g.id}", f"Remove {guide_words(g, scene)}") for g in guides),
            ],
        )
