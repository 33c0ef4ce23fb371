"""Which water is it? Short questions, kinds of water ranked with the evidence for and against, and the drain placed on the plan."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from weirant.design.diagnosis import Diagnosis, Question, Ranked, answered, diagnose, questions
from weirant.design.from_plan import offers as from_plan
from weirant.design.from_plan import shed_words
from weirant.design.place_drain import PLACED, placed, wet_areas
from weirant.drawing.seen import seen_drawing
from weirant.errors import InputError
from weirant.job import Job
from weirant.language import tr
from weirant.outcome.commands import Instead, Offer
from weirant.paper.frame import fit
from weirant.ui.code_box import CodeBox
from weirant.ui.column import ColumnPage, emptied
from weirant.ui.document import Document
from weirant.ui.evidence_parts import NOT_ASKED, answers_to, asked, quiet, show_answer, told_of
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.plain_text import PlainLabel
from weirant.ui.theme import THEME
from weirant.ui.try_button import TryButton
from weirant.ui.work import Newest

SHOWN = 4  # kinds of water told of


class WaterPage(ColumnPage):
    """A column: what can be seen first, each question with its picture; below, the kinds of water by what was answered."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        column = self.column
        self.next = PlainLabel()
        self.next.setWordWrap(True)
        self.next.setAccessibleName(tr("What to look at next"))
        self._ranked, self._offers = QVBoxLayout(), QVBoxLayout()
        self._ranked.setSpacing(4)
        self.choices: dict[str, CodeBox] = {}
        self._told_first = PlainLabel(tr("What can be seen? Answer what you know; the rest can wait."))
        self._told_first.setProperty("strong", True)
        column.addWidget(self._told_first)
        below = QWidget()
        cells = FlowLayout(below, 8)
        cells.setContentsMargins(0, 0, 0, 4)
        column.addWidget(below)
        column.addWidget(self.next)
        column.addLayout(self._ranked)
        column.addLayout(self._offers)
        for question in questions():
            choice = answers_to(question)
            choice.activated.connect(lambda _, key=question.key: self._answer(key))
            cells.addWidget(asked(question.text, choice, _Sketch(question)))
            self.choices[question.key] = choice
        column.addStretch(1)
        self._told: object = None
        self._areas = Newest(self)
        document.changed.connect(self.refresh)
        document.drag_ended.connect(self.refresh)

    def _answer(self, key: str) -> None:
        choice = self.choices[key]
        answer = choice.code()
        question = next(q for q in questions() if q.key == key)
        self.document.change(answered(self.document.job, key, answer), f"{question.text.rstrip('?')}: {tr(answer) if answer else NOT_ASKED}", may_come=True)

    def refresh(self) -> None:
        """Follow the document, but not every step of a drag."""
        if self.document.is_empty or self.document.dragging or not self.isVisible():
            return
        for offer in self.findChildren(TryButton):
            offer.follow()
        if self.document.trial is not None or self._told is self.document.settled:
            return
        outcome = self._told = self.document.settled
        given = {a.question: a.answer for a in outcome.job.answers}
        for key, choice in self.choices.items():
            show_answer(choice, given.get(key, ""))
        found = diagnose(outcome)
        emptied(self._ranked)
        for number, ranked in enumerate(found.ranked[:SHOWN]):
            self._ranked.addWidget(_told_of(ranked, whole=number < 2))
        self._offer(found)
        run = self.document.run
        self._areas.ask(lambda: (from_plan(outcome, run), shed_words(outcome, run)), lambda found: self._offer_areas(outcome, *found), lambda _: None)
        further = found.ask_next
        test = found.ranked[0].kind.test
        self.next.setText(tr("Look next: {asked} It parts the first two best. The test that settles it: {test}.",
                             asked=further.text, test=test) if further is not None else tr("The test that settles it: {test}.", test=test))

    def _offer(self, found: Diagnosis) -> None:
        """The drain that the likeliest kinds want, placed on the plan for a trial."""
        emptied(self._offers)
        outcome, areas = self.document.settled, wet_areas(self.document.job)
        for ranked in found.ranked[:2]:
            if ranked.kind.key not in PLACED:
                continue
            if not areas:
                self._offers.addWidget(quiet(tr("Draw the wet area on the plan (step 3), and the drain can be placed there.")))
                return
            for area in areas[:2]:
                try:
                    fix = Offer(tr("Place a {placed} at {area}", placed=PLACED[ranked.kind.key], area=area.name), Instead(placed(outcome, ranked.kind.key, area)))
                except InputError:
                    continue
                self._offers.addWidget(TryButton(self.document, 40, fix))

    def _offer_areas(self, outcome: object, areas: list[tuple[str, Job]], shed: str) -> None:
        """Areas measured on the plan, for a trial, and what hard ground sheds."""
        if outcome is self._told:
            if shed:
                self._offers.addWidget(quiet(shed))
            for words, job in areas:
                self._offers.addWidget(TryButton(self.document, 40, Offer(words, Instead(job))))

    def showEvent(self, event: object) -> None:  # noqa: N802, D102
        self.refresh()


class _Sketch(QWidget):
    """The picture beside a question."""

    def __init__(self, question: Question) -> None:
        super().__init__()
        self._drawing = seen_drawing(question.key)

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(round(4.2 * THEME.text), round(2.5 * THEME.text))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        painter = QPainter(self)
        THEME.ink.draw(painter, self._drawing, fit(self._drawing, QRectF(self.rect())))
        painter.end()


def _told_of(ranked: Ranked, whole: bool) -> QWidget:
    """A kind of water with its share; the first ones with the evidence and the drain they want."""
    return told_of(ranked.kind.name, ranked, [tr("It wants: {drain}.", drain=ranked.kind.drain)] if whole else [], whole=whole)
