"""The window: rail of steps, three linked drawings, entry strip, findings, and the actions."""

from __future__ import annotations

import dataclasses
from pathlib import Path

from PyQt6.QtCore import QSettings, Qt, QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QKeySequence
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMessageBox,
    QPushButton,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from weirant import __version__
from weirant.design.demo import demo_job
from weirant.design.sheets import crew_cut_sheet
from weirant.errors import WeirantError
from weirant.formats import job_file, survey_csv
from weirant.formats.atomic import write_safely
from weirant.formats.cut_sheet_csv import write_cut_sheet
from weirant.formats.recovery import Keeper, Recoverable, find_recoverable, recovery_folder
from weirant.job import Job
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding
from weirant.paper.palette import THEMES
from weirant.ui.dialogs.actions import ActionSearch
from weirant.ui.dialogs.why import why_figure, why_finding
from weirant.ui.document import Document
from weirant.ui.findings.panel import FindingsPanel, summary_words
from weirant.ui.order_page import OrderPage
from weirant.ui.start_page import StartPage
from weirant.ui.steps.catalogue import STEPS, Step
from weirant.ui.steps.rail import StepRail
from weirant.ui.steps.readings import ReadingsTable
from weirant.ui.steps.strip import Strip
from weirant.ui.theme import THEME
from weirant.ui.views.places import AcrossView, PlanView, ProfileView, SectionView, step_station
from weirant.ui.work import in_background

AUTOSAVE_AFTER = 1500  # ms of quiet
FILTER = "Weirant jobs (*.weirant)"


