"""Entries of what a run is made of: its pipe, the section of a stretch, and the trench it lies in."""

from __future__ import annotations

import dataclasses
from functools import reduce
from typing import Any

from weirant.design.one_trench import out_of, put_into
from weirant.job import Job
from weirant.job.geometry import has_run
from weirant.job.identity import by_id
from weirant.job.paths import with_value
from weirant.job.section_edits import in_section_of_its_own, stretch_of, with_stretch
from weirant.language import tr
from weirant.ui.document import Document
from weirant.ui.entry import WordChoice
from weirant.ui.plain_text import plain_tip
from weirant.ui.steps.job_choice import JobChoice
from weirant.words.products import pipe_words

OWN = "own"  # stands for a new section, which no identity is


class SectionChoice(JobChoice):
    """The section that a stretch lies in; the last choice makes a new one for it, like the one it has."""

    def __init__(self, document: Document, run: str, stretch: str) -> None:
        self.run, self.stretch = run, stretch
        super().__init__(document, tr("Trench section"))

    def wanted(self) -> list[tuple[Any, str]]:  # noqa: D102
        return [*((s.id, s.name) for s in self.document.shown_job.sections), (OWN, tr("a section of its own"))]

    def now(self) -> Any:  # noqa: D102
        run = by_id(self.document.shown_job.runs, self.run)
        stretch = by_id(run.stretches, self.stretch) if run is not None else None
        return stretch.section if stretch is not None else None

    def edited(self, job: Job, value: Any) -> Job:  # noqa: D102
        if value == OWN:
            return in_section_of_its_own(job, self.run, self.stretch)[0]
        return with_stretch(job, self.run, dataclasses.replace(stretch_of(job, self.run, self.stretch), section=value))


class TrenchChoice(JobChoice):
    """Whose trench the run in hand lies in, and whether in a place of its section or at its own level."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, tr("In the trench of another run"))

    def wanted(self) -> list[tuple[Any, str]]:  # noqa: D102
        others = [r for r in self.document.shown_job.runs if r.id != self.document.run and not r.trench_of]
        options: list[tuple[Any, str]] = [(("", False), tr("no: its own trench"))]
        for other in others:
            options += [((other.id, True), tr("beside {other}", other=other.name)), ((other.id, False), tr("with {other}, at its own level", other=other.name))]
        return options

    def now(self) -> Any:  # noqa: D102
        run = self.document.in_hand.run.run
        return run.trench_of, bool(run.bore)

    def edited(self, job: Job, value: Any) -> Job:  # noqa: D102
        host, in_a_place = value
        run, outcome = self.document.run, self.document.outcome
        return put_into(job, run, host, outcome.library, outcome.rules, in_a_place=in_a_place) if host else out_of(job, run)


class PipeChoice(WordChoice):
    """The pipe of the run in hand, all along; where every run has the same one, of every run."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, f"runs.{document.run}.pipe", [(p.key, p.name) for p in document.outcome.library.pipes.values()])
        self.setAccessibleName(tr("pipe"))

    def take(self, value: Any) -> None:  # noqa: D102
        document = self.document
        before = {s.pipe for run in document.job.runs for s in run.stretches}
        runs = [r.id for r in document.job.runs] if len(before) == 1 and has_run(document.job, document.run) else [document.run]
        name = document.outcome.library.pipe(value).name
        of_one = tr("Pipe of {run}: {pipe}", run=document.in_hand.run.name, pipe=name)
        said = tr("Pipe of every run: {pipe}", pipe=name) if len(runs) > 1 else of_one
        if not document.edit(lambda job: reduce(lambda piped, run: with_value(piped, f"runs.{run}.pipe", value), runs, job), said, may_come=True):
            self.show_value()

    def show_value(self) -> None:  # noqa: D102
        super().show_value()
        run = by_id(self.document.shown_job.runs, self.path.split(".")[1])
        if run is not None:  # else it is gone, and the card is about to be laid anew
            several = len({s.pipe for s in run.stretches}) > 1
            told = pipe_words(self.document.outcome.library.pipe(run.stretches[-1].pipe), self.document.system)
            self.setToolTip(plain_tip(tr("This run has several kinds of pipe; a choice here is for all of it. See its stretches.") if several else told))
