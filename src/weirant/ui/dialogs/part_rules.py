"""How parts are counted: for each thing of the layout so many; figures in the place of the library's, and parts of one's own."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QPushButton, QWidget

from weirant.design.laid_parts import wanted_parts
from weirant.errors import InputError
from weirant.job.part_edits import with_count, with_own_part, without_own_part
from weirant.job.part_rules import LENGTH, MOST_EACH, PIECE, WANTED, PartRules
from weirant.job.paths import with_value
from weirant.language import tr
from weirant.library.each import factor, for_each, unit_words
from weirant.library.parts import Part, parts, parts_by
from weirant.outcome.outcome import Outcome
from weirant.sources import citation
from weirant.ui.dialogs.rows import RowsDialog
from weirant.ui.document import Document
from weirant.ui.entry import TypedEdit, WordChoice
from weirant.ui.line import EntryLine
from weirant.ui.part_rules import keep_rules
from weirant.ui.plain_text import PlainLabel, figure_label, plain_tip
from weirant.ui.steps.entries import TextEdit
from weirant.ui.theme import THEME
from weirant.units import parse
from weirant.units.dimension import NUMBER
from weirant.words.order import amount_words

TOLD = tr("Parts are counted off the drawing by these figures. Type your own where you do it otherwise, nought for a part that you do without; emptied, a figure is the usual one again. "
          "A new job begins with what was typed last.")  # fmt: skip


class EachEdit(TypedEdit):
    """How many of a part there are for each thing; emptied, the library's own figure counts again."""

    def __init__(self, document: Document, part: Part) -> None:
        super().__init__(tr("how many for each: {part}, {what}", part=part.name, what=WANTED[part.wanted][0]))
        self.document, self.part = document, part
        self.setFixedWidth(round(6 * THEME.text))
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.setPlaceholderText(self._told(part.each))
        self.show_value()

    @property
    def source(self) -> str:
        """Where the figure comes from; of one's own part the key, by which a price list names it."""
        if self.part.source == "user":
            return tr("{key} in a price list", key=self.part.key)
        return tr("of this job; usually {each}", each=self._told(self.part.each)) if self._figure() is not None else citation(self.part.source)

    def _figure(self) -> float | None:
        rules = self.document.shown_job.parts
        figures = {(one.part, one.wanted): one.each for one in rules.counts} | {(one.key, one.wanted): one.each for one in rules.own}
        return figures.get((self.part.key, self.part.wanted))

    def _told(self, each: float) -> str:
        return tr("{each:.4g}", each=each / factor(self.part.unit, self.part.wanted, self.document.system))

    def show_value(self) -> None:  # noqa: D102
        each = self._figure()
        self.setText("" if each is None else self._told(each))

    def take(self, text: str) -> str:  # noqa: D102
        rules, is_own = self.document.job.parts, self.part.source == "user"
        if is_own and not text:
            return tr("{label} is needed", label=tr("how many for each"))
        try:
            each = float(parse(text, NUMBER, tr("how many for each"))) * factor(self.part.unit, self.part.wanted, self.document.system) if text else None
        except InputError as fault:
            return str(fault)
        if each is not None and not 0 <= each <= MOST_EACH:
            return tr("must be from 0 to {most}", most=self._told(MOST_EACH))
        if is_own:
            index = next((n for n, one in enumerate(rules.own) if one.key == self.part.key), None)
            if index is None:
                return tr("is not there any more")
            return "" if each is not None and self.document.set_value(f"parts.own.{index}.each", each) else tr("cannot be used")
        return "" if put(self.document, with_count(rules, self.part.key, self.part.wanted, each)) else tr("cannot be used")


def put(document: Document, rules: PartRules) -> bool:
    """The job with other rules, as one step."""
    return document.change(with_value(document.job, "parts", rules), tr("rules of parts"))


