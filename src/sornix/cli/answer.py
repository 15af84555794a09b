"""What commands print: text for people, or one JSON object."""

import math
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any, TypeVar

import click

from sornix.core.errors import SornixError, refusal
from sornix.core.letters import printable

if TYPE_CHECKING:
    from sornix.core.readings import Table

DONE, WITH_CAUTIONS, WRONG_USAGE, UNUSABLE_INPUT = 0, 1, 2, 3

Command = TypeVar("Command", bound=Callable[..., Any])


def json_option(command: Command) -> Command:
    """The option `--json`."""
    return click.option("--json", "as_json", is_flag=True, help="Print one JSON object.")(command)


def strict_option(command: Command, *, where: str = "") -> Command:
    """The option `--strict`; `where` else it ends so."""
    option = click.option(
        "--strict",
        is_flag=True,
        expose_value=False,
        callback=_be_strict,
        help=f"Exit with status 1 where there is a doubt about how readings are to be read{where}.",
    )
    return option(command)


_STRICT, _DOUBTS = "sornix.strict", "sornix.doubts"


def _be_strict(context: click.Context, _option: click.Parameter, wanted: bool) -> None:
    context.meta[_STRICT] = wanted


def note_doubts(table: "Table") -> None:
    """Lets the doubts about readings count for `--strict`."""
    if table.read_as is not None and table.read_as.doubts:
        note_doubt()


def note_doubt() -> None:
    """Lets a doubt count for `--strict`."""
    click.get_current_context().meta[_DOUBTS] = True


def end_if_doubtful(context: click.Context) -> None:
    """Ends with the status for cautions where that was asked for and there was a doubt."""
    if context.meta.get(_STRICT) and context.meta.get(_DOUBTS):
        sys.exit(WITH_CAUTIONS)


def print_json(value: dict[str, Any]) -> None:
    """One JSON object on standard output; what is not finite becomes null."""
    import json

    click.echo(json.dumps(_finite(value), ensure_ascii=False, indent=2, allow_nan=False))


def _finite(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _finite(item) for key, item in value.items()}
    if isinstance(value, (list, tuple)):
        return [_finite(item) for item in value]
    if isinstance(value, float) and not math.isfinite(value):
        return None
    return value


@contextmanager
def errors_as_exit() -> Iterator[None]:
    """The one place where problems of a command become a message and an exit status."""
    try:
        yield
    except SornixError as error:
        click.echo(f"sornix: {error}", err=True)
        sys.exit(error.status)
    except MemoryError:
        click.echo("sornix: There is not enough memory for this.", err=True)
        sys.exit(UNUSABLE_INPUT)
    except BrokenPipeError:
        # the reader of our output has gone: nothing is wrong here
        sys.stderr.close()
        sys.exit(DONE)
    except OSError as error:
        # what may not be opened, or went away while it was worked with
        where = f"{printable(str(error.filename))}: " if error.filename is not None else ""
        click.echo(f"sornix: {where}{refusal(error)}.", err=True)
        sys.exit(UNUSABLE_INPUT)
