"""The line of the statement about the whole figure: what it is made for, its size, its choices."""

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from sornix.core import figure as edits
from sornix.core.figure import (
    DECIMALS,
    PALETTES,
    STYLE_NAMES,
    UNITS,
    Figure,
    held_choices,
    size_name,
)
from sornix.core.text import parse_number, shortest
from sornix.gui.base.plain import plain_tip
from sornix.gui.session.editing import Editing
from sornix.gui.session.readout import size_words
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench
from sornix.gui.statement.wordlines import (
    AS_THE_STYLE,
    Chosen,
    NumberTyped,
    Pick,
    Typed,
    listed,
    made,
)
from sornix.gui.widgets.inlinecontrols import ActWord, Choice, ChoiceWord, StatementLine

# what ends a menu with a question
_ANOTHER = "another"


class FigureLine(StatementLine):
    """“Figure for a report, one column (84 × 63 mm)”; `asked` names an act of the window."""

    asked = pyqtSignal(str)

    def __init__(self, bench: Workbench) -> None:
        super().__init__("Figure")
        self._bench = bench
        self.purpose = ChoiceWord("What the figure is made for: one word changes all its looks")
        self.purpose.chosen.connect(self._put_style)
        self.extent = ChoiceWord("Size of the figure")
        self.extent.chosen.connect(self._put_size)
        self.further = QPushButton("more ▾")
        self.further.setProperty("link", "true")
        self.further.setCheckable(True)
        self.further.setAccessibleName("Sizes of type and lines, colours, units, decimal marks")
        self.further.setToolTip(plain_tip(self.further.accessibleName()))
        self.free = ActWord("", "Let the style decide all sizes and colours again", link=True)
        self.free.clicked.connect(
            lambda: bench.edit("left all choices to the style", edits.free_choices)
        )
        self.more = ChoiceWord("Add something to the figure")
        self.more.setProperty("word", None)
        self.more.setProperty("link", "true")
        self.more.chosen.connect(self._add)
        self.text = ActWord("as text", "Type the statement as text", link=True)
        self.text.clicked.connect(lambda: self.asked.emit("statement-text"))
        self.add(self.purpose, self.extent, self.further, self.more, self.text, self.free)

    def _put_style(self, name: object) -> None:
        if name == _ANOTHER:
            self.asked.emit("save-style")
            return
        own = next((own for own in self._bench.styles if own.name == name), None)
        if own is not None:
            self._bench.edit(f"styled “{name}”", lambda f: edits.put_on_style(f, own))
            return
        words = f"styled the figure {STYLE_NAMES[str(name)].words}"
        self._bench.edit(words, lambda f: edits.set_style(f, str(name)))

    def _put_size(self, name: object) -> None:
        if name == _ANOTHER:
            self.asked.emit("size")
        else:
            self._bench.edit("changed the size", lambda f: edits.choose_size(f, str(name)))

    def _add(self, what: object) -> None:
        tables = self._bench.tables
        added: dict[object, tuple[str, Callable[[Figure], Figure]]] = {
            "series": ("added a series", lambda f: edits.add_series(f, tables)),
            "panel": ("added a panel", lambda f: edits.add_panel(f, tables)),
            "curve": ("added a curve", lambda f: edits.add_curve(f, "a + b * x")),
        }
        if what in added:
            self._bench.edit(*added[what])
        else:
            self.asked.emit(str(what))

    def show_scene(self, scene: Scene) -> None:
        figure = scene.figure
        self.more.set_choices("+ add", [
            Choice("series", "another series"),
            Choice("panel", "a panel below"),
            Choice("curve", "a curve from a formula"),
            Choice("add-note", "a note", divided=True),
            Choice("source", "a source line", enabled=not figure.source),
            Choice("figure-copy", "another figure: a copy of this one", divided=True),
            Choice("figure-empty", "another figure: an empty one"),
            Choice("figure-first", "another figure: the first of a table…"),
        ])  # fmt: skip
        own = figure.style_name
        names = [Choice(k, s.words, not own and k == figure.style) for k, s in STYLE_NAMES.items()]
        names += [
            Choice(s.name, s.name, s.name == own, divided=not i)
            for i, s in enumerate(self._bench.styles)
        ]
        names.append(Choice(_ANOTHER, "save as a style of your own…", divided=True))
        self.purpose.set_choices(own or STYLE_NAMES[figure.style].words, names)
        sizes = STYLE_NAMES[figure.style].sizes
        here = size_name(figure)
        words = next((f"{s.words}, " for s in sizes if s.name == here), "")
        self.extent.set_choices(
            f"{words}{size_words(scene)}",
            [
                *(
                    Choice(s.name, f"{s.words}, {_mm(s.width_mm)} × {_mm(s.height_mm)} mm",
                           s.name == here)
                    for s in sizes
                ),
                Choice(_ANOTHER, "another size…", divided=True),
            ],
        )  # fmt: skip
        self.extent.mark(held=not here)
        held = held_choices(figure)
        self.free.setVisible(bool(set(held) - {"units", "decimal"}))
        self.free.setText("free what is held")


def _mm(value: float) -> str:
    return shortest(value, 0.05)


def _number(part: str, usual: str) -> Callable[[Scene, str], tuple[str, bool]]:
    def value(scene: Scene, _key: str) -> tuple[str, bool]:
        held = getattr(scene.figure.choices, part)
        return shortest(getattr(scene.style, usual), 0.005), held is not None

    return value


def _put_number(part: str) -> Callable[[Editing, Figure, str, str | None], Figure]:
    def put(_bench: Editing, figure: Figure, _key: str, text: str | None) -> Figure:
        return edits.choose(figure, **{part: parse_number(text) if text else None})

    return put


def _pick(name: str, part: str, words: dict[str, str]) -> Pick:
    return Pick(
        name,
        listed(words),
        lambda scene, _: getattr(scene.figure.choices, part),
        lambda figure, _, value: edits.choose(figure, **{part: value}),
    )


def _choices() -> dict[str, list[Pick | Typed]]:
    return {
        "Sizes": [
            Typed("Size of type in points", "type of", "points, ", _number("type_pt", "label_pt"),
                  _put_number("type_pt"), free=AS_THE_STYLE),
            Typed("Width of lines in mm", "lines of", "mm, ", _number("line_mm", "line_mm"),
                  _put_number("line_mm"), free=AS_THE_STYLE),
            Typed("Size of markers in mm", "markers of", "mm, ", _number("marker_mm", "marker_mm"),
                  _put_number("marker_mm"), free=AS_THE_STYLE),
            Typed("Width of axis lines in mm", "axes of", "mm", _number("axis_mm", "axis_mm"),
                  _put_number("axis_mm"), free=AS_THE_STYLE),
        ],
        "Words": [
            _pick("Colours", "palette", dict(PALETTES)),
            _pick("How units stand in titles", "units", dict(UNITS)),
            _pick("Decimal mark on the figure", "decimal", dict(DECIMALS)),
        ],
    }  # fmt: skip


class FigureChoices(QWidget):
    """The further lines about the whole figure."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.parts: dict[str, Chosen | NumberTyped] = {}
        for name, words in _choices().items():
            line = StatementLine(name)
            for word in words:
                part = made(bench, word, lambda: "", lambda: "the figure")
                self.parts[word.name] = part
                line.add(part)
            column.addWidget(line)

    def show_scene(self, scene: Scene) -> None:
        for part in self.parts.values():
            part.show_scene(scene)
