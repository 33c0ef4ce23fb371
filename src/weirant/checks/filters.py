"""Filters: the three contacts, soil to separation or stone, stone to soil, stone to pipe; each check is about the make of a stretch that collects."""

from __future__ import annotations

from functools import partial

from weirant.checks.judge import judge
from weirant.errors import InputError
from weirant.ground.stretches import Make
from weirant.job.section import FULL_WRAP, SOCK
from weirant.language import tr
from weirant.library import Geotextile
from weirant.methods.geotextile import COHESIVE, PLASTIC, GeotextileLimits, geotextile_limits
from weirant.methods.granular_filter import granular_filter_limits
from weirant.outcome.commands import Set
from weirant.outcome.facts import Amount, Facts, Times
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome, SoilFigures
from weirant.units import display as k

NO_4, NO_200 = 4.75e-3, 75e-6
MANY_SIZES = 8.0  # coefficient of uniformity from which on B is 1


def _arguments(soil: SoilFigures, kind: str, application: str) -> dict[str, object] | None:
    """Arguments of geotextile-limits for this soil; None where the curve does not reach d85.

    Where the curve ends above d15 its finest size stands for it. Where it ends above d10 nobody knows how uniform the soil is: it is taken as of many
    sizes, for which B is least.
    """
    curve = soil.gradation.regraded_on(NO_4)
    d85, fines = curve.size_at(85), curve.percent_finer(NO_200)
    if d85 is None or fines is None:
        return None
    finest = curve.sizes[-1]
    return {"percent_passing_75um": fines, "d85": d85, "d15": curve.size_at(15) or finest,
            "uniformity": max(1.0, curve.uniformity or MANY_SIZES), "plasticity_index": soil.plasticity_index,
            "soil_conductivity": soil.conductivity.high, "application": application, "wrap_kind": kind}  # fmt: skip


def limits_of_cloth(soil: SoilFigures, kind: str, application: str) -> GeotextileLimits | None:
    """What a cloth of a kind, nonwoven or woven, must be beside a soil, by what hangs on it; None where the soil's curve does not tell."""
    arguments = _arguments(soil, kind, application)
    return geotextile_limits(**arguments) if arguments else None  # type: ignore[arg-type]


def _wrapped(make: Make) -> bool:
    return make.section.is_lined or make.section.is_socked


def _suitable(outcome: Outcome, make: Make, soil: SoilFigures) -> tuple[Fix, ...]:
    """The first two fabrics of the library that meet every limit here."""
    sock = make.section.is_socked
    fits = [g for g in outcome.library.geotextiles.values() if (sock or g.roll_width) and _meets(outcome, soil, g)]
    return tuple(Fix("take-product", Set(_path(make, "geotextile"), g.key), {"product": g.name}) for g in fits[:2])


def _path(make: Make, field: str) -> str:
    return f"sections.{make.section.id}.{field}"


def _meets(outcome: Outcome, soil: SoilFigures, fabric: Geotextile) -> bool:
    limits = limits_of_cloth(soil, fabric.kind, outcome.job.limits.filters)
    return (limits is not None and (limits.o95_min_anticlogging or 0) <= fabric.finest and fabric.o95 <= limits.o95_max
            and fabric.permittivity >= limits.permittivity_min and fabric.conductivity >= limits.conductivity_min)  # fmt: skip


def _judged(soil: SoilFigures, state: State) -> State:
    """A verdict on an assumed curve is not shown as sure."""
    return State.TIGHT if soil.gradation_assumed and state == State.HOLDS else state


def _unknown(soil: SoilFigures) -> Finding:
    return Finding(State.UNKNOWN, source="fhwa_nhi_07_092", elements=(soil.path("gradation"),))


def _limit(outcome: Outcome, label: str, value: float, kind: k.Kind, soil: SoilFigures, fabric: Geotextile, result: str) -> Figure:
    """A limit of the fabric, with what it follows from."""
    return Figure(label, value, kind, "geotextile-limits", _arguments(soil, fabric.kind, outcome.job.limits.filters) or {}, result)


