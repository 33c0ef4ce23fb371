"""Takes the pictures in docs/screenshots and those in the handbook from the demo job, by driving the real window.

Run: ./weirant python tools/screenshots.py [FOLDER]
With WEIRANT_LANG=de only those in the handbook, in that language; in English those of all languages.
"""

from __future__ import annotations

import argparse
import os
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
_home = tempfile.mkdtemp()
for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME"):
    os.environ[name] = _home

from weirant.language import TONGUES, here, is_english, use  # noqa: E402

use(TONGUES[os.environ.get("WEIRANT_LANG", "en")])  # before what looks up its texts as it is loaded

import numpy as np  # noqa: E402
from PyQt6.QtCore import QElapsedTimer, Qt  # noqa: E402
from PyQt6.QtGui import QImage  # noqa: E402
from PyQt6.QtWidgets import QApplication, QWidget  # noqa: E402

from weirant.design.as_built import with_reading  # noqa: E402
from weirant.formats.price_list import PRACTICE  # noqa: E402
from weirant.ground.inverts import invert_at  # noqa: E402
from weirant.ground.network import laid_run  # noqa: E402
from weirant.outcome.finding import DRY_IN_TIME  # noqa: E402
from weirant.ui import worked  # noqa: E402
from weirant.ui.app import make_application  # noqa: E402
from weirant.ui.dialogs.bench import BenchDialog  # noqa: E402
from weirant.ui.dialogs.why import why_finding  # noqa: E402
from weirant.ui.formulae_page import FormulaePage  # noqa: E402
from weirant.ui.storm.page import StormPage  # noqa: E402
from weirant.ui.storm.through_page import ThroughPage  # noqa: E402
from weirant.ui.theme import THEME  # noqa: E402
from weirant.ui.turn import is_quiet  # noqa: E402
from weirant.ui.window import Window  # noqa: E402
from weirant.ui.work import is_idle  # noqa: E402
from weirant.words.findings import offered  # noqa: E402

ROOT = Path(__file__).resolve().parent.parent
TARGET, HANDBOOK = ROOT / "docs" / "screenshots", ROOT / "src" / "weirant" / "handbook"
WIDTH, COLOURS = 840, 128  # of a picture in the handbook: px, and how many
LONGEST, CALM = 20_000, 3  # ms; turns in which nothing waits
STEPS = ("water", "levels", "map", "soil", "line", "trench", "materials", "storm", "order", "dig")


def settle(milliseconds: int = 500) -> None:
    """Let the window do its work, for so long at least, and until nothing waits for its turn and nothing is worked out beside it."""
    clock = QElapsedTimer()
    clock.start()
    calm = 0  # turns: what was made while nothing was painted asks for its own when it is
    while clock.elapsed() < milliseconds or (clock.elapsed() < LONGEST and calm < CALM):
        QApplication.processEvents()
        calm = calm + 1 if is_idle() and all(map(is_quiet, QApplication.topLevelWidgets())) else 0


def shoot(widget: QWidget, name: str, folder: Path) -> None:
    """One picture."""
    settle()
    widget.grab().save(str(folder / f"{name}.png"))


def shoot_stage(window: Window, step: str) -> None:
    """The stage of a step for the handbook: smaller, and of few colours, since it ships with the program."""
    assert window.sheet is not None
    settle()
    picture = _of_few_colours(window.sheet.stage.grab().toImage().scaledToWidth(WIDTH, Qt.TransformationMode.SmoothTransformation))
    folder = HANDBOOK / "pictures" / here().code
    folder.mkdir(parents=True, exist_ok=True)
    picture.save(str(folder / f"step-{step}.png"), "PNG", 0)


def _of_few_colours(picture: QImage) -> QImage:
    """A picture in its own commonest colours, no two of them alike to the eye."""
    picture = picture.convertToFormat(QImage.Format.Format_RGB32)
    bits = picture.constBits()
    assert bits is not None
    colours, counts = np.unique(np.frombuffer(bytes(bits.asarray(picture.sizeInBytes())), dtype=np.uint32), return_counts=True)
    table: dict[int, int] = {}
    for colour in colours[np.argsort(counts)[::-1]].tolist():
        table.setdefault(colour & 0xF8F8F8, colour)
    return picture.convertToFormat(QImage.Format.Format_Indexed8, list(table.values())[:COLOURS], Qt.ImageConversionFlag.ThresholdDither)


