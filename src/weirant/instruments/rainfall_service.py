"""A stand-in for a service that gives the rainfall table of a place and its days with rain: made-up places, and a pause as of a far machine."""

from __future__ import annotations

import time

from weirant.errors import InputError
from weirant.job.rain import RainfallDepth
from weirant.job.work_terms import MONTH
from weirant.language import tr
from weirant.library.tables import rows_in

PAUSE = 0.4  # s
INCH = 0.0254


def places() -> tuple[str, ...]:
    """The places it knows; all invented."""
    return tuple(dict.fromkeys(row["place"] for row in rows_in("practice_rainfall.csv")))


def rainfall_at(place: str, pause: float = PAUSE) -> tuple[RainfallDepth, ...]:
    """The table of a place; takes its time. InputError where it does not know the place."""
    if place not in places():
        raise InputError("place", tr("is not known to the service, which knows {places}", places=", ".join(places())), place)
    time.sleep(pause)
    return tuple(RainfallDepth(float(row["duration_min"]) * 60, float(years), float(row[years]) * INCH)
                 for row in rows_in("practice_rainfall.csv") if row["place"] == place for years in row if years not in ("place", "duration_min"))  # fmt: skip


def rain_days_at(place: str) -> tuple[float, ...]:
    """The share of the days of each month, January first, with 0.1 in (2.5 mm) of rain or more in one of its places."""
    row = next(row for row in rows_in("practice_rain_days.csv") if row["place"] == place)
    return tuple(float(row[str(month)]) / days for month, days in enumerate(MONTH, 1))
