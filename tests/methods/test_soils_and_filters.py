"""Classes of soil and limits of filters, by the tables of the standards."""

from __future__ import annotations

import pytest

from weirant.errors import InputError
from weirant.methods.geotextile import geotextile_limits
from weirant.methods.gradation import gradation_of, read_gradation
from weirant.methods.granular_filter import granular_filter_limits
from weirant.methods.soil_classes import fine_symbol, uscs


@pytest.mark.parametrize(
    ("gradation", "limit", "index", "symbol"),
    [
        ("75 mm:100, 4.75 mm:31, 0.3 mm:10, 0.075 mm:3", 0, 0, "GP"),
        ("75 mm:100, 19 mm:60, 4.75 mm:35, 2 mm:25, 0.425 mm:10, 0.075 mm:2", 0, 0, "GW"),
        ("4.75 mm:100, 2 mm:60, 0.6 mm:30, 0.2 mm:10, 0.075 mm:4", 0, 0, "SP"),
        ("4.75 mm:95, 2 mm:60, 0.75 mm:30, 0.2 mm:10, 0.075 mm:4", 0, 0, "SW"),
        ("4.75 mm:95, 2 mm:60, 0.75 mm:30, 0.1 mm:10, 0.075 mm:8", 0, 0, "SW-SM"),
        ("4.75 mm:95, 2 mm:60, 0.75 mm:30, 0.1 mm:10, 0.075 mm:8", 40, 22, "SW-SC"),
        ("4.75 mm:95, 0.075 mm:30", 22, 5, "SC-SM"),
        ("4.75 mm:95, 0.075 mm:30", 35, 18, "SC"),
        ("75 mm:100, 4.75 mm:40, 0.075 mm:20", 0, 0, "GM"),
        ("0.075 mm:70, 0.005 mm:20", 25, 5, "CL-ML"),
        ("0.075 mm:90, 0.005 mm:40", 60, 35, "CH"),
    ],
)
def test_uscs_symbols(gradation, limit, index, symbol):
    """ASTM D2487 flow chart, worked by hand."""
    text = gradation if "4.75" in gradation else "4.75 mm:100, " + gradation
    assert uscs(read_gradation(text), limit, index).symbol == symbol


@pytest.mark.parametrize(
    ("limit", "index", "symbol"),
    [(30, 3, "ML"), (30, 5, "ML"), (25, 5, "CL-ML"), (40, 20, "CL"), (60, 20, "MH"), (60, 29.2, "CH"), (0, 0, "ML")],
)
def test_plasticity_chart(limit, index, symbol):
    """Corners of the plasticity chart of ASTM D2487: A-line PI = 0.73 (LL − 20)."""
    assert fine_symbol(limit, index) == symbol


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("4.75 mm:92", "must reach 0.075 mm"),
        ("2 mm:50, 0.075 mm:18", "must reach 4.75 mm"),
        ("4.75 mm:95, 2 mm:60, 0.5 mm:30, 0.2 mm:12, 0.075 mm:11", "must reach 10 %"),
        ("4.75 mm:50, 2 mm:60", "finer sieve"),
        ("4.75 mm:50, 4.75 mm:40", "twice"),
        ("4.75 mm:150", "outside 0 to 100"),
        ("0 mm:50", "not more than 0"),
        ("4.75 mm", "size:percent"),
        ("", "at least one size"),
        (7, "must be text"),
    ],
)
def test_gradations_that_do_not_serve(text, says):
    with pytest.raises(InputError, match=says):
        uscs(read_gradation(text), 0, 0)


def test_sizes_lie_straight_on_the_log_axis():
    curve = gradation_of([(1e-2, 100), (1e-4, 0)])
    assert curve.size_at(50) == pytest.approx(1e-3)
    assert curve.percent_finer(1e-3) == pytest.approx(50)
    assert curve.percent_finer(1) == 100
    assert curve.percent_finer(1e-6) == 0
    assert gradation_of([(1e-2, 80), (1e-4, 5)]).size_at(2) is None
    assert gradation_of([(1e-2, 80), (1e-4, 5)]).percent_finer(1) is None


