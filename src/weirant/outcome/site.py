"""What was computed of the site as a whole: its surface, its runs under it, and what they meet."""

from __future__ import annotations

from dataclasses import dataclass

from weirant.ground.crossings import Crossing
from weirant.ground.grade_line import GradeLine
from weirant.ground.network import Meeting, Run
from weirant.ground.surface import Surface


@dataclass(frozen=True, eq=False)
class RunOutcome:
    """A run with its grade line; None where the ground under it is not known. ``crossings`` are the buried lines it meets."""

    run: Run
    grade: GradeLine | None
    crossings: tuple[Crossing, ...] = ()


@dataclass(frozen=True, eq=False)
class Site:
    """The site. ``no_surface`` says why there is none; ``marked`` are points that stand out from their neighbours."""

    surface: Surface | None
    no_surface: str
    marked: tuple[str, ...]
    runs: tuple[RunOutcome, ...]
    meetings: tuple[Meeting, ...]
    fault: str = ""

    def run(self, name: str) -> RunOutcome | None:
        """The run of a name."""
        return next((r for r in self.runs if r.run.name == name), None)
