"""What a storm comes to, in sentences."""

from __future__ import annotations

from weirant.design.ensemble import Ensemble
from weirant.design.simulation import Simulation, peak_bracket
from weirant.seepage.storm import Course
from weirant.units.display import DEPTH, INFLOW, WATER_VOLUME, System, shown, shown_span


def verdict(drained: Simulation, bare: Simulation | None, system: System) -> str:
    """Whether the place is dry in time, with the drain and without it."""
    out = f"With the drain {dry_words(drained, system)}."
    return out if bare is None else f"{out} Without it, {dry_words(bare, system)}.{_start_words(bare, system)}"


def _start_words(bare: Simulation, system: System) -> str:
    """Whether the ground without a drain stands as was measured before the storm."""
    if bare.measured is None:
        return ""
    if bare.misses is None:
        return f" (It begins with water at {shown(bare.measured, DEPTH, system)}, as was measured.)"
    stands, measured = shown(max(bare.measured + bare.misses, 0.0), DEPTH, system), shown(bare.measured, DEPTH, system)
    return f" (It begins with water at {stands} where {measured} was measured: no seepage makes this ground stand so; look at its layers, its slope and what was measured.)"


def dry_words(simulation: Simulation, system: System) -> str:
    """When the place is dry, as the rest of a sentence."""
    after, course, depth = simulation.after_rain, simulation.course, shown(simulation.dry_depth, DEPTH, system)
    if not course.is_whole:
        return f"the sum was left at {course.reached / 3600:.0f} of {course.until / 3600:.0f} h"
    if after is None:
        return f"it is wetter than {depth} for all of the {course.until / 3600:.0f} h"
    if after == 0:
        return f"it stays dry to {depth}" if course.dry_after(simulation.place, simulation.dry_depth) == 0 else f"it is dry to {depth} by the end of the rain"
    return f"it is dry to {depth} {shown_span(after)} after the rain, {'in time' if simulation.in_time else f'later than the {simulation.dry_within / 3600:g} h wanted'}"


def begins(course: Course) -> str:
    """When the drain begins to run, as the rest of a sentence."""
    at = course.starts_at
    when = "" if at is None else "with the rain" if at < 60 else f"{shown_span(at)} after the rain began"
    if course.ran_before:
        return f"runs already before and rises {when}" if when else "runs already before and does not rise"
    return f"starts {when}" if when else "never runs"


def details(drained: Simulation, shedding: float, ensemble: Ensemble | None, system: System) -> str:
    """What the drain does, and how sure all that is; ``shedding`` is the roof area m² times the share that it sheds."""
    course, whole = drained.course, drained.course.is_whole
    low, high = peak_bracket(drained.course)
    if course.starts_at is None and not course.ran_before:
        out = ["The drain never runs." if whole else "The drain has not run so far."]
    else:
        out = [f"The drain {begins(course)}, carries {shown(low, INFLOW, system)} over its best hour (at most {shown(high, INFLOW, system)} for a moment) "
               f"and takes {words_of_volume(drained.volume, system)} {'in all' if whole else 'so far'}."]  # fmt: skip
    roof = course.rain.until(drained.storm_ends) * shedding
    if roof > 0:
        out.append(f"Meanwhile the roof sheds {shown(roof, WATER_VOLUME, system)}.")
    if course.total("on_stone") > 0:
        out.append(f"Of that up to {words_of_volume(course.total('on_stone'), system)} fell or ran straight onto open stone.")
    return " ".join([*out, *([] if ensemble is None else [ensemble.words()])])


def words_of_volume(volume: float, system: System) -> str:
    """A volume per metre of drain, m², as said on a site."""
    if system == System.IMPERIAL:
        return f"{shown(volume * 30.48, WATER_VOLUME, system)} per 100 ft"
    return f"{volume * 1000:,.0f} L per m"
