"""What goes to the trench: the cut sheet with its notes."""

from __future__ import annotations

from weirant.errors import InputError
from weirant.ground.cut_sheet import CutLine, cut_sheet
from weirant.outcome.outcome import Outcome

STEP = {"imperial": 3.048, "metric": 2.5}


def instrument_height(outcome: Outcome) -> float:
    """Elevation of the instrument at its first set-up, m."""
    shots = outcome.job.survey.shots
    return outcome.job.survey.benchmark_elevation + ((shots[0].backsight if shots else None) or 0.0)


def crew_cut_sheet(outcome: Outcome) -> list[CutLine]:
    """The cut sheet of a job: every 10 ft or 2.5 m and at each place that matters. InputError where the ground is not known."""
    if outcome.grade is None:
        raise InputError("survey", "has fewer than two ground shots; a cut sheet needs the ground")
    line, place = outcome.job.line, outcome.job.protected
    places = [(0.0, f"outlet, {line.outlet}"), (line.solid_length, "solid ends, collecting run starts"),
              (line.length, "top end, end cap"), (place.from_station, f"{place.name} starts"),
              (place.to_station, f"{place.name} ends"), *((b.station, f"bend {b.angle:+.0f}°") for b in line.bends)]  # fmt: skip
    if outcome.grade.daylight is not None:
        places.append((outcome.grade.daylight, "daylight"))
    notes: dict[float, str] = {}
    for station, words in places:
        station = round(station, 6)
        notes[station] = f"{notes[station]}; {words}" if station in notes else words
    return cut_sheet(outcome.grade, STEP[outcome.job.units], instrument_height(outcome), notes)
