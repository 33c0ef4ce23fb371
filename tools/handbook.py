"""Writes the handbook as HTML, a file a page and a list of them, with its pictures beside.

Run: ./weirant python tools/handbook.py FOLDER
"""

from __future__ import annotations

import argparse
import html
import os
import re
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtGui import QGuiApplication, QTextDocument  # noqa: E402

from weirant.handbook import pages, picture  # noqa: E402


def main(folder: Path) -> None:
    """All pages."""
    application = QGuiApplication([])
    folder.mkdir(parents=True, exist_ok=True)
    for page in pages().values():
        document = QTextDocument()
        document.setMarkdown(page.text)
        for name in re.findall(r"\]\(([\w-]+\.png)\)", page.text):
            (folder / name).write_bytes(picture(name))
        (folder / f"{page.key}.html").write_text(document.toHtml(), encoding="utf-8")
    links = "".join(f'<li><a href="{page.key}.html">{html.escape(page.title)}</a></li>' for page in pages().values())
    (folder / "index.html").write_text(f"<!doctype html><meta charset=utf-8><title>Weirant: handbook</title><h1>Handbook</h1><ol>{links}</ol>", encoding="utf-8")
    application.quit()


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    main(parser.parse_args().folder)
