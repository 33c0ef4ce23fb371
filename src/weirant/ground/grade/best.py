"""Solves the programme: the best grade, what binds it and what that costs, and what to give way on if there is none.

Solver: HiGHS by way of SciPy (Huangfu and Hall 2018). The dual value of a row is the dig saved for each metre it gives way.
"""

from __future__ import annotations

import dataclasses

import numpy as np
from numpy.typing import NDArray
from scipy import sparse
from scipy.optimize import Bounds, LinearConstraint, linprog, milp

from weirant.errors import SolverError, WeirantError
from weirant.ground.grade.demands import Aim, Family, NetworkDemand
from weirant.ground.grade.programme import FAR, Programme, Row, build
from weirant.language import tr
from weirant.records import dataclass

Array = NDArray[np.float64]
GIVES = (Family.OUTLET, Family.SLOPE, Family.COVER, Family.CAP, Family.COLLECT, Family.DEPTH, Family.HELD, Family.CROSSING, Family.JOINT, Family.STEEP)
COSTED = (Family.CROSSING, Family.HELD)
TIME_LIMIT = 5.0  # s for choices of over or under and for counting breaks


@dataclass(frozen=True)
class Binding:
    """A demand that holds the line where it is, over all rows of one family in one run (or one crossing).

    rate is the dig saved, m³, for each metre (or each unit of slope) it gives way; saving m³ is what goes if the demand is
    dropped altogether, worked out for crossings and held inverts only.
    """

    family: Family
    run: str
    name: str
    station: float
    rate: float
    saving: float | None = None


@dataclass(frozen=True)
class GiveWay:
    """The least by which one kind of demand has to give way, everywhere alike, so that a line exists: m or m/m."""

    amounts: tuple[tuple[Family, float], ...]
    levels: dict[str, tuple[Array, Array]]


@dataclass(frozen=True)
class BestGrade:
    """Levels by run as (stations, inverts) at its nodes; dig m³ of upright trenches; ways chosen past crossings.

    Where no line satisfies every demand, ``levels`` is empty and ``gives`` lists what could give way, least trouble first.
    """

    levels: dict[str, tuple[Array, Array]]
    dig: float
    bindings: tuple[Binding, ...] = ()
    ways: tuple[tuple[str, str, str], ...] = ()
    gives: tuple[GiveWay, ...] = ()
    is_proven: bool = True

    @property
    def is_feasible(self) -> bool:
        """Whether a line exists."""
        return bool(self.levels)


def best_grade(demand: NetworkDemand, aim: Aim = Aim.LEAST_DIG, *, quick: bool = False) -> BestGrade:
    """The best inverts for every run at once; ``quick`` leaves out what each demand costs, for live dragging.

    Raises SolverError where the solver gives neither a line nor a proof that there is none.
    """
    programme = build(demand)
    breaks = _break_choices(programme) if aim == Aim.FEWEST_BREAKS else []
    cost = _cost(programme, aim)
    settled, ways, proven = _choose(programme, cost, breaks)
    line = None if settled is None else _linear(settled, cost)
    if settled is None or line is None:
        return BestGrade({}, 0.0, gives=() if quick else _give_ways(demand))
    values, duals = line
    dig = _dig(programme, values)
    bindings = () if quick else _bindings(demand, settled, duals, dig, aim)
    return BestGrade(_levels(programme, values), dig, bindings, ways, is_proven=proven)


def _cost(programme: Programme, aim: Aim) -> Array:
    cost = np.zeros(programme.count)
    for column, value in programme.dig.items():
        cost[column] = value
    if aim == Aim.DEEPEST:
        cost *= 1e-4  # of equally deep lines the one with less dig
        for run in programme.demand.runs:
            for station in run.stations[run.collecting].tolist():
                for column, value in programme.invert(run, station):
                    cost[column] += value
    return cost


def _dig(programme: Programme, values: Array) -> float:
    return programme.constant + sum(weight * float(values[column]) for column, weight in programme.dig.items())


