"""Starts the application."""

from __future__ import annotations

import os
import signal
import sys
from importlib import resources
from pathlib import Path

from PyQt6.QtCore import QByteArray, QTimer
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication

from weirant import __version__
from weirant.handbook import pages
from weirant.job import Job
from weirant.paper.lettering import load_fonts
from weirant.ui import memory
from weirant.ui.grade_page import load_solver
from weirant.ui.look import chosen_look, chosen_scale, put_on
from weirant.ui.mishaps import Mishaps
from weirant.ui.opening import load_dialogs
from weirant.ui.rhythm import show_whole
from weirant.ui.session import restore_session
from weirant.ui.tongue import speak
from weirant.ui.window import Window
from weirant.ui.work import desk, in_background

PATTERN, DEMOS = "pattern:", ("demo", "demo:roofs")
READY = 1500  # ms after the window is shown until the simulator is loaded beside it: first the hands, then the storm


def make_application() -> QApplication:
    """The application with its lettering, look and icon."""
    application = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(application, QApplication)
    application.setApplicationName("weirant")
    application.setApplicationDisplayName("Weirant")
    application.setApplicationVersion(__version__)
    application.setDesktopFileName("org.weirant.weirant")
    application.setStyle("Fusion")
    speak(application)
    load_fonts()
    desk()
    with resources.as_file(resources.files("weirant.ui").joinpath("icons", "weirant.svg")) as path:
        application.setWindowIcon(QIcon(str(path)))
    put_on(chosen_look(), chosen_scale())
    return application


def load_beside() -> None:
    """Load beside the interface what is wanted sooner or later: what lays a first job, the handbook, the dialogs."""
    load_solver()
    for load in (pages, load_dialogs):
        in_background(load, lambda _: None, lambda _: None)


def _pattern(name: str) -> Job:
    from weirant.design.patterns import pattern  # twelve small jobs that the first window need not wait for

    return pattern(name.removeprefix(PATTERN)).job()


def run(arguments: list[str]) -> int:
    """Open the window: empty, on the demo, or on a file."""
    application = make_application()
    signal.signal(signal.SIGINT, lambda *_: application.quit())
    window = Window()
    Mishaps(window).install()
    geometry = memory.remembered("geometry")
    hints = application.styleHints()
    if hints is not None:
        hints.colorSchemeChanged.connect(window.follow_desktop)
    if isinstance(geometry, QByteArray | bytes):
        window.restoreGeometry(geometry)
    wanted = arguments[0] if arguments else ""
    if not os.environ.get("WEIRANT_STOP_WHEN_SHOWN"):
        window.tour_at_first()
    if wanted in DEMOS:
        window.open_demo(wanted == DEMOS[1])
    elif wanted.startswith(PATTERN):
        window.open_job(_pattern(wanted), None)
    elif not wanted and memory.words(memory.GO_ON) != "no":
        restore_session(window)
    if geometry is None:
        show_whole(window)
    else:
        window.show()  # as it was left
    if wanted and wanted not in DEMOS and not wanted.startswith(PATTERN):
        QTimer.singleShot(0, lambda: window.files.open_file(Path(wanted)))
    QTimer.singleShot(0, window.files.keeping.offer_recovery)
    QTimer.singleShot(READY, load_beside)
    QTimer.singleShot(READY, window.watch.begin)
    if os.environ.get("WEIRANT_STOP_WHEN_SHOWN"):  # for timing the start
        QTimer.singleShot(0, lambda: QTimer.singleShot(0, application.quit))
    code = application.exec()
    window.document.stack.blockSignals(True)
    return code
