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
    written: list[Path] = []
    for name, content in demo_files():
        write_atomically(folder / name, content)
        written.append(folder / name)
    if decade:
        written.append(folder / "buoy-decade.parquet")
        write_buoy_decade(written[-1])
    for name in DEMOS:
        document = demo_document(name)
        for ending in (*FIGURE_ENDINGS, ENDING):
            written += write_out(document, folder / f"{name}{ending}")
    click.echo(f"{plural(len(written), 'file')} written to {folder.resolve()}:")
    for path in sorted(written):
        click.echo(f"  {path.name}")
