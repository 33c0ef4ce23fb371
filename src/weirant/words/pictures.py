"""Pictures in words, for whoever does not see them: what the profile, the section and the plan show of the run in hand."""

from __future__ import annotations

from weirant.ground.inverts import least_slope
from weirant.job.section import SOIL_CAP
from weirant.language import capital, ntr, tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units.display import DEPTH, DISTANCE, LEVEL, SECTION, SLOPE, STATION, System, shown

LEVEL_WITHIN = 1e-4  # m: ends nearer in level than that are level


def profile_words(outcome: Outcome, run: str) -> str:
    """The long profile: fall, ends, cuts, and what the run crosses."""
    found, system = outcome.chosen(run), System(outcome.job.units)
    grade, name = found.grade, found.run.name
    if grade is None:
        return tr("{name}: the ground along it is not known.", name=capital(name))
    slope, _ = least_slope(found.run)
    top, low = float(grade.invert[-1]), float(grade.invert[0])
    ends: dict[str, object] = {"slope": shown(slope, SLOPE, system), "top": shown(top, LEVEL, system), "low": shown(low, LEVEL, system)}
    falls = tr("falls {slope} at least from {top} to {low}", **ends) if found.run.breaks else tr("falls {slope} from {top} to {low}", **ends)
    if abs(top - low) < LEVEL_WITHIN:
        falls = tr("lies level at {low}", low=shown(low, LEVEL, system))
    cuts = grade.ground - grade.trench_bottom
    shallow, deep = shown(max(float(cuts.min()), 0.0), DEPTH, system), shown(float(cuts.max()), DEPTH, system)
    words = [tr("{name}, {length} long, {falls}", name=capital(name), length=shown(found.run.length, STATION, system), falls=falls),
             tr("the trench is {deep} deep", deep=deep) if shallow == deep else tr("the trench is {shallow} to {deep} deep", shallow=shallow, deep=deep)]
    words += [tr("it crosses {feature} at {station}", feature=crossing.feature.name, station=shown(crossing.station, STATION, system)) for crossing in found.crossings]
    return "; ".join(words) + "."


def section_words(outcome: Outcome, run: str, station: float) -> str:
    """The trench section at a station."""
    found, system = outcome.chosen(run), System(outcome.job.units)
    make = found.make(station)
    section = make.section
    cap = tr("a soil cap over it") if section.top == SOIL_CAP else tr(section.top)
    pipe = tr("{pipe} on {bedding} of bedding", pipe=make.pipe_name, bedding=shown(section.bedding, SECTION, system))
    around = tr(", {stone_cover} of stone over it, {wrap}, {cap}",
                stone_cover=shown(section.stone_cover, SECTION, system), wrap=tr(section.wrap), cap=cap) if not make.is_solid else ""
    if not make.is_solid and not section.has_stone:
        around = f", {tr(section.wrap)}, {cap}"
    if section.side_slope:
        around += tr("; its sides lean {slope:g} to 1", slope=round(section.side_slope, 2))
    if make.bench and (found.grade is None or found.grade.at(found.grade.cut, station) > make.bench_over):
        around += tr("; a bench {wide} wide in each side, {high} over the bottom", wide=shown(make.bench, SECTION, system), high=shown(make.bench_over, SECTION, system))
    return tr("At {station} of {run}: a trench {width} wide; {pipe}{around}.", station=shown(station, STATION, system), run=found.run.name,
              width=shown(section.width, SECTION, system), pipe=pipe, around=around)


def plan_words(outcome: Outcome, run: str) -> str:
    """The plan: the runs, where they lead, and what the run in hand keeps dry."""
    job, system = outcome.job, System(outcome.job.units)
    runs = ", ".join(_leads(outcome, found) for found in outcome.site.runs[:6])
    more = tr(" and {number} more", number=len(job.runs) - 6) if len(job.runs) > 6 else ""
    part = outcome.chosen(run).part
    place = next((f.name for f in job.features if f.id == part.situation.place), "")
    kept = tr(" {run} keeps {place} dry", run=capital(outcome.chosen(run).run.name), place=place) if place else ""
    lie = tr(", {distance} away", distance=shown(part.lie.distance, DISTANCE, system)) if place and part.lie is not None else ""
    return ntr("{n} run: {names}.", "{n} runs: {names}.", len(job.runs), names=runs + more) + (f"{kept}{lie}." if kept else "")


def _leads(outcome: Outcome, found: RunOutcome) -> str:
    into = outcome.site.network.drains_to(found.run)
    end = tr("into {into}", into=into[0][0].name) if into else tr("to its outlet") if found.run.outlet is not None else tr("to nowhere yet")
    return f"{found.run.name} {end}"


