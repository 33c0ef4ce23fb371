"""Readings as they stand on a staff."""

from __future__ import annotations

import pytest

from weirant.errors import InputError
from weirant.units.staff import DECIMAL_FEET, FEET_INCHES, METRES, read_staff, staff_for, staff_text

IN = 0.0254


@pytest.mark.parametrize(("text", "staff", "value"), [
    ("5 3 1/2", FEET_INCHES, 63.5 * IN), ("5' 3 1/2\"", FEET_INCHES, 63.5 * IN), ("5-3", FEET_INCHES, 63 * IN), ("5.25", FEET_INCHES, 63 * IN),
    ("5.25", DECIMAL_FEET, 63 * IN), ("1.6", METRES, 1.6), ("1,6", METRES, 1.6), ("4 ft", METRES, 48 * IN),
])  # fmt: skip
def test_readings_are_read(text, staff, value):
    assert read_staff(text, staff) == pytest.approx(value)


@pytest.mark.parametrize(("value", "staff", "rounding", "text"), [
    (63.5 * IN, FEET_INCHES, IN / 8, "5' 3 1/2\""), (63.97 * IN, FEET_INCHES, IN / 8, "5' 4\""), (71.99 * IN, FEET_INCHES, IN / 8, "6' 0\""),
    (63.3 * IN, FEET_INCHES, IN / 2, "5' 3 1/2\""), (-2.25 * IN, FEET_INCHES, IN / 8, "−0' 2 1/4\""), (63 * IN, DECIMAL_FEET, IN / 8, "5.25"),
    (1.2344, METRES, 0.005, "1.235"), (1.2334, METRES, IN / 8, "1.235"), (1.2344, METRES, 0.0, "1.234"), (None, METRES, 0.0, "–"),
])  # fmt: skip
def test_readings_are_shown(value, staff, rounding, text):
    assert staff_text(value, staff, rounding) == text


def test_what_is_no_reading_is_refused_and_metres_follow_the_job():
    with pytest.raises(InputError, match="rod as built"):
        read_staff("5 3 x", FEET_INCHES, "rod as built")
    assert staff_for(DECIMAL_FEET, is_metric=True) == METRES and staff_for(FEET_INCHES, is_metric=True) == FEET_INCHES


@pytest.mark.parametrize(("staff", "example"), [(DECIMAL_FEET, "9.40"), (FEET_INCHES, "5' 3 1/2"), (METRES, "1.365")])
def test_what_is_no_reading_is_refused_with_one_of_that_staff(staff, example):
    with pytest.raises(InputError, match=f"such as {example}"):
        read_staff("twelve", staff)
    assert read_staff(example, staff) > 1.2 and read_staff("5' 3 1/2\"", staff) == pytest.approx(1.6129)  # in feet and inches whoever asks
