"""The command line."""

import atexit
import gc

from sornix.core.sparing import spare_time

spare_time()
# at the end the process is all that has to go
atexit.register(gc.freeze)

from sornix.cli.main import main  # noqa: E402 - what imports take is the point

__all__ = ["main"]
