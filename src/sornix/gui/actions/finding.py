"""The guide and the list of all acts."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from sornix.gui.actions.atwork import AtWork
    from sornix.gui.dialogs.helpwindow import HelpWindow


class Finding:
    """Shows what there is to be done in a window, and how."""

    def __init__(self, window: AtWork) -> None:
        self._window = window
        # made when it is first asked for
        self.help: HelpWindow | None = None

    def show_help(self, *, shortcuts: bool = False) -> None:
        """Opens the guide beside the window, at its beginning or at the shortcuts."""
        from sornix.gui.dialogs.helpwindow import HelpWindow, shortcuts_text

        window = self._window
        if self.help is None:
            window.menus.update()
            listed = [
                (menu, f"{under}{action.text()}".replace("&", ""), action.shortcut().toString())
                for menu, under, action in window.menus.listed
            ]
            self.help = HelpWindow(window.frame, shortcuts_text(listed), window.theme)
        if shortcuts:
            self.help.show_shortcuts()
        self.help.show()
        self.help.raise_()

    def find_act(self) -> None:
        """Opens the list of all acts."""
        from sornix.gui.dialogs.palette import Palette

        self._window.menus.update()
        Palette(self._window.frame, self._window.menus.listed)
