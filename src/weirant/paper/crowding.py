"""Which labels of a crowded drawing are written: the weightier first, none over another, none outside the paper."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF

from weirant.drawing.primitives import Words
from weirant.paper.frame import Frame

WEIGHTS = {"strong": 0, "station": 0, "hint": 0, "water": 1, "doubt": 1, "label": 2, "axis": 2.5, "contour": 4, "small": 5}
WIDE = 0.5  # of the letters' height is the mean width of one
MOST = 150  # labels; more are a blur at any size
_SHARES = {"left": 0.0, "centre": 0.5, "right": 1.0}


def uncrowded(words: Sequence[Words], frame: Frame, text: float, paper: QRectF) -> set[int]:
    """The ids of the labels to write. Sizes are reckoned, not measured, so that thousands cost little."""
    cell = 4 * text
    taken: dict[tuple[int, int], list[QRectF]] = {}
    kept: set[int] = set()
    for label in sorted(words, key=lambda w: WEIGHTS.get(w.role, 6))[: 4 * MOST]:
        if len(kept) >= MOST:
            break
        at = frame.to_paper(label.at)
        wide = WIDE * text * len(label.text)
        box = QRectF(at.x() + label.dx * text / 10 - wide * _SHARES[label.anchor], at.y() - label.dy * text / 10 - 0.8 * text, wide, 0.95 * text)
        if not paper.intersects(box):
            continue
        cells = [(i, j) for i in range(int(box.left() // cell), int(box.right() // cell) + 1) for j in range(int(box.top() // cell), int(box.bottom() // cell) + 1)]
        if WEIGHTS.get(label.role, 6) > 0 and any(other.intersects(box) for key in cells for other in taken.get(key, ())):
            continue
        kept.add(id(label))
        for key in cells:
            taken.setdefault(key, []).append(box)
    return kept
