"""Level notes: the page check of the textbooks, adjustment by set-ups, and notes that do not serve."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from weirant.errors import InputError
from weirant.methods.catalogue import REGISTRY
from weirant.methods.levelling import Sight, reduce_levels

FT = 0.3048
NOTES = "BM:bs 4.32, A:fs 5.10, TP1:fs 6.02 bs 3.11, B:fs 4.00, TP2:fs 2.00 bs 5.97, BM:fs 5.35"


def test_a_loop_by_hand():
    """HI 104.32, A 99.22, TP1 98.30, HI 101.41, B 97.41, TP2 99.41, HI 105.38, back on BM 100.03: 0.03 ft over three set-ups."""
    found = REGISTRY["level-notes"].calculate({"benchmark": "100 ft", "notes": NOTES, "length_unit": "ft"})
    in_feet = {point: level / FT for point, level in found["elevations"].items()}
    assert in_feet == pytest.approx({"BM": 100, "A": 99.22, "TP1": 98.30, "B": 97.41, "TP2": 99.41})
    assert found["misclosure"] / FT == pytest.approx(0.03)
    adjusted = {point: level / FT for point, level in found["adjusted_elevations"].items()}
    assert adjusted == pytest.approx({"BM": 100, "A": 99.21, "TP1": 98.29, "B": 97.39, "TP2": 99.39})


def test_readings_take_trade_notation():
    found = REGISTRY["level-notes"].calculate({"benchmark": 0, "notes": "BM:bs 5' 3\", A:fs 1 m", "length_unit": "m"})
    assert found["elevations"]["A"] == pytest.approx(63 * 0.0254 - 1)
    assert found["misclosure"] is None


@given(st.lists(st.tuples(st.floats(0, 4), st.floats(0, 4)), min_size=1, max_size=8))
def test_page_check(pairs):
    """Sum of backsights less sum of foresights is the misclosure (the page check of every levelling textbook)."""
    sights = [Sight("BM", pairs[0][0], None)]
    sights += [
        Sight(f"T{i}", back, fore) for i, ((_, fore), (back, _)) in enumerate(zip(pairs, pairs[1:], strict=False))
    ]
    sights.append(Sight("BM", None, pairs[-1][1]))
    found = reduce_levels(50.0, sights)
    assert found.misclosure == pytest.approx(sum(b for b, _ in pairs) - sum(f for _, f in pairs), abs=1e-9)


@pytest.mark.parametrize(
    ("given_values", "says"),
    [
        ({"notes": "A:fs 5.1", "benchmark": "100 ft"}, "must start with a backsight"),
        ({"notes": "BM:bs 4, A", "benchmark": "100 ft"}, "entry 2 must read"),
        ({"notes": "BM:bs 4, A:bs 5", "benchmark": "100 ft"}, "no foresight"),
        ({"notes": "BM:bs x", "benchmark": "100 ft"}, "notes, BM"),
        ({"notes": NOTES, "benchmark": "100"}, "benchmark needs its unit"),
        ({"notes": NOTES, "benchmark": "100 ft", "length_unit": "hour"}, "length_unit"),
        ({"notes": "", "benchmark": "100 ft"}, "notes must be text"),
    ],
)
def test_notes_that_do_not_serve(given_values, says):
    with pytest.raises(InputError, match=says):
        REGISTRY["level-notes"].calculate({"length_unit": "ft", **given_values})
