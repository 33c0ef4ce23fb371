"""Walks at random over the real window, as no person would: presses, types half a word, drags, opens files that are none, thinks better of it.

Run: ./weirant python tools/random_walk.py [--actions 10000] [--seed 1]. Fails (exit 1) with the last actions told, where an exception came through,
Qt warned, a thread was left over, text of the job was taken for markup, or widgets and memory do not level off. Told, too, is when the
interface thread was away for longer than a hand notices.
"""

from __future__ import annotations

import argparse
import faulthandler
import os
import random
import sys
import tempfile
import threading
import traceback
from collections import Counter, deque
from collections.abc import Callable
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # as the program itself has it
sys.path.insert(0, str(Path(__file__).parent))  # the launcher's interpreter does not look beside a script
_home = tempfile.mkdtemp(prefix="walk-")
for _name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME"):
    os.environ[_name] = _home

from late_events import Watched, WatchedByEvent  # noqa: E402
from PyQt6.QtCore import QPoint, QPointF, QProcess, QSettings, Qt, QTimer, QtMsgType, qInstallMessageHandler  # noqa: E402
from PyQt6.QtGui import QWheelEvent  # noqa: E402
from PyQt6.QtTest import QTest  # noqa: E402
from PyQt6.QtWidgets import (  # noqa: E402
    QAbstractButton,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QLabel,
    QLineEdit,
    QMessageBox,
    QTableView,
    QWidget,
)

from weirant.design.demo import demo_job  # noqa: E402
from weirant.design.demo_roofs import roofs_job  # noqa: E402
from weirant.design.patterns import PATTERNS  # noqa: E402
from weirant.errors import NoJobError  # noqa: E402
from weirant.formats import job_file  # noqa: E402
from weirant.formats.points_csv import write_points  # noqa: E402
from weirant.formats.survey_csv import write_survey  # noqa: E402
from weirant.job.paths import leads_somewhere, value_at  # noqa: E402
from weirant.job.site import SitePoint  # noqa: E402
from weirant.outcome.commands import Instead, Offer  # noqa: E402
from weirant.ui.app import READY, load_beside, make_application  # noqa: E402
from weirant.ui.views.canvas import Canvas  # noqa: E402
from weirant.ui.window import Window  # noqa: E402

MARKUP = "<img src='/dev/zero'><b>bold</b>&amp;"
TYPED = ("5.12", "4", "12 ft", "3/4 in", "1 in per 10 ft", "-3", "", "0", "nan", "1e999", "half a w", MARKUP, "=cmd|x", "9" * 300, "30, 12", "tape 40 left 12", "1:30", "loam 10 in", "ß😀",
         "2 mm:100, 0.25 mm:93, 0.075 mm:68")  # fmt: skip
KEYS = (Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Tab, Qt.Key.Key_Backtab, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Delete, Qt.Key.Key_Insert,
        Qt.Key.Key_Home, Qt.Key.Key_End, Qt.Key.Key_Space, Qt.Key.Key_Plus, Qt.Key.Key_Minus, Qt.Key.Key_Backspace, Qt.Key.Key_PageDown)  # fmt: skip
