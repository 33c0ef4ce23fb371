"""Two ways to build the run in hand side by side: their sections at one scale, and every figure in which they differ."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from weirant.clogging.assumed import Assumed
from weirant.design.two_ways import WayBuilt, two_ways
from weirant.design.variants import AS_DRAWN, BARE, VARIANTS, WRAPPED
from weirant.drawing.two_ways import two_sections
from weirant.language import capital, tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.ui.code_box import CodeBox
from weirant.ui.dialogs.run_rows import RunRowsDialog
from weirant.ui.document import Document
from weirant.ui.plain_text import PlainLabel
from weirant.ui.theme import THEME
from weirant.ui.views.picture import Picture
from weirant.words.schools import CAUTION, basis_words
from weirant.words.two_ways import Line, lines

YEARS = 30


class TwoWaysDialog(RunRowsDialog):
    """A choice and a section for each way; below, a row for each figure, those that differ marked in words."""

    told_in = ("step-materials", "")

    HEADS, NUMBERS = ("", tr("on the left"), tr("on the right"), tr("differs")), range(3, 4)

    def __init__(self, document: Document, parent: QWidget, assumed: Assumed | None = None) -> None:
        self.assumed = assumed or Assumed()
        super().__init__(document, parent)
        self.setWindowTitle(tr("Two ways side by side"))
        self.resize(round(84 * THEME.text), round(58 * THEME.text))
        is_wrapped = document.in_hand.make(document.in_hand.part.station).section.has_cloth
        self.choices, self.pictures = (CodeBox(), CodeBox()), (Picture(tr("section on the left")), Picture(tr("section on the right")))
        pair = QHBoxLayout()
        for choice, picture, key, name in zip(self.choices, self.pictures, (AS_DRAWN, BARE if is_wrapped else WRAPPED), (tr("way on the left"), tr("way on the right")), strict=True):
            for variant in VARIANTS.values():
                choice.addItem(capital(variant.name), variant.key)
            choice.take(key)
            choice.setAccessibleName(name)
            choice.activated.connect(self.follow)
            picture.setMinimumHeight(round(15 * THEME.text))
            side = QVBoxLayout()
            side.addWidget(choice)
            side.addWidget(picture, 1)
            pair.addLayout(side, 1)
        column = self.layout()
        assert isinstance(column, QVBoxLayout)
        column.insertLayout(0, pair, 1)
        self.follow()

    def work(self, outcome: Outcome, found: RunOutcome) -> Callable[[], tuple[WayBuilt, WayBuilt]]:  # noqa: D102
        return partial(two_ways, outcome, found, (self.choices[0].code(), self.choices[1].code()), YEARS, self.assumed)

    def refuse(self, _: Outcome, __: RunOutcome, fault: str) -> None:  # noqa: D102
        self.words.setText(capital(fault))
        for picture in self.pictures:
            picture.show_drawing(None, tr("nothing to show"))
        self.lay_rows(None, lambda: ())

    def show_answer(self, outcome: Outcome, found: RunOutcome, ways: tuple[WayBuilt, WayBuilt]) -> None:  # noqa: D102
        self.words.setText(CAUTION + basis_words(outcome, found))
        for picture, drawing in zip(self.pictures, two_sections(ways, found), strict=True):
            picture.show_drawing(drawing)
        told = lines(ways, outcome, YEARS)
        self.lay_rows(told, partial(self._of, told))

    def _of(self, told: list[Line]) -> Iterator[tuple[QWidget, ...]]:
        for line in told:
            labels = [PlainLabel(words) for words in (line.label, line.one, line.other, line.differs)]
            labels[0].setProperty("quiet", True)
            for label in labels[1:3]:
                label.setWordWrap(True)
                label.setProperty("strong", bool(line.differs))
            labels[3].setAlignment(Qt.AlignmentFlag.AlignRight)
            yield tuple(labels)
