"""What the months of a plan ask for: frost and heat, by the half of the earth that the job lies on."""

from __future__ import annotations

from weirant.language import tr
from weirant.outcome.plan import WORKS, WorkPlan

TROPICS = 23.4  # degrees of latitude between which no month is cold
COLD, HOT = frozenset({11, 12, 1, 2, 3}), frozenset({6, 7, 8})  # months of the north; half a year on in the south (common practice, no source)
FROST = tr("Frost may come: no frozen lumps under the pipe or in the fill; cover an open trench overnight, and look at its walls again after a thaw.")
HEAT = tr("Heat may come: dig in the early hours, with water and shade and an eye on each other; dry soil and cut stone make dust: wet them, and wear a mask.")
NORTH = tr("Months are taken as in the north: the latitude of the plan is not typed.")


def season_words(plan: WorkPlan, latitude: float | None) -> list[str]:
    """The cautions of the months in which somebody works; where the latitude (degrees, north more than 0) is not known, those of the north, and that it is so."""
    months = {month for task in plan.tasks if task.kind == WORKS for month in _months(plan, task.id)}
    if latitude is not None and abs(latitude) <= TROPICS:
        return [HEAT] if months else []
    turned = {(month + 5) % 12 + 1 for month in months} if latitude is not None and latitude < 0 else months
    told = ([FROST] if turned & COLD else []) + ([HEAT] if turned & HOT else [])
    return [*told, NORTH] if told and latitude is None else told


def _months(plan: WorkPlan, task: str) -> set[int]:
    first, last = plan.dates[task]
    return {(first.month + n - 1) % 12 + 1 for n in range((last.year - first.year) * 12 + last.month - first.month + 1)}
