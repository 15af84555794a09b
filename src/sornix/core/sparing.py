"""What a process of ours saves time by: one that has its work to do, and ends."""

import gc
import os


def spare_time() -> None:
    """To be called before NumPy is imported."""
    # Matrices of trends are small: a second thread of linear algebra gains nothing, and takes 50 ms
    # of processor time to start. With one thread the last figures are also the same on every
    # machine.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    # What is imported stays, and looking through it for garbage a hundred times takes as long as a
    # small file.
    gc.set_threshold(200_000, *gc.get_threshold()[1:])
