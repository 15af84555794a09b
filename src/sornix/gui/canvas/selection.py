"""What is picked out on the figure."""

from PyQt6.QtCore import QObject, pyqtSignal

from sornix.core.figure import Movable
from sornix.gui.canvas.gestures import Point
from sornix.gui.session.nearest import Reading
from sornix.gui.session.scene import Scene


class Selection(QObject):
    """What is in hand, which readings are pointed at, walked to or lit."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        # what is written and taken in hand
        self.in_hand: Movable | None = None
        # the reading under the pointer, and the one that a walk or a click has come to
        self.near: Reading | None = None
        self.at: Reading | None = None
        # what stands at the x under the pointer, in every panel that shares it
        self.across: list[Reading] = []
        # row indices of a table
        self.lit: tuple[int, ...] = ()
        self.lit_table = ""
        # where the pointer was when acts were asked for, in mm
        self.here: Point | None = None

    def take(self, what: Movable | None) -> None:
        """Takes something that is written in hand, or nothing."""
        if what != self.in_hand:
            self.in_hand = what
            self.changed.emit()

    def come_to(self, reading: Reading | None) -> None:
        """Picks a reading, or none."""
        self.at = reading
        self.changed.emit()

    def light_rows(self, table: str, rows: tuple[int, ...]) -> None:
        """Rings the readings of these row indices of a table."""
        self.lit_table, self.lit = table, rows
        self.changed.emit()

    def follow(self, scene: Scene, *, other_readings: bool) -> None:
        """Forgets what is not there in a scene."""
        ids = [series.id for panel in scene.figure.panels for series in panel.series]
        if self.at is not None and (other_readings or self.at.series not in ids):
            self.at = None
        self.near = None
        self.across = []
