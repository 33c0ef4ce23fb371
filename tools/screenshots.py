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

from PyQt6.QtCore import QElapsedTimer  # noqa: E402
from PyQt6.QtWidgets import QApplication, QWidget  # noqa: E402

from weirant.ui.app import make_application  # noqa: E402
from weirant.ui.dialogs.why import why_finding  # noqa: E402
from weirant.ui.theme import THEME  # noqa: E402
from weirant.ui.window import Window  # noqa: E402

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


def main(folder: Path) -> None:
    """All pictures, in the order of the trade."""
    folder.mkdir(parents=True, exist_ok=True)
    application = make_application()
    THEME.apply("daylight", 1.0)
    window = Window()
    window.resize(1280, 800)
    window.show()
    window.start.tiles[0].click()
    shoot(window, "start", folder)
    window.open_demo()
    assert window.sheet is not None
    for number, step in enumerate(("water", "levels", "soil", "line", "trench", "materials", "order"), 1):
        window.sheet.rail.choose(step)
        shoot(window, f"step-{number}-{step}", folder)
    window.sheet.rail.choose("line")
    failing = window.document.outcome.findings[0]
    window.document.try_fix(failing.fixes[0])
    shoot(window, "fix-on-trial", folder)
    window.document.put_back()
    dialog = why_finding(
        next(f for f in window.document.outcome.findings if f.key == "table"), window.document.system, window
    )
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