HANDS: Any = QTest  # its published types ask for an instance, which there is none of
NEVER = ("&Quit",)
ODD: tuple[tuple[str, Any], ...] = (
    ("runs.r3.slope", 0.0), ("runs.r2.length", 0.4), ("runs.r1.length", 55.0), ("runs.r4.solid_length", 12.0), ("runs.r1.solid_length", 0.0), ("runs.r1.slope", 0.5),
    ("runs.r1.invert", 0.0), ("points", ()),
    ("survey.shots", ()), ("features", ()), ("runs.r1.place", ""), ("runs.r4.place", "t1"), ("runs.r2.trench_of", "r4"), ("runs.r4.trench_of", "r3"),
    ("nodes.n7.outlet.kind", "pop-up emitter"), ("sections.s1.width", 1e-4),
    ("soils.g1.hard_layer_depth", 0.01), ("soils.g1.water_table_depth", 50.0), ("soils", ()), ("sources.w1.node", "n3"), ("sources.w1.area", None),
    ("features.t10.kind", "lawn"), ("features.t10.dry_depth", None), ("runs.r3.source", "parallel lines"), ("runs.r3.place", "t2"), ("runs.r1.distance", 500.0),
    ("holes", ()), ("storms", ()), ("sections.s1.bedding", 1.0),
    ("sections.s2.width", 0.15), ("runs.r1.status", "existing"), ("sections.s1.top", "turf on the stone"), ("runs.r1.reach", 0.01),
    ("nodes.n1.outlet.kind", "pump in a pit"), ("nodes.n7.outlet.kind", "pump in a pit"), ("nodes.n1.outlet.pump.leads", "n3"), ("nodes.n1.outlet.pump.lets_go_at", 9000.0),
    ("nodes.n4.outlet.kind", "existing main"), ("nodes.n4.outlet.main.diameter", 1e-4), ("nodes.n4.outlet.main.slope", 0.5), ("nodes.n4.outlet.main.own_flow", 100.0),
    ("nodes.n4.outlet.main.filled", 0.9), ("nodes.n7.outlet.kind", "dry well"), ("nodes.n7.outlet.soaks.percolation", 1e-13), ("nodes.n7.outlet.soaks.percolation", 1.0),
    ("nodes.n7.outlet.soaks.water_table", 9000.0), ("nodes.n1.outlet.kind", "grate riser"), ("nodes.n1.outlet.mouth.clear", 0.001), ("nodes.n1.outlet.mouth.across", 1e-4),
    ("nodes.n1.outlet.mouth.flap", True), ("nodes.n1.outlet.storm_level", 9000.0), ("sections.s1.traffic", "trucks"), ("limits.grate_blocked", 0.99),
    ("sections.s1.wrap", "lining"), ("sections.s1.wrap", "sheet on top"), ("nodes.n1.outlet.kind", "spread over a lawn"), ("nodes.n1.outlet.water_level", None),
)  # fmt: skip
WIDGETS, MEGABYTES = 500, 120  # more than that over the second half of a long walk is a leak


def is_qts_own(widget: QWidget) -> bool:
    """Whether a widget is of Qt's own preview of print, which counts its pages, and complains where no printer is there to be set up."""
    return type(widget.window()).__name__ == "QPrintPreviewDialog"


