"""The window: the start page or the sheet of one job, and what its actions do."""

from __future__ import annotations

import dataclasses
import sys
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QProcess, QTimer, pyqtSignal
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QApplication, QDialog, QMainWindow, QStackedWidget, QStatusBar, QWidget

from weirant import __version__
from weirant.design.demo import demo_job
from weirant.design.one_trench import lay_beside
from weirant.ground.turning import in_two, turned_round
from weirant.handbook import FINDINGS
from weirant.job import Job
from weirant.language import tr
from weirant.methods.catalogue import REGISTRY
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding
from weirant.paper.palette import THEMES
from weirant.ui import memory
from weirant.ui.asking import show_dialog, tell
from weirant.ui.bit_by_bit import BitByBit
from weirant.ui.dialogs.actions import ActionSearch
from weirant.ui.dialogs.why import why_figure, why_finding
from weirant.ui.dig_page import DigPage
from weirant.ui.document import Document
from weirant.ui.dropped import dropped_file, take_dropped
from weirant.ui.entry import TypedEdit
from weirant.ui.files import JobFiles
from weirant.ui.findings.card import FindingCard
from weirant.ui.formulae_page import FormulaePage
from weirant.ui.holes.page import HolesPage
from weirant.ui.look import DESKTOP, SCALES, choose_look, chosen_look
from weirant.ui.menus import make_menus
from weirant.ui.opening import open_dialog
from weirant.ui.order_page import OrderPage
from weirant.ui.own_rates import keep_rates
from weirant.ui.papers import Papers
from weirant.ui.part_rules import with_rules
from weirant.ui.plan_page import PlanOfWorkPage
from weirant.ui.plugged import tell_plugged
from weirant.ui.points_files import PointsFiles
from weirant.ui.printing import preview_cut_sheet, preview_order_list, preview_owner_sheet
from weirant.ui.session import keep_session
from weirant.ui.sheet.readings_page import ReadingsPage
from weirant.ui.sheet.sheet import Sheet
from weirant.ui.start_page import StartPage
from weirant.ui.steps.card import BEST_GRADE
from weirant.ui.storm.loading import is_loaded, when_loaded
from weirant.ui.storm.watch import StormWatch
from weirant.ui.theme import LOOK, THEME
from weirant.ui.tour import SEEN, Tour
from weirant.ui.turn import InTurn
from weirant.ui.views.stations import step_station
from weirant.ui.work_terms import with_usual
from weirant.units.display import System
from weirant.words.findings import titles

ABOUT = (
    tr("French drains and curtain drains: planned, checked, kept.\n"
    "Free software under the GNU General Public License, version 3.\n\n"
    "Local codes, the soils report and licensed practice come before its results.")
)


def stamped(job: Job) -> Job:
    """A new job with the date of today and the contractor of the settings."""
    return dataclasses.replace(job, date=job.date or time.strftime("%Y-%m-%d"), contractor=job.contractor or memory.words(memory.CONTRACTOR))


def begun(job: Job) -> Job:
    """A new job, with what the last ones had in common."""
    return with_rules(with_usual(stamped(job)))


LATER = 150  # ms between two parts out of sight that take another look
SCALED = ("plan", "profile", "section", "across")  # views that are drawn to a scale