def test_regrading_makes_the_fine_part_the_whole():
    """NEH 633 ch. 26 step 3: percentages are divided by what passes the No. 4 sieve."""
    curve = read_gradation("75 mm:100, 4.75 mm:50, 0.425 mm:40, 0.075 mm:10").regraded_on(4.75e-3)
    assert curve.percents == (100, 80, 20)
    assert curve.sizes[0] == 4.75e-3


@pytest.mark.parametrize(
    ("gradation", "category", "d15_max"),
    [
        ("4.75 mm:100, 0.05 mm:90, 0.02 mm:85, 0.001 mm:15", 1, 0.2e-3),
        ("4.75 mm:100, 0.425 mm:90, 0.075 mm:60, 0.02 mm:15", 2, 0.7e-3),
        ("4.75 mm:100, 2 mm:85, 0.075 mm:15, 0.05 mm:10", 3, 8e-3),
        ("4.75 mm:100, 2 mm:85, 0.075 mm:27.5, 0.03 mm:10", 3, 0.5 * (8e-3 - 0.7e-3) + 0.7e-3),
        ("4.75 mm:100, 2 mm:85, 0.3 mm:15, 0.075 mm:5", 4, 8e-3),
        ("75 mm:100, 19 mm:85, 4.75 mm:60, 0.3 mm:15, 0.075 mm:5", 4, 76e-3),
    ],
)
def test_filter_categories(gradation, category, d15_max):
    """NEH 633 ch. 26 table 26-2, by hand (recalled): category 4 keeps d85 from before regrading."""
    found = granular_filter_limits(read_gradation(gradation))
    assert (found.category, found.d15_max) == (category, pytest.approx(d15_max))
    assert found.band_d15_max / found.band_d15_min <= 5 + 1e-9
    assert found.band_d60_max / (found.band_d15_max / 1.2) == pytest.approx(6)


SOIL = {"plasticity_index": 5, "soil_conductivity": 1e-6}


@pytest.mark.parametrize(
    ("fines", "uniformity", "application", "kind", "o95_over_d85"),
    [
        (10, 1.5, "less-critical", "woven", 1.0),
        (10, 3.0, "less-critical", "woven", 1.5),
        (10, 6.0, "less-critical", "nonwoven", 8 / 6),
        (10, 20.0, "less-critical", "nonwoven", 1.0),
        (60, 20.0, "less-critical", "nonwoven", 1.8),
        (60, 20.0, "less-critical", "woven", 1.0),
        (60, 20.0, "dynamic", "nonwoven", 0.5),
    ],
)
def test_retention_of_geotextiles(fines, uniformity, application, kind, o95_over_d85):
    """FHWA NHI-07-092 §2.3, coefficient B by soil."""
    found = geotextile_limits(percent_passing_75um=fines, d85=1e-4, d15=1e-5, uniformity=uniformity, **SOIL, application=application, wrap_kind=kind)
    assert found.o95_max / 1e-4 == pytest.approx(o95_over_d85)
    assert found.permittivity_min == {10: 0.5, 60: 0.1}[fines]
    assert found.conductivity_min == pytest.approx(1e-6 if application == "less-critical" else 1e-5)
    assert found.o95_min_anticlogging == (pytest.approx(3e-5) if uniformity > 3 else None)


@pytest.mark.parametrize(("index", "most"), [(5, 0.22e-3), (7, 0.22e-3), (7.1, 0.30e-3), (25, 0.30e-3)])
def test_fine_soil_takes_openings_by_its_plasticity(index, most):
    """AASHTO M 288, subsurface drainage, more than 50 % passing 75 µm (recalled); the smaller of that and B d85."""
    given = {"percent_passing_75um": 60, "d15": 1e-5, "uniformity": 20, "soil_conductivity": 1e-6, "application": "critical", "wrap_kind": "nonwoven", "plasticity_index": index}
    assert geotextile_limits(d85=1e-3, **given).o95_max == pytest.approx(most) and geotextile_limits(d85=1e-4, **given).o95_max == pytest.approx(1.8e-4)
