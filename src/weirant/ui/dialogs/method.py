"""A method as a small form: its keys typed with any unit, its answer in the units they were typed in, its range and its source."""

from __future__ import annotations

from PyQt6.QtWidgets import QFormLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from weirant.errors import WeirantError
from weirant.language import tr
from weirant.methods.examples import EXAMPLES
from weirant.methods.registry import Method
from weirant.sources import citation
from weirant.ui.line import EntryLine
from weirant.ui.plain_text import PlainLabel
from weirant.ui.rhythm import Dialog
from weirant.ui.theme import THEME
from weirant.words.typed_units import result_text, typed_units


class MethodDialog(Dialog):
    """Empty lines take the example beside them; Enter calculates."""

    def __init__(self, method: Method, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.method, self.told_in = method, ("methods", method.name)
        self.setWindowTitle(tr("Method: {method}", method=method.name))
        self.setMinimumWidth(round(36 * THEME.text))
        column, form, row = QVBoxLayout(self), QFormLayout(), QHBoxLayout()
        column.addWidget(_wrapped(method.summary, strong=True))
        column.addWidget(_wrapped(method.formula))
        self.entries: dict[str, QLineEdit] = {}
        for key in method.keys:
            words, entry = PlainLabel(key.replace("_", " ")), EntryLine()
            entry.setPlaceholderText(EXAMPLES[method.name][key])
            entry.setAccessibleName(key.replace("_", " "))
            entry.returnPressed.connect(self.calculate)
            words.setBuddy(entry)
            form.addRow(words, entry)
            self.entries[key] = entry
        column.addLayout(form)
        go, close = QPushButton(tr("Calculate")), QPushButton(tr("Close"))
        go.setProperty("main", True)
        go.clicked.connect(self.calculate)
        close.clicked.connect(self.reject)
        for button in (go, close):
            button.setAutoDefault(False)
            row.addWidget(button)
        row.addStretch(1)
        column.addLayout(row)
        self.answer, self.beyond = _wrapped("", strong=True), _wrapped("")
        self.answer.setAccessibleName(tr("Answer"))
        self.beyond.setProperty("bad", True)
        self.beyond.setAccessibleName(tr("What is wrong or outside its range"))
        column.addWidget(self.answer)
        column.addWidget(self.beyond)
        for told in (tr("Holds for: {valid}.", valid=method.valid), tr("Source: {source}", source=citation(method.sources))):
            column.addWidget(_wrapped(told, quiet=True))
        column.addStretch(1)

    def calculate(self) -> None:
        """Work it out from what is typed, and say where that lies outside of the published range."""
        typed: dict[str, object] = {key: entry.text().strip() or entry.placeholderText() for key, entry in self.entries.items()}
        try:
            results, beyond = self.method.answered(typed)
            units = typed_units(self.method, typed)
            lines = [f"{key.replace('_', ' ')}: {result_text(units, value, self.method.results.get(key))}" for key, value in results.items()]
        except WeirantError as fault:
            self.answer.setText("")
            self.beyond.setText(str(fault))
            return
        self.answer.setText("\n".join(lines))
        self.beyond.setText("\n".join(tr("Outside its range: {says}", says=says) for says in beyond))


def _wrapped(words: str, *, strong: bool = False, quiet: bool = False) -> PlainLabel:
    label = PlainLabel(words)
    label.setWordWrap(True)
    label.setProperty("strong", strong)
    label.setProperty("quiet", quiet)
    return label
