"""The site from above: ground, things on it, runs of pipe, the protected place."""

from weirant.drawing.plan.lie import protected_outline
from weirant.drawing.plan.sheet import plan_drawing

__all__ = ["plan_drawing", "protected_outline"]
