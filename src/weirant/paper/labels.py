"""Where the labels of a drawing are written: none over another, none outside the paper; the weightier first, moved where they must be, with a
line to what they belong to, and the least left out."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from PyQt6.QtCore import QLineF, QPointF, QRectF

from weirant.drawing.primitives import Flag, Mark, Measure, Shape, Words
from weirant.paper.frame import Frame
from weirant.paper.looks import ANCHORS, MEASURE_SIZE, ROLES
from weirant.records import dataclass

Label = Words | Measure
Box = tuple[float, float, float, float]  # left, top, right, bottom
Width = Callable[[str, float, bool], float]
WEIGHTS = {"hint": 0.0, "typed": 0.5, "strong": 1.0, "name": 1.0, "station": 0.2, "doubt": 1.2, "water": 1.5, "label": 2.0, "axis": 0.8, "contour": 4.0, "small": 5.0}
STAYS = ("axis", "contour", "name")  # they mean a place, and are left out sooner than moved
MOST = 150  # labels; more are a blur at any size
LIGHT = ("point", "hole", "tick")  # marks that a label may lie over
RISE, HIGH = 0.82, 1.04  # of a label over its baseline, and its height, in heights of its letters
APART = 0.5  # between labels side by side, in heights of the letters, or two would read as one
FAR = 1.3  # heights of the letters beyond which a moved label gets a line to its place


@dataclass(frozen=True)
class Placed:
    """A label on the paper: what it covers, its baseline's left end, and the line to what it belongs to where it stands off."""

    rect: QRectF
    start: QPointF
    leader: QLineF | None = None


