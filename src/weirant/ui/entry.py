"""Entries bound to one field of the job: quantities typed with any unit, words chosen from a list."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QLineEdit, QWidget

from weirant.errors import InputError
from weirant.job.paths import field_at, label_at, leads_somewhere, spec_at, value_at
from weirant.language import here, regrouped, tr
from weirant.ui.document import GONE, Document
from weirant.ui.line import EntryLine
from weirant.ui.plain_text import plain_tip
from weirant.ui.still_box import StillBox
from weirant.units import parse
from weirant.units.display import SHARE, SLOPE, Kind, System, shown, step_si, unit_of
from weirant.units.parse import without_thousands


def mark(widget: QWidget, name: str, on: bool | str) -> None:
    """Set a style property and let the style sheet see it."""
    if widget.property(name) != on:
        widget.setProperty(name, on)
        style = widget.style()
        if style is not None:
            style.unpolish(widget)
            style.polish(widget)


def undid_in_the_job(editor: QLineEdit, event: QKeyEvent) -> bool:
    """Undo or redo pressed in an entry where nothing is typed: the job's last step is meant, and the line, which takes the keys for itself, has none."""
    document = getattr(editor.window(), "document", None)
    if editor.isModified() or document is None:
        return False
    for key, act in ((QKeySequence.StandardKey.Undo, document.stack.undo), (QKeySequence.StandardKey.Redo, document.stack.redo)):
        if event.matches(key):
            act()
            return True
    return False


class TypedEdit(EntryLine):
    """A line that keeps what was typed in sight until it can be understood; Escape brings the old value back."""

    finished = pyqtSignal()

    def __init__(self, label: str) -> None:
        super().__init__()
        self.setAccessibleName(label)
        self.fault = ""
        self.editingFinished.connect(self._take)
        self.textEdited.connect(lambda: self.show_fault(""))

    def show_fault(self, text: str) -> None:
        """Mark the entry, or clear the mark."""
        self.fault = text
        mark(self, "bad", bool(text))
        self.setToolTip(plain_tip(text))

    def _take(self) -> None:
        if self.isModified():
            self.setModified(False)
            self.show_fault(self.take(self.text().strip()))
        if not self.fault:
            self.show_value()
            self.finished.emit()

    def follow(self) -> None:
        """Show the job's value again, unless something is being typed or kept for mending."""
        if not self.isModified() and not self.fault:
            self.show_value()

    def asked_again(self) -> None:
        """What was half typed is not what it was any more: it is kept in sight, and asked for again."""
        if self.isModified():
            self.setModified(False)
            self.show_fault(tr("the units were switched while this was typed; type it again"))

    def take(self, text: str) -> str:
        """Use what was typed; gives what is wrong with it, or nothing."""
        raise NotImplementedError

    def show_value(self) -> None:
        """Show the present value."""
        raise NotImplementedError

    def focusInEvent(self, event: QFocusEvent | None) -> None:  # noqa: N802, D102
        super().focusInEvent(event)
        self.selectAll()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is not None and undid_in_the_job(self, event):
            return
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.setModified(False)
            self.show_fault("")
            self.show_value()
            self.selectAll()
            self.finished.emit()
            return
        super().keyPressEvent(event)


class QuantityEdit(TypedEdit):
    """A number of the job with its unit. Arrow up and down step it; a bare number is in the unit shown. ``nothing`` stands where it is empty."""

    def __init__(self, document: Document, path: str, nothing: str = tr("not known")) -> None:
        super().__init__(label_at(document.shown_job, path))
        self.document, self.path, self.nothing = document, path, nothing
        document.changed.connect(self.follow)
        self.show_value()

    @property
    def kind(self) -> Kind:
        """What the number is; with a fix on trial the job that is shown may lack it."""
        job = self.document.job
        return spec_at(job if leads_somewhere(job, self.path) else self.document.shown_job, self.path).kind

    def show_value(self) -> None:  # noqa: D102
        try:
            value: float | None = value_at(self.document.shown_job, self.path)
        except GONE:
            return  # the field is gone with its layer; the card is about to be laid anew
        # thousands by a hard space, so that a digit may be changed and the rest be typed again as it stands
        text = "" if value is None else regrouped(shown(value, self.kind, self.document.system), "\u00a0")
        if text != self.text():
            self.setText(text)
            self.setCursorPosition(0)
        self.setPlaceholderText(self.nothing)
        mark(self, "assumed", self.path in self.document.job.assumed)
        if self.path in self.document.job.assumed:
            self.setToolTip(tr("Assumed. Type what you measured."))

    def take(self, text: str) -> str:  # noqa: D102
        try:
            label, before = label_at(self.document.job, self.path), value_at(self.document.job, self.path)
        except GONE:
            return tr("stands only in the fix on trial; keep that first")
        if not text:
            if before is None:
                return ""
            optional = spec_optional(self.document, self.path)
            return "" if optional and self.document.set_value(self.path, None) else tr("{label} is needed", label=label)
        try:
            plain = without_thousands(text) if self.document.system == System.IMPERIAL and here().decimal == "." else text
            value = parse(plain, self.kind.dimension, label, self._bare_unit())
            spec_at(self.document.job, self.path).check(value, self.document.system, text)
        except InputError as fault:
            self.document.refused.emit(str(fault))
            return str(fault)
        return "" if self.document.set_value(self.path, value) else tr("{label} does not fit the rest of the job", label=label)

    def _bare_unit(self) -> str | None:
        unit = unit_of(self.kind, self.document.system)
        return "%" if self.kind in (SLOPE, SHARE) else unit or None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is not None and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and not self.isModified():
            try:
                value = value_at(self.document.job, self.path)
            except GONE:
                value = None
            if value is not None:
                step = step_si(self.kind, self.document.system) * (1 if event.key() == Qt.Key.Key_Up else -1)
                self.document.set_value(self.path, value + step, f"step {self.path}")
            return
        super().keyPressEvent(event)


def spec_optional(document: Document, path: str) -> bool:
    """Whether the field may be not known."""
    return "None" in str(field_at(document.job, path).type)


class WordChoice(StillBox):
    """A field that holds one of a few values, each with its words."""

    def __init__(self, document: Document, path: str, options: list[tuple[Any, str]]) -> None:
        super().__init__()
        self.document, self.path, self._options = document, path, options
        self.setAccessibleName(label_at(document.shown_job, path))
        self.addItems([words for _, words in options])
        self.setSizeAdjustPolicy(StillBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.setMinimumContentsLength(min(38, max(len(words) for _, words in options)))
        self.activated.connect(lambda index: self.take(self._options[index][0]))
        document.changed.connect(self.show_value)
        self.show_value()

    def take(self, value: Any) -> None:
        """Use what was chosen."""
        self.document.set_value(self.path, value)
        self.show_value()  # as it was, where that was refused

    def set_options(self, options: list[tuple[Any, str]]) -> None:
        """Other values to choose from."""
        self._options = options
        self.clear()
        self.addItems([words for _, words in options])

    def show_value(self) -> None:
        """Show the present value."""
        try:
            value = value_at(self.document.shown_job, self.path)
        except GONE:
            return
        index = next((i for i, (option, _) in enumerate(self._options) if option == value), -1)
        if index != self.currentIndex():
            self.setCurrentIndex(index)
        mark(self, "assumed", self.path in self.document.job.assumed)
