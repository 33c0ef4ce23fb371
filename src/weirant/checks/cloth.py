"""The cloth in itself: strong enough to come through the laying, and what head it costs the water; and whether the soil beside it holds together."""

from __future__ import annotations

import math
from functools import partial

from weirant.checks.judge import judge
from weirant.errors import InputError
from weirant.ground.stretches import Make
from weirant.job.section import DRESSED_TOP, LINING
from weirant.language import tr
from weirant.methods.cloth import cloth_head, cloth_strength
from weirant.methods.geotextile import PLASTIC
from weirant.methods.gradation import NO_200
from weirant.methods.internal_stability import internal_stability, is_stable
from weirant.outcome.commands import Set
from weirant.outcome.facts import Amount, Facts, Times
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome, SoilFigures
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

# percent finer than No. 200 that cannot make a soil plastic (ASTM D2487 calls it clean under that), and percent at which a curve tells too little of its fines (cp)
FEW_FINES, STOPS_AT = 5.0, 30.0
CLOGGED = 0.9  # of its permittivity that a cloth may lose in the ground (FHWA NHI-07-092 takes factors of 1.5 to 10 for partial clogging; recalled)


def soil_stability(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """The soil's own fine grains stay between its coarse ones; asked of sieved soils without plasticity."""
    if soil.gradation_assumed or soil.plasticity_index > PLASTIC:
        return None
    said = partial(Finding, source="kenney_lau1985 burenkova1993", elements=(soil.path("gradation"),))
    try:
        found = internal_stability(soil.gradation)
    except InputError as fault:
        return said(State.UNKNOWN, facts={"why": str(fault)})
    stable = is_stable(found)
    figure = Figure(tr("Least H over F"), found.least_ratio, k.RATIO, "internal-stability", {"gradation": soil.gradation}, "least_ratio")
    facts: Facts = {"size": Amount(found.at_size, k.OPENING), "spread": Times(found.spread)}
    said = partial(said, facts=facts, value=found.least_ratio, limit=1.0, kind=k.RATIO, at_most=False, figure=figure)
    if all(stable):
        return said(State.HOLDS)
    return said(State.TIGHT, "differ" if any(stable) else "loose")


def soil_tests(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """What the laboratory says of a soil hangs together, and goes far enough down for its filters to be judged."""
    if soil.gradation_assumed:
        return None
    typed = next(s.layers[soil.layer].plasticity_index for s in outcome.job.soils if s.id == soil.id)
    fines, curve = soil.gradation.percent_finer(NO_200), soil.gradation
    said = partial(Finding, source="astm_d2487", elements=(soil.path("gradation"), soil.path("plasticity_index")))
    if typed is not None and typed > PLASTIC and fines is not None and fines < FEW_FINES:
        return said(State.TIGHT, "contradict", facts={"index": typed, "fines": Amount(fines / 100, k.SHARE)})
    if curve.percents[-1] > STOPS_AT:
        return said(State.TIGHT, "stops", facts={"left": Amount(curve.percents[-1] / 100, k.SHARE), "size": Amount(curve.sizes[-1], k.OPENING)})
    return None


def cloth_strong(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The cloth round the stone has the class of strength that the stone and the depth ask; told of the stretch that lacks most."""
    if found.grade is None:
        return None
    asked = []
    for stretch in found.stretches:
        if not stretch.is_solid and (stretch.make.section.is_lined or stretch.make.section.is_covered):
            asked.append(_strong(outcome, stretch.make, float(found.grade.cut[stretch.holds(found.grade.stations)].max(initial=0.01))))
    return min(asked, key=lambda f: f.state.rank, default=None)


def _strong(outcome: Outcome, make: Make, deepest: float) -> Finding:
    largest = make.aggregate.coarse_side.size_at(95) or make.aggregate.coarse_side.sizes[0]  # what is called its size: few are larger
    wanted, has, path = int(cloth_strength(largest, deepest)), make.geotextile.strength, f"sections.{make.section.id}.geotextile"
    said = partial(Finding, source="aashto_m288", elements=(path,), facts={"wanted": wanted, "has": has, "stone": Amount(largest, k.SECTION)})
    if has is not None and has <= wanted:
        return said(State.HOLDS)
    if has is None and make.geotextile.source == "user":
        return said(State.UNKNOWN)
    fits = [g for g in outcome.library.geotextiles.values() if g.roll_width and g.kind == make.geotextile.kind and g.strength is not None and g.strength <= wanted
            and g.o95 <= make.geotextile.o95]  # fmt: skip
    fits.sort(key=lambda g: g.mass)
    return said(State.TIGHT, fixes=tuple(Fix("take-product", Set(path, g.key), {"product": g.name}) for g in fits[:1]))


def cloth_costs(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Head lost in the cloth, new and with most of its permittivity gone, for the most that comes in the wet season, or in the design storm once that was
    simulated; of the stretch that loses most.
    """
    water = found.water
    if water is None or found.run.collecting_length < 0.1 or any(part.inflow is None for part in water.parts):
        return None
    rate, is_storm = max(seep.rate for seep in water.inflow_high.seeps) + water.storm_flow / found.run.collecting_length, False
    if found.storm is not None and found.storm.is_simulated and (peak := max(seep.rate for seep in water.inflow_storm.seeps)) > rate:
        rate, is_storm = peak, True
    worst: tuple[float, Make, dict[str, float]] | None = None
    for stretch in found.stretches:
        make = stretch.make
        if stretch.is_solid or not (make.section.is_lined or make.section.is_socked) or rate <= 0 or make.geotextile.permittivity <= 0:
            continue
        girth, doubled = _girth(make)
        arguments = {"inflow_per_length": rate, "girth": girth, "permittivity": make.geotextile.permittivity, "layers": 1.0, "doubled": doubled, "clogged_fraction": CLOGGED}
        head = cloth_head(**arguments).head
        if worst is None or head > worst[0]:
            worst = head, make, arguments
    if worst is None:
        return None
    head, make, arguments = worst
    limit = outcome.rules.head_in_cloth
    new, twice = (cloth_head(**{**arguments, "clogged_fraction": 0.0, "layers": layers}).head for layers in (1.0, 2.0))
    figure = Figure(tr("Head lost in the cloth, mostly clogged"), head, k.OPENING, "cloth-head", arguments, "head")
    facts: Facts = {"new": Amount(new, k.OPENING), "twice": Amount(twice, k.OPENING), "clogged": Amount(CLOGGED, k.SHARE), "sock": make.section.is_socked, "storm": is_storm}
    return Finding(State.HOLDS if judge(head, limit, at_most=True) != State.FAILS else State.TIGHT, source="fhwa_nhi_07_092 cp", facts=facts, value=head, limit=limit, kind=k.OPENING,
                   figure=figure, elements=(f"sections.{make.section.id}.geotextile", f"sections.{make.section.id}.overlap"))  # fmt: skip


def _girth(make: Make) -> tuple[float, float]:
    """Length m of cloth that water passes in a section, and of that what overlaps: the trench's sides and floor and the top of the stone, or the sock."""
    if make.section.is_socked:
        return math.pi * make.pipe.outer_diameter, 0.0
    return make.passed, min(make.section.overlap, make.passed) if make.section.is_covered else 0.0


def cloth_under_turf(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Sod has earth enough over cloth: its roots do not go through, and over shallow cloth it dies in the first dry month. Told where there is least."""
    if found.grade is None:
        return None
    least: tuple[float, float, Make] | None = None
    for stretch in found.stretches:
        here, make = stretch.holds(found.grade.stations), stretch.make
        if stretch.is_solid or not make.section.is_covered or make.section.pavement > 0 or make.section.top == DRESSED_TOP or not here.any():
            continue
        over = (found.grade.cut - make.stone(found.grade.cut))[here]
        at = int(over.argmin())
        if over[at] > 0 and (least is None or over[at] < least[0]):
            least = float(over[at]), float(found.grade.stations[here][at]), make
    if least is None:
        return None
    cover, station, make = least
    limit, path = outcome.rules.turf_over_cloth, f"sections.{make.section.id}"
    fixes = (Fix("line-it", Set(f"{path}.wrap", LINING)),) if cover < limit and make.section.is_lined else ()
    return Finding(State.TIGHT if cover < limit else State.HOLDS, source="cp", value=cover, limit=limit, kind=k.DEPTH, at_most=False, station=station, fixes=fixes,
                   elements=(f"{path}.stone_cover", f"{path}.wrap"))  # fmt: skip


STRETCH = {"soil-tests": soil_tests, "soil-stability": soil_stability}
RUN = {"cloth-under-turf": cloth_under_turf, "cloth-strength": cloth_strong, "cloth-head": cloth_costs}
