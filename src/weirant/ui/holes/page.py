"""The page of the test holes: log on the left, a test with its readings in the middle, what it says on the right."""

from __future__ import annotations

import dataclasses

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import (
    QFrame,
    QGridLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from weirant.design.holes import LayerVerdict, own_soil, taken_over, verdicts
from weirant.drawing.holes import hole_drawing, readings_drawing
from weirant.errors import InputError
from weirant.job import Job
from weirant.job.hole_edits import with_hole, with_log, with_new_hole, with_test, without_test
from weirant.job.holes import AUGER_HOLE, BAIL, RISING, TESTS, FieldTest, Horizon, TestHole
from weirant.job.removal import without_hole
from weirant.job.soil import Soil
from weirant.job.soils import soil_at, soil_of, where_words
from weirant.language import tr
from weirant.outcome.commands import Instead, Offer, do
from weirant.ui.code_box import CodeBox
from weirant.ui.column import emptied
from weirant.ui.document import Document
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.holes.log_text import log_text, read_log
from weirant.ui.holes.readings_table import TestReadingsTable
from weirant.ui.holes.stopwatch import Stopwatch
from weirant.ui.line import EntryLine
from weirant.ui.plain_text import PlainLabel
from weirant.ui.prompt_button import PromptButton
from weirant.ui.scrolled import Scrolled
from weirant.ui.steps.entries import entry_for
from weirant.ui.still_box import StillBox
from weirant.ui.theme import THEME
from weirant.ui.try_button import TryButton
from weirant.ui.views.picture import Picture
from weirant.ui.work import Newest
from weirant.words.holes import fit_words, layer_words

NARROW = 46.0  # text heights of width below which the third column goes under the others


class HolesPage(Scrolled):
    """Large letters make it longer than what is in sight."""

    feel_wanted = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.holes, self.tests, self.kind = StillBox(), StillBox(), CodeBox()
        for choice, name in ((self.holes, tr("Test hole")), (self.tests, tr("Test in the hole")), (self.kind, tr("Kind of test"))):
            choice.setAccessibleName(name)
        self.kind.add_codes(TESTS)
        self.log, self.readings = EntryLine(), Picture(tr("Readings of the test, drawn"))
        self.log.setAccessibleName(tr("Soil log"))
        self.log.setPlaceholderText(tr("loam 10 in; silt loam 30 in spots"))
        self.column, self.table = Picture(tr("Soil log, drawn")), TestReadingsTable(document)
        self.new_hole, self.new_test, self.feel = QPushButton(tr("New hole")), QPushButton(tr("New test")), QPushButton(tr("By feel …"))
        self.drop_hole, self.drop_test = QPushButton(tr("Take out")), QPushButton(tr("Take out"))
        self.drop_hole.setAccessibleName(tr("Take the hole out"))
        self.drop_test.setAccessibleName(tr("Take the test out"))
        self.watch, self.mark_button = Stopwatch("Ctrl+Shift+M"), PromptButton(tr("Mark"))
        self.watch.setToolTip(tr("Start at nought, or stop  (Ctrl+Shift+M)"))
        self.mark_button.setShortcut("Ctrl+M")
        self.mark_button.setToolTip(tr("Keep the time on the stopwatch; its depth is typed when there is a hand free  (Ctrl+M)"))
        self.said, self.layers = PlainLabel(), PlainLabel()
        for label, name in ((self.said, tr("What the test says")), (self.layers, tr("What is believed of the soil, and why"))):
            label.setWordWrap(True)
            label.setAccessibleName(name)
        self.said.setProperty("strong", True)
        self._of_hole, self._of_test, self._offers = QWidget(), QWidget(), QVBoxLayout()
        for part in (self._of_hole, self._of_test):
            FlowLayout(part, 8).setContentsMargins(0, 0, 0, 0)
        self._shown_for: object = None
        self._told_for: tuple[Job, int] | None = None
        self._weighing = Newest(self)
        self._lay_out()
        self.holes.activated.connect(self._choose)
        self.tests.activated.connect(self._choose)
        self.kind.activated.connect(self._set_kind)
        self.log.editingFinished.connect(self._set_log)
        self.new_hole.clicked.connect(self.add_hole)
        self.new_test.clicked.connect(self.add_test)
        self.drop_hole.clicked.connect(self.remove_hole)
        self.drop_test.clicked.connect(self.remove_test)
        self.feel.clicked.connect(self.feel_wanted)
        self.mark_button.clicked.connect(self.mark)
        document.changed.connect(self.refresh)

    def _lay_out(self) -> None:
        page = QFrame()
        page.setObjectName("sheet")
        self._grid = QGridLayout(page)
        self._grid.setContentsMargins(8, 4, 8, 4)
        self._grid.setSpacing(8)
        self._parts = [QWidget() for _ in range(3)]
        left, middle, right = (QVBoxLayout(part) for part in self._parts)
        for part in (left, middle, right):
            part.setSpacing(4)
            part.setContentsMargins(0, 0, 0, 0)
        left.addWidget(_line(self.holes, self.new_hole, self.drop_hole, self.feel))
        left.addWidget(self.log)
        left.addWidget(self._of_hole)
        left.addWidget(self.column, 1)
        self.kind.setSizeAdjustPolicy(StillBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.kind.setMinimumContentsLength(12)
        middle.addWidget(_line(self.tests, self.new_test, self.drop_test))
        middle.addWidget(self.kind)
        middle.addWidget(self._of_test)
        middle.addWidget(_line(self.watch, self.mark_button))
        middle.addWidget(self.table, 1)
        right.addWidget(self.readings, 1)
        right.addWidget(self.said)
        right.addLayout(self._offers)
        right.addWidget(self.layers)
        self.setWidget(page)
        self._arrange()

    def _arrange(self) -> None:
        """Three columns, or two with the third below where letters are large; nothing is smaller than can be read."""
        narrow = self.width() < NARROW * THEME.text
        for part, at in zip(self._parts, ((0, 0), (0, 1), (1, 0) if narrow else (0, 2)), strict=True):
            self._grid.addWidget(part, *at, 1, 2 if narrow and at[0] else 1)
        for column, stretch in enumerate((5, 6, 0 if narrow else 6)):
            self._grid.setColumnStretch(column, stretch)
        self.column.setMinimumHeight(round(9 * THEME.text))
        self.readings.setMinimumHeight(round(9 * THEME.text))
        self.table.setMinimumHeight(round(10 * THEME.text))

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        super().resizeEvent(event)
        self._arrange()

    # which hole and test

    @property
    def index(self) -> int:
        """Number of the hole in hand; −1 for none."""
        return self.holes.currentIndex()

    @property
    def number(self) -> int:
        """Number of the test in hand."""
        return max(self.tests.currentIndex(), 0)

    @property
    def hole(self) -> TestHole | None:
        """The hole in hand."""
        holes = self.document.shown_job.holes
        return holes[self.index] if 0 <= self.index < len(holes) else None

    def refresh(self) -> None:
        """Follow the document."""
        if self.document.is_empty or not self.isVisible():
            return
        self._arrange()
        job = self.document.shown_job
        _list(self.holes, [h.name for h in job.holes])
        hole = self.hole
        _list(self.tests, [tr("test {n_}", n_=n) for n in range(1, len(hole.tests) + 1)] if hole is not None else [])
        self._follow(hole)
        for offer in self.findChildren(TryButton):
            offer.follow()

    def _choose(self, _: int) -> None:
        self.refresh()

    def _follow(self, hole: TestHole | None) -> None:
        job, system = self.document.shown_job, self.document.system
        test = hole.tests[self.number] if hole is not None and self.number < len(hole.tests) else None
        of_hole: tuple[QWidget, ...] = (self.log, self.feel, self.new_test, self.drop_hole)
        of_test: tuple[QWidget, ...] = (self.kind, self.watch, self.mark_button, self.table, self.drop_test)
        for widget in of_hole:
            widget.setEnabled(hole is not None)
        for widget in of_test:
            widget.setEnabled(test is not None)
        self.table.readings.take(self.index, self.number)
        if hole is None:
            self.column.show_drawing(None, tr("no hole yet: dig one where it is wet"))
            self.readings.show_drawing(None)
        else:
            if not self.log.hasFocus():
                self.log.setText(log_text(hole.log, system))
                self.log.setCursorPosition(0)
            self.column.show_drawing(hole_drawing(hole, system))
            self.readings.show_drawing(readings_drawing(test, system) if test is not None and test.readings else None, tr("readings are drawn here"))
        if test is not None:
            self.kind.take(test.kind)
        self.said.setText(fit_words(test, system))
        self._lay_entries(job, test)
        told = self._told_for
        if self.document.trial is None and (told is None or told[0] is not job or told[1] != self.index):
            self._told_for = (job, self.index)
            soil = self.document.soil if hole is None else soil_at(job, hole.x, hole.y)
            self._weighing.ask(lambda: (verdicts(job, soil), taken_over(job, soil, hole)), lambda found: self._tell_layers(job, soil, hole, *found), self.layers.setText)

    def _lay_entries(self, job: Job, test: FieldTest | None) -> None:
        """Entries of the test in hand; laid anew only for another test or kind."""
        basis = (self.index, self.number, test.kind if test is not None else "", job.units, tuple((h.name, len(h.tests)) for h in job.holes))
        if basis == self._shown_for:
            return
        self._shown_for = basis
        base = f"holes.{self.index}"
        of_hole = [] if self.index < 0 else [(tr("water stood at"), f"{base}.water_depth"), (tr("auger stopped at"), f"{base}.hard_depth"),
                                             (tr("place, east"), f"{base}.x"), (tr("north"), f"{base}.y")]
        of_test = []
        if test is not None:
            at = f"{base}.tests.{self.number}"
            of_test = [(tr("hole radius"), f"{at}.radius"), (tr("hole depth"), f"{at}.depth")]
            of_test += [(tr("water before"), f"{at}.water")] if test.kind in RISING else []
            of_test += [(tr("open length"), f"{at}.open_length")] if test.kind == BAIL else []
            of_test += [(tr("ends on the hard layer"), f"{at}.on_hard_layer")] if test.kind == AUGER_HOLE else []
        self._lay(self._of_hole, of_hole)
        self._lay(self._of_test, of_test)

    def _lay(self, holder: QWidget, fields: list[tuple[str, str]]) -> None:
        """Entries of fields by their paths, in place of those before."""
        flow = holder.layout()
        assert flow is not None
        emptied(flow)
        for label, path in fields:
            cell, words = QWidget(), PlainLabel(label)
            box = QVBoxLayout(cell)
            box.setContentsMargins(0, 0, 0, 0)
            box.setSpacing(0)
            entry = entry_for(self.document, path)
            entry.setFixedWidth(round(6.6 * THEME.text))
            words.setProperty("quiet", True)
            words.setBuddy(entry)
            box.addWidget(words)
            box.addWidget(entry)
            flow.addWidget(cell)

    def _tell_layers(self, job: Job, soil: Soil, hole: TestHole | None, found: tuple[LayerVerdict, ...], changed: Job) -> None:
        if self._told_for is None or job is not self._told_for[0] or hole != self.hole:
            return
        several = f"{soil.name[:1].upper()}{soil.name[1:]}, {where_words(job, soil)}.\n" if len(job.soils) > 1 else ""
        self.layers.setText(several + layer_words(soil, found, self.document.system))
        emptied(self._offers)
        if changed != job:
            before, after = ((s.hard_layer_depth, s.water_table_depth) for s in (soil, soil_of(changed, soil.id)))
            depths = tr(", and the depths found in {hole}", hole=hole.name) if hole is not None and before != after else ""
            self._offers.addWidget(TryButton(self.document, 40, Offer(tr("Take these conductivities over{depths}", depths=depths), Instead(changed))))
        if hole is not None and hole.log and soil.hole != hole.id:
            self._offers.addWidget(TryButton(self.document, 40, Offer(tr("Let what was dug here be a soil of its own, round {hole}", hole=hole.name), do(own_soil, hole=hole.id))))

    # edits

    def add_hole(self) -> None:
        """A new hole at the station, ready for its first test."""
        job, place = self.document.job, self.document.in_hand.run.alignment.point(self.document.station)
        changed = with_new_hole(job, round(place[0], 3), round(place[1], 3))
        if self.document.change(changed, tr("Test hole {holes}", holes=changed.holes[-1].name)):
            self.refresh()
            self.holes.setCurrentIndex(self.holes.count() - 1)
            self.refresh()
            self.log.setFocus()

    def add_test(self) -> None:
        """One more test in the hole in hand."""
        hole = self.hole
        if hole is not None and self.document.edit(lambda job: with_test(job, self.index, len(hole.tests), FieldTest()), tr("Test in {hole}", hole=hole.name)):
            self.refresh()
            self.tests.setCurrentIndex(self.tests.count() - 1)
            self.refresh()

    def remove_hole(self) -> None:
        """Take the hole in hand out; undo brings it back."""
        hole = self.hole
        if hole is not None:
            self.document.edit(lambda job: without_hole(job, hole.id).job, tr("Test hole {hole} taken out", hole=hole.name), may_come=True)

    def remove_test(self) -> None:
        """Take the test in hand out; undo brings it back."""
        hole = self.hole
        if hole is not None and self.number < len(hole.tests):
            self.document.edit(lambda job: without_test(job, self.index, self.number), tr("Test {number} of {hole} taken out", number=self.number + 1, hole=hole.name), may_come=True)

    def _set_kind(self, index: int) -> None:
        hole = self.hole
        if hole is not None and self.number < len(hole.tests):
            test = dataclasses.replace(hole.tests[self.number], kind=TESTS[index])
            self.document.edit(lambda job: with_test(job, self.index, self.number, test), tr("Test in {hole}: {tests}", hole=hole.name, tests=tr(TESTS[index])), may_come=True)

    def _set_log(self) -> None:
        hole = self.hole
        if hole is None or self.log.text() == log_text(hole.log, self.document.system):
            return
        try:
            log = read_log(self.log.text(), self.document.system)
        except InputError as fault:
            self.document.refused.emit(str(fault))
            return
        self.document.edit(lambda job: with_log(job, self.index, log), tr("Soil log of {hole}", hole=hole.name), may_come=True)

    def add_horizon(self, texture: str, depth: float) -> None:
        """Put a layer found by feel under the ones in the log."""
        hole = self.hole
        if hole is not None:
            longer = dataclasses.replace(hole, log=(*hole.log, Horizon(texture, depth)))
            self.document.edit(lambda job: with_hole(job, self.index, longer), f"{hole.name}: {texture}", may_come=True)

    def mark(self) -> None:
        """Keep the time on the stopwatch; its depth is typed next."""
        self.table.readings.mark(self.watch.seconds)
        self.table.go_to(self.table.readings.rowCount() - 1, 1)
        self.table.setFocus()

    def showEvent(self, event: object) -> None:  # noqa: N802, D102
        self.refresh()


def _line(*widgets: QWidget) -> QWidget:
    holder = QWidget()
    flow = FlowLayout(holder, 8)
    flow.setContentsMargins(0, 0, 0, 0)
    for widget in widgets:
        flow.addWidget(widget)
    return holder


def _list(choice: StillBox, names: list[str]) -> None:
    """Fill a list where it changed, keeping the place."""
    if names != [choice.itemText(i) for i in range(choice.count())]:
        at = choice.currentIndex()
        choice.clear()
        choice.addItems(names)
        choice.setCurrentIndex(min(max(at, 0), len(names) - 1))
