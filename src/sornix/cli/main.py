"""`sornix`: the window, and sub-commands for batches and scripts."""

from pathlib import Path
from typing import Any

import click

from sornix.cli.answer import WRONG_USAGE, end_if_doubtful, errors_as_exit
from sornix.cli.caution import caution
from sornix.cli.demo import demo
from sornix.cli.desktop import desktop
from sornix.cli.fits.fit import fit
from sornix.cli.plot import plot
from sornix.cli.readings import readings
from sornix.cli.render import render
from sornix.cli.say import say
from sornix.core.figure import waiting
from sornix.demo import DEMOS
from sornix.display import has_display
from sornix.version import __version__


class _FilesOrCommand(click.Group):
    """A group whose first word may be a file: then the window opens with all of them."""

    def resolve_command(
        self, ctx: click.Context, args: list[str]
    ) -> tuple[str | None, click.Command | None, list[str]]:
        if args and args[0] not in self.commands:
            if not Path(args[0]).exists() and "." not in args[0] and "/" not in args[0]:
                known = ", ".join(self.list_commands(ctx))
                raise click.UsageError(
                    f"“{args[0]}” is neither a file nor a command. The commands are {known}."
                )
            return "open", _open, args
        return super().resolve_command(ctx, args)

    def invoke(self, ctx: click.Context) -> Any:
        # whoever else is in this process, a command waits for its fits
        with errors_as_exit(), waiting():
            answer = super().invoke(ctx)
            end_if_doubtful(ctx)
            return answer


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
    "--demo", "demo_name", type=click.Choice(list(DEMOS)), help="Open the window on a demo figure."
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


for _command in (demo, readings, fit, plot, say, render, caution, desktop):
    main.add_command(_command)
