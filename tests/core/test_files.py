"""Files are written whole or not at all, keep what they were, and leave nothing behind."""

import fcntl
import os
import signal
import subprocess
import sys
from pathlib import Path
from unittest import mock

from sornix.core import files
from sornix.core.errors import DocumentError
from sornix.core.files import is_read_only, same_file, state_of, write_atomically
from tests.base import SornixTest

_WRITER = """
import sys
from pathlib import Path
from sornix.core.files import write_atomically
path, number = Path(sys.argv[1]), 0
print("ready", flush=True)
while True:
    number += 1
    write_atomically(path, b"%d " % (number % 10) * 400_000)
"""


class Writing(SornixTest):
    def setUp(self) -> None:
        super().setUp()
        files._swept.clear()  # noqa: SLF001

    def test_mode_attributes_links_and_other_names_survive(self) -> None:
        path = self.write("d.txt", "old")
        path.chmod(0o640)
        os.setxattr(path, "user.lab", b"Brenn Mere")
        write_atomically(path, b"new")
        self.assertEqual((path.read_bytes(), path.stat().st_mode & 0o777), (b"new", 0o640))
        self.assertEqual(os.getxattr(path, "user.lab"), b"Brenn Mere")
        link, other = self.folder / "link.txt", self.folder / "other.txt"
        link.symlink_to("d.txt")
        os.link(path, other)
        write_atomically(link, b"through the link")
        self.assertTrue(link.is_symlink())
        self.assertEqual(other.read_bytes(), b"through the link")
        self.assertTrue(path.samefile(other))
        self.assertEqual(len(list(self.folder.iterdir())), 3)

    def test_a_file_of_another_owner_keeps_him(self) -> None:
        path = self.write("d.txt", "old")
        if os.geteuid() != 0:
            self.skipTest("only an administrator can give files away")
        os.chown(path, 1234, 2345)
        write_atomically(path, b"new")
        self.assertEqual((path.stat().st_uid, path.stat().st_gid), (1234, 2345))

    def test_what_cannot_be_written_is_a_sentence_and_leaves_the_old(self) -> None:
        (self.folder / "loop").symlink_to("pool")
        (self.folder / "pool").symlink_to("loop")
        (self.folder / "folder").mkdir()
        for name in ("no/d.txt", "folder", "loop", "x" * 300, "nul\0"):
            with self.subTest(name[:20]), self.assertRaises(DocumentError) as caught:
                write_atomically(self.folder / name, b"x")
            self.assertIn("could not be written", str(caught.exception))
        longest = self.folder / ("y" * 251 + ".txt")
        write_atomically(longest, b"x")
        self.assertEqual(longest.read_bytes(), b"x")
        with (
            mock.patch.object(files, "_put", side_effect=KeyboardInterrupt),
            self.assertRaises(KeyboardInterrupt),
        ):
            write_atomically(longest, b"never")
        self.assertEqual(longest.read_bytes(), b"x")
        kept = {"loop", "pool", "folder", longest.name}
        self.assertEqual({p.name for p in self.folder.iterdir()}, kept, "Ctrl+C cleans up")

    def test_killed_writers_leave_old_or_new_and_nothing_hidden_for_long(self) -> None:
        path = self.folder / "d.txt"
        for _ in range(12):
            writer = subprocess.Popen(
                [sys.executable, "-c", _WRITER, str(path)], stdout=subprocess.PIPE
            )
            assert writer.stdout is not None
            writer.stdout.readline()
            self._written_to(path)
            writer.send_signal(signal.SIGKILL)
            writer.communicate()
            content = path.read_bytes()
            self.assertEqual((len(content), len(set(content[::2]))), (800_000, 1), "half of one")
        # what an older writer, or one on a plainer file system, has left goes with the next
        left = self.write(".sornix-00000000-11111111.new", "litter")
        live = self.write(".sornix-00000000-22222222.new", "in work")
        holder = os.open(live, os.O_RDWR)
        self.addCleanup(os.close, holder)
        fcntl.flock(holder, fcntl.LOCK_EX)
        files._swept.clear()  # noqa: SLF001
        write_atomically(path, b"done")
        self.assertFalse(left.exists())
        self.assertTrue(live.exists(), "its writer lives")

    def _written_to(self, path: Path) -> None:
        """Waits until the file is another one than now."""
        before = path.stat().st_ino if path.exists() else None
        while not path.exists() or path.stat().st_ino == before:
            pass

    def test_a_file_is_known_again(self) -> None:
        path = self.write("d.txt", "one")
        state = state_of(path)
        assert state is not None
        os.utime(path, (1, 1))
        self.assertTrue(state.is_still(path), "touched, and the same")
        path.write_text("two")
        self.assertFalse(state.is_still(path))
        self.assertIsNone(state_of(self.folder / "none"))
        path.chmod(0o444)
        self.assertTrue(is_read_only(path))
        self.assertTrue(same_file(path, self.folder / "x" / ".." / "d.txt"))
        self.assertFalse(same_file(path, self.folder / "e.txt"))
