"""What the job takes: quantities with their reasons, and the papers to take along."""

from __future__ import annotations

from itertools import zip_longest

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QLabel, QPushButton, QWidget

from weirant.language import tr
from weirant.outcome.figure import Figure
from weirant.ui.column import ColumnPage, show_in_turn
from weirant.ui.document import Document
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.kit_table import KitTable
from weirant.ui.plain_text import PlainLabel, plain_tip
from weirant.ui.price_choice import PriceChoice
from weirant.ui.priced_rows import PricedRows
from weirant.ui.rest import Rest
from weirant.ui.theme import THEME
from weirant.units.display import shown_number, unit_of
from weirant.words.spoil import spread_words


class OrderPage(ColumnPage):
    """Quantities set in a column of figures; each answers why."""

    why = pyqtSignal(Figure)
    owner_sheet_wanted = pyqtSignal()
    order_list_wanted = pyqtSignal()
    quote_wanted = pyqtSignal()
    ways_wanted = pyqtSignal()
    rules_wanted = pyqtSignal()
    cut_sheet_wanted = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        layout = self.column
        layout.setContentsMargins(16, 8, 16, 8)
        title = PlainLabel(tr("What it takes, and what it costs"))
        title.setProperty("strong", True)
        title.setWordWrap(True)
        layout.addWidget(title)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(4)
        self._grid.setColumnStretch(0, 1)
        self._rows: list[tuple[QLabel, QLabel, QLabel, QLabel, QPushButton]] = []
        buttons = QWidget()
        row = FlowLayout(buttons, 8)  # above what may be longer than the page
        row.setContentsMargins(0, 0, 0, 0)
        for words, signal, main in (
            (tr("Owner's sheet (PDF) …"), self.owner_sheet_wanted, True),
            (tr("Quote …"), self.quote_wanted, False),
            (tr("Other ways …"), self.ways_wanted, False),
            (tr("Order list …"), self.order_list_wanted, False),
            (tr("Cut sheet …"), self.cut_sheet_wanted, False),
        ):
            button = QPushButton(words)
            button.setProperty("main", main)
            button.clicked.connect(lambda _, s=signal: s.emit())
            row.addWidget(button)
        layout.addWidget(buttons)
        by = QWidget()
        prices = FlowLayout(by, 8)
        prices.setContentsMargins(0, 0, 0, 0)
        self.choice, self.rows, self.lacks = PriceChoice(), PricedRows(document), PlainLabel()
        prices.addWidget(PlainLabel(tr("prices by")))
        prices.addWidget(self.choice)
        total = PlainLabel()
        total.setProperty("strong", True)
        total.setAccessibleName(tr("price"))
        links = []
        for words, told, act in ((tr("copy"), tr("Copy the order as a table"), self.rows.copy), (tr("how parts are counted"), tr("How parts are counted"), self.rules_wanted.emit)):
            link = QPushButton(words)
            link.setProperty("link", True)
            link.setAccessibleName(told)
            link.setToolTip(plain_tip(told))
            link.clicked.connect(lambda _, act=act: act())
            links.append(link)
        prices.addWidget(links[0])
        prices.addWidget(total)
        self.rows.comes_to.connect(total.setText)
        layout.addWidget(by)
        layout.addWidget(self.rows)
        self.lacks.setWordWrap(True)
        self.rows.said.connect(self._told)
        self.choice.taken.connect(self.rows.take)
        self.rows.marked.connect(lambda row: self.ensureWidgetVisible(row, 0, 3 * THEME.row))
        layout.addWidget(self.lacks)
        layout.addWidget(links[1], 0, Qt.AlignmentFlag.AlignLeft)  # where the parts end
        self.spread = PlainLabel()
        self.spread.setWordWrap(True)
        layout.addWidget(self.spread)
        self.kit = KitTable(document)
        self.rows.counted.connect(self.kit.take)
        layout.addWidget(self.kit)
        heading = PlainLabel(tr("Quantities in place"))
        heading.setProperty("strong", True)
        layout.addWidget(heading)
        layout.addLayout(self._grid)
        layout.addStretch(1)
        self._rest = Rest(self, self.refresh)
        document.changed.connect(self._rest.ask)
        self.choice.begin()

    def showEvent(self, event: object) -> None:  # noqa: N802, D102
        self._rest.ask()

    def refresh(self) -> None:
        """Show order and quantities of the outcome."""
        if not self.isVisible():
            return
        self.rows.refresh()
        told = [] if self.document.is_empty else spread_words(self.document.outcome)
        self.spread.setText("\n".join(told))
        self.spread.setVisible(bool(told))
        takeoff = None if self.document.is_empty else self.document.outcome.takeoff
        figures = takeoff.rows() if takeoff else ()
        while len(self._rows) < len(figures):
            self._add_row()
        for row, figure in zip_longest(self._rows, figures):
            for widget in row:
                show_in_turn(widget, figure is not None)
            if figure is None:
                continue
            name, number, unit, note, why = row
            name.setText(figure.label)
            number.setText(shown_number(figure.value, figure.kind, self.document.system))
            unit.setText(unit_of(figure.kind, self.document.system))
            note.setText(figure.note)
            why.setAccessibleName(tr("Why: {figure}", figure=figure.label))

    def _told(self, words: str) -> None:
        self.lacks.setText(words)
        self.lacks.setVisible(bool(words))

    def _add_row(self) -> None:
        index = len(self._rows)
        name, number, unit, note, why = PlainLabel(), PlainLabel(), PlainLabel(), PlainLabel(), QPushButton(tr("Why?"))
        name.setWordWrap(True)
        number.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        number.setProperty("strong", True)
        unit.setProperty("quiet", True)
        note.setProperty("quiet", True)
        note.setWordWrap(True)
        why.setProperty("link", True)
        why.clicked.connect(lambda: self._why(index))
        for column, widget in enumerate((name, number, unit)):
            self._grid.addWidget(widget, 2 * index, column)
        self._grid.addWidget(note, 2 * index + 1, 0)  # below it: beside it there is no room where the letters are large
        self._grid.addWidget(why, 2 * index + 1, 1, 1, 2)
        self._rows.append((name, number, unit, note, why))

    def _why(self, index: int) -> None:
        takeoff = self.document.outcome.takeoff
        rows = takeoff.rows() if takeoff is not None else ()
        if index < len(rows):  # the page may show those of the job before
            self.why.emit(rows[index])
