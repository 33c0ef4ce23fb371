"""Pictures in words, for whoever does not see them: what the profile, the section and the plan show of the run in hand."""

from __future__ import annotations

from weirant.ground.inverts import least_slope
from weirant.job.section import SOIL_CAP
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units.display import DEPTH, DISTANCE, LEVEL, SECTION, SLOPE, STATION, System, shown

LEVEL_WITHIN = 1e-4  # m: ends nearer in level than that are level


def profile_words(outcome: Outcome, run: str) -> str:
    """The long profile: fall, ends, cuts, and what the run crosses."""
    found, system = outcome.chosen(run), System(outcome.job.units)
    grade, name = found.grade, found.run.name
    if grade is None:
        return f"{_capital(name)}: the ground along it is not known."
    slope, _ = least_slope(found.run)
    top, low = float(grade.invert[-1]), float(grade.invert[0])
    falls = f"falls {shown(slope, SLOPE, system)}{' at least' if found.run.breaks else ''} from {shown(top, LEVEL, system)} to {shown(low, LEVEL, system)}"
    if abs(top - low) < LEVEL_WITHIN:
        falls = f"lies level at {shown(low, LEVEL, system)}"
    cuts = grade.ground - grade.trench_bottom
    shallow, deep = shown(max(float(cuts.min()), 0.0), DEPTH, system), shown(float(cuts.max()), DEPTH, system)
    words = [f"{_capital(name)}, {shown(found.run.length, STATION, system)} long, {falls}", f"the trench is {deep if shallow == deep else f'{shallow} to {deep}'} deep"]
    words += [f"it crosses {crossing.feature.name} at {shown(crossing.station, STATION, system)}" for crossing in found.crossings]
    return "; ".join(words) + "."


def section_words(outcome: Outcome, run: str, station: float) -> str:
    """The trench section at a station."""
    found, system = outcome.chosen(run), System(outcome.job.units)
    make = found.make(station)
    section = make.section
    cap = "a soil cap over it" if section.top == SOIL_CAP else section.top
    pipe = f"{make.pipe.name} on {shown(section.bedding, SECTION, system)} of bedding"
    around = f", {shown(section.stone_cover, SECTION, system)} of stone over it, {section.wrap}, {cap}" if not make.is_solid else ", solid"
    return f"At {shown(station, STATION, system)} of {found.run.name}: a trench {shown(section.width, SECTION, system)} wide; {pipe}{around}."


def plan_words(outcome: Outcome, run: str) -> str:
    """The plan: the runs, where they lead, and what the run in hand keeps dry."""
    job, system = outcome.job, System(outcome.job.units)
    runs = ", ".join(_leads(outcome, found) for found in outcome.site.runs[:6])
    more = f" and {len(job.runs) - 6} more" if len(job.runs) > 6 else ""
    part = outcome.chosen(run).part
    place = next((f.name for f in job.features if f.id == part.situation.place), "")
    kept = f" {_capital(outcome.chosen(run).run.name)} keeps {place} dry" if place else ""
    lie = f", {shown(part.lie.distance, DISTANCE, system)} away" if place and part.lie is not None else ""
    return f"{len(job.runs)} run{'' if len(job.runs) == 1 else 's'}: {runs}{more}.{kept}{lie}{'.' if kept else ''}"


def _leads(outcome: Outcome, found: RunOutcome) -> str:
    into = outcome.site.network.drains_to(found.run)
    end = f"into {into[0][0].name}" if into else "to its outlet" if found.run.outlet is not None else "to nowhere yet"
    return f"{found.run.name} {end}"


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]
