"""A sieve result gone on with by hydrometer readings of what passes the No. 10 sieve."""

from __future__ import annotations

from collections.abc import Sequence

from weirant.errors import InputError
from weirant.job.soil import SievePoint
from weirant.language import tr
from weirant.methods.gradation import Gradation
from weirant.methods.hydrometer import hydrometer_point
from weirant.units import parse
from weirant.units.dimension import NUMBER, TIME

NO_10, NO_200 = 2.0e-3, 75e-6  # m
Reading = tuple[float, float]  # time s, and what the hydrometer shows g/L


def read_readings(text: str) -> list[Reading]:
    """Read ``1 min: 40; 2 min: 36``; a time without a unit is in minutes. Raises InputError."""
    found = []
    for part in filter(str.strip, text.split(";")):
        time, colon, shows = part.rpartition(":")
        if not colon:
            raise InputError(tr("readings"), tr('must read "1 min: 40; 2 min: 36; …"'), part.strip())
        seconds = parse(time, TIME, tr("readings"), "min")
        found.append((seconds, parse(shows, NUMBER, tr("readings"))))
    if not found:
        raise InputError(tr("readings"), tr('must read "1 min: 40; 2 min: 36; …"'), text)
    return sorted(found)


def with_jar(sieved: Sequence[SievePoint], readings: Sequence[Reading], *, correction: float, temperature: float, specific_gravity: float, dry_grams: float) -> tuple[SievePoint, ...]:
    """The sieve result with finer points from a jar: of what passes No. 10, as a share of the whole soil by its own sieve result (all of it where there is none).

    Points that would rise again, as the last sieve and the first reading may disagree by a little, are left at what the coarser one lets through. Raises InputError where a
    reading cannot be, or none lies under the finest sieve that is kept.
    """
    kept = [p for p in sieved if p.size >= NO_200]
    whole = Gradation(tuple(p.size for p in kept), tuple(p.percent for p in kept)).percent_finer(NO_10) if len(kept) >= 2 else None
    share = (100.0 if whole is None else whole) / 100
    found = list(kept)
    for time, shows in readings:
        point = hydrometer_point(shows, correction, time, temperature, specific_gravity, dry_grams)
        if not found or point.size < found[-1].size * 0.999:
            percent = share * point.percent
            found.append(SievePoint(round(point.size, 9), round(min(percent, found[-1].percent) if found else percent, 3)))
    if len(found) == len(kept):
        raise InputError(tr("readings"), tr("give no grain finer than the finest sieve: read again after 2 min and more"))
    return tuple(found)
