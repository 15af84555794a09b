"""Sornix: measured readings as figures, least-squares trends, and a plain account of both.

In Python, `sornix.read(path)` gives the tables in a file, `sornix.draw(readings, "…")` a figure,
`sornix.fit(readings, "Trend …")` numbers.
"""

from typing import TYPE_CHECKING, Any

from sornix.version import APPLICATION_ID, __version__

if TYPE_CHECKING:
    from sornix.scripting import Drawn, Fitted, Readings, draw, fit, read

__all__ = ["APPLICATION_ID", "Drawn", "Fitted", "Readings", "__version__", "draw", "fit", "read"]


def __getattr__(name: str) -> Any:
    """What scripts use, loaded when they do: the window and the commands need none of it."""
    if name in __all__:
        from sornix import scripting

        return getattr(scripting, name)
    raise AttributeError(f"module “sornix” has no attribute “{name}”")
