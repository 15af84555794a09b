"""What is written of figures, reports and commands in open formats, a file each in
tests/data/written. They are made anew by `python -m tests.paint.written`; what changed is to be
read in the difference before it is kept."""

import re
import tempfile
import warnings
import zipfile
from collections.abc import Iterator
from pathlib import Path

from sornix.cli.main import main
from sornix.cli.manual import shared_texts
from sornix.core.report import TEMPLATES, report_of
from sornix.paint.exportfiles import write_out
from sornix.paint.measure import QtMeasure
from sornix.paint.offscreen import drawing_of
from sornix.paint.report.writing import write_report
from tests.base import DATA
from tests.core.drawn import FIGURES

FOLDER = DATA / "written"
_NAMES = ("a-bands", "a-forms", "a-marks", "a-dressed", "a-turned", "a-cautious", "depth-panels",
          "weekday-samples", "in-style-dark-slide", "mixed-07", "mixed-21")  # fmt: skip
_LONGEST = 300
_PACKED = re.compile(r"(?<=base64,)[A-Za-z0-9+/=]+|[A-Za-z0-9+/=]{300,}")


def _lines(text: str, most: int = 400) -> str:
    """A line for each element or so, the longest cut and what is packed left out."""
    lines = re.sub(r"(?<=>)(?=<)|(?<=})(?=[.:@#])", "\n", _PACKED.sub("…", text)).splitlines()
    cut = [line[:_LONGEST] + "…" * (len(line) > _LONGEST) for line in lines if line.strip()]
    more = [f"and {len(cut) - most} more"] * (len(cut) > most)
    return "\n".join([*cut[:most], *more]) + "\n"


def texts() -> Iterator[tuple[str, str]]:
    """The name and the text of each file."""
    yield from ((Path(name).name, _lines(text)) for name, text in shared_texts(main).items())
    with tempfile.TemporaryDirectory() as place:
        for name in _NAMES:
            document = FIGURES[name]()
            drawing = drawing_of(document)
            for ending in (".svg", ".html", ".csv"):
                for path in write_out(document, drawing, Path(place) / f"{name}{ending}"):
                    script = r"<script>.*?</script>|(?<=sha256-)[^']+"
                    text = re.sub(script, "", path.read_text(encoding="utf-8"), flags=re.DOTALL)
                    yield path.name, _lines(text, 20 if ending == ".csv" else 300)
        for name, ending in (("a-bands", ".html"), ("a-forms", ".md"), ("a-cautious", ".odt"),
                             ("a-bands", ".md"), ("a-bands", ".odt"), ("a-cautious", ".html"),
                             ("a-cautious", ".md")):  # fmt: skip
            own = FIGURES[name]()
            report = report_of(own, QtMeasure(), title=name, date="1 May", readings=True)
            path = Path(place) / f"report-{name}{ending}"
            with warnings.catch_warnings():
                warnings.simplefilter("ignore", DeprecationWarning)
                write_report(report, TEMPLATES["whole"], path)
            parts = [path.read_bytes()]
            if ending == ".odt":
                with zipfile.ZipFile(path) as package:
                    names = ("META-INF/manifest.xml", "meta.xml", "content.xml")
                    parts = [*map(str.encode, package.namelist()), *map(package.read, names)]
            # one that the library declares for an application, and nothing uses
            told = re.sub(r' xmlns:ooo="[^"]*"', "", b"\n".join(parts).decode())
            yield path.name, _lines(told)


if __name__ == "__main__":
    FOLDER.mkdir(exist_ok=True)
    for old in FOLDER.iterdir():
        old.unlink()
    for name, text in texts():
        (FOLDER / f"{name}.txt").write_text(text)