class PartRulesDialog(RowsDialog):
    """A row for each rule: the part, how many of it, for what, how often this job has that, and where the figure comes from."""

    told_in = ("step-order", "")

    HEADS, NUMBERS = (tr("part"), tr("how many"), "", tr("for each"), tr("in this job"), tr("source"), ""), range(1, 2)

    def __init__(self, document: Document, parent: QWidget) -> None:
        self.name, self.another, self.every = EntryLine(), QPushButton(tr("Another part")), QCheckBox(tr("every rule"))
        super().__init__(document, parent, TOLD, self.name, self.another, self.every)
        self.setWindowTitle(tr("How parts are counted"))
        self.resize(round(66 * THEME.text), round(39 * THEME.text))
        self.name.setPlaceholderText(tr("name of a part of your own"))
        self.name.setAccessibleName(tr("name of a part of your own"))
        self.name.setMaxLength(120)
        self.name.setMinimumWidth(round(16 * THEME.text))
        self.name.returnPressed.connect(self.add)
        self.name.textChanged.connect(lambda: self.another.setEnabled(bool(self.name.text().strip())))
        self.another.setAutoDefault(False)
        self.another.setEnabled(False)
        self.another.clicked.connect(self.add)
        self.every.setToolTip(plain_tip(tr("Show the rules for what this job has not, too")))
        self.every.toggled.connect(self.follow)
        self._before = document.job.parts
        self._here: list[tuple[EachEdit, PlainLabel, PlainLabel]] = []
        self.follow()

    def follow(self) -> None:  # noqa: D102
        if self.document.is_empty:
            self.reject()
            return
        outcome = self.document.outcome
        has = defaultdict[str, float](float)
        for wanted in wanted_parts(outcome):
            has[wanted.code] += wanted.amount
        own = parts_by(outcome.job.parts)[len(parts()) :]  # one's own first, in sight where it was made
        ruled = {(rule.part, rule.wanted) for rule in outcome.job.parts.counts}
        shown = (*own, *(part for part in parts() if self.every.isChecked() or has[part.wanted] > 0 or (part.key, part.wanted) in ruled))
        self.lay_rows((tuple((part.key, part.wanted, part.unit) for part in shown), self.document.system), lambda: self._of(outcome, shown))
        if self.document.trial is None and outcome.job.parts != self._before:  # what came with somebody's job is not what was typed here
            self._before = outcome.job.parts
            keep_rules(outcome.job.parts)
        for edit, here, source in self._here:
            edit.follow()
            here.setText(amount_words(has[edit.part.wanted], WANTED[edit.part.wanted][1], self.document.system) if has[edit.part.wanted] > 0 else "")
            source.setText(edit.source)

    def _of(self, outcome: Outcome, shown: Sequence[Part]) -> Iterator[tuple[QWidget, ...]]:
        self._here = []
        system, places = self.document.system, {own.key: n for n, own in enumerate(outcome.job.parts.own)}
        for part in shown:
            edit, here, source = EachEdit(self.document, part), figure_label(""), PlainLabel()
            self._here.append((edit, here, source))
            if part.source != "user":
                yield PlainLabel(part.name), edit, PlainLabel(unit_words(part.unit, system)), PlainLabel(for_each(part.wanted, system)), here, source
                continue
            base = f"parts.own.{places[part.key]}"
            out = QPushButton(tr("Take out"))
            out.setAutoDefault(False)
            out.setAccessibleName(tr("Take out {part}", part=part.name))
            out.clicked.connect(partial(self.take_out, part.key))
            unit = WordChoice(self.document, f"{base}.unit", [(code, unit_words(code, system)) for code in (PIECE, LENGTH)])
            what = WordChoice(self.document, f"{base}.wanted", [(code, for_each(code, system)) for code in WANTED])
            what.setMinimumContentsLength(22)
            yield TextEdit(self.document, f"{base}.name"), edit, unit, what, here, source, out

    def add(self) -> None:
        """One part more, of the name that was typed."""
        name = self.name.text().strip()
        if name and put(self.document, with_own_part(self.document.job.parts, name)):
            self.name.clear()
            bar = self._area.verticalScrollBar()
            if bar is not None:
                bar.setValue(0)

    def take_out(self, key: str) -> None:
        """Take an own part out."""
        put(self.document, without_own_part(self.document.job.parts, key))
