"""The site from above: ground, things on it, runs of pipe, what is kept dry."""

from weirant.drawing.plan.sheet import plan_drawing
from weirant.drawing.plan.sketch import benchmark_note, plan_sketch

__all__ = ["benchmark_note", "plan_drawing", "plan_sketch"]
