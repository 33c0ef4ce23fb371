"""Why a number is what it is: method, formula with the values put in, source, range, and what it leans on most."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialogButtonBox,
    QFrame,
    QGridLayout,
    QLabel,
    QProgressBar,
    QVBoxLayout,
    QWidget,
)

from weirant.design.hand_methods import TABLE, HandResult, hand_methods
from weirant.design.leaning import leanings
from weirant.drawing.primitives import Drawing
from weirant.drawing.pump import pump_drawing
from weirant.errors import InputError
from weirant.handbook import FINDINGS
from weirant.job import Job
from weirant.language import capital, tr
from weirant.methods.catalogue import REGISTRY
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding
from weirant.outcome.outcome import Outcome
from weirant.sources import citation
from weirant.ui.bit_by_bit import BitByBit
from weirant.ui.plain_text import PlainLabel
from weirant.ui.rhythm import Dialog
from weirant.ui.scrolled import Scrolled
from weirant.ui.theme import THEME
from weirant.ui.views.picture import Picture
from weirant.units.display import System, plain_shown, shown
from weirant.words.facts import at_most_words
from weirant.words.findings import as_told, titles, worded


class WhyDialog(Dialog):
    """The datasheet of one result."""

    def __init__(
        self, title: str, figure: Figure | None, finding: Finding | None, job: Job, parent: QWidget | None = None, beside: Sequence[HandResult] = (),
        drawing: Drawing | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Why: {title}", title=title))
        self._of = finding, figure
        self.setMinimumSize(round(30 * THEME.text), round(20 * THEME.text))
        self.resize(round(42 * THEME.text), round(40 * THEME.text))
        self._page, self._system = QVBoxLayout(), System(job.units)
        self._add(title, loud=True)
        if finding is not None:
            words, system = worded(finding, job), self._system
            self._add(f"{capital(tr(finding.state))}. {words.reason}")
            if finding.value is not None and finding.limit is not None and finding.kind is not None:
                bound = at_most_words(finding.at_most)
                self._add(
                    tr("{finding} against {bound} {limit}.", finding=shown(finding.value, finding.kind, system), bound=bound, limit=shown(finding.limit, finding.kind, system))
                )
            if words.caution:
                self._add(words.caution)
            self._add(tr("Limit from: ") + citation(finding.source), quiet=True)
        if drawing is not None:
            picture = Picture(drawing.title)
            picture.setMinimumHeight(round(15 * THEME.text))
            picture.show_drawing(drawing)
            self._page.addWidget(picture)
        self._bits = BitByBit(self)  # each as long as what stands over them
        figures = [partial(self._add_figure, figure)] if figure is not None else []
        if beside:
            figures.append(partial(self._add, tr("By hand, to compare"), strong=True))
        self._bits.ask((*figures, *(partial(self._add_result, result) for result in beside), partial(self._page.addStretch, 1)))
        inside = QFrame()
        inside.setObjectName("sheet")
        inside.setLayout(self._page)
        scroll = Scrolled(wide=True)
        scroll.setWidget(inside)
        outer = QVBoxLayout(self)
        outer.addWidget(scroll, 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        outer.addWidget(buttons)

    @property
    def told_in(self) -> tuple[str, str]:  # type: ignore[override]
        """Where the handbook tells of it, looked up when it is asked."""
        finding, figure = self._of
        if finding is not None:
            return FINDINGS, titles()[finding.code]
        return ("methods", figure.method) if figure is not None and figure.method else ("", "")

    def _add(self, text: str, loud: bool = False, quiet: bool = False, strong: bool = False) -> None:
        label = PlainLabel(text)
        label.setWordWrap(True)
        label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        for name, on in (("loud", loud), ("quiet", quiet), ("strong", strong)):
            if on:
                label.setProperty(name, True)
        self._page.addWidget(label)

    def _add_result(self, result: HandResult) -> None:
        self._add_figure(result.figure)
        if result.outside:
            self._add(tr("Outside its range here: {outside}.", outside=result.outside))

    def _add_figure(self, figure: Figure) -> None:
        self._add(f"{figure.label}: {shown(figure.value, figure.kind, self._system)}", strong=True)
        if figure.band is not None:
            low, high = (shown(v, figure.kind, self._system) for v in figure.band)
            self._add(tr("From {low} to {high} over the range of the soil.", low=low, high=high))
        if figure.note:
            self._add(capital(figure.note) + ".", quiet=True)
        method = REGISTRY.get(figure.method)
        if method is None:
            return
        self._add(method.summary)
        self._add(method.formula, strong=True)
        self._add_arguments(figure)
        self._add(tr("Source: ") + citation(method.sources), quiet=True)
        self._add(tr("Holds for: ") + method.valid + ".", quiet=True)
        self._add(tr("Name for the command line: {method}", method=figure.method), quiet=True)

    def _add_arguments(self, figure: Figure) -> None:
        method, grid = REGISTRY[figure.method], QGridLayout()
        leans = dict(leanings(figure))
        if leans:
            self._add(tr("Leans most on: {leans}.", leans=next(iter(leans)).replace("_", " ")))
        most = max((abs(v) for v in leans.values()), default=0.0) or 1.0
        grid.addWidget(_quiet(tr("put in")), 0, 0, 1, 2)
        grid.addWidget(_quiet(tr("10 % more of it changes the result by")), 0, 2, 1, 2)
        for row, (key, value) in enumerate(figure.arguments.items(), 1):
            grid.addWidget(PlainLabel(key.replace("_", " ")), row, 0)
            number = PlainLabel(plain_shown(value, method.keys[key], self._system))
            number.setAlignment(Qt.AlignmentFlag.AlignRight)
            grid.addWidget(number, row, 1)
            if key in leans:
                bar = QProgressBar()
                bar.setRange(0, 1000)
                bar.setValue(round(1000 * abs(leans[key]) / most))
                bar.setTextVisible(False)
                bar.setFixedHeight(THEME.text)
                bar.setAccessibleName(f"{key.replace('_', ' ')}: {leans[key]:+.1%}")
                grid.addWidget(bar, row, 2)
                grid.addWidget(PlainLabel(f"{leans[key]:+.1%}".replace("-", "−")), row, 3)
        grid.setColumnStretch(2, 1)
        self._page.addLayout(grid)


def _quiet(text: str) -> QLabel:
    label = PlainLabel(text)
    label.setProperty("quiet", True)
    return label


def why_finding(finding: Finding, outcome: Outcome, parent: QWidget) -> WhyDialog:
    """The dialog for a finding of a job; beside a water table stand the formulae that are made for it, with a pump its curve."""
    pit = outcome.site.pumps.get(finding.piece) if finding.code == "pump" else None
    drawing = pump_drawing(pit, System(outcome.job.units)) if pit is not None else None
    return WhyDialog(as_told(finding, outcome.job).title, finding.figure, finding, outcome.job, parent, _by_hand(finding, outcome), drawing)


def _by_hand(finding: Finding, outcome: Outcome) -> tuple[HandResult, ...]:
    if finding.code != "table" or finding.figure is None:
        return ()
    try:
        found = tuple(result for result in hand_methods(outcome, run=finding.subject) if result.question == TABLE)
    except InputError:
        return ()
    return tuple(sorted(found, key=lambda result: bool(result.outside)))


def why_figure(figure: Figure, job: Job, parent: QWidget) -> WhyDialog:
    """The dialog for a figure on its own."""
    return WhyDialog(figure.label, figure, None, job, parent)
