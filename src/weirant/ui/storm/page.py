"""Watching a storm: the section with the drain and without it, a slider through the hours, and what it comes to."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QHideEvent, QKeyEvent, QShowEvent
from PyQt6.QtWidgets import (
    QCheckBox,
    QFrame,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from weirant.design.ensemble import Ensemble
from weirant.design.simulation import Refined, Simulation, Wish, refined
from weirant.design.sources import roofs_shed
from weirant.drawing.storm import storm_section
from weirant.drawing.storm_chart import frame_at, storm_chart
from weirant.errors import InputError
from weirant.language import capital, tr
from weirant.outcome.outcome import Outcome
from weirant.seepage.paths import FlowPath, paths_to_drain
from weirant.ui.document import Document
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.plain_text import PlainLabel
from weirant.ui.scrolled import Scrolled
from weirant.ui.storm.choice import StormChoice
from weirant.ui.storm.film import Film
from weirant.ui.storm.runner import Runner
from weirant.ui.storm.surety import SAMPLES, Surety
from weirant.ui.theme import THEME
from weirant.ui.views.picture import Picture
from weirant.ui.work import in_background
from weirant.units.display import RAIN_DEPTH, shown
from weirant.words.storm import details, verdict

WITH, WITHOUT = "with", "without"
SETTLE = 250  # ms after a change
ROUNDING = 1e-6  # of the water: what sums are off by and nobody would ask about


class StormPage(Scrolled):
    """Large letters make it longer than what is in sight."""

    storm_wanted = pyqtSignal()
    rainfall_wanted = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document, self.runner = document, Runner(self)
        self.surety = Surety(self)
        self.ensemble: Ensemble | None = None
        self.found: dict[str, Simulation] = {}
        self._outcome: Outcome | None = None
        self._run = ""
        self._paths: list[FlowPath] = []
        self._asked: object = None
        self.choice, self.film = StormChoice(), Film()
        self.storms, self.spans = self.choice.storms, self.choice.spans
        self.slider, self.clock = self.film.slider, self.film.clock
        self.play_button, self.read_button, self.stop_button = QPushButton(tr("Play")), QPushButton(tr("Read a storm …")), QPushButton(tr("Stop"))
        self.paths_box = QCheckBox(tr("Flow paths"))
        self.paths_box.setToolTip(tr("Where the pipe's water comes from in the wet season, and how long it is on its way"))
        self.cells_button = QPushButton(tr("Check the cells"))
        self.cells_button.setToolTip(tr("The same storm on cells half as large: how far does the volume hang on them?"))
        self.sure_button = QPushButton(tr("How sure is it?"))
        self.sure_button.setToolTip(tr("The same storm on a hundred plausible grounds: soil, pores, hard layer and rain as far as they are not known"))
        self.read_button.setToolTip(tr("A storm or the log of a rain gauge from CSV: the end of each step and what fell in it"))
        self.rain_button = QPushButton(tr("Rain here …"))
        self.rain_button.setToolTip(tr("The rainfall table of the place, and storms made from it"))
        self.play_button.setProperty("main", True)
        self.verdict = PlainLabel()
        self.verdict.setWordWrap(True)
        self.verdict.setTextFormat(Qt.TextFormat.PlainText)
        self.verdict.setProperty("strong", True)
        self.verdict.setAccessibleName(tr("What the storm does"))
        self.detail = PlainLabel()
        self.detail.setWordWrap(True)
        self.detail.setAccessibleName(tr("What the drain does, and what is not known"))
        self.drained, self.bare, self.chart = Picture(tr("Section with the drain")), Picture(tr("Section without the drain")), Picture(tr("Storm over the hours"))
        self._lay_out()
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLE)
        self._settle.timeout.connect(self.simulate)
        self.film.moved.connect(self._show_moment)
        self.film.ended.connect(self._film_ended)
        self.storms.activated.connect(self.refresh)
        self.spans.activated.connect(self.refresh)
        self.play_button.clicked.connect(self.play)
        self.stop_button.clicked.connect(self.stop)
        self.read_button.clicked.connect(self.storm_wanted)
        self.rain_button.clicked.connect(self.rainfall_wanted)
        self.chart.pointed.connect(self._point)
        self.sure_button.clicked.connect(self.ask_surety)
        self.cells_button.clicked.connect(self.check_cells)
        self.paths_box.toggled.connect(self._toggle_paths)
        self.surety.progressed.connect(self._tell_surety)
        self.surety.found.connect(self._show_surety)
        self.surety.failed.connect(self._tell_sums)
        self.runner.grown.connect(self._grow)
        self.runner.done.connect(self._done)
        self.runner.failed.connect(self._fail)
        document.changed.connect(self.refresh)
        document.run_changed.connect(self.refresh)
        document.station_changed.connect(self.refresh)

    def _lay_out(self) -> None:
        top = QWidget()
        head = FlowLayout(top, 8)
        head.setContentsMargins(0, 0, 0, 0)
        for widget in (self.storms, self.spans, self.play_button, self.sure_button, self.stop_button, self.rain_button, self.read_button):
            head.addWidget(widget)
        self.sums = PlainLabel()
        self.sums.setProperty("quiet", True)
        self.sums.setWordWrap(True)
        self.sums.setAccessibleName(tr("How good the sums are"))
        page = QFrame()
        page.setObjectName("sheet")
        column = QVBoxLayout(page)
        column.setContentsMargins(8, 4, 8, 4)
        column.setSpacing(4)
        column.addWidget(top)
        column.addWidget(self.verdict)
        column.addWidget(self.detail)
        for picture, stretch in ((self.drained, 11), (self.bare, 9), (self.chart, 13)):
            column.addWidget(picture, stretch)
        column.addWidget(self.film)
        last = QHBoxLayout()
        self.cells_button.setProperty("link", True)
        last.addWidget(self.sums, 1)
        last.addWidget(self.cells_button)
        last.addWidget(self.paths_box)
        column.addLayout(last)
        self.setWidget(page)
        self._fit()

    def _fit(self) -> None:
        """Keep the pictures legible at the present size of the letters."""
        for picture, lines in ((self.drained, 4.2), (self.bare, 3.8), (self.chart, 6.2)):
            picture.setMinimumHeight(round(lines * THEME.text))

    # simulating

    def refresh(self) -> None:
        """Follow the document: list its storms, and simulate anew where something changed and the page is seen."""
        if self.document.is_empty or not self.isVisible():
            return
        self._fit()
        self.choice.follow(self.document.shown_job)
        if self._wish() != self._asked:
            self._settle.start()

    def _wish(self) -> object:
        return self.document.shown_job, self.document.run, self.document.station, self.choice.key

    def simulate(self) -> None:
        """Start the simulation of the section at the station, with the drain and without it."""
        if self.document.is_empty:
            return
        self._asked = self._wish()
        self.surety.stop()
        self.ensemble = None
        outcome, system = self.document.outcome, self.document.system
        try:
            storm = self.choice.storm(outcome.job)
        except InputError as fault:
            self._fail(str(fault))
            return
        run = self._run = self.document.run
        self._outcome = outcome
        self.stop_button.setEnabled(True)
        if not self.found:
            self.verdict.setText(tr("Working it out: {depth} of rain … (the first time takes some seconds longer)", depth=shown(storm.depth, RAIN_DEPTH, system)))
        wish = Wish(storm, self.document.station, self.choice.hours, run=run)
        self.runner.start(outcome, {WITH: wish, WITHOUT: replace(wish, drained=False)})

    def stop(self) -> None:
        """Leave what runs, the simulation, the samples or the film; what has come is kept, and told as far as it goes."""
        self.film.stop()
        self.stop_button.setEnabled(False)
        if self.surety.is_running:
            self.surety.stop()
            self._tell_sums(self._told_of_sums())
        if self.runner.is_running:
            self.runner.stop()
            self._asked = None  # choosing a storm, or any change, begins anew
            if WITH in self.found:
                self._done()
            else:
                self.verdict.setText(tr("Left. Choose a storm to begin anew."))

    def _grow(self, name: str, simulation: Simulation) -> None:
        if name == WITH and (WITH not in self.found or self.found[WITH].course is not simulation.course):
            self.found.pop(WITHOUT, None)
        self.found[name] = simulation
        self._show_moment()

    def _done(self) -> None:
        self.stop_button.setEnabled(self.film.is_running)
        self._say()
        self._tell_sums(self._told_of_sums())
        self._toggle_paths(self.paths_box.isChecked())

    def _fail(self, words: str) -> None:
        self.found = {}
        self.stop_button.setEnabled(False)
        self.verdict.setText(capital(words))
        for picture in (self.drained, self.bare, self.chart):
            picture.show_drawing(None)

    def _say(self) -> None:
        drained, outcome, system = self.found.get(WITH), self._outcome, self.document.system
        if drained is not None and outcome is not None:
            self.verdict.setText(verdict(drained, self.found.get(WITHOUT), system))
            self.detail.setText(details(drained, roofs_shed(outcome.job, outcome.rules)[1], self.ensemble, system))

    def _tell_sums(self, words: str) -> None:
        self.sums.setText(words)

    def check_cells(self) -> None:
        """Simulate on cells half as large, beside the interface, and say how much the volume changes."""
        drained, outcome = self.found.get(WITH), self._outcome
        if drained is None or outcome is None or self.runner.is_running or not drained.course.is_whole:
            return
        wish = Wish(drained.storm, self.document.station, drained.course.until / 3600, run=self._run)
        self._tell_sums(tr("The storm again, on cells half as large …"))
        in_background(lambda: refined(outcome, wish, drained), lambda found: self._told_cells(drained, found), self._tell_sums)

    def _told_cells(self, drained: Simulation, found: Refined) -> None:
        if self.found.get(WITH) is not drained:
            return  # something else is shown by now
        words = tr("the cells are small enough") if found.change < 0.05 else tr("the cells are too large for this section: take the figures with care")
        self._tell_sums(tr("Cells half as large change the volume by {share:.1f} %: {words}. {told_of_sums}", share=100 * found.change, words=words, told_of_sums=self._told_of_sums()))

    def _toggle_paths(self, on: bool) -> None:
        drained = self.found.get(WITH)
        self._paths = paths_to_drain(drained.course.laid, drained.start.head, drained.course.rain.rates[-1]) if on and drained is not None else []
        self._show_moment()

    # how sure it is

    def ask_surety(self) -> None:
        """Run the storm on a hundred plausible grounds."""
        if self._outcome is not None and WITH in self.found and not self.runner.is_running:
            self.stop_button.setEnabled(True)
            self._tell_surety(0)
            self.surety.start(self._outcome, self.found[WITH].storm, self.document.station, self._run, self.found[WITH].course.until / 3600)

    def _tell_surety(self, done: int) -> None:
        self._tell_sums(tr("{done} of {samples} plausible grounds worked out …", done=done, samples=SAMPLES))

    def _show_surety(self, found: Ensemble) -> None:
        self.ensemble = found
        self.stop_button.setEnabled(self.film.is_running)
        self._say()
        self._tell_sums(self._told_of_sums())
        self._show_moment()

    def _told_of_sums(self) -> str:
        """How good the sums are: balance and cells, for whoever distrusts them."""
        drained = self.found[WITH]
        worst = max(s.course.balance_error for s in self.found.values())
        balance = tr("no water is lost or made in the sums") if worst < ROUNDING else tr("the sums lose or make {worst:.2g} of the water", worst=worst)
        return tr("{size:,} cells, {steps} steps; {balance}", size=drained.course.laid.mesh.volume.size, steps=len(drained.course.steps), balance=balance)

    # showing

    @property
    def moment(self) -> float:
        """Time on the slider, s."""
        drained = self.found.get(WITH)
        return 0.0 if drained is None else self.film.share * drained.course.until

    def _show_moment(self) -> None:
        drained, bare, outcome = self.found.get(WITH), self.found.get(WITHOUT), self._outcome
        if drained is None or outcome is None:
            return
        likely = self.ensemble.table_band(self.moment) if self.ensemble is not None else None
        for picture, simulation, title in ((self.drained, drained, tr("With the drain")), (self.bare, bare, tr("Without it"))):
            if simulation is None or not simulation.course.frames:
                picture.show_drawing(None, tr("comes next …"))
            else:
                index = min(frame_at(simulation.course.times, self.moment), len(simulation.course.frames) - 1)
                of_drain = picture is self.drained
                picture.show_drawing(storm_section(outcome, self._run, simulation, index, title, self._paths if of_drain else (), likely if of_drain else None))
        self.chart.show_drawing(storm_chart(outcome, drained, bare, self.moment, self.ensemble.band() if self.ensemble is not None else None))
        self.film.tell(self.moment)

    def _point(self, hours: float) -> None:
        drained = self.found.get(WITH)
        if drained is not None:
            self.film.turn_to(hours * 3600 / drained.course.until)

    def play(self) -> None:
        """Run the film from the slider on, or from the start where it stands at the end."""
        self.stop_button.setEnabled(True)
        self.film.play()

    def _film_ended(self) -> None:
        self.stop_button.setEnabled(self.runner.is_running)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is not None and event.key() == Qt.Key.Key_Space:
            self.stop() if self.film.is_running else self.play()
        elif event is not None and event.key() == Qt.Key.Key_Escape:
            self.stop()
        else:
            super().keyPressEvent(event)

    def showEvent(self, event: QShowEvent | None) -> None:  # noqa: N802, D102
        self.refresh()

    def hideEvent(self, event: QHideEvent | None) -> None:  # noqa: N802, D102
        self.film.stop()
        self._settle.stop()
        self.surety.stop()
        if self.runner.is_running:
            self.runner.stop()
            self._asked = None
