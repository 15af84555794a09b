"""The command line."""

import os

# Matrices of trends are small: a second thread of linear algebra gains nothing, and takes 50 ms of
# processor time to start. With one thread the last figures are also the same on every machine.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

from sornix.cli.main import main

__all__ = ["main"]
