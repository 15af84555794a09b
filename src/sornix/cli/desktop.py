"""`sornix desktop`."""

import sys
from pathlib import Path

import click

from sornix.core.errors import DocumentError, refusal
from sornix.core.text import plural
from sornix.desktop_entry import data_folder, install, remove


@click.command()
@click.argument("act", type=click.Choice(["install", "remove"]))
@click.pass_context
def desktop(ctx: click.Context, act: str) -> None:
    """Puts Sornix into your desktop’s menus, or takes it out again.

    Menu entry, icons, the type of *.sornix files, the manual page and the completion of bash, zsh
    and fish go into your own folders; nothing else on the machine is changed.
    """
    from sornix.cli.manual import shared_texts

    whole = ctx.find_root().command
    assert isinstance(whole, click.Group)
    program = Path(sys.executable).with_name("sornix")
    commands = Path.home() / ".local" / "bin"
    change, words = (install, "written") if act == "install" else (remove, "removed")
    try:
        changed = change(program, shared_texts(whole), data_folder(), commands)
    except OSError as error:
        raise DocumentError(
            f"The folder cannot be written to ({refusal(error)}).", where=str(error.filename)
        ) from error
    click.echo(f"{plural(len(changed), 'file')} {words}:")
    for path in changed:
        click.echo(f"  {path}")
    if act == "install":
        click.echo(
            "zsh finds its completion once its fpath has the folder of _sornix; see the guide."
        )
