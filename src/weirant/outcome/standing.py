"""How high water stands along a run: within the pipe, in the stone round it, or over the ground."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from weirant.ground.grade_line import GradeLine
from weirant.ground.stretches import largest
from weirant.hydraulics.run_flow import DROP
from weirant.job.network import INLET, PUMP_PIT, ROOF_ENTRY
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass

Array = NDArray[np.float64]
PART_FULL, FULL, IN_STONE, IN_SOIL, OVER = STANDS = ("part full", "full", "in the stone", "over the stone", "over the ground")  # the worse the later
OPEN = (INLET, PUMP_PIT, ROOF_ENTRY)  # what water can come out of
HAIR = 1e-6  # m


@dataclass(frozen=True, eq=False)
class Standing:
    """Water along a run at the stations of its grade line, arrays of shape (n,): level m of the crown of the pipe, of the top of the stone (the crown
    where the pipe is solid), of the rim over which water comes out (infinite: none), of the surface, and in a word of ``STANDS`` where that is. Flow m³/s below nought goes up the stations.
    """

    stations: Array
    ground: Array
    invert: Array
    crown: Array
    stone: Array
    rim: Array
    surface: Array
    flow: Array
    share: Array
    stands: tuple[str, ...]

    @property
    def worst(self) -> int:
        """The index of the station where water stands worst: by the word, then by its height over the crown."""
        over = self.surface - self.crown
        return max(range(len(over)), key=lambda i: (STANDS.index(self.stands[i]), over[i]))


def standing(found: RunOutcome) -> Standing | None:
    """How water stands in a run, for the high end of the soil's band; None where its ground or its flow is not known."""
    grade, flow = found.grade, found.flow_high
    if grade is None or flow is None:
        return None
    moving = np.where(np.abs(flow.discharge) < DROP, 0.0, flow.discharge)
    return standing_at(found, grade, flow.surface, moving, flow.full_fraction)


def standing_at(found: RunOutcome, grade: GradeLine, surface: Array, flow: Array, share: Array) -> Standing:
    """How water stands in a run with its surface at levels m, for a flow m³/s and its share of the full pipe's, all of shape (n,)."""
    crown = grade.invert + largest(found.stretches, grade.stations, lambda make: make.pipe.inner_diameter)
    stone, rim = _stone_and_rim(found, grade, crown)
    stands = tuple(_stands(*row) for row in zip(surface.tolist(), crown.tolist(), stone.tolist(), rim.tolist(), strict=True))
    return Standing(grade.stations, grade.ground, grade.invert, crown, stone, rim, surface, flow, share, stands)


def room_under_rims(found: RunOutcome, grade: GradeLine, surface: Array) -> tuple[Array, Array]:
    """How far m water with its surface at levels m stays under what it would come out over, and over the top of the stone, at each station, both (n,): below
    nought where it comes out, and endless where nothing is open.
    """
    crown = grade.invert + largest(found.stretches, grade.stations, lambda make: make.pipe.inner_diameter)
    stone, rim = _stone_and_rim(found, grade, crown)
    return np.where(np.isinf(rim), np.inf, np.maximum(rim, crown) - surface), surface - stone


def _stone_and_rim(found: RunOutcome, grade: GradeLine, crown: Array) -> tuple[Array, Array]:
    """Levels m of the top of the stone at each station, and of that over which water comes out: the ground where the pipe has openings, the rim of what
    is set there. Along solid pipe the crown, and none.
    """
    top, rim = np.array(crown), np.full(len(crown), np.inf)
    for stretch in found.stretches:
        if not stretch.is_solid:
            here = stretch.holds(grade.stations)
            top[here] = np.maximum(top[here], (grade.trench_bottom + stretch.make.stone(grade.cut))[here])
            rim[here] = grade.ground[here]
    for node, station in found.run.nodes:
        if node.kind in OPEN:
            at = int(np.abs(grade.stations - station).argmin())
            rim[at] = min(rim[at], grade.ground[at] if node.rim is None else node.rim)
    return top, rim


def _stands(surface: float, crown: float, stone: float, rim: float) -> str:
    if surface > max(rim, crown) + HAIR:
        return OVER
    if surface <= crown + HAIR:
        return FULL if surface > crown - HAIR else PART_FULL
    return FULL if np.isinf(rim) else IN_STONE if surface <= stone + HAIR else IN_SOIL
