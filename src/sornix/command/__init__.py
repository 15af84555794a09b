"""The command line."""

from sornix.command.main import main

__all__ = ["main"]
