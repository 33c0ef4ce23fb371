"""What goes to the trench: the cut sheet of a run with its notes."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from weirant.errors import InputError
from weirant.ground.cut_sheet import CutLine, cut_sheet
from weirant.ground.inverts import invert_at
from weirant.ground.network import AT_END
from weirant.ground.set_in import fittings_of
from weirant.job.network import INLET
from weirant.language import tr
from weirant.outcome.boxes import rim_of
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units.display import LEVEL, SECTION, STATION, System, shown

OFF_STAFF = tr("off staff")
LEAST_STEP = 0.05  # m; a sheet with more lines than that helps nobody
STEP = {"imperial": 3.048, "metric": 2.5}
RISER_STEP, LEAST_RISER = {"imperial": 0.1524, "metric": 0.15}, 0.0127  # m in which risers of boxes are sold, and under which none is set (common practice, no source)


def instrument_height(outcome: Outcome) -> float:
    """Elevation of the instrument, m: today's where it was entered, else that of the first set-up."""
    survey = outcome.job.survey
    if survey.instrument_elevation is not None:
        return survey.instrument_elevation
    return survey.benchmark_elevation + ((survey.shots[0].backsight if survey.shots else None) or 0.0)


def crew_cut_sheet(outcome: Outcome, run: str = "", step: float | None = None) -> list[CutLine]:
    """The cut sheet of a run (the one that serves the place, where none is named): at every step (10 ft or 2.5 m unless given) and at each place that matters.

    Raises InputError where the run or the ground under it is not known, or the step is not more than 0.
    """
    found = outcome.chosen(run)
    if found.grade is None:
        raise InputError("survey", tr("has too few ground shots; a cut sheet needs the ground along {run}", run=found.run.name))
    if step is not None and not step >= LEAST_STEP:
        raise InputError("step", tr("must be at least {least}", least=shown(LEAST_STEP, SECTION, System(outcome.job.units))), shown(step, SECTION, System(outcome.job.units)))
    return cut_sheet(found.grade, step or STEP[outcome.job.units], instrument_height(outcome), _notes(outcome, found), outcome.job.survey.staff_length)


def off_staff(outcome: Outcome) -> str:
    """What to do where readings cannot be on the staff."""
    survey, system = outcome.job.survey, System(outcome.job.units)
    if survey.instrument_elevation is None and not survey.shots:
        return tr("Give today's height of instrument: the rods cannot be told without it.")
    return tr("Some rods are not on your {staff_length} staff: move the instrument, and give today's height of it.", staff_length=shown(survey.staff_length, LEVEL, system))


def low_end_words(outcome: Outcome, found: RunOutcome) -> str:
    """What is at the low end of a run, in a few words."""
    if found.run.outlet is not None:
        return tr("outlet, {kind}", kind=tr(found.run.outlet.kind))
    joins = outcome.site.network.drains_to(found.run)
    return tr("joins {joins}", joins=joins[0][0].name) if joins else tr("leads nowhere")


def _notes(outcome: Outcome, found: RunOutcome) -> dict[float, str]:
    run = found.run
    places = [(0.0, low_end_words(outcome, found))]
    for (_, end, is_solid), (_, _, after) in pairwise(run.spans):
        if is_solid != after:
            places.append((end, tr("solid ends, collecting run starts") if is_solid else tr("collecting run ends, solid starts")))
    places += fittings_of(outcome.site.network, run)
    for part in found.serving:
        if part.lie is not None:
            places += [(part.lie.low, tr("{place} starts", place=part.lie.place.name)), (part.lie.high, tr("{place} ends", place=part.lie.place.name))]
    if found.grade is not None and found.grade.daylight is not None and run.outlet is not None:
        places.append((found.grade.daylight, tr("daylight")))
    places += _riser_notes(outcome, found)
    places += _crossing_notes(outcome, found)
    notes: dict[float, str] = {}
    for station, words in sorted(places, key=lambda p: p[0]):
        station = round(station, 3)  # what lies within a millimetre is one place
        notes[station] = f"{notes[station]}; {words}" if station in notes else words
    return notes


def _riser_notes(outcome: Outcome, found: RunOutcome) -> list[tuple[float, str]]:
    """What stands between the top of the pipe and the rim of each box: so many whole steps, and one cut."""
    system, notes = System(outcome.job.units), []
    step = RISER_STEP[outcome.job.units]
    for node, station in found.run.nodes:
        rim = rim_of(outcome, node)
        if node.kind != INLET or rim is None or (station < AT_END and outcome.site.network.others_at(found.run, node.id)):
            continue
        height = rim - float(invert_at(found.run, np.array(station))) - found.make(station).above
        if height <= LEAST_RISER:
            continue
        whole = int((height + LEAST_RISER) / step)
        cut = height - whole * step
        parts = [tr("{count} of {step}", count=whole, step=shown(step, SECTION, system))] if whole else []
        parts += [tr("one cut to {cut}", cut=shown(cut, SECTION, system))] if cut > LEAST_RISER else []
        notes.append((station, tr("riser {height} over the pipe: {parts}", height=shown(height, SECTION, system), parts=", ".join(parts))))
    return notes


def _crossing_notes(outcome: Outcome, found: RunOutcome) -> list[tuple[float, str]]:
    """Crossings with their hand-dig lengths, and where the pipe passes; and how the run comes in where it joins."""
    system, notes = System(outcome.job.units), []
    for crossing in found.crossings:
        feature = crossing.feature
        stretch = tr("{hand_from} to {hand_to}", hand_from=shown(crossing.hand_from, STATION, system), hand_to=shown(crossing.hand_to, STATION, system))
        private = "" if feature.is_located else tr(", NOT LOCATED")
        way = ""
        if crossing.top is not None and found.grade is not None:
            over = found.grade.at(found.grade.invert, crossing.station) > crossing.top
            way = tr(", pipe passes over") if over else tr(", pipe passes under")
        elif crossing.top is None:
            way = tr(", depth not known: expose it first")
        notes.append((crossing.station, tr("{feature}{private}{way}; dig by hand {stretch}", feature=feature.name, private=private, way=way, stretch=stretch)))
    for other, station in outcome.site.network.drains_to(found.run)[:1]:
        over_it = found.run.invert - float(invert_at(other, np.array(station)))
        notes.append((0.0, tr("invert {over_it} over the run it joins", over_it=shown(over_it, SECTION, system))))
    return notes
