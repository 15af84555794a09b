"""What statement and scale strip share: words of a scale, and showing a value held or free."""

import math
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from attrs import evolve
from PyQt6.QtWidgets import QLabel, QPushButton, QWidget

from sornix.core.errors import SornixError
from sornix.core.figure import AXES, Figure, Guide, hold, scale_kind, set_kind
from sornix.core.scales import KINDS, Resolved, on_scale
from sornix.gui.base.plain import plain_tip
from sornix.gui.session.editing import Editing
from sornix.gui.session.scene import Scene
from sornix.gui.widgets.inlinecontrols import Choice, ChoiceWord, NumberWord

PARTS = {"start": "from", "end": "to", "step": "every"}

# the arrow of the direction, and what it says, by axis and whether it is reversed
_ARROWS = {
    ("x", False): ("→", "x grows to the right"),
    ("x", True): ("←", "x grows to the left"),
    ("y", False): ("↑", "y grows upward"),
    ("y", True): ("↓", "y grows downward"),
}


def hold_typed(bench: Editing, axis: str, part: str, word: NumberWord, text: str) -> None:
    """Holds an end or the step of an axis at what was typed; `word` shows where it was refused."""

    def change(figure: Figure) -> Figure:
        scene = bench.scene
        resolved = _resolved(scene, axis) if scene is not None else None
        if resolved is None:
            return figure
        kind = KINDS[resolved.kind]
        about = resolved.end if part == "end" else resolved.start
        value = kind.parse_step(text) if part == "step" else kind.parse(text, about)
        return hold(figure, bench.tables, axis, **{part: value})

    if not bench.edit(f"held {AXES[axis]} {PARTS[part]} {text.strip()}", change):
        word.mark_wrong()


def nudge(bench: Editing, axis: str, part: str, way: int) -> None:
    """Moves an end of an axis by a part of its step, to a round value; `way` is 1 up or −1 down."""
    scene = bench.scene
    if scene is None or part == "step":
        return
    scale = _resolved(scene, axis)
    if scale.traits.listed:
        return
    try:
        value = _nudged(scale, part, way)
    except SornixError:
        # beyond the calendar, or beyond all numbers
        return
    said = f"nudged the {part} of {AXES[axis]}"
    bench.edit(said, lambda f: hold(f, bench.tables, axis, **{part: value}))


def _nudged(scale: Resolved, part: str, way: int) -> float:
    """The next round value of an end that way. Raises SornixError where there is none."""
    now = scale.start if part == "start" else scale.end
    kind = KINDS[scale.kind]
    if not scale.traits.even:
        shift = way * (-_NUDGE if scale.reversed else _NUDGE)
        return scale.window(shift, 1 + shift)[part == "end"]
    size = scale.step / kind.divisions(scale.step)
    origin = scale.ticks[0].value if scale.ticks else 0.0
    at = (now - origin) / size
    # from between two round values, to the next one that way
    count = math.floor(at + 1e-6) + 1 if way > 0 else math.ceil(at - 1e-6) - 1
    return kind.parse(kind.words(origin + count * size, size * 1e-3), now)


# How far a nudge goes where equal steps are not equally far apart, as a part of the axis.
_NUDGE = 0.02


class KindOfScale(NamedTuple):
    """An entry of the word for the kind of scale: `kind` None is what the columns ask for."""

    kind: str | None
    base: str = "10"


def choose_kind(bench: Editing, axis: str, chosen: object) -> None:
    """Gives an axis another kind of scale."""
    if isinstance(chosen, KindOfScale):
        words = f"drew {AXES[axis]} {on_scale(kind_words(chosen))}"
        kind, base = chosen
        bench.edit(words, lambda f: set_kind(f, bench.tables, axis, kind, base))


def kind_words(kind: KindOfScale) -> str:
    """`log, base 2`."""
    name = kind.kind or "linear"
    return KINDS[name].traits.offers.get(kind.base, name)


def show_kind(word: ChoiceWord, scene: Scene, axis: str) -> None:
    """Shows the kind of scale of an axis in a word, with those that suit its columns."""
    panel = scene.figure.panel
    scale = panel.scale(axis)
    free = panel if scale.kind is None else panel.with_scale(axis, evolve(scale, kind=None))
    own = scale_kind(free, scene.tables, axis)
    present = KindOfScale(None if scale.kind == own else scale.kind, scale.base)
    word.set_choices(
        own if present.kind is None else kind_words(present), lambda: _kinds_for(own, present)
    )


def _kinds_for(own: str, present: KindOfScale) -> list[Choice]:
    """The kinds of scale that suit columns which ask for one, the present one ticked."""
    suiting = {KindOfScale(None): own} | {
        KindOfScale(kind.name, base): words
        for kind in KINDS.values()
        # texts only have places in a list, and times no logarithm
        if own in kind.traits.suits
        for base, words in kind.traits.offers.items()
    }
    return [Choice(kind, words, kind == present) for kind, words in suiting.items()]


def shows_range(
    fields: Iterable[QWidget], labels: Sequence[QLabel], scene: Scene, axis: str
) -> None:
    """Hides range and step where everything that is listed is shown."""
    listed = _resolved(scene, axis).traits.listed
    for field in fields:
        field.setVisible(not listed)
    for label in labels[1:]:
        label.setVisible(not listed)
    first = labels[0].text().removesuffix("from").strip()
    if first:
        labels[0].setText(first if listed else f"{first} from")
    else:
        labels[0].setVisible(not listed)


def free_part(bench: Editing, axis: str, part: str) -> None:
    """Lets an end or the step of an axis follow the readings."""
    freed = {part: None}
    bench.edit(f"freed the {part} of {AXES[axis]}", lambda f: hold(f, bench.tables, axis, **freed))


def show_held(word: NumberWord, scene: Scene, axis: str, part: str) -> None:
    """Shows an end or the step of an axis in a word."""
    scale = scene.figure.panel.scale(axis)
    resolved = _resolved(scene, axis)
    kind = KINDS[resolved.kind]
    held = getattr(scale, part)
    value = getattr(resolved, part) if held is None else held
    # a free end as exactly as its range can show, a held one to the last digit
    within = 0.0 if held is not None else (resolved.end / 2 - resolved.start / 2) * 2e-3
    if part == "step":
        text = full = (resolved.said if held is None else "") or kind.step_words(value)
    else:
        text, full = kind.words(value, within), kind.words(value, 0.0)
    word.show_value(text, held=held is not None, full=full)


def _resolved(scene: Scene, axis: str) -> Resolved:
    return scene.place.scale(axis)


def guide_words(guide: Guide, scene: Scene) -> str:
    """`the line at 0.5`, `the range from 2 to 5`, with its label."""
    words = KINDS[scene.place.scale(guide.axis).kind].words
    said = f"the line at {words(guide.value, 0)}"
    if guide.end is not None:
        said = f"the range from {words(guide.value, 0)} to {words(guide.end, 0)}"
    return f"{said} (“{guide.label}”)" if guide.label else said


def show_direction(button: QPushButton, scene: Scene, axis: str) -> None:
    """Shows on a button which way an axis runs."""
    arrow, said = _ARROWS[axis[0], scene.figure.panel.scale(axis).reversed]
    said = said.replace(axis[0], AXES[axis], 1)
    button.setText(arrow)
    button.setAccessibleName(f"Direction: {said}")
    button.setToolTip(plain_tip(f"{said}. Click to turn the axis round."))
