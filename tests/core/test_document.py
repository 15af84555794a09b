"""The document file and the history."""

import csv
import io
import json
import zipfile
from pathlib import Path

import jsonschema
from attrs import evolve

from sornix.core.document import (
    Document,
    History,
    load_document,
    new_document,
    save_document,
)
from sornix.core.errors import DocumentError
from sornix.core.figure import add_trend, hold, set_title
from sornix.core.files import write_atomically
from sornix.core.readings import read_text
from sornix.demo import DEMOS, demo_document
from tests.base import SornixTest

SCHEMA = Path(__file__).parents[2] / "docs" / "figure.schema.json"


def _awkward() -> Document:
    text = 'Time (s),"Flow, in (m^3 s^-1)",Note\n0.1,1e-320,"a ""b"""\n,12 snails,\n'
    text += "3,0.30000000000000004,é\n"
    document = new_document(read_text(text.encode(), "Ashel / 2 März"))
    figure = hold(document.figure, document.tables, "x", start=-1.0, end=4.0)
    return evolve(document, figure=add_trend(set_title(figure, "H_2O “x”"), "s1"))


class File(SornixTest):
    def test_documents_come_back_as_they_were(self) -> None:
        for document in (*map(demo_document, DEMOS), _awkward()):
            with self.subTest(document.tables[0].name):
                path = self.folder / "d.sornix"
                save_document(document, path, b"\x89PNG")
                self.assertEqual(load_document(path), document)
                first = path.read_bytes()
                save_document(load_document(path), path, b"\x89PNG")
                self.assertEqual(path.read_bytes(), first)

    def test_anyone_can_read_it(self) -> None:
        path = self.folder / "d.sornix"
        save_document(_awkward(), path, b"")
        with zipfile.ZipFile(path) as archive:
            package = json.loads(archive.read("datapackage.json"))
            figure = json.loads(archive.read("figure.json"))
            resource = package["resources"][0]
            raw = archive.read(resource["path"]).decode()
        jsonschema.validate(figure, json.loads(SCHEMA.read_text()))
        rows = list(csv.reader(io.StringIO(raw, newline="")))
        self.assertEqual(rows[0], [f["name"] for f in resource["schema"]["fields"]])
        self.assertEqual(rows[3], ["3", "0.30000000000000004", "é"])
        self.assertEqual(
            [f["type"] for f in resource["schema"]["fields"]], ["number", "any", "string"]
        )

    def test_foreign_and_damaged_files_are_refused_and_left_alone(self) -> None:
        path = self.folder / "good.sornix"
        save_document(demo_document("depth-profile"), path, b"")
        good = path.read_bytes()

        def with_figure(change: dict[str, object]) -> bytes:
            stream = io.BytesIO()
            with zipfile.ZipFile(io.BytesIO(good)) as old, zipfile.ZipFile(stream, "w") as new:
                for name in old.namelist():
                    content = old.read(name)
                    if name == "figure.json":
                        content = json.dumps({**json.loads(content), **change}).encode()
                    new.writestr(name, content)
            return stream.getvalue()

        figure = json.loads(zipfile.ZipFile(io.BytesIO(good)).read("figure.json"))["figures"][0]
        other = {**figure["panels"][0]["series"][0], "y": "Salinity"}
        panel = {**figure["panels"][0], "series": [other]}
        foreign = io.BytesIO()
        with zipfile.ZipFile(foreign, "w") as archive:
            archive.writestr("readme.txt", "hello")
        for name, content, said in (
            ("text", b"a,b\n1,2\n", "not a Sornix document"),
            ("cut", good[: len(good) // 2], "damaged"),
            ("flipped", good[:90] + b"\xff\xff\xff\xff" + good[94:], "damaged"),
            ("foreign", foreign.getvalue(), "holds no figure.json"),
            ("newer", with_figure({"version": 99}), "version 99"),
            (
                "newer by options",
                with_figure({"minor": 99, "figures": [{**figure, "sparkle": 1}]}),
                "made by a newer Sornix",
            ),
            ("other kind", with_figure({"format": "letter"}), "of another kind"),
            ("extra", with_figure({"figures": [{**figure, "sparkle": 1}]}), "sparkle"),
            ("wrong", with_figure({"figures": [{**figure, "width_mm": -3}]}), "figure"),
            ("column", with_figure({"figures": [{**figure, "panels": [panel]}]}), "Salinity"),
        ):
            with self.subTest(name):
                file = self.write(f"{name}.sornix", content)
                with self.assertRaises(DocumentError) as caught:
                    load_document(file)
                self.assertIn(said, str(caught.exception))
                self.assertIn(file.name, str(caught.exception))
                self.assertEqual(file.read_bytes(), content)
        with self.assertRaises(DocumentError):
            load_document(self.folder / "none.sornix")

    def test_a_file_is_written_whole_or_not_at_all(self) -> None:
        path = self.write("d.txt", "old")
        path.chmod(0o640)
        write_atomically(path, b"new")
        self.assertEqual((path.read_bytes(), path.stat().st_mode & 0o777), (b"new", 0o640))
        with self.assertRaises(DocumentError) as caught:
            write_atomically(self.folder / "no" / "d.txt", b"x")
        self.assertIn("could not be written", str(caught.exception))
        (self.folder / "taken").mkdir()
        with self.assertRaises(DocumentError):
            write_atomically(self.folder / "taken", b"x")
        self.assertEqual(sorted(p.name for p in self.folder.iterdir()), ["d.txt", "taken"])


class Steps(SornixTest):
    def test_undo_and_redo_go_all_the_way(self) -> None:
        start = demo_document("nitrate-standards")
        history = History(start)
        documents = [start]
        for number in range(200):
            documents.append(evolve(start, figure=set_title(start.figure, f"Run {number}")))
            history = history.done(f"title {number}", documents[-1])
        self.assertIs(history.done("nothing", evolve(documents[-1])), history)
        for document in reversed(documents[:-1]):
            history = history.undone()
            self.assertEqual(history.present, document)
        self.assertIs(history.undone(), history)
        self.assertEqual(history.future[-1].name, "title 0")
        for document in documents[1:]:
            history = history.redone()
            self.assertEqual(history.present, document)
        self.assertIs(history.redone(), history)
        branched = history.undone().done("other", start)
        self.assertEqual(branched.future, ())
