"""How close a drawing is seen, and which place of it is in the middle."""

from __future__ import annotations

from PyQt6.QtCore import QPointF

from weirant.drawing.primitives import Point
from weirant.paper.frame import Frame, zoomed

CLOSEST = 30.0  # times closer than whole
NOTCH = 1.2  # times closer for a notch of the wheel


class Lens:
    """Begins whole; keeps times and place while the drawing changes or goes to another room."""

    def __init__(self) -> None:
        self._times = 1.0
        self._centre: Point | None = None
        self._whole: tuple[Frame, QPointF] | None = None  # the frame that shows all of it, and the middle of its room

    def through(self, whole: Frame, middle: QPointF) -> Frame:
        """The frame as it is seen, of that which shows all of it in a room with a middle."""
        self._whole = whole, middle
        return whole if self._times == 1.0 and self._centre is None else zoomed(whole, middle, self._times, self.seen[1:])

    @property
    def seen(self) -> tuple[float, float, float]:
        """How many times closer than whole, and what of the world is in the middle."""
        if self._centre is not None or self._whole is None:
            return (self._times, *(self._centre or (0.0, 0.0)))
        return (self._times, *self._whole[0].to_world(self._whole[1]))

    def look_at(self, times: float, centre: Point) -> None:
        """See it so many times closer, with a place in the middle."""
        self._times, self._centre = min(max(times, 1.0), CLOSEST), centre

    def look_at_all(self) -> None:
        """See all of it."""
        self._times, self._centre = 1.0, None

    def turn(self, notches: float, at: QPointF) -> None:
        """Closer by some notches of the wheel, or further off; what is at a place on the paper stays there."""
        if self._whole is None:
            return
        before = self.through(*self._whole).to_world(at)
        self._times = min(max(self._times * NOTCH**notches, 1.0), CLOSEST)
        if self._times == 1.0:
            self._centre = None
        else:
            self._shift(before, self.through(*self._whole).to_world(at))

    def move(self, start: QPointF, end: QPointF) -> None:
        """Shove the drawing from a place on the paper to another."""
        if self._whole is not None:
            frame = self.through(*self._whole)
            self._shift(frame.to_world(start), frame.to_world(end))

    def _shift(self, wanted: Point, found: Point) -> None:
        _, x, y = self.seen
        self._centre = (x + wanted[0] - found[0], y + wanted[1] - found[1])
