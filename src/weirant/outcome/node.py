"""What was found of one node."""

from __future__ import annotations

from collections.abc import Mapping

from weirant.ground.network import Joint
from weirant.hydraulics.accumulate import Steady
from weirant.job.network import Node
from weirant.records import dataclass


@dataclass(frozen=True, eq=False)
class NodeOutcome:
    """A node with the runs that go through it, the invert m of each there, the ground m over it (None where it is not known), the flow that passes it
    for the high end of the soil's band, and whether it leaves the network there.
    """

    node: Node
    joints: tuple[Joint, ...]
    inverts: Mapping[str, float]
    ground: float | None
    passes: Steady
    is_exit: bool

    @property
    def step(self) -> float:
        """How far apart the inverts that meet there lie, m."""
        return max(self.inverts.values()) - min(self.inverts.values()) if self.inverts else 0.0
