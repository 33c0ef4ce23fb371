"""Other ways to build the job in the quote: each with its price beside that of the drawing, its verdict, and what is worse in it."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QPushButton, QWidget

from weirant.design.offer import Option
from weirant.errors import WeirantError
from weirant.formats import job_file
from weirant.language import capital, tr
from weirant.outcome.summary import summary
from weirant.ui.asking import ask_file, ask_name, tell
from weirant.ui.dialogs.rows import RowsDialog
from weirant.ui.document import Document
from weirant.ui.files import PATTERNS
from weirant.ui.other_ways import MOST, keep_ways, options_beside, other_ways
from weirant.ui.plain_text import PlainLabel
from weirant.ui.price_choice import remembered_prices
from weirant.ui.theme import THEME
from weirant.ui.work import Newest
from weirant.words.order import more_words, price_rows, worse_words


class WaysDialog(RowsDialog):
    """A row for the drawing and one for each way beside it; a way is a job file, such as a copy of the drawing put aside before it was changed."""

    told_in = ("step-order", "")

    quote_wanted = pyqtSignal()
    HEADS, NUMBERS = (tr("way"), tr("price"), "", tr("verdict"), tr("beside the drawing"), ""), range(1, 3)

    def __init__(self, document: Document, parent: QWidget) -> None:
        aside, another, write = buttons = [QPushButton(words) for words in (tr("Put the drawing aside as a way …"), tr("Another job as a way …"), tr("Write the quote …"))]
        super().__init__(document, parent, "", *buttons)
        for button, act in ((aside, self.put_aside), (another, self.ask_another), (write, self.quote_wanted.emit)):
            button.setAutoDefault(False)
            button.clicked.connect(lambda _, act=act: act())
        self.setWindowTitle(tr("Other ways in the quote"))
        self.resize(round(92 * THEME.text), round(34 * THEME.text))
        self.grid.setColumnStretch(4, 1)
        self._work = Newest(self, 60)
        self.follow()

    def follow(self) -> None:
        """Have every way worked out."""
        if self.document.is_empty:
            self.reject()
            return
        ways, prices = other_ways(self.document), remembered_prices()
        words = tr("Each way is a job of its own. Put the drawing aside, change it, and both stand in the quote.")
        self.words.setText(words if prices.prices else words + " " + tr("There are no prices yet: take a price list in Ask and order, beside “prices by”."))
        self._work.ask(options_beside(self.document.settled, ways, prices), partial(self._show, ways), self.words.setText)

    def _show(self, ways: tuple[Path, ...], options: tuple[Option | str, ...]) -> None:
        self.lay_rows(object(), partial(self._of, (None, *ways), options))  # always anew: an answer is another each time

    def _of(self, ways: tuple[Path | None, ...], options: tuple[Option | str, ...]) -> Iterator[tuple[QWidget, ...]]:
        first = options[0]
        for path, option in zip(ways, options, strict=True):
            name = PlainLabel(tr("as drawn") if path is None else path.stem)
            name.setProperty("strong", True)
            cells = ["–", "", tr("not known"), option] if isinstance(option, str) else _cells(option, first)
            labels = [PlainLabel(cell) for cell in cells]
            for label in labels[:2]:
                label.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            for label in labels[2:]:
                label.setWordWrap(True)
            yield name, *labels, self._last(path)

    def _last(self, path: Path | None) -> QWidget:
        if path is None:
            return PlainLabel("")
        leave = QPushButton(tr("Leave it out"))
        leave.setAutoDefault(False)
        leave.setAccessibleName(tr("Leave out {way}", way=path.stem))
        leave.clicked.connect(lambda: self._keep([other for other in other_ways(self.document) if other != path]))
        return leave

    def put_aside(self) -> None:
        """Ask for a name, write a copy of the drawing under it, and take it as a way."""
        if self.is_full():
            return
        path = ask_name(self, tr("Put the drawing aside as a way"), self.document.job.name + " – " + tr("another way"), PATTERNS)
        if path is None:
            return
        if path == self.document.path:
            tell(self, self.windowTitle(), tr("That is the job in hand itself: give the copy another name."))
            return
        try:
            job_file.save(self.document.job, path)
        except WeirantError as fault:
            tell(self, self.windowTitle(), str(fault))
        else:
            self._keep([*other_ways(self.document), path])

    def ask_another(self) -> None:
        """Ask for a job file and take it as a way."""
        if self.is_full():
            return
        path = ask_file(self, tr("Another job as a way"), f"{PATTERNS[job_file.SUFFIX]} (*{job_file.SUFFIX})")
        if path is not None:
            self._keep([*other_ways(self.document), path])

    def is_full(self) -> bool:
        """Whether there is no room on the paper for another, which is told."""
        if len(other_ways(self.document)) < MOST:
            return False
        tell(self, self.windowTitle(), tr("{count} ways beside the drawing are all that the paper holds: leave one out first.", count=MOST), is_fault=False)
        return True

    def _keep(self, ways: list[Path]) -> None:
        keep_ways(self.document, ways)
        self.follow()


def _cells(option: Option, first: Option | str) -> list[str]:
    """Its price, how much more that is, its verdict, and what is worse in it."""
    amount = price_rows(option.quote)[-1][1] if option.quote.prices.prices else "–"
    lacks = tr("without a price: {count}", count=len(option.quote.missing)) if option.quote.missing and option.quote.prices.prices else ""
    if isinstance(first, str) or option is first:
        return [amount, "", capital(summary(option.outcome.told)), lacks]
    more = more_words(option, first) if option.quote.prices.prices else ""
    return [amount, more, capital(summary(option.outcome.told)), "; ".join(words for words in (worse_words(option, first), lacks) if words)]
