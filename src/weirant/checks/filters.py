"""Filters: the three contacts, soil to separation or stone, stone to soil, stone to pipe; each check is about the make of a stretch that collects."""

from __future__ import annotations

from weirant.checks.judge import judge, say, times
from weirant.errors import InputError
from weirant.ground.stretches import Make
from weirant.job.section import FULL_WRAP, SOCK
from weirant.library import Geotextile
from weirant.methods.geotextile import GeotextileLimits, geotextile_limits
from weirant.methods.granular_filter import granular_filter_limits
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding, Fix, Set, State
from weirant.outcome.outcome import Outcome, SoilFigures
from weirant.units import display as k

NO_4, NO_200 = 4.75e-3, 75e-6
ASSUMED = " The soil's gradation is only assumed from its texture; a sieve test settles it."


def _arguments(soil: SoilFigures, kind: str) -> dict[str, object] | None:
    """Arguments of geotextile-limits for this soil; None where the curve does not reach d85.

    Where the curve ends above d15 or d10 its finest size stands for them: limits come out on the safe side.
    """
    curve = soil.gradation.regraded_on(NO_4)
    d85, fines = curve.size_at(85), curve.percent_finer(NO_200)
    if d85 is None or fines is None:
        return None
    finest = curve.sizes[-1]
    d60 = curve.size_at(60) or d85
    return {"percent_passing_75um": fines, "d85": d85, "d15": curve.size_at(15) or finest,
            "uniformity": max(1.0, curve.uniformity or d60 / finest), "plasticity_index": soil.plasticity_index,
            "soil_conductivity": soil.conductivity.high, "application": "less-critical", "wrap_kind": kind}  # fmt: skip


def _limits(soil: SoilFigures, kind: str) -> GeotextileLimits | None:
    arguments = _arguments(soil, kind)
    return geotextile_limits(**arguments) if arguments else None  # type: ignore[arg-type]


def _wrapped(make: Make) -> bool:
    return make.section.wrap in (FULL_WRAP, SOCK)


def _suitable(outcome: Outcome, make: Make, soil: SoilFigures) -> tuple[Fix, ...]:
    """The first two fabrics of the library that meet every limit here."""
    sock = make.section.wrap == SOCK
    fits = [g for g in outcome.library.geotextiles.values() if (sock or g.roll_width) and _meets(soil, g)]
    return tuple(Fix(g.name, Set(_path(make, "geotextile"), g.key)) for g in fits[:2])


def _path(make: Make, field: str) -> str:
    return f"sections.{make.section.id}.{field}"


def _meets(soil: SoilFigures, fabric: Geotextile) -> bool:
    limits = _limits(soil, fabric.kind)
    return (limits is not None and (limits.o95_min_anticlogging or 0) <= fabric.o95 <= limits.o95_max
            and fabric.permittivity >= limits.permittivity_min and fabric.conductivity >= limits.conductivity_min)  # fmt: skip


def _judged(soil: SoilFigures, state: State) -> tuple[State, str]:
    """A verdict on an assumed curve is not shown as sure."""
    if not soil.gradation_assumed:
        return state, ""
    return (State.TIGHT if state == State.HOLDS else state), ASSUMED


def _unknown(soil: SoilFigures, key: str, title: str) -> Finding:
    return Finding(key, "filters", title, State.UNKNOWN,
                   "The soil's sieve curve does not reach 0.075 mm and 85 % passing. Have it sieved, with a wash.", "fhwa_nhi_07_092",
                   elements=(f"soils.{soil.id}.gradation",))  # fmt: skip


