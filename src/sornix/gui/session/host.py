"""What those who act in a window may ask of it, whichever window it is."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Protocol

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Mapping
    from pathlib import Path

    from PyQt6.QtWidgets import QWidget

    from sornix.core.document import Document
    from sornix.core.errors import SornixError
    from sornix.core.figure import Figure
    from sornix.core.files import FileState
    from sornix.core.readings import Table
    from sornix.gui.base.settings import Settings
    from sornix.gui.base.theme import Theme
    from sornix.gui.session.workbench import Workbench
    from sornix.gui.widgets.acts import State


class Host(Protocol):
    """A window: its workbench and settings, a parent for dialogs, and what it does and says."""

    @property
    def bench(self) -> Workbench: ...

    @property
    def settings(self) -> Settings: ...

    @property
    def frame(self) -> QWidget:
        """The parent of dialogs and menus."""
        ...

    @property
    def theme(self) -> Theme:
        """The theme that was chosen, or that of the desktop."""
        ...

    def say(self, sentence: str) -> None:
        """Shows a message until the next change."""
        ...

    def offer(self, sentence: str, acts: Mapping[str, Callable[[], object]]) -> None:
        """Shows a message with buttons for what can be done."""
        ...

    def tell(self, words: str) -> None:
        """Says in the footer what was done."""
        ...

    def start(
        self,
        words: str,
        work: Callable[[], Any],
        done: Callable[[Any], None],
        *,
        failed: Callable[[SornixError], None] | None = None,
        writes: bool = False,
    ) -> None:
        """Does work off the interface thread, then `done` here; an error is said, unless `failed`
        takes it. What `writes` a file is not given up."""
        ...

    def edit(self, name: str, change: Callable[[Figure], Figure]) -> None:
        """One step of the figure."""
        ...

    def refresh(self) -> None:
        """Shows the scene again, where something beside it has changed."""
        ...

    def is_read(self, paths: Iterable[Path]) -> bool:
        """Whether one of some files is where these readings come from, which is said."""
        ...

    def take_up(
        self,
        words: str,
        make: Callable[[], tuple[Document, FileState | None]],
        name: str,
        *,
        path: Path | None = None,
        then: Callable[[], None] = ...,
        unsaved: bool = False,
    ) -> None:
        """Makes a document off the interface thread and takes it up under `name`, after asking
        about unsaved changes."""
        ...

    def open_table(self, name: str, read: Callable[[], Table]) -> None:
        """Opens a table as a document of its own that is not saved anywhere yet."""
        ...

    def copy_text(self, text: str) -> None:
        """Puts a text on the clipboard."""
        ...

    def open_state(self) -> State:
        """For acts that need a document."""
        ...
