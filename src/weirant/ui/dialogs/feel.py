"""Texture by feel: three questions with a moist handful, and the class they lead to."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QDialogButtonBox, QFormLayout, QWidget

from weirant.errors import InputError
from weirant.language import tr
from weirant.library import shipped
from weirant.methods.usda_texture import (
    BALL,
    GRITTY,
    LONG,
    MIDDLE,
    NEITHER,
    NO_BALL,
    NO_RIBBON,
    SHORT,
    SMOOTH,
    texture_by_feel,
)
from weirant.ui.code_box import CodeBox
from weirant.ui.line import EntryLine
from weirant.ui.plain_text import PlainLabel, named
from weirant.ui.rhythm import Dialog
from weirant.units import parse
from weirant.units.dimension import LENGTH
from weirant.units.display import CONDUCTIVITY, DEPTH, System, shown, unit_of

ASKED = ((tr("Press a moist handful: it"), (BALL, NO_BALL)), (tr("Push it out between thumb and finger:"), (NO_RIBBON, SHORT, MIDDLE, LONG)),
         (tr("Rub a pinch very wet in the palm: it is"), (NEITHER, GRITTY, SMOOTH)))  # fmt: skip


class FeelDialog(Dialog):
    """Asks, names the class at once, and hands over class and depth when it is put into the log."""

    told_in = ("step-soil", "")

    def __init__(self, system: System, take: Callable[[str, float], None], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Texture by feel"))
        self._system, self._take = system, take
        self.answers = [CodeBox() for _ in ASKED]
        self.down_to, self.found, self.fault = EntryLine(), PlainLabel(), PlainLabel()
        self.found.setProperty("strong", True)
        self.fault.setProperty("bad", True)
        form = QFormLayout(self)
        for (question, answers), choice in zip(ASKED, self.answers, strict=True):
            choice.add_codes(answers)
            choice.setAccessibleName(question)
            choice.activated.connect(self._tell)
            form.addRow(named(question, choice), choice)
        form.addRow(self.found)
        form.addRow(named(tr("It goes down to, {unit}", unit=unit_of(DEPTH, system)), self.down_to), self.down_to)
        form.addRow(self.fault)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        into = buttons.addButton(tr("Put into the log"), QDialogButtonBox.ButtonRole.AcceptRole)
        assert into is not None
        buttons.accepted.connect(self._put)
        buttons.rejected.connect(self.reject)
        form.addRow(buttons)
        self._tell()

    @property
    def texture(self) -> str:
        """Key of the class the answers lead to."""
        return texture_by_feel(*(choice.code() for choice in self.answers))

    def _tell(self) -> None:
        texture = shipped().texture(self.texture)
        usual, low, high = (shown(getattr(texture.conductivity, end), CONDUCTIVITY, self._system) for end in ("best", "low", "high"))
        self.found.setText(tr("{texture}: usually {usual}, but {low} to {high} is met. A test settles it.", texture=texture.name, usual=usual, low=low, high=high))

    def _put(self) -> None:
        try:
            depth = parse(self.down_to.text(), LENGTH, "depth", unit_of(DEPTH, self._system))
        except InputError as fault:
            self.fault.setText(str(fault))
            return
        self._take(self.texture, depth)
        self.accept()
