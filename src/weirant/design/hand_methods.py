"""The steady and falling-table formulae on the site's own figures, side by side, so that where they disagree is seen."""

from __future__ import annotations

import math

from weirant.design.figures import banded
from weirant.errors import InputError, WeirantError
from weirant.ground.collecting import Collecting
from weirant.job.soil import Band
from weirant.job.water import BOTH_SIDES, HILLSIDE, ONE_SIDE, PARALLEL
from weirant.language import tr
from weirant.outcome.figure import Figure
from weirant.outcome.outcome import Outcome
from weirant.records import dataclass
from weirant.units import display as k

QUESTIONS = INFLOW, TABLE, SPACING = "water that comes to the drain", "depth to water at the place", "spacing of parallel lines"
DAY = 86400.0


@dataclass(frozen=True)
class HandResult:
    """One formula's answer to a question; ``outside`` says why its range of validity is left, empty where it holds."""

    question: str
    figure: Figure
    outside: str = ""


@dataclass(frozen=True)
class _Lie:
    """What collects; depths below ground, m: water in the drain, undrained water, hard layer, and that to be dry (None: no place); radius m,
    distance to the place m.
    """

    part: Collecting
    drain: float
    wet: float
    hard: float
    radius: float
    place: float
    dry: float | None
    rate: float


def hand_methods(outcome: Outcome, conductivity: Band | None = None, porosity: float | None = None, run: str = "") -> tuple[HandResult, ...]:
    """Every formula that can be asked with what is known; another soil's conductivity and pores may be put in.

    Raises InputError where the ground, the hard layer or the water table is not known.
    """
    found = outcome.chosen(run)
    job, part, grade, flow = outcome.job, found.part, found.grade, found.flow_high
    if grade is None or flow is None:
        raise InputError("", tr("the ground along {run} is not known yet: type the rod readings first", run=found.run.name))
    soil = part.soil
    if soil.hard_layer_depth is None or soil.water_table_depth is None:
        raise InputError("", tr("the depths of the hard layer and of the water are wanted: dig a test hole"))
    at = part.station
    lie = _Lie(part, max(grade.at(grade.ground - flow.surface, at), 0.05), soil.water_table_depth, max(soil.hard_layer_depth, soil.water_table_depth + 0.01),
               found.make(at).pipe.outer_diameter / 2, max(part.lie.judged, 1e-3) if part.lie is not None else part.situation.reach / 4,
               part.place.dry_depth if part.place is not None else None, job.water.drainage_rate)  # fmt: skip
    band = conductivity or outcome.soil(soil).conductivity
    tables = _tables(lie, band) if part.lie is not None else []
    return (*_inflows(lie, band), *tables, *_spacings(lie, band, porosity or outcome.soil(soil).drainable_porosity))


def _asked(question: str, label: str, method: str, kind: k.Kind, arguments: dict[str, float], *, key: str = "conductivity", band: Band,
           outside: str) -> list[HandResult]:  # fmt: skip
    """The answer, or none where the formula refuses the figures."""
    try:
        return [HandResult(question, banded(label, method, kind, arguments, key=key, ends=(band.low, band.high)), outside)]
    except WeirantError:
        return []


def _inflows(lie: _Lie, band: Band) -> list[HandResult]:
    found: list[HandResult] = []
    source, reach, slope = lie.part.situation.source, lie.part.situation.reach, lie.part.soil.water_table_slope
    reached = min(lie.drain, lie.hard)
    if slope and reached > lie.wet:
        outside = "" if source == HILLSIDE else tr("made for water that comes down a slope")
        found += _asked(INFLOW, tr("Interceptor on a slope"), "interceptor-flow", k.INFLOW,
                        {"conductivity": band.best, "saturated_depth": reached - lie.wet, "slope": slope}, band=band, outside=outside)  # fmt: skip
    far, near = lie.hard - lie.wet, max(lie.hard - reached, 0.0)
    outside = (tr("made for level ground without a slope") if source == HILLSIDE else tr("the place is nearer than 1.5 times the depth of flow") if reach < 1.5 * far else
               tr("counts one of the two sides") if source == BOTH_SIDES else "")  # fmt: skip
    if source != PARALLEL and near < far:
        found += _asked(INFLOW, tr("Level ground, one side"), "dupuit-inflow", k.INFLOW,
                        {"conductivity": band.best, "head_far": far, "head_drain": near, "distance": reach}, band=band, outside=outside)  # fmt: skip
    outside = tr("only while water stands on the ground all round")
    found += _asked(INFLOW, tr("Ponded ground, drain full"), "kirkham-ponded", k.INFLOW,
                    {"conductivity": band.best, "drain_depth": lie.drain, "depth_to_barrier": max(lie.hard, lie.drain + lie.radius * 1.02), "drain_radius": lie.radius,
                     "ponded_depth": 0.0}, band=band, outside=outside)  # fmt: skip
    return found


