"""What of the library suits the soil of the run in hand: cloths, stones, sands and graded filters, each by its contacts, to be taken."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from PyQt6.QtWidgets import QPushButton, QWidget

from weirant.design.suited import CLOTH, SAND, STONE, Suited, Suits, suited
from weirant.job import Job
from weirant.job.paths import with_value
from weirant.job.section import IN_SAND
from weirant.language import capital, tr
from weirant.outcome.finding import State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.ui.dialogs.run_rows import RunRowsDialog
from weirant.ui.document import Document
from weirant.ui.plain_text import PlainLabel
from weirant.ui.theme import THEME
from weirant.words.schools import basis_words, graded_words
from weirant.words.suited import KINDS, contacts_words, ways_words

FIELDS = {CLOTH: "geotextile", STONE: "aggregate", SAND: "sand"}


class SuitedDialog(RunRowsDialog):
    """A row for each product, of each kind those that suit first; below them the graded filters that fit."""

    told_in = ("step-materials", "")

    HEADS = (tr("as"), tr("product"), tr("verdict"), "", tr("contacts"))

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(document, parent)
        self.setWindowTitle(tr("What suits this soil"))
        self.resize(round(82 * THEME.text), round(52 * THEME.text))
        self.grid.setColumnStretch(4, 1)
        self.follow()

    def work(self, outcome: Outcome, found: RunOutcome) -> Callable[[], Suits]:  # noqa: D102
        return partial(suited, outcome, found)

    def refuse(self, _: Outcome, __: RunOutcome, fault: str) -> None:  # noqa: D102
        self.words.setText(capital(fault))
        self.lay_rows(None, lambda: ())

    def show_answer(self, outcome: Outcome, found: RunOutcome, suits: Suits) -> None:  # noqa: D102
        self.words.setText(tr("{run}. {ways}", run=capital(found.run.name), ways=ways_words(suits)) + basis_words(outcome, found))
        section = found.make(found.part.station).section
        now = (section.id, section.wrap, section.aggregate, section.geotextile, section.sand)
        made_for = (now, outcome.job.units, [(p.key, dict(p.states)) for p in suits.products], [graded_words(g, self.document.system) for g in suits.graded])
        self.lay_rows(made_for, partial(self._of, suits, now))

    def _of(self, suits: Suits, now: tuple[str, ...]) -> Iterator[tuple[QWidget, ...]]:
        section, wrap, aggregate, geotextile, sand = now
        used = {CLOTH: geotextile, STONE: aggregate, SAND: sand if wrap == IN_SAND else ""}
        for kind, field in FIELDS.items():
            for product in suits.of(kind):
                name, verdict, told = PlainLabel(product.name), PlainLabel(tr(product.worst)), PlainLabel(contacts_words(product))
                verdict.setProperty("strong", product.worst in (State.HOLDS, State.FAILS))
                name.setProperty("strong", product.key == used[kind])
                told.setProperty("quiet", True)
                told.setWordWrap(True)
                take: QWidget = PlainLabel(tr("in use"))
                if product.key != used[kind]:
                    take = QPushButton(tr("Take it"))
                    take.setAccessibleName(tr("Take {name}", name=product.name))
                    take.setAutoDefault(False)
                    take.clicked.connect(partial(self._take, f"sections.{section}", field, product))
                yield PlainLabel(KINDS[kind]), name, verdict, take, told
        for graded in suits.graded:
            told = PlainLabel(graded_words(graded, self.document.system))
            told.setWordWrap(True)
            verdict = PlainLabel(tr(State.HOLDS) if graded.fits else tr(State.FAILS))
            verdict.setProperty("strong", True)
            yield PlainLabel(tr("graded filter")), PlainLabel(""), verdict, PlainLabel(""), told

    def _take(self, path: str, field: str, product: Suited, _: bool = False) -> None:
        """The product in the section here; sand lies round the stone then."""
        def with_it(job: Job) -> Job:
            taken = with_value(job, f"{path}.{field}", product.key)
            return with_value(taken, f"{path}.wrap", IN_SAND) if field == FIELDS[SAND] else taken

        self.document.edit(with_it, tr("Take {name}", name=product.name), may_come=True)
