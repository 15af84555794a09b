"""Words that set one thing each: chosen from a menu, or typed. Lines of them make up what is
changed now and then about an axis or a series."""

from collections.abc import Callable, Mapping, Sequence
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QWidget

from sornix.core.figure import Figure
from sornix.core.frozen import frozen
from sornix.gui.base.plain import plain_label
from sornix.gui.session.editing import Editing
from sornix.gui.session.scene import Scene
from sornix.gui.widgets.inlinecontrols import Choice, ChoiceWord, NumberWord

Entries = Sequence[tuple[object, str]]


@frozen
class Pick:
    """A word that is chosen: its `name`, its entries, which one is present, and what another one
    makes of the figure; all of them about what a key names, an axis or a series."""

    name: str
    entries: Callable[[Scene, str], Entries]
    present: Callable[[Scene, str], object]
    put: Callable[[Figure, str, Any], Figure]
    # where it has a meaning
    shown: Callable[[Scene, str], bool] = lambda _scene, _key: True
    # what stands before the entry in the statement
    before: str = ""


AS_THE_STYLE = "as the style has it"


@frozen
class Typed:
    """A number that is typed: words before and behind it, how it is shown, whether it is held,
    what a text, or None for free, makes of the figure, and what it is where it is free."""

    name: str
    before: str
    after: str
    value: Callable[[Scene, str], tuple[str, bool]]
    put: Callable[[Editing, Figure, str, str | None], Figure]
    shown: Callable[[Scene, str], bool] = lambda _scene, _key: True
    free: str = "as usual"


def _in_a_row(holder: QWidget, words: Sequence[QWidget]) -> None:
    """Words that stay on one line together."""
    row = QHBoxLayout(holder)
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(5)
    for word in words:
        row.addWidget(word)


class Chosen(QWidget):
    """A Pick as a word, with the words before it."""

    def __init__(
        self, bench: Editing, pick: Pick, key: Callable[[], str], said: Callable[[], str]
    ) -> None:
        super().__init__()
        self._pick, self._key = pick, key
        self.word = ChoiceWord(pick.name)
        before = [plain_label(pick.before)] if pick.before else []
        _in_a_row(self, [*before, self.word])
        self.word.chosen.connect(
            lambda value: bench.edit(
                f"changed {said()}: {pick.name.lower()}",
                lambda f: pick.put(f, key(), value),
            )
        )

    def show_scene(self, scene: Scene) -> None:
        key, pick = self._key(), self._pick
        self.setVisible(pick.shown(scene, key))
        present = pick.present(scene, key)
        entries = dict(pick.entries(scene, key))
        self.word.set_choices(
            entries.get(present, str(present)),
            [Choice(value, text, value == present) for value, text in entries.items()],
        )


class NumberTyped(QWidget):
    """A Typed as a field between its words."""

    def __init__(
        self, bench: Editing, typed: Typed, key: Callable[[], str], said: Callable[[], str]
    ) -> None:
        super().__init__()
        self._typed, self._key = typed, key
        self.field = NumberWord(typed.name, typed.free)
        before, after = (
            [plain_label(text)] if text else [] for text in (typed.before, typed.after)
        )
        _in_a_row(self, [*before, self.field, *after])

        def put(text: str | None) -> None:
            name = f"changed {said()}: {typed.name.lower()}"
            if not bench.edit(name, lambda f: typed.put(bench, f, key(), text)):
                self.field.mark_wrong()

        self.field.entered.connect(put)
        self.field.freed.connect(partial(put, None))

    def show_scene(self, scene: Scene) -> None:
        self.setVisible(self._typed.shown(scene, self._key()))
        text, held = self._typed.value(scene, self._key())
        self.field.show_value(text, held=held, full=text)


def listed(words: Mapping[Any, str]) -> Callable[[Scene, str], Entries]:
    """Entries that are the same whatever is in hand."""
    return lambda _scene, _key: list(words.items())


def made(
    bench: Editing, word: Pick | Typed, key: Callable[[], str], said: Callable[[], str]
) -> Chosen | NumberTyped:
    """The widget of a word; `said` is how what the key names is called in the history."""
    if isinstance(word, Pick):
        return Chosen(bench, word, key, said)
    return NumberTyped(bench, word, key, said)
