"""The manual page and the completion of shells, made from the commands themselves."""

import click
from click.shell_completion import BashComplete, FishComplete, ShellComplete, ZshComplete

from sornix.version import __version__

_SHELLS: dict[type[ShellComplete], str] = {
    BashComplete: "bash-completion/completions/sornix",
    ZshComplete: "zsh/site-functions/_sornix",
    FishComplete: "fish/vendor_completions.d/sornix.fish",
}
_VARIABLE = "_SORNIX_COMPLETE"


def shared_texts(group: click.Group) -> dict[str, str]:
    """Manual page and completions, by their places under the user's folder of data."""
    found = {"man/man1/sornix.1": manual_page(group)}
    for kind, place in _SHELLS.items():
        # the script is the same for all versions of a shell that are in use
        script = kind(group, {}, "sornix", _VARIABLE)
        found[place] = script.source_template % script.source_vars()
    return found


def manual_page(group: click.Group) -> str:
    """The commands as a page for man(1)."""
    context = click.Context(group, info_name="sornix")
    lines = [
        f'.TH SORNIX 1 "" "Sornix {__version__}" "User commands"',
        ".SH NAME",
        "sornix \\- plot measured readings and put trends through them",
        ".SH SYNOPSIS",
        ".B sornix\n[\\fIFILE\\fR ...]\n.br",
        ".B sornix\n\\fICOMMAND\\fR [\\fIOPTIONS\\fR] [\\fIARGUMENTS\\fR]",
        ".SH DESCRIPTION",
        *_paragraphs(group.help),
        ".SH OPTIONS",
        *_options(group, context),
        ".SH COMMANDS",
    ]
    for name in group.list_commands(context):
        command = group.get_command(context, name)
        if command is None or command.hidden:
            continue
        inner = click.Context(command, info_name=f"sornix {name}", parent=None)
        usage = command.get_usage(inner).removeprefix("Usage: ")
        lines += [f".SS {_escaped(usage)}", *_paragraphs(command.help)]
        lines += _options(command, inner)
    lines += [
        ".SH EXIT STATUS",
        "0 done; 1 done but with cautions (\\-\\-strict); 2 wrong usage; 3 unusable input.",
        ".SH FILES",
        ".TP\n.B *.sornix",
        "Documents: a ZIP with the readings as CSV, the figure as JSON, and a picture.",
        ".SH EXAMPLES",
    ]
    for words, command_line in _EXAMPLES:
        lines += [
            ".PP",
            _escaped(words),
            ".PP",
            ".nf",
            f".RS\n{_escaped(command_line)}\n.RE",
            ".fi",
        ]
    return "\n".join(lines) + "\n"


# What people ask for most, in the order in which they come to it.
_EXAMPLES = (
    ("Look at what was read, and how:", "sornix readings run.csv"),
    ("Put a line through readings and read two unknowns off it:",
     "sornix fit standards.csv --x Nitrate --y Absorbance --read-off 0.35 --read-off 0.41"),
    ("Draw a figure for print, and keep it as a document:",
     'sornix plot run.csv "Plot Level against Time as line" --out level.pdf --out level.sornix'),
    ("Say in words what a document draws:", "sornix say level.sornix"),
    ("Draw fifty runs through the same figure:",
     "sornix render level.sornix --readings run-*.csv --as pdf --out figures/"),
    ("All of them on one page:",
     "sornix render level.sornix --readings run-*.csv --one-page --out all.pdf"),
    ("Open the window on a demo figure:", "sornix --demo nitrate-standards"),
)  # fmt: skip


def _options(command: click.Command, context: click.Context) -> list[str]:
    """The options of a command, with those that all have."""
    records = (
        parameter.get_help_record(context) for parameter in command.get_params(context)
        if isinstance(parameter, click.Option)
    )  # fmt: skip
    return [
        part
        for record in records if record is not None
        for part in (".TP", f".B {_escaped(record[0])}", _escaped(record[1]))
    ]  # fmt: skip


def _escaped(text: str) -> str:
    text = text.replace("\\", "\\\\").replace("-", "\\-")
    return f"\\&{text}" if text[:1] in ".'" else text


def _paragraphs(text: str | None) -> list[str]:
    """Help text as roff: blank lines divide paragraphs, `\\b` keeps lines as they are."""
    found: list[str] = []
    for paragraph in (text or "").split("\n\n"):
        lines = paragraph.strip("\n").split("\n")
        if lines and lines[0].strip() == "\b":
            found += [".PP", ".nf", *(_escaped(line) for line in lines[1:]), ".fi"]
        else:
            found += [".PP", _escaped(" ".join(line.strip() for line in lines))]
    return found
