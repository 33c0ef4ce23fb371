"""Which price list an order is priced by: none, one of those for practice, or a file; remembered from one day to the next."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from weirant.design.own_rates import with_rates
from weirant.errors import WeirantError
from weirant.formats.price_list import PRACTICE, open_price_list
from weirant.language import tr
from weirant.outcome.prices import NO_PRICES, PriceList
from weirant.ui.asking import ask_file, tell
from weirant.ui.memory import remember, words
from weirant.ui.own_rates import own_rates
from weirant.ui.still_box import StillBox

KEY, FILES = "price list", tr("Price lists (*.csv *.txt *.tsv)")
NAMES = {"larkmead": tr("Larkmead (practice)"), "moorgrundel": tr("Moorgrundel (practice)")}


def remembered_prices() -> PriceList:
    """The list that was taken last, with the crew's own rates; none where that cannot be read any more."""
    try:
        return with_rates(open_price_list(words(KEY)) if words(KEY) else NO_PRICES, own_rates())
    except WeirantError:
        return NO_PRICES


class PriceChoice(StillBox):
    """Emits ``taken`` with the list that is chosen."""

    taken = pyqtSignal(PriceList)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("prices by"))
        self.setSizeAdjustPolicy(StillBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.setMinimumContentsLength(18)
        self._file = ""
        remembered = words(KEY)
        if remembered and remembered not in PRACTICE:
            self._file = remembered
        self._fill()
        self.setCurrentIndex(max(self.findData(remembered), 0))
        self.activated.connect(self._chosen)

    def _fill(self) -> None:
        self.clear()
        self.addItem(tr("no prices"), "")
        for key in PRACTICE:
            self.addItem(NAMES[key], key)
        if self._file:
            self.addItem(Path(self._file).name, self._file)
        self.addItem(tr("another list …"), None)

    def begin(self) -> None:
        """Take what was remembered; a list that is gone is none."""
        found = remembered_prices()
        if not found.prices:
            self.setCurrentIndex(0)
        self.taken.emit(found)

    def _chosen(self, index: int) -> None:
        wanted = self.itemData(index)
        if wanted is None:
            path = ask_file(self.window() or QWidget(), tr("Open a price list"), FILES)
            wanted = str(path) if path is not None else words(KEY)
        self.take(wanted)

    def take(self, wanted: str) -> None:
        """Take a list by its name or its file; where it cannot be read, say why and stay with the last."""
        before = words(KEY)
        try:
            found = with_rates(open_price_list(wanted) if wanted else NO_PRICES, own_rates())
        except WeirantError as fault:
            tell(self.window(), tr("Open a price list"), str(fault))
            wanted, found = before, None
        if found is not None:
            remember(KEY, wanted)
            self._file = wanted if wanted and wanted not in PRACTICE else self._file
            self._fill()
        self.setCurrentIndex(max(self.findData(wanted), 0))
        if found is not None:
            if found.faults:
                tell(self.window(), tr("Open a price list"), tr("{count} lines are not used:", count=len(found.faults)) + "\n" + "\n".join(
                    tr("line {number}: {why}", number=number, why=why) for number, why in found.faults[:12]), is_fault=False)
            self.taken.emit(found)
