"""A round pipe by the depth of the water in it, and an opening that water rises over: conveyance for many sections at once."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from weirant.hydraulics.kernel.kinds import OPENING

Array = NDArray[np.float64]
THIN = 1e-4  # of the diameter: a film that carries nothing to speak of, below which the formulae lose their digits


class Conveyance(NamedTuple):
    """Discharge m³/s by the root of the slope of the energy line, and its growth with the depth, m²/s."""

    carries: Array
    growth: Array


def conveyance(depth: Array, diameter: Array, full: Array) -> Conveyance:
    """What pipes of a diameter m carry at a depth m, all of shape (n,), ``full`` being their conveyance when full, m³/s.

    Never more than the full pipe's: the last twelfth by which a pipe nearly full is said to carry more cannot be relied on, and a conveyance that
    only grows has one depth for one flow. Source: Manning's formula, Chow 1959, §6-4.
    """
    share = np.maximum(depth / diameter, 0.0)
    wet = np.clip(share, THIN, 1 - 1e-9)
    angle = 2 * np.arccos(1 - 2 * wet)
    chord = angle - np.sin(angle)
    carries = full * chord ** (5 / 3) / (2 * np.pi * angle ** (2 / 3))
    growth = carries * (5 / 3 * (1 - np.cos(angle)) / chord - 2 / 3 / angle) * 4 / (diameter * np.sin(angle / 2))
    is_full = (carries >= full) | (share >= 1 - 1e-9)
    film = np.minimum(share / THIN, 1.0)  # its square, which is near enough to the power by which a thin stream widens, and ends at nought
    carries, growth = carries * film**2, np.where(film < 1, 2 * carries * film / (THIN * diameter), growth)
    return Conveyance(np.where(is_full, full, carries), np.where(is_full | (growth < 0), 0.0, growth))


def passed(depth: Array, diameter: Array, full: Array, kind: NDArray[np.intp]) -> Conveyance:
    """The same of pipes and of openings (their ``kind`` has the bit ``OPENING``), shape (n,): over the edge of an opening of a length of one metre the
    conveyance grows with the depth up to ``full`` at a depth ``diameter``, so that water passes as over a weir and then as through an orifice.
    """
    found, is_opening = conveyance(depth, diameter, full), kind & OPENING > 0
    if not is_opening.any():
        return found
    share = np.clip(depth / diameter, 0.0, 1.0)
    return Conveyance(np.where(is_opening, full * share, found.carries), np.where(is_opening, np.where((share > 0) & (share < 1), full / diameter, 0.0), found.growth))
