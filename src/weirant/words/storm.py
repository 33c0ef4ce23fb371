"""What a storm comes to, in sentences."""

from __future__ import annotations

from weirant.design.ensemble import Ensemble
from weirant.design.simulation import Simulation, peak_bracket
from weirant.language import tr
from weirant.seepage.storm import Course
from weirant.units.display import DEPTH, INFLOW, WATER_VOLUME, System, shown, shown_span


def verdict(drained: Simulation, bare: Simulation | None, system: System) -> str:
    """Whether the place is dry in time, with the drain and without it."""
    out = tr("With the drain {drained}.", drained=dry_words(drained, system))
    return out if bare is None else f"{out} " + tr("Without it, {bare}.", bare=dry_words(bare, system)) + _start_words(bare, system)


def _start_words(bare: Simulation, system: System) -> str:
    """Whether the ground without a drain stands as was measured before the storm."""
    if bare.measured is None:
        return ""
    if bare.misses is None:
        return tr(" (It begins with water at {measured}, as was measured.)", measured=shown(bare.measured, DEPTH, system))
    stands, measured = shown(max(bare.measured + bare.misses, 0.0), DEPTH, system), shown(bare.measured, DEPTH, system)
    return tr(" (It begins with water at {stands} where {measured} was measured: no seepage makes this ground stand so; look at its " "layers, its slope and what was measured.)",
              stands=stands, measured=measured)


def dry_words(simulation: Simulation, system: System) -> str:
    """When the place is dry, as the rest of a sentence."""
    after, course, depth = simulation.after_rain, simulation.course, shown(simulation.dry_depth, DEPTH, system)
    if not course.is_whole:
        return tr("the sum was left at {reached:.0f} of {until:.0f} h", reached=course.reached / 3600, until=course.until / 3600)
    if after is None:
        return tr("it is wetter than {depth} for all of the {until:.0f} h", depth=depth, until=course.until / 3600)
    if after == 0:
        stays = course.dry_after(simulation.place, simulation.dry_depth) == 0
        return tr("it stays dry to {depth}", depth=depth) if stays else tr("it is dry to {depth} by the end of the rain", depth=depth)
    if simulation.in_time:
        return tr("it is dry to {depth} {after} after the rain, in time", depth=depth, after=shown_span(after))
    return tr("it is dry to {depth} {after} after the rain, later than the {wanted:g} h wanted", depth=depth, after=shown_span(after), wanted=simulation.dry_within / 3600)


def begins(course: Course) -> str:
    """When the drain begins to run, as the rest of a sentence."""
    at = course.starts_at
    when = "" if at is None else tr("with the rain") if at < 60 else tr("{at} after the rain began", at=shown_span(at))
    if course.ran_before:
        return tr("runs already before and rises {when}", when=when) if when else tr("runs already before and does not rise")
    return tr("starts {when}", when=when) if when else tr("never runs")


def details(drained: Simulation, shedding: float, ensemble: Ensemble | None, system: System) -> str:
    """What the drain does, and how sure all that is; ``shedding`` is the roof area m² times the share that it sheds."""
    course, whole = drained.course, drained.course.is_whole
    low, high = peak_bracket(drained.course)
    if course.starts_at is None and not course.ran_before:
        out = [tr("The drain never runs.") if whole else tr("The drain has not run so far.")]
    else:
        figures: dict[str, object] = {"begins": begins(course), "low": shown(low, INFLOW, system), "high": shown(high, INFLOW, system),
                                      "volume": words_of_volume(drained.volume, system)}  # fmt: skip
        out = [tr("The drain {begins}, carries {low} over its best hour (at most {high} for a moment) and takes {volume} in all.", **figures) if whole
               else tr("The drain {begins}, carries {low} over its best hour (at most {high} for a moment) and takes {volume} so far.", **figures)]
    roof = course.rain.until(drained.storm_ends) * shedding
    if roof > 0:
        out.append(tr("Meanwhile the roof sheds {roof}.", roof=shown(roof, WATER_VOLUME, system)))
    if course.total("on_stone") > 0:
        out.append(tr("Of that up to {volume} fell or ran straight onto open stone.", volume=words_of_volume(course.total("on_stone"), system)))
    return " ".join([*out, *([] if ensemble is None else [ensemble.words()])])


def words_of_volume(volume: float, system: System) -> str:
    """A volume per metre of drain, m², as said on a site."""
    if system == System.IMPERIAL:
        return tr("{volume} per 100 ft", volume=shown(volume * 30.48, WATER_VOLUME, system))
    return tr("{volume:,.0f} L per m", volume=volume * 1000)
