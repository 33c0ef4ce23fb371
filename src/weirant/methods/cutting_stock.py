"""Pieces cut out of lengths that are sold: as few lengths as can be, with as few joints as can be, or with joints wherever they save a length."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.domain import positive
from weirant.methods.registry import method, read_choice
from weirant.records import dataclass
from weirant.units.dimension import LENGTH, NUMBER
from weirant.units.parse import parse

FEW_JOINTS, LITTLE_WASTE = "few joints", "little waste"
GRAIN = 0.01  # m to which pieces are cut
TURNS, MOST = 60, 2000  # patterns looked for at the most, and pieces taken
HAIR = 1e-9


@dataclass(frozen=True)
class CuttingPlan:
    """What is cut out of each length that is sold: (number of the piece, m of it); lengths m left over of each, joints within pieces, and the fewest lengths that any plan of
    its kind could do with.
    """

    stock: float
    cuts: tuple[tuple[tuple[int, float], ...], ...]
    joints: int
    at_least: int

    @property
    def left(self) -> tuple[float, ...]:
        """What is left over of each length, m."""
        return tuple(max(self.stock - sum(length for _, length in cut), 0.0) for cut in self.cuts)


def cutting_plan(pieces: Sequence[float], stock: float, prefer: str = FEW_JOINTS) -> CuttingPlan:
    """A plan for pieces m out of lengths of ``stock`` m, all more than 0.

    ``few joints``: a piece longer than a length is made of whole ones and one part, and no part of another piece: no plan has fewer joints, and among those the fewest lengths are
    looked for by patterns (Gilmore and Gomory 1961; recalled), with their bound. ``little waste``: one piece after the other off the lengths, joined wherever one ends: no plan does
    with fewer lengths. Parts are rounded up to a centimetre. Raises InputError where there are too many.
    """
    positive(stock=stock)
    if len(pieces) > MOST:
        raise InputError("pieces", tr("are more than {most}", most=MOST), len(pieces))
    for piece in pieces:
        positive(pieces=piece)
    return _one_after_the_other(pieces, stock) if prefer == LITTLE_WASTE else _whole_parts(pieces, stock)


class StockCut(NamedTuple):
    """Lengths bought, joints within pieces, the fewest lengths that any plan of its kind does with, and m left over."""

    lengths: float
    joints: float
    at_least: float
    left_over: float


def read_lengths(text: object, key: str) -> tuple[float, ...]:
    """Read ``94 ft, 78 ft, 18 ft``; a number without a unit is in metres. Raises InputError naming the key."""
    if not isinstance(text, str) or not text.strip():
        raise InputError(key, tr('must be text such as "94 ft, 78 ft, 18 ft"'), text)
    return tuple(parse(part, LENGTH, key, strict=True) for part in text.replace(";", ",").split(",") if part.strip())


@method("cutting-stock", keys={"pieces": read_lengths, "stock": LENGTH, "prefer": read_choice(FEW_JOINTS, LITTLE_WASTE)},
        results={"lengths": NUMBER, "joints": NUMBER, "at_least": NUMBER, "left_over": LENGTH},
        formula="fewest lengths whose parts fit;  few joints: parts of one piece stay together;  little waste: ceil(Σ pieces / stock)", sources="geometry",
        valid=tr("pieces in any order; parts to a centimetre"))  # fmt: skip
def cut_stock(pieces: tuple[float, ...], stock: float, prefer: str) -> StockCut:
    """How many lengths of ``stock`` m pieces m are cut out of, all more than 0. Source: Gilmore and Gomory 1961; Martello and Toth 1990 (recalled)."""
    plan = cutting_plan(pieces, stock, prefer)
    return StockCut(float(len(plan.cuts)), float(plan.joints), float(plan.at_least), sum(plan.left))


def _one_after_the_other(pieces: Sequence[float], stock: float) -> CuttingPlan:
    cuts: list[list[tuple[int, float]]] = []
    free, joints = 0.0, 0
    for number, piece in enumerate(pieces):
        left = piece
        while left > HAIR:
            if free <= HAIR:
                cuts.append([])
                free = stock
            taken = min(left, free)
            joints += left < piece
            cuts[-1].append((number, taken))
            left, free = left - taken, free - taken
    return CuttingPlan(stock, tuple(map(tuple, cuts)), joints, math.ceil(sum(pieces) / stock - HAIR))


def _whole_parts(pieces: Sequence[float], stock: float) -> CuttingPlan:
    whole, parts, joints = [], [], 0
    for number, piece in enumerate(pieces):
        count = math.floor(piece / stock + HAIR)
        rest = piece - count * stock
        whole += [((number, stock),)] * count
        if rest > HAIR:
            parts.append((number, rest))
        joints += count - (rest <= HAIR)
    bins, least = _packed([rest for _, rest in parts], stock)
    cuts = (*whole, *(tuple(parts[i] for i in found) for found in bins))
    return CuttingPlan(stock, cuts, joints, len(whole) + least)


def _packed(sizes: list[float], stock: float) -> tuple[list[list[int]], int]:
    """Which parts are cut out of one length, and the fewest lengths that any packing does with."""
    if not sizes:
        return [], 0
    room = math.floor(stock / GRAIN + HAIR)
    whole = [min(math.ceil(size / GRAIN - HAIR), room) for size in sizes]
    order = sorted(range(len(whole)), key=lambda i: -whole[i])
    best = min(_best_fit(whole, order, room), _filled_up(whole, order, room), key=len)
    least = _bound(sorted(whole, reverse=True), room)
    if len(best) > least:
        better, bound = _by_patterns(whole, room, best)
        best, least = (better if len(better) < len(best) else best), max(least, bound)
    return best, least


def _best_fit(sizes: list[int], order: list[int], room: int) -> list[list[int]]:
    """Each part, the longest first, into the length that it leaves least of."""
    found: list[list[int]] = []
    free: list[int] = []
    for i in order:
        fits = [b for b, left in enumerate(free) if left >= sizes[i]]
        if fits:
            b = min(fits, key=lambda b: free[b])
            found[b].append(i)
            free[b] -= sizes[i]
        else:
            found.append([i])
            free.append(room - sizes[i])
    return found


def _filled_up(sizes: list[int], order: list[int], room: int) -> list[list[int]]:
    """The longest part that is left, with those of the others that fill its length best (minimum bin slack: Gupta and Ho 1999; recalled)."""
    found, left = [], list(order)
    while left:
        first, *others = left
        reached = [1]  # bit n of it: whether some of the parts so far are n long together
        for i in others:
            reached.append(reached[-1] | reached[-1] << sizes[i])
        fills = (reached[-1] & ((1 << room - sizes[first] + 1) - 1)).bit_length() - 1
        here = [first]
        for n in range(len(others), 0, -1):
            if not reached[n - 1] >> fills & 1:
                here.append(others[n - 1])
                fills -= sizes[others[n - 1]]
        found.append(here)
        gone = set(here)
        left = [i for i in left if i not in gone]
    return found


def _bound(sizes: list[int], room: int) -> int:
    """The fewest lengths by what does not fit beside what: Martello and Toth 1990, bound L2 (recalled)."""
    best = math.ceil(sum(sizes) / room)
    for small in {size for size in sizes if size <= room / 2} | {0}:
        large = [s for s in sizes if s > room - small]
        middle = [s for s in sizes if room - small >= s > room / 2]
        rest = [s for s in sizes if room / 2 >= s >= small]
        best = max(best, len(large) + len(middle) + max(0, math.ceil((sum(rest) - (len(middle) * room - sum(middle))) / room)))
    return best


def _by_patterns(sizes: list[int], room: int, start: list[list[int]]) -> tuple[list[list[int]], int]:
    """The fewest lengths by patterns that are looked for as they pay, then taken whole; with the bound that the looking gives."""
    from scipy.optimize import (  # slow to load, and needed only where the simple way leaves a doubt
        LinearConstraint,
        linprog,
        milp,
    )

    kinds = sorted(set(sizes), reverse=True)
    wanted = np.array([sizes.count(kind) for kind in kinds], dtype=float)
    patterns = [np.array([sum(sizes[i] == kind for i in found) for kind in kinds], dtype=float) for found in start]
    patterns += [np.eye(len(kinds))[n] * min(room // kind, wanted[n]) for n, kind in enumerate(kinds)]
    bound = 0.0
    for _ in range(TURNS // (1 + len(kinds) // 60)):
        solved = linprog(np.ones(len(patterns)), A_ub=-np.array(patterns).T, b_ub=-wanted, method="highs")
        worth, pattern = _knapsack(kinds, -solved.ineqlin.marginals, wanted, room)
        bound = max(bound, float(solved.fun) / max(worth, 1.0))  # whatever patterns were not looked at yet: Farley 1990 (recalled)
        if worth <= 1 + 1e-7 or math.ceil(bound - 1e-6) >= len(start):
            break
        patterns.append(pattern)
    least = math.ceil(bound - 1e-6)
    if least >= len(start):
        return start, least
    matrix = np.array(patterns).T
    taken = milp(np.ones(len(patterns)), constraints=LinearConstraint(matrix, lb=wanted), integrality=np.ones(len(patterns)), options={"time_limit": 1.0})
    if taken.x is None:
        return start, least
    waiting = {kind: [i for i, size in enumerate(sizes) if size == kind] for kind in kinds}
    found = []
    for column, count in enumerate(np.round(taken.x).astype(int)):
        for _ in range(count):
            here = [waiting[kind].pop() for kind, n in zip(kinds, patterns[column].astype(int), strict=True) for _ in range(min(n, len(waiting[kind])))]
            if here:
                found.append(here)
    return found, least


def _knapsack(kinds: list[int], prices: NDArray[np.float64], wanted: NDArray[np.float64], room: int) -> tuple[float, NDArray[np.float64]]:
    """The pattern that is worth most at the prices of the kinds, each as often as it is wanted."""
    best = np.zeros(room + 1)
    chosen = np.zeros((len(kinds), room + 1), dtype=np.int16)
    for n, (kind, price) in enumerate(zip(kinds, prices.tolist(), strict=True)):
        before = best.copy()
        for count in range(1, int(min(wanted[n], room // kind)) + 1):
            with_it = np.full(room + 1, -np.inf)
            with_it[count * kind :] = before[: room + 1 - count * kind] + count * price
            better = with_it > best + 1e-12
            best = np.where(better, with_it, best)
            chosen[n] = np.where(better, count, chosen[n])
    pattern, left = np.zeros(len(kinds)), room
    for n in range(len(kinds) - 1, -1, -1):
        pattern[n] = chosen[n, left]
        left -= int(pattern[n]) * kinds[n]
    return float(best[room]), pattern
