"""A storm through the pipes in the real window: worked out beside the interface, moved through, with exits plugged, and anew with the job."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from weirant.design.patterns import pattern
from weirant.drawing.primitives import Mark, Stroke
from weirant.ui.dialogs.why import why_finding
from weirant.ui.sheet.views import WORDS
from weirant.ui.views.picture import Picture


@pytest.fixture
def page(window, qtbot):
    window.open_job(pattern("eave").job(), None)
    window.sheet.rail.choose("storm")
    link = next(b for b in window.sheet.companions.findChildren(QPushButton) if b.text() == WORDS["through"] and not b.isHidden())
    qtbot.waitUntil(lambda: window.sheet.views["through"] is not None)
    link.click()
    found = window.sheet.views["through"]
    qtbot.waitUntil(lambda: found.found is not None, timeout=60_000)
    return found


def test_the_storm_is_followed_played_and_pointed_into(page, qtbot):
    assert "All of it leaves by the exits. Fullest is eave line" in page.verdict.text() and "no water is lost" in page.detail.text()
    first, frame = page.profile.drawing, page.chart.frame
    QTest.mouseClick(page.chart, Qt.MouseButton.LeftButton, pos=QPoint(round(frame.to_paper((36.0, 0.5)).x()), page.chart.height() // 2))
    assert page.film.share == pytest.approx(0.5, abs=0.003) and page.profile.drawing is not first
    page.setFocus()
    QTest.keyClick(page, Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: page.film.share > 0.52)
    QTest.keyClick(page, Qt.Key.Key_Escape)
    assert not page.film.is_running and not page.stop_button.isEnabled()


def test_a_plugged_exit_floods_its_boxes_and_another_storm_or_roof_is_followed_anew(page, window, qtbot):
    assert [page.plug.itemText(k) for k in range(page.plug.count())] [:3] == ["All in order", "each plugged in turn", "eave line plugged"]
    page.plug.setCurrentIndex(2)
    page.plug.activated.emit(2)
    qtbot.waitUntil(lambda: "come over the ground, most of it at box" in page.verdict.text(), timeout=20_000)
    assert "Comes over the ground at box 1" in page.detail.text()
    page.plug.setCurrentIndex(0)
    page.plug.activated.emit(0)
    qtbot.waitUntil(lambda: "All of it leaves" in page.verdict.text(), timeout=20_000)
    before = page.found.parts[0].routed.came
    window.document.set_value("water.storm_depth", 0.1016)
    qtbot.waitUntil(lambda: page.found.parts[0].routed.came == pytest.approx(2 * before, rel=0.01), timeout=20_000)
    window.document.stack.undo()
    qtbot.waitUntil(lambda: page.found.parts[0].routed.came == pytest.approx(before, rel=1e-6), timeout=20_000)


def test_what_cannot_be_followed_says_what_it_needs(page, window, qtbot):
    window.open_job(pattern("uphill").job(), None)
    window.sheet.rail.choose("storm")
    window.sheet.show_view("through")
    qtbot.waitUntil(lambda: page.found is not None and bool(page.found.missing), timeout=20_000)
    assert "drain: not followed until you have what runs into the inlet of drain" in page.verdict.text() and page.profile.drawing is None


def test_a_pump_in_a_pit_is_chosen_typed_and_left_without_power(window, qtbot):
    window.sheet.rail.choose("line")
    card = window.sheet.card
    kinds = card.entry("nodes.n1.outlet.kind")
    kinds.setCurrentIndex(kinds.findText("pump in a pit"))
    kinds.activated.emit(kinds.currentIndex())
    assert window.document.job.nodes[0].outlet.pump is not None and {b.text() for b in window.sheet.card.findChildren(QPushButton)} >= {"the pit", "the pump"}
    curve = card.entry("nodes.n1.outlet.pump.curve")
    for words, fault in (("20 gpm 18 ft", "wants a discharge and a head"), ("20 gpm: 18 ft; 10 gpm: 25 ft", "growing discharge"), ("0: 30 ft; 1 l/s: 12 ft; 150 L/min: 3 m", "")):
        curve.setFocus()
        curve.selectAll()
        QTest.keyClicks(curve, words)
        QTest.keyClick(curve, Qt.Key.Key_Return)
        assert (fault in curve.fault) if fault else not curve.fault
    assert [p.head for p in window.document.job.nodes[0].outlet.pump.curve] == pytest.approx([9.144, 3.6576, 3.0])
    pumps = next(f for f in window.document.outcome.findings if f.code == "pump")
    why = why_finding(pumps, window.document.outcome, window)
    drawn = why.findChild(Picture).drawing
    point = next(shape.at for shape in drawn.shapes if isinstance(shape, Mark))
    ahead = next(shape.points for shape in drawn.shapes if isinstance(shape, Stroke) and shape.line == "flow")
    assert np.interp(point[0], *zip(*ahead, strict=True)) == pytest.approx(point[1], abs=0.01)  # the point lies on what the pipe up asks for
    window.sheet.rail.choose("storm")
    window.sheet.show_view("through")
    qtbot.waitUntil(lambda: window.sheet.views["through"].found is not None, timeout=60_000)
    page = window.sheet.views["through"]
    assert "Pumped out of slab drain" in page.detail.text() and "starts" in page.detail.text()
    page.plug.setCurrentIndex(page.plug.findText("no power for 6 h"))
    page.plug.activated.emit(page.plug.currentIndex())
    qtbot.waitUntil(lambda: "come over the ground, most of it at slab drain" in page.verdict.text(), timeout=20_000)
    for _ in range(2):
        window.document.stack.undo()
    assert window.document.job.nodes[0].outlet.pump is None and window.document.job.nodes[0].kind == "plain"
