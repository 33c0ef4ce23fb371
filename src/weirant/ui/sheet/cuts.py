"""Looks beside the plan: which water it is, the trench, across the slope, the grain sizes, finding the grade, and the formulae side by side."""

from __future__ import annotations

from PyQt6.QtWidgets import QButtonGroup, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from weirant.ui.document import Document
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.formulae_page import FormulaePage
from weirant.ui.grade_page import GradePage
from weirant.ui.views.places import AcrossView, GrainView, SectionView, SoilClassView
from weirant.ui.water_page import WaterPage


class Cuts(QWidget):
    """A line of words to choose from, and the chosen view below."""

    ORDER = ("water", "section", "across", "grains", "soil class", "grade", "formulae")

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.section, self.across, self.grains = SectionView(document), AcrossView(document), GrainView(document)
        self.soil_class = SoilClassView(document)
        self.water, self.grade, self.formulae = WaterPage(document), GradePage(document), FormulaePage(document)
        self._stack, group, tabs = QStackedWidget(), QButtonGroup(self), QWidget()
        row = FlowLayout(tabs, 0)
        row.setContentsMargins(6, 0, 6, 0)
        self._tabs: list[QPushButton] = []
        looks = (("Which water?", self.water), ("Trench", self.section), ("Across the slope", self.across), ("Grain sizes", self.grains), ("Soil class", self.soil_class),
                 ("Grade", self.grade), ("Formulae", self.formulae))  # fmt: skip
        for index, (words, view) in enumerate(looks):
            tab = QPushButton(words)
            tab.setCheckable(True)
            tab.setProperty("tab", True)
            tab.clicked.connect(lambda _, i=index: self._show_at(i))
            group.addButton(tab)
            row.addWidget(tab)
            self._tabs.append(tab)
            self._stack.addWidget(view)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(tabs)
        layout.addWidget(self._stack, 1)

    def show_look(self, name: str) -> None:
        """Turn to a look by its name in ORDER."""
        self._show_at(self.ORDER.index(name))

    def next_look(self) -> None:
        """Turn to the next look."""
        self._show_at((self._stack.currentIndex() + 1) % len(self.ORDER))

    def _show_at(self, index: int) -> None:
        self._stack.setCurrentIndex(index)
        self._tabs[index].setChecked(True)
