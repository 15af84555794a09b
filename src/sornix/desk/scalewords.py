"""What statement and scale strip share: words of a scale, and showing a value held or free."""

from sornix.core.text import shortest
from sornix.desk.words import NumberWord
from sornix.desk.workbench import Scene

PARTS = {"start": "from", "end": "to", "step": "every"}

# the arrow of the direction, and what it says, by axis and whether it is reversed
ARROWS = {
    ("x", False): ("→", "x grows to the right"),
    ("x", True): ("←", "x grows to the left"),
    ("y", False): ("↑", "y grows upward"),
    ("y", True): ("↓", "y grows downward"),
}


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
