"""What is asked about an axis in a line of text: guides, and texts beside its labels."""

from collections.abc import Callable

from sornix.core.errors import EditRefused
from sornix.core.figure import Figure, add_guide, scale_kind, set_beside
from sornix.core.scales import KINDS
from sornix.desk.workbench import Workbench

# asks for a line of text: title, what it is, how it begins, and what is done with it
Ask = Callable[[str, str, str, Callable[[str], object]], None]


def ask_guide(bench: Workbench, axis: str, ask: Ask) -> None:
    """Asks where a line or a shaded range is to stand."""

    def take(text: str) -> None:
        bench.edit("drew a line at a value", lambda f: _with_guide(f, bench, axis, text))

    label = f"At which {axis}? One value, or “2 to 5” to shade a range; a label after “:”"
    ask("Line or shaded range", label, "", take)


def _with_guide(figure: Figure, bench: Workbench, axis: str, text: str) -> Figure:
    kind = KINDS[scale_kind(figure.panel, bench.tables, axis)]
    place, _, label = text.partition(": ")
    parts = [part for part in place.rstrip(":").split(" to ") if part.strip()]
    scene = bench.scene
    if not 1 <= len(parts) <= 2 or scene is None:
        raise EditRefused(f"“{text}” says no value.", remedy="Write 0.5, 0.5: limit, or 2 to 5.")
    about = (scene.place.x if axis == "x" else scene.place.y).start
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
        words = f"changed the labels of {axis}"
        bench.edit(words, lambda f: set_beside(f, axis, before, after))

    ask("Labels", "# stands for the number:", f"{scale.before}#{scale.after}", take)