def _site(window: Window, folder: Path) -> None:
    """The plan of the work, the best grade on trial, an old drain that was opened."""
    document = window.document
    assert window.sheet is not None
    window.sheet.rail.choose("order")
    window.sheet.show_view("plan of work")
    settle(1500)
    shoot(window, "plan-of-work", folder)
    window.sheet.show_view("order")
    window.sheet.rail.choose("map")
    window.find_best_grade()
    settle(2500)
    shoot(window, "best-grade", folder)
    document.put_back()
    window.sheet.rail.choose("water")
    window.sheet.show_view("old drain")
    shoot(window, "old-drain", folder)
    window.sheet.show_view("plan")
    while document.stack.canUndo():
        document.stack.undo()


def _readings(window: Window) -> None:
    """What was built, one of the stations wrong."""
    document = window.document
    job = document.job
    for station, off in ((20, 0.003), (40, -0.002), (60, 0.004), (78, 0.0), (100, 0.0762)):
        at = station * 0.3048
        job = with_reading(job, "r1", at, float(invert_at(laid_run(job, "r1"), np.array(at))) + off)
    document.change(job, "readings")
    document.move_to(100 * 0.3048)


def _steps(window: Window) -> Iterator[str]:
    """Each step in the order of the trade, with what there is to see in it; what it did to the job is undone."""
    assert window.sheet is not None
    for step in STEPS:
        if step == "dig":
            _readings(window)
        window.sheet.rail.choose(step)
        if step == "storm":
            _storm(window)
        elif step == "soil":
            settle(2000)
        elif step == "order":
            window.sheet.views["order"].choice.take(PRACTICE[0])  # type: ignore[attr-defined]
            settle(1000)
        elif step == "trench":
            window.lay_beside()  # the roof's water may share the trench in a pipe of its own
        yield step
        while window.document.stack.canUndo():
            window.document.stack.undo()


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
    dialog.show()
    dialog.resize(1100, 680)  # the screen that there is none of would have it smaller
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


def _opened() -> Window:
    """A window of the size most have, before a job."""
    THEME.apply("daylight", 1.0)
    window = Window()
    window.resize(1280, 800)
    window.show()
    while not all(tile.is_sketched for tile in window.start.pattern_tiles):
        settle(100)
    return window


def _demo(window: Window) -> None:
    """Open the demo, and wait for what comes last of its findings."""
    worked.PATIENCE = None
    window.open_demo()
    window.watch.begin()
    while all(f.code != DRY_IN_TIME for f in window.document.outcome.findings):
        settle(200)


def main(folder: Path) -> None:
    """All pictures, in the order of the trade."""
    folder.mkdir(parents=True, exist_ok=True)
    application = make_application()
    window = _opened()
    if is_english():
        shoot(window, "start", folder)
    _demo(window)
    for number, step in enumerate(_steps(window), 1):
        shoot_stage(window, step)
        if is_english():
            shoot(window, f"step-{number}-{step}", folder)
    if is_english():
        _rest(window, folder)
    window.document.stack.setClean()
    window.close()
    application.quit()
    if is_english():
        for tongue in TONGUES:
            if tongue != here().code and (HANDBOOK / "pages" / tongue).is_dir():
                subprocess.run([sys.executable, __file__], env={**os.environ, "WEIRANT_LANG": tongue}, check=True)


def _rest(window: Window, folder: Path) -> None:
    """What is no step: pages and dialogs, a fix on trial, the dim look in metres."""
    assert window.sheet is not None
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
    window.sheet.rail.choose("storm")
    window.sheet.show_view("through")
    through = window.sheet.views["through"]
    assert isinstance(through, ThroughPage)
    through.choice.storms.take("cloudburst")
    through.choice.spans.setCurrentIndex(0)
    through.refresh()
    while through.found is None or through.found.storm.name != "cloudburst":
        settle(200)
    window.document.take_run("r3")
    through.film.turn_to(0.028)
    shoot(window, "dim-metric", folder)


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path, nargs="?", default=TARGET)
    main(parser.parse_args().folder)
