"""What is set into the runs: inlets, pits, clean-outs and the like, each with its place, its rim and, where it is one, its box."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QPushButton, QWidget

from weirant.design.layout import taken_out_at
from weirant.ground.network import LaidRun
from weirant.job import Job
from weirant.job.identity import by_id
from weirant.job.network import (
    BASINS,
    BUILT,
    ENTRIES,
    EXISTING,
    FITTINGS,
    INLET,
    PLAIN,
    PLANNED,
    ROOF_ENTRY,
    ROUND,
    SQUARE,
    Node,
)
from weirant.job.run_edits import of_node_kind, with_node
from weirant.language import tr
from weirant.ui.dialogs.rows import RowsDialog
from weirant.ui.document import Document
from weirant.ui.entry import QuantityEdit, WordChoice
from weirant.ui.plain_text import PlainLabel
from weirant.ui.steps.entries import TextEdit
from weirant.ui.steps.job_choice import JobChoice
from weirant.ui.steps.run_fields import FittingChoice
from weirant.ui.theme import THEME
from weirant.units.display import STATION, shown

STANDS = [(PLANNED, tr("planned")), (BUILT, tr("built")), (EXISTING, tr("old"))]


class SetThere(JobChoice):
    """What is set at a node."""

    def __init__(self, document: Document, node: str) -> None:
        self.node = node
        super().__init__(document, tr("What is set there"))
        self.setMinimumContentsLength(9)

    def wanted(self) -> list[tuple[Any, str]]:  # noqa: D102
        return [(kind, tr(kind)) for kind in FITTINGS]

    def now(self) -> Any:  # noqa: D102
        found = by_id(self.document.shown_job.nodes, self.node)
        return found.kind if found is not None else None

    def edited(self, job: Job, value: Any) -> Job:  # noqa: D102
        return with_node(job, of_node_kind(next(n for n in job.nodes if n.id == self.node), value))


class FittingsDialog(RowsDialog):
    """A row for each; every entry is an edit of the job that can be undone."""

    told_in = ("step-line", "")

    HEADS = (tr("what it is"), tr("its name"), tr("where"), tr("rim, or lid"), tr("shape, or entry"), tr("size inside"), tr("sump"),
             tr("grate open"), tr("bowl deep"), tr("bowl area"), tr("stands"), "")  # fmt: skip

    def __init__(self, document: Document, parent: QWidget) -> None:
        self.new = FittingChoice(document)
        super().__init__(document, parent, tr("Stand at a station of the run in hand to set something there. A rim left open is taken to lie at the ground."), self.new)
        self.setWindowTitle(tr("Boxes, clean-outs, vents"))
        self.resize(round(91 * THEME.text), round(28 * THEME.text))
        self.follow()

    def follow(self) -> None:  # noqa: D102
        document = self.document
        if document.is_empty:
            self.reject()
            return
        rows = tuple((node.id, node.kind, run.id, run.name, shown(station, STATION, document.system)) for run, node, station in self._set())
        self.lay_rows((rows, document.system), self._of_nodes)
        self.widen()

    def _set(self) -> list[tuple[LaidRun, Node, float]]:
        """What is set, each once, on the first of its runs that it lies highest on."""
        places: dict[str, tuple[LaidRun, Node, float]] = {}
        for run in self.document.outcome.site.network.runs:
            for node, station in run.nodes:
                if node.kind != PLAIN and (node.id not in places or station > places[node.id][2]):
                    places[node.id] = run, node, station
        return list(places.values())

    def _of_nodes(self) -> Iterator[tuple[QWidget, ...]]:
        for run, node, station in self._set():
            yield self._row(run, node, station)

    def _row(self, run: LaidRun, node: Node, station: float) -> tuple[QWidget, ...]:
        document, base = self.document, f"nodes.{node.id}"
        name, where = TextEdit(document, f"{base}.name"), f"{run.name}, {shown(station, STATION, document.system)}"
        name.setFixedWidth(round(8 * THEME.text))
        rim = QuantityEdit(document, f"{base}.rim", tr("at the ground"))
        rim.setFixedWidth(round(8 * THEME.text))
        box: list[QWidget] = [PlainLabel("–") for _ in range(3)]
        if node.kind in BASINS and node.basin is not None:
            box = [WordChoice(document, f"{base}.basin.shape", [(ROUND, tr(ROUND)), (SQUARE, tr(SQUARE))]), QuantityEdit(document, f"{base}.basin.size", tr("not said")),
                   QuantityEdit(document, f"{base}.basin.sump", tr("not said"))]  # fmt: skip
            for edit in box[1:]:
                edit.setFixedWidth(round(5.2 * THEME.text))
        if node.kind == ROOF_ENTRY:
            box[0] = WordChoice(document, f"{base}.entry", [(way, tr(way)) for way in ENTRIES])
            box[0].setFixedWidth(round(8.6 * THEME.text))
        bowl: list[QWidget] = [PlainLabel("–") for _ in range(3)]
        if node.kind == INLET:
            bowl = [QuantityEdit(document, f"{base}.grate.{name}") for name in ("clear", "bowl_depth", "bowl_area")]
            for edit in bowl:
                edit.setFixedWidth(round(4.6 * THEME.text))
        out = QPushButton(tr("Take out"))
        out.setAutoDefault(False)
        out.setAccessibleName(tr("Take out the {kind} at {where}", kind=tr(node.kind), where=where))
        out.clicked.connect(partial(self.take_out, run.id, node.id))
        return SetThere(document, node.id), name, PlainLabel(where), rim, *box, *bowl, WordChoice(document, f"{base}.status", STANDS), out

    def take_out(self, run: str, identity: str) -> None:
        """Take what is set at a node out; the node stays where something else needs it."""
        def kind(_: Job) -> str:
            return tr("{kind} taken out", kind=tr(next(n for n in self.document.job.nodes if n.id == identity).kind))

        self.document.edit(lambda job: taken_out_at(job, run, node=identity), kind, may_come=True)
