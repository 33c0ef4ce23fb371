"""Rows of holes drilled along a pipe on the job: each with its angle, hole and spacing; what they come to together."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from PyQt6.QtWidgets import QPushButton, QWidget

from weirant.job import Job
from weirant.job.drilling import pipe_index, with_drilled, with_rows
from weirant.job.paths import with_value
from weirant.job.products import HoleRow, OwnPipe
from weirant.language import tr
from weirant.library import Pipe
from weirant.library.drilled import drilled
from weirant.ui.dialogs.rows import RowsDialog
from weirant.ui.document import Document
from weirant.ui.entry import QuantityEdit, WordChoice
from weirant.ui.plain_text import PlainLabel
from weirant.ui.theme import THEME
from weirant.units.display import System

FEWEST = 20e-4  # m² of openings in a metre that drain pipe is to have at the least: AASHTO M 252 (recalled)
BOTH = [(True, tr("both sides")), (False, tr("one row"))]


def drill(document: Document) -> str:
    """The key of a drilled pipe for the run in hand: its own where it is one, or else a new one of its sizes, which it takes. Empty where that is refused."""
    run = document.in_hand
    pipe: Pipe = run.make(document.station).pipe
    index = pipe_index(document.job, pipe.key)
    if index is not None and document.job.products.pipes[index].rows:
        return pipe.key
    own = OwnPipe("", tr("{pipe}, drilled", pipe=pipe.kind), pipe.inner_diameter, pipe.outer_diameter, pipe.roughness_n, 0.0127, 0.0, supply=pipe.supply,
                  supply_length=pipe.supply_length)  # fmt: skip
    job, key = with_drilled(document.job, own)
    return key if document.edit(lambda _: with_value(job, f"runs.{run.id}.pipe", key), tr("Pipe drilled for {run}", run=run.run.name), may_come=True) else ""


class DrillingDialog(RowsDialog):
    """A row for each row of holes; every entry is an edit of the job that can be undone."""

    told_in = ("step-materials", "")

    HEADS = (tr("angle from the bottom"), tr("on"), tr("hole"), tr("one every"), "")

    def __init__(self, document: Document, parent: QWidget, key: str) -> None:
        self.key, self.another, self.sum = key, QPushButton(tr("Another row")), PlainLabel()
        super().__init__(document, parent, tr("0° is the bottom of the pipe, 180° its top. A row at an angle may be drilled on both sides."), self.another)
        self.resize(round(44 * THEME.text), round(20 * THEME.text))
        self.another.setAutoDefault(False)
        self.another.clicked.connect(self.add)
        self.sum.setWordWrap(True)
        self.sum.setAccessibleName(tr("What the holes come to"))
        column = self.layout()
        assert column is not None
        column.insertWidget(2, self.sum)  # type: ignore[attr-defined]
        self.follow()

    @property
    def pipe(self) -> OwnPipe | None:
        """The pipe that is drilled."""
        index = pipe_index(self.document.shown_job, self.key)
        return None if index is None else self.document.shown_job.products.pipes[index]

    def follow(self) -> None:  # noqa: D102
        pipe = None if self.document.is_empty else self.pipe
        if pipe is None:
            self.reject()
            return
        self.setWindowTitle(pipe.name)
        self.lay_rows((self.key, len(pipe.rows), self.document.system), self._of_rows)
        self.sum.setText(_words(pipe, self.document.system))
        self.another.setEnabled(len(pipe.rows) < 12)

    def _of_rows(self) -> Iterator[tuple[QWidget, ...]]:
        pipe, index = self.pipe, pipe_index(self.document.shown_job, self.key)
        for number in range(len(pipe.rows) if pipe is not None else 0):
            base = f"products.pipes.{index}.rows.{number}"
            out = QPushButton(tr("Take out"))
            out.setAutoDefault(False)
            out.setAccessibleName(tr("Take out row {number}", number=number + 1))
            out.setEnabled(pipe is not None and len(pipe.rows) > 1)
            out.clicked.connect(partial(self.take_out, number))
            yield (QuantityEdit(self.document, f"{base}.angle"), WordChoice(self.document, f"{base}.both", BOTH), QuantityEdit(self.document, f"{base}.diameter"),
                   QuantityEdit(self.document, f"{base}.spacing"), out)  # fmt: skip

    def add(self) -> None:
        """One row more, like the last."""
        if self.pipe is not None:
            self._change(with_rows(self.document.job, self.key, (*self.pipe.rows, self.pipe.rows[-1])), tr("Row of holes"))

    def take_out(self, number: int) -> None:
        """Take a row out."""
        if self.pipe is not None:
            rows: tuple[HoleRow, ...] = tuple(row for k, row in enumerate(self.pipe.rows) if k != number)
            self._change(with_rows(self.document.job, self.key, rows), tr("Row of holes taken out"))

    def _change(self, job: Job, name: str) -> None:
        self.document.change(job, name)


def _words(pipe: OwnPipe, system: System) -> str:
    """What the rows come to, against what drain pipe is to have."""
    found = drilled(pipe.rows)
    if system == System.IMPERIAL:
        said = tr("{holes:.1f} holes in a foot, {area:.2f} in² in a foot", holes=found.holes * 0.3048, area=found.open_area / 0.0254**2 * 0.3048)
    else:
        said = tr("{holes:.0f} holes in a metre, {area:.0f} cm² in a metre", holes=found.holes, area=found.open_area * 1e4)
    share = found.open_area / FEWEST
    return said + "; " + (tr("{times:.1f} times what drain pipe is to have at the least", times=share) if share >= 1 else tr("only {share:.0f} % of what drain pipe is to have at the least",
                                                                                                                        share=100 * share))  # fmt: skip
