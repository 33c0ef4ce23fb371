"""The site from above: ground, things on it, runs of pipe, what is kept dry."""

from weirant.drawing.plan.sheet import plan_drawing

__all__ = ["plan_drawing"]
