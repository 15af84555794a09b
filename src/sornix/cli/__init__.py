"""The command line."""

from sornix.cli.main import main

__all__ = ["main"]
