"""What statement and scale strip share: words of a scale, and showing a value held or free."""

from PyQt6.QtWidgets import QPushButton

from sornix.core.figure import Figure, hold
from sornix.core.text import parse_number, shortest
from sornix.desk.words import NumberWord
from sornix.desk.workbench import Scene, Workbench

PARTS = {"start": "from", "end": "to", "step": "every"}

# the arrow of the direction, and what it says, by axis and whether it is reversed
_ARROWS = {
    ("x", False): ("→", "x grows to the right"),
    ("x", True): ("←", "x grows to the left"),
    ("y", False): ("↑", "y grows upward"),
    ("y", True): ("↓", "y grows downward"),
}


def hold_typed(bench: Workbench, axis: str, part: str, word: NumberWord, text: str) -> None:
    """Holds an end or the step of an axis at what was typed; `word` shows where it was refused."""

    def change(figure: Figure) -> Figure:
        value = parse_number(text)
        return hold(figure, bench.tables, axis, **{part: value})

    if not bench.edit(f"held {axis} {PARTS[part]} {text.strip()}", change):
        word.mark_wrong()


def free_part(bench: Workbench, axis: str, part: str) -> None:
    """Lets an end or the step of an axis follow the readings."""
    freed = {part: None}
    bench.edit(f"freed the {part} of {axis}", lambda f: hold(f, bench.tables, axis, **freed))


def show_held(word: NumberWord, scene: Scene, axis: str, part: str) -> None:
    """Shows an end or the step of an axis in a word."""
    scale = scene.figure.panel.scale(axis)
    place = scene.place
    resolved = place.x if axis == "x" else place.y
    held = getattr(scale, part)
    value = getattr(resolved, part) if held is None else held
    # a free end as exactly as its range can show, a held one to the last digit
    within = 0.0 if held is not None else (resolved.end / 2 - resolved.start / 2) * 2e-3
    word.show_value(shortest(value, within), held=held is not None, full=shortest(value, 0.0))


def show_direction(button: QPushButton, scene: Scene, axis: str) -> None:
    """Shows on a button which way an axis runs."""
    arrow, said = _ARROWS[axis, scene.figure.panel.scale(axis).reversed]
    button.setText(arrow)
    button.setAccessibleName(f"Direction: {said}")
    button.setToolTip(f"{said}. Click to turn the axis round.")
