"""Shots from an instrument: connect, see what it says, take an averaged shot into the job."""

from __future__ import annotations

import dataclasses
import time

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QProgressBar,
    QPushButton,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from weirant.errors import InputError, WeirantError
from weirant.ground.flat_plan import FlatPlan
from weirant.instruments.messages import QUALITY, Position, StaffReading
from weirant.instruments.receiver import AveragedShot, Averager, Heard, Receiver
from weirant.instruments.stand_ins import StandIn, practice_level, practice_rover
from weirant.job.site import SitePoint
from weirant.job.survey import Shot
from weirant.language import capital, tr
from weirant.ui.document import Document
from weirant.ui.line import EntryLine
from weirant.ui.plain_text import PlainLabel
from weirant.ui.rhythm import Dialog
from weirant.ui.still_box import StillBox
from weirant.ui.theme import THEME
from weirant.units.display import DISTANCE, LEVEL, shown

PRACTICE = {tr("practice: a level and its staff"): practice_level, tr("practice: a satellite rover"): practice_rover}
SPEEDS = (4800, 9600, 19200, 38400, 57600, 115200)
POLL = 100  # ms


class ReceiverDialog(Dialog):
    """One instrument at a time; a level's reading becomes a rod reading, a rover's position a point with its level."""

    told_in = ("step-levels", "")

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(parent)
        self.document = document
        self.setWindowTitle(tr("Shots from an instrument"))
        self.receiver: Receiver | None = None
        self._stand_in: StandIn | None = None
        self.averager = Averager()
        self._waiting, self._refused = False, 0
        self._origin: FlatPlan | None = None
        self.ports, self.speed, self.count = StillBox(), StillBox(), QSpinBox()
        self.connect_button, self.take = QPushButton(tr("Connect")), QPushButton(tr("Take a shot"))
        self.name, self.code = EntryLine("S1"), EntryLine()
        self.now, self.last = PlainLabel("–"), PlainLabel()
        self.state = PlainLabel(tr("Not connected. With a rover, stand first on the spot from which the plan is reckoned (0 east, 0 north)."))
        self.bar = QProgressBar()
        self._lay_out()
        self._clock = QTimer(self)
        self._clock.setInterval(POLL)
        self._clock.timeout.connect(self._poll)

    def _lay_out(self) -> None:
        self.setMinimumWidth(round(38 * THEME.text))
        self.ports.setEditable(True)
        self.ports.addItems([*_serial_ports(), *PRACTICE])
        self.speed.addItems([tr("{s} baud", s=s) for s in SPEEDS])
        self.speed.setCurrentIndex(1)
        self.count.setRange(1, 50)
        self.count.setValue(5)
        self.count.valueChanged.connect(self._set_count)
        self.take.setProperty("main", True)
        self.take.setEnabled(False)
        self.take.clicked.connect(self.start_shot)
        self.connect_button.clicked.connect(self.toggle)
        self.now.setProperty("loud", True)
        for label in (self.state, self.last):
            label.setWordWrap(True)
        grid = QGridLayout()
        rows: tuple[tuple[str, QWidget], ...] = ((tr("port"), self.ports), (tr("speed"), self.speed), (tr("readings to a shot"), self.count), (tr("name of the shot"), self.name),
                                                 (tr("code"), self.code))  # fmt: skip
        for row, (words, widget) in enumerate(rows):
            label = PlainLabel(words)
            label.setBuddy(widget)
            widget.setAccessibleName(words)
            grid.addWidget(label, row, 0)
            grid.addWidget(widget, row, 1)
        grid.setColumnStretch(1, 1)
        buttons = QHBoxLayout()
        close = QPushButton(tr("Close"))
        close.clicked.connect(self.close)
        for button in (self.connect_button, self.take):
            buttons.addWidget(button)
        buttons.addStretch(1)
        buttons.addWidget(close)
        column = QVBoxLayout(self)
        column.addLayout(grid)
        for widget in (self.now, self.bar, self.state, self.last):
            column.addWidget(widget)
        column.addLayout(buttons)

    def _set_count(self, count: int) -> None:
        self.averager.wanted = count

    def toggle(self) -> None:
        """Connect, or let go."""
        if self.receiver is not None:
            self.let_go()
            self.state.setText(tr("Let go."))
            return
        chosen = self.ports.currentText()
        try:
            if chosen in PRACTICE:
                self._stand_in = PRACTICE[chosen]()
                chosen = self._stand_in.port
            self.receiver = Receiver(chosen, SPEEDS[self.speed.currentIndex()])
        except WeirantError as fault:
            self.let_go()
            self.state.setText(str(fault))
            return
        self.averager = Averager(self.count.value())
        self.connect_button.setText(tr("Let go"))
        self.take.setEnabled(True)
        self.state.setText(tr("Listening …"))
        self._clock.start()

    def let_go(self) -> None:
        """Close the port and the stand-in."""
        self._clock.stop()
        self._waiting = False
        self.bar.setValue(0)
        if self.receiver is not None:
            self.receiver.close()
        if self._stand_in is not None:
            self._stand_in.close()
        self.receiver = self._stand_in = None
        self.connect_button.setText(tr("Connect"))
        self.take.setEnabled(False)

    def start_shot(self) -> None:
        """Begin to average; the shot is taken when there are enough fresh readings."""
        self.averager = Averager(self.count.value())
        self._waiting = True
        self.state.setText(tr("Hold it still …"))

    def _poll(self) -> None:
        if self.receiver is None:
            return
        for heard in self.receiver.take():
            self._hear(heard)
        if self.receiver is None or not self._waiting:
            return
        if self.averager.forget_stale(time.monotonic()):
            self.state.setText(tr("The readings broke off; begun again."))
        self.bar.setValue(round(100 * min(1.0, self.averager.count / self.averager.wanted)))
        try:
            shot = self.averager.shot(time.monotonic())
        except InputError as fault:
            self.state.setText(capital(str(fault)))
            return
        if shot is not None:
            self._waiting = False
            self.take_in(shot)

    def _hear(self, heard: Heard) -> None:
        if heard.lost:
            self.let_go()
            self.state.setText(heard.refused)
            return
        if self._waiting:
            self.averager.add(heard)
        system = self.document.system
        if heard.message is None:
            self._refused += 1
            self.state.setText(tr("Refused ({count}): {why}", count=self._refused, why=heard.refused))
        elif isinstance(heard.message, StaffReading):
            self.now.setText(shown(heard.message.value, LEVEL, system))
        elif isinstance(heard.message, Position):
            x, y = self._plan_of(heard.message).place(heard.message.longitude, heard.message.latitude)
            self.now.setText(tr("{x} east, {y} north, level {height}, {quality}", x=shown(x, DISTANCE, system), y=shown(y, DISTANCE, system),
                                height=shown(heard.message.height, LEVEL, system), quality=QUALITY.get(heard.message.quality, "")))  # fmt: skip

    def _plan_of(self, fix: Position) -> FlatPlan:
        """The plan's origin: what the job says, else the first position heard, which goes into the job with the first shot."""
        survey = self.document.job.survey
        if survey.longitude is not None and survey.latitude is not None:
            return FlatPlan(survey.longitude, survey.latitude)
        if self._origin is None:
            self._origin = FlatPlan(fix.longitude, fix.latitude)
        return self._origin

    def take_in(self, shot: AveragedShot) -> None:
        """Put a finished shot into the job."""
        document, name = self.document, self.name.text().strip() or "S"
        job, system = document.job, document.system
        spread = tr("mean of {count}, spread {spread:.0f} mm, {refused} refused", count=shot.count, spread=1000 * shot.spread, refused=shot.refused)
        if len(shot.values) == 1:
            survey = dataclasses.replace(job.survey, shots=(*job.survey.shots, Shot(name, None, None, shot.values[0])))
            done = document.change(dataclasses.replace(job, survey=survey), tr("Rod reading {name} from the instrument", name=name))
            words = tr("{name}: rod reading {values}", name=name, values=shown(shot.values[0], LEVEL, system))
        else:
            longitude, latitude, height = shot.values
            plan = self._plan_of(Position(longitude, latitude, height, 4, 0, ""))
            x, y = plan.place(longitude, latitude)
            point = SitePoint(name, x, y, height, self.code.text().strip(), "instrument")
            survey = dataclasses.replace(job.survey, longitude=plan.longitude, latitude=plan.latitude)
            done = document.change(dataclasses.replace(job, points=(*job.points, point), survey=survey), tr("Point {name} from the instrument", name=name))
            words = tr("{name}: {x} east, {y} north, level {values}", name=name, x=shown(x, DISTANCE, system), y=shown(y, DISTANCE, system), values=shown(shot.values[2], LEVEL, system))
        if done:
            self.state.setText(tr("Taken."))
            self.last.setText(f"{words} ({spread})")
            self.name.setText(_next_name(name))

    def closeEvent(self, event: QCloseEvent | None) -> None:  # noqa: N802, D102
        self.let_go()
        super().closeEvent(event)

    def reject(self) -> None:
        """Escape lets the instrument go, too."""
        self.let_go()
        super().reject()


def _next_name(name: str) -> str:
    """S1 is followed by S2, gate by gate 2."""
    stem = name.rstrip("0123456789")
    digits = name[len(stem) :]
    return f"{stem}{int(digits) + 1}" if digits else f"{name} 2"


def _serial_ports() -> list[str]:
    from serial.tools.list_ports import comports

    return [port.device for port in comports()]


