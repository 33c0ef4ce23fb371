"""Files dropped onto the window: a job is opened, points are read, and of a table it is asked what it holds."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QMimeData

from weirant.formats import job_file
from weirant.language import tr
from weirant.ui.asking import ask

if TYPE_CHECKING:
    from weirant.ui.window import Window

POINTS = (".xml", ".landxml", ".geojson", ".json")
TABLES = (".csv", ".txt")


def dropped_file(data: QMimeData | None) -> Path | None:
    """The one file that is dragged, if it is of a kind that can be read."""
    urls = data.urls() if data is not None else []
    if len(urls) != 1 or not urls[0].isLocalFile():
        return None
    path = Path(urls[0].toLocalFile())
    return path if path.suffix.lower() in (job_file.SUFFIX, *POINTS, *TABLES) else None


def take_dropped(window: Window, path: Path) -> None:
    """Open or read a file that was dropped."""
    suffix = path.suffix.lower()
    if suffix == job_file.SUFFIX:
        window.files.open_file(path)
    elif window.document.is_empty:
        window.say(tr("Open or begin a job first; then its readings and points can be dropped here."))
    elif suffix in POINTS:
        window.points.read(path)
    else:
        papers = window.papers
        reads = ((tr("Rod readings"), papers.read_readings), (tr("Points"), window.points.read), (tr("A storm"), papers.read_storm), (tr("Own products"), papers.read_products),
                 (tr("A sieve result"), papers.read_gradation),
                 *([(tr("A pump curve"), papers.read_pump_curve)] if window.document.in_hand.run.nodes[0][0].id in window.document.outcome.site.pumps else []))
        answer = ask(window, tr("A table was dropped"), tr("What does {path} hold?", path=path.name), (*(words for words, _ in reads), tr("Cancel")))
        if answer < len(reads):
            reads[answer][1](path)
