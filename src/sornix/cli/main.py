"""`sornix`: the window, and sub-commands for batches and scripts.

A command is loaded when it is called: help, completion and what reads a small file are done before
the rest would be imported.
"""

import sys
from collections import Counter
from collections.abc import Mapping
from contextlib import AbstractContextManager, nullcontext
from importlib import import_module
from pathlib import Path
from types import MappingProxyType
from typing import Any

import click
from click.shell_completion import CompletionItem

from sornix.cli.answer import WRONG_USAGE, end_if_doubtful, errors_as_exit
from sornix.display import has_display
from sornix.version import __version__

# The commands, each with the module that it is in and what it does.
COMMANDS: Mapping[str, tuple[str, str]] = MappingProxyType(
    {
        "caution": (
            "sornix.cli.caution",
            "Tells what a careful colleague would say of the figures in FILE.",
        ),
        "demo": ("sornix.cli.demo", "Writes the demo readings, documents and figures."),
        "desktop": (
            "sornix.cli.desktop",
            "Puts Sornix into your desktop’s menus, or takes it out again.",
        ),
        "fit": (
            "sornix.cli.fits.fit",
            "Puts a trend through the readings in FILE by least squares.",
        ),
        "plot": (
            "sornix.cli.plot",
            "Draws a figure from the readings in FILE, as STATEMENT says it.",
        ),
        "readings": (
            "sornix.cli.readings",
            "Tells what is read from FILE: its columns, and what looks wrong.",
        ),
        "render": (
            "sornix.cli.render",
            "Draws the figures of saved documents, also for other readings.",
        ),
        "report": (
            "sornix.cli.report",
            "Writes a report of the figures in FILE: pictures, methods, trends in numbers.",
        ),
        "say": (
            "sornix.cli.say",
            'Says the figures of FILE in words, as "sornix plot" takes them.',
        ),
    }
)


class _FilesOrCommand(click.Group):
    """A group whose first word may be a file: then the window opens with all of them."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        return sorted({*COMMANDS, *super().list_commands(ctx)})

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        if cmd_name in COMMANDS and cmd_name not in self.commands:
            module = import_module(COMMANDS[cmd_name][0])
            self.add_command(getattr(module, cmd_name))
        return super().get_command(ctx, cmd_name)

    def format_commands(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        with formatter.section("Commands"):
            formatter.write_dl([(name, self._does(ctx, name)) for name in self.list_commands(ctx)])

    def _does(self, ctx: click.Context, name: str) -> str:
        if name in COMMANDS:
            return COMMANDS[name][1]
        command = self.get_command(ctx, name)
        return command.get_short_help_str(80) if command is not None else ""

    def shell_complete(self, ctx: click.Context, incomplete: str) -> list[CompletionItem]:
        commands = [
            CompletionItem(name, help=self._does(ctx, name))
            for name in self.list_commands(ctx)
            if name.startswith(incomplete)
        ]
        return commands + click.Command.shell_complete(self, ctx, incomplete)

    def resolve_command(
        self, ctx: click.Context, args: list[str]
    ) -> tuple[str | None, click.Command | None, list[str]]:
        if args and args[0] not in self.list_commands(ctx):
            if not Path(args[0]).exists() and "." not in args[0] and "/" not in args[0]:
                known = ", ".join(self.list_commands(ctx))
                raise click.UsageError(
                    f"“{args[0]}” is neither a file nor a command. The commands are {known}."
                )
            return "open", _open, args
        name, command, rest = super().resolve_command(ctx, args)
        if command is not None:
            _check_options(command, rest, ctx)
        return name, command, rest

    def invoke(self, ctx: click.Context) -> Any:
        with errors_as_exit(), _waiting():
            answer = super().invoke(ctx)
            end_if_doubtful(ctx)
            return answer


def _check_options(command: click.Command, args: list[str], parent: click.Context) -> None:
    """Raises UsageError for an option that takes one value and has two: the first would be passed
    over in silence; and for one of a single letter, which none is, with those that begin so."""
    try:
        _, _, order = command.make_parser(click.Context(command)).parse_args(list(args))
    except click.NoSuchOption as error:
        short = error.option_name if len(error.option_name) == len("-o") else ""
        near = [o for p in command.params for o in p.opts if short and o.startswith(f"-{short}")]
        if near:
            raise click.UsageError(
                f"There is no option “{short}”. So begin {', '.join(sorted(near))}.",
                click.Context(command, parent, command.name),
            ) from error
        return
    except click.UsageError:
        # the command itself says what is wrong
        return
    for option, times in Counter(order).items():
        one = isinstance(option, click.Option) and not (option.multiple or option.is_flag)
        if one and times > 1:
            raise click.UsageError(f"{option.opts[-1]} takes one value, and has {times}.")


def _waiting() -> AbstractContextManager[None]:
    """Within it a command waits for its fits, whoever else is in this process: where nothing of
    figures was loaded there is nobody."""
    figure = sys.modules.get("sornix.core.figure")
    return figure.waiting() if figure is not None else nullcontext()


class _DemoName(click.ParamType[str]):
    """The name of a demo figure."""

    name = "name"

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> str:
        from sornix.demo import DEMOS

        if value not in DEMOS:
            self.fail(f"There is no demo “{value}”. They are {', '.join(DEMOS)}.", param, ctx)
        return str(value)

    def shell_complete(
        self, _ctx: click.Context, _param: click.Parameter, incomplete: str
    ) -> list[CompletionItem]:
        from sornix.demo import DEMOS

        return [CompletionItem(name) for name in DEMOS if name.startswith(incomplete)]


@click.command("open", hidden=True)
@click.argument("files", nargs=-1, type=click.Path(path_type=Path))
def _open(files: tuple[Path, ...]) -> None:
    """Opens the window with these files."""
    _open_window(files, "")


def _open_window(files: tuple[Path, ...], demo_name: str) -> None:
    if not has_display():
        click.echo(
            "sornix: There is no display to open a window on. The sub-commands work without one: "
            "see sornix --help.",
            err=True,
        )
        raise click.exceptions.Exit(WRONG_USAGE)
    from sornix.gui import open_desk

    raise click.exceptions.Exit(open_desk(files, demo_name))


@click.group(
    cls=_FilesOrCommand,
    invoke_without_command=True,
    context_settings={"help_option_names": ["-h", "--help"]},
)
@click.version_option(__version__, prog_name="sornix")
@click.option(
    "--demo",
    "demo_name",
    type=_DemoName(),
    help="Open the window on a demo figure, such as “growth”; another word lists them.",
)
@click.pass_context
def main(ctx: click.Context, demo_name: str | None) -> None:
    """Plots measured readings and puts least-squares trends through them.

    \b
    sornix [FILE…]   opens the window with these readings or documents
    sornix COMMAND   works without a window, for batches and scripts

    Columns are named by their name without the unit. Exit status: 0 done, 1 done
    but with cautions (--strict), 2 wrong usage, 3 the input cannot be used.
    """
    if ctx.invoked_subcommand is None:
        _open_window((), demo_name or "")
