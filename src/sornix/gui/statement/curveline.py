"""The line of the statement for a curve from a formula, its constants typed or slid."""

from functools import partial

from sornix.core import figure as edits
from sornix.core.figure import Curve, Figure
from sornix.core.text import parse_number, shortest
from sornix.gui.base.plain import plain_label
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench
from sornix.gui.widgets.inlinecontrols import ActWord, NumberWord, StatementLine, group
from sornix.gui.widgets.sliding import Sliding


class CurveLine(StatementLine):
    """“Curve P * x / (K + x) with P 12, K 150”."""

    def __init__(self, bench: Workbench, curve: Curve, first: bool) -> None:
        super().__init__("Curve" if first else "and")
        self._bench, self._id = bench, curve.id
        self.formula = NumberWord("Formula of the curve", "")
        self.formula.entered.connect(self._put_formula)
        self.formula.freed.connect(self._remove)
        self.name = NumberWord("Name of the curve", "")
        self.name.entered.connect(self._put_name)
        self.name.freed.connect(partial(self._put_name, ""))
        self.add(self.formula)
        self.fields: dict[str, NumberWord] = {}
        self.sliders: dict[str, Sliding] = {}
        for constant in curve.constants:
            field, slider = NumberWord(f"Constant {constant.name}", ""), Sliding(constant.name)
            self.fields[constant.name], self.sliders[constant.name] = field, slider
            field.entered.connect(partial(self._put, constant.name))
            slider.slides.connect(partial(self._slide, constant.name))
            slider.let_go.connect(partial(self._let_go, constant.name))
            self.add(group(plain_label(f"{constant.name} ="), field, slider))
        less = ActWord("remove", "Remove this curve from the figure", link=True)
        less.clicked.connect(self._remove)
        self.add(group(plain_label("named"), self.name), less)

    def _put_formula(self, text: str) -> None:
        words = "changed the formula of a curve"
        if not self._bench.edit(words, lambda f: edits.change_curve(f, self._id, text)):
            self.formula.mark_wrong()

    def _put_name(self, text: str) -> None:
        self._bench.edit("named a curve", lambda f: edits.name_curve(f, self._id, text))

    def _remove(self) -> None:
        self._bench.edit("removed a curve", lambda f: edits.remove_curve(f, self._id))

    def _put(self, name: str, text: str) -> None:
        def change(figure: Figure) -> Figure:
            return edits.set_constant(figure, self._id, name, parse_number(text))

        if not self._bench.edit(f"changed {name}", change):
            self.fields[name].mark_wrong()

    def _slide(self, name: str, value: float) -> None:
        self._bench.preview(lambda f: edits.set_constant(f, self._id, name, value))
        self.fields[name].show_value(shortest(value, 0), held=False, full=shortest(value, 0))

    def _let_go(self, name: str, value: float) -> None:
        self._bench.cancel()
        self._bench.edit(f"slid {name}", lambda f: edits.set_constant(f, self._id, name, value))

    def show_scene(self, scene: Scene) -> None:
        curve = next((c for c in scene.figure.panel.curves if c.id == self._id), None)
        if curve is None:
            return
        self.formula.show_value(curve.formula, held=False, full=curve.formula)
        self.name.show_value(curve.name, held=False, full=curve.name)
        for constant in curve.constants:
            text = shortest(constant.value, 0)
            self.fields[constant.name].show_value(text, held=False, full=text)
            self.sliders[constant.name].about = constant.value
