"""The handbook in a window beside the work: pages on the left, searched as one types, the page on the right."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QBuffer, QSignalBlocker, Qt, QTimer, QUrl
from PyQt6.QtGui import QColor, QImage, QImageReader, QTextCharFormat, QTextCursor, QTextDocument
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from weirant.handbook import pages, picture, search
from weirant.language import tr
from weirant.paper.lettering import FAMILY
from weirant.ui.line import EntryLine
from weirant.ui.rhythm import Dialog
from weirant.ui.theme import THEME

KEY = Qt.ItemDataRole.UserRole
PICTURE = "\N{OBJECT REPLACEMENT CHARACTER}"  # what stands for one in a text
PROPORTIONAL = 1  # QTextBlockFormat.LineHeightTypes.ProportionalHeight, which the method wants as a number


class PageView(QTextBrowser):
    """A page of the handbook, its pictures as wide as there is room for beside a list."""

    def __init__(self) -> None:
        super().__init__()
        self._to_come: dict[str, int] = {}  # widths in pixels of pictures by their names; each takes as long as a page of text, and so comes after it
        self._pause = QTimer(self)
        self._pause.setInterval(0)
        self._pause.timeout.connect(self._load_one)

    def loadResource(self, kind: int, name: QUrl) -> Any:  # noqa: N802, D102
        if QTextDocument.ResourceType(kind) != QTextDocument.ResourceType.ImageResource:
            return super().loadResource(kind, name)
        buffer = QBuffer()
        buffer.setData(picture(name.toString()))
        size, viewport, sharp = QImageReader(buffer).size(), self.viewport(), self.devicePixelRatioF()
        room = (viewport.width() if viewport is not None else size.width()) - round(7.5 * THEME.text)
        size = size.scaled(min(size.width(), round(room * sharp)), size.height(), Qt.AspectRatioMode.KeepAspectRatio)
        blank = QImage(size, QImage.Format.Format_RGB32)
        blank.fill(QColor(THEME.palette.field))
        blank.setDevicePixelRatio(sharp)
        self._to_come[name.toString()] = size.width()
        self._pause.start()
        return blank

    def _load_one(self) -> None:
        document, viewport = self.document(), self.viewport()
        if not self._to_come or document is None or viewport is None:
            self._pause.stop()
            return
        name = next(iter(self._to_come))
        image = QImage.fromData(picture(name)).scaledToWidth(self._to_come.pop(name), Qt.TransformationMode.SmoothTransformation)
        image.setDevicePixelRatio(self.devicePixelRatioF())
        document.addResource(QTextDocument.ResourceType.ImageResource.value, QUrl(name), image)
        viewport.update()


class HelpDialog(Dialog):
    """Shows a page; typing searches all of them, Down and Enter go to one."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Handbook"))
        self.resize(round(64 * THEME.text), round(44 * THEME.text))
        self.query, self.list, self.page = EntryLine(), QListWidget(), PageView()
        self.query.setPlaceholderText(tr("Search: sock, benchmark, hard layer …"))
        self.query.setClearButtonEnabled(True)
        self.query.setAccessibleName(tr("Search the handbook"))
        self.list.setAccessibleName(tr("Pages"))
        self.list.setWordWrap(True)
        self.page.setAccessibleName(tr("Page of the handbook"))
        self.page.setOpenLinks(False)
        self.page.anchorClicked.connect(self._follow)
        left = QVBoxLayout()
        left.addWidget(self.query)
        left.addWidget(self.list, 1)
        row = QHBoxLayout(self)
        row.addLayout(left, 1)
        row.addWidget(self.page, 2)
        self.query.textChanged.connect(self._search)
        self.query.returnPressed.connect(self.page.setFocus)
        self.list.currentItemChanged.connect(lambda item, _: self._show(item))
        self._list_pages("")

    def help(self) -> None:
        """It is the handbook: how the window is laid out."""
        self.show_page("window")

    def _list_pages(self, words: str) -> None:
        """The pages that say words; none is turned to."""
        with QSignalBlocker(self.list):
            self.list.clear()
            for page, line in search(words):
                item = QListWidgetItem(page.title + (f"\n{line[:90]}" if line and line != page.title else ""))
                item.setData(KEY, page.key)
                self.list.addItem(item)

    def _search(self, words: str) -> None:
        self._list_pages(words)
        if self.list.count():
            self.list.setCurrentRow(0)
        else:
            self.page.setMarkdown(tr("Nothing is said of “{words}”. Try another word.", words=words))

    def _show(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            self.page.setMarkdown(pages()[str(item.data(KEY))].text)
            self._space()
            words = self.query.text().split()
            if words:
                self.page.find(words[0])

    def _space(self) -> None:
        """Room between paragraphs, and the program's own letters everywhere: another family may not be there."""
        document = self.page.document()
        assert document is not None
        document.setDocumentMargin(1.4 * THEME.text)
        cursor = QTextCursor(document)
        cursor.beginEditBlock()
        cursor.select(QTextCursor.SelectionType.Document)
        own = QTextCharFormat()
        own.setFontFamilies([FAMILY])
        own.setFontFixedPitch(False)
        cursor.mergeCharFormat(own)
        block = document.begin()
        while block.isValid():
            shape, is_item = block.blockFormat(), block.textList() is not None
            level = shape.headingLevel()
            shape.setTopMargin(1.1 * THEME.text if level > 1 else 0)
            shape.setBottomMargin((0.2 if is_item else 0.6) * THEME.text)
            shape.setLineHeight(100.0 if PICTURE in block.text() else 118.0, PROPORTIONAL)
            QTextCursor(block).setBlockFormat(shape)
            block = block.next()
        cursor.endEditBlock()
        self.page.moveCursor(QTextCursor.MoveOperation.Start)

    def _follow(self, link: QUrl) -> None:
        if link.scheme() == "page":
            self.show_page(link.path())

    def show_page(self, key: str, heading: str = "") -> None:
        """Turn to a page by its key, and to a heading on it."""
        with QSignalBlocker(self.list):  # the page is worked through once, and not also when words go and its row is chosen
            self.query.clear()
            for row in range(self.list.count()):
                item = self.list.item(row)
                if item is not None and item.data(KEY) == key:
                    self.list.setCurrentRow(row)
                    self._show(item)
        if heading and self.page.find(heading):
            bar = self.page.verticalScrollBar()
            if bar is not None:
                bar.setValue(bar.value() + self.page.cursorRect().top() - 8)
