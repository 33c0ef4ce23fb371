"""Takes the pictures in docs/screenshots from the demo job, by driving the real window.

Run: ./weirant python tools/screenshots.py
"""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
_home = tempfile.mkdtemp()
for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME"):
    os.environ[name] = _home

import numpy as np  # noqa: E402
from PyQt6.QtCore import QElapsedTimer  # noqa: E402
from PyQt6.QtWidgets import QApplication, QWidget  # noqa: E402

from weirant.design.as_built import with_reading  # noqa: E402
from weirant.ground.inverts import invert_at  # noqa: E402
from weirant.ground.network import laid_run  # noqa: E402
from weirant.outcome.finding import DRY_IN_TIME  # noqa: E402
from weirant.ui.app import make_application  # noqa: E402
from weirant.ui.dialogs.bench import BenchDialog  # noqa: E402
from weirant.ui.dialogs.receiver import ReceiverDialog  # noqa: E402
from weirant.ui.dialogs.why import why_finding  # noqa: E402
from weirant.ui.formulae_page import FormulaePage  # noqa: E402
from weirant.ui.storm.page import StormPage  # noqa: E402
from weirant.ui.theme import THEME  # noqa: E402
from weirant.ui.window import Window  # noqa: E402
from weirant.words.findings import offered  # noqa: E402

TARGET = Path(__file__).resolve().parent.parent / "docs" / "screenshots"


def settle(milliseconds: int = 500) -> None:
    """Let the window do its work."""
    clock = QElapsedTimer()
    clock.start()
    while clock.elapsed() < milliseconds:
        QApplication.processEvents()


def shoot(widget: QWidget, name: str, folder: Path) -> None:
    """One picture."""
    settle()
    widget.grab().save(str(folder / f"{name}.png"))


def _site(window: Window, folder: Path) -> None:
    """A thing in hand, the best grade on trial, readings in the trench, a rover to practise with."""
    document = window.document
    assert window.sheet is not None
    window.sheet.rail.choose("map")
    document.take_thing(next(f.id for f in document.job.features if f.is_private))
    shoot(window, "thing-in-hand", folder)
    document.take_thing("")
    window.find_best_grade()
    settle(2500)
    shoot(window, "best-grade", folder)
    document.put_back()
    job = document.job
    for station, off in ((20, 0.003), (40, -0.002), (60, 0.004), (78, 0.0), (100, 0.0762)):
        at = station * 0.3048
        job = with_reading(job, "r1", at, float(invert_at(laid_run(job, "r1"), np.array(at))) + off)
    document.change(job, "readings")
    document.move_to(100 * 0.3048)
    window.sheet.rail.choose("dig")
    shoot(window, "step-10-dig", folder)
    document.stack.undo()
    receiver = ReceiverDialog(document, window)
    receiver.show()
    receiver.ports.setCurrentText("practice: a satellite rover")
    receiver.toggle()
    settle(1500)
    receiver.start_shot()
    settle(2500)
    shoot(receiver, "instrument", folder)
    receiver.close()
    while document.stack.canUndo():
        document.stack.undo()


def _storm(window: Window) -> None:
    """The design storm on the clubhouse section, a few hours after the rain, with how sure it is."""
    assert window.sheet is not None
    page = window.sheet.views["storm"]
    assert isinstance(page, StormPage)
    settle(1000)
    while page.runner.is_running or not page.found:
        settle(200)
    page.ask_surety()
    while page.ensemble is None:
        settle(200)
    page.slider.setValue(130)


def _bench(window: Window, folder: Path) -> None:
    """The gravel box while it rains on it."""
    dialog = BenchDialog(window.document.system, window)
    dialog.resize(1100, 680)
    dialog.show()
    dialog.soil.setCurrentIndex(2)
    dialog.rain.setText("4 in")
    for choice in dialog.guesses:
        choice.setCurrentIndex(2)
    dialog.pour()
    while dialog.course is None:
        settle(100)
    dialog._film.stop()
    dialog.slider.setValue(round(0.62 * dialog.slider.maximum()))
    dialog.tell()
    shoot(dialog, "bench", folder)
    dialog.close()


def main(folder: Path) -> None:
    """All pictures, in the order of the trade."""
    folder.mkdir(parents=True, exist_ok=True)
    application = make_application()
    THEME.apply("daylight", 1.0)
    window = Window()
    window.resize(1280, 800)
    window.show()
    while window.start._unsketched:
        settle(100)
    shoot(window, "start", folder)
    window.open_demo()
    assert window.sheet is not None
    window.watch.begin()
    while all(f.code != DRY_IN_TIME for f in window.document.outcome.findings):
        settle(200)
    for number, step in enumerate(("water", "levels", "map", "soil", "line", "trench", "materials", "storm", "order"), 1):
        window.sheet.rail.choose(step)
        if step == "storm":
            _storm(window)
        elif step == "soil":
            settle(2000)
        elif step == "trench":
            window.lay_beside()  # the roof's water may share the trench in a pipe of its own
        shoot(window, f"step-{number}-{step}", folder)
        if step == "trench":
            window.document.stack.undo()
    window.sheet.rail.choose("water")
    window.sheet.show_view("formulae")
    formulae = window.sheet.views["formulae"]
    assert isinstance(formulae, FormulaePage)
    formulae.grounds.setCurrentIndex(2)
    formulae.grounds.activated.emit(2)
    shoot(window, "formulae", folder)
    _bench(window, folder)
    _site(window, folder)
    window.sheet.rail.choose("line")
    failing = window.document.outcome.findings[0]
    window.document.try_fix(offered(failing.fixes[0], window.document.job))
    shoot(window, "fix-on-trial", folder)
    window.document.put_back()
    dialog = why_finding(next(f for f in window.document.outcome.findings if f.code == "table"), window.document.outcome, window)
    dialog.show()
    shoot(dialog, "why", folder)
    dialog.close()
    window.switch_units()
    window.switch_theme()
    window.sheet.rail.choose("trench")
    shoot(window, "dim-metric", folder)
    window.document.stack.setClean()
    window.close()
    application.quit()


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else TARGET)
