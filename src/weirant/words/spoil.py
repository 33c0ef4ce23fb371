"""Earth that is spread beside the trenches, in words."""

from __future__ import annotations

from collections.abc import Collection

from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.spoil import SpoilBand
from weirant.units import display as k
from weirant.units.display import System, shown

CAUTION = tr("Spread soil turns water: keep it off the walls of buildings, and let no water run to them or to a neighbour.")


def spread_words(outcome: Outcome, runs: Collection[str] | None = None) -> list[str]:
    """A line for each trench, or for those of some runs: how thick it lies, and how the ground falls there before and after, and what to mind; none where it is hauled away."""
    told = [_line(outcome, band) for band in outcome.site.spoil if runs is None or band.run in runs]
    return [*told, CAUTION] if told else []


def _line(outcome: Outcome, band: SpoilBand) -> str:
    system = System(outcome.job.units)
    if not band.rings:
        return tr("{run}: there is no room for spoil on that side: {volume} to haul away", run=outcome.run(band.run).run.name, volume=shown(band.volume, k.VOLUME, system))
    said = tr("{run}: {depth} of spoil at the trench, feathered to nothing over {width}", run=outcome.run(band.run).run.name, depth=shown(band.depth, k.SECTION, system),
              width=shown(outcome.job.work.spread_width, k.DISTANCE, system))
    if band.fell is None:
        return said + tr("; the ground falls {fall} more away from it", fall=shown(band.fall, k.SLOPE, system))
    return said + tr("; there it fell {before}, and falls {after}", before=_fall(band.fell, system), after=_fall(band.fell + band.fall, system))


def _fall(fall: float, system: System) -> str:
    return tr("{fall} towards the trench", fall=shown(-fall, k.SLOPE, system)) if fall < 0 else tr("{fall} away from the trench", fall=shown(fall, k.SLOPE, system))
