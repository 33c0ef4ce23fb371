"""What lies where along the run in hand: the stretches from its low end up, each with its pipe and its trench section."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from PyQt6.QtWidgets import QPushButton, QWidget

from weirant.ground.stretches import LaidStretch
from weirant.job.section_edits import split_at, without_stretch
from weirant.job.water import BOTH_SIDES, HILLSIDE, ONE_SIDE, PARALLEL
from weirant.language import tr
from weirant.ui.dialogs.rows import RowsDialog
from weirant.ui.document import Document
from weirant.ui.entry import QuantityEdit, WordChoice
from weirant.ui.plain_text import PlainLabel
from weirant.ui.steps.place_fields import PlaceChoice
from weirant.ui.steps.section_fields import SectionChoice
from weirant.ui.still_box import StillBox
from weirant.ui.theme import THEME
from weirant.units.display import STATION, shown

SOURCES = [(word, tr(word)) for word in (HILLSIDE, ONE_SIDE, BOTH_SIDES, PARALLEL)]
USES = [(True, tr("solid")), (False, tr("collecting"))]


class StretchesDialog(RowsDialog):
    """A row for each stretch; every entry is an edit of the job that can be undone."""

    told_in = ("step-line", "")

    HEADS = (tr("from"), tr("up to"), tr("use"), tr("kind of pipe"), tr("trench section"), tr("groundwater from"), tr("keeps dry"), "")

    def __init__(self, document: Document, parent: QWidget) -> None:
        self.run, self.split = document.run, QPushButton()
        super().__init__(document, parent, tr("From the low end up. A change of pipe wants its adaptor; where pipe or section changes, stand there and part the stretch."), self.split)
        self.resize(round(76 * THEME.text), round(22 * THEME.text))
        self.split.setAutoDefault(False)  # Enter belongs to the entries
        self.split.clicked.connect(self.split_here)
        document.station_changed.connect(self.follow)
        self.follow()

    def follow(self) -> None:  # noqa: D102
        document = self.document
        if document.is_empty or not any(run.id == self.run for run in document.shown_job.runs):
            self.reject()
            return
        found = document.outcome.run(self.run)
        self.setWindowTitle(tr("Stretches of {run}", run=found.run.name))
        self.split.setText(tr("Part it at the station, {station}", station=shown(document.station, STATION, document.system)))
        self.split.setEnabled(document.run == self.run)
        made_for = (tuple((s.id, s.low, s.high, s.is_solid) for s in found.stretches), document.system, document.shown_job.products)
        self.lay_rows(made_for, self._of_stretches)
        self.grid.setColumnStretch(3, 1)

    def _of_stretches(self) -> Iterator[tuple[QWidget, ...]]:
        document, found = self.document, self.document.outcome.run(self.run)
        library = document.outcome.library
        for row, stretch in enumerate(found.stretches, 1):
            base = f"runs.{self.run}.stretches.{stretch.id}"
            ends = PlainLabel(shown(found.run.length, STATION, document.system))
            end: QWidget = QuantityEdit(document, f"{base}.to_station") if row < len(found.stretches) else ends
            end.setMinimumWidth(round(6.5 * THEME.text))
            pipes = WordChoice(document, f"{base}.pipe", [(pipe.key, pipe.name) for pipe in library.pipes.values()])
            out = QPushButton(tr("Take out"))
            out.setAutoDefault(False)
            out.setAccessibleName(tr("Take out the stretch from {low}", low=shown(stretch.low, STATION, document.system)))
            out.setEnabled(len(found.stretches) > 1)
            out.clicked.connect(partial(self.take_out, stretch.id))
            pipes.setSizeAdjustPolicy(StillBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            pipes.setMinimumContentsLength(18)  # the eight columns fit a small screen
            yield (PlainLabel(shown(stretch.low, STATION, document.system)), end, WordChoice(document, f"{base}.is_solid", USES), pipes,
                   SectionChoice(document, self.run, stretch.id), *self._situation(stretch), out)  # fmt: skip

    def _situation(self, stretch: LaidStretch) -> tuple[QWidget, QWidget]:
        """Where the groundwater of a stretch comes from and what it keeps dry; solid pipe does neither."""
        if stretch.is_solid:
            return PlainLabel("–"), PlainLabel("–")
        path = f"runs.{self.run}.stretches.{stretch.id}.situation.source"
        source, place = WordChoice(self.document, path, SOURCES), PlaceChoice(self.document, self.run, stretch.id)
        place.setMinimumContentsLength(12)
        return source, place

    def split_here(self) -> None:
        """Part the stretch at the station that is stood at."""
        self.document.edit(lambda job: split_at(job, self.run, self.document.station), tr("Stretch parted"), may_come=True)

    def take_out(self, stretch: str) -> None:
        """Take a stretch out; the one below it goes on."""
        self.document.edit(lambda job: without_stretch(job, self.run, stretch), tr("Stretch taken out"), may_come=True)
