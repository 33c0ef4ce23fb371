"""Where other water comes in: roofs, paving, open ground, springs and pumps, each with what it sheds or brings and the pipe it is led into."""

from __future__ import annotations

import dataclasses
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QPushButton, QWidget

from weirant.job import Job
from weirant.job.identity import by_id
from weirant.job.network import PLAIN
from weirant.job.site import OUTLINED
from weirant.job.source_edits import entries_of, of_kind, with_new_source, with_source, without_source
from weirant.job.water import AWAY, OPEN_GROUND, PAVING, PUMPED, ROOF_WATER, SHEDS, SPRING, Source
from weirant.language import capital, tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.water import Brought
from weirant.ui.dialogs.rows import RowsDialog
from weirant.ui.document import Document
from weirant.ui.entry import QuantityEdit
from weirant.ui.plain_text import PlainLabel, plain_tip
from weirant.ui.steps.entries import TextEdit
from weirant.ui.steps.job_choice import JobChoice
from weirant.ui.still_box import StillBox
from weirant.ui.theme import THEME
from weirant.units.display import DISCHARGE, STATION, System, shown
from weirant.words.facts import doubt_words

KINDS = (ROOF_WATER, PAVING, OPEN_GROUND, SPRING, PUMPED)


class _OfSource(JobChoice):
    """A choice about one source."""

    LETTERS = 10

    def __init__(self, document: Document, source: str, name: str) -> None:
        self.source = source
        super().__init__(document, name)
        self.setMinimumContentsLength(self.LETTERS)

    def found(self) -> Source | None:
        """The source; None where it has gone."""
        return by_id(self.document.shown_job.sources, self.source)


class KindOf(_OfSource):
    """What kind of water it is."""

    LETTERS = 8

    def wanted(self) -> list[tuple[Any, str]]:  # noqa: D102
        return [(kind, tr(kind)) for kind in KINDS]

    def now(self) -> Any:  # noqa: D102
        found = self.found()
        return found.kind if found is not None else None

    def edited(self, job: Job, value: Any) -> Job:  # noqa: D102
        return of_kind(job, self.source, value)


class OutlineOf(_OfSource):
    """The thing on the plan whose area sheds."""

    def wanted(self) -> list[tuple[Any, str]]:  # noqa: D102
        return [("", tr("none")), *((f.id, f.name or tr(f.kind)) for f in self.document.shown_job.features if f.kind in (*OUTLINED, "walk") and f.kind != "boundary")]

    def now(self) -> Any:  # noqa: D102
        found = self.found()
        return found.thing if found is not None else None

    def edited(self, job: Job, value: Any) -> Job:  # noqa: D102
        source = next(s for s in job.sources if s.id == self.source)
        return with_source(job, dataclasses.replace(source, thing=value))


class LedInto(_OfSource):
    """Where it is led: what is set into a run, the top of a run, or off elsewhere."""

    LETTERS = 14

    def wanted(self) -> list[tuple[Any, str]]:  # noqa: D102
        outcome, system, found = self.document.outcome, self.document.system, self.found()
        usual = [(node.id, run.id) for node, run in entries_of(outcome.job)]
        here = found.node if found is not None and found.node not in ("", AWAY, *(node for node, _ in usual)) else ""
        joints = outcome.site.network.at_node.get(here, ())  # led to a node that is nothing special any more
        options = [*usual, *((here, joint.run) for joint in joints[:1])]
        return [("", tr("not said yet")), *((node, entry_words(outcome, node, run, system)) for node, run in options), (AWAY, tr("led off elsewhere"))]

    def now(self) -> Any:  # noqa: D102
        found = self.found()
        return found.node if found is not None else None

    def edited(self, job: Job, value: Any) -> Job:  # noqa: D102
        source = next(s for s in job.sources if s.id == self.source)
        return with_source(job, dataclasses.replace(source, node=value))


def entry_words(outcome: Outcome, node: str, run: str, system: System) -> str:
    """A node by its name, or by what it is on its run."""
    laid = outcome.run(run).run
    found, station = next((n, s) for n, s in laid.nodes if n.id == node)
    if found.name:
        return f"{found.name}, {laid.name}"
    if found.kind == PLAIN:
        return tr("top of {laid}", laid=laid.name) if station > laid.length - 1e-6 else tr("{laid} at {station}", laid=laid.name, station=shown(station, STATION, system))
    return tr("{kind} at {station}, {laid}", kind=tr(found.kind), station=shown(station, STATION, system), laid=laid.name)