def retention(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """The fabric's openings are small enough to hold the soil back."""
    if not _wrapped(make):
        return None
    fabric, limits = make.geotextile, _limits(soil, make.geotextile.kind)
    if limits is None:
        return _unknown(soil, "retention", "Fabric holds the soil")
    state, assumed = _judged(soil, judge(fabric.o95, limits.o95_max, at_most=True, near=0.0))
    figure = Figure(
        "Largest opening allowed",
        limits.o95_max,
        k.OPENING,
        "geotextile-limits",
        _arguments(soil, fabric.kind) or {},
        "o95_max",
    )
    words = "holds this soil back" if state != State.FAILS else "lets this soil through"
    return Finding("retention", "filters", "Fabric holds the soil", state,
                   f"Openings of {say(outcome, fabric.o95, k.OPENING)} against {say(outcome, limits.o95_max, k.OPENING)} allowed: it {words}.{assumed}",
                   "fhwa_nhi_07_092", fabric.o95, limits.o95_max, k.OPENING, figure=figure,
                   fixes=_suitable(outcome, make, soil) if state == State.FAILS else (), elements=(_path(make, "geotextile"),))  # fmt: skip


def permittivity(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """The fabric lets the water through."""
    if not _wrapped(make):
        return None
    fabric, limits = make.geotextile, _limits(soil, make.geotextile.kind)
    if limits is None:
        return _unknown(soil, "permittivity", "Fabric lets water through")
    state, assumed = _judged(soil, judge(fabric.permittivity, limits.permittivity_min, at_most=False))
    if fabric.conductivity < limits.conductivity_min:
        state = State.FAILS
    figure = Figure(
        "Least permittivity",
        limits.permittivity_min,
        k.PERMITTIVITY,
        "geotextile-limits",
        _arguments(soil, fabric.kind) or {},
        "permittivity_min",
    )
    return Finding("permittivity", "filters", "Fabric lets water through", state,
                   f"Permittivity {say(outcome, fabric.permittivity, k.PERMITTIVITY)} against at least {say(outcome, limits.permittivity_min, k.PERMITTIVITY)}.{assumed}",
                   "fhwa_nhi_07_092 aashto_m288", fabric.permittivity, limits.permittivity_min, k.PERMITTIVITY, at_most=False, figure=figure,
                   fixes=_suitable(outcome, make, soil) if state == State.FAILS else (), elements=(_path(make, "geotextile"),))  # fmt: skip


def clogging(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """The fabric's openings are large enough for the finest grains to pass."""
    if not _wrapped(make):
        return None
    fabric, limits = make.geotextile, _limits(soil, make.geotextile.kind)
    if limits is None:
        return _unknown(soil, "clogging", "Fabric stays open")
    if fabric.open_area is not None and fabric.open_area < outcome.rules.woven_open_area:
        return Finding("clogging", "filters", "Fabric stays open", State.FAILS,
                       f"Only {say(outcome, fabric.open_area, k.SHARE)} of this woven sheet is open; it blinds in silt.", "fhwa_nhi_07_092",
                       fabric.open_area, outcome.rules.woven_open_area, k.SHARE, at_most=False, fixes=_suitable(outcome, make, soil), elements=(_path(make, "geotextile"),))  # fmt: skip
    if limits.o95_min_anticlogging is None:
        return Finding("clogging", "filters", "Fabric stays open", State.TIGHT,
                       "This soil is uniform: take the most open fabric that still holds it.", "fhwa_nhi_07_092", elements=(_path(make, "geotextile"),))  # fmt: skip
    state, assumed = _judged(soil, judge(fabric.o95, limits.o95_min_anticlogging, at_most=False))
    figure = Figure(
        "Least opening against clogging",
        limits.o95_min_anticlogging,
        k.OPENING,
        "geotextile-limits",
        _arguments(soil, fabric.kind) or {},
        "o95_min_anticlogging",
    )
    return Finding("clogging", "filters", "Fabric stays open", state,
                   f"Openings of {say(outcome, fabric.o95, k.OPENING)} against at least {say(outcome, limits.o95_min_anticlogging, k.OPENING)}, so that the finest grains pass.{assumed}",
                   "fhwa_nhi_07_092", fabric.o95, limits.o95_min_anticlogging, k.OPENING, at_most=False, figure=figure,
                   fixes=_suitable(outcome, make, soil) if state == State.FAILS else (), elements=(_path(make, "geotextile"),))  # fmt: skip


def soil_to_stone(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """Without a sheet between them the stone itself must hold the soil back."""
    if make.section.wrap == FULL_WRAP:
        return None
    stone = make.aggregate.coarse_side.size_at(15)
    try:
        limits = granular_filter_limits(soil.gradation)
    except InputError as fault:
        return Finding(
            "soil-stone",
            "filters",
            "Stone against soil",
            State.UNKNOWN,
            f"Not known: {fault}.",
            "neh633_26",
            elements=(f"soils.{soil.id}.gradation",),
        )
    if stone is None:
        return Finding(
            "soil-stone",
            "filters",
            "Stone against soil",
            State.UNKNOWN,
            "The stone's grading does not reach 15 %.",
            "neh633_26",
        )
    state, assumed = _judged(soil, judge(stone, limits.d15_max, at_most=True))
    figure = Figure(
        "Largest D15 of a filter",
        limits.d15_max,
        k.OPENING,
        "granular-filter-limits",
        {"gradation": soil.gradation},
        "d15_max",
    )
    words = "holds the soil back" if state != State.FAILS else "lets the soil wash into its voids"
    fixes = (
        (Fix("Wrap the stone in fabric", Set(_path(make, "wrap"), FULL_WRAP)),)
        if state == State.FAILS
        else ()
    )
    return Finding("soil-stone", "filters", "Stone against soil", state,
                   f"D15 of {say(outcome, stone, k.OPENING)} against {say(outcome, limits.d15_max, k.OPENING)} allowed: the bare stone {words}.{assumed}",
                   "neh633_26 terzaghi_peck", stone, limits.d15_max, k.OPENING, figure=figure, fixes=fixes, elements=(_path(make, "aggregate"), _path(make, "wrap")))  # fmt: skip


def stone_drains(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """The stone lets water through better than the soil (Terzaghi's permeability ratio)."""
    stone, curve = make.aggregate.fine_side.size_at(15), soil.gradation
    soil_d15, soil_d85 = curve.size_at(15) or curve.sizes[-1], curve.size_at(85)
    if stone is None or soil_d85 is None:
        return Finding(
            "stone-drains",
            "filters",
            "Stone lets water through",
            State.UNKNOWN,
            "The gradations do not reach d15 and d85.",
            "terzaghi_peck",
            elements=(f"soils.{soil.id}.gradation",),
        )
    ratio = stone / soil_d15
    arguments = {"filter_d15": stone, "soil_d15": soil_d15, "soil_d85": soil_d85}
    figure = Figure(
        "D15 of the stone over d15 of the soil", ratio, k.RATIO, "terzaghi-filter", arguments, "permeability_ratio"
    )
    limit = outcome.rules.permeability_ratio
    state = judge(ratio, limit, at_most=False)
    if not make.aggregate.washed:
        return Finding("stone-drains", "filters", "Stone lets water through", State.FAILS,
                       f"{make.aggregate.name} carries fines that clog drain and fabric. Use washed stone.", "cp", figure=figure,
                       value=0.0, limit=1.0, kind=k.COUNT, at_most=False, elements=(_path(make, "aggregate"),),
                       fixes=(Fix(outcome.library.aggregate("no-57").name, Set(_path(make, "aggregate"), "no-57")),))  # fmt: skip
    return Finding("stone-drains", "filters", "Stone lets water through", state,
                   f"The stone's D15 is {times(ratio)} the soil's d15; {limit:g} is enough.", "terzaghi_peck", ratio, limit, k.RATIO, at_most=False,
                   figure=figure, elements=(_path(make, "aggregate"),))  # fmt: skip


def stone_to_pipe(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """The stone does not fall through the pipe's openings."""
    d85, pipe = make.aggregate.fine_side.size_at(85), make.pipe
    if d85 is None:
        return Finding(
            "stone-pipe",
            "filters",
            "Stone against openings",
            State.UNKNOWN,
            "The stone's grading does not reach 85 %.",
            "usace_2300",
        )
    ratio, limit = d85 / pipe.opening, outcome.rules.slot_ratio if pipe.opening_shape == "slot" else outcome.rules.hole_ratio
    state = judge(ratio, limit, at_most=False)
    figure = Figure(
        "D85 of the stone over the opening",
        ratio,
        k.RATIO,
        "stone-perforation",
        {"stone_d85": d85, "opening": pipe.opening},
        "ratio",
    )
    shape = "slots" if pipe.opening_shape == "slot" else "holes"
    fixes = []
    if state == State.FAILS:
        coarser = [
            a
            for a in outcome.library.aggregates.values()
            if a.washed and (a.fine_side.size_at(85) or 0) >= limit * 1.1 * pipe.opening
        ]
        fixes = [Fix(a.name, Set(_path(make, "aggregate"), a.key)) for a in coarser[-1:]]
        fixes.append(Fix("A sock on the pipe", Set(_path(make, "wrap"), SOCK)))
    return Finding("stone-pipe", "filters", "Stone against openings", state,
                   f"The stone's D85 is {times(ratio)} the {say(outcome, pipe.opening, k.OPENING)} {shape}.", "usace_2300", ratio, limit, k.RATIO,
                   at_most=False, figure=figure, fixes=tuple(fixes), elements=(_path(make, "aggregate"),))  # fmt: skip


def separation(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """A sock leaves the stone open to the soil; say so."""
    if make.section.wrap != SOCK:
        return None
    area = make.pipe.outer_diameter * 3.1416
    girth = 2 * (make.section.width + make.natural_stone)
    return Finding("sock", "filters", "Sock or full wrap", State.TIGHT,
                   f"The sock offers the water {area / girth:.0%} of the area a full wrap would, and soil may settle in the stone's voids.", "cp",
                   fixes=(Fix("Full wrap round the stone", Set(_path(make, "wrap"), FULL_WRAP)),), elements=(_path(make, "wrap"),))  # fmt: skip


STRETCH = (retention, permittivity, clogging, soil_to_stone, stone_drains, stone_to_pipe, separation)