def retention(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """The fabric's openings are small enough to hold the soil back, also that over it."""
    if not _wrapped(make) and not make.section.is_covered:
        return None
    fabric, limits = make.geotextile, limits_of_cloth(soil, make.geotextile.kind, outcome.job.limits.filters)
    if limits is None:
        return _unknown(soil)
    state = _judged(soil, judge(fabric.o95, limits.o95_max, at_most=True, near=0.0))
    fines = soil.gradation.regraded_on(NO_4).percent_finer(NO_200) or 0.0
    if state == State.FAILS and fines > 50 and soil.plasticity_index > PLASTIC and fabric.o95 <= COHESIVE:
        return Finding(State.TIGHT, "cohesive", source="aashto_m288 fhwa_nhi_07_092", facts={"index": soil.plasticity_index, "lets": Amount(COHESIVE, k.OPENING)},
                       value=fabric.o95, limit=limits.o95_max, kind=k.OPENING, elements=(_path(make, "geotextile"), soil.path("plasticity_index")))  # fmt: skip
    figure = _limit(outcome, tr("Largest opening allowed"), limits.o95_max, k.OPENING, soil, fabric, "o95_max")
    return Finding(state, source="fhwa_nhi_07_092", facts={"assumed": soil.gradation_assumed}, value=fabric.o95, limit=limits.o95_max, kind=k.OPENING, figure=figure,
                   fixes=_suitable(outcome, make, soil) if state == State.FAILS else (), elements=(_path(make, "geotextile"),))  # fmt: skip


def permittivity(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """The fabric lets the water through."""
    if not _wrapped(make):
        return None
    fabric, limits = make.geotextile, limits_of_cloth(soil, make.geotextile.kind, outcome.job.limits.filters)
    if limits is None:
        return _unknown(soil)
    state = _judged(soil, judge(fabric.permittivity, limits.permittivity_min, at_most=False))
    if fabric.conductivity < limits.conductivity_min:
        state = State.FAILS
    figure = _limit(outcome, tr("Least permittivity"), limits.permittivity_min, k.PERMITTIVITY, soil, fabric, "permittivity_min")
    return Finding(state, source="fhwa_nhi_07_092 aashto_m288", facts={"assumed": soil.gradation_assumed}, value=fabric.permittivity, limit=limits.permittivity_min,
                   kind=k.PERMITTIVITY, at_most=False, figure=figure, fixes=_suitable(outcome, make, soil) if state == State.FAILS else (),
                   elements=(_path(make, "geotextile"),))  # fmt: skip


def clogging(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """The fabric's openings are large enough for the finest grains to pass."""
    if not _wrapped(make):
        return None
    fabric, limits = make.geotextile, limits_of_cloth(soil, make.geotextile.kind, outcome.job.limits.filters)
    if limits is None:
        return _unknown(soil)
    said = partial(Finding, source="fhwa_nhi_07_092", elements=(_path(make, "geotextile"),))
    if fabric.open_area is not None and fabric.open_area < outcome.rules.woven_open_area:
        return said(State.FAILS, "woven", value=fabric.open_area, limit=outcome.rules.woven_open_area, kind=k.SHARE, at_most=False, fixes=_suitable(outcome, make, soil))
    least = limits.o95_min_anticlogging
    if least is None:
        return said(State.TIGHT, "uniform")
    state = _judged(soil, judge(fabric.finest, least, at_most=False))
    figure = _limit(outcome, tr("Least opening against clogging"), least, k.OPENING, soil, fabric, "o95_min_anticlogging")
    return said(state, facts={"assumed": soil.gradation_assumed}, value=fabric.finest, limit=least, kind=k.OPENING, at_most=False, figure=figure,
                fixes=_suitable(outcome, make, soil) if state == State.FAILS else ())  # fmt: skip


def soil_to_stone(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """Without a sheet between them the stone itself must hold the soil back."""
    section = make.section
    if not section.is_bare_at and not section.is_in_sand:
        return None
    stone = make.against_soil.coarse_side.size_at(15)
    try:
        limits = granular_filter_limits(soil.gradation)
    except InputError as fault:
        return Finding(State.UNKNOWN, "soil", source="neh633_26", facts={"why": str(fault)}, elements=(soil.path("gradation"),))
    if stone is None:
        return Finding(State.UNKNOWN, "stone", source="neh633_26")
    state = _judged(soil, judge(stone, limits.d15_max, at_most=True))
    figure = Figure(tr("Largest D15 of a filter"), limits.d15_max, k.OPENING, "granular-filter-limits", {"gradation": soil.gradation}, "d15_max")
    fixes = (Fix("wrap-stone", Set(_path(make, "wrap"), FULL_WRAP)),) if state == State.FAILS else ()
    bare, sand = section.is_bare_at, section.is_in_sand
    facts: Facts = {"assumed": soil.gradation_assumed, "above": bare == "over", "under": bare == "under", "sand": sand, "stone": not sand}
    return Finding(state, source="neh633_26 terzaghi_peck", facts=facts, value=stone, limit=limits.d15_max, kind=k.OPENING,
                   figure=figure, fixes=fixes, elements=(_path(make, "sand" if sand else "aggregate"), _path(make, "wrap")))  # fmt: skip


def stone_drains(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """The stone lets water through better than the soil (Terzaghi's permeability ratio)."""
    if not make.section.has_stone:
        return None
    if not make.aggregate.washed:  # whatever else is not known
        clean = outcome.library.aggregate("no-57")
        return Finding(State.FAILS, "dirty", source="cp", facts={"stone": make.aggregate.name}, value=0.0, limit=1.0, kind=k.COUNT, at_most=False,
                       fixes=(Fix("take-product", Set(_path(make, "aggregate"), clean.key), {"product": clean.name}),), elements=(_path(make, "aggregate"),))  # fmt: skip
    stone, curve = make.against_soil.fine_side.size_at(15), soil.gradation
    soil_d15, soil_d85 = curve.size_at(15) or curve.sizes[-1], curve.size_at(85)
    if stone is None or soil_d85 is None:
        return Finding(State.UNKNOWN, source="terzaghi_peck", elements=(soil.path("gradation"),))
    ratio, limit = stone / soil_d15, outcome.rules.permeability_ratio
    figure = Figure(tr("D15 of the stone over d15 of the soil"), ratio, k.RATIO, "terzaghi-filter",
                    {"filter_d15": stone, "soil_d15": soil_d15, "soil_d85": soil_d85}, "permeability_ratio")  # fmt: skip
    said = partial(Finding, at_most=False, figure=figure, elements=(_path(make, "aggregate"),))
    return said(judge(ratio, limit, at_most=False), source="terzaghi_peck", facts={"ratio": Times(ratio), "enough": limit}, value=ratio, limit=limit, kind=k.RATIO)


def stone_to_pipe(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """The stone does not fall through the pipe's openings."""
    if not make.section.has_stone:
        return None
    d85, pipe = make.aggregate.fine_side.size_at(85), make.pipe
    if d85 is None:
        return Finding(State.UNKNOWN, source="usace_2300")
    is_in_sock = make.section.wrap == SOCK and make.geotextile.o95 < pipe.opening  # then the stone lies against the fabric
    opening, slots = (make.geotextile.o95, False) if is_in_sock else (pipe.opening, pipe.opening_shape == "slot")
    ratio, limit = d85 / opening, outcome.rules.slot_ratio if slots else outcome.rules.hole_ratio
    state = judge(ratio, limit, at_most=False)
    figure = Figure(tr("D85 of the stone over the opening"), ratio, k.RATIO, "stone-perforation", {"stone_d85": d85, "opening": opening}, "ratio")
    fixes = []
    if state == State.FAILS:
        coarser = [a for a in outcome.library.aggregates.values() if a.washed and (a.fine_side.size_at(85) or 0) >= limit * 1.1 * opening]
        coarser.sort(key=lambda a: a.fine_side.size_at(85) or 0)
        fixes = [Fix("take-product", Set(_path(make, "aggregate"), a.key), {"product": a.name}) for a in coarser[:1]]
        if make.section.wrap != SOCK:
            fixes.append(Fix("sock", Set(_path(make, "wrap"), SOCK)))
    sure = outcome.rules.sure_ratio
    differ = state != State.FAILS and ratio < sure
    facts: Facts = {"ratio": Times(ratio), "opening": Amount(opening, k.OPENING), "slots": slots, "holes": not slots and not is_in_sock, "sock": is_in_sock,
                    "enough": limit, "sure": sure}  # fmt: skip
    said = partial(Finding, facts=facts, value=ratio, limit=limit, kind=k.RATIO, at_most=False, figure=figure, fixes=tuple(fixes), elements=(_path(make, "aggregate"),))
    return said(State.TIGHT, "differ", source="usace_2300 usbr_drainage") if differ else said(state, source="usace_2300 neh633_26")


def separation(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """A sock leaves the stone open to the soil; say so."""
    if not make.section.is_socked:
        return None
    if not make.section.has_stone:
        return Finding(State.TIGHT, "soil", source="cp", facts={"area": Amount(make.passed, k.SECTION)}, fixes=(Fix("stone-round", Set(_path(make, "wrap"), SOCK)),),
                       elements=(_path(make, "wrap"),))  # fmt: skip
    share = Amount(make.passed / (2 * (make.section.width + make.natural_stone)), k.SHARE)
    return Finding(State.TIGHT, source="cp", facts={"share": share}, fixes=(Fix("full-wrap", Set(_path(make, "wrap"), FULL_WRAP)),), elements=(_path(make, "wrap"),))


STRETCH = {"retention": retention, "permittivity": permittivity, "clogging": clogging, "soil-stone": soil_to_stone, "stone-drains": stone_drains,
           "stone-pipe": stone_to_pipe, "sock": separation}  # fmt: skip
