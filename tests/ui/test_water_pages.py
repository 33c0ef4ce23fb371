"""Which water it is, the formulae and the bench, in the real window."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QPushButton

from ui.keys import staged
from weirant.design.assess import assess
from weirant.design.demo_roofs import roofs_job
from weirant.design.patterns import PATTERNS
from weirant.ground.turning import turned_round
from weirant.job.network import Basin
from weirant.job.paths import leads_somewhere
from weirant.outcome.commands import Instead, Offer, do
from weirant.outcome.figure import Figure
from weirant.ui.dialogs.bench import BenchDialog
from weirant.ui.dialogs.fittings import FittingsDialog, SetThere
from weirant.ui.dialogs.sources import LedInto, OutlineOf, SourcesDialog
from weirant.ui.entry import QuantityEdit, WordChoice
from weirant.ui.formulae_page import BandBar
from weirant.ui.steps.entries import TextEdit
from weirant.ui.steps.place_fields import PlaceChoice
from weirant.ui.steps.run_fields import FittingChoice, RunNameEdit
from weirant.ui.try_button import TryButton
from weirant.ui.work import Newest
from weirant.units.display import System


def test_an_answer_changes_the_ranking_and_can_be_undone(window, qtbot):
    window.sheet.rail.choose("water")
    window.sheet.show_view("water")
    page = window.sheet.views["water"]
    qtbot.waitUntil(page.isVisible)
    choice = page.choices["soil"]
    choice.setCurrentText("clay")
    choice.activated.emit(choice.currentIndex())
    assert window.document.job.answers[-1].answer == "clay" and window.document.stack.undoText() == "What lies under the topsoil: clay"
    window.document.stack.undo()
    assert choice.currentIndex() == 0


def test_the_drain_is_offered_and_tried_on_the_plan(window, qtbot):
    window.sheet.rail.choose("water")
    window.sheet.show_view("water")
    page = window.sheet.views["water"]
    qtbot.waitUntil(lambda: bool(page.findChildren(TryButton)))
    offer = page.findChild(TryButton)
    assert "Place a curtain drain at the clay corner" in offer.text().replace("\n", " ")
    offer.click()
    assert window.document.outcome.job.runs[-1].name == "curtain drain" and window.document.job.runs[-1].name != "curtain drain"
    window.document.keep_trial()
    assert window.document.job.runs[-1].name == "curtain drain"


def test_formulae_tell_of_one_line_or_a_grid_by_the_ground(window, qtbot):
    window.sheet.rail.choose("water")
    window.sheet.show_view("formulae")
    page = window.sheet.views["formulae"]
    qtbot.waitUntil(lambda: bool(page.grid.text()))
    assert "one line is enough" in page.grid.text() and len(page.findChildren(BandBar)) >= 8
    qtbot.waitUntil(lambda: any(bar.result.figure.label.startswith("Section simulator") for bar in page.findChildren(BandBar)), timeout=60_000)
    page.grounds.setCurrentIndex(2)
    page._choose(2)
    assert "a grid of 3 laterals" in page.grid.text()
    asked = []
    page.why.connect(asked.append)
    page.findChildren(BandBar)[0].parentWidget().findChild(type(window.sheet.head._undo)).click()
    assert isinstance(asked[0], Figure) and asked[0].method == "interceptor-flow"


@pytest.fixture
def bench(window, qtbot):
    dialog = BenchDialog(System.METRIC, window)
    qtbot.addWidget(dialog)
    dialog.show()
    return dialog


def test_the_box_wants_guesses_before_it_answers_and_scores_them(bench, qtbot):
    assert not bench.pour_button.isEnabled()
    for choice, answer in zip(bench.guesses, (2, 3, 1), strict=True):
        choice.setCurrentIndex(answer)
    bench._follow()
    bench.rain.setText("a lot")
    bench.pour()
    assert "rain" in bench.told.text() and bench.course is None
    bench.rain.setText("80 mm")
    bench.pour_button.click()
    qtbot.waitUntil(lambda: bench.course is not None, timeout=60_000)
    assert bench.picture.drawing is not None and bench.answer.text() == ""
    bench._film.stop()
    bench.slider.setValue(bench.slider.maximum())
    bench.tell()
    assert bench.score.made == 3 and bench.score.right >= 2 and "from below" in bench.answer.text() and "guesses right so far" in bench.told.text()
    assert not bench.pour_button.isEnabled()


def test_pages_beside_the_plan_leave_a_drag_alone_and_follow_when_it_ends(window, qtbot):
    window.sheet.rail.choose("water")
    window.sheet.show_view("water")
    page = window.sheet.views["water"]
    qtbot.waitUntil(lambda: bool(page.findChildren(TryButton)))
    told = page._told
    window.document.dragging = True
    window.document.set_value("runs.r1.distance", 3.5)
    assert page._told is told
    window.document.end_drag()
    assert page._told is window.document.settled


def test_another_outcome_of_the_same_job_is_not_taken_for_the_old_one(window, qtbot):
    view = staged(window, "across")
    qtbot.waitUntil(lambda: view.live.line_of(window.document.outcome, window.document.station) is not None, timeout=60_000)
    again = assess(window.document.job)
    assert again is not window.document.outcome and view.live.line_of(again, window.document.station) is None


def test_of_work_that_follows_a_drag_only_the_newest_is_done(qtbot):
    newest, done = Newest(pause=20), []
    for number in range(30):
        newest.ask(lambda n=number: n, done.append, done.append)
    qtbot.waitUntil(lambda: bool(done), timeout=5000)
    qtbot.wait(100)
    assert done == [29]


def choose(widget, words):
    """An entry of a list, as pressed."""
    widget.setCurrentIndex(next(i for i in range(widget.count()) if widget.itemText(i).startswith(words)))
    widget.activated.emit(widget.currentIndex())


def typed(widget, text):
    widget.setFocus()
    widget.selectAll()
    QTest.keyClicks(widget, text)
    QTest.keyClick(widget, Qt.Key.Key_Return)


def entry(window, path):
    return next(e for e in window.sheet.card.findChildren(QuantityEdit) if e.path == path and e.isVisible())


def test_a_run_is_given_a_place_that_is_drawn_or_a_new_one_and_its_distance_is_typed(window, qtbot):
    """The green drain keeps nothing dry at first; then the green that is drawn; then a new place, moved by a typed distance, named and kept in the file."""
    document = window.document
    window.sheet.rail.choose("water")
    document.take_run("r3")
    choice = window.sheet.card.findChild(PlaceChoice)
    assert choice.currentText() == "nothing yet" and not any(e.path == "runs.r3.distance" for e in window.sheet.card.findChildren(QuantityEdit) if e.isVisible())
    choose(choice, "bowling green")
    assert document.job.features[1].dry_depth == pytest.approx(0.3048) and "features.t2.dry_depth" in document.job.assumed
    assert any((f.code, f.subject, f.place) == ("table", "r3", "t2") for f in document.outcome.findings)
    typed(entry(window, "features.t2.dry_depth"), "8 in")
    assert document.job.features[1].dry_depth == pytest.approx(8 * 0.0254) and "features.t2.dry_depth" not in document.job.assumed
    choose(window.sheet.card.findChild(PlaceChoice), "a new place beside it")
    made = document.job.features[-1]
    assert (made.kind, made.name) == ("lawn", "the wet place") and document.outcome.run("r3").part.lie.distance == pytest.approx(3.048, abs=1e-6)
    typed(entry(window, "runs.r3.distance"), "6 ft")
    assert document.outcome.run("r3").part.lie.distance == pytest.approx(6 * 0.3048) and document.job.runs == document.outcome.job.runs
    assert "Distance from the drain" in document.stack.undoText().capitalize()
    assert not window.grab().isNull()
    choose(window.sheet.card.findChild(PlaceChoice), "nothing yet")
    assert document.outcome.run("r3").part.lie is None and any((f.code, f.subject) == ("served", made.id) for f in document.outcome.findings)


def test_what_roofs_and_pumps_bring_is_listed_typed_led_and_taken_out(window, qtbot):
    document = window.document
    window.sheet.rail.choose("water")
    button = next(b for b in window.sheet.card.findChildren(QPushButton) if b.text().startswith("Roofs, paving, pumps"))
    assert button.text() == "Roofs, paving, pumps (1) …"
    dialog = SourcesDialog(document, window)
    qtbot.addWidget(dialog)
    dialog.show()
    assert dialog.brings[0].text() == "75 gpm"
    dialog.new.setCurrentIndex(2)
    dialog.new.activated.emit(2)  # paving
    QApplication.processEvents()
    made = document.job.sources[-1]
    assert (made.kind, made.node, dialog.brings[1].text()) == ("paving", "", "not known") and any(f.code == "source-led" for f in document.outcome.findings)
    choose(next(c for c in dialog.findChildren(OutlineOf) if c.source == made.id and c.isVisible()), "the clubhouse slab")
    assert dialog.brings[1].text() == "101 gpm"
    typed(next(e for e in dialog.findChildren(QuantityEdit) if e.path == f"sources.{made.id}.intensity" and e.isVisible()), "1 in/h")
    assert dialog.brings[1].text() == "24 gpm"
    choose(next(c for c in dialog.findChildren(LedInto) if c.source == made.id and c.isVisible()), "clean-out at 35.0 ft, roof line")
    assert document.job.sources[-1].node == "n5" and document.outcome.run("r2").flow.discharge[0] > document.outcome.site.brought[0].figure.value * 1.3
    next(b for b in dialog.findChildren(QPushButton) if b.accessibleName() == f"Take out {made.name}" and b.isVisible()).click()
    assert len(document.job.sources) == 1 == len(dialog.brings)
    document.stack.undo()
    assert len(dialog.brings) == 2 and not dialog.grab().isNull()
    for row in (0, 1):  # what was being typed is handed in as its entry goes, in the midst of laying the rows
        QApplication.processEvents()
        source, other = document.job.sources[row], document.job.sources[1 - row]
        name = next(e for e in dialog.findChildren(TextEdit) if e.path == f"sources.{other.id}.name" and e.isVisible())
        dialog.activateWindow()
        name.setFocus()
        qtbot.waitUntil(name.hasFocus)
        QTest.keyClicks(name, "5.12")
        next(b for b in dialog.findChildren(QPushButton) if b.accessibleName() == f"Take out {source.name}" and b.isVisible()).click()
        assert [s.id for s in document.job.sources] == [s.id for s in document.outcome.job.sources] and len(document.job.sources) == len(dialog.brings) == 1
        document.stack.undo()
        assert len(document.job.sources) == len(dialog.brings) == 2


def test_what_is_set_into_a_run_is_listed_with_its_box_and_rim(window, qtbot):
    """By the menu's key, a choice, typed figures; the finding of a box too small; another kind has no box; taken out, and back."""
    document = window.document
    document.take_run("r3")
    document.move_to(12.0)
    window.activateWindow()
    qtbot.keyClick(window, Qt.Key.Key_X, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    dialog = window.findChild(FittingsDialog)
    qtbot.addWidget(dialog)
    before = len(dialog.findChildren(SetThere))
    choose(dialog.new, "inlet")
    QApplication.processEvents()
    node = next(n for n in document.job.nodes if n.kind == "inlet")

    def shown_entry(path):
        return next(e for e in dialog.findChildren(QuantityEdit) if e.path == f"nodes.{node.id}.{path}" and e.isVisible())

    typed(shown_entry("basin.size"), "4 in")
    assert any((f.code, f.state, f.piece) == ("basin", "fails", node.id) for f in document.outcome.findings)
    typed(shown_entry("basin.size"), "300 mm")
    typed(shown_entry("basin.sump"), "6 in")
    typed(shown_entry("rim"), "200 ft")
    assert any((f.code, f.state) == ("rim", "fails") for f in document.outcome.findings)
    assert next(n for n in document.job.nodes if n.id == node.id).basin == Basin("round", 0.3, pytest.approx(0.1524))
    choose(next(c for c in dialog.findChildren(SetThere) if c.node == node.id and c.isVisible()), "vent")
    QApplication.processEvents()
    assert next(n for n in document.job.nodes if n.id == node.id).basin is None and not any(f.code == "basin" for f in document.outcome.findings)
    next(b for b in dialog.findChildren(QPushButton) if b.accessibleName() == "Take out the vent at green drain, 39.4 ft" and b.isVisible()).click()
    QApplication.processEvents()
    assert node.id not in {n.id for n in document.job.nodes} and len([c for c in dialog.findChildren(SetThere) if c.isVisible()]) == before
    document.stack.undo()
    assert node.id in {n.id for n in document.job.nodes} and not dialog.grab().isNull()


def test_entries_of_what_only_a_fix_on_trial_has_are_shown(window):
    """An outlet at the other end of a run that is turned on trial: its entries fell over the job, which has none there."""
    window.sheet.rail.choose("line")
    window.document.try_fix(Offer("Turn it round", do(turned_round, identity="r1")))
    assert window.sheet.card.findChild(QuantityEdit) is not None and window.document.path_of("outlet.kind") == "nodes.n3.outlet.kind"
    assert window.document.outcome.job != window.document.job and not window.grab().isNull()
    window.document.put_back()
    assert window.document.path_of("outlet.kind") == "nodes.n1.outlet.kind"


def test_what_the_fix_on_trial_lacks_is_typed_into_the_job(window):
    """An entry that stays, as in a dialog, fell over it."""
    document = window.document
    entry = QuantityEdit(document, "runs.r4.slope")
    document.try_fix(Offer("As another job", Instead(PATTERNS["curtain"].job())))
    assert not leads_somewhere(document.shown_job, entry.path) and entry.take("2") == "" and document.job.runs[3].slope == pytest.approx(0.02)


@pytest.mark.parametrize("other", [PATTERNS["ring"].job, roofs_job])
def test_what_stands_only_in_the_fix_on_trial_is_not_changed_but_told(window, other):
    """Every choice and entry of every card over a fix that has runs, sections or a pump of its own: what it alone has is refused, and shown as it was."""
    window.open_job(PATTERNS["curtain"].job(), None)
    document, refused = window.document, []
    document.refused.connect(refused.append)
    document.try_fix(Offer("As another job", Instead(other())))
    document.take_run("r3")
    for step in ("trench", "line", "materials", "soil"):
        window.sheet.rail.choose(step)
        for page in range(len(window.sheet.card.pages)):
            window.sheet.card.turn_to(page)
            for entry in [e for e in window.sheet.card.findChildren((WordChoice, QuantityEdit)) if e.isVisible() and not leads_somewhere(document.job, e.path)]:
                before = len(refused)
                if isinstance(entry, WordChoice):
                    shown = entry.currentIndex()
                    choose(entry, entry.itemText((shown + 1) % entry.count()))
                    assert entry.currentIndex() == shown
                    assert refused[before:] == ["This stands only in the fix on trial; keep that first"]
                else:
                    assert "only in the fix on trial" in entry.take("4")
    name, fitting = RunNameEdit(document), FittingChoice(document)
    assert "only in the fix on trial" in name.take("Another")
    for act in (window.lay_beside, window.part_run, window.turn_run, window.drill, window.sheet.plan_page.plan.take_out, lambda: fitting.activated.emit(1),
                window.sheet.card.grade.hold_here, lambda: FittingsDialog(document, window).take_out("r3", document.outcome.run("r3").run.nodes[0][0].id)):  # fmt: skip
        before = len(refused)
        act()
        assert len(refused) == before + 1
        assert "only in the fix on trial" in refused.pop(), act
    assert len(refused) > 5 and document.trial is not None and not document.stack.canUndo()
