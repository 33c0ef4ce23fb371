"""Watching a storm in the real window: it runs beside the interface, follows the job, can be left, and says how sure it is."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from weirant.formats.rain_days_csv import write_rain_days
from weirant.job.rain import OWN
from weirant.outcome.finding import State
from weirant.ui.storm import loading, surety, watch
from weirant.ui.storm.page import WITH, WITHOUT
from weirant.words.findings import offered, worded


@pytest.fixture
def page(window, qtbot):
    window.sheet.rail.choose("storm")
    page = window.sheet.views["storm"]
    qtbot.waitUntil(lambda: WITHOUT in page.found and not page.runner.is_running, timeout=60_000)
    return page


def test_the_demo_is_dry_in_time_with_the_drain_and_wet_for_days_without(page):
    assert page.found[WITH].after_rain is not None and page.found[WITHOUT].after_rain is None
    assert "it is dry to 18.0 in" in page.verdict.text() and "Without it, it is wetter" in page.verdict.text()
    assert "gpm/100 ft" in page.detail.text() and "no water is lost" in page.sums.text()
    assert all(s.course.balance_error < 1e-5 for s in page.found.values())


def test_slider_chart_and_film_move_the_picture(page, qtbot):
    first = page.drained.drawing
    page.slider.setValue(300)
    assert page.drained.drawing is not first and page.clock.text().strip() == "21.6 h"
    frame = page.chart.frame
    QTest.mouseClick(page.chart, Qt.MouseButton.LeftButton, pos=QPoint(round(frame.to_paper((36.0, 0.5)).x()), page.chart.height() // 2))
    assert page.slider.value() == pytest.approx(500, abs=3)
    page.slider.setValue(980)
    page.setFocus()
    page.play()
    qtbot.waitUntil(lambda: page.slider.value() == 1000, timeout=5000)


def test_a_change_is_simulated_anew_and_undo_too(page, window, qtbot):
    before = page.found[WITH].volume
    window.document.set_value("water.storm_depth", 0.1016)
    qtbot.waitUntil(lambda: WITHOUT in page.found and page.found[WITH].volume > 1.2 * before and not page.runner.is_running, timeout=30_000)
    window.document.stack.undo()
    qtbot.waitUntil(lambda: WITHOUT in page.found and page.found[WITH].volume == pytest.approx(before) and not page.runner.is_running, timeout=30_000)


def test_what_is_left_is_told_as_far_as_it_goes_and_can_be_begun_anew(page, window, qtbot):
    window.document.set_value("water.storm_depth", 0.06)
    page.spans.setCurrentIndex(3)
    before = page.found[WITH]
    page.simulate()
    qtbot.waitUntil(lambda: page.found[WITH] is not before and page.found[WITH].course.reached > 0, timeout=30_000)
    page.stop()
    assert not page.runner.is_running and not page.stop_button.isEnabled()
    if not page.found[WITH].course.is_whole:
        assert "the sum was left at" in page.verdict.text() and "of 240 h" in page.verdict.text()
    assert "wetter than" not in page.verdict.text().split("Without")[0]
    assert max(s.course.balance_error for s in page.found.values()) < 1e-3
    page.refresh()
    qtbot.waitUntil(lambda: WITHOUT in page.found and page.found[WITHOUT].course.is_whole and not page.runner.is_running, timeout=60_000)
    assert "the sum was left" not in page.verdict.text()
    window.sheet.rail.choose("order")
    qtbot.wait(50)


def test_the_window_waits_for_the_simulator_with_a_word(window, qtbot, monkeypatch):
    monkeypatch.setattr(loading, "_loaded", [])
    window.sheet.rail.choose("storm")
    assert "Loading" in window.sheet.stage.view.text()
    qtbot.waitUntil(lambda: window.sheet.stage.view is window.sheet.views["storm"], timeout=30_000)
    monkeypatch.setattr(loading, "_loaded", [])
    window.sheet.rail.choose("order")
    window.sheet.rail.choose("storm")
    window.sheet.rail.choose("trench")
    qtbot.waitUntil(loading.is_loaded, timeout=30_000)
    qtbot.wait(50)
    assert window.sheet.view == "section"  # who has gone on is not fetched back


def test_a_gauge_log_becomes_a_storm(page, window, tmp_path):
    log = tmp_path / "tuesday.csv"
    log.write_text("clock time;depth_mm\n2026-11-03 06:00;0,0\n2026-11-03 06:15;2,5\n2026-11-03 06:45;4,0\n")
    window.papers.read_storm(log)
    storm = window.document.job.storms[-1]
    assert (storm.name, storm.shape, storm.step) == ("tuesday", OWN, 900.0) and storm.depth == pytest.approx(0.0065)
    assert sum(storm.readings) == pytest.approx(0.0065) and storm.readings[2] == pytest.approx(storm.readings[3]) == pytest.approx(0.002)
    assert page.storms.findText("tuesday") >= 0


def test_how_sure_it_is_comes_with_a_band(page, qtbot, monkeypatch):
    with ThreadPoolExecutor(1) as executor:
        monkeypatch.setattr(surety, "own_pool", lambda: executor)
        monkeypatch.setattr(surety, "SAMPLES", 6)
        page.sure_button.click()
        qtbot.waitUntil(lambda: page.ensemble is not None, timeout=60_000)
    assert "of 100 plausible grounds" in page.detail.text()
    assert any(getattr(shape, "line", "") == "band edge" for shape in page.drained.drawing.shapes)
    assert not any(getattr(shape, "line", "") == "band edge" for shape in page.bare.drawing.shapes)
    assert any(getattr(shape, "material", "") == "water band" for shape in page.chart.drawing.shapes)


def test_what_is_not_known_is_said_in_place_of_a_picture(page, window, qtbot):
    import dataclasses

    from weirant.job.survey import Survey

    job = dataclasses.replace(window.document.job, survey=Survey(), points=())
    window.document.change(job, "no readings")
    qtbot.waitUntil(lambda: "type the rod readings first" in page.verdict.text(), timeout=10_000)
    assert page.drained.drawing is None


def test_a_storm_is_made_from_the_rainfall_table(window, qtbot, tmp_path):
    from weirant.ui.dialogs.rainfall import RainfallDialog

    dialog = RainfallDialog(window.document, window)
    qtbot.addWidget(dialog)
    dialog.show()
    dialog.make_storm()
    assert window.document.job.storms[-1].name.startswith("once in 10 years") and "in the list of storms" in dialog.said.text()
    dialog.ask_service()
    qtbot.waitUntil(dialog.ask.isEnabled, timeout=5000)
    assert dialog.table.columnCount() == 3 and "made-up" in dialog.said.text() and dialog.days.text().startswith("9 8 10")
    dialog.table.item(0, 0).setText("lots")
    dialog.accept()
    assert "5 min, once in 2 years" in dialog.said.text() and dialog.isVisible()
    path = tmp_path / "rain.csv"
    path.write_text("duration_min,10_years_mm\n60,40\n1440,100\n")
    dialog.read_file(path)
    days = tmp_path / "days.csv"
    days.write_text(write_rain_days((0.5,) * 12))
    dialog.read_file(days)
    assert dialog.table.rowCount() == 2 and dialog.days.text().startswith("15.5 14.1")
    dialog.days.setText(dialog.days.text() + " 3")
    dialog.accept()
    assert "twelve numbers" in dialog.said.text() and dialog.isVisible()
    dialog.days.setText("30")
    count = dialog.storms.count()
    dialog.storms.setCurrentText("cloudburst")
    dialog.drop.click()
    assert "cloudburst" not in [s.name for s in window.document.job.storms] and dialog.storms.count() == count - 1
    dialog.accept()
    assert [(e.duration, round(e.depth, 4)) for e in window.document.job.rainfall] == [(3600.0, 0.04), (86400.0, 0.1)] and not dialog.isVisible()
    assert window.document.job.work.rain == (0.3,)


def test_paths_and_cells_can_be_asked_for(page, qtbot):
    page.paths_box.setChecked(True)
    assert any(getattr(shape, "line", "") == "path" for shape in page.drained.drawing.shapes)
    page.check_cells()
    qtbot.waitUntil(lambda: "Cells half as large change the volume by" in page.sums.text(), timeout=60_000)
    assert "the cells are small enough" in page.sums.text()


def test_the_storms_finding_comes_by_itself_and_follows_change_trial_and_undo(window, qtbot):
    document, panel = window.document, window.sheet.findings

    def found():
        return next((f for f in document.outcome.findings if f.code == "dry-in-time"), None)

    assert found() is None and window.sheet.rail.buttons[7].words == "ready"
    window.sheet.rail.choose("levels")
    table = window.sheet.views["readings"].table
    table.setFocus()
    table.setCurrentIndex(table.shots.index(1, 3))
    QTest.keyClicks(QApplication.focusWidget(), "4.")
    document.refused.emit("a message")
    window.watch.begin()
    qtbot.waitUntil(lambda: found() is not None, timeout=60_000)
    assert QApplication.focusWidget().text() == "4." and window.sheet.head.message.text() == "a message"  # whoever types is left in peace
    QTest.keyClick(table, Qt.Key.Key_Escape)
    panel.holds_button.click()
    qtbot.waitUntil(lambda: any(r.finding is not None and r.finding.code == "dry-in-time" for r in panel._rows))
    assert found().state == State.HOLDS
    assert window.sheet.rail.buttons[7].words == "holds"
    document.set_value("features.t10.dry_within", 3600.0)
    assert found() is None  # what was worked out before is not shown of what is now
    qtbot.waitUntil(lambda: found() is not None, timeout=60_000)
    assert found().state == State.FAILS
    qtbot.waitUntil(lambda: panel.card_of("dry-in-time") is not None, timeout=5000)
    assert window.sheet.rail.buttons[7].words == "1 fails"
    document.try_fix(offered(panel.card_of("outlet-level").finding.fixes[0], document.job))
    qtbot.waitUntil(lambda: found() is not None, timeout=60_000)
    document.put_back()
    assert found().state == State.FAILS
    document.stack.undo()
    assert found().state == State.HOLDS  # it comes back with its outcome
    document.set_value("water.drainage_rate", 1e-6)
    table = [f for f in document.outcome.findings if f.code == "table"]
    assert [f.case for f in table] == ["waits"]  # more seepage than the line is trusted with
    qtbot.waitUntil(lambda: [f.state for f in document.outcome.findings if f.code == "table"] == [State.FAILS], timeout=60_000)
    document.stack.undo()
    document.dragging = True
    document.set_value("sections.s1.width", 0.5)
    qtbot.wait(700)
    assert found() is None  # a drag is left alone
    document.end_drag()
    qtbot.waitUntil(lambda: found() is not None, timeout=60_000)


def test_what_waits_is_told_not_to_come_where_the_simulator_cannot_be_had(window, monkeypatch):
    document = window.document
    document.set_value("water.storm_depth", 0.3)
    document.set_value("water.storm_duration", 7200.0)

    def of(case):
        return [f for f in document.outcome.findings if f.case == case]

    assert of("waits") and not of("refused")
    monkeypatch.setattr(watch, "when_loaded", lambda then, failed: failed("no compiler"))
    window.watch.begin()
    assert of("refused") and not of("waits") and "cannot be loaded here: no compiler" in worded(of("refused")[0], document.job).reason
    document.set_value("water.storm_depth", 0.31)
    assert of("refused") and not of("waits")
