"""What the options of a figure may be, said once for validators, schema, window and commands.

Validators are our own: attrs' module of them takes 6 ms to import, and the start counts.
"""

import math
import sys
from collections.abc import Callable, Collection, Mapping
from typing import Any, NamedTuple

from attrs import Attribute, fields

from sornix.core.errors import Unfit
from sornix.core.text import capital, short, spoken


class Limits(NamedTuple):
    """Between what a number lies, in its unit; an `open` one is above `low`, not at it."""

    low: float
    high: float = math.inf
    unit: str = ""
    open: bool = False

    def __contains__(self, value: object) -> bool:
        if not isinstance(value, int | float):
            return False
        return (self.low < value if self.open else self.low <= value) and value <= self.high

    @property
    def words(self) -> str:
        """`3 to 40 points`, `above 0 and up to 5 mm`, `0 or more`."""
        low, high = spoken(self.low), spoken(self.high) if math.isfinite(self.high) else ""
        if self.open:
            said = f"above {low} and up to {high}" if high else f"a number above {low}"
        else:
            said = f"{low} to {high}" if high else f"{low} or more"
        return f"{said} {self.unit}".rstrip()

    @property
    def schema(self) -> dict[str, Any]:
        """The same as JSON Schema has it."""
        found: dict[str, Any] = {"exclusiveMinimum" if self.open else "minimum": self.low}
        return found | ({"maximum": self.high} if math.isfinite(self.high) else {})


class Rule:
    """A validator that raises Unfit, a ValueError, with the attribute's name and what it must be.

    `limits` are those of a number.
    """

    def __init__(
        self, check: Callable[[Any], bool], words: str, schema: Mapping[str, Any],
        limits: Limits | None = None,
    ) -> None:  # fmt: skip
        self.check, self.words, self._schema, self.limits = check, words, schema, limits

    def __call__(self, _instance: object, attribute: "Attribute[Any]", value: Any) -> None:
        if not self.check(value):
            self._refuse(attribute, value)

    def as_schema(self) -> dict[str, Any]:
        """The same as JSON Schema has it."""
        return dict(self._schema)

    def _refuse(self, attribute: "Attribute[Any]", value: Any) -> None:
        said = attribute.name.replace("_", " ")
        raise Unfit(f"{capital(said)} must be {self.words}, not {short(_said(value))}.")


def _said(value: Any) -> str:
    return f"{value:g}" if isinstance(value, float) else f"“{value}”"


class OneOf(Rule):
    """One of some names, of whichever there are when it is asked."""

    def __init__(self, names: Collection[Any], more: tuple[Any, ...]) -> None:
        super().__init__(lambda v: v in more or v in names, "one of those known", {})
        self._names, self._more = names, more

    def __call__(self, _instance: object, attribute: "Attribute[Any]", value: Any) -> None:
        # most options are names, and each edit makes several values anew
        if value not in self._names and value not in self._more:
            self._refuse(attribute, value)

    def as_schema(self) -> dict[str, Any]:
        return {"enum": [*self._names, *self._more]}


class Each(Rule):
    """Every entry of a tuple as a rule has it, and so many of them at least."""

    def __init__(self, rule: Rule, least: int) -> None:
        words = rule.words if not least else f"one or more of them, {rule.words}"
        super().__init__(lambda v: len(v) >= least and all(map(rule.check, v)), words, {})
        self._rule, self._least = rule, least

    def as_schema(self) -> dict[str, Any]:
        return {"items": self._rule.as_schema()} | (
            {"minItems": self._least} if self._least else {}
        )


def one_of(names: Collection[Any], *more: Any) -> Rule:
    """One of some names, or of some more."""
    return OneOf(names, more)


class Number(Rule):
    """A number within limits, or None where the type allows it."""

    def __init__(self, limits: Limits, words: str = "") -> None:
        super().__init__(lambda v: v is None or v in limits, words or limits.words,
                         limits.schema if limits.low > -math.inf else {}, limits)  # fmt: skip
        self._low, self._high, self._open = limits.low, limits.high, limits.open

    def __call__(self, _instance: object, attribute: "Attribute[Any]", value: Any) -> None:
        # without a call of its own: each edit makes several values anew
        if value is not None and not (
            self._low <= value <= self._high and not (self._open and value == self._low)
        ):
            self._refuse(attribute, value)


def between(low: float, high: float = math.inf, unit: str = "", *, above: bool = False) -> Rule:
    """A number between two limits, or `above` the first of them; or None."""
    return Number(Limits(low, high, unit, above))


def each(rule: Rule, *, least: int = 0) -> Rule:
    """Every entry of a tuple as a rule has it, and so many of them at least."""
    return Each(rule, least)


class Offer(NamedTuple):
    """How an option of an axis is offered: what it is (`name`, for screen readers and the history),
    and the `line` of the window that it stands in, "" where it has a place of its own.

    `entries` are the words of its values; without them it is typed, between `before` and `after`.
    `where` says on which kinds of scale it has a meaning.
    """

    name: str
    line: str = ""
    entries: Mapping[Any, str] | None = None
    before: str = ""
    after: str = ""
    where: Callable[[str], bool] = lambda _kind: True


def told(words: str = "", offer: Offer | None = None) -> dict[str, Any]:
    """What an option means where its name does not say it, for the schema and for help; and how it
    is offered."""
    return ({"help": words} if words else {}) | ({"offer": offer} if offer is not None else {})


def limits_of(kind: type, name: str) -> Limits:
    """The limits of a number among the options of a class. Raises KeyError where it has none."""
    rule = getattr(fields(kind), name).validator
    if not isinstance(rule, Rule) or rule.limits is None:
        raise KeyError(name)
    return rule.limits


def usual(kind: type, name: str) -> Any:
    """What an option of a class is where nothing is said."""
    return getattr(fields(kind), name).default


_LARGEST = sys.float_info.max
FINITE = Rule(lambda v: v is None or -_LARGEST <= v <= _LARGEST, "a finite number", {})
_POSITIVE = Limits(0, open=True)
ABOVE_0 = Rule(lambda v: v is None or 0 < v <= _LARGEST, _POSITIVE.words, _POSITIVE.schema)
NOT_EMPTY = Rule(lambda value: len(value) > 0, "one or more", {"minItems": 1})
NOT_BELOW_0 = between(0)
