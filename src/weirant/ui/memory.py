"""What the program remembers from one day to the next: look, window, recent jobs, folders, and where work was left."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QSettings

MOST_RECENT = 8
CONTRACTOR, GO_ON = "contractor", "go on"  # keys of the settings


def _settings() -> QSettings:
    return QSettings("weirant", "weirant")


def remembered(key: str) -> object:
    """A value by its key; None where nothing is kept."""
    found: object = _settings().value(key)
    return found


def remember(key: str, value: object) -> None:
    """Keep a value."""
    _settings().setValue(key, value)


def words(key: str) -> str:
    """A text by its key; empty where nothing is kept, or something else."""
    found = remembered(key)
    return found if isinstance(found, str) else ""


def recent() -> list[Path]:
    """Jobs opened or saved last that are still there, the latest first."""
    found = remembered("recent")
    names = [found] if isinstance(found, str) else found if isinstance(found, list) else []
    paths = [Path(name) for name in names if isinstance(name, str) and name]
    return [path for path in paths if _is_there(path)][:MOST_RECENT]


def _is_there(path: Path) -> bool:
    try:
        return path.is_file()
    except OSError:
        return False  # a disk that is gone


def used(path: Path) -> None:
    """A job was opened or saved: it goes to the head of the recent ones, and its folder is asked in next time."""
    whole = path.absolute()
    remember("recent", [str(whole), *(str(p) for p in recent() if p != whole)][:MOST_RECENT])
    remember("folder", str(whole.parent))


def folder() -> str:
    """The folder last used; empty where there is none, or it is gone."""
    found = words("folder")
    return found if found and Path(found).is_dir() else ""


def folder_of(path: Path) -> None:
    """A file was read from or written to a folder: it is asked in next time."""
    remember("folder", str(path.absolute().parent))
