"""Ways to keep the soil out of the run in hand, over the years: a table, a chart, and what is assumed."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from weirant.clogging.assumed import Assumed
from weirant.design.schools import School, schools, with_assumed
from weirant.design.variants import AS_DRAWN
from weirant.drawing.schools import schools_drawing
from weirant.errors import WeirantError
from weirant.language import capital, digits_here, tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.ui.dialogs.run_rows import RunRowsDialog
from weirant.ui.document import Document
from weirant.ui.line import EntryLine
from weirant.ui.plain_text import PlainLabel
from weirant.ui.theme import THEME
from weirant.ui.views.picture import Picture
from weirant.words.schools import ASSUMED, CAUTION, HEADS, basis_words, cells

YEARS = 30


class SchoolsDialog(RunRowsDialog):
    """A row for each way to build, as drawn first; a chart of how its stone fills."""

    told_in = ("step-materials", "")

    two_wanted = pyqtSignal(object)
    why_wanted = pyqtSignal()
    suited_wanted = pyqtSignal()
    HEADS = HEADS
    NUMBERS = range(1, len(HEADS))

    def __init__(self, document: Document, parent: QWidget) -> None:
        self.chart = Picture(tr("Voids of the stone over the years"))
        fits, two, why = QPushButton(tr("What suits this soil …")), QPushButton(tr("Two ways side by side …")), QPushButton(tr("Why this wrap, as PDF …"))
        super().__init__(document, parent, fits, two, why)
        fits.clicked.connect(lambda: self.suited_wanted.emit())
        two.clicked.connect(lambda: self.two_wanted.emit(self.given))
        why.clicked.connect(lambda: self.why_wanted.emit())
        for button in (fits, two, why):
            button.setAutoDefault(False)  # Enter belongs to the entries
        self.setWindowTitle(tr("Over the years"))
        self.resize(round(86 * THEME.text), round(57 * THEME.text))
        self.given, self.fault, self.entries = Assumed(), PlainLabel(""), dict[str, QLineEdit]()
        self.fault.setWordWrap(True)
        self.fault.setProperty("strong", True)
        self.chart.setMinimumHeight(round(9 * THEME.text))  # it takes the room that there is
        column = self.layout()
        assert isinstance(column, QVBoxLayout)
        column.insertWidget(2, self.chart, 1)
        column.insertLayout(3, self._assumptions())
        column.insertWidget(4, self.fault)
        self.follow()

    def _assumptions(self) -> QGridLayout:
        """What is assumed, in two columns, to be typed over."""
        grid = QGridLayout()
        grid.setHorizontalSpacing(round(0.6 * THEME.text))
        grid.addWidget(PlainLabel(tr("What is assumed; type other figures over it:")), 0, 0, 1, 4)
        for number, (key, words) in enumerate(ASSUMED.items(), 2):
            label, entry = PlainLabel(words), EntryLine(digits_here(f"{getattr(self.given, key):g}"))
            label.setProperty("quiet", True)
            label.setWordWrap(True)
            entry.setAccessibleName(words)
            entry.setAlignment(Qt.AlignmentFlag.AlignRight)
            entry.setFixedWidth(round(5 * THEME.text))
            entry.editingFinished.connect(partial(self._take, key, entry))
            self.entries[key] = entry
            grid.addWidget(entry, number // 2, number % 2 * 2)
            grid.addWidget(label, number // 2, number % 2 * 2 + 1)
        return grid

    def _take(self, key: str, entry: QLineEdit) -> None:
        """Follow with another figure; one that cannot be is told, and the last one stays."""
        before = self.given
        try:
            self.given = with_assumed(self.given, key, entry.text())
            self.fault.setText("")
        except WeirantError as fault:
            self.fault.setText(capital(str(fault).replace(key, ASSUMED[key], 1)))  # by its words, as it stands beside the entry
        entry.setText(digits_here(f"{getattr(self.given, key):g}"))
        if self.given != before:
            self.follow()

    def work(self, outcome: Outcome, found: RunOutcome) -> Callable[[], list[School]]:  # noqa: D102
        return partial(schools, outcome, found, YEARS, assumed=self.given)

    def refuse(self, outcome: Outcome, found: RunOutcome, fault: str) -> None:  # noqa: D102
        self.show_answer(outcome, found, [], fault)

    def show_answer(self, outcome: Outcome, found: RunOutcome, told: list[School], fault: str = "") -> None:  # noqa: D102
        self.words.setText(capital(fault) if fault else tr("{run}, on a hundred plausible soils. {caution}", run=capital(found.run.name), caution=CAUTION) + basis_words(outcome, found))
        self.chart.show_drawing(schools_drawing(told, YEARS) if told else None, tr("nothing to show"))
        self.lay_rows([cells(school, YEARS, self.document.system) for school in told], partial(self._of, told))

    def _of(self, told: list[School]) -> Iterator[tuple[QWidget, ...]]:
        for school in told:
            labels = [PlainLabel(cell) for cell in cells(school, YEARS, self.document.system)]
            for label in labels[1:]:
                label.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            labels[0].setProperty("strong", school.key == AS_DRAWN)
            yield tuple(labels)
