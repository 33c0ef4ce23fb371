"""What so much of a trench takes: the kit by which the next one like it is ordered."""

from __future__ import annotations

import dataclasses
from decimal import Decimal

from weirant.design.order import FOOT, RANK, TON, called, sold_by
from weirant.library import parts
from weirant.outcome.bill import CLOTH, PART, PIPE, STONE, TOP, Bill
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import OrderLine
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

HUNDRED_FEET = 100 * FOOT  # m
UNITS = {kind: unit for unit, kind in parts.UNITS.items()}
CENT, FEW = Decimal("0.01"), 10  # pieces under which parts of one are told


def kit_of(outcome: Outcome, bill: Bill, length: float, per: float = HUNDRED_FEET) -> tuple[OrderLine, ...]:
    """The rows of a bill of trenches of a length m (of none there is nothing) as what ``per`` m of them takes in the mean, with the waste of the job but without what is left of
    coils, rolls and loads.
    """
    if length <= 0:
        return ()
    waste, lines = 1 + outcome.job.limits.waste, []
    kinds = {row.of: row.kind for row in bill.rows}
    for (what, key, size), amount in bill.totals().items():
        unit = UNITS[kinds[what, key, size]]
        more = waste if what in (STONE, CLOTH, TOP) or (what == PART and unit != "piece") else 1.0
        here = amount * per / length
        sold_as = sold_by(unit, here * more)
        if what == STONE:
            mass = here * more * outcome.library.aggregate(key).bulk_density
            sold_as |= {"t": Decimal(repr(mass / 1000)), "ton": Decimal(repr(mass / TON))}
            unit = "t" if outcome.job.units == k.System.METRIC.value else "ton"
        sold_as = {one: value.quantize(Decimal(1) if one == "piece" and value >= FEW else CENT) for one, value in sold_as.items()}
        lines.append(OrderLine(what, key, size, called(outcome, what, key, size), here, sold_as[unit], unit, "", bill.origins((what, key, size)), sold_as))
    return tuple(sorted(lines, key=lambda line: RANK[line.what]))


def length_of(outcome: Outcome, bill: Bill) -> float:
    """Length m of the trenches in which pipe of a bill is laid; a run in the trench of another that is there too adds nothing."""
    runs = {row.origin.run for row in bill.rows if row.what == PIPE}
    return sum(found.run.length for found in outcome.site.runs if found.id in runs and found.run.run.trench_of not in runs)


def kit_at(outcome: Outcome, bill: Bill, found: RunOutcome, station: float, per: float = HUNDRED_FEET) -> tuple[OrderLine, ...]:
    """What ``per`` m takes, out of the bill of a job, of the trench that a run lies in where one stands at a station m: its own stretch there, and of the runs that lie in its trench
    all that goes by length.
    """
    stretch, rows = found.stretch(station), []
    guests = {guest.id: guest for guest in outcome.site.in_trench_of(found.id)}
    along = {(guest.id, piece.id) for guest in guests.values() for piece in guest.stretches}
    for row in bill.rows:
        if (row.origin.run, row.origin.piece) == (found.id, stretch.id):
            rows.append(row)
        elif (row.origin.run, row.origin.piece) in along:
            rows.append(dataclasses.replace(row, amount=row.amount / guests[row.origin.run].run.length * (stretch.high - stretch.low)))
    return kit_of(outcome, Bill(tuple(rows)), stretch.high - stretch.low, per)
