"""Trade notation into SI, checked against pint where pint can read it."""

from __future__ import annotations

import math

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from weirant.errors import InputError
from weirant.units import dimension as d
from weirant.units import parse
from weirant.units.parse import unit_factor

INCH, FOOT = 0.0254, 0.3048


@pytest.mark.parametrize(
    ("text", "dimension", "si"),
    [
        ("4 in", d.LENGTH, 4 * INCH),
        ('4"', d.LENGTH, 4 * INCH),
        ("3/4 in", d.LENGTH, 0.75 * INCH),
        ("1 3/4 in", d.LENGTH, 1.75 * INCH),
        ("1-3/4 in", d.LENGTH, 1.75 * INCH),
        ("1½ in", d.LENGTH, 1.5 * INCH),
        ("5' 3 1/2\"", d.LENGTH, 63.5 * INCH),
        ("5'-3 1/2\"", d.LENGTH, 63.5 * INCH),
        ("5 ft 3 in", d.LENGTH, 63 * INCH),
        ("-3 ft", d.LENGTH, -3 * FOOT),
        ("1,5 mm", d.LENGTH, 0.0015),
        ("1,250,000 mm", d.LENGTH, 1250.0),
        ("1,114.8 m2", d.AREA, 1114.8),
        ("12\u00a0000 ft2", d.AREA, 12000 * 0.3048**2),
        ("1\u202f250\u00a0000 mm", d.LENGTH, 1250.0),
        ("12 µm", d.LENGTH, 12e-6),
        ("4", d.LENGTH, 4.0),
        (4, d.LENGTH, 4.0),
        ("1 %", d.SLOPE, 0.01),
        ("1:100", d.SLOPE, 0.01),
        ("1in/10ft", d.SLOPE, 1 / 120),
        ("1 in per 10 ft", d.SLOPE, 1 / 120),
        ("1 in in 10 ft", d.SLOPE, 1 / 120),
        ("1/4 in/ft", d.SLOPE, 1 / 48),
        ("0.3 m/day", d.SPEED, 0.3 / 86400),
        ("1e-5 m/s", d.SPEED, 1e-5),
        ("75 gpm", d.DISCHARGE, 75 * 3.785411784e-3 / 60),
        ("2 L/s", d.DISCHARGE, 2e-3),
        ("3 ft3/s", d.DISCHARGE, 3 * FOOT**3),
        ("2 gpm/100 ft", d.DISCHARGE_PER_LENGTH, 2 * 3.785411784e-3 / 60 / (100 * FOOT)),
        ("200 sq ft", d.AREA, 200 * FOOT**2),
        ("1 m^2", d.AREA, 1.0),
        ("2 cu yd", d.VOLUME, 54 * FOOT**3),
        ("1 h 30 min", d.TIME, 5400.0),
        ("3 ton", d.MASS, 6000 * 0.45359237),
        ("50 F", d.TEMPERATURE, 10.0),
        ("283.15 K", d.TEMPERATURE, 10.0),
        ("10", d.TEMPERATURE, 10.0),
        ("12 /m", d.PER_LENGTH, 12.0),
        ("2 1/s", d.PER_TIME, 2.0),
    ],
)
def test_trade_notation(text, dimension, si):
    assert parse(text, dimension) == pytest.approx(si, rel=1e-12)


@pytest.mark.parametrize(
    ("text", "dimension", "says"),
    [
        ("", d.LENGTH, "is empty"),
        ("nan", d.LENGTH, "finite"),
        ("inf m", d.LENGTH, "finite"),
        ("1e999", d.LENGTH, "finite"),
        (float("nan"), d.LENGTH, "finite"),
        (True, d.LENGTH, "true or false"),
        ("5 in", d.AREA, "takes a value of area"),
        ("5 banana", d.LENGTH, "'banana'"),
        ("1,250 ft", d.LENGTH, "thousands or decimals"),
        ("5 ft 3", d.LENGTH, "not understood"),
        ("3 in 5 ft", d.LENGTH, "wrong order"),
        ("1/0 in", d.LENGTH, "divides by nought"),
        ("1:0", d.SLOPE, "divides by nought"),
        ("ft", d.LENGTH, "must start with a number"),
        ("5 m/", d.SPEED, "without a unit"),
        ("++", d.LENGTH, "not understood"),
        ("1 (5", d.LENGTH, "not understood"),
        ("warm", d.TEMPERATURE, "temperature"),
    ],
)
def test_refusals_name_the_field_and_the_fault(text, dimension, says):
    with pytest.raises(InputError, match=says) as caught:
        parse(text, dimension, "width")
    assert str(caught.value).startswith("width")


def test_bare_number_takes_the_unit_on_screen():
    assert parse("12", d.LENGTH, "width", "in") == pytest.approx(12 * INCH)


PINT = {"ft3/s": "ft**3/s", "ft2": "ft**2", "yd3": "yd**3"}


@pytest.mark.parametrize(
    "unit", ["mm", "ft", "in", "m/day", "L/s", "gal/min", "yd", "ha", "km", "lb", "m/s", "in/hour"] + list(PINT)
)
def test_factors_agree_with_pint(unit):
    ours, _ = unit_factor(unit)
    assert ours == pytest.approx(pint.UnitRegistry()(f"1 {PINT.get(unit, unit)}").to_base_units().magnitude, rel=1e-9)


@pytest.mark.parametrize(
    ("text", "feet"),
    [("1.234,5", 1234.5), ("1 234,5", 1234.5),
     ("12 500", 12500.0), ("1,234.5", 1234.5), ("5' 3 1/2", 63.5 / 12), ("-5' 3", -5.25), ("5-3 1/2", 63.5 / 12), ("5-11", 71 / 12), ("2 1/2", 2.5)],
)
def test_lengths_are_read_as_they_are_called_out_where_feet_are_shown(text, feet):
    assert parse(text, d.LENGTH, "length", "ft") == pytest.approx(feet * FOOT)


@pytest.mark.parametrize(("text", "unit", "says"), [("1,234", "ft", "write 1234 or 1.234"), ("5-12", "ft", "not understood"), ("5-3", "m", "not understood")])
def test_what_could_be_two_is_refused_with_an_example(text, unit, says):
    with pytest.raises(InputError, match=says):
        parse(text, d.LENGTH, "length", unit)


@given(st.floats(-1e6, 1e6), st.sampled_from(["m", "ft", "in", "mm"]))
def test_numbers_survive_their_own_notation(number, unit):
    assert parse(f"{number!r} {unit}", d.LENGTH) == pytest.approx(number * unit_factor(unit)[0], rel=1e-12, abs=1e-300)


@given(st.text(max_size=14))
def test_any_text_is_read_or_refused(text):
    for dimension in (d.LENGTH, d.SLOPE, d.TEMPERATURE):
        try:
            assert math.isfinite(parse(text, dimension))
        except InputError:
            pass
