"""The head of the sheet: whose job it is, messages, undo and units."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton

from weirant.language import tr
from weirant.ui.document import Document
from weirant.ui.plain_text import PlainLabel, ShortLabel, plain_tip
from weirant.ui.rest import Rest


class Head(QFrame):
    """Name and place of the job on the left, the last refusal in the middle, undo, redo and units on the right."""

    units_wanted = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setObjectName("head")
        self._name, self._place, self.kept, self.message = ShortLabel(8), ShortLabel(2, 16), ShortLabel(4), PlainLabel()  # the name gives way last
        self._name.setProperty("loud", True)
        self._place.setProperty("quiet", True)
        self.kept.setProperty("quiet", True)
        self.message.setProperty("bad", True)
        self.message.setWordWrap(True)
        self.message.setAccessibleName(tr("Message"))
        self._undo, self._redo, self._units = QPushButton(tr("Undo")), QPushButton(tr("Redo")), QPushButton()
        self._undo.clicked.connect(document.stack.undo)
        self._redo.clicked.connect(document.stack.redo)
        self._units.clicked.connect(self.units_wanted)
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 0, 8, 4)
        row.setSpacing(8)
        row.addWidget(self._name)
        row.addWidget(self._place)
        row.addWidget(self.message, 1)
        row.addWidget(self.kept)
        for button in (self._undo, self._redo, self._units):
            row.addWidget(button)
        self._behind = Rest(self, self.refresh)
        document.changed.connect(self._follow)  # a method, which is let go of with the widget; the document outlives it
        document.begun.connect(self.message.clear)
        document.stack.cleanChanged.connect(self._tell_kept)
        document.refused.connect(self.message.setText)

    def _follow(self) -> None:
        if self.document.dragging:
            self._behind.ask()
        else:
            self.refresh()

    def _tell_kept(self, _: bool = False) -> None:
        """Say in words whether the job is saved."""
        document = self.document
        if document.is_empty:
            return
        is_clean = document.stack.isClean()
        self.kept.setText((tr("saved") if is_clean else tr("changed; a copy is kept")) if document.path is not None else "" if is_clean else tr("not saved yet; a copy is kept"))

    def refresh(self) -> None:
        """Follow the document."""
        job, stack = self.document.job, self.document.stack
        self._name.setText(job.name)
        self._place.setText(job.place)
        self._undo.setEnabled(stack.canUndo())
        self._redo.setEnabled(stack.canRedo())
        self._tell_kept()
        self._undo.setToolTip(plain_tip(tr("Undo: {undotext}", undotext=stack.undoText())))
        self._redo.setToolTip(plain_tip(tr("Redo: {redotext}", redotext=stack.redoText())))
        self._units.setText(tr("ft, in") if job.units == "imperial" else tr("metres"))
        self._units.setAccessibleName(tr("Units: {units}. Press to switch.", units=tr(job.units)))
