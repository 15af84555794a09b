"""The command line."""

import atexit
import gc
import os

# Matrices of trends are small: a second thread of linear algebra gains nothing, and takes 50 ms of
# processor time to start. With one thread the last figures are also the same on every machine.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
# What is imported stays, and looking through it for garbage a hundred times takes as long as a
# small file; at the end the process is all that has to go.
gc.set_threshold(200_000, *gc.get_threshold()[1:])
atexit.register(gc.freeze)

from sornix.cli.main import main  # noqa: E402 - what imports take is the point

__all__ = ["main"]
