"""Cutting plans against brute force and the linear programme; cloth off the roll against hand sums."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import LinearConstraint, milp

from weirant.errors import InputError
from weirant.methods.cloth_cut import cloth_cut
from weirant.methods.cutting_stock import FEW_JOINTS, LITTLE_WASTE, cutting_plan

PIECES = st.lists(st.integers(1, 25).map(lambda n: n / 2), min_size=1, max_size=7)


def fewest_by_trying(sizes, stock):
    """Every way to put parts into lengths, one part after the other."""
    best = [len(sizes)]

    def put(i, free):
        if len(free) >= best[0]:
            return
        if i == len(sizes):
            best[0] = len(free)
            return
        for b in {round(f, 9): b for b, f in enumerate(free) if f >= sizes[i] - 1e-9}.values():
            put(i + 1, [*free[:b], free[b] - sizes[i], *free[b + 1 :]])
        put(i + 1, [*free, stock - sizes[i]])

    put(0, [])
    return best[0]


@settings(max_examples=60)
@given(pieces=PIECES)
def test_no_plan_with_as_few_joints_does_with_fewer_lengths(pieces):
    stock = 6.0
    plan = cutting_plan(pieces, stock)
    parts = [p % stock for p in pieces if p % stock > 1e-9]
    assert len(plan.cuts) == sum(int(p // stock) for p in pieces) + fewest_by_trying(sorted(parts, reverse=True), stock)
    assert plan.joints == sum(math.ceil(p / stock - 1e-9) - 1 for p in pieces)


@given(pieces=PIECES, prefer=st.sampled_from([FEW_JOINTS, LITTLE_WASTE]))
def test_a_plan_cuts_every_piece_once_and_no_length_twice(pieces, prefer):
    plan = cutting_plan(pieces, 6.0, prefer)
    got = [0.0] * len(pieces)
    for number, length in itertools.chain.from_iterable(plan.cuts):
        got[number] += length
    assert got == pytest.approx(pieces) and all(sum(length for _, length in cut) <= 6.0 + 1e-9 for cut in plan.cuts)
    assert plan.at_least <= len(plan.cuts) and sum(plan.left) == pytest.approx(6.0 * len(plan.cuts) - sum(pieces))
    if prefer == LITTLE_WASTE:
        assert len(plan.cuts) == math.ceil(sum(pieces) / 6.0 - 1e-9) == plan.at_least


@pytest.mark.parametrize("seed", range(6))
def test_two_hundred_pieces_come_near_what_the_linear_programme_says(seed):
    """The bound that is told is never over the best that a programme over all patterns of two parts and of one finds (parts of more than a third: exact)."""
    chance = np.random.default_rng(seed)
    sizes = chance.uniform(0.34, 0.99, 40).round(2)
    plan = cutting_plan(sizes.tolist(), 1.0)
    pairs = [(i, j) for i in range(40) for j in range(i + 1, 40) if sizes[i] + sizes[j] <= 1.0]
    matrix = np.zeros((40, len(pairs)))
    for column, (i, j) in enumerate(pairs):
        matrix[[i, j], column] = 1
    most = milp(-np.ones(len(pairs)), constraints=LinearConstraint(matrix, ub=1), integrality=np.ones(len(pairs)))
    assert len(plan.cuts) == 40 - round(-most.fun) >= plan.at_least
    many = cutting_plan(chance.uniform(0.3, 40, 200).round(2).tolist(), 30.48)
    assert len(many.cuts) <= many.at_least + 2


@pytest.mark.parametrize(("girth", "length", "width", "across", "used"), [
    (1.8, 50.0, 3.8, 0, 25.0),  # two strips side by side
    (3.8, 50.0, 3.8, 0, 50.0), (3.81, 50.0, 3.8, 1, 15 * 3.81),  # a hair too wide: 15 pieces across, each 3.5 m of trench
    (1.9, 120.0, 3.8, 0, 60.15),  # one lap where the roll ends
    (1.3, 3.0, 3.8, 1, 1.3),  # one piece across
])  # fmt: skip
def test_cloth_is_cut_as_a_hand_sum_has_it(girth, length, width, across, used):
    cut = cloth_cut(girth, length, width, 90.0, 0.3)
    assert (cut.across, cut.roll_used) == (across, pytest.approx(used)) and cut.area == pytest.approx(used * width)
    assert cut.area >= girth * length * (1 - 1e-9)


@pytest.mark.parametrize(("call", "key"), [(lambda: cutting_plan([1.0, -1.0], 6.0), "pieces"), (lambda: cutting_plan([1.0], 0.0), "stock"),
                                           (lambda: cutting_plan([1.0] * 2001, 6.0), "pieces"),
                                           (lambda: cloth_cut(1.0, 5.0, 3.0, 90.0, 3.0), "lap"), (lambda: cloth_cut(91.0, 5.0, 3.0, 90.0, 0.3), "girth")])  # fmt: skip
def test_what_cannot_be_cut_is_refused_by_name(call, key):
    with pytest.raises(InputError, match=key):
        call()
