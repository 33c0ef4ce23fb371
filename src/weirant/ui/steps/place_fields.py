"""Entries of what the run in hand keeps dry."""

from __future__ import annotations

from typing import Any

from weirant.job import Job
from weirant.job.geometry import run_of
from weirant.job.identity import by_id
from weirant.job.site import CAN_BE_DRY, lacking_corners
from weirant.job.situations import situation_of, with_new_place, with_place
from weirant.language import tr
from weirant.ui.document import Document
from weirant.ui.steps.job_choice import JobChoice

NEW = "new"  # stands for a place that is not drawn yet, which no identity is


class PlaceChoice(JobChoice):
    """The thing on the plan that the run in hand, or one stretch of a run, keeps dry; the last choice draws a new one beside it."""

    def __init__(self, document: Document, run: str = "", stretch: str = "") -> None:
        self._run, self.stretch = run, stretch
        super().__init__(document, tr("It keeps dry"))

    @property
    def run(self) -> str:
        """Identity of the run that it is about."""
        return self._run or self.document.run

    def wanted(self) -> list[tuple[Any, str]]:  # noqa: D102
        things = [f for f in self.document.shown_job.features if f.dry_depth is not None or (f.kind in CAN_BE_DRY and not lacking_corners(f.kind, f.points))]
        return [("", tr("nothing yet")), *((f.id, f.name or f.kind) for f in things), (NEW, tr("a new place beside it"))]

    def now(self) -> Any:  # noqa: D102
        run = by_id(self.document.shown_job.runs, self.run)
        if run is None:
            return None
        stretch = by_id(run.stretches, self.stretch) if self.stretch else None
        return stretch.situation.place if stretch is not None else situation_of(run).place

    def edited(self, job: Job, value: Any) -> Job:  # noqa: D102
        if value == NEW:
            return with_new_place(job, self.run, self.stretch)
        return with_place(job, self.run, value, self.stretch)

    def said(self, words: str) -> str:  # noqa: D102
        return tr("{job} keeps dry: {words}", job=run_of(self.document.job, self.run).name, words=words)
