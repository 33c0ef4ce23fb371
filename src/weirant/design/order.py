"""From the bill to an order: what is sold, in what it is sold in, with the waste that the job sets and the plan by which lengths and rolls are cut."""

from __future__ import annotations

import dataclasses
import math
from collections import defaultdict
from collections.abc import Collection, Iterator, Sequence
from decimal import ROUND_CEILING, Decimal
from functools import partial

from weirant.design.bill import (
    BACKFILL,
    DRESSES,
    DUG,
    HOLES,
    IN_HARD,
    IN_ROCK,
    LETS_NONE_IN,
    PLOUGHED_IN,
    SPOIL,
    TURF,
    bill_of,
)
from weirant.design.laid_parts import pieces_of_pipe
from weirant.design.takeoff import LAP
from weirant.errors import InputError
from weirant.job.products import HoleRow
from weirant.job.work_terms import HAULED
from weirant.language import ntr, tr
from weirant.library import shipped, with_own
from weirant.library.each import each_words
from weirant.library.parts import Part, parts, parts_by
from weirant.methods.cloth_cut import cloth_cut
from weirant.methods.cutting_stock import FEW_JOINTS, CuttingPlan, cutting_plan
from weirant.methods.spoil import spoil_spread
from weirant.outcome.bill import CLOTH, DIG, PART, PIPE, STONE, TOP, Bill, Origin
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import OrderLine
from weirant.records import dataclass
from weirant.units import display as k
from weirant.units.display import shown

TON, YARD, FOOT = 907.18474, 0.764554857984, 0.3048
BARROW, BAG = 0.085, 22.68  # m³ (3 ft³) in a barrow, kg (50 lb) in a bag (common practice, no source)
SPREAD_OUT = "spread"  # spoil that stays
EARTH = {DUG: tr("Dig"), IN_HARD: tr("Of it in the hard layer"), IN_ROCK: tr("Of it in solid rock"),
         BACKFILL: tr("Backfill"), SPOIL: tr("Spoil to haul away, loose"), SPREAD_OUT: tr("Spoil to spread, loose"),
         PLOUGHED_IN: tr("Pipe to plough in"), TURF: tr("Turf to cut and lay again")}
LOOSE = 1500.0  # kg/m³ of dug earth on a truck (common practice, no source)
SPREAD = 1.8288  # m (6 ft) beside the trench over which spoil is spread (common practice, no source)
STRIP, KEEPS = (0.3048, 1.2192), 3  # m wide (12 in) and long (4 ft) that a cutter leaves; days that turf keeps off the ground (common practice, no source)
BUCKET, PALLET = 0.3, 40  # m³ in the bucket of a small loader, bags on a pallet (common practice, no source)
RANK = {what: number for number, what in enumerate((PIPE, STONE, CLOTH, TOP, PART, DIG))}  # in which order they are told
SAME = 0.01  # m by which two lengths that are sold may differ and be one
STEP = Decimal("0.1")  # tons and yards in which stone is sold


@dataclass(frozen=True)
class PipeCut:
    """The plan for one pipe of the library, solid or not, with where each of its pieces lies."""

    key: str
    size: str
    plan: CuttingPlan
    origins: tuple[Origin, ...]
    pieces: tuple[float, ...]


def pipe_cuts(outcome: Outcome, bill: Bill, prefer: str = FEW_JOINTS) -> dict[tuple[str, str], PipeCut]:
    """How the pieces of every pipe in a bill are cut out of the coils or sticks that it comes in, by its key and whether it is solid."""
    laid: dict[tuple[str, str], list[tuple[Origin, float]]] = defaultdict(list)
    wanted = {row.origin for row in bill.rows if row.what == PIPE}
    for origin, stretch, length in pieces_of_pipe(outcome):
        if origin in wanted:
            laid[stretch.make.pipe.key, LETS_NONE_IN if stretch.is_solid else ""].append((origin, length))
    found = {}
    for (key, size), of in laid.items():
        origins, pieces = zip(*of, strict=True)
        found[key, size] = PipeCut(key, size, cutting_plan(pieces, outcome.library.pipe(key).supply_length, prefer), origins, pieces)
    return found


