"""What the lines of a statement ask of the workbench, and one that changes all that is alike."""

from collections.abc import Callable, Sequence
from typing import Protocol

from sornix.core.figure import Figure
from sornix.core.figure.model.trend import OwnShape
from sornix.core.readings import Tables
from sornix.gui.session.scene import Scene

Change = Callable[[Figure], Figure]


class Editing(Protocol):
    """The scene that is shown, and edits of its figure."""

    @property
    def scene(self) -> Scene | None: ...

    @property
    def tables(self) -> Tables: ...

    @property
    def shapes(self) -> Sequence[OwnShape]:
        """The shapes of the user's own."""
        ...

    def edit(self, name: str, change: Change) -> bool: ...

    def preview(self, change: Change) -> None: ...

    def cancel(self) -> None: ...


class Together:
    """Edits of the first of some that are alike, which the others follow in the same step: `spread`
    makes, of the figure before and the one after an edit, that in which they do."""

    def __init__(self, bench: Editing, spread: Callable[[Figure, Figure], Figure]) -> None:
        self._bench, self._spread = bench, spread

    @property
    def scene(self) -> Scene | None:
        return self._bench.scene

    @property
    def tables(self) -> Tables:
        return self._bench.tables

    @property
    def shapes(self) -> Sequence[OwnShape]:
        return self._bench.shapes

    def edit(self, name: str, change: Change) -> bool:
        """One step of history, of all of them."""
        return self._bench.edit(name, lambda figure: self._spread(figure, change(figure)))

    def preview(self, change: Change) -> None:
        self._bench.preview(change)

    def cancel(self) -> None:
        self._bench.cancel()
