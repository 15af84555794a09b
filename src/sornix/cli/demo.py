"""`sornix demo`."""

from pathlib import Path

import click

from sornix.cli.painting import FIGURE_ENDINGS, make_folder, write_out
from sornix.core.document import ENDING
from sornix.core.files import write_atomically
from sornix.core.text import plural
from sornix.demo import DEMOS, demo_document, demo_files, write_buoy_decade


@click.command()
@click.argument("folder", type=click.Path(file_okay=False, path_type=Path), default="demo-output")
@click.option("--decade", is_flag=True, help="Also write buoy-decade.parquet, 10 million rows.")
def demo(folder: Path, decade: bool) -> None:
    """Writes the demo readings, documents and figures.

    FOLDER is made if it is not there; without it they go to demo-output. Each figure is written
    as PNG, SVG and PDF. No display is needed.
    """
    make_folder(folder)
    files = 0
    for name, content in demo_files():
        write_atomically(folder / name, content)
        files += 1
    if decade:
        write_buoy_decade(folder / "buoy-decade.parquet")
        files += 1
    for name in DEMOS:
        document = demo_document(name)
        for ending in (*FIGURE_ENDINGS, ENDING):
            write_out(document, folder / f"{name}{ending}")
    files += len(DEMOS) * (len(FIGURE_ENDINGS) + 1)
    click.echo(f"{plural(files, 'file')} written to {folder.resolve()}:")
    for path in sorted(folder.iterdir()):
        click.echo(f"  {path.name}")
