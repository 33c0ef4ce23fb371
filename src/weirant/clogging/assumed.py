"""What no source gives and the clogging of a drain hangs on: taken openly, and open to be set."""

from __future__ import annotations

from weirant.records import dataclass


@dataclass(frozen=True)
class Assumed:
    """``turbid`` kg/m³ in water from soil without plasticity that nothing holds; ``plasticity`` index by which that falls to a tenth; ``bridge`` kg/m² let go while
    as many grains stay as go; ``packed`` kg/m³ of settled fines, ``cake_voids`` their void ratio; ``washes`` share that the pipe's flow carries out where it is quick
    enough; ``flushed`` share of what lies in the pipe that flushing fetches, and ``reaches`` of what lies in the stone, through openings all round; ``blown`` kg/m² in a
    year into stone that is open to the top; ``roof_grit`` and ``ground_grit`` kg/m² in a year of leaves and grit off roofs and off ground; ``wet`` share of the year in
    which water comes.
    """

    turbid: float = 0.1
    plasticity: float = 10.0
    bridge: float = 0.15
    packed: float = 1400.0
    cake_voids: float = 0.9
    washes: float = 0.9
    flushed: float = 0.9
    reaches: float = 0.3
    blown: float = 1.0
    roof_grit: float = 0.15
    ground_grit: float = 0.3
    wet: float = 0.35