def _levels(programme: Programme, values: Array) -> dict[str, tuple[Array, Array]]:
    return {run.name: (run.nodes, values[programme.first[run.name] : programme.first[run.name] + len(run.nodes)])
            for run in programme.demand.runs}  # fmt: skip


def _break_choices(programme: Programme) -> list[int]:
    """A choice for every inner node: 0 keeps the slope, 1 lets it change."""
    choices = []
    for run in programme.demand.runs:
        start, lengths = programme.first[run.name], np.diff(run.nodes).tolist()
        for k, (low, high) in enumerate(zip(lengths, lengths[1:], strict=False)):
            choice = programme.unknown(0.0, whole=True)
            choices.append(choice)
            change = [(start + k, 1 / low), (start + k + 1, -1 / low - 1 / high), (start + k + 2, 1 / high)]
            row = Row(Family.STEEP, "", float(run.nodes[k + 1]), "", 0.0)
            programme.at_most([*change, (choice, -1.0)], 0.0, row)
            programme.at_most([*((c, -v) for c, v in change), (choice, -1.0)], 0.0, row)
    return choices


Ways = tuple[tuple[str, str, str], ...]


def _choose(programme: Programme, cost: Array, breaks: list[int]) -> tuple[Programme | None, Ways, bool]:
    """The programme with its choices made, the ways past crossings, and whether they are proven best; None: no line exists."""
    if not programme.whole:
        return programme, (), True
    found, proven = _solve(programme, cost, breaks)
    if found is None:
        return None, (), proven
    return _settled(programme, found), _ways(programme, found), proven


def _solve(programme: Programme, cost: Array, breaks: list[int]) -> tuple[Array | None, bool]:
    """The best values of a programme with choices; with breaks to count, first their number, then the dig."""
    extra: list[LinearConstraint] = []
    proven = True
    if breaks:
        count = np.zeros(programme.count)
        count[breaks] = 1.0
        fewest, proven = _whole(programme, count, [])
        if fewest is None:
            return None, proven
        extra = [LinearConstraint(count[None, :], -np.inf, float(round(fewest[breaks].sum())))]
    values, sure = _whole(programme, cost, extra)
    return values, proven and sure


def _whole(programme: Programme, cost: Array, extra: list[LinearConstraint]) -> tuple[Array | None, bool]:
    low, high = _bounds(programme)
    kinds = np.zeros(programme.count)
    kinds[programme.whole] = 1
    rows = LinearConstraint(programme.matrix(), -np.inf, np.array(programme.limits))
    answer = milp(cost, integrality=kinds, bounds=Bounds(low, high), constraints=[rows, *extra], options={"time_limit": TIME_LIMIT})
    if answer.x is None:
        if answer.status not in (2, 4):
            raise WeirantError(tr("The best grade was not found within {time_limit:g} s. Say over or under for each crossing, or ask for the least dig.", time_limit=TIME_LIMIT))
        return None, True
    return answer.x, answer.status == 0


def _bounds(programme: Programme) -> tuple[Array, Array]:
    low, high = np.full(programme.count, -np.inf), np.full(programme.count, np.inf)
    for column, value in programme.lower.items():
        low[column] = value
    high[programme.whole] = 1.0
    return low, high


def _settled(programme: Programme, values: Array) -> Programme:
    """The programme with its choices made: rows that a choice switches off are gone far away."""
    limits = np.array(programme.limits)
    if programme.whole:
        chosen = np.zeros(programme.count)
        chosen[programme.whole] = np.round(values[programme.whole])
        limits = limits - programme.matrix() @ chosen
    return dataclasses.replace(programme, limits=limits.tolist())


