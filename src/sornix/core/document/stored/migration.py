"""What documents of earlier versions hold, as that of this version.

A version is two numbers. The first rises when something that was there has another name or meaning;
then a step here leads from the one before. The second rises when options are added: older documents
are as they were, and an older Sornix says that this one is newer, and does not call it damaged.
"""

from collections.abc import Callable, Mapping
from typing import Any

from sornix.core.errors import DocumentError

FORMAT = "sornix figure"
VERSION, MINOR = 3, 1

# Parts of figure.json, as JSON has them.
Told = dict[str, Any]


def of_this_version(told: Told, where: str) -> Told:
    """figure.json as this version has it; what is damaged in it is left to whoever reads on. Raises
    DocumentError for a newer one, and where there is no version."""
    version, minor = told.get("version"), told.get("minor", 0)
    if told.get("format") != FORMAT or type(version) is not int or type(minor) is not int:
        raise DocumentError("This is no document: figure.json is of another kind.", where=where)
    if (version, minor) > (VERSION, MINOR):
        raise DocumentError(
            f"This document was made by a newer Sornix: it is of version {version}.{minor}, and "
            f"this one knows version {VERSION}.{MINOR}.",
            where=where,
            remedy="Open it with a newer Sornix. It was left as it is.",
        )
    # a number below that of the first version is read as the first
    for number in range(max(version, min(_STEPS)), VERSION):
        told = _STEPS[number](told)
    return told


def _from_1(told: Told) -> Told:
    """Series and curves have a `palette_index`, series a `style`."""

    def series(one: Told) -> Told:
        return _renamed(one, look="palette_index", dress="style")

    def panel(one: Told) -> Told:
        found = _each(one, "series", series)
        return _each(found, "curves", lambda curve: _renamed(curve, look="palette_index"))

    figure = told.get("figure")
    if not isinstance(figure, dict):
        return told
    return {**told, "figure": _each(figure, "panels", panel)}


def _from_2(told: Told) -> Told:
    """A document holds several `figures`, of which the one at the place `shown` is in sight."""
    if "figure" not in told:
        return told
    kept = {name: value for name, value in told.items() if name != "figure"}
    return {**kept, "figures": [told["figure"]], "shown": 0}


_STEPS: Mapping[int, Callable[[Told], Told]] = {1: _from_1, 2: _from_2}


def _renamed(part: Told, **names: str) -> Told:
    return {names.get(name, name): value for name, value in part.items()}


def _each(part: Told, name: str, change: Callable[[Told], Told]) -> Told:
    """A part with every entry of a list in it changed."""
    entries = part.get(name)
    if not isinstance(entries, list):
        return part
    return {**part, name: [change(one) if isinstance(one, dict) else one for one in entries]}
