"""The window: statement, paper, readings tray and ledger."""

from sornix.gui.shell.application import open_desk

__all__ = ["open_desk"]