def _linear(programme: Programme, cost: Array, drop: list[int] | None = None) -> tuple[Array, Array] | None:
    """Values and dual values of the linear programme; None where no values satisfy it."""
    matrix, limits = programme.matrix(), np.array(programme.limits)
    low, high = _bounds(programme)
    keep = np.ones(len(limits), dtype=bool)
    keep[drop or []] = False
    if programme.whole:
        matrix = matrix.tolil()
        matrix[:, programme.whole] = 0.0
        matrix = matrix.tocsr()
        cost = cost.copy()
        cost[programme.whole] = 0.0
        low[programme.whole] = high[programme.whole] = 0.0
    answer = linprog(cost, A_ub=sparse.csr_array(matrix[keep]), b_ub=limits[keep], bounds=np.column_stack([low, high]), method="highs")
    if answer.status == 0:
        duals = np.zeros(len(limits))
        duals[keep] = answer.ineqlin.marginals
        return answer.x, duals
    if answer.status in (2, 3, 4):
        return None
    raise SolverError(tr("best grade"), float("nan"))


def _ways(programme: Programme, values: Array) -> tuple[tuple[str, str, str], ...]:
    """Run, thing and way for each crossing that was left open."""
    ways: list[tuple[str, str, str]] = []
    for number, row in enumerate(programme.rows):
        if row.family == Family.CROSSING:
            columns = [c for r, c in zip(*programme.entries[:2], strict=True) if r == number and c in programme.whole]
            if columns and not any(w[:2] == (row.run, row.name) for w in ways):
                ways.append((row.run, row.name, "under" if values[columns[0]] > 0.5 else "over"))
    return tuple(ways)


def _bindings(demand: NetworkDemand, programme: Programme, duals: Array, dig: float, aim: Aim) -> tuple[Binding, ...]:
    groups: dict[tuple[Family, str, str], list[int]] = {}
    for number in np.nonzero(-duals > 1e-7)[0].tolist():
        row = programme.rows[number]
        if row.run:
            groups.setdefault((row.family, row.run, row.name), []).append(number)
    found = []
    for (family, run, name), numbers in groups.items():
        rate = float(-np.sum(duals[numbers] * np.array([programme.rows[n].give for n in numbers])))
        strongest = programme.rows[max(numbers, key=lambda n: -duals[n])]
        saving = None
        if family in COSTED and aim == Aim.LEAST_DIG:
            same = [n for n, r in enumerate(programme.rows) if (r.family, r.run, r.name) == (family, run, name)]
            without = _linear(programme, _cost(programme, aim), drop=same)
            saving = None if without is None else max(0.0, dig - _dig(programme, without[0]))
        found.append(Binding(family, run, name, strongest.station, rate, saving))
    return tuple(sorted(found, key=lambda b: -b.rate))


def _give_ways(demand: NetworkDemand) -> tuple[GiveWay, ...]:
    """For every kind of demand the least by which it alone must give way; if none alone will do, the least of all together.

    What lies over the pipe is one kind: its cover, and the soil over its stone.
    """
    kinds = [(family,) if family != Family.COVER else (Family.COVER, Family.CAP) for family in GIVES if family != Family.CAP]
    alone = [give for kind in kinds if (give := _least(demand, kind)) is not None]
    if alone:
        return tuple(alone)
    together = _least(demand, GIVES)
    return () if together is None else (together,)


def _least(demand: NetworkDemand, families: tuple[Family, ...]) -> GiveWay | None:
    programme = build(demand)
    unknowns = {family: programme.unknown(0.0) for family in families}
    rows, columns, values = programme.entries
    for number, row in enumerate(programme.rows):
        if row.family in unknowns and row.run:
            rows.append(number)
            columns.append(unknowns[row.family])
            values.append(-row.give)
    cost = np.zeros(programme.count)
    for family, column in unknowns.items():
        cost[column] = 100.0 if family in (Family.SLOPE, Family.STEEP) else 1.0  # a hundredth of slope weighs as a metre
    found, _ = _whole(programme, cost, [])
    if found is None:
        return None
    amounts = tuple((family, float(found[column])) for family, column in unknowns.items() if found[column] > 1e-7)
    if not amounts or any(amount > FAR / 2 for _, amount in amounts):
        return None
    return GiveWay(amounts, _levels(programme, found))
