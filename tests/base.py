"""The test case that every test builds on: nothing may go wrong in silence."""

import logging
import threading
import unittest
import warnings
from collections.abc import Callable, Iterable
from itertools import zip_longest
from operator import ne
from pathlib import Path
from tempfile import TemporaryDirectory

from hypothesis import settings

settings.register_profile("sornix", derandomize=True, deadline=None, database=None, max_examples=60)
settings.load_profile("sornix")

DATA = Path(__file__).parent / "data"


class _Collector(logging.Handler):
    def __init__(self) -> None:
        super().__init__(logging.WARNING)
        self.messages: list[str] = []

    def emit(self, record: logging.LogRecord) -> None:
        self.messages.append(record.getMessage())


class SornixTest(unittest.TestCase):
    """Fails on log warnings, Python warnings and threads that a test leaves behind."""

    def setUp(self) -> None:
        super().setUp()
        self._log = _Collector()
        logging.getLogger().addHandler(self._log)
        self.addCleanup(logging.getLogger().removeHandler, self._log)
        caught = warnings.catch_warnings()
        caught.__enter__()
        self.addCleanup(caught.__exit__, None, None, None)
        warnings.simplefilter("error")
        self._threads = set(threading.enumerate())
        self.addCleanup(self._nothing_left)
        self._folder = TemporaryDirectory()
        self.addCleanup(self._folder.cleanup)

    @property
    def folder(self) -> Path:
        """A folder of the test's own."""
        return Path(self._folder.name)

    def write(self, name: str, content: str | bytes) -> Path:
        """A file in the test's folder."""
        path = self.folder / name
        path.write_bytes(content.encode() if isinstance(content, str) else content)
        return path

    def is_kept(
        self, kept: Path, made: Iterable[str], renew: str, other: Callable[[str, str], object] = ne
    ) -> None:
        """Fails unless lines are those of a file, but for what `other` does not tell apart."""
        for number, (one, now) in enumerate(zip_longest(kept.read_text().splitlines(), made), 1):
            if one is None or now is None or other(one, now):
                self.fail(f"{kept.name}, line {number}, kept: {one}\nnow: {now}\n"
                          f"renew by: python -m {renew}")  # fmt: skip

    def _nothing_left(self) -> None:
        self.assertEqual(self._log.messages, [], "unexpected log messages")
        left = set(threading.enumerate()) - self._threads
        self.assertFalse({t.name for t in left if t.is_alive() and not t.daemon}, "threads left")
