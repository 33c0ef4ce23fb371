"""Other sizes and numbers of pipe for the run in hand, each to be taken."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QPushButton, QWidget

from weirant.design.pipe_choices import PipeOption, pipe_choices, with_choice
from weirant.design.pipe_prices import ChoiceCost, choice_costs
from weirant.language import capital, tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import PriceList
from weirant.outcome.site import RunOutcome
from weirant.ui.dialogs.run_rows import RunRowsDialog
from weirant.ui.document import Document
from weirant.ui.plain_text import PlainLabel
from weirant.ui.price_choice import remembered_prices
from weirant.ui.theme import THEME
from weirant.words.pipe_choices import HEADS, cells, told

Answer = tuple[tuple[PipeOption, ...], tuple[ChoiceCost | None, ...], PriceList]


class PipeChoicesDialog(RunRowsDialog):
    """A row for each; "Take" makes it the run's own, and can be undone. Costs are by the price list that was taken last."""

    told_in = ("step-materials", "")

    HEADS = (*HEADS, "")
    NUMBERS = range(1, len(HEADS) - 1)

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(document, parent)
        self.setWindowTitle(tr("Other sizes and numbers of pipe"))
        self.resize(round(96 * THEME.text), round(36 * THEME.text))
        self.follow()

    def work(self, outcome: Outcome, found: RunOutcome) -> Callable[[], Answer]:  # noqa: D102
        return partial(_worked_out, outcome, found, remembered_prices())

    def refuse(self, _: Outcome, __: RunOutcome, fault: str) -> None:  # noqa: D102
        self.words.setText(capital(fault))
        self.lay_rows(((), self.document.system), lambda: ())
        self.widen()

    def show_answer(self, outcome: Outcome, found: RunOutcome, answer: Answer) -> None:  # noqa: D102
        choices, costs, prices = answer
        self.words.setText(capital(told(outcome, found, choices, prices)))
        self.lay_rows((choices, costs, self.document.system), partial(self._of, choices, costs))
        self.widen()

    def _of(self, choices: tuple[PipeOption, ...], costs: tuple[ChoiceCost | None, ...]) -> Iterator[tuple[QWidget, ...]]:
        for choice, cost in zip(choices, costs, strict=True):
            words = cells(choice, cost, self.document.system)
            labels = [PlainLabel(cell) for cell in words]
            for label in labels[1:]:
                label.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            yield *labels, self._last(choice, words[0])

    def _last(self, choice: PipeOption, name: str) -> QWidget:
        if choice.is_own:
            own: QLabel = PlainLabel(tr("its own"))
            own.setProperty("strong", True)
            return own
        take = QPushButton(tr("Take"))
        take.setAutoDefault(False)
        take.setAccessibleName(tr("Take {pipes}", pipes=name))
        take.clicked.connect(partial(self.take, choice))
        return take

    def take(self, choice: PipeOption) -> None:
        """Make it the run's own."""
        self.document.edit(lambda job: with_choice(job, self.run, choice.pipe.key, choice.count), tr("Pipes: {count} × {pipe}", count=choice.count, pipe=choice.pipe.name), may_come=True)


def _worked_out(outcome: Outcome, found: RunOutcome, prices: PriceList) -> Answer:
    choices = pipe_choices(outcome, found)
    return choices, choice_costs(outcome, found, choices, prices), prices
