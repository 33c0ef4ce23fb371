"""Graded filters out of the library: what fits is what a linear programme finds, and the classic answers come out."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.optimize import linprog

from weirant.cli.main import main
from weirant.design.graded_filter import SHARES, SIZES, _curve, graded_filters
from weirant.errors import InputError
from weirant.library import shipped
from weirant.methods.gradation import gradation_of
from weirant.methods.granular_filter import granular_filter_limits

LIBRARY = shipped()
SILT = gradation_of([(2e-3, 100), (0.425e-3, 97), (0.25e-3, 93), (0.15e-3, 86), (0.075e-3, 68), (0.02e-3, 30), (0.005e-3, 14), (0.002e-3, 8)])
SAND = gradation_of([(4.75e-3, 100), (2e-3, 90), (0.425e-3, 60), (0.25e-3, 35), (0.15e-3, 15), (0.075e-3, 6)])
CLAY = gradation_of([(0.425e-3, 100), (0.075e-3, 95), (0.02e-3, 80), (0.005e-3, 60), (0.002e-3, 45), (0.001e-3, 10)])


def test_concrete_sand_holds_silt_and_small_stone_holds_sand():
    """NEH 633 ch. 26: a silt of category 2 asks D15 of 0.7 mm, which ASTM C33 fine aggregate keeps and no stone does."""
    silt, sand = graded_filters(SILT, LIBRARY), graded_filters(SAND, LIBRARY)
    assert [part.key for part in silt[0].parts] == ["c33-sand"] and all("c33-sand" in [part.key for part in kind.parts] for kind in silt) and silt[0].fits
    assert [part.key for part in sand[0].parts] == ["no-9"] and {"no-8", "no-89"} <= {kind.parts[0].key for kind in sand}
    for soil, kinds in ((SILT, silt), (SAND, sand)):
        limits = granular_filter_limits(soil)
        assert all(limits.d15_min <= kind.d15[0] <= kind.d15[1] <= limits.d15_max for kind in kinds)
        blends = [kind.margin for kind in kinds if len(kind.parts) > 1]
        assert all(margin > kinds[0].margin for margin in blends)
    with pytest.raises(InputError, match="75"):
        graded_filters(gradation_of([(1e-3, 100), (0.5e-3, 40)]), LIBRARY)


@pytest.mark.parametrize(("soil", "wanted"), [(SILT, 3), (SAND, 5), (CLAY, 0)])
def test_a_blend_fits_where_a_linear_programme_has_a_share_for_it(soil, wanted):
    """What is asked of D15, D90 and fines is linear in the share, at the sizes of the limits; to a share that a loader can measure."""
    limits, fits = granular_filter_limits(soil), {}
    for one, other in (("no-8", "c33-sand"), ("no-57", "c33-sand"), ("no-9", "no-4"), ("no-89", "c33-sand"), ("no-7", "no-9")):
        (fine_a, coarse_a), (fine_b, coarse_b) = (tuple(_curve(side) for side in (LIBRARY.aggregates[key].fine_side, LIBRARY.aggregates[key].coarse_side)) for key in (one, other))

        def at(curve, size):
            return float(np.interp(np.log(size), np.log(SIZES), curve))

        rows = [(at(coarse_a, limits.d15_max), at(coarse_b, limits.d15_max), 15.0, 1), (at(fine_a, limits.d15_min), at(fine_b, limits.d15_min), 15.0, -1),
                (at(coarse_a, limits.band_d90_max), at(coarse_b, limits.band_d90_max), 90.0, 1), (at(fine_a, 75e-6), at(fine_b, 75e-6), 5.0, -1)]  # fmt: skip
        lp = linprog([0.0], [[-sign * (a - b)] for a, b, _, sign in rows], [-sign * (asked - b) for _, b, asked, sign in rows], bounds=[(min(SHARES), max(SHARES))])
        ends = [linprog([way], [[-sign * (a - b)] for a, b, _, sign in rows], [-sign * (asked - b) for _, b, asked, sign in rows], bounds=[(min(SHARES), max(SHARES))]) for way in (1, -1)]
        two = type(LIBRARY)({}, {key: LIBRARY.aggregates[key] for key in (one, other)}, {}, {})
        found = graded_filters(soil, two, 50)
        on_grid = lp.success and any(ends[0].x[0] - 1e-6 <= share <= ends[1].x[0] + 1e-6 for share in SHARES)
        fits[one, other] = on_grid
        blends = [kind for kind in found if len(kind.parts) == 2 and kind.fits]
        assert on_grid or not blends, (one, other)
        assert not on_grid or any(kind.fits for kind in found), (one, other)  # the blend, or a part of it alone that keeps more to spare
        assert all(ends[0].x[0] - 0.02 <= kind.share <= ends[1].x[0] + 0.02 for kind in blends)
    assert list(fits.values()).count(True) == wanted


def test_by_the_command_line(capsys):
    assert main(["filter", "demo", "--graded"]) == 0
    said = capsys.readouterr().out
    assert "C33" in said and "fits, with" in said
    assert main(["filter", "demo", "--graded", "--json"]) == 0 and '"c33-sand"' in capsys.readouterr().out
