"""What the sources of a job bring: the rational method for what rain runs off, or the inflow that was measured."""

from __future__ import annotations

from weirant.design.figures import counted, figure
from weirant.design.storms import RARE
from weirant.ground.crossings import shape_area
from weirant.job import Job
from weirant.job.doubt import Doubt
from weirant.job.identity import by_id
from weirant.job.rain import RainfallDepth
from weirant.job.water import ROOF_WATER, SHEDS, Source
from weirant.language import tr
from weirant.methods.storms import depth_in
from weirant.outcome.water import Brought
from weirant.rules import Rules
from weirant.units import display as k


def brought(job: Job, source: Source, rules: Rules) -> Brought:
    """What a source brings at its peak."""
    if source.kind not in SHEDS:
        if source.inflow is None:
            return Brought(source, None, Doubt("brings", source.id))
        return Brought(source, counted(tr("Water of {source}", source=source.name), source.inflow, k.DISCHARGE, tr("as it was measured")))
    area, intensity = area_of(job, source, rules), source.intensity or short_rain(job, rules)
    if area is None:
        return Brought(source, None, Doubt("area", source.id))
    if intensity is None:
        return Brought(source, None, Doubt("short-rain", source.id))
    note = "" if source.intensity else tr("the hardest {sized_by:.0f} minutes that come once in about ten years, by common practice, from the rainfall table", sized_by=rules.sized_by / 60)
    return Brought(source, figure(tr("Water of {source}",
                                     source=source.name), "rational-peak", k.DISCHARGE, {"runoff_coefficient": source.share, "intensity": intensity, "area": area}, note=note))


def area_of(job: Job, source: Source, rules: Rules) -> float | None:
    """The area m² that a source sheds from: typed, or that of its outline on the plan; None where there is neither."""
    if source.area is not None:
        return source.area
    thing = by_id(job.features, source.thing) if source.thing else None
    found = None if thing is None else shape_area(thing, rules.walk_width)
    return found or None


def roofs_shed(job: Job, rules: Rules) -> tuple[float, float]:
    """Area m² of all roofs that water is led from, as far as it is known, and area times the share that runs off."""
    areas = [(area_of(job, source, rules) or 0.0, source.share) for source in job.sources if source.kind == ROOF_WATER]
    return sum(area for area, _ in areas), sum(area * share for area, share in areas)


def short_rain(job: Job, rules: Rules) -> float | None:
    """Intensity m/s of the short rain that inlets and roofs are sized by, off the rainfall table at the years nearest to ten; None without one."""
    years = sorted({entry.years for entry in job.rainfall}, key=lambda y: abs(y - RARE))
    entries: list[RainfallDepth] = sorted((e for e in job.rainfall if e.years == years[0]), key=lambda e: e.duration) if years else []
    if not entries or entries[0].duration > rules.sized_by * LONGER:
        return None  # the depth of a day says nothing of its hardest minutes
    return depth_in([e.duration for e in entries], [e.depth for e in entries], rules.sized_by) / rules.sized_by


LONGER = 3.0  # times the short rain's duration up to which the shortest entry of a table still tells it (common practice, no source)
