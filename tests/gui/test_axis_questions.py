"""What is typed about an axis: other units, and lines at values."""

from sornix.core.errors import SornixError
from sornix.core.figure import Other
from sornix.demo import demo_document
from sornix.gui.actions.axisquestions import ask_beside, ask_guide, ask_other, other_units
from sornix.gui.session.workbench import Workbench
from sornix.paint.measure import QtMeasure
from tests.qt import QtTest


class Questions(QtTest):
    def setUp(self) -> None:
        super().setUp()
        self.bench = Workbench(QtMeasure())
        self.bench.begin(demo_document("depth-profile"), path=None, name="t")
        self.told: list[str] = []
        self.bench.refused.connect(self.told.append)

    def answer(self, text: str):  # type: ignore[no-untyped-def]  # stands for a dialog
        def ask(_title: str, _label: str, _begin: str, take: object) -> None:
            assert callable(take)
            take(text)

        return ask

    def test_other_units(self) -> None:
        for text, unit, wanted in (
            ("°F", "°C", Other("1.8 * x + 32.0", "°F")),
            ("K: T / K", "°C", Other("1.0 * x + 273.15", "T / K")),
            ("µg/L", "mg/L", Other("1000.0 * x", "µg/L")),
            ("= 2 * x - 1: twice", "", Other("2 * x - 1", "twice")),
            ("= x / 4", "m", Other("x / 4", "")),
        ):
            with self.subTest(text):
                self.assertEqual(other_units(text, unit), wanted)
        for text, unit in (("s", "m"), ("florin", "m")):
            with self.subTest(text), self.assertRaises(SornixError):
                other_units(text, unit)

    def test_they_become_steps_of_history(self) -> None:
        def start(_words: str, work: object, done: object) -> None:
            assert callable(work) and callable(done)
            done(work())

        ask_other(self.bench, "y", self.answer("cm: Depth / cm"), start)
        document = self.bench.document
        assert document is not None
        self.assertEqual(document.figure.panel.y.other, Other("100.0 * x", "Depth / cm"))
        ask_guide(self.bench, "y", self.answer("8.5: thermocline"))
        ask_guide(self.bench, "x", self.answer("6 to 4"))
        ask_beside(self.bench, "x", self.answer("≈ # °C"))
        document = self.bench.document
        assert document is not None
        panel = document.figure.panel
        self.assertEqual([(g.axis, g.value, g.end) for g in panel.guides],
                         [("y", 8.5, None), ("x", 4, 6)])  # fmt: skip
        self.assertEqual((panel.x.before, panel.x.after), ("≈ ", " °C"))
        for text in ("", "1 to 2 to 3", "deep", "5 to 5"):
            ask_guide(self.bench, "y", self.answer(text))
        self.assertEqual(len(self.told), 4)
        while self.bench.undo_name:
            self.bench.undo()
        self.assertEqual(self.bench.document, demo_document("depth-profile"))
