"""What is at the end of a run and over its inlets, in the real window: chosen, typed, judged and undone; another size of pipe; each exit plugged in turn."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QPushButton
from test_water_pages import choose, entry, typed

from weirant.design.patterns import pattern
from weirant.ui.dialogs.fittings import FittingsDialog
from weirant.ui.dialogs.pipe_choices import PipeChoicesDialog
from weirant.ui.entry import QuantityEdit, WordChoice


def page(window, words):
    card = window.sheet.card
    QApplication.processEvents()
    next(b for b in card.findChildren(QPushButton) if b.text() == words and b.isVisible()).click()
    QApplication.processEvents()


def state(window, code, run):
    return next(f.state for f in window.document.outcome.findings if (f.code, f.subject) == (code, run))


def test_a_main_is_chosen_measured_and_judged_by_keys(window):
    document = window.document
    document.take_run("r2")
    window.sheet.rail.choose("line")
    QApplication.processEvents()
    choose(next(c for c in window.sheet.card.findChildren(WordChoice) if c.path == "nodes.n4.outlet.kind" and c.isVisible()), "existing main")
    assert state(window, "takes-it", "r2") == "unknown" and document.job.nodes[3].outlet.water_level is None
    page(window, "the main")
    for field, text in (("diameter", "12 in"), ("slope", "1 %"), ("own_flow", "50 gpm"), ("own_storm", "9000 gpm")):
        typed(entry(window, f"nodes.n4.outlet.main.{field}"), text)
    assert state(window, "takes-it", "r2") == "fails"
    typed(entry(window, "nodes.n4.outlet.main.own_storm"), "300 gpm")
    assert state(window, "takes-it", "r2") == "tight"  # it stands over the pipe that is tied in at its bottom
    typed(entry(window, "nodes.n4.outlet.main.invert"), "93 ft")
    assert state(window, "takes-it", "r2") == "holds"
    own = entry(window, "nodes.n4.outlet.main.own_storm")
    own.setFocus()
    own.selectAll()
    QTest.keyClick(own, Qt.Key.Key_Delete)  # not known again
    QTest.keyClick(own, Qt.Key.Key_Return)
    assert state(window, "takes-it", "r2") == "unknown" and document.job.nodes[3].outlet.main.own_storm is None
    while document.stack.canUndo():
        document.stack.undo()
    assert document.job.nodes[3].outlet.kind == "open pipe" and document.job.nodes[3].outlet.main is None and document.job.nodes[3].outlet.water_level is not None


@pytest.mark.parametrize(("kind", "has", "lacks"), [("pop-up emitter", {"its opening", "ground that soaks"}, {"the main", "the pit"}), ("dry well", {"ground that soaks"}, {"its opening"}),
                                                    ("open pipe", {"its opening"}, {"ground that soaks", "the main"}), ("pump in a pit", {"the pit"}, {"its opening"})])
def test_the_card_asks_only_for_what_an_outlet_of_the_kind_has(window, kind, has, lacks):
    window.document.take_run("r2")
    window.document.set_value("nodes.n4.outlet.kind", kind)
    window.sheet.rail.choose("line")
    card = window.sheet.card
    QApplication.processEvents()
    pages = {b.text() for b in card.findChildren(QPushButton) if b.isVisible()}
    assert has <= pages and not lacks & pages


def test_a_grate_is_typed_beside_its_box(empty_window, qtbot):
    empty_window.open_job(pattern("swale").job(), None)
    dialog = FittingsDialog(empty_window.document, empty_window)
    qtbot.addWidget(dialog)
    dialog.show()
    node = next(n for n in empty_window.document.job.nodes if n.name == "box 4")
    bowl = next(e for e in dialog.findChildren(QuantityEdit) if e.path == f"nodes.{node.id}.grate.bowl_depth")
    typed(bowl, "0")
    assert state(empty_window, "grate", empty_window.document.job.runs[0].id) == "fails"
    QTest.keyClick(bowl, Qt.Key.Key_Up)
    assert next(n for n in empty_window.document.job.nodes if n.id == node.id).grate.bowl_depth > 0
    empty_window.document.stack.setClean()


def test_another_size_of_pipe_is_taken_and_undone(window, qtbot):
    document = window.document
    document.take_run("r1")
    window.sheet.rail.choose("materials")
    page(window, "One or two …")
    dialog = window.findChild(PipeChoicesDialog)
    qtbot.addWidget(dialog)
    qtbot.waitUntil(lambda: any(b.accessibleName().startswith("Take 2 ×") for b in dialog.findChildren(QPushButton)), timeout=5000)
    take = next(b for b in dialog.findChildren(QPushButton) if b.accessibleName().startswith("Take 2 ×"))
    said = take.accessibleName().removeprefix("Take 2 × ")
    take.click()
    assert document.job.runs[0].pipes == 2 and document.in_hand.make(document.station).pipe.name == said
    document.stack.undo()
    assert document.job.runs[0].pipes == 1


def test_each_exit_is_plugged_in_turn_beside_the_interface(empty_window, qtbot):
    empty_window.open_job(pattern("swale").job(), None)
    empty_window.sheet.rail.choose("storm")
    empty_window.sheet.show_view("through")
    through = empty_window.sheet.views["through"]
    qtbot.waitUntil(lambda: through.found is not None, timeout=60_000)
    choose(through.plug, "each plugged")
    qtbot.waitUntil(lambda: "one by one" in through.verdict.text(), timeout=60_000)
    assert through.detail.text().count("plugged:") == 5 and "box 4 to box 3" in through.detail.text()
    choose(through.plug, "All in order")
    qtbot.waitUntil(lambda: "one by one" not in through.verdict.text(), timeout=60_000)


def test_a_pump_curve_comes_from_a_file(window, tmp_path, monkeypatch):
    """By the button beside the curve; where the run in hand has no pump it is told, and nothing changes."""
    path = tmp_path / "pump.csv"
    path.write_text("discharge_gpm,head_ft\n0,30\n40,10\n", encoding="utf-8")
    told = []
    monkeypatch.setattr("weirant.ui.papers.ask_file", lambda *_: path)
    monkeypatch.setattr("weirant.ui.papers.tell", lambda _, title, text: told.append(text))
    document = window.document
    document.take_run("r2")
    window.papers.read_pump_curve(path)
    assert "does not end in a pump" in told[0]
    document.set_value("nodes.n4.outlet.kind", "pump in a pit")
    window.sheet.rail.choose("line")
    page(window, "the pump")
    page(window, "Read it …")
    assert [round(p.head, 3) for p in document.job.nodes[3].outlet.pump.curve] == [9.144, 3.048]
    path.write_text("discharge_gpm,head_ft\n0,10\n40,30\n", encoding="utf-8")
    page(window, "Read it …")
    assert "falling head" in told[-1] and document.job.nodes[3].outlet.pump.curve[0].head == pytest.approx(9.144)
