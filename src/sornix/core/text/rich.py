"""Super- and subscripts typed simply: `cm^3`, `H_2O`, `mg L^-1`, `NO_3^-`, `x^{n+1}`.

A script takes a sign and digits, a sign alone, one letter that no other letter follows, or what
stands in braces. So the underscores of a name such as `flow_rate` stay what they are.
"""

import re
from typing import NamedTuple

_SCRIPT = re.compile(
    r"(?P<mark>[\^_])"
    r"(?:\{(?P<braced>[^{}]*)\}|(?P<signed>[+\-−]?\d+(?:\.\d+)?|[+\-−]|[^\W\d_](?![^\W\d_])))"
)
_TO_SUPER = str.maketrans("0123456789+-−n", "⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻⁻ⁿ")
_TO_SUB = str.maketrans("0123456789+-−", "₀₁₂₃₄₅₆₇₈₉₊₋₋")


class Run(NamedTuple):
    """A stretch of text in one form. `script` is 1 for super-, −1 for subscript, 0 for neither."""

    text: str
    script: int = 0
    italic: bool = False


Rich = tuple[Run, ...]


def rich(typed: str, *, italic: bool = False) -> Rich:
    """The runs of a text as typed; adjacent plain text makes one run."""
    runs: list[Run] = []
    end = 0
    for match in _SCRIPT.finditer(typed):
        if match.start() > end:
            runs.append(Run(typed[end : match.start()], 0, italic))
        content = match["braced"] if match["braced"] is not None else match["signed"]
        runs.append(Run(content.replace("-", "−"), 1 if match["mark"] == "^" else -1, italic))
        end = match.end()
    if end < len(typed) or not runs:
        runs.append(Run(typed[end:], 0, italic))
    return tuple(run for run in runs if run.text)


def plain_text(runs: Rich) -> str:
    """The text with Unicode super- and subscripts where they exist, for captions and copying; a
    number with a point has none, and is written as it is typed: `h^1.85`."""
    return "".join(_plain(run) for run in runs)


def _plain(run: Run) -> str:
    if not run.script:
        return run.text
    if "." in run.text:
        return ("^" if run.script > 0 else "_") + run.text
    return run.text.translate(_TO_SUPER if run.script > 0 else _TO_SUB)