def _tables(lie: _Lie, band: Band) -> list[HandResult]:
    found: list[HandResult] = []
    source, reach, slope = lie.part.situation.source, lie.part.situation.reach, lie.part.soil.water_table_slope
    drain = min(lie.drain, lie.hard)
    if slope:
        outside = "" if source == HILLSIDE else tr("made for water that comes down a slope")
        found += _asked(TABLE, tr("Downslope of an interceptor"), "downslope-table", k.WATER_DEPTH,
                        {"conductivity": band.best, "slope": slope, "drain_depth": drain, "wet_depth": min(lie.wet, drain), "drainage_rate": lie.rate, "place": lie.place},
                        band=band, outside=outside)  # fmt: skip
    if source in (ONE_SIDE, BOTH_SIDES, HILLSIDE):
        far, near = lie.hard - lie.wet, max(lie.hard - drain, 0.0)
        if near < far:
            level = tr("made for level ground, on the side the water comes from")
            outside = level if source == HILLSIDE else tr("made for the side the water comes from") if source == ONE_SIDE else tr("no new rain in it") if lie.rate > 0 else ""
            answers = _asked(TABLE, tr("Level ground, towards the water"), "dupuit-table", k.WATER_DEPTH, {"head_far": far, "head_drain": near, "distance": reach, "place": lie.place},
                             key="head_far", band=Band(far, far, far), outside=outside)  # fmt: skip
            found += [_below(a, lie.hard) for a in answers]
    spacing = reach if source == PARALLEL else 2 * lie.place
    outside = "" if source == PARALLEL else tr("as if lines lay at twice the distance to the place")
    answers = _asked(TABLE, tr("Midway between lines, steady rain"), "hooghoudt-mid-head", k.WATER_DEPTH,
                     {"conductivity": band.best, "depth_to_barrier": max(lie.hard - drain, 0.0), "drain_radius": lie.radius, "spacing": spacing, "drainage_rate": lie.rate},
                     band=band, outside=outside)  # fmt: skip
    return found + [_below(a, drain) for a in answers]


def _below(answer: HandResult, level: float) -> HandResult:
    """A height over a level turned into a depth below ground."""
    figure = answer.figure
    low, high = figure.band or (figure.value, figure.value)
    return HandResult(answer.question, Figure(figure.label, level - figure.value, figure.kind, figure.method, figure.arguments, figure.result, (level - high, level - low),
                                              tr("depth of the level that the head is counted from, less the head of the formula")), answer.outside)  # fmt: skip


def _spacings(lie: _Lie, band: Band, porosity: float) -> list[HandResult]:
    """Spacings that hold the table at the depth to be dry midway: in the wet season, and within a day of the ground being full."""
    found: list[HandResult] = []
    drain = min(lie.drain, lie.hard)
    if lie.dry is None or drain - lie.dry <= 0.01:
        return []
    mid = drain - lie.dry
    below = max(lie.hard - drain, 0.0)
    steady = {"drain_radius": lie.radius, "mid_head": mid, "drainage_rate": lie.rate}
    if lie.rate > 0:
        found += _spread(SPACING, tr("Wet season, exact"), "hooghoudt-spacing", {"conductivity_above": band.best, "conductivity_below": band.best, "depth_to_barrier": below, **steady},
                         keys=("conductivity_above", "conductivity_below"), band=band, result="spacing")  # fmt: skip
        outside = "" if below < 0.25 * mid * 10 else tr("the barrier lies too deep below the lines for it")
        found += _asked(SPACING, tr("Wet season, ellipse"), "ellipse-spacing", k.DISTANCE,
                        {"conductivity": band.best, "drain_height": below, "mid_height": below + mid, "drainage_rate": lie.rate}, band=band, outside=outside)  # fmt: skip
    first = drain - min(lie.wet, 0.9 * lie.dry)
    fall = {"equivalent_depth": max(below, 0.0) + (first + mid) / 4, "time": DAY, "drainable_porosity": porosity, "initial_mid_head": first, "final_mid_head": mid}
    outside = "" if below > 2 * first else tr("heads are not small beside the depth of flow")
    found += _asked(SPACING, tr("Dry within a day, series in short"), "glover-dumm-spacing", k.DISTANCE, {"conductivity": band.best, **fall}, band=band, outside=outside)
    outside = "" if below > 0.05 else tr("the lines lie on the hard layer, and a mean depth of flow was put in")
    found += _asked(SPACING, tr("Dry within a day, full heads"), "van-schilfgaarde-spacing", k.DISTANCE, {"conductivity": band.best, **fall}, band=band, outside=outside)
    return found


def _spread(question: str, label: str, method: str, arguments: dict[str, float], *, keys: tuple[str, ...], band: Band, result: str) -> list[HandResult]:
    """Like _asked, for a formula that takes the conductivity twice."""
    from weirant.design.figures import figure

    try:
        best, low, high = (figure(label, method, k.DISTANCE, {**arguments, **dict.fromkeys(keys, end)}, result) for end in (band.best, band.low, band.high))
    except WeirantError:
        return []
    ends = sorted((low.value, high.value))
    return [HandResult(question, Figure(label, best.value, k.DISTANCE, method, best.arguments, best.result, (ends[0], ends[1])), "")]


@dataclass(frozen=True)
class LateralGrid:
    """A grid of laterals on a wet area: spacing with its band m, laterals that a width m wants, and the strip m that one line firms."""

    spacing: Figure
    laterals: int
    strip: float
    width: float

    @property
    def one_line_is_enough(self) -> bool:
        """Whether the width is no more than what one line firms."""
        return self.laterals <= 1


def grid_of(outcome: Outcome, width: float, conductivity: Band | None = None, porosity: float | None = None, run: str = "") -> LateralGrid | None:
    """The grid that keeps a wet area of a width dry, by the narrowest spacing of the formulae that hold; None where none can be asked.

    One line firms a strip of one spacing: half of it to each side.
    """
    if not width > 0:
        raise InputError(tr("width of the wet area"), tr("must be more than 0"), width)
    asked = [r for r in hand_methods(outcome, conductivity, porosity, run) if r.question == SPACING]
    holding = [r for r in asked if not r.outside] or asked
    if not holding:
        return None
    spacing = min((r.figure for r in holding), key=lambda figure: figure.value)
    return LateralGrid(spacing, math.ceil(width / spacing.value - 1e-9), spacing.value, width)
