"""The options of an axis as options of a command, from how the figure describes them."""

import math
from collections.abc import Callable, Mapping
from typing import Any

import click
from click.shell_completion import CompletionItem

from sornix.cli.answer import Command
from sornix.core.figure.model.checks import OneOf, Rule
from sornix.core.figure.model.scale import AxisOption

_AXES = ("x", "y", "right")
_OWN, _OF_AXIS = "Options", "Options of an axis, here x; --y-… and --right-… likewise"


def options_of(command: click.Command, ctx: click.Context) -> dict[str, list[tuple[str, str]]]:
    """The options of a command as they are told, by headings; those of axes once."""
    found: dict[str, list[tuple[str, str]]] = {}
    for parameter in command.get_params(ctx):
        record = parameter.get_help_record(ctx) if isinstance(parameter, click.Option) else None
        if record is None:
            continue
        word = next((w for w in _AXES if record[0].startswith(f"--{w}-")), "")
        if word in ("", _AXES[0]):
            found.setdefault(_OF_AXIS if word else _OWN, []).append(record)
    return found


class WithAxes(click.Command):
    """A command that tells the options of its axes once, not once for each axis."""

    def format_options(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        for heading, records in options_of(self, ctx).items():
            with formatter.section(heading):
                formatter.write_dl(records)


class _Value(click.ParamType[Any]):
    """A value of an option that is a name, a number, a colour or a text, as its rule has it."""

    def __init__(self, option: AxisOption) -> None:
        rule = option.field.validator
        self._rule = rule if isinstance(rule, Rule) else None
        self._percent = option.offer.percent
        self._whole = option.field.type is int
        self._names = _names(rule) if isinstance(rule, OneOf) else {}
        limits = self._rule.limits if self._rule is not None else None
        self.name = "number" if limits is not None else "text"

    def get_metavar(self, param: click.Parameter, ctx: click.Context) -> str | None:
        _ = param, ctx
        return f"[{'|'.join(self._names)}]" if self._names else None

    def shell_complete(
        self, ctx: click.Context, param: click.Parameter, incomplete: str
    ) -> list[CompletionItem]:
        _ = ctx, param
        return [CompletionItem(name) for name in self._names if name.startswith(incomplete)]

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> Any:
        if self._names:
            if value not in self._names:
                self.fail(f"“{value}” is not one of {', '.join(self._names)}.", param, ctx)
            return self._names[value]
        if self._rule is None:
            return value
        found, asked = value, self._rule.words
        if self._rule.limits is not None:
            found = self._number(value)
            if self._percent:
                low, high = (100 * end for end in self._rule.limits[:2])
                asked = f"{low:g} to {high:g} percent"
        if found is None or not self._rule.check(found):
            self.fail(f"“{value}” does not fit. Give {asked}.", param, ctx)
        return found

    def _number(self, text: str) -> float | None:
        try:
            number = float(text)
        except ValueError:
            return None
        if self._whole:
            return int(number) if math.isfinite(number) and number == int(number) else None
        return number / 100 if self._percent else number


def _names(rule: OneOf) -> Mapping[str, Any]:
    """The values of an option by what they are called in commands; None is not to be said."""
    return {_said(value): value for value in rule.as_schema()["enum"] if value is not None}


def _said(value: Any) -> str:
    return ("-and-".join(value) or "none") if isinstance(value, tuple) else str(value)


def option_of_axis(word: str, axis: str, option: AxisOption) -> Callable[[Command], Command]:
    """The option of a command that sets an option of an axis; where it is not given, None."""
    offer = option.offer
    said = offer.help.format(axis=axis) or f"{offer.name}, on {axis}."
    name = f"--{word}-{offer.word}"
    if option.field.type is bool:
        return click.option(f"{name}/--{word}-no-{offer.word}", default=None, help=said)
    return click.option(name, type=_Value(option), help=said)