def order_of(outcome: Outcome, prefer: str = FEW_JOINTS, bill: Bill | None = None) -> tuple[OrderLine, ...]:
    """Every line of the order; in the order of the bill, what is of one kind together."""
    bill = bill or bill_of(outcome)
    cuts = pipe_cuts(outcome, bill, prefer)
    lines: list[OrderLine] = []
    for (what, key, size), amount in bill.totals().items():
        origins = bill.origins((what, key, size))
        if what == PIPE:
            lines.append(_pipe(outcome, amount, cuts[key, size], origins))
        elif what == STONE:
            lines.append(_stone(outcome, key, amount, origins))
        elif what == CLOTH:
            lines.append(_cloth(outcome, key, amount, origins))
        elif key == TURF:
            lines.append(_turf_line(outcome, amount, origins))
        elif key == HOLES:
            lines.append(OrderLine(DIG, key, size, called(outcome, what, key, size), amount, _up(amount), "piece", rows_words(outcome, size), origins, {"piece": _up(amount)}))
        elif key == PLOUGHED_IN:
            lines.append(OrderLine(DIG, key, "", EARTH[key], amount, _exact(amount), "m", "", origins, sold_by("m", amount)))
        elif key == SPOIL:
            lines.append(_spoil(outcome, amount, origins))
        elif what in (DIG, TOP):
            lines.append(_by_volume(what, key, called(outcome, what, key, size), amount, origins, outcome.job.work.truck))
        elif what == PART:
            lines.append(_part(outcome, key, size, amount, origins, any(row.to_be_found for row in bill.rows if row.of == (what, key, size))))
    return tuple(sorted(lines, key=lambda line: RANK[line.what]))


def _up(value: float, step: Decimal = Decimal(1)) -> Decimal:
    return (Decimal(repr(round(value, 6))) / step).to_integral_value(ROUND_CEILING) * step


def _exact(value: float) -> Decimal:
    return Decimal(repr(round(value, 4)))


def _stone(outcome: Outcome, key: str, volume: float, origins: tuple[Origin, ...]) -> OrderLine:
    stone, more, truck = outcome.library.aggregate(key), 1 + outcome.job.limits.waste, outcome.job.work.truck
    mass = volume * stone.bulk_density * more
    metric = outcome.job.units == k.System.METRIC.value
    unit, one = ("t", 1000.0) if metric else ("ton", TON)
    sold = _up(mass / one, STEP)
    bought = float(sold) * one
    sold_as = {"t": _exact(bought / 1000), "ton": _exact(bought / TON), "kg": _exact(bought), "lb": _exact(bought / 0.45359237), "m3": _exact(bought / stone.bulk_density),
               "yd3": _exact(bought / stone.bulk_density / YARD), "load": _up(bought / truck), "bag": _up(bought / BAG), "pallet": _up(bought / BAG / PALLET)}  # fmt: skip
    system = k.System(outcome.job.units)
    note = tr("{density} as placed, dry: wet from the washer some 3 % more; waste {waste:.0f} %; truck loads of {truck}: {loads}; barrow loads: {barrows}; loader buckets: {buckets}",
              density=shown(stone.bulk_density, k.DENSITY, system), waste=100 * outcome.job.limits.waste, truck=shown(truck, k.MASS, system), loads=int(sold_as["load"]),
              barrows=math.ceil(volume * more / BARROW),
              buckets=math.ceil(volume * more / BUCKET))
    if sold_as["load"] > 1:
        fills = _trench_length(outcome, origins) * truck / bought
        note += tr("; a load fills {length} of trench in the mean: order the next when half of that lies", length=shown(fills, k.DISTANCE, system))
    return OrderLine(STONE, key, "", stone.name, volume, sold, unit, note, origins, sold_as)


