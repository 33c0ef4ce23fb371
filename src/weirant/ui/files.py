"""Opening, saving, keeping and bringing back: everything between the document and the disk."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from weirant.design.sheets import crew_cut_sheet
from weirant.errors import WeirantError
from weirant.formats import job_file, survey_csv
from weirant.formats.plain_files import write_safely
from weirant.formats.cut_sheet_csv import write_cut_sheet
from weirant.formats.rain_csv import read_rain
from weirant.formats.recovery import Keeper, Recoverable, find_recoverable, recovery_folder
from weirant.job import Job
from weirant.outcome.outcome import Outcome
from weirant.paper.cut_sheet import cut_sheet_pdf
from weirant.paper.owner_sheet import write_owner_sheet
from weirant.ui.document import Document
from weirant.ui.work import in_background
from weirant.units.display import System

AUTOSAVE_AFTER = 1500  # ms of quiet
FILTER = f"Weirant jobs (*{job_file.SUFFIX})"
FAULT_LINES = 8  # shown at once; the rest behind a button


class JobFiles(QObject):
    """Asks for names, writes beside the interface, keeps a safety copy of work that is not saved."""

    opened = pyqtSignal(Job, object)
    said = pyqtSignal(str)

    def __init__(self, document: Document, window: QWidget) -> None:
        super().__init__(window)
        self.document, self.window = document, window
        self.keeper = Keeper(recovery_folder())
        self._autosave = QTimer(self)
        self._autosave.setSingleShot(True)
        self._autosave.setInterval(AUTOSAVE_AFTER)
        self._autosave.timeout.connect(self.keep_copy)
        document.stack.indexChanged.connect(self._work_changed)

    def _work_changed(self, index: int) -> None:
        self._autosave.start()

    # jobs

    def open_file(self, path: Path) -> None:
        """Open a job file; a fault in it is shown with its place, and the present job stays."""
        try:
            job = job_file.load(path)
        except WeirantError as fault:
            self.show_fault("This file cannot be opened", str(fault))
            return
        self.opened.emit(job, path)

    def ask_open(self) -> None:
        """Ask for a job file and open it."""
        if self.may_leave():
            name, _ = QFileDialog.getOpenFileName(self.window, "Open a job", "", FILTER)
            if name:
                self.open_file(Path(name))

    def save(self) -> bool:
        """Save where the job came from, or ask."""
        if self.document.is_empty:
            return False
        return self._save_to(self.document.path) if self.document.path is not None else self.ask_save()

    def ask_save(self) -> bool:
        """Ask for a name and save."""
        if self.document.is_empty:
            return False
        suggested = f"{self.document.job.name}{job_file.SUFFIX}"
        name, _ = QFileDialog.getSaveFileName(self.window, "Save the job", suggested, FILTER)
        if not name:
            return False
        path = Path(name)
        return self._save_to(path if path.suffix == job_file.SUFFIX else path.with_name(path.name + job_file.SUFFIX))

    def _save_to(self, path: Path) -> bool:
        try:
            self.document.save(path)
        except WeirantError as fault:
            self.show_fault("The job is not saved", str(fault))
            return False
        self._autosave.stop()
        self.keeper.drop()
        self.said.emit(f"Saved as {path.name}")
        return True

    def may_leave(self) -> bool:
        """Whether the present job may be left; asks where it has changes that are not saved."""
        if self.document.is_empty or self.document.stack.isClean():
            return True
        buttons = QMessageBox.StandardButton
        question = f"Save the changes to {self.document.job.name}?"
        answer = QMessageBox.question(
            self.window, "Not saved", question, buttons.Save | buttons.Discard | buttons.Cancel
        )
        if answer == buttons.Save:
            return self.save()
        return answer == buttons.Discard

    # papers

    def ask_owner_sheet(self) -> None:
        """Ask for a name and write the owner's sheet."""
        self._ask_write("Owner's sheet", "PDF (*.pdf)", ".pdf", write_owner_sheet)

    def ask_cut_sheet(self, suffix: str = ".pdf") -> None:
        """Ask for a name and write the cut sheet of the run in hand, as a page or as CSV by the ending."""
        run = self.document.run
        patterns = {".csv": "CSV (*.csv)", ".pdf": "PDF (*.pdf)"}
        pattern = ";;".join(sorted(patterns.values(), key=lambda p: suffix not in p))
        self._ask_write("Cut sheet", pattern, suffix, lambda outcome, path: _write_cut_sheet(outcome, run, path))

    def ask_write_readings(self) -> None:
        """Ask for a name and write the rod readings."""
        self._ask_write("Rod readings", "CSV (*.csv)", ".csv", _write_readings)

    def _ask_write(self, what: str, pattern: str, suffix: str, write: Callable[[Outcome, Path], None]) -> None:
        if self.document.is_empty:
            return
        name, _ = QFileDialog.getSaveFileName(
            self.window, what, f"{self.document.job.name} – {what.lower()}{suffix}", pattern
        )
        if not name:
            return
        path, outcome = Path(name), self.document.settled
        self.said.emit(f"Writing {path.name} …")
        in_background(
            lambda: write(outcome, path),
            lambda _: self.said.emit(f"Written: {path.name}"),
            lambda text: self.show_fault(f"{what} is not written", text),
        )

    def ask_read_readings(self) -> None:
        """Ask for a CSV file of readings and take them over."""
        name, _ = QFileDialog.getOpenFileName(self.window, "Read rod readings", "", "CSV (*.csv *.txt)")
        if name:
            self.read_readings(Path(name))

    def read_readings(self, path: Path) -> None:
        """Take over the readings of a CSV file; undo brings the old ones back."""
        try:
            shots = survey_csv.read_survey(path.read_bytes().decode("utf-8", errors="replace"))
        except (WeirantError, OSError) as fault:
            self.show_fault("The readings are not read", str(fault))
            return
        job = self.document.job
        survey = dataclasses.replace(job.survey, shots=shots)
        self.document.change(dataclasses.replace(job, survey=survey), f"Readings from {path.name}")

    def ask_read_storm(self) -> None:
        """Ask for a CSV file of rain and add it to the job's storms."""
        name, _ = QFileDialog.getOpenFileName(self.window, "Read a storm", "", "CSV (*.csv *.txt)")
        if name:
            self.read_storm(Path(name))

    def read_storm(self, path: Path) -> None:
        """Add the storm of a CSV file; one of the same name is replaced."""
        try:
            storm = read_rain(path.read_bytes().decode("utf-8", errors="replace"), path.stem)
        except (WeirantError, OSError) as fault:
            self.show_fault("The storm is not read", str(fault))
            return
        job = self.document.job
        storms = (*(s for s in job.storms if s.name != storm.name), storm)
        self.document.change(dataclasses.replace(job, storms=storms), f"Storm from {path.name}")

    # the safety copy

    def keep_copy(self) -> None:
        """Write the safety copy, beside the interface."""
        if not self.document.is_empty and not self.document.stack.isClean():
            job, path, turn = self.document.job, self.document.path, self.keeper.turn
            in_background(lambda: self.keeper.keep(job, path, turn), lambda _: None, self.document.refused.emit)

    def leave(self) -> None:
        """The work is saved or given up: drop the safety copy."""
        self._autosave.stop()
        self.keeper.drop()

    def offer_recovery(self) -> None:
        """Offer the newest work that a crash left behind."""
        found = find_recoverable(recovery_folder())
        if not found:
            return
        left = found[0]
        name = left.original.name if left.original else "a job that was never saved"
        box = QMessageBox(self.window)
        box.setIcon(QMessageBox.Icon.Question)
        box.setWindowTitle("Weirant stopped unexpectedly")
        box.setText(f"There is unsaved work on {name}. Bring it back?")
        back = box.addButton("Bring it back", QMessageBox.ButtonRole.AcceptRole)
        drop = box.addButton("Throw it away", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton("Ask me later", QMessageBox.ButtonRole.RejectRole)
        assert back is not None and drop is not None
        back.clicked.connect(lambda: self.recover(left))
        drop.clicked.connect(left.discard)
        box.open()

    def recover(self, left: Recoverable) -> None:
        """Bring the work of a safety copy back; it counts as not saved."""
        try:
            job = left.load()
            self.keeper.keep(job, left.original, self.keeper.turn)
        except WeirantError as fault:
            self.show_fault("The copy cannot be read", str(fault))
            return
        self.opened.emit(job, left.original)
        self.document.stack.resetClean()
        left.discard()

    def show_fault(self, title: str, text: str) -> None:
        """A fault with its place and remedy, in a box that does not stop the window."""
        lines = text.splitlines()
        shown = "\n".join(lines[:FAULT_LINES])
        box = QMessageBox(QMessageBox.Icon.Warning, title, shown, QMessageBox.StandardButton.Ok, self.window)
        if len(lines) > FAULT_LINES:
            box.setDetailedText(text)
        box.open()


def _write_cut_sheet(outcome: Outcome, run: str, path: Path) -> None:
    lines, survey = crew_cut_sheet(outcome, run), outcome.job.survey
    if path.suffix.lower() == ".pdf":
        write_safely(path, cut_sheet_pdf(outcome, run, lines))
    else:
        write_safely(path, write_cut_sheet(lines, System(outcome.job.units), survey.staff, survey.rounding).encode())


def _write_readings(outcome: Outcome, path: Path) -> None:
    unit = "ft" if outcome.job.units == "imperial" else "m"
    write_safely(path, survey_csv.write_survey(outcome.job.survey.shots, unit).encode())
