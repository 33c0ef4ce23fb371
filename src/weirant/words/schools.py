"""Schools of building a drain told as a table and a sentence, in the units of the job."""

from __future__ import annotations

import math

from weirant.clogging.assumed import Assumed
from weirant.design.schools import School
from weirant.language import capital, tr
from weirant.units.display import SECTION, SHARE, System, shown

HEADS = (tr("school"), tr("half have failed by"), tr("a tenth by"), tr("nine tenths by"), tr("voids full"), tr("lies in the pipe"), tr("takes at the end"))
CAUTION = tr("A comparison of ways to build on one soil, by what is assumed; never a promise. Roots, iron, frost and crushed pipe are not in it.")
ASSUMED = {
    "turbid": tr("fines in water from soil without plasticity that nothing holds, kg/m³"), "plasticity": tr("plasticity index by which that falls to a tenth"),
    "bridge": tr("fines let go on a square metre while as many grains stay as go, kg"), "packed": tr("settled fines, kg/m³"), "cake_voids": tr("void ratio of settled fines"),
    "washes": tr("share that the pipe washes out where it runs quickly enough"), "flushed": tr("share of what lies in the pipe that flushing fetches"),
    "reaches": tr("share of what lies in the stone that flushing fetches through openings all round"), "blown": tr("what is blown and washed into open stone in a year, kg/m²"),
    "wet": tr("share of the year in which water comes"),
}  # fmt: skip


def assumed_words(assumed: Assumed) -> list[str]:
    """What is assumed, a line each."""
    return [f"  {key} = {getattr(assumed, key):g}  {words}" for key, words in ASSUMED.items()]


def years_words(years: float, looked_at: int) -> str:
    """So many years, or more than were looked at."""
    return tr("over {years} years", years=looked_at) if math.isinf(years) else tr("under 1 year") if years < 1.5 else tr("{years:.0f} years", years=years)


def cells(school: School, looked_at: int, system: System) -> tuple[str, ...]:
    """A row of the table."""
    first, middle, ninth = school.lasts
    takes = tr("{times:.0f} times", times=school.takes) if school.takes < 1000 else tr("over 1000 times")
    return (capital(school.built.name), years_words(middle, looked_at), years_words(first, looked_at), years_words(ninth, looked_at), shown(school.silted, SHARE, system),
            shown(school.in_pipe, SECTION, system), takes)  # fmt: skip
