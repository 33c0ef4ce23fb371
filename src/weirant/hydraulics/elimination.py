"""In which order the unknown levels of a network are eliminated, and what meets what meanwhile: worked out once, used in every turn of a routing."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from weirant.records import dataclass

Whole = NDArray[np.intp]


@dataclass(frozen=True, eq=False)
class Elimination:
    """The order of the sections (s,); the places of the matrix's entries, the diagonal first: ``at`` (a, b) by the two sections. Of the k-th in the
    order: its neighbours that come later, from ``start[k]`` to ``start[k + 1]``, with the entries of its row and its column there, and for each pair
    of them the entry in which they meet, from ``meets_from[k]`` on.
    """

    order: Whole
    at: dict[tuple[int, int], int]
    size: int
    start: Whole
    neighbour: Whole
    row: Whole
    column: Whole
    meets_from: Whole
    meets: Whole


def eliminated(count: int, pairs: Iterable[tuple[int, int]]) -> Elimination:
    """The elimination of ``count`` sections of which some pairs hang together, the one with the fewest neighbours first: along a tree nothing is
    added. Source: minimum degree, George and Liu 1989 (recalled).
    """
    beside: list[set[int]] = [set() for _ in range(count)]
    for a, b in pairs:
        if a != b:
            beside[a].add(b)
            beside[b].add(a)
    at: dict[tuple[int, int], int] = {(k, k): k for k in range(count)}
    by_degree: list[set[int]] = [set() for _ in range(count + 1)]
    for k, those in enumerate(beside):
        by_degree[len(those)].add(k)
    order, later = list[int](), list[list[int]]()
    least = 0
    for _ in range(count):
        while not by_degree[least]:
            least += 1
        pivot = by_degree[least].pop()
        others = sorted(beside[pivot])
        for a in others:
            for pair in ((pivot, a), (a, pivot)):
                at.setdefault(pair, len(at))
            by_degree[len(beside[a])].discard(a)
            beside[a] |= beside[pivot]
            beside[a] -= {a, pivot}
        for a in others:
            by_degree[len(beside[a])].add(a)
        order.append(pivot)
        later.append(others)
        least = max(least - 1, 0)
    start, meets_from = np.cumsum([0, *(len(o) for o in later)]), np.cumsum([0, *(len(o) ** 2 for o in later)])
    pairs_of = [(pivot, a) for pivot, those in zip(order, later, strict=True) for a in those]
    met = [at.setdefault((a, b), len(at)) for those in later for a in those for b in those]
    return Elimination(_whole(order), at, len(at), _whole(start), _whole([a for _, a in pairs_of]), _whole([at[p, a] for p, a in pairs_of]),
                       _whole([at[a, p] for p, a in pairs_of]), _whole(meets_from), _whole(met))  # fmt: skip


def _whole(numbers: Iterable[int]) -> Whole:
    return np.array(list(numbers), dtype=np.intp)