class Window(QMainWindow):
    """One job, one sheet."""

    def __init__(self) -> None:
        super().__init__()
        self.document = Document()
        self.keeper = Keeper(recovery_folder())
        self.setMinimumSize(1000, 640)
        self.resize(1280, 800)
        self._start = StartPage()
        self._start.made.connect(lambda job: self.open_job(job, None, "water"))
        self._start.demo_wanted.connect(self.open_demo)
        self._start.open_wanted.connect(self.ask_open)
        self._stack = QStackedWidget()
        self._stack.addWidget(self._start)
        self.setCentralWidget(self._stack)
        self._sheet: QWidget | None = None
        self._actions: list[QAction] = []
        self._make_menus()
        self.document.changed.connect(self._refresh)
        self.document.refused.connect(self._tell)
        self.document.stack.indexChanged.connect(self._plan_autosave)
        self._autosave = QTimer(self)
        self._autosave.setSingleShot(True)
        self._autosave.timeout.connect(self._keep_copy)
        self.setWindowTitle("Weirant")

    # the sheet

    def _make_sheet(self) -> None:
        """Build the sheet when the first job is opened."""
        document = self.document
        self.plan, self.section, self.across, self.profile = PlanView(document), SectionView(document), AcrossView(document), ProfileView(document)
        self.rail, self.strip, self.findings = StepRail(document), Strip(document), FindingsPanel(document)
        self.readings, self.order = ReadingsTable(document), OrderPage(document)
        self.rail.chosen.connect(self.show_step)
        self.findings.why.connect(self.why)
        self.order.why.connect(self.why)
        self.order.owner_sheet_wanted.connect(self.ask_owner_sheet)
        self.order.cut_sheet_wanted.connect(self.ask_cut_sheet)
        self._cut = QStackedWidget()
        self._cut.addWidget(self.section)
        self._cut.addWidget(self.across)
        upper = QSplitter(Qt.Orientation.Horizontal)
        upper.addWidget(self.plan)
        upper.addWidget(self._cut_box())
        upper.setSizes([400, 440])
        self._upper = QStackedWidget()
        for page in (upper, self._readings_page(), self.order):
            self._upper.addWidget(page)
        middle = QSplitter(Qt.Orientation.Vertical)
        for widget, share in ((self._upper, 52), (self.strip, 14), (self.profile, 34)):
            middle.addWidget(widget)
            middle.setStretchFactor(middle.count() - 1, share)
        middle.setSizes([340, 118, 240])
        middle.setChildrenCollapsible(False)
        self._middle = middle
        self._sheet = QWidget()
        self._sheet.setObjectName("sheet")
        body = QHBoxLayout()
        body.setSpacing(0)
        centre = QVBoxLayout()
        centre.setSpacing(0)
        centre.addWidget(self._trial_bar())
        centre.addWidget(middle, 1)
        self.rail.setFixedWidth(round(12.2 * THEME.text))
        self.findings.setFixedWidth(round(21.5 * THEME.text))
        body.addWidget(self.rail)
        body.addLayout(centre, 1)
        body.addWidget(self.findings)
        page = QVBoxLayout(self._sheet)
        page.setContentsMargins(0, 0, 0, 0)
        page.setSpacing(0)
        page.addWidget(self._head())
        page.addLayout(body, 1)
        self._stack.addWidget(self._sheet)
        self.setTabOrder(self.rail.buttons[-1], self.plan)

    def _head(self) -> QWidget:
        head = QFrame()
        head.setObjectName("head")
        row = QHBoxLayout(head)
        row.setContentsMargins(12, 5, 12, 5)
        self._name, self._place, self._message = QLabel(), QLabel(), QLabel()
        self._name.setProperty("loud", True)
        self._place.setProperty("quiet", True)
        self._message.setProperty("bad", True)
        self._message.setAccessibleName("Message")
        self._undo, self._redo, self._units = QPushButton("Undo"), QPushButton("Redo"), QPushButton()
        self._undo.clicked.connect(self.document.stack.undo)
        self._redo.clicked.connect(self.document.stack.redo)
        self._units.clicked.connect(self.switch_units)
        row.addWidget(self._name)
        row.addWidget(self._place)
        row.addWidget(self._message, 1)
        for button in (self._undo, self._redo, self._units):
            row.addWidget(button)
        return head

    def _cut_box(self) -> QWidget:
        box = QWidget()
        layout = QVBoxLayout(box)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        row, group = QHBoxLayout(), QButtonGroup(self)
        row.setContentsMargins(6, 0, 6, 0)
        self._cut_tabs = []
        for index, words in enumerate(("Trench", "Across the slope")):
            tab = QPushButton(words)
            tab.setCheckable(True)
            tab.setProperty("tab", True)
            tab.clicked.connect(lambda _, i=index: self._show_cut(i))
            group.addButton(tab)
            row.addWidget(tab)
            self._cut_tabs.append(tab)
        row.addStretch(1)
        layout.addLayout(row)
        layout.addWidget(self._cut, 1)
        return box

    def _show_cut(self, index: int) -> None:
        self._cut.setCurrentIndex(index)
        self._cut_tabs[index].setChecked(True)

    def _readings_page(self) -> QWidget:
        page = QFrame()
        page.setObjectName("sheet")
        layout = QVBoxLayout(page)
        layout.setContentsMargins(10, 6, 10, 6)
        note = QLabel("First the backsight on the benchmark, then rod readings down the line, last the benchmark again. The reading grows as the ground "
                      "falls. Enter goes down, Insert puts a shot in, Ctrl+Delete takes one out.")  # fmt: skip
        note.setProperty("quiet", True)
        note.setWordWrap(True)
        layout.addWidget(note)
        layout.addWidget(self.readings, 1)
        row = QHBoxLayout()
        for words, slot in (("Read CSV …", self.ask_read_csv), ("Write CSV …", self.ask_write_csv)):
            button = QPushButton(words)
            button.clicked.connect(slot)
            row.addWidget(button)
        row.addStretch(1)
        layout.addLayout(row)
        return page

    def _trial_bar(self) -> QWidget:
        self._trial = QFrame()
        self._trial.setObjectName("trial")
        row = QHBoxLayout(self._trial)
        row.setContentsMargins(12, 4, 8, 4)
        self._trial_words = QLabel()
        self._trial_words.setWordWrap(True)
        keep, leave = QPushButton("Keep it"), QPushButton("Put it back")
        keep.setProperty("main", True)
        keep.clicked.connect(self.document.keep_trial)
        leave.clicked.connect(self.document.put_back)
        row.addWidget(self._trial_words, 1)
        row.addWidget(keep)
        row.addWidget(leave)
        self._trial.setVisible(False)
        return self._trial

    def show_step(self, step: Step) -> None:
        """Turn to a step: its entries, and the drawing it is about."""
        self.strip.show_step(step)
        self._upper.setCurrentIndex({"levels": 1, "order": 2}.get(step.key, 0))
        self._show_cut(1 if step.view == "across" else 0)
        if step.key == "levels":
            self.readings.setFocus()

    # actions

    def _make_menus(self) -> None:
        standard = QKeySequence.StandardKey
        bar = self.menuBar()
        assert bar is not None
        file, edit, view, help_menu = (bar.addMenu(name) for name in ("&Job", "&Edit", "&View", "&Help"))
        assert file and edit and view and help_menu
        self._add(file, "&New job", standard.New, self.new_job, "Start from the question where the water stands")
        self._add(file, "&Open …", standard.Open, self.ask_open, "Open a job file")
        self._add(file, "Open the &demo job", "Ctrl+D", self.open_demo, "A lawn-bowls club under a wooded slope")
        file.addSeparator()
        self._add(file, "&Save", standard.Save, self.save, "Save the job")
        self._add(file, "Save &as …", standard.SaveAs, self.ask_save, "Save the job under another name")
        file.addSeparator()
        self._add(file, "Owner's sheet as &PDF …", standard.Print, self.ask_owner_sheet, "One page for the owner")
        self._add(file, "&Cut sheet as CSV …", "Ctrl+Shift+C", self.ask_cut_sheet, "Stations, cuts and rod readings for the crew")
        file.addSeparator()
        self._add(file, "&Quit", standard.Quit, self.close, "Close the window")
        undo, redo = self.document.stack.createUndoAction(self, "&Undo"), self.document.stack.createRedoAction(self, "&Redo")
        assert undo and redo
        undo.setShortcut(standard.Undo)
        redo.setShortcut(standard.Redo)
        edit.addActions([undo, redo])
        self._actions += [undo, redo]
        self._add(edit, "&Keep the fix on trial", "Ctrl+Return", self.document.keep_trial, "Take the fix that is shown")
        self._add(edit, "Put the fix &back", "Ctrl+Backspace", self.document.put_back, "Leave the fix that is shown")
        self._add(view, "Switch &units", "Ctrl+U", self.switch_units, "Feet and inches, or metres")
        self._add(view, "&Daylight or dim", "Ctrl+L", self.switch_theme, "Change between the two looks")
        for percent in (100, 125, 150):
            self._add(view, f"Text at {percent} %", f"Ctrl+Alt+{percent // 25 - 3}", lambda p=percent: self.set_scale(p / 100), "Size of the letters")
        self._add(view, "&Trench or across the slope", "Ctrl+T", lambda: self._sheet and self._show_cut(1 - self._cut.currentIndex()), "Change the cross-section")
        self._add(view, "Station &up the line", "Alt+Right", lambda: self._move(1), "Stand one step further up")
        self._add(view, "Station &down the line", "Alt+Left", lambda: self._move(-1), "Stand one step further down")
        self._add(help_menu, "&All actions and methods …", "Ctrl+K", self.search, "Search every action and every method")
        self._add(help_menu, "A&bout Weirant", "", self.about, "Version and licence")

    def _add(self, menu, text: str, key, slot, tip: str) -> None:  # type: ignore[no-untyped-def]
        action = QAction(text, self)
        action.setShortcut(QKeySequence(key))
        action.setToolTip(tip)
        action.setStatusTip(tip)
        action.triggered.connect(lambda _=False: slot())
        menu.addAction(action)
        self._actions.append(action)

    def _move(self, way: int) -> None:
        if not self.document.is_empty:
            step_station(self.document, way, False)

    def search(self) -> None:
        """Open the list of all actions and methods."""
        ActionSearch(self._actions, self).open()

    def about(self) -> None:
        """Version and licence."""
        QMessageBox.about(self, "Weirant", f"Weirant {__version__}\n\nFrench drains and curtain drains: planned, checked, kept.\n"
                          "Free software under the GNU General Public License, version 3.\n\n"
                          "Local codes, the soils report and licensed practice come before its results.")  # fmt: skip

    def why(self, of: Finding | Figure) -> None:
        """Show why a number is what it is."""
        make = why_finding if isinstance(of, Finding) else why_figure
        make(of, self.document.system, self).open()  # type: ignore[arg-type]

    def switch_units(self) -> None:
        """Imperial to metric and back; an edit like any other."""
        if not self.document.is_empty:
            other = "metric" if self.document.job.units == "imperial" else "imperial"
            self.document.change(dataclasses.replace(self.document.job, units=other), f"Units {other}")

    def switch_theme(self) -> None:
        """Daylight to dim and back."""
        names = list(THEMES)
        self._apply_look(names[(names.index(THEME.palette.name) + 1) % len(names)], THEME.scale)

    def set_scale(self, scale: float) -> None:
        """Set the size of the letters."""
        self._apply_look(THEME.palette.name, scale)

    def _apply_look(self, name: str, scale: float) -> None:
        THEME.apply(name, scale)
        QSettings("weirant", "weirant").setValue("look", [name, str(scale)])
        if self._sheet is not None:
            self.rail.setFixedWidth(round(12.2 * THEME.text))
            self.findings.setFixedWidth(round(21.5 * THEME.text))
            chosen = next((b.step for b in self.rail.buttons if b.isChecked()), STEPS[0])
            self.show_step(chosen)
            self.document.changed.emit()
        self.update()

    # jobs and files

    def open_job(self, job: Job, path: Path | None, step: str = "line") -> None:
        """Show a job."""
        try:
            first = self._sheet is None
            if first:
                self._open_first(job, path)
            else:
                self.document.open(job, path)
        except WeirantError as fault:
            self._tell(str(fault))
            return
        assert self._sheet is not None
        self._stack.setCurrentWidget(self._sheet)
        self.rail.choose(step)

    def _open_first(self, job: Job, path: Path | None) -> None:
        self.document.open(job, path)
        self._make_sheet()
        self.document.changed.emit()

    def open_demo(self) -> None:
        """Show the demo job."""
        if self._may_leave():
            self.open_job(demo_job(), None)

    def new_job(self) -> None:
        """Back to the question where the water stands."""
        if self._may_leave():
            self._stack.setCurrentWidget(self._start)

    def open_file(self, path: Path) -> None:
        """Open a job file; a fault in it is shown with its place, and the present job stays."""
        try:
            job = job_file.load(path)
        except WeirantError as fault:
            self._show_fault("This file cannot be opened", str(fault))
            return
        self.open_job(job, path)

    def ask_open(self) -> None:
        """Ask for a job file and open it."""
        if self._may_leave():
            name, _ = QFileDialog.getOpenFileName(self, "Open a job", "", FILTER)
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
        name, _ = QFileDialog.getSaveFileName(self, "Save the job", f"{self.document.job.name}{job_file.SUFFIX}", FILTER)
        if not name:
            return False
        path = Path(name)
        return self._save_to(path if path.suffix == job_file.SUFFIX else path.with_name(path.name + job_file.SUFFIX))

    def _save_to(self, path: Path) -> bool:
        try:
            self.document.save(path)
        except WeirantError as fault:
            self._show_fault("The job is not saved", str(fault))
            return False
        self.keeper.drop()
        self._say(f"Saved as {path.name}")
        return True

    def ask_owner_sheet(self) -> None:
        """Ask for a name and write the owner's sheet beside the interface."""
        self._write("Owner's sheet", "PDF (*.pdf)", ".pdf", lambda outcome, path: _owner_sheet(outcome, path))

    def ask_cut_sheet(self) -> None:
        """Ask for a name and write the cut sheet."""
        system = None if self.document.is_empty else self.document.system
        self._write("Cut sheet", "CSV (*.csv)", ".csv", lambda outcome, path: write_safely(path, write_cut_sheet(crew_cut_sheet(outcome), system).encode()))  # type: ignore[arg-type]

    def _write(self, what: str, pattern: str, suffix: str, write) -> None:  # type: ignore[no-untyped-def]
        if self.document.is_empty:
            return
        name, _ = QFileDialog.getSaveFileName(self, what, f"{self.document.job.name} – {what.lower()}{suffix}", pattern)
        if not name:
            return
        path, outcome = Path(name), self.document.settled
        self._say(f"Writing {path.name} …")
        in_background(lambda: write(outcome, path), lambda _: self._say(f"Written: {path.name}"), lambda text: self._show_fault(f"{what} is not written", text))

    def ask_read_csv(self) -> None:
        """Ask for a CSV file of readings and take them over; undo brings the old ones back."""
        name, _ = QFileDialog.getOpenFileName(self, "Read rod readings", "", "CSV (*.csv *.txt)")
        if name:
            self.read_csv(Path(name))

    def read_csv(self, path: Path) -> None:
        """Take over the readings of a CSV file."""
        try:
            shots = survey_csv.read_survey(path.read_bytes().decode("utf-8", errors="replace"))
        except (WeirantError, OSError) as fault:
            self._show_fault("The readings are not read", str(fault))
            return
        job = self.document.job
        self.document.change(dataclasses.replace(job, survey=dataclasses.replace(job.survey, shots=shots)), f"Readings from {path.name}")

    def ask_write_csv(self) -> None:
        """Ask for a name and write the readings."""
        if not self.document.is_empty:
            unit = "ft" if self.document.job.units == "imperial" else "m"
            self._write("Rod readings", "CSV (*.csv)", ".csv", lambda outcome, path: write_safely(path, survey_csv.write_survey(outcome.job.survey.shots, unit).encode()))

    # keeping the work

    def _plan_autosave(self) -> None:
        self._autosave.start(AUTOSAVE_AFTER)

    def _keep_copy(self) -> None:
        if self.document.is_empty or self.document.stack.isClean():
            return
        job, path = self.document.job, self.document.path
        in_background(lambda: self.keeper.keep(job, path), lambda _: None, self._tell)

    def offer_recovery(self) -> None:
        """Offer the work that a crash left behind."""
        for left in find_recoverable(recovery_folder()):
            self._offer(left)
            return

    def _offer(self, left: Recoverable) -> None:
        name = left.original.name if left.original else "a job that was never saved"
        box = QMessageBox(QMessageBox.Icon.Question, "Weirant stopped unexpectedly", f"There is unsaved work on {name}. Bring it back?", parent=self)
        back = box.addButton("Bring it back", QMessageBox.ButtonRole.AcceptRole)
        drop = box.addButton("Throw it away", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton("Ask me later", QMessageBox.ButtonRole.RejectRole)
        box.finished.connect(lambda _: self._recover(left, box.clickedButton() is back, box.clickedButton() is drop))
        box.open()

    def _recover(self, left: Recoverable, back: bool, drop: bool) -> None:
        if back:
            try:
                job = left.load()
            except WeirantError as fault:
                self._show_fault("The copy cannot be read", str(fault))
                return
            self.open_job(job, left.original)
            self.document.stack.resetClean()
            self.keeper.keep(job, left.original)
        if back or drop:
            left.discard()

    def _may_leave(self) -> bool:
        """Whether the present job may be left; asks where it has changes that are not saved."""
        if self.document.is_empty or self.document.stack.isClean():
            return True
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(self, "Not saved", f"Save the changes to {self.document.job.name}?", buttons.Save | buttons.Discard | buttons.Cancel)
        if answer == buttons.Save:
            return self.save()
        if answer == buttons.Discard:
            self.keeper.drop()
        return answer == buttons.Discard

    def closeEvent(self, event: QCloseEvent | None) -> None:  # noqa: N802, D102
        if event is None:
            return
        if not self._may_leave():
            event.ignore()
            return
        self._autosave.stop()
        self.keeper.drop()
        QSettings("weirant", "weirant").setValue("geometry", self.saveGeometry())
        event.accept()

    # words

    def _refresh(self) -> None:
        if self.document.is_empty or self._sheet is None:
            return
        job, stack, trial = self.document.job, self.document.stack, self.document.trial
        self._name.setText(job.name)
        self._place.setText(job.place)
        self._message.setText("")
        self._undo.setEnabled(stack.canUndo())
        self._redo.setEnabled(stack.canRedo())
        self._undo.setToolTip(f"Undo: {stack.undoText()}")
        self._redo.setToolTip(f"Redo: {stack.redoText()}")
        self._units.setText("ft, in" if job.units == "imperial" else "metres")
        self._units.setAccessibleName(f"Units: {job.units}. Press to switch.")
        self._trial.setVisible(trial is not None)
        if trial is not None:
            self._trial_words.setText(f"On trial: {trial.name}. {summary_words(self.document.outcome.findings)}.")
        mark = "" if stack.isClean() else "*"
        self.setWindowTitle(f"{mark}{self.document.path.name if self.document.path else job.name} – Weirant")

    def _say(self, text: str) -> None:
        bar = self.statusBar()
        if bar is not None:
            bar.showMessage(text, 6000)

    def _tell(self, text: str) -> None:
        """A refusal, shown at the head of the sheet until the next change."""
        if self._sheet is not None:
            self._message.setText(text)
        else:
            self._say(text)

    def _show_fault(self, title: str, text: str) -> None:
        lines = text.splitlines()
        box = QMessageBox(QMessageBox.Icon.Warning, title, "\n".join(lines[:8]), QMessageBox.StandardButton.Ok, self)
        if len(lines) > 8:
            box.setDetailedText(text)
        box.open()


def _owner_sheet(outcome, path: Path) -> None:  # type: ignore[no-untyped-def]
    from weirant.paper.owner_sheet import write_owner_sheet

    write_owner_sheet(outcome, path)
