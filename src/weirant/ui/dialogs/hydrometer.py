"""Hydrometer readings of what passes the No. 10 sieve: the sieve result of the layer in hand is gone on with."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialogButtonBox, QFormLayout, QWidget

from weirant.design.jar import read_readings, with_jar
from weirant.errors import WeirantError
from weirant.job.paths import with_value
from weirant.job.soil import SievePoint
from weirant.language import capital, digits_here, tr
from weirant.methods.hydrometer import USUAL_GRAVITY
from weirant.ui.document import Document
from weirant.ui.entry import GONE
from weirant.ui.line import EntryLine
from weirant.ui.plain_text import PlainLabel, named
from weirant.ui.rhythm import Dialog
from weirant.ui.theme import THEME
from weirant.units import parse
from weirant.units.dimension import NUMBER, TEMPERATURE
from weirant.units.display import OPENING, shown

FIGURES = {"temperature": (tr("temperature in the jar, °C"), 20.0), "dry_grams": (tr("dry soil in the jar, g"), 50.0),
           "specific_gravity": (tr("specific gravity of the grains"), USUAL_GRAVITY), "correction": (tr("what it shows in the clear solution, g/L"), 5.0)}  # fmt: skip


class HydrometerDialog(Dialog):
    """Readings on one line, what belongs to them, and the points they give as they are typed."""

    told_in = ("step-soil", "")

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(parent)
        self.document, self._path = document, document.path_of("layer.gradation")
        self._sieved: tuple[SievePoint, ...] = document.soil.layers[document.layer].gradation
        self.setWindowTitle(tr("Hydrometer readings"))
        self.setMinimumWidth(round(46 * THEME.text))
        self.readings, self.told, self.fault = EntryLine(), PlainLabel(), PlainLabel()
        self.readings.setPlaceholderText(tr("1 min: 40; 2 min: 36; 5 min: 30; 15 min: 24; 1 h: 17; 4 h: 12; 24 h: 8"))
        self.entries = {key: EntryLine(digits_here(f"{usual:g}")) for key, (_, usual) in FIGURES.items()}
        self.told.setWordWrap(True)
        self.told.setMinimumHeight(round(3.6 * THEME.text))  # of as many points as a result has
        self.fault.setWordWrap(True)
        self.fault.setProperty("bad", True)
        form = QFormLayout(self)
        form.addRow(named(tr("time: reading of the 152H, g/L"), self.readings), self.readings)
        for key, (words, _) in FIGURES.items():
            form.addRow(named(words, self.entries[key]), self.entries[key])
        form.addRow(self.told)
        form.addRow(self.fault)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        take = buttons.addButton(tr("Go on with the sieve result"), QDialogButtonBox.ButtonRole.AcceptRole)
        assert take is not None
        self.take = take
        buttons.accepted.connect(self._put)
        buttons.rejected.connect(self.reject)
        form.addRow(buttons)
        for entry in (self.readings, *self.entries.values()):
            entry.textChanged.connect(self._tell)
        self._tell()

    def _points(self) -> tuple[SievePoint, ...]:
        figures = {key: parse(entry.text(), TEMPERATURE if key == "temperature" else NUMBER, FIGURES[key][0]) for key, entry in self.entries.items()}
        return with_jar(self._sieved, read_readings(self.readings.text()), **figures)

    def _tell(self) -> None:
        """What the readings give, or what is wrong with them, once there are some."""
        self.told.setText("")
        self.fault.setText("")
        self.take.setEnabled(False)
        if not self.readings.text().strip():
            return
        try:
            points = self._points()
        except WeirantError as fault:
            self.fault.setText(capital(str(fault)))
            return
        system = self.document.system
        self.told.setText("; ".join(f"{shown(p.size, OPENING, system)}: {p.percent:.0f} %" for p in points))
        self.take.setEnabled(True)

    def _put(self) -> None:
        try:
            job = with_value(self.document.job, self._path, self._points())
        except WeirantError as fault:
            self.fault.setText(capital(str(fault)))
            return
        except GONE:
            self.fault.setText(tr("is not there any more"))
            return
        if self.document.change(job, tr("Hydrometer readings")):
            self.accept()
