"""A drawing told in brief, for where it is shown small: what lies where, without the figures that are read off large."""

from __future__ import annotations

import dataclasses

from weirant.drawing.primitives import Drawing, Flag, Mark, Measure, Shape, Stroke, Words

KEPT = ("strong", "station", "hint")  # roles of the labels that stay
LOW = 1.3  # heights of the letters to the middle of a flag
FINE = ("contour", "main contour", "fall")  # lines that would be a blur


def brief(drawing: Drawing) -> Drawing:
    """The same world without dimensions, axis figures, small labels and handles."""
    shapes = tuple(_in_place(s) for s in drawing.shapes if _stays(s))
    return dataclasses.replace(drawing, shapes=shapes, handles=(), has_foot=False)


def _in_place(shape: Shape) -> Shape:
    """A name that stands where it belongs, or not at all: there is no room to lead to it from elsewhere. A flag stands low."""
    if isinstance(shape, Flag):
        return dataclasses.replace(shape, pole=LOW)
    return dataclasses.replace(shape, role="name") if isinstance(shape, Words) and shape.role == "strong" else shape


def _stays(shape: Shape) -> bool:
    if isinstance(shape, Words):
        return shape.role in KEPT
    if isinstance(shape, Stroke):
        return shape.line not in FINE
    return not isinstance(shape, Measure) and not (isinstance(shape, Mark) and shape.kind == "point")