def _cloth(outcome: Outcome, key: str, area: float, origins: tuple[Origin, ...]) -> OrderLine:
    """By the roll where it comes on one, each stretch cut for itself; by the length of pipe where it comes as a sock."""
    cloth, more = outcome.library.geotextile(key), 1 + outcome.job.limits.waste
    if cloth.roll_width is None:
        sold = _up(area * more)
        return OrderLine(CLOTH, key, "", cloth.name, area, sold, "m2", tr("as a sock, waste {waste:.0f} %", waste=100 * outcome.job.limits.waste), origins, _areas(float(sold)))
    used, across = 0.0, 0
    for girth, length in _girths(outcome, key, origins):
        if girth > max(cloth.roll_width, cloth.roll_length):
            raise InputError(tr("roll of {cloth}", cloth=cloth.name), tr("is neither wide nor long enough to go round the stone, {girth}: take a larger one in step 7, how it is sold",
                                                                         girth=shown(girth, k.DISTANCE, k.System(outcome.job.units))), "")  # fmt: skip
        cut = cloth_cut(girth, length, cloth.roll_width, cloth.roll_length, min(LAP, cloth.roll_width / 2))
        used, across = used + cut.roll_used, across + int(cut.across)
    rolls = _up(used * more / cloth.roll_length)
    long = partial(shown, kind=k.DISTANCE, system=k.System(outcome.job.units))
    note = tr("{used} of a roll {width} wide and {roll} long, waste {waste:.0f} %", used=long(used), width=long(cloth.roll_width), roll=long(cloth.roll_length),
              waste=100 * outcome.job.limits.waste)
    if across:
        note += ntr("; laid across the roll at {n} place: it is too narrow to go round lengthways, or less is left so",
                    "; laid across the roll at {n} places: it is too narrow to go round lengthways, or less is left so", across)
    whole = {} if _is_sold_otherwise(outcome, key) else {"roll": rolls}
    return OrderLine(CLOTH, key, "", cloth.name, area, rolls, "roll", note, origins, whole | _areas(used * more * cloth.roll_width))


def _is_sold_otherwise(outcome: Outcome, key: str) -> bool:
    """Whether a pipe or a cloth is bought for the job in another size than the usual one, which the price of a coil or a roll is for."""
    products = outcome.job.products
    sold = next((one for one in products.sold_in if one.key == key), None)
    if sold is None:
        return False
    usual = with_own(shipped(), dataclasses.replace(products, sold_in=()))
    if key in usual.pipes:
        return sold.length is not None and abs(sold.length - usual.pipes[key].supply_length) > SAME
    cloth = usual.geotextiles[key]
    return abs((sold.length or cloth.roll_length) - cloth.roll_length) > SAME or abs((sold.width or cloth.roll_width or 0.0) - (cloth.roll_width or 0.0)) > SAME


def _areas(area: float) -> dict[str, Decimal]:
    return {"m2": _exact(area), "ft2": _exact(area / FOOT**2), "yd2": _exact(area / (3 * FOOT) ** 2)}


def _girths(outcome: Outcome, key: str, origins: Collection[Origin]) -> Iterator[tuple[float, float]]:
    """Girth m of the cloth in the mean and length m of every stretch of some that has it on the trench."""
    for found in outcome.site.runs:
        for stretch, amounts in zip(found.stretches, found.amounts_of, strict=False):
            area = amounts.of("fabric").get(key, 0.0)
            if area > 0 and stretch.high > stretch.low and Origin(found.id, stretch.id) in origins:
                yield area / (stretch.high - stretch.low), stretch.high - stretch.low