class Walk:
    """One walk; ``trouble`` gathers what must not be."""

    def __init__(self, seed: int, pattern: str = "", rests: int = 0, by_event: bool = False) -> None:
        self.chance, self.trouble, self.rests = random.Random(seed), Counter[str](), rests
        self.last: deque[str] = deque(maxlen=12)
        self.folder = Path(tempfile.mkdtemp(prefix="walk-files-"))
        self._lay_out_files()
        qInstallMessageHandler(self._said)
        sys.excepthook = lambda kind, fault, trace: self._met(fault)
        threading.excepthook = lambda found: self._met(found.exc_value or RuntimeError("a thread ended"))
        self.watch = (WatchedByEvent if by_event else Watched)(sys.argv[:1])
        exec_box = QMessageBox.exec
        QMessageBox.exec = lambda box: self.watch.apart(lambda: exec_box(box))  # type: ignore[method-assign, assignment]
        self.application = make_application()
        QSettings("weirant", "weirant").clear()
        QFileDialog.getOpenFileName = lambda *_, **__: self._some_file()  # type: ignore[method-assign]
        QFileDialog.getSaveFileName = lambda *_, **__: self._some_file()  # type: ignore[method-assign]
        QFileDialog.getExistingDirectory = lambda *_, **__: self.chance.choice(["", str(self.folder / "sheets"), str(self.folder / "book.csv")])  # type: ignore[method-assign]
        QProcess.startDetached = lambda *_: (True, 0)  # type: ignore[method-assign]  # a further window would outlive the walk
        self.window = Window()
        self.window.resize(1280, 800)
        self.window.show()
        self.window.activateWindow()
        self._answering = QTimer()
        self._answering.setInterval(30)
        self._answering.timeout.connect(self._answer)
        self._answering.start()
        if pattern:
            self.window.open_job(PATTERNS[pattern].job(), None)
        else:
            self.window.open_demo()
        QTimer.singleShot(READY, load_beside)
        self.rename()

    def _lay_out_files(self) -> None:
        job = demo_job()
        (self.folder / "good.weirant").write_text(job_file.to_text(job), encoding="utf-8")
        (self.folder / "bad.weirant").write_text("{", encoding="utf-8")
        (self.folder / "points.csv").write_text(write_points(tuple(SitePoint(f"{MARKUP}{n}", 3.0 * n, 2.0 * (n % 3), 30 + n / 10) for n in range(9)), "m"), encoding="utf-8")
        (self.folder / "book.csv").write_text(write_survey(job.survey.shots, "ft"), encoding="utf-8")
        (self.folder / "rain.csv").write_text("time_h,depth_in\n1,0.5\n2,1.0\n", encoding="utf-8")
        (self.folder / "products.csv").write_text(f"name,inside,outside,roughness,opening,open_area\n{MARKUP},100 mm,118 mm,0.012,1.6 mm,21 cm2/m\n", encoding="utf-8")
        os.mkfifo(self.folder / "pipe.csv")

    def _some_file(self) -> tuple[str, str]:
        names = ["", "good.weirant", "bad.weirant", "points.csv", "book.csv", "rain.csv", "products.csv", "pipe.csv", "new", "new.pdf", "nowhere/x.csv"]
        name = self.chance.choice(names)
        return (str(self.folder / name) if name else "", "")

    def _said(self, kind: QtMsgType, _: object, words: str | None) -> None:
        if kind != QtMsgType.QtDebugMsg and "This plugin does not support" not in (words or ""):
            self._note(f"Qt: {words}")

    def _met(self, fault: BaseException) -> None:
        if not isinstance(fault, NoJobError):  # as ui/mishaps.py has it
            self._note("".join(traceback.format_exception(fault)[-9:]))

    def _note(self, words: str) -> None:
        if words not in self.trouble:
            print(f"{words}\n  after: {' | '.join(self.last)}", flush=True)
        self.trouble[words] += 1

    def _answer(self) -> None:
        """Somebody must press a button of a box that waits for it."""
        box = QApplication.activeModalWidget()
        if isinstance(box, QMessageBox) and box.buttons():
            self.chance.choice(box.buttons()).click()
        elif box is not None and any(isinstance(other, QMessageBox) and other.isVisible() for other in QApplication.topLevelWidgets()):
            box.close()  # it lies over a box that waits

    # what may be done

    def some(self, kind: type[QWidget], within: QWidget | None = None) -> QWidget | None:
        """A widget of a kind in sight, in the dialog on top if there is one."""
        modal = QApplication.activeModalWidget()
        found = [w for w in (within or modal or self.window).findChildren(kind) if w.isVisible() and w.isEnabled() and not is_qts_own(w)]
        return self.chance.choice(found) if found else None

    def rename(self) -> None:
        """Markup in every name of the job that is being opened."""
        document = self.window.document
        for _ in range(200):
            if document.is_empty:
                self.watch.pause(10)
        if not document.is_empty:
            for path in ("name", "place", "features.t2.name", "features.t7.name"):
                if not leads_somewhere(document.job, path):
                    continue
                document.set_value(path, f"{MARKUP} {path}")

    def spoil(self) -> None:
        """A job as it may be and yet cannot work: runs in each other's trench, no ground, next to no length."""
        document = self.window.document
        if document.is_empty:
            return
        path, value = self.chance.choice(ODD)
        self.last.append(f"{path} {value}")
        try:
            value_at(document.job, path)
        except (KeyError, AttributeError):
            return
        document.set_value(path, value)

    def trial(self) -> None:
        """A fix on trial that has little of what the job has, and much that it has not."""
        document = self.window.document
        if not document.is_empty:
            other = self.chance.choice([None, *PATTERNS])
            self.last.append(f"on trial: {other}")
            document.try_fix(Offer(f"as {other}", Instead(PATTERNS[other].job() if other else roofs_job())))

    def action(self) -> None:
        """An action of the menus."""
        action = self.chance.choice([a for a in self.window._actions if a.isEnabled() and a.isVisible() and a.text() not in NEVER])
        self.last.append(action.text())
        action.trigger()

    def step(self) -> None:
        """Another step."""
        if self.window.sheet is not None:
            button = self.chance.choice(self.window.sheet.rail.buttons)
            self.last.append(button.step.key)
            button.click()

    def press(self) -> None:
        """A button."""
        button = self.some(QAbstractButton)
        if isinstance(button, QAbstractButton):
            self.last.append(f"press {(button.text() or button.accessibleName())[:30]}")
            button.click()

    def choose(self) -> None:
        """One of several words."""
        combo = self.some(QComboBox)
        if isinstance(combo, QComboBox) and combo.count():
            index = self.chance.randrange(combo.count())
            self.last.append(f"choose {combo.accessibleName()} {combo.itemText(index)[:30]}")
            combo.setCurrentIndex(index)
            combo.activated.emit(index)

    def type_in(self) -> None:
        """Something into an entry, finished or not."""
        line = self.some(QLineEdit)
        if isinstance(line, QLineEdit):
            text = self.chance.choice(TYPED)
            self.last.append(f"type {text[:20]!r} into {line.accessibleName()}")
            line.setFocus()
            if self.chance.random() < 0.7:
                line.selectAll()
            if text.isascii():
                for letter in text:
                    self.hand(HANDS.keyClicks, line, letter)
            else:
                line.insert(text)  # as pasted: the test library's keyboard has no such keys
            self.key()

    def cell(self) -> None:
        """Something into a cell of a table."""
        table = self.some(QTableView)
        model = table.model() if isinstance(table, QTableView) else None
        if isinstance(table, QTableView) and model is not None and model.rowCount() and model.columnCount():
            table.setFocus()
            table.setCurrentIndex(model.index(self.chance.randrange(model.rowCount()), self.chance.randrange(model.columnCount())))
            self.last.append(f"cell of {table.accessibleName()}")
            for _ in range(self.chance.randint(1, 4)):
                for letter in filter(str.isascii, self.chance.choice(TYPED)[:12]):
                    self.hand(HANDS.keyClicks, QApplication.focusWidget() or table, letter)
                self.key()

    def hand(self, act: Callable[..., object], *given: object, **named: object) -> None:
        """One thing that a hand does."""
        self.watch.timed(act.__name__, lambda: act(*given, **named))

    def key(self) -> None:
        """A key, wherever the focus is."""
        key = self.chance.choice(KEYS)
        self.last.append(f"key {key.name}")
        modifier = self.chance.choice([Qt.KeyboardModifier.NoModifier] * 4 + [Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier])
        self.hand(HANDS.keyClick, QApplication.focusWidget() or self.window, key, modifier)

    def undo(self) -> None:
        """Back, or forth again."""
        self.last.append("undo, redo")
        stack = self.window.document.stack
        for _ in range(self.chance.randint(1, 5)):
            self.hand(stack.undo)
        for _ in range(self.chance.randint(0, 3)):
            self.hand(stack.redo)

    def drag(self) -> None:
        """Press, move, let go, turn the wheel on a drawing."""
        canvas = self.some(Canvas)
        if canvas is None:
            return
        here, there = (QPoint(self.chance.randrange(max(1, canvas.width())), self.chance.randrange(max(1, canvas.height()))) for _ in range(2))
        if isinstance(canvas, Canvas) and self.chance.random() < 0.6 and canvas.drawing.handles:
            here = canvas.handle_position(self.chance.choice(canvas.drawing.handles).key).toPoint()
        self.last.append(f"drag {canvas.accessibleName()} {here.x()},{here.y()} to {there.x()},{there.y()}")
        left = Qt.MouseButton.LeftButton
        self.hand(HANDS.mousePress, canvas, left, pos=here)
        for share in (0.3, 1.0):
            self.hand(HANDS.mouseMove, canvas, here + (there - here) * share)
        if self.chance.random() < 0.15:
            self.hand(HANDS.keyClick, canvas, Qt.Key.Key_Escape)
        self.hand(HANDS.mouseRelease, canvas, left, pos=there)
        if self.chance.random() < 0.2:
            self.hand(HANDS.mouseDClick, canvas, left, pos=here)
        if self.chance.random() < 0.3:
            turn = QPoint(0, self.chance.choice((-120, 120)))
            turned = QWheelEvent(QPointF(here), canvas.mapToGlobal(QPointF(here)), QPoint(), turn, Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier,
                                 Qt.ScrollPhase.NoScrollPhase, False)  # fmt: skip
            self.hand(QApplication.sendEvent, canvas, turned)

    def close_dialogs(self) -> None:
        """Every dialog goes."""
        self.last.append("close dialogs")
        for dialog in self.window.findChildren(QDialog):
            if dialog.isVisible():
                dialog.reject()

    def walk(self, count: int) -> list[tuple[int, int, float]]:
        """So many actions; gives actions, widgets and megabytes now and then."""
        acts: list[tuple[Callable[[], None], int]] = [(self.action, 3), (self.step, 5), (self.press, 6), (self.choose, 4), (self.type_in, 8), (self.cell, 6), (self.key, 5), (self.undo, 2),
                                                      (self.drag, 6), (self.rename, 1), (self.spoil, 1), (self.trial, 1)]  # fmt: skip
        measured = []
        for number in range(1, count + 1):
            try:
                act = self.chance.choices([a for a, _ in acts], [w for _, w in acts])[0]
                self.watch.doing = act.__name__
                if act in (self.action, self.step, self.press, self.choose):  # what a hand does there is one event
                    self.watch.timed("all of it", act, lambda: self.last[-1])
                else:
                    act()
                self.watch.doing = f"after {self.last[-1]}" if self.last else ""
                self.watch.timed("a turn", QApplication.processEvents)
                if self.rests:
                    self.watch.pause(self.rests)
                if self.chance.random() < 0.25:
                    self.close_dialogs()
                    self.watch.timed("a turn", QApplication.processEvents)
            except RuntimeError as fault:
                if "has been deleted" not in str(fault):  # what this script held on to went with its page
                    raise
            if self.window.document.is_empty and self.chance.random() < 0.3:
                self.window.open_demo()
                self.rename()
            if number % max(200, count // 10) == 0:
                self.close_dialogs()
                self.look()
                measured.append(self.measure(number))
        return measured

    def look(self) -> None:
        """Nothing on the screen may take the job's text for markup."""
        for widget in QApplication.allWidgets():
            if Qt.mightBeRichText(widget.toolTip()) and "<img" in widget.toolTip():  # type: ignore[attr-defined]
                self._note(f"a hint would be read as markup: {type(widget).__name__} {widget.toolTip()[:60]}")
            if is_qts_own(widget) or isinstance(widget.parent(), QMessageBox):
                continue
            if isinstance(widget, QLabel) and widget.textFormat() != Qt.TextFormat.PlainText and widget.text():
                self._note(f"a label guesses: {widget.text()[:60]}")

    def measure(self, number: int) -> tuple[int, int, float]:
        """Actions so far, widgets, megabytes."""
        for _ in range(5):
            QApplication.sendPostedEvents()
            self.watch.pause(30)
        resident = int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1e6
        found = number, len(QApplication.allWidgets()), resident
        print(f"{number:6} actions  {found[1]:5} widgets  {resident:5.0f} MB  {threading.active_count()} threads", flush=True)
        return found

    def end(self) -> None:
        """Close, and see what is left."""
        self.window.document.stack.setClean()
        self.close_dialogs()
        self.window.close()
        self.watch.pause(300)
        left = [t.name for t in threading.enumerate() if t is not threading.main_thread() and not t.name.startswith(("beside", "Thread-", "QueueFeeder"))]
        if left:
            self._note(f"threads left over: {left}")


def main() -> int:
    """Walk, and tell."""
    parser = argparse.ArgumentParser(description=(__doc__ or "").split("\n")[0])
    parser.add_argument("--actions", type=int, default=10_000)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--pattern", choices=PATTERNS, default="", help="begin on a pattern of the trade; else on the demo")
    parser.add_argument("--rests", type=int, default=0, help="ms that a hand rests after each action: 400 is about its speed, 0 leaves no time for what works beside")
    parser.add_argument("--by-event", action="store_true", help="time every event by name, at a cost of more than half as much again, in place of turns of the loop")
    given = parser.parse_args()
    faulthandler.enable()
    walk = Walk(given.seed, given.pattern, given.rests, given.by_event)
    measured = walk.walk(given.actions)
    walk.end()
    first, half = measured[: len(measured) // 2], measured[len(measured) // 2 :]
    if given.actions >= 1000 and len(half) > 1:
        grown = half[-1][1] - max(m[1] for m in first), half[-1][2] - half[0][2]  # a window without a job has few widgets, whenever it is
        if grown[0] > WIDGETS or grown[1] > MEGABYTES:
            walk._note(f"does not level off: {grown[0]} widgets and {grown[1]:.0f} MB more over the second half")
    print(walk.watch.told())
    print(f"{given.actions} actions, seed {given.seed}: {sum(walk.trouble.values())} troubles of {len(walk.trouble)} kinds")
    return 1 if walk.trouble else 0


if __name__ == "__main__":
    code = main()
    sys.stdout.flush()
    os._exit(code)  # nothing is to be tidied up any more
