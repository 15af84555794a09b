"""Garbage is looked for in the interface thread alone.

Python looks for it in whichever thread happens to make the next object, and what it finds may be a
widget, which only the interface thread may take away. So its own looking is switched off, and a
timer does it.
"""

import gc
import time

from PyQt6.QtCore import QCoreApplication, QTimer

_LOOK_MS = 500
# The oldest objects are looked through no more often: that takes tens of milliseconds.
_WHOLE_S = 30.0


class Collector(QTimer):
    """Collects garbage at intervals, by the thresholds of the gc module."""

    def __init__(self) -> None:
        super().__init__(QCoreApplication.instance())
        gc.disable()
        self._whole = time.monotonic()
        self.setInterval(_LOOK_MS)
        self.timeout.connect(self.look)

    def look(self) -> None:
        """Collects the oldest generation whose turn it is."""
        counts, thresholds = gc.get_count(), gc.get_threshold()
        now = time.monotonic()
        for generation in (2, 1, 0):
            if not thresholds[generation] or counts[generation] <= thresholds[generation]:
                continue
            if generation == 2:
                if now - self._whole < _WHOLE_S:
                    continue
                self._whole = now
            gc.collect(generation)
            return
