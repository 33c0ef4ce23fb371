"""The bench: set up the gravel box, guess, pour, and see."""

from __future__ import annotations

from functools import partial
from threading import Event

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import (
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from weirant.design.bench import DRY, GUESSES, HOLES, SOILS, WALLED, Box, Score, laid_out, lesson, rain_on
from weirant.drawing.bench import bench_drawing
from weirant.errors import InputError
from weirant.language import tr
from weirant.library import shipped
from weirant.seepage.storm import Course, simulate
from weirant.ui.line import EntryLine
from weirant.ui.plain_text import PlainLabel, named
from weirant.ui.rhythm import Dialog
from weirant.ui.still_box import StillBox
from weirant.ui.views.picture import Picture
from weirant.ui.work import in_background
from weirant.units import parse
from weirant.units.dimension import LENGTH, TIME
from weirant.units.display import RAIN_DEPTH, SECTION, System, shown, unit_of

NOT_GUESSED = tr("your guess …")
BEAT, FILM = 40, 7.0  # ms between frames, s for the whole film


class BenchDialog(Dialog):
    """Own window: the box on the right, what is set and guessed on the left."""

    told_in = ("step-storm", "")

    def __init__(self, system: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Bench: the gravel box"))
        self.setMinimumSize(900, 560)
        self._system, self.score = system, Score()
        self.course: Course | None = None
        self.box = Box()
        self._stop = Event()
        self.soil, self.holes = StillBox(), StillBox()
        self.soil.addItems([shipped().texture(key).name for key in SOILS])
        self.soil.setCurrentIndex(list(SOILS).index(self.box.soil))
        self.holes.addItems([tr("holes {where}", where=tr(where)) for where in HOLES])
        self.rain, self.lasts, self.deep, self.bedding = (EntryLine() for _ in range(4))
        for edit, value, kind in ((self.rain, self.box.rain, RAIN_DEPTH), (self.deep, self.box.depth, SECTION), (self.bedding, self.box.bedding, SECTION)):
            edit.setText(shown(value, kind, system))
        self.lasts.setText(tr("60 min"))
        self.guesses = [StillBox() for _ in GUESSES]
        self.pour_button, self.answer, self.told = QPushButton(tr("Pour the rain")), PlainLabel(), PlainLabel()
        self.pour_button.setProperty("main", True)
        self.answer.setWordWrap(True)
        self.told.setWordWrap(True)
        self.told.setProperty("strong", True)
        self.told.setAccessibleName(tr("Score"))
        self.answer.setAccessibleName(tr("Answers"))
        self.picture, self.slider = Picture(tr("The gravel box")), QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName(tr("Time"))
        self.slider.setRange(0, 0)
        self._film = QTimer(self)
        self._film.setInterval(BEAT)
        self._film.timeout.connect(self._next_frame)
        self._at = 0.0
        self._lay_out()
        self.pour_button.clicked.connect(self.pour)
        self.slider.valueChanged.connect(self._show)
        for choice in self.guesses:
            choice.activated.connect(self._follow)
        self._follow()
        self.picture.show_drawing(None, tr("Set up the box, make your guesses, then pour."))

    def _lay_out(self) -> None:
        row, left, right, form = QHBoxLayout(self), QVBoxLayout(), QVBoxLayout(), QFormLayout()
        for label, widget in ((tr("soil"), self.soil), (tr("rain"), self.rain), (tr("within"), self.lasts), (tr("trench depth"), self.deep), (tr("bedding"), self.bedding),
                              (tr("pipe"), self.holes)):
            form.addRow(named(label, widget), widget)
            widget.setAccessibleName(label)
        left.addLayout(form)
        for guess, choice in zip(GUESSES, self.guesses, strict=True):
            words = PlainLabel(guess.text)
            words.setWordWrap(True)
            words.setBuddy(choice)
            choice.addItems([NOT_GUESSED, *guess.answers])
            choice.setAccessibleName(guess.text)
            choice.setSizeAdjustPolicy(StillBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            choice.setMinimumContentsLength(20)
            left.addWidget(words)
            left.addWidget(choice)
        left.addWidget(self.pour_button)
        left.addWidget(self.answer)
        left.addWidget(self.told)
        left.addStretch(1)
        right.addWidget(self.picture, 1)
        right.addWidget(self.slider)
        row.addLayout(left, 4)
        row.addLayout(right, 7)

    def _follow(self) -> None:
        self.pour_button.setEnabled(all(choice.currentIndex() > 0 for choice in self.guesses))
        self.pour_button.setToolTip("" if self.pour_button.isEnabled() else tr("Guess first: it is why the box is here"))

    def _read(self) -> Box:
        """The box as it is set up; InputError in the user's words."""
        def length(edit: QLineEdit, name: str, unit: str) -> float:
            return parse(edit.text(), LENGTH, name, unit)

        return Box(list(SOILS)[self.soil.currentIndex()], length(self.rain, tr("rain"), unit_of(RAIN_DEPTH, self._system)), parse(self.lasts.text(), TIME, tr("time"), "min"),
                   length(self.deep, tr("trench depth"), unit_of(SECTION, self._system)), length(self.bedding, tr("bedding"), unit_of(SECTION, self._system)),
                   HOLES[self.holes.currentIndex()])  # fmt: skip

    def pour(self) -> None:
        """Run the engine on the box beside the interface; the answers come with the film."""
        try:
            box = self._read()
        except InputError as fault:
            self.told.setText(str(fault))
            return
        self._stop.set()
        stop = self._stop = Event()
        self.box = box
        self.pour_button.setEnabled(False)
        self.told.setText(tr("It rains …"))
        self.answer.setText("")
        in_background(partial(_run, box, stop), partial(self._poured, stop), partial(self._failed, stop))

    def _poured(self, stop: Event, course: Course) -> None:
        if stop.is_set():
            return
        self.course = course
        self.slider.setRange(0, len(course.frames) - 1)
        self._at = 0.0
        self.slider.setValue(0)
        self._show()
        self._film.start()

    def _failed(self, stop: Event, words: str) -> None:
        if not stop.is_set():
            self.told.setText(words)
            self._follow()

    def _next_frame(self) -> None:
        self._at += self.slider.maximum() * BEAT / 1000 / FILM
        self.slider.setValue(min(round(self._at), self.slider.maximum()))
        if self.slider.value() >= self.slider.maximum():
            self._film.stop()
            self.tell()

    def tell(self) -> None:
        """Show the answers and the score, and clear the guesses for the next round."""
        if self.course is None:
            return
        guesses = tuple(choice.currentIndex() - 1 for choice in self.guesses)
        answers = tuple(guess.right(self.box, self.course) for guess in GUESSES)
        if all(g >= 0 for g in guesses):
            self.score = self.score.after(guesses, answers)
        lines = [f"{'right' if mine == right else 'no'}: {guess.answers[right]}" for guess, mine, right in zip(GUESSES, guesses, answers, strict=True)]
        self.answer.setText("\n".join([*lines, "", lesson(self.box, self.course)]))
        self.told.setText(tr("{right} of {made} guesses right so far.", right=self.score.right, made=self.score.made))
        for choice in self.guesses:
            choice.setCurrentIndex(0)
        self._follow()

    def _show(self) -> None:
        if self.course is not None:
            self.picture.show_drawing(bench_drawing(self.box, self.course, self.slider.value()))

    def closeEvent(self, event: QCloseEvent | None) -> None:  # noqa: N802, D102
        self._stop.set()
        self._film.stop()
        super().closeEvent(event)


def _run(box: Box, stop: Event) -> Course:
    return simulate(laid_out(box), rain_on(box), SOILS[box.soil], start_table=DRY, means=WALLED, told=lambda _: not stop.is_set())