def _pipe(outcome: Outcome, metres: float, cut: PipeCut, origins: tuple[Origin, ...]) -> OrderLine:
    pipe, count = outcome.library.pipe(cut.key), len(cut.plan.cuts)
    bought, left = count * pipe.supply_length, sum(cut.plan.left)
    long = partial(shown, kind=k.DISTANCE, system=k.System(outcome.job.units))
    note = ntr("{count} of {length} for {laid} in {n} piece; joints within it: {joints}; {left} left over",
               "{count} of {length} for {laid} in {n} pieces; joints within them: {joints}; {left} left over",
               len(cut.pieces), count=count, length=long(pipe.supply_length), laid=long(metres), joints=cut.plan.joints, left=long(left))
    if count > cut.plan.at_least:
        note += tr("; no plan does with fewer than {least}", least=cut.plan.at_least)
    # a price by the coil or stick is for the usual length; of another it is told by that, such as 250 ft
    whole = {} if _is_sold_otherwise(outcome, cut.key) else {pipe.supply: Decimal(count), "piece": Decimal(count)}
    by_length = {"m": _exact(bought), "ft": _exact(bought / FOOT)}
    return OrderLine(PIPE, cut.key, cut.size, pipe.called(cut.size == LETS_NONE_IN), metres, Decimal(count), pipe.supply, note, origins, whole | by_length)


def called(outcome: Outcome, what: str, key: str, size: str) -> str:
    """What a thing of a bill is called."""
    library = outcome.library
    if what == PIPE:
        return library.pipe(key).called(size == LETS_NONE_IN)
    if what == PART:
        name = next(part.name for part in parts_by(outcome.job.parts) if part.key == key)
        return tr("{part} for {pipe}", part=name, pipe=library.pipe(size).kind) if size else name
    if what in (STONE, CLOTH):
        return library.aggregate(key).name if what == STONE else library.geotextile(key).name
    if key == HOLES:
        return tr("Holes to drill in {pipe}", pipe=library.pipe(size).kind)
    return tr("Stone that dresses the top") if key == DRESSES else EARTH[key]


def rows_words(outcome: Outcome, key: str) -> str:
    """The pattern in which a pipe of one's own is drilled."""
    rows = next(pipe.rows for pipe in outcome.job.products.pipes if pipe.key == key)
    return pattern_words(rows, k.System(outcome.job.units))


def pattern_words(rows: Sequence[HoleRow], system: k.System) -> str:
    """Rows of holes in words."""
    size = partial(shown, kind=k.SECTION, system=system)
    return "; ".join(tr("{hole} every {spacing} at {angle:g}°", hole=size(row.diameter), spacing=size(row.spacing), angle=row.angle)
                     + (tr(" on both sides") if row.count == 2 else "") for row in rows)  # fmt: skip


def _by_volume(what: str, key: str, name: str, volume: float, origins: tuple[Origin, ...], truck: float) -> OrderLine:
    volumes = _volumes(volume)
    return OrderLine(what, key, "", name, volume, volumes["m3"], "m3", "", origins, volumes | {"load": _up(volume * LOOSE / truck)})


def _spoil(outcome: Outcome, volume: float, origins: tuple[Origin, ...]) -> OrderLine:
    """What is left over, with how deep it would lie beside the trenches; where it is spread it is in nobody's way, and nothing is paid for hauling it."""
    truck = outcome.job.work.truck
    if outcome.job.work.spoil != HAULED:
        return _by_volume(DIG, SPREAD_OUT, EARTH[SPREAD_OUT], volume, origins, truck)
    line = _by_volume(DIG, SPOIL, EARTH[SPOIL], volume, origins, truck)
    spread = spoil_spread(volume, max(_trench_length(outcome, origins), 1e-3), SPREAD)
    system = k.System(outcome.job.units)
    note = tr("truck loads of {truck}: {loads}; or spread {width} wide along one side, {depth} deep at the trench and feathered to nothing: the ground then falls {fall} more away from it",
              truck=shown(truck, k.MASS, system), loads=int(line.sold_as["load"]), width=shown(SPREAD, k.DISTANCE, system), depth=shown(spread.depth, k.DEPTH, system),
              fall=shown(spread.fall, k.SLOPE, system))  # fmt: skip
    return dataclasses.replace(line, note=note)


def _trench_length(outcome: Outcome, origins: tuple[Origin, ...]) -> float:
    """Length m of the stretches that rows come from."""
    of = {(origin.run, origin.piece) for origin in origins}
    return sum(stretch.high - stretch.low for found in outcome.site.runs for stretch in found.stretches if (found.id, stretch.id) in of)


