"""Why did the old drain fail? What was found where it was opened, the causes ranked, what can be kept, and what the new one must do otherwise."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QImageReader, QPainter, QPaintEvent
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from weirant.design.autopsy import (
    Cause,
    as_existing,
    autopsy,
    old_drain_answered,
    old_drain_of,
    opened,
    questions,
    with_old_drain,
    without_old_drain,
)
from weirant.job import Job
from weirant.job.identity import by_id
from weirant.job.old_drains import MOST_PICTURES, OldDrain
from weirant.language import tr
from weirant.outcome.finding import State
from weirant.ui.asking import ask_file
from weirant.ui.code_box import CodeBox
from weirant.ui.column import ColumnPage, emptied
from weirant.ui.document import Document
from weirant.ui.evidence_parts import NOT_ASKED, answers_to, asked, quiet, show_answer, told_of
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.plain_text import PlainLabel
from weirant.ui.steps.entries import entry_for
from weirant.ui.steps.job_choice import JobChoice

SHOWN = 4  # causes told of
FIGURES = {"name": tr("it is called"), "age": tr("years old"), "size": tr("inside of its pipe"), "sediment": tr("sediment in it"), "blocked": tr("share of openings shut")}
AGAIN = {State.FAILS: tr("The new design does this again."), State.TIGHT: tr("The new design comes near to this."), State.HOLDS: tr("The new design does not do this again."),
         State.UNKNOWN: tr("Whether the new design does this again is not known.")}  # fmt: skip
LARGEST = 1200  # pixels of a picture as it is shown
KEPT_OUT = tr("Dig by hand where other lines may lie. Walls of a trench fall in without a sign: from 5 ft (1.5 m) on nobody goes in without shoring.")


class OldDrainPage(ColumnPage):
    """A column: which old drain, its figures, what was seen in it; below, the causes, what is kept, and its pictures."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document, self._drain = document, ""
        self._head, self._figures, self._below, self._pictures = QHBoxLayout(), QWidget(), QVBoxLayout(), QVBoxLayout()
        self._below.setSpacing(4)
        title = PlainLabel(tr("An old drain that was opened: what was found?"))
        title.setProperty("strong", True)
        title.setWordWrap(True)
        self.column.addWidget(title)
        self.column.addLayout(self._head)
        self._cells = FlowLayout(self._figures, 8)
        self._cells.setContentsMargins(0, 0, 0, 0)
        self.column.addWidget(self._figures)
        questions_at = QWidget()
        cells = FlowLayout(questions_at, 8)
        cells.setContentsMargins(0, 0, 0, 4)
        self.choices: dict[str, CodeBox] = {}
        for question in questions():
            choice = self.choices[question.key] = answers_to(question)
            choice.activated.connect(lambda _, key=question.key: self._answer(key))
            cells.addWidget(asked(question.text, choice))
        self._asked = questions_at
        self.column.addWidget(questions_at)
        self.column.addLayout(self._below)
        self.column.addLayout(self._pictures)
        self.column.addStretch(1)
        self._told: object = None
        self._laid: object = None
        document.changed.connect(self.refresh)
        document.drag_ended.connect(self.refresh)

    @property
    def drain(self) -> OldDrain | None:
        """The old drain in hand; None where there is none."""
        drains = self.document.job.old_drains
        found: OldDrain | None = by_id(drains, self._drain)
        return found or (drains[0] if drains else None)

    def refresh(self) -> None:
        """Follow the document, but not every step of a drag."""
        if self.document.is_empty or self.document.dragging or not self.isVisible() or self.document.trial is not None or self._told is self.document.settled:
            return
        self._told = self.document.settled
        drain = self.drain
        laid = (drain.id if drain is not None else "", tuple((d.id, d.name) for d in self.document.job.old_drains))
        if laid != self._laid:
            self._laid = laid
            self._lay(drain)
        for part in (self._figures, self._asked):
            part.setVisible(drain is not None)
        emptied(self._below)
        emptied(self._pictures)
        if drain is None:
            self._below.addWidget(quiet(tr("Where there is an old drain, open it in two places before you copy it: what stopped it will stop the next one too.")))
            return
        seen = {answer.question: answer.answer for answer in drain.seen}
        for key, choice in self.choices.items():
            show_answer(choice, seen.get(key, ""))
        self._tell(drain)
        self._show_pictures(drain)

    def _lay(self, drain: OldDrain | None) -> None:
        """What stands over the questions, for a drain."""
        emptied(self._head)
        emptied(self._cells)
        drains = self.document.job.old_drains
        if len(drains) > 1 and drain is not None:
            which = CodeBox()
            for each in drains:
                which.addItem(each.name, each.id)
            which.take(drain.id)
            which.setAccessibleName(tr("old drain in hand"))
            which.activated.connect(lambda _: self._take(which.code()))
            self._head.addWidget(which)
        self._head.addWidget(_button(tr("Another old drain") if drains else tr("An old drain was opened"), self._add))
        if drain is not None:
            self._head.addWidget(_button(tr("Take it out"), partial(self._take_out, drain.id)))
            for field, words in FIGURES.items():
                self._cells.addWidget(asked(words, entry_for(self.document, f"old_drains.{drain.id}.{field}"), wide=11.4 if field == "name" else 9.4))
            self._cells.addWidget(asked(tr("on the plan it is"), _RunOf(self.document, drain.id)))
        self._head.addStretch(1)

    def _tell(self, drain: OldDrain) -> None:
        found = autopsy(self.document.settled, drain)
        first = found.causes[0]
        if found.ask_next is not None:
            self._below.addWidget(quiet(tr("Look next: {asked} It parts the first two best. To be sure: {look}.", asked=found.ask_next.text, look=first.failure.look)))
        if drain.seen:
            for number, cause in enumerate(found.causes[:SHOWN]):
                self._below.addWidget(told_of(cause.failure.name, cause.belief, _lines(cause) if number < 2 else [], whole=number < 2))
        if found.kept:
            self._below.addWidget(quiet(tr("Can be kept: {kept}.", kept="; ".join(found.kept))))
        self._below.addWidget(quiet(KEPT_OUT))

    def _show_pictures(self, drain: OldDrain) -> None:
        for path in drain.pictures:
            row = QHBoxLayout()
            line = QWidget()
            line.setLayout(row)
            row.setContentsMargins(0, 0, 0, 0)
            row.addWidget(quiet(Path(path).name), 1)
            row.addWidget(_button(tr("Show"), partial(self._show, path)))
            row.addWidget(_button(tr("Take out"), partial(self._without_picture, drain.id, path)))
            self._pictures.addWidget(line)
        if len(drain.pictures) < MOST_PICTURES:
            self._pictures.addWidget(_button(tr("Add a picture …"), partial(self._add_picture, drain.id)), 0, Qt.AlignmentFlag.AlignLeft)

    # what a press does

    def _take(self, identity: str) -> None:
        self._drain, self._told = identity, None
        self.refresh()

    def _add(self) -> None:
        job, self._drain = opened(self.document.job)
        self.document.change(job, tr("An old drain was opened"), may_come=True)

    def _take_out(self, identity: str) -> None:
        self.document.edit(lambda job: without_old_drain(job, identity), tr("Old drain taken out"), may_come=True)

    def _answer(self, key: str) -> None:
        drain = self.drain
        if drain is not None:
            answer = self.choices[key].code()
            text = next(q.text for q in questions() if q.key == key)
            self.document.edit(lambda job: old_drain_answered(job, drain.id, key, answer), f"{text.rstrip('?')}: {tr(answer) if answer else NOT_ASKED}", may_come=True)

    def _add_picture(self, identity: str) -> None:
        path = ask_file(self, tr("A picture of the old drain"), tr("Pictures (*.jpg *.jpeg *.png *.webp)"))
        if path is not None:
            self.add_picture(identity, path)

    def add_picture(self, identity: str, path: Path) -> None:
        """Note a picture by the path of its file; one that is no picture is refused."""
        if _read(str(path)).isNull():
            self.document.refused.emit(tr("{name} cannot be read as a picture", name=path.name))
            return
        self._set_pictures(identity, lambda pictures: pictures if str(path) in pictures else (*pictures, str(path)), tr("Picture {name}", name=path.name))

    def _without_picture(self, identity: str, path: str) -> None:
        self._set_pictures(identity, lambda pictures: tuple(p for p in pictures if p != path), tr("Picture taken out"))

    def _set_pictures(self, identity: str, then: Callable[[tuple[str, ...]], tuple[str, ...]], name: str) -> None:
        def with_them(job: Job) -> Job:
            drain = old_drain_of(job, identity)
            return with_old_drain(job, dataclasses.replace(drain, pictures=then(drain.pictures)))

        self.document.edit(with_them, name, may_come=True)

    def _show(self, path: str) -> None:
        image = _read(path)
        if image.isNull():
            self.document.refused.emit(tr("{name} is not there any more, or is no picture", name=Path(path).name))
            return
        dialog = QDialog(self)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.setWindowTitle(Path(path).name)
        QVBoxLayout(dialog).addWidget(_Shown(image))
        dialog.open()

    def showEvent(self, event: object) -> None:  # noqa: N802, D102
        self.refresh()