class _Taken:
    """Boxes on the paper, found by the squares they lie in."""

    def __init__(self, side: float) -> None:
        self._side = side
        self._squares: dict[tuple[int, int], list[Box]] = {}

    def _over(self, box: Box) -> Iterator[tuple[int, int]]:
        side = self._side
        for i in range(int(box[0] // side), int(box[2] // side) + 1):
            for j in range(int(box[1] // side), int(box[3] // side) + 1):
                yield i, j

    def add(self, box: Box) -> None:
        for square in self._over(box):
            self._squares.setdefault(square, []).append(box)

    def is_free(self, box: Box) -> bool:
        left, top, right, bottom = box
        return not any(b[0] < right and left < b[2] and b[1] < bottom and top < b[3] for s in self._over(box) for b in self._squares.get(s, ()))


def weight_of(label: Label) -> float:
    """How soon a label is placed; what can be typed into comes before what is only told."""
    if isinstance(label, Measure):
        return 0.6 if label.path else 1.1
    return WEIGHTS.get(label.role, 6.0)


def placed_labels(shapes: Sequence[Shape], frame: Frame, text: float, width: Width, paper: QRectF, blocked: Sequence[QRectF] = ()) -> dict[int, Placed]:
    """The labels that are written, by the identity of their shape. ``blocked`` is taken already; signs and dimension lines are kept clear of where
    that can be."""
    hard, soft = _Taken(4 * text), _Taken(4 * text)
    for rect in blocked:
        hard.add((rect.left(), rect.top(), rect.right(), rect.bottom()))
    for shape in shapes:
        if isinstance(shape, Flag) or (isinstance(shape, Mark) and shape.kind not in LIGHT):
            at = frame.to_paper(shape.at)
            half = (0.45 if isinstance(shape, Mark) else 0.8) * text
            middle = at.y() - (shape.pole * text if isinstance(shape, Flag) else 0.0)
            soft.add((at.x() - half, middle - half, at.x() + half, middle + half))
        elif isinstance(shape, Measure):
            a, b = frame.to_paper(shape.start), frame.to_paper(shape.end)
            soft.add((min(a.x(), b.x()) - 1, min(a.y(), b.y()) - 1, max(a.x(), b.x()) + 1, max(a.y(), b.y()) + 1))
    edge: Box = (paper.left() + 2, paper.top(), paper.right() - 2, paper.bottom())
    found: dict[int, Placed] = {}
    labels = sorted((s for s in shapes if isinstance(s, Words | Measure) and s.text), key=weight_of)
    for label in labels[: 4 * MOST]:
        if len(found) >= MOST:
            break
        spot = _spot(label, frame, text, width, edge, hard, soft)
        if spot is not None:
            found[id(label)] = spot
            rect = spot.rect
            hard.add((rect.left() - APART * text, rect.top(), rect.right() + APART * text, rect.bottom()))
    return found


def _spot(label: Label, frame: Frame, text: float, width: Width, edge: Box, hard: _Taken, soft: _Taken) -> Placed | None:
    """The first place for a label that is free: clear of everything, or else over signs only; None where there is none."""
    if isinstance(label, Words):
        _, size, bold = ROLES[label.role]
    else:
        size, bold = MEASURE_SIZE, bool(label.path)
    point, natural = _natural(label, frame, text, width(label.text, size, bold), size)
    if natural[2] < edge[0] - 40 or natural[0] > edge[2] + 40 or not (edge[0] - 8 <= point.x() <= edge[2] + 8 and edge[1] - text <= point.y() <= edge[3] + 1.5 * text):
        return None
    boxes = [box for box in (_within(box, edge) for box in _candidates(label, natural, point)) if box is not None]
    for fits in (lambda box: hard.is_free(box) and soft.is_free(box), hard.is_free):
        for box in boxes:
            if fits(box):
                rect = QRectF(box[0], box[1], box[2] - box[0], box[3] - box[1])
                return Placed(rect, QPointF(box[0], box[1] + RISE * size * text), _leader(label, point, natural, box, text))
    return None


def _natural(label: Label, frame: Frame, text: float, wide: float, size: float) -> tuple[QPointF, Box]:
    """The point a label belongs to, and the box it would like to take."""
    high = size * text
    if isinstance(label, Words):
        point = frame.to_paper(label.at)
        left, base = point.x() + label.dx * text / 10 - wide * ANCHORS[label.anchor], point.y() - label.dy * text / 10
        return point, (left, base - RISE * high, left + wide, base + (HIGH - RISE) * high)
    a, b = frame.to_paper(label.start), frame.to_paper(label.end)
    middle = (a + b) / 2
    if abs(b.x() - a.x()) > abs(b.y() - a.y()):
        left, base = middle.x() - wide / 2, middle.y() + 1.1 * text
    else:
        on_left = frame.to_world(middle)[0] < 0
        left, base = middle.x() + (-0.5 * text - wide if on_left else 0.5 * text), middle.y() + 0.32 * text
    return middle, (left, base - RISE * high, left + wide, base + (HIGH - RISE) * high)


def _candidates(label: Label, natural: Box, point: QPointF) -> Iterator[Box]:
    """Where a label may stand, the likeliest first."""
    left, top, right, bottom = natural
    wide, high = right - left, bottom - top
    yield natural
    if isinstance(label, Words) and label.role in STAYS:
        return
    mirrored = 2 * point.x() - right
    if abs(mirrored - left) > 2:
        yield mirrored, top, mirrored + wide, bottom
    over = 2 * point.y() - bottom
    yield left, over, right, over + high
    if isinstance(label, Words) and label.role == "small":
        yield mirrored, over, mirrored + wide, over + high
        return
    for lines in (1.1, -1.1, 2.2, -2.2):
        yield left, top + lines * high, right, bottom + lines * high
    for slide in (0.5, -0.5, 1.0, -1.0):
        for lines in (0.0, 1.1, -1.1, 2.2, -2.2):
            yield left + slide * wide, top + lines * high, right + slide * wide, bottom + lines * high
    for lines in (3.4, -3.4, 4.6, -4.6):
        yield left, top + lines * high, right, bottom + lines * high


def _within(box: Box, edge: Box) -> Box | None:
    """A box moved into the paper where a part of it sticks out; None where it is too large or far off."""
    left, top, right, bottom = box
    if right - left > edge[2] - edge[0] or bottom - top > edge[3] - edge[1]:
        return None
    across = max(edge[0] - left, 0.0) - max(right - edge[2], 0.0)
    down = max(edge[1] - top, 0.0) - max(bottom - edge[3], 0.0)
    if abs(across) > right - left or abs(down) > 1.5 * (bottom - top):
        return None
    return left + across, top + down, right + across, bottom + down


def _leader(label: Label, point: QPointF, natural: Box, box: Box, text: float) -> QLineF | None:
    """The line from what a label belongs to to where it had to go."""
    moved = abs(box[0] - natural[0]) + abs(box[1] - natural[1])
    if moved <= FAR * text or (isinstance(label, Words) and label.role in ("hint", "station", "axis")):
        return None
    near = QPointF(min(max(point.x(), box[0]), box[2]), min(max(point.y(), box[1]), box[3]))
    line = QLineF(point, near)
    return line if line.length() > 0.6 * text else None