class Window(QMainWindow):
    """One job, one sheet."""

    job_opened = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.document = Document()
        self.files = JobFiles(self.document, self)
        self.papers, self.points = Papers(self.document, self), PointsFiles(self.document, self)
        for part in (self.files, self.papers, self.points):
            part.said.connect(self.say)
        self.watch = StormWatch(self.document)
        self.start = StartPage()
        self.sheet: Sheet | None = None
        self._stack = QStackedWidget()
        self._stack.addWidget(self.start)
        self.setCentralWidget(self._stack)
        self.setMinimumSize(1000, 640)
        self.resize(1280, 800)
        self.setWindowTitle("Weirant")
        self.start.made.connect(lambda job: self.open_job(begun(job), None, "water"))
        self.start.demo_wanted.connect(self.open_demo)
        self.start.pattern_wanted.connect(lambda job: self.open_job(begun(job), None, "map"))
        self.setAcceptDrops(True)
        self.start.open_wanted.connect(self.files.ask_open)
        self.start.recent_wanted.connect(self.files.open_file)
        self.start.back_wanted.connect(self.go_back)
        self.files.opened.connect(lambda found, path, then: self.open_job(found.job, path, digest=found.digest, then=then))
        self._took: object = ()
        self._prepared: Sheet | None = None
        self._prepares = BitByBit(self)
        self._dresses, self._dresses_hidden = InTurn(self, self._dress_next), InTurn(self, self._dress_hidden, LATER)
        self.document.changed.connect(self._keep_rates)  # before the pages that go by them
        self.document.changed.connect(self._show_title)
        self.document.stack.cleanChanged.connect(self._clean_changed)
        self._actions = make_menus(self)
        self._stack.currentChanged.connect(self._turned)
        self._turned(0)

    def open_job(self, job: Job, path: Path | None, step: str = "line", digest: str = "", then: Callable[[], None] = lambda: None) -> None:
        """Show a job, turned to a step, as soon as it is worked out; ``then`` something may follow. The sheet is built with the first one."""
        self.document.open(job, path, digest, partial(self._show_job, step, then), partial(tell, self, tr("This job cannot be shown")), at_once=not self.isVisible())
        if self.sheet is None and self.document.is_opening:
            self._prepares.ask((self._prepare_sheet,))

    def _prepare_sheet(self) -> None:
        """While a first job is worked out there is time to make what shows it."""
        if self._prepared is None:
            self._prepared = self._make_sheet()
        self._prepares.ask(partial(THEME.dress, part) for part in self._prepared.parts)

    def _show_job(self, step: str, then: Callable[[], None]) -> None:
        self.files.has_opened(self.document.path)
        if self.sheet is None:
            self._prepares.catch_up()
            self.sheet, self._prepared = self._prepared or self._make_sheet(), None
            self.document.changed.emit()
        self._stack.setCurrentWidget(self.sheet)
        self.sheet.rail.choose(step)
        self.sheet.focus_stage()  # the next key must not press whatever button comes first
        if not self.isVisible():
            self.sheet.catch_up()  # whole when it is first seen
        self.job_opened.emit()
        then()

    def _make_sheet(self) -> Sheet:
        sheet = Sheet(self.document)
        sheet.head.units_wanted.connect(self.switch_units)
        sheet.findings.why.connect(self.why)
        sheet.views.made.connect(self._wire)
        sheet.card.asked.connect(self._asked)
        sheet.plan_page.tools.corners_wanted.connect(lambda: self.open("corners"))
        self._stack.addWidget(sheet)
        return sheet

    def _wire(self, page: QWidget) -> None:
        """Connect a page that was just made with what its buttons ask for."""
        if isinstance(page, PlanOfWorkPage):
            page.said.connect(self.papers.said)
            page.took_wanted.connect(partial(self.open, "took"))
        elif isinstance(page, OrderPage):
            page.why.connect(self.why)
            page.owner_sheet_wanted.connect(self.papers.ask_owner_sheet)
            page.order_list_wanted.connect(self.papers.ask_order_list)
            page.quote_wanted.connect(self.papers.ask_quote)
            page.ways_wanted.connect(partial(self.open, "ways"))
            page.rules_wanted.connect(partial(self.open, "part_rules"))
            page.cut_sheet_wanted.connect(self.papers.ask_cut_sheet)
        elif isinstance(page, ReadingsPage):
            page.read_wanted.connect(self.papers.ask_read_readings)
            page.write_wanted.connect(self.papers.ask_write_readings)
            page.points_wanted.connect(self.points.ask_read)
            page.points_written.connect(self.points.ask_write)
            page.instrument_wanted.connect(self.listen)
        elif isinstance(page, HolesPage):
            page.feel_wanted.connect(partial(self.feel, page))
        elif isinstance(page, DigPage):
            page.sheet_wanted.connect(self.papers.ask_cut_sheet)
        elif isinstance(page, FormulaePage):
            page.why.connect(self.why)
        elif is_loaded():
            from weirant.ui.storm.page import StormPage  # loaded with the simulator

            if isinstance(page, StormPage):
                page.storm_wanted.connect(self.papers.ask_read_storm)
                page.rainfall_wanted.connect(lambda: self.open("rainfall"))

    def open_demo(self, roofs: bool = False) -> None:
        """Show the demo job, or that with its roofs and a sump."""
        from weirant.design.demo_roofs import roofs_job  # the first window need not wait for it

        if self.files.may_leave():
            self.open_job(roofs_job() if roofs else demo_job(), None)

    def new_job(self) -> None:
        """Back to the question where the water stands. What was discarded is gone; what is saved can be gone back to."""
        if not self.files.may_leave():
            return
        is_given_up = not self.document.stack.isClean()
        self._stack.setCurrentWidget(self.start)
        if is_given_up:
            self._give_up()
        self.start.begin_anew(None if self.document.is_empty else self.document.job.name)

    def _give_up(self) -> None:
        """The job goes, and with it everything that shows it: their clocks would go on asking for it."""
        if self.sheet is not None:
            self._stack.removeWidget(self.sheet)
            self.sheet.go()
            self.sheet = None
        self.document.close()
        self.files.leave()
        self.setWindowTitle("Weirant")

    def go_back(self) -> None:
        """From the question back to the job that is still open."""
        if not self.document.is_empty and self.sheet is not None:
            self._stack.setCurrentWidget(self.sheet)

    def _turned(self, _: int) -> None:
        """What is done to a job can be asked for only where one is in sight."""
        in_sight = self._stack.currentWidget() is not self.start
        self._dress()
        for action in self._actions:
            if action.property("needs job") == "undo":
                action.setVisible(in_sight)  # whether they can be used is the stack's to say
            elif action.property("needs job"):
                action.setEnabled(in_sight)

    def _dress(self) -> None:
        """Put the look on what is in sight."""
        for part in (self.menuBar(), *([self.start] if self._stack.currentWidget() is self.start else self.sheet.parts if self.sheet is not None else ())):
            if part is not None:
                THEME.dress(part)

    def _parts(self) -> list[QWidget]:
        """Everything that wears the look for itself, in sight or not."""
        of_sheet = (*self.sheet.all_parts, *(tour.bubble for tour in self.sheet.children() if isinstance(tour, Tour))) if self.sheet is not None else ()
        held = (self.menuBar(), *(child for child in self.children() if isinstance(child, QStatusBar | QDialog) and child.property(LOOK) is not None), self.start, *of_sheet)
        return [part for part in held if part is not None]

    def why(self, of: Finding | Figure) -> None:
        """Show why a number is what it is."""
        outcome = self.document.outcome
        dialog = why_finding(of, outcome, self) if isinstance(of, Finding) else why_figure(of, outcome.job, self)
        show_dialog(dialog)

    def listen(self) -> None:
        """Take shots from an instrument, or from one to practise with."""
        if not self.document.is_empty:
            from weirant.ui.dialogs.receiver import ReceiverDialog

            show_dialog(ReceiverDialog(self.document, self))

    def feel(self, page: HolesPage) -> None:
        """Texture by feel, into the log of the hole in hand."""
        from weirant.ui.dialogs.feel import FeelDialog

        show_dialog(FeelDialog(self.document.system, page.add_horizon, self))

    def bench(self) -> None:
        """The gravel box, to learn by guessing."""
        when_loaded(self._show_bench)

    def _show_bench(self) -> None:
        from weirant.ui.dialogs.bench import BenchDialog

        show_dialog(BenchDialog(System.IMPERIAL if self.document.is_empty else self.document.system, self), blocks=False)

    def find_best_grade(self) -> None:
        """Turn to the line and find its best grade."""
        if self.sheet is not None and not self.document.is_empty:
            self.sheet.rail.choose("line")
            self.sheet.card.turn_to(BEST_GRADE)
            self.sheet.card.grade.find_best()

    def drop_made_up(self) -> None:
        """Take every level out that nobody has shot; undo brings them back."""
        if not self.document.is_empty:
            survey = self.document.job.survey
            if self.document.job.is_surveyed:
                self.document.refused.emit(tr("No level is made up: every one was shot."))
            else:
                shots = tuple(shot for shot in survey.shots if not shot.is_assumed)
                points = tuple(point for point in self.document.job.points if not point.is_assumed)
                self.document.change(dataclasses.replace(self.document.job, survey=dataclasses.replace(survey, shots=shots), points=points), tr("Made-up levels taken out"), may_come=True)

    def _asked(self, what: str) -> None:
        """What a button of the card asks for."""
        others = {"drill": self.drill, "pump curve": self.papers.ask_read_pump_curve, "sieve file": self.papers.ask_read_gradation}
        others.get(what, lambda: self.open(what))()

    def open(self, what: str) -> None:
        """Open one of the dialogs about the job in hand, by its key."""
        if not self.document.is_empty:
            open_dialog(what, self.document, self, self.papers)

    def drill(self) -> None:
        """The rows of holes of a pipe that is drilled for the run in hand."""
        if not self.document.is_empty:
            from weirant.ui.dialogs.drilling import DrillingDialog, drill

            key = drill(self.document)
            if key:
                self.document.when_shown(lambda: show_dialog(DrillingDialog(self.document, self, key)))

    def lay_beside(self) -> None:
        """Lay a solid pipe beside the run in hand, in its trench, and take it in hand."""
        if not self.document.is_empty:
            document = self.document
            laid = document.made(lambda job: lay_beside(job, document.run, document.outcome.library, document.outcome.rules, collects=False))
            if laid is not None and document.change(laid[0], tr("A pipe beside {run}", run=document.in_hand.run.name), may_come=True):
                document.when_shown(partial(document.take_run, laid[1]))

    def part_run(self) -> None:
        """Part the run in hand at the station into two."""
        if not self.document.is_empty:
            document = self.document
            document.edit(lambda job: in_two(job, document.run, document.station)[0], tr("{run} parted", run=document.in_hand.run.name), may_come=True)

    def turn_run(self) -> None:
        """Turn the run in hand round; undo turns it back."""
        if not self.document.is_empty:
            self.document.edit(lambda job: turned_round(job, self.document.run), tr("{run} turned round", run=self.document.in_hand.run.name), may_come=True)

    def plug_exit(self) -> None:
        """Tell what becomes of the water where the exit of the run in hand is plugged."""
        tell_plugged(self.document, self)

    def next_run(self, way: int) -> None:
        """Take the next run in hand."""
        if not self.document.is_empty:
            runs = [run.id for run in self.document.shown_job.runs]
            self.document.take_run(runs[(runs.index(self.document.run) + way) % len(runs)])

    def whole_way(self) -> None:
        """The profile along the whole way of the water, or of the run in hand again."""
        if self.sheet is not None and not self.document.is_empty:
            way = self.sheet.profile.way
            if way.isHidden():
                self.document.refused.emit(tr("The run in hand leads into no other run whose ground is known"))
            else:
                way.toggle()

    def next_way(self) -> None:
        """The profile along the next of the ways over the run in hand."""
        if self.sheet is not None and not self.document.is_empty:
            if self.sheet.profile.way.isHidden():
                self.document.refused.emit(tr("The run in hand is on no way over other runs whose ground is known"))
            else:
                self.sheet.profile.next_way()

    def search(self) -> None:
        """Open the list of all actions, methods and pages."""
        found = ActionSearch(self._actions, self)
        found.method_wanted.connect(self.method)
        found.page_wanted.connect(self.show_help)
        show_dialog(found)

    def method(self, name: str) -> None:
        """A method as a form."""
        from weirant.ui.dialogs.method import MethodDialog

        show_dialog(MethodDialog(REGISTRY[name], self), blocks=False)

    def help(self) -> None:
        """The handbook, at the page of what has the keyboard: a finding, else the step."""
        card = QApplication.focusWidget()
        while card is not None and not isinstance(card, FindingCard):
            card = card.parentWidget()
        if isinstance(card, FindingCard) and card.finding is not None:
            self.show_help(FINDINGS, titles()[card.finding.code])
        else:
            self.show_help(self._page_here())

    def _page_here(self) -> str:
        """The page of the handbook on the step in hand; on the window where there is none."""
        return f"step-{self.sheet.step.key}" if self.sheet is not None and self._stack.currentWidget() is self.sheet else "window"

    def help_over(self, dialog: QWidget, page: str, heading: str) -> None:
        """The handbook at a page over a dialog, or of none at that of the step in hand."""
        self.show_help(page or self._page_here(), heading, dialog)

    def show_help(self, page: str, heading: str = "", over: QWidget | None = None) -> None:
        """Turn the handbook to a page; it stays beside the work. ``over`` is a dialog that waits for an answer, which lets nothing behind it be used."""
        from weirant.ui.dialogs.help import HelpDialog  # of use only when somebody asks

        owner = over or self
        dialog = next((d for d in owner.findChildren(HelpDialog) if d.isVisible()), None) or show_dialog(HelpDialog(owner), blocks=False)
        dialog.show_page(page, heading)
        dialog.raise_()
        dialog.activateWindow()

    def tour(self) -> None:
        """Show what is where in the window."""
        if self.sheet is None or self._stack.currentWidget() is not self.sheet:
            self.say(tr("Begin or open a job first; the tour shows what is where then."))
        elif not any(tour.isVisible() for tour in self.sheet.findChildren(Tour)):
            Tour(self.sheet)

    def tour_at_first(self) -> None:
        """The tour comes by itself with the first job that is ever opened."""
        if memory.words(SEEN) != "seen":
            self.job_opened.connect(self._first_tour)

    def _first_tour(self) -> None:
        self.job_opened.disconnect(self._first_tour)
        QTimer.singleShot(400, self.tour)  # once the first drawing stands

    def about(self) -> None:
        """Version and licence."""
        tell(self, "Weirant", tr("Weirant {version}\n\n{about}", version=__version__, about=ABOUT), is_fault=False)

    def next_look(self) -> None:
        """Set the next view of the step on the stage."""
        if self.sheet is not None:
            self.sheet.next_view()

    def fold_card(self) -> None:
        """Fold the card of the thing in hand, or open it."""
        if self.sheet is not None:
            self.sheet.card.fold(not self.sheet.card.is_folded)

    def narrow_findings(self) -> None:
        """The findings as their marks only, or as a column again."""
        if self.sheet is not None:
            self.sheet.findings.narrow(not self.sheet.findings.is_narrow)

    def move_station(self, way: int) -> None:
        """Stand one step further up or down the line."""
        if not self.document.is_empty:
            step_station(self.document, way, False)

    def switch_units(self) -> None:
        """Imperial to metric and back; an edit like any other."""
        if not self.document.is_empty:
            other = "metric" if self.document.job.units == "imperial" else "imperial"
            for edit in self.findChildren(TypedEdit):
                edit.asked_again()
            self.document.change(dataclasses.replace(self.document.job, units=other), tr("Units {other}", other=other), may_come=True)

    def switch_theme(self) -> None:
        """Daylight to dim and back."""
        names = list(THEMES)
        self._apply_look(names[(names.index(THEME.palette.name) + 1) % len(names)], THEME.scale)

    def follow_desktop(self) -> None:
        """The desktop has another look: follow it, where none is chosen."""
        if chosen_look() == DESKTOP:
            self._apply_look(DESKTOP, THEME.scale)

    def settings(self) -> None:
        """The settings."""
        from weirant.ui.dialogs.settings import SettingsDialog

        show_dialog(SettingsDialog(self._apply_look, self))

    def letters(self, way: int) -> None:
        """Larger or smaller letters, by a step; 0 for their usual size."""
        at = min(range(len(SCALES)), key=lambda i: abs(SCALES[i] - THEME.scale))
        self.set_scale(SCALES[min(max(at + way, 0), len(SCALES) - 1)] if way else 1.0)

    def full_screen(self) -> None:
        """The whole screen, or a window again."""
        self.showNormal() if self.isFullScreen() else self.showFullScreen()

    def new_window(self) -> None:
        """Another window, a process of its own: what goes wrong in one leaves the other alone."""
        isolated = ["-I"] if sys.flags.isolated else []  # as this one was started
        if not QProcess.startDetached(sys.executable, [*isolated, "-m", "weirant"])[0]:
            self.say(tr("No other window could be started"))

    def print_owner_sheet(self) -> None:
        """Look at the owner's sheet as it will be printed."""
        if not self.document.is_empty:
            preview_owner_sheet(self.document.settled, self)

    def print_order_list(self) -> None:
        """Look at the order list as it will be printed."""
        if not self.document.is_empty:
            preview_order_list(self.document.settled, self)

    def print_cut_sheet(self) -> None:
        """Look at the cut sheet of the run in hand as it will be printed."""
        if not self.document.is_empty:
            preview_cut_sheet(self.document.settled, self.document.run, self)

    def copy_picture(self) -> None:
        """The view on the stage as a picture on the clipboard."""
        canvas = self.sheet.views.canvas(self.sheet.view) if self.sheet is not None else None
        if canvas is not None:
            canvas.copy_picture()
            self.say(tr("The picture is on the clipboard"))

    def write_picture(self) -> None:
        """The view on the stage as a picture in a file, at a scale."""
        canvas = self.sheet.views.canvas(self.sheet.view) if self.sheet is not None and not self.document.is_empty else None
        if canvas is None or self.sheet is None or self.sheet.view not in SCALED:
            self.say(tr("What is on the stage has no scale: copy it as a picture"))
        else:
            self.papers.ask_picture(canvas.drawing, north=self.sheet.view == "plan")

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:  # noqa: N802, D102
        if event is not None and dropped_file(event.mimeData()) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:  # noqa: N802, D102
        path = dropped_file(event.mimeData()) if event is not None else None
        if event is not None and path is not None:
            event.acceptProposedAction()
            QTimer.singleShot(0, partial(take_dropped, self, path))  # who dragged it is let go first

    def set_scale(self, scale: float) -> None:
        """Set the size of the letters."""
        self._apply_look(chosen_look(), scale)

    def _apply_look(self, name: str, scale: float) -> None:
        choose_look(name, scale)
        self.setUpdatesEnabled(False)  # it is seen when all of it has the new look
        self._dress_next()

    def _dress_next(self) -> None:
        """One part in sight after the other takes the look, so that no hand waits for all of them; then all is fitted to it."""
        left, is_done = THEME.undressed(self._parts()), True
        try:
            if left and left[0].isVisible():
                THEME.dress_by_half(left[0])
                self._dresses.start()
                is_done = False
                return
            self._dress()
            if self.sheet is not None and not self.document.is_empty:
                self.sheet.set_widths()
                self.sheet.show_again()
                self.document.changed.emit()
        finally:
            self.setUpdatesEnabled(is_done)
        self._dresses_hidden.start()

    def _dress_hidden(self) -> None:
        """While nobody asks for anything, what is not in sight takes the look too, so that it is there at once."""
        left = THEME.undressed(self._parts())
        if left:
            THEME.dress_by_half(left[0])
            self._dresses_hidden.start()

    def _clean_changed(self, clean: bool) -> None:
        self._show_title()

    def _keep_rates(self) -> None:
        """The hours that the work took were typed, or that was undone: the crew's own rates are others."""
        if not self.document.is_empty and self.document.job.work.took != self._took:
            self._took = self.document.job.work.took
            keep_rates(self.document)

    def _show_title(self) -> None:
        if not self.document.is_empty:
            mark = "" if self.document.stack.isClean() else "*"
            name = self.document.path.name if self.document.path else self.document.job.name
            self.setWindowTitle(tr("{mark}{name} – Weirant", mark=mark, name=name))

    def say(self, text: str) -> None:
        """A passing word at the foot of the window."""
        bar = self.statusBar()
        if bar is not None:
            THEME.dress(bar)
            bar.showMessage(text, 6000)

    def closeEvent(self, event: QCloseEvent | None) -> None:  # noqa: N802, D102
        if event is None:
            return
        if not self.files.may_leave():
            event.ignore()
            return
        keep_session(self)
        self.files.leave()
        self.watch.stop()
        self.document.stack.blockSignals(True)  # a stack that goes down would speak to widgets already gone
        memory.remember("geometry", self.saveGeometry())
        event.accept()
