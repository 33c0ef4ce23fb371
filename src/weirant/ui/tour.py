"""A tour of the window in seven stops: what is told of lies in the light, the rest in the shade. Enter goes on, Escape ends it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, QPoint, QRect, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPen, QRegion
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from weirant.language import tr
from weirant.records import dataclass
from weirant.ui import memory
from weirant.ui.plain_text import PlainLabel
from weirant.ui.sheet.sheet import Sheet
from weirant.ui.theme import THEME

SEEN = "tour"


@dataclass(frozen=True)
class Stop:
    """What is shown, and what is said of it."""

    widget: Callable[[Sheet], QWidget]
    title: str
    text: str


STOPS = (
    Stop(lambda s: s.rail, tr("Ten steps"),
         tr("From finding the water to digging to grade, in the order of the trade. None is locked. Under each stands what it still lacks. Alt and its number turn to it.")),
    Stop(lambda s: s.part("stage"), tr("The stage"),
         tr("One large drawing, where things are changed. Figures with dots under them are pressed and typed over, in any unit; squares are dragged.")),
    Stop(lambda s: s.part("companions"), tr("Its companions"), tr("The other views of the same run at the same place. Press one, and it takes the stage.")),
    Stop(lambda s: s.part("card"), tr("The card"), tr("What has no place in the drawing, on a few pages. “Assumed” stands beside what was filled in for you. F4 folds it.")),
    Stop(lambda s: s.findings, tr("Findings"), tr("What fails, what is tight, what nobody knows yet: the number against its limit, "
                                               "and fixes to try before you take them. F9 narrows the column.")),
    Stop(lambda s: s.findings.next_button, tr("What is asked next"), tr("The first thing that somebody must look at, measure or ask. Press it to go there.")),
    Stop(lambda s: s.head, tr("Nothing is lost"), tr("Every change can be undone, and a copy is kept while you work. F1 opens the handbook at what you are at; Ctrl+K finds everything.")),
)  # fmt: skip


class Tour(QWidget):
    """Lies over the sheet until it is ended."""

    def __init__(self, sheet: Sheet) -> None:
        super().__init__(sheet)
        self.sheet, self.at = sheet, 0
        self.bubble = QFrame(self)
        self.bubble.setObjectName("floating")
        THEME.dress(self.bubble)
        self.title, self.text, self.count = PlainLabel(), PlainLabel(), PlainLabel()
        self.title.setProperty("strong", True)
        self.text.setWordWrap(True)
        self.count.setProperty("quiet", True)
        self.next, self.skip = QPushButton(tr("Next")), QPushButton(tr("End the tour"))
        self.next.setProperty("main", True)
        self.next.clicked.connect(self.go_on)
        self.skip.clicked.connect(self.end)
        row, column = QHBoxLayout(), QVBoxLayout(self.bubble)
        column.setContentsMargins(16, 8, 16, 8)
        column.setSpacing(8)
        for widget in (self.title, self.text):
            column.addWidget(widget)
        row.addWidget(self.next)
        row.addWidget(self.skip)
        row.addStretch(1)
        row.addWidget(self.count)
        column.addLayout(row)
        sheet.installEventFilter(self)
        self.setGeometry(sheet.rect())
        self.show()
        self.raise_()
        self._show_stop()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:  # noqa: N802, D102
        if event is not None and event.type() == QEvent.Type.Resize:
            self.setGeometry(self.sheet.rect())
            self._place()
        return False

    @property
    def light(self) -> QRect:
        """What lies in the light, on the sheet."""
        widget = STOPS[self.at].widget(self.sheet)
        return QRect(widget.mapTo(self.sheet, QPoint(0, 0)), widget.size()) if widget.isVisible() else QRect()

    def go_on(self) -> None:
        """The next stop; after the last the tour ends. What is not there now is passed over."""
        self.at += 1
        while self.at < len(STOPS) and self.light.isEmpty():
            self.at += 1
        if self.at >= len(STOPS):
            self.at = len(STOPS) - 1
            self.end()
        else:
            self._show_stop()

    def end(self) -> None:
        """Be gone, and do not come by itself again."""
        memory.remember(SEEN, "seen")
        self.sheet.removeEventFilter(self)
        self.hide()
        self.deleteLater()
        self.sheet.focus_stage()

    def _show_stop(self) -> None:
        stop = STOPS[self.at]
        self.title.setText(stop.title)
        self.text.setText(stop.text)
        self.count.setText(tr("{at} of {stops}", at=self.at + 1, stops=len(STOPS)))
        self.bubble.setAccessibleName(f"{stop.title}: {stop.text}")
        self.next.setText(tr("Next") if self.at < len(STOPS) - 1 else tr("Begin"))
        self._place()
        self.next.setFocus()
        self.update()

    def _place(self) -> None:
        """The bubble beside what it is about, where there is most room, and always on the sheet."""
        wide = min(round(26 * THEME.text), self.width() - 32)
        self.bubble.setFixedWidth(wide)
        self.bubble.adjustSize()
        light, whole, size = self.light, self.rect(), self.bubble.size()
        right, left = whole.right() - light.right(), light.left()
        if max(right, left) > wide + 32:
            at = QPoint(light.right() + 16 if right >= left else light.left() - wide - 16, light.center().y() - size.height() // 2)
        elif whole.bottom() - light.bottom() > light.top():
            at = QPoint(light.center().x() - wide // 2, light.bottom() + 16)
        else:
            at = QPoint(light.center().x() - wide // 2, light.top() - size.height() - 16)
        self.bubble.move(min(max(at.x(), 16), whole.width() - wide - 16), min(max(at.y(), 16), whole.height() - size.height() - 16))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        painter, light = QPainter(self), self.light
        shade = QColor(THEME.palette.ink if THEME.palette.name == "daylight" else "#000000")
        shade.setAlphaF(0.45)
        painter.setClipRegion(QRegion(self.rect()) - QRegion(light.adjusted(-3, -3, 3, 3)))
        painter.fillRect(self.rect(), shade)
        painter.setClipping(False)
        painter.setPen(QPen(QColor(THEME.palette.ochre), 3))
        painter.drawRoundedRect(light.adjusted(-3, -3, 3, 3), 6, 6)
        painter.end()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.end()
        elif event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Right):
            self.go_on()
        else:
            super().keyPressEvent(event)
