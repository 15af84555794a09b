"""What is asked about an axis in a line of text: guides, and texts beside its labels."""

from collections.abc import Callable
from typing import Any

import numpy as np

from sornix.core.errors import EditRefused
from sornix.core.figure import (
    AXES,
    Figure,
    Other,
    add_guide,
    axis_unit,
    change_scale,
    scale_kind,
    set_other,
)
from sornix.core.scales import KINDS
from sornix.gui.session.workbench import Workbench

# asks for a line of text: title, what it is, how it begins, and what is done with it
Ask = Callable[[str, str, str, Callable[[str], object]], None]


def ask_guide(bench: Workbench, axis: str, ask: Ask) -> None:
    """Asks where a line or a shaded range is to stand."""

    def take(text: str) -> None:
        bench.edit("drew a line at a value", lambda f: _with_guide(f, bench, axis, text))

    label = f"At which {axis[0]}? One value, or “2 to 5” to shade a range; a label after “:”"
    ask("Line or shaded range", label, "", take)


def _with_guide(figure: Figure, bench: Workbench, axis: str, text: str) -> Figure:
    kind = KINDS[scale_kind(figure.panel, bench.tables, axis)]
    place, _, label = text.partition(": ")
    parts = [part for part in place.rstrip(":").split(" to ") if part.strip()]
    scene = bench.scene
    if not 1 <= len(parts) <= 2 or scene is None:
        raise EditRefused(f"“{text}” says no value.", remedy="Write 0.5, 0.5: limit, or 2 to 5.")
    about = scene.place.scale(axis).start
    value, end = [*(kind.parse(part, about) for part in parts), None][:2]
    assert value is not None
    return add_guide(figure, bench.tables, axis, value, end, label)


def ask_beside(bench: Workbench, axis: str, ask: Ask) -> None:
    """Asks for texts before and behind the number in each label."""
    scene = bench.scene
    if scene is None:
        return
    scale = scene.figure.panel.scale(axis)

    def take(text: str) -> None:
        before, sign, after = text.partition("#")
        if not sign:
            before, after = "", text
        words = f"changed the labels of {AXES[axis]}"
        bench.edit(words, lambda f: change_scale(f, axis, before=before, after=after))

    ask("Labels", "# stands for the number:", f"{scale.before}#{scale.after}", take)


def ask_other(
    bench: Workbench, axis: str, ask: Ask, start: Callable[[str, Callable[[], Any], Any], None]
) -> None:
    """Asks for other units; `start` does slow work elsewhere."""
    scene = bench.scene
    if scene is None:
        return
    unit = axis_unit(scene.figure.panel, bench.tables, axis)

    def put(other: Other) -> None:
        words = f"put other units beside {axis}"
        bench.edit(words, lambda f: set_other(f, bench.tables, axis, other))

    def take(text: str) -> None:
        # units take their time to load
        start("looking up units…", lambda: other_units(text, unit), put)

    of = f" instead of {unit}" if unit else ""
    label = f"A unit{of}, or a formula such as = 1239.8 / x; a title after “:”"
    ask("Other units on the other side", label, "", take)


def other_units(text: str, unit: str) -> Other:
    """What was typed: a unit that `unit` can become, or a formula of x, with a title behind a
    colon. Raises SornixError."""
    typed, _, title = text.partition(": ")
    typed = typed.strip().rstrip(":").strip()
    if typed.startswith("="):
        return Other(typed[1:].strip(), title.strip())
    from sornix.core.readings.tables.units import convert

    values = convert(np.array([0.0, 1.0]), unit, typed)
    # twelve digits are more than any table of units has, and crumbs of binary64 are none of them
    offset, factor = (float(f"{v:.12g}") for v in (values[0], values[1] - values[0]))
    formula = f"{factor!r} * x" + (f" + {offset!r}" if offset else "")
    return Other(formula.replace("+ -", "- "), title.strip() or typed)
