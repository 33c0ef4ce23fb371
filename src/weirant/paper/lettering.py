"""The lettering that ships with the application."""

from __future__ import annotations

from importlib import resources

from PyQt6.QtGui import QFontDatabase

FAMILY = "Barlow"


def load_fonts() -> None:
    """Load the shipped fonts into the running application; loading them twice does no harm."""
    for weight in ("Regular", "Medium", "SemiBold"):
        with resources.as_file(resources.files("weirant.paper").joinpath("fonts", f"Barlow-{weight}.ttf")) as path:
            QFontDatabase.addApplicationFont(str(path))
