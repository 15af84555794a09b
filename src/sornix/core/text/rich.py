"""Super- and subscripts typed simply: `cm^3`, `H_2O`, `mg L^-1`, `NO_3^-`, `x^{n+1}`.

Symbols are typed by their names in braces: `{mu}m`, `{Delta}T`, `x_{alpha}`.

A script takes a sign and digits, a sign alone, one letter that no other letter follows, or what
stands in braces. So the underscores of a name such as `flow_rate` stay what they are.
"""

import re
from collections.abc import Iterator
from itertools import groupby
from typing import NamedTuple

from sornix.core.letters import printable
from sornix.core.patterns import pattern
from sornix.core.text.symbols import SYMBOLS

_SCRIPT = pattern(
    r"(?P<mark>[\^_])"
    r"(?:\{(?P<braced>[^{}]*)\}|(?P<signed>[+\-−]?\d+(?:\.\d+)?|[+\-−]|[^\W\d_](?![^\W\d_])))"
)
_TO_SUPER = str.maketrans("0123456789+-−n", "⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻⁻ⁿ")
_TO_SUB = str.maketrans("0123456789+-−", "₀₁₂₃₄₅₆₇₈₉₊₋₋")


_FROM_SUPER = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻ⁿ", "0123456789+−n")
_FROM_SUB = str.maketrans("₀₁₂₃₄₅₆₇₈₉₊₋", "0123456789+−")
_SUPERS, _SUBS = pattern("[⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻ⁿ]+"), pattern("[₀₁₂₃₄₅₆₇₈₉₊₋]+")
# the name of a symbol in braces, perhaps as a script
_NAMED = pattern(r"(?P<mark>[\^_]?)\{(?P<name>[A-Za-z][A-Za-z ]*)\}")
# a power of a unit as files write it: `cm-1`, `mol L-1`, `W/m2`; there is none in `H2O` or `PM10`
_POWER = pattern(
    r"(?<!\w)(?P<unit>[kcdmnµμ]?(?:[msgLlKJWVAN]|mol)|h|d|min|sr)"
    r"(?P<power>[-−]\d|(?<=[ms])[2-4])(?!\w)"
)
# a minus, but none in a number such as 1e-3
_HYPHEN = pattern(r"(?<!\d[eE])-")
_POINT = pattern(r"(?<=\d)\.(?=\d)")
_DIVIDER = pattern(r", ")


class Run(NamedTuple):
    """A stretch of text in one form. `script` is 1 for super-, −1 for subscript, 0 for neither."""

    text: str
    script: int = 0
    italic: bool = False


Rich = tuple[Run, ...]


def rich(typed: str, *, italic: bool = False) -> Rich:
    """The runs of a text as typed; adjacent plain text makes one run, `{mu}` its symbol."""
    typed = printable(typed)
    typed = _NAMED.sub(_symbol, typed) if "{" in typed else typed
    if not typed.isascii():
        # signs that are scripts by themselves are set as all others are
        typed = _SUPERS.sub(lambda m: f"^{{{m[0].translate(_FROM_SUPER)}}}", typed)
        typed = _SUBS.sub(lambda m: f"_{{{m[0].translate(_FROM_SUB)}}}", typed)
    if "^" not in typed and "_" not in typed:
        return (Run(typed, 0, italic),) if typed else ()
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
    return tuple([run for run in runs if run.text])


def _symbol(match: "re.Match[str]") -> str:
    """The symbol of a name in braces, in the braces of its script if it stands in such."""
    symbol = SYMBOLS.get(match["name"])
    if symbol is None:
        return match[0]
    return f"{match['mark']}{{{symbol}}}" if match["mark"] else symbol


def with_comma(runs: Rich) -> Rich:
    """Runs whose numbers have a decimal comma; what a comma divided, a semicolon does then."""
    return tuple(run._replace(text=_POINT.sub(",", _DIVIDER.sub("; ", run.text))) for run in runs)


def formula_text(formula: str) -> str:
    """A formula as a sentence has it: with a true minus and a dot for products."""
    return _HYPHEN.sub("−", formula).replace("*", "·")


def unit_text(unit: str) -> str:
    """A unit with its powers raised, as it is printed: `cm⁻¹` for `cm-1`."""
    if not any(map(str.isdecimal, unit)):
        return unit
    return _POWER.sub(lambda m: m["unit"] + m["power"].translate(_TO_SUPER), unit)


def unit_words(unit: str) -> str:
    """A unit as a sentence has it: `cm⁻¹` for `cm-1` and for `cm^-1`."""
    return plain_text(rich(unit_text(unit))) if unit else ""


def scripts(runs: Rich) -> Iterator[tuple[int, Rich]]:
    """Runs that stand together as one script, or as none, each with which."""
    for script, together in groupby(runs, key=lambda run: run.script):
        yield script, tuple(together)


def plain_text(runs: Rich) -> str:
    """The text with Unicode super- and subscripts where they exist, for captions and copying; a
    number with a point has none, and is written as it is typed: `h^1.85`, `h^(−0.7)`."""
    return "".join(_plain(script, together) for script, together in scripts(runs))


def _plain(script: int, runs: Rich) -> str:
    text = "".join(run.text for run in runs)
    if not script:
        return text
    if "." in text or (script > 0 and len(runs) > 1 and not _SIGNED.fullmatch(text)):
        held = text if _NUMBER.fullmatch(text) else f"({text})"
        return ("^" if script > 0 else "_") + held
    return text.translate(_TO_SUPER if script > 0 else _TO_SUB)


_NUMBER, _SIGNED = pattern(r"\d+\.\d+"), pattern(r"[+−]?\d+")