class _Shown(QWidget):
    """A picture, as large as there is room."""

    def __init__(self, image: QImage) -> None:
        super().__init__()
        self._image = image

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return self._image.size().scaled(760, 560, Qt.AspectRatioMode.KeepAspectRatio)

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        painter = QPainter(self)
        size = self._image.size().scaled(self.size(), Qt.AspectRatioMode.KeepAspectRatio)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(QRectF((self.width() - size.width()) / 2, (self.height() - size.height()) / 2, size.width(), size.height()), self._image)
        painter.end()


class _RunOf(JobChoice):
    """Which run of the job the old drain is; that one lies there then, with its sediment."""

    def __init__(self, document: Document, drain: str) -> None:
        self.drain = drain
        super().__init__(document, tr("The run that the old drain is"))

    def wanted(self) -> list[tuple[Any, str]]:  # noqa: D102
        return [("", tr("not drawn")), *((run.id, run.name) for run in self.document.shown_job.runs)]

    def now(self) -> Any:  # noqa: D102
        found = by_id(self.document.shown_job.old_drains, self.drain)
        return found.run if found is not None else ""

    def edited(self, job: Job, value: Any) -> Job:  # noqa: D102
        return as_existing(job, self.drain, value) if value else with_old_drain(job, dataclasses.replace(old_drain_of(job, self.drain), run=""))


def _lines(cause: Cause) -> list[str]:
    """What the new drain must have, and whether its design has it."""
    return [tr("It wants: {drain}.", drain=cause.failure.measure), AGAIN[cause.is_repeated]]


def _read(path: str) -> QImage:
    """A picture of a file, no larger than is shown; null for what is none, or no plain file."""
    try:
        if not Path(path).is_file():
            return QImage()
    except OSError:  # a name longer than any file's, or a place that cannot be looked into
        return QImage()
    reader = QImageReader(path)
    reader.setAutoTransform(True)
    size = reader.size()
    if size.isValid() and max(size.width(), size.height()) > LARGEST:
        reader.setScaledSize(size.scaled(LARGEST, LARGEST, Qt.AspectRatioMode.KeepAspectRatio))
    return reader.read()


def _button(words: str, act: Any) -> QPushButton:
    button = QPushButton(words)
    button.clicked.connect(lambda: act())
    return button
