"""What commands answer to what is asked of them by chance, sense or nonsense, in
tests/data/answered.txt. It is made anew by `python -m tests.cli.answered`; what changed is to be
read in the difference before it is kept."""

import os
import random
import re
import tempfile
from collections.abc import Iterator
from pathlib import Path

import click
from click.testing import CliRunner

from sornix.cli import main
from sornix.cli.main import COMMANDS
from sornix.core.document import save_document
from sornix.demo import DEMOS, demo_document, demo_files
from tests.base import DATA

FILE = DATA / "answered.txt"
_TIMES = {"readings": 40, "fit": 220, "plot": 60, "say": 30, "caution": 14, "render": 30}
_OWN = {
    "--sheet": ("Depth", "Chemistry", "Survey"), "--also": ("Replicate", "Rain"),
    "--formula": ("a*x + b", "a*exp(-k*x)", "a*x^"), "--start": ("a=2", "k=0.1", "slope", "b=x"),
    "--hold": ("intercept=0", "b0=0", "a=1", "q=2"), "--bound": ("slope=0:", "a=:9", "k=2:1"),
    "--from": ("2", "2026-06-01", "5 mg/L"), "--to": ("8", "30", "0"), "--at": ("3", "7.5", "x"),
    "--read-off": ("0.35", "0.35±0.01", "3"), "--dilution": ("10", "0"),
    "--recovery": ("92±3", "95"),
    "--report": ("r.md", "r.doc"), "--missing": ("-999", "0"), "--figure": ("1", "2", "Depth"),
    "--match": ("Nitrate concentration=Replicate", "x"), "--statement": ("none.txt",),
    "--out": ("o.sornix", "o.csv", "o.svg", "o.doc"), "--unknowns": ("Absorbance at 220 nm",),
    "--readings": ("nitrate-unknowns.csv", "nitrate-lamps.csv", "none.csv"),
}  # fmt: skip
_STATEMENTS = (
    "Trend straight line with equation", "x from 0 to 5; y on a log scale", "Trend decay to",
    "Plot Level against Time as line", "Figure for slides; Title “A; b”", "Trend through 0",
)  # fmt: skip
# too slow here, or made by chance themselves
_NOT_ASKED = {"--intervals", "--times", "--seed", "--resamples", "--png", "--words"}


def _value(option: click.Option, columns: list[str], dice: random.Random) -> list[str]:
    name = option.opts[0]
    if option.is_flag:
        return [dice.choice([*option.opts, *option.secondary_opts])]
    if name in _OWN:
        return [name, dice.choice(_OWN[name])]
    if isinstance(option.type, click.Choice):
        return [name, dice.choice(list(map(str, option.type.choices)))]
    if isinstance(option.type, click.IntRange | click.FloatRange):
        return [name, str(dice.choice((1, 2, 3, 300)))]
    return [name, dice.choice(columns)]


def _asked(name: str, files: list[str], dice: random.Random) -> list[str]:
    """A command with what it takes."""
    command = main.get_command(click.Context(main), name)
    assert command is not None
    file = dice.choice([*files, "none.csv"] if dice.random() < 0.1 else files)
    is_text = file in files and file.endswith((".csv", ".txt"))
    head = Path(file).read_text(errors="ignore").splitlines()[:1] if is_text else ["Level,Depth"]
    columns = [re.sub(r"\s*[(\[].*", "", one) for one in re.split("[,;\t]", "".join(head))][:4]
    words = [name, file]
    if name == "fit":
        words += [
            "--x",
            columns[0],
            "--y",
            columns[-1 if dice.random() < 0.3 else 1 % len(columns)],
        ]
    if name == "plot" and dice.random() < 0.7:
        words.append(dice.choice(_STATEMENTS))
    if name in ("plot", "render") and dice.random() < 0.9:
        words += ["--out", dice.choice(_OWN["--out"][:3])]
    options = [one for one in command.params if isinstance(one, click.Option)
               and one.opts[0] not in _NOT_ASKED and one.opts[0] not in words]  # fmt: skip
    for one in dice.sample(options, dice.choice((0, 1, 1, 2, 3))):
        words += _value(one, columns or [""], dice)
    return words


def lines() -> Iterator[str]:
    """Each command, and all that it answers."""
    here = Path.cwd()
    with tempfile.TemporaryDirectory() as folder:
        os.chdir(folder)
        try:
            for name, content in demo_files():
                Path(name).write_bytes(content)
            texts = sorted(path.name for path in Path().iterdir())
            for demo in DEMOS:
                save_document(demo_document(demo), Path(f"{demo}.sornix"), b"")
            saved = sorted(path.name for path in Path().glob("*.sornix"))
            for name in COMMANDS:
                yield from CliRunner().invoke(main, [name, "--help"]).output.splitlines()
            for name, times in _TIMES.items():
                known = texts if name in ("readings", "fit", "plot") else saved
                for number in range(times):
                    dice = random.Random(f"{name} {number}")
                    words = _asked(name, known, dice)
                    yield f"$ {' '.join(words)}"
                    answer = CliRunner().invoke(main, words)
                    yield f"   {answer.exit_code}"
                    yield from (f"   {line}" for line in answer.output.splitlines() if line.strip())
                    for path in Path().glob("o.*"):
                        path.unlink()
        finally:
            os.chdir(here)


if __name__ == "__main__":
    FILE.write_text("\n".join(lines()) + "\n")