def _turf_line(outcome: Outcome, area: float, origins: tuple[Origin, ...]) -> OrderLine:
    """Turf that is cut and laid again, with how many strips it comes to, and how long it keeps."""
    system, (wide, long) = k.System(outcome.job.units), STRIP
    note = tr("{count} strips of {wide} by {long}; laid again within {days} days, kept moist and rolled up no longer than one, before it yellows",
              count=int(_up(area / (wide * long))), wide=shown(wide, k.DEPTH, system), long=shown(long, k.DISTANCE, system), days=KEEPS)  # fmt: skip
    return OrderLine(DIG, TURF, "", EARTH[TURF], area, _exact(area), "m2", note, origins, _areas(area))


def _volumes(volume: float) -> dict[str, Decimal]:
    return {"m3": _exact(volume), "yd3": _exact(volume / YARD), "ft3": _exact(volume / FOOT**3)}


def sold_by(unit: str, amount: float) -> dict[str, Decimal]:
    """An amount in every unit of its kind that a price may be for; ``unit`` is m, m2, m3 or piece."""
    if unit in ("m3", "m2"):
        return _volumes(amount) if unit == "m3" else _areas(amount)
    return {unit: _exact(amount), **({"ft": _exact(amount / FOOT)} if unit == "m" else {})}


def _part(outcome: Outcome, key: str, size: str, amount: float, origins: tuple[Origin, ...], to_be_found: bool) -> OrderLine:
    part = next(part for part in parts_by(outcome.job.parts) if part.key == key)
    name = called(outcome, PART, key, size)
    note = tr("to be found: the library knows of none that fits this pipe") if to_be_found else _part_note(outcome, part)
    more = 1 + outcome.job.limits.waste
    if part.kind is k.COUNT:
        sold = _up(amount)
        return OrderLine(PART, key, size, name, amount, sold, "piece", note, origins, {"piece": sold}, to_be_found)
    if part.kind is k.AREA:
        return OrderLine(PART, key, size, name, amount, _up(amount * more), "m2", note, origins, _areas(float(_up(amount * more))), to_be_found)
    if part.kind is k.VOLUME:
        return OrderLine(PART, key, size, name, amount, _exact(amount * more), "m3", note, origins, _volumes(amount * more), to_be_found)
    return OrderLine(PART, key, size, name, amount, _up(amount * more, STEP), "m", note, origins, {"m": _up(amount * more, STEP), "ft": _exact(amount * more / FOOT)}, to_be_found)


def _part_note(outcome: Outcome, part: Part) -> str:
    """What the library says of a part; where the job counts it by a figure of its own, that."""
    rules = [rule for rule in parts_by(outcome.job.parts) if rule.key == part.key]
    if rules == [rule for rule in parts() if rule.key == part.key]:
        return part.note
    return tr("counted by this job's own rule: {rules}", rules="; ".join(each_words(rule.each, rule.unit, rule.wanted, k.System(outcome.job.units)) for rule in rules))


def in_unit(line: OrderLine, per: str) -> Decimal | None:
    """How much of a line is sold, counted in a unit such as "100 ft"; None where it is not sold so."""
    words = per.lower().replace("²", "2").replace("³", "3").replace("each", "piece").split()
    count, unit = (Decimal(words[0]), " ".join(words[1:])) if len(words) > 1 and words[0].isdecimal() else (Decimal(1), " ".join(words))
    unit = _ALIKE.get(unit, unit)
    sold = line.sold_as.get(unit)
    return None if sold is None or count <= 0 else sold / count


_ALIKE = {"pc": "piece", "pcs": "piece", "pieces": "piece", "each": "piece", "tonne": "t", "tonnes": "t", "tons": "ton", "cy": "yd3", "cuyd": "yd3", "sf": "ft2", "sqft": "ft2", "sy": "yd2",
          "feet": "ft", "foot": "ft", "lf": "ft", "coils": "coil", "sticks": "stick", "rolls": "roll", "loads": "load", "bags": "bag", "lbs": "lb", "metre": "m", "metres": "m"}  # fmt: skip
