"""Settings: the look, the letters, who draws up the papers, and what is opened at the start."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QCheckBox, QDialogButtonBox, QFormLayout, QWidget

from weirant.language import TONGUES, tr
from weirant.language.choice import SETTING
from weirant.ui import memory
from weirant.ui.code_box import CodeBox
from weirant.ui.line import EntryLine
from weirant.ui.look import LOOKS, SCALES, chosen_look
from weirant.ui.plain_text import PlainLabel
from weirant.ui.rhythm import Dialog
from weirant.ui.still_box import StillBox
from weirant.ui.theme import THEME


class SettingsDialog(Dialog):
    """Takes what is chosen with OK; ``apply_look`` puts a look and a size on the window."""

    told_in = ("window", "")

    def __init__(self, apply_look: Callable[[str, float], None], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Settings"))
        self._apply_look = apply_look
        self.look, self.letters, self.language, self.contractor = StillBox(), StillBox(), CodeBox(), EntryLine(memory.words(memory.CONTRACTOR))
        self.language.addItem(tr("as the desktop is"), "")
        for tongue in TONGUES.values():
            if not tongue.is_mock:
                self.language.addItem(tongue.name, tongue.code)
        self.language.take(memory.words(SETTING))
        self.look.addItems(list(LOOKS.values()))
        self.look.setCurrentIndex(list(LOOKS).index(chosen_look()))
        self.letters.addItems([f"{100 * scale:.0f} %" for scale in SCALES])
        self.letters.setCurrentIndex(min(range(len(SCALES)), key=lambda i: abs(SCALES[i] - THEME.scale)))
        self.contractor.setMaxLength(120)
        self.go_on = QCheckBox(tr("Begin where I left off"))
        self.go_on.setChecked(memory.words(memory.GO_ON) != "no")
        form = QFormLayout(self)
        for words, widget in ((tr("Look"), self.look), (tr("Letters"), self.letters), (tr("Language, from the next start on"), self.language),
                              (tr("Contractor, on new jobs"), self.contractor)):
            label = PlainLabel(words)
            label.setBuddy(widget)
            widget.setAccessibleName(words)
            form.addRow(label, widget)
        form.addRow(self.go_on)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self.take)
        buttons.rejected.connect(self.reject)
        form.addRow(buttons)

    def take(self) -> None:
        """Keep what is chosen."""
        memory.remember(memory.CONTRACTOR, self.contractor.text().strip())
        memory.remember(SETTING, self.language.code())
        memory.remember(memory.GO_ON, "yes" if self.go_on.isChecked() else "no")
        self._apply_look(list(LOOKS)[self.look.currentIndex()], SCALES[self.letters.currentIndex()])
        self.accept()
