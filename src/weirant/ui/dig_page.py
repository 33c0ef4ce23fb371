"""Digging to grade: the cut sheet of the run in hand, readings as built, and at once what an odd one does to the rest."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QPushButton, QVBoxLayout, QWidget

from weirant.design.as_built import profile_built, ways_on
from weirant.design.sheets import instrument_height, off_staff
from weirant.ground.as_built import moved_instrument
from weirant.job import Job
from weirant.language import tr
from weirant.ui.column import emptied
from weirant.ui.dig_table import DigTable
from weirant.ui.document import Document
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.plain_text import PlainLabel
from weirant.ui.try_button import TryButton
from weirant.ui.views.run_choice import RunChoice
from weirant.units.display import LEVEL, SECTION, STATION, shown
from weirant.words.findings import offered


class DigPage(QFrame):
    """The cut sheet with its readings, and what they do."""

    sheet_wanted = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setObjectName("sheet")
        self.table, self.runs = DigTable(document), RunChoice(document)
        self.stand, self.verdict = PlainLabel(), PlainLabel()
        self.verdict.setWordWrap(True)
        self.verdict.setProperty("strong", True)
        self.verdict.setAccessibleName(tr("What the reading does"))
        top = QWidget()
        head = FlowLayout(top, 8)
        head.setContentsMargins(0, 0, 0, 0)
        head.addWidget(self.runs)
        head.addWidget(self.stand)
        for words, suffix in ((tr("Cut sheet (PDF) …"), ".pdf"), (tr("Cut sheet (CSV) …"), ".csv")):
            button = QPushButton(words)
            button.clicked.connect(lambda _, s=suffix: self.sheet_wanted.emit(s))
            head.addWidget(button)
        self._ways = QVBoxLayout()
        self._ways.setSpacing(4)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 4, 8, 4)
        column.setSpacing(4)
        column.addWidget(top)
        column.addWidget(self.table, 1)
        column.addWidget(self.verdict)
        column.addLayout(self._ways)
        document.changed.connect(self.refresh)
        document.run_changed.connect(self.refresh)
        self._told: tuple[Job, str] | None = None

    def refresh(self) -> None:
        """Say where the instrument stands, and what the worst reading does."""
        if self.document.is_empty or not self.isVisible():
            return
        document, system = self.document, self.document.system
        if not document.shown_job.is_surveyed and not self.table.sheet.fault:
            self.stand.setText(tr("Not surveyed: the levels are made up from your first answers. Shoot the grades (step 2) before anything is dug to them."))
        else:
            self.stand.setText(tr("Instrument at {outcome}; rods on the trench bottom", outcome=shown(instrument_height(document.outcome), LEVEL, system))
                           if not self.table.sheet.fault else self.table.sheet.fault)  # fmt: skip
        if document.shown_job.is_surveyed and any(line.rod is None for line in self.table.sheet.lines):
            self.stand.setText(off_staff(document.outcome))
        if document.trial is not None:
            return
        job = document.job
        readings = profile_built(job, document.run).readings
        odd = [r for r in readings if not r.within]
        if self._told is not None and self._told[0] is job and self._told[1] == document.run:
            return  # the ways on are whole jobs, so any change makes them anew
        self._told = (job, document.run)
        emptied(self._ways)
        if not odd:
            built = len(readings)
            self.verdict.setText(tr("{built} readings, all within {tolerance} of grade.", built=built, tolerance=shown(job.limits.tolerance, SECTION, system)) if built else "")
            return
        if moved_instrument(profile_built(job, document.run), job.limits.tolerance) is not None:
            self.verdict.setText(tr("All readings are off alike: more likely the instrument was moved. Shoot the benchmark again; the finding offers to take it so."))
            return
        worst = max(odd, key=lambda r: abs(r.off))
        where = shown(worst.station, STATION, system)
        off = shown(abs(worst.off), SECTION, system)
        lies = tr("Station {where} lies {off} too high.", where=where, off=off) if worst.off > 0 else tr("Station {where} lies {off} too low.", where=where, off=off)
        self.verdict.setText(f"{lies} " + tr("Relay it, or go on from it as it is:"))
        for way in ways_on(document.settled, document.run, worst.station, worst.level):
            self._ways.addWidget(TryButton(document, 110, offered(way, document.job)))

    def showEvent(self, event: object) -> None:  # noqa: N802, D102
        self.table.sheet.in_sight = True
        self.table.sheet.refresh()
        self.refresh()

    def hideEvent(self, event: object) -> None:  # noqa: N802, D102
        self.table.sheet.in_sight = False