class SourcesDialog(RowsDialog):
    """A row for each source; every entry is an edit of the job that can be undone."""

    told_in = ("step-water", "")

    HEADS = (tr("what it is"), tr("kind"), tr("outline on the plan"), tr("or its area"), tr("runs off"), tr("or curve no."), tr("rain it is sized by"), tr("steady inflow"),
             tr("led into"), tr("brings"), "")  # fmt: skip

    def __init__(self, document: Document, parent: QWidget) -> None:
        self.new = StillBox()
        super().__init__(document, parent, tr("What rain runs off, and what springs and pumps bring, goes into the size of every pipe below the place it is led into. "
                         "Without a rain of its own it is reckoned by the hardest ten minutes of the place's rainfall table."), self.new)  # fmt: skip
        self.setWindowTitle(tr("Roofs, paving, pumps"))
        self.resize(round(84 * THEME.text), round(22 * THEME.text))
        self.new.setAccessibleName(tr("Add a source"))
        self.new.addItems([tr("add …"), *map(tr, KINDS)])
        self.new.activated.connect(self.add)
        self.follow()

    def follow(self) -> None:  # noqa: D102
        document = self.document
        if document.is_empty:
            self.reject()
            return
        self.lay_rows((tuple((s.id, s.kind) for s in document.shown_job.sources), document.system), self._of_sources)
        for found, label in zip(document.outcome.site.brought, self.brings, strict=True):
            label.setText(self._told(found))
            label.setToolTip(plain_tip(doubt_words(found.missing, self.document.shown_job)))
        self.widen()

    def _told(self, found: Brought) -> str:
        return tr("not known") if found.figure is None else shown(found.figure.value, DISCHARGE, self.document.system)

    def _of_sources(self) -> list[list[QWidget]]:
        self.brings: list[PlainLabel] = []
        return [self._row(source) for source in self.document.shown_job.sources]

    def _row(self, source: Source) -> list[QWidget]:
        document, base = self.document, f"sources.{source.id}"
        name = TextEdit(document, f"{base}.name")
        name.setFixedWidth(round(12 * THEME.text))
        sheds = source.kind in SHEDS
        figures: list[QWidget] = []
        for field, meant, nothing, width in (("area", sheds, tr("by outline"), 5.8), ("share", sheds, "", 4.4),
                                             ("curve_number", source.kind == OPEN_GROUND, tr("none"), 4.4), ("intensity", sheds, tr("by table"), 7.6),
                                             ("inflow", not sheds, tr("not known"), 6.2)):
            figures.append(QuantityEdit(document, f"{base}.{field}", nothing) if meant else PlainLabel("–"))
            figures[-1].setFixedWidth(round(width * THEME.text))
        out = QPushButton(tr("Take out"))
        out.setAutoDefault(False)
        out.setAccessibleName(tr("Take out {source}", source=source.name))
        out.clicked.connect(partial(self.take_out, source.id))
        outline: QWidget = OutlineOf(document, source.id, tr("Outline of {source}", source=source.name)) if sheds else PlainLabel("–")
        self.brings.append(PlainLabel())
        return [name, KindOf(document, source.id, tr("Kind of {source}", source=source.name)), outline, *figures, LedInto(document, source.id, tr("Where {source} is led",
                                                                                                                                                  source=source.name)), self.brings[-1], out]

    def add(self, index: int) -> None:
        """One more source of the kind chosen, led to the top of the run in hand where that has none yet."""
        self.new.setCurrentIndex(0)
        if index > 0:
            top = self.document.in_hand.run.nodes[-1][0].id
            led = top if not self.document.in_hand.run.collecting_length and not any(s.node == top for s in self.document.job.sources) else ""
            job, _ = with_new_source(self.document.job, KINDS[index - 1], led)
            self.document.change(job, tr("{kind} added", kind=capital(tr(KINDS[index - 1]))), may_come=True)

    def take_out(self, source: str) -> None:
        """Take a source out; undo brings it back."""
        name = next((s.name for s in self.document.shown_job.sources if s.id == source), "")
        self.document.edit(lambda job: without_source(job, source), tr("{name} taken out", name=name), may_come=True)
