"""At home on a desktop: what is installed is valid, complete, and goes away again."""

import os
import re
import subprocess
import sys
from pathlib import Path
from unittest.mock import patch
from xml.etree import ElementTree as ET

import click
from click.testing import CliRunner

from sornix import APPLICATION_ID, __version__
from sornix.cli import main
from sornix.cli.main import COMMANDS
from sornix.cli.manual import manual_page, shared_texts
from sornix.desktop_entry import MEDIA_TYPE, data_folder, install, remove
from tests.base import SornixTest


class Desktop(SornixTest):
    def setUp(self) -> None:
        super().setUp()
        self.data, self.commands = self.folder / "data", self.folder / "home" / "bin"
        # a path as unkind as a home can be
        self.program = self.folder / 'a "folder" of $mine \\ours' / "sornix"
        self.program.parent.mkdir()
        self.program.write_text('#!/bin/sh\necho "$@"\n')
        self.program.chmod(0o755)
        assert isinstance(main, click.Group)
        self.texts = shared_texts(main)

    def _ask(self, *command: object) -> str:
        done = subprocess.run(
            [str(word) for word in command], capture_output=True, text=True, check=False
        )
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
        return done.stdout

    def test_all_is_installed_valid_and_taken_away_again(self) -> None:
        (self.data / "applications").mkdir(parents=True)
        others = self.data / "applications" / "other.desktop"
        others.write_text("[Desktop Entry]\n")
        written = install(self.program, self.texts, self.data, self.commands)
        self.assertEqual(len(set(written)), len(written))
        entry = self.data / "applications" / f"{APPLICATION_ID}.desktop"
        self.assertEqual(self._ask("desktop-file-validate", entry), "")
        metainfo = self.data / "metainfo" / f"{APPLICATION_ID}.metainfo.xml"
        self._ask("appstreamcli", "validate", "--no-net", metainfo)
        self.assertEqual(self._ask(self.commands / "sornix", "hello"), "hello\n")
        again = install(self.program, self.texts, self.data, self.commands)
        self.assertEqual(again, written)
        removed = remove(self.program, self.texts, self.data, self.commands)
        self.assertEqual(removed, written)
        # nor is a folder left that held nothing else
        left = list(self.data.rglob(f"*{APPLICATION_ID}*"))
        self.assertEqual((left, list(others.parent.glob("*.desktop"))), ([], [others]))
        self.assertFalse(any((self.data / name).exists() for name in ("man", "metainfo", "zsh")))
        self.assertEqual(remove(self.program, self.texts, self.data, self.commands), [])

    def test_what_another_installation_has_put_there_stays(self) -> None:
        written = install(self.program, self.texts, self.data, self.commands)
        other = self.folder / "other" / "sornix"
        other.parent.mkdir()
        other.write_text("#!/bin/sh\n")
        theirs = install(other, self.texts, self.data, self.commands)
        link = self.commands / "sornix"
        # the first one has the command, the second one the rest
        self.assertEqual([*theirs, link], written)
        self.assertEqual(remove(self.program, self.texts, self.data, self.commands), [link])
        self.assertTrue(all(path.exists() for path in theirs))
        # one that is gone from the machine keeps nothing
        other.unlink()
        removed = remove(self.program, self.texts, self.data, self.commands)
        self.assertEqual(removed, theirs)
        # nor is a command that leads to it its own, but what the user has put there is
        link.symlink_to(other)
        self.assertIn(link, install(self.program, self.texts, self.data, self.commands))
        self.assertEqual(link.readlink(), self.program)
        link.unlink()
        for leads_to in (self.folder / "mine", self.folder / "gone"):
            link.symlink_to(leads_to)
            for act in (install, remove):
                self.assertNotIn(link, act(self.program, self.texts, self.data, self.commands))
            link.unlink()
        link.write_text("mine")
        self.assertNotIn(link, install(self.program, self.texts, self.data, self.commands))

    def test_the_command_says_what_it_does(self) -> None:
        def said(act: str) -> list[str]:
            done = CliRunner().invoke(main, ["desktop", act])
            self.assertEqual(done.exit_code, 3 if "cannot" in done.output else 0)
            return done.output.splitlines()

        told = {"HOME": str(self.folder / "home"), "XDG_DATA_HOME": str(self.data)}
        with patch.dict(os.environ, told):
            head, *paths, after = said("install")
            self.assertIn("fpath", after)
            self.assertIn(f"  {self.folder}/home/.local/bin/sornix", paths)
            self.assertTrue(all(Path(path.strip()).exists() for path in paths))
            self.assertEqual(head, f"{len(paths)} files written:")
            self.assertEqual(said("remove"), [f"{len(paths)} files removed:", *paths])
            self.assertFalse(any(Path(path.strip()).exists() for path in paths))
            os.environ["XDG_DATA_HOME"] = str(self.program)
            self.assertIn("The folder cannot be written to", said("install")[0])

    def test_the_desktop_is_told(self) -> None:
        asked, tools = self.folder / "asked", self.folder / "tools"
        tools.mkdir()
        tool = tools / "update-desktop-database"
        tool.write_text(f'#!/bin/sh\necho "$@" >> "{asked}"\nexit 3\n')
        tool.chmod(0o755)
        with patch.dict(os.environ, {"PATH": str(tools)}):
            for act in (install, remove):
                act(self.program, self.texts, self.data, self.commands)
        # one that is not on the machine is not asked, nor about a folder that is gone
        self.assertEqual(asked.read_text(), f"{self.data / 'applications'}\n")

    def test_one_name_holds_all_together(self) -> None:
        install(self.program, self.texts, self.data, self.commands)
        entry = (self.data / "applications" / f"{APPLICATION_ID}.desktop").read_text()
        self.assertIn(f"Icon={APPLICATION_ID}\n", entry)
        # a value is written with its backslashes doubled, and within quotes four signs after one
        value = entry.split('\nExec="')[1].replace("\\\\", "\\")
        quoted = re.match(r'(?:[^"\\]|\\.)*', value)
        assert quoted is not None
        self.assertEqual(re.sub(r"\\(.)", r"\1", quoted[0]), str(self.program))
        self.assertIn(MEDIA_TYPE, entry)
        kinds = ET.parse(self.data / "mime" / "packages" / f"{APPLICATION_ID}.xml").getroot()
        space = "{http://www.freedesktop.org/standards/shared-mime-info}"
        kind = kinds.find(f"{space}mime-type")
        assert kind is not None
        self.assertEqual(kind.get("type"), MEDIA_TYPE)
        self.assertEqual(kind.find(f"{space}glob").get("pattern"), "*.sornix")  # type: ignore[union-attr]
        told = ET.parse(self.data / "metainfo" / f"{APPLICATION_ID}.metainfo.xml").getroot()
        self.assertEqual(told.findtext("id"), APPLICATION_ID)
        self.assertEqual(told.find("releases/release").get("version"), __version__)  # type: ignore[union-attr]
        for icon in (self.data / "icons").rglob("*.svg"):
            self.assertEqual(ET.parse(icon).getroot().get("viewBox"), "0 0 128 128")

    def test_the_manual_names_every_command_and_option(self) -> None:
        assert isinstance(main, click.Group)
        page = manual_page(main).replace("\\-", "-")
        self.assertEqual(set(main.commands), set(COMMANDS))
        for name, command in main.commands.items():
            # what help and completion say without loading a command is what it says itself
            said = " ".join((command.help or "").split())
            self.assertTrue(said.startswith(COMMANDS[name][1].rstrip(".")), name)
            self.assertIn(f".SS sornix {name}", page)
            for parameter in command.params:
                for option in parameter.opts if isinstance(parameter, click.Option) else ():
                    # what each axis has is told once
                    told = re.sub("^--(y|right)-", "--x-", option)
                    self.assertIn(told, page)

    def test_shells_complete_commands_and_options(self) -> None:
        place = self.folder / "completion"
        place.write_text(self.texts["bash-completion/completions/sornix"])
        self.assertIn(
            "_sornix_completion", self._ask("bash", "-c", f'. "{place}"; complete -p sornix')
        )
        sornix = Path(sys.executable).with_name("sornix")
        run = self.folder / "run.csv"
        run.write_text("Time (s),Level\n0,1\n1,2\n2,4\n")
        cases = (("sornix re", 1, "render"), ("sornix plot --tr", 2, "--transparent"),
                 (f"sornix plot {run} Tr", 3, "Trend"),
                 (f"sornix plot {run} Plot\\ Le", 3, "Level"),
                 (f"sornix fit {run} Trend\\ str", 3, "straight line"))  # fmt: skip
        for words, number, wanted in cases:
            found = subprocess.run(
                [str(sornix)], capture_output=True, text=True, check=False,
                env={"COMP_WORDS": words, "COMP_CWORD": str(number),
                     "_SORNIX_COMPLETE": "bash_complete", "PATH": "/usr/bin:/bin"},
            )  # fmt: skip
            self.assertIn(wanted, found.stdout)

    def test_folders_are_the_users_own(self) -> None:
        self.assertEqual(data_folder({"XDG_DATA_HOME": "/d"}), Path("/d"))
        self.assertEqual(data_folder({"HOME": "/home/a"}), Path("/home/a/.local/share"))
