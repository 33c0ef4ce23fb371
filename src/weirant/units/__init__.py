"""Quantities at the edges: what the user types becomes SI, and SI becomes what the user reads.

Inside the core every number is SI (metres, seconds, kilograms; slopes and shares as plain ratios; temperature in
degrees Celsius). This folder is the only place where another unit exists.
"""

from weirant.units.dimension import Dimension
from weirant.units.display import Kind, System, shown, shown_number, unit_of
from weirant.units.parse import parse

__all__ = ["Dimension", "Kind", "System", "parse", "shown", "shown_number", "unit_of"]
