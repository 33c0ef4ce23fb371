"""Parts of the pages that rank what may be: a question with its answers, a share of belief, the evidence for and against it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from weirant.design.evidence import Question
from weirant.language import tr
from weirant.ui.code_box import CodeBox
from weirant.ui.plain_text import PlainLabel
from weirant.ui.still_box import StillBox
from weirant.ui.theme import THEME

NOT_ASKED = tr("not looked at yet")


class Believed(Protocol):
    """What may be, with its share of belief and the evidence."""

    @property
    def share(self) -> float: ...  # noqa: D102
    @property
    def points_for(self) -> tuple[str, ...]: ...  # noqa: D102
    @property
    def points_against(self) -> tuple[str, ...]: ...  # noqa: D102


class ShareBar(QWidget):
    """A share of belief as a bar."""

    def __init__(self, share: float) -> None:
        super().__init__()
        self.share = share
        self.setAccessibleName(tr("{share:.0f} of 100", share=100 * share))

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(round(5 * THEME.text), round(0.6 * THEME.text))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        painter = QPainter(self)
        area = QRectF(0, self.height() / 2 - 0.25 * THEME.text, self.width(), 0.5 * THEME.text)
        painter.fillRect(area, QColor(THEME.palette.panel))
        area.setWidth(max(1.0, self.share * self.width()))
        painter.fillRect(area, QColor(THEME.palette.accent))
        painter.end()


def answers_to(question: Question) -> CodeBox:
    """The answers to a question to choose from."""
    choice = CodeBox()
    choice.addItem(NOT_ASKED)
    choice.add_codes(question.answers)
    choice.setAccessibleName(question.text)
    choice.setSizeAdjustPolicy(StillBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    choice.setMinimumContentsLength(12)
    return choice


def show_answer(choice: CodeBox, answer: str) -> None:
    """Let an answer be the one shown; an empty one shows that nobody has looked."""
    if answer:
        choice.take(answer)
    else:
        choice.setCurrentIndex(0)


def asked(text: str, choice: QWidget, sketch: QWidget | None = None, wide: float = 15.4) -> QWidget:
    """A question, with its picture where it has one, and its answers below it; so many letters ``wide`` without one."""
    cell, words = QWidget(), PlainLabel(text)
    words.setProperty("quiet", True)
    words.setBuddy(choice)
    row, column = QHBoxLayout(cell), QVBoxLayout()
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(8)
    column.setSpacing(0)
    column.addWidget(words)
    column.addWidget(choice, 0, Qt.AlignmentFlag.AlignLeft if choice.maximumWidth() == choice.minimumWidth() else Qt.AlignmentFlag(0))
    if sketch is not None:
        row.addWidget(sketch)
    row.addLayout(column, 1)
    cell.setFixedWidth(round((17.6 if sketch is not None else wide) * THEME.text))
    return cell


def told_of(name: str, believed: Believed, lines: Sequence[str], *, whole: bool) -> QWidget:
    """What may be with its share, what is said of it, and the evidence; of what is less likely less of it."""
    cell = QWidget()
    column, line = QVBoxLayout(cell), QHBoxLayout()
    column.setContentsMargins(0, 0, 0, 4)
    column.setSpacing(0)
    words, share = PlainLabel(name), PlainLabel(tr("{share:.0f} of 100", share=100 * believed.share))
    words.setProperty("strong", True)
    words.setWordWrap(True)
    line.addWidget(words, 1)
    line.addWidget(share)
    column.addLayout(line)
    column.addWidget(ShareBar(believed.share))
    told = [*lines]
    if believed.points_for:
        told.append(tr("For it: ") + "; ".join(believed.points_for[: 5 if whole else 2]) + ".")
    if believed.points_against:
        told.append(tr("Against: ") + "; ".join(believed.points_against[: 4 if whole else 2]) + ".")
    for text in told:
        column.addWidget(quiet(text))
    return cell


def quiet(words: str) -> QLabel:
    """Words that stand back."""
    label = PlainLabel(words)
    label.setWordWrap(True)
    label.setProperty("quiet", True)
    return label
