"""Entries of which soil is in hand and where it holds."""

from __future__ import annotations

from typing import Any

from weirant.job import Job
from weirant.job.identity import by_id
from weirant.job.soils import (
    EVERYWHERE,
    everywhere,
    free_places,
    placed,
    soil_of,
    where_words,
    with_new_soil,
    without_soil,
)
from weirant.language import capital, tr
from weirant.ui.document import Document
from weirant.ui.steps.job_choice import JobChoice

NEW, OUT = "new", "out"  # stand for another soil and for taking the one in hand out, which no identity is


class SoilChoice(JobChoice):
    """Which soil the entries beside are about: that at the station, until another is chosen; the last choices make one more or take it out."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, tr("Soil"))
        document.station_changed.connect(self.show_value)
        document.soil_changed.connect(self.show_value)

    def wanted(self) -> list[tuple[Any, str]]:  # noqa: D102
        job = self.document.shown_job
        out = [(OUT, tr("take this soil out"))] if self.document.soil is not everywhere(job) else []
        return [*((s.id, f"{s.name} ({where_words(job, s)})") for s in job.soils), (NEW, tr("another soil")), *out]

    def now(self) -> Any:  # noqa: D102
        return self.document.soil.id

    def _take(self, index: int) -> None:
        value, _ = self.options[index]
        if value in (NEW, OUT):
            super()._take(index)
        else:
            self.document.take_soil(value)
            self.show_value()

    def edited(self, job: Job, value: Any) -> Job:  # noqa: D102
        if value == OUT:
            return without_soil(job, self.document.soil.id)
        job, made = with_new_soil(job, self.document.soil.id)
        self.document.take_soil(made)
        return job

    def said(self, words: str) -> str:  # noqa: D102
        return capital(words)


class WhereChoice(JobChoice):
    """Where the soil in hand holds: round a test hole, within an outline, or everywhere else."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, tr("It holds"))
        document.station_changed.connect(self.show_value)
        document.soil_changed.connect(self.show_value)

    def wanted(self) -> list[tuple[Any, str]]:  # noqa: D102
        job, soil = self.document.shown_job, self.document.soil
        here = [(soil.hole, soil.area)] if soil.hole or soil.area else []
        if soil is everywhere(job):
            return [(("", ""), tr(EVERYWHERE) if len(job.soils) > 1 else tr("everywhere"))]
        return [(("", ""), EVERYWHERE), *((place, _words(job, *place)) for place in [*here, *free_places(job)])]

    def now(self) -> Any:  # noqa: D102
        return self.document.soil.hole, self.document.soil.area

    def edited(self, job: Job, value: Any) -> Job:  # noqa: D102
        return placed(job, self.document.soil.id, *value)

    def said(self, words: str) -> str:  # noqa: D102
        return tr("{job} holds {words}", job=soil_of(self.document.job, self.document.soil.id).name, words=words)


def _words(job: Job, hole: str, area: str) -> str:
    thing = by_id(job.holes, hole) or by_id(job.features, area)
    return f"{'round' if hole else 'within'} {thing.name}" if thing is not None else ""
