"""The gravel box: what the engine answers is what practitioners see on the bench."""

from __future__ import annotations

import pytest

from weirant.design.bench import (
    DRY,
    FIRST,
    GUESSES,
    SHARE,
    SOILS,
    WALLED,
    WHEN,
    Box,
    Score,
    laid_out,
    lesson,
    rain_on,
    share_drained,
)
from weirant.errors import InputError
from weirant.seepage.storm import simulate


def poured(box: Box):
    return simulate(laid_out(box), rain_on(box), SOILS[box.soil], start_table=DRY, means=WALLED)


def test_the_drain_starts_from_below_and_after_the_rain():
    """It fills from below, not from the top, and runs on for hours (common practice, no source)."""
    box = Box("loam", 0.08, 3600.0)
    course = poured(box)
    assert FIRST.right(box, course) == 1 and WHEN.right(box, course) == 2
    assert course.balance_error < 1e-5 and "after the first drop" in lesson(box, course)


def test_sand_keeps_a_small_rain_and_clay_gives_most_of_it_up():
    sand, clay = Box("sand", 0.05), Box("clay", 0.05)
    kept, given = poured(sand), poured(clay)
    assert [g.right(sand, kept) for g in GUESSES] == [2, 3, 0] and "until the ground is full" in lesson(sand, kept)
    assert SHARE.right(clay, given) == 3 and share_drained(given) > 0.7


def test_a_deeper_trench_drains_more():
    assert share_drained(poured(Box("loam", 0.1, depth=0.8))) > share_drained(poured(Box("loam", 0.1, depth=0.7)))


def test_guesses_are_scored_over_rounds():
    score = Score().after((1, 2, 0), (1, 2, 3)).after((0, 0, 0), (1, 1, 0))
    assert (score.right, score.made) == (3, 6)


@pytest.mark.parametrize("wrong", [{"soil": "mud"}, {"rain": 0.0}, {"rain": 0.5}, {"lasts": 1.0}, {"depth": 0.9}, {"bedding": -0.1}, {"holes": "up"}])
def test_a_box_that_cannot_be_is_refused(wrong):
    with pytest.raises(InputError):
        Box(**wrong)
