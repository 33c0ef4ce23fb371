"""What goes to the trench: the cut sheet of a run with its notes."""

from __future__ import annotations

from weirant.errors import InputError
from weirant.ground.cut_sheet import CutLine, cut_sheet
from weirant.ground.network import fittings_of
from weirant.job.network import MAIN
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units.display import SECTION, STATION, System, shown

LEAST_STEP = 0.05  # m; a sheet with more lines than that helps nobody
STEP = {"imperial": 3.048, "metric": 2.5}


def instrument_height(outcome: Outcome) -> float:
    """Elevation of the instrument, m: today's where it was entered, else that of the first set-up."""
    survey = outcome.job.survey
    if survey.instrument_elevation is not None:
        return survey.instrument_elevation
    return survey.benchmark_elevation + ((survey.shots[0].backsight if survey.shots else None) or 0.0)


def crew_cut_sheet(outcome: Outcome, name: str = MAIN, step: float | None = None) -> list[CutLine]:
    """The cut sheet of a run: at every step (10 ft or 2.5 m unless given) and at each place that matters.

    Raises InputError where the run or the ground under it is not known, or the step is not more than 0.
    """
    found = outcome.site.run(name) if outcome.site is not None else None
    if outcome.site is not None and outcome.site.fault:
        raise InputError("", outcome.site.fault)
    if found is None:
        raise InputError("run", "is not on this site", name)
    if found.grade is None:
        raise InputError("survey", "has too few ground shots; a cut sheet needs the ground along the run")
    if step is not None and not step >= LEAST_STEP:
        raise InputError("step", f"must be at least {LEAST_STEP:g} m (2 in)", f"{step:g} m")
    return cut_sheet(found.grade, step or STEP[outcome.job.units], instrument_height(outcome), _notes(outcome, found))


def _notes(outcome: Outcome, found: RunOutcome) -> dict[float, str]:
    job, line = outcome.job, found.run.line
    runs = tuple(r.run for r in outcome.site.runs) if outcome.site else ()
    places = [(0.0, f"outlet, {line.outlet}" if found.run.is_root else f"joins {found.run.joins}")]
    if 0 < line.solid_length < line.length - 1e-6:
        places.append((line.solid_length, "solid ends, collecting run starts"))
    places += fittings_of(runs, found.run)
    if found.run.name == MAIN:
        places += [(job.protected.from_station, f"{job.protected.name} starts"), (job.protected.to_station, f"{job.protected.name} ends")]
    if found.grade is not None and found.grade.daylight is not None and found.run.is_root:
        places.append((found.grade.daylight, "daylight"))
    places += _crossing_notes(outcome, found)
    notes: dict[float, str] = {}
    for station, words in sorted(places, key=lambda p: p[0]):
        station = round(station, 3)  # what lies within a millimetre is one place
        notes[station] = f"{notes[station]}; {words}" if station in notes else words
    return notes


def _crossing_notes(outcome: Outcome, found: RunOutcome) -> list[tuple[float, str]]:
    """Crossings with their hand-dig lengths, and where the pipe passes."""
    system, notes = System(outcome.job.units), []
    for crossing in found.crossings:
        feature = crossing.feature
        stretch = f"{shown(crossing.hand_from, STATION, system)} to {shown(crossing.hand_to, STATION, system)}"
        private = "" if feature.is_located else ", NOT LOCATED"
        way = ""
        if crossing.top is not None and found.grade is not None:
            over = found.grade.at(found.grade.invert, crossing.station) > crossing.top
            way = f", pipe passes {'over' if over else 'under'}"
        elif crossing.top is None:
            way = ", depth not known: expose it first"
        notes.append((crossing.station, f"{feature.name}{private}{way}; dig by hand {stretch}"))
    if found.run.name == MAIN or found.run.is_root:
        return notes
    return [*notes, (0.0, f"invert {shown(found.run.line.outlet_invert - _parent_invert(outcome, found), SECTION, system)} over the run it joins")]


def _parent_invert(outcome: Outcome, found: RunOutcome) -> float:
    parent = outcome.site.run(found.run.joins) if outcome.site else None
    if parent is None or parent.grade is None:
        return found.run.line.outlet_invert
    return parent.grade.at(parent.grade.invert, found.run.joins_at)
