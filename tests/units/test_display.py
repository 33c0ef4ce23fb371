"""What the reader sees."""

from __future__ import annotations

import pytest

from weirant.units import display as k
from weirant.units.display import System, shown

FT = 0.3048


@pytest.mark.parametrize(
    ("value", "kind", "imperial", "metric"),
    [
        (0.3175, k.SECTION, "12 1/2 in", "320 mm"),
        (0.0159, k.SECTION, "5/8 in", "15 mm"),
        (-0.3175, k.SECTION, "−12 1/2 in", "−320 mm"),
        (0.0, k.SECTION, "0 in", "0 mm"),
        (0.5, k.DEPTH, "19.7 in", "500 mm"),
        (2.0, k.DEPTH, "6 ft 7 in", "2,000 mm"),
        (2.0, k.WATER_DEPTH, "6 ft 7 in", "2,000 mm"),
        (-2.0, k.WATER_DEPTH, "6 ft 7 in over the ground", "2,000 mm over the ground"),
        (-1e-6, k.WATER_DEPTH, "0.0 in", "0 mm"),
        (-0.0254, k.COVER, "1.0 in out of the ground", "25 mm out of the ground"),
        (28.971, k.LEVEL, "95.05 ft", "28.971 m"),
        (-1e-9, k.LEVEL, "0.00 ft", "0.000 m"),
        (0.012, k.SLOPE, "1.20 %", "1.20 %"),
        (1e-5, k.CONDUCTIVITY, "2.8 ft/day", "0.86 m/day"),
        (2.1e-7, k.CONDUCTIVITY, "0.060 ft/day", "0.018 m/day"),
        (75 * 3.785411784e-3 / 60, k.DISCHARGE, "75 gpm", "4.7 L/s"),
        (10.0, k.VOLUME, "13.1 yd³", "10.00 m³"),
        (0.00021, k.OPENING, "0.21 mm", "0.21 mm"),
        (907.18474, k.MASS, "1.0 ton", "0.9 t"),
        (None, k.LEVEL, "–", "–"),
        (float("nan"), k.LEVEL, "–", "–"),
    ],
)
def test_shown(value, kind, imperial, metric):
    assert shown(value, kind, System.IMPERIAL) == imperial
    assert shown(value, kind, System.METRIC) == metric


@pytest.mark.parametrize("system", list(System))
def test_steps_are_sensible_lengths(system):
    assert k.step_si(k.SECTION, system) in (pytest.approx(0.0127), pytest.approx(0.005))
    assert k.to_si(k.from_si(1.234, k.LEVEL, system), k.LEVEL, system) == pytest.approx(1.234)


def test_arguments_are_shown_by_dimension():
    assert k.plain_shown(0.0016, k.d.LENGTH, System.IMPERIAL) == "1.6 mm"
    assert k.plain_shown(0.3, k.d.LENGTH, System.METRIC) == "300 mm"
    assert k.plain_shown(0.016, k.d.NUMBER, System.METRIC) == "0.016"
    assert k.plain_shown("critical", None, System.METRIC) == "critical"
