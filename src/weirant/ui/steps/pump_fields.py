"""The entries of a pump in a pit that are more than a figure: its curve on one line, and where it leads."""

from __future__ import annotations

from weirant.errors import InputError
from weirant.job.network import PumpPoint
from weirant.job.paths import label_at, value_at, with_value
from weirant.job.source_edits import entries_of
from weirant.language import tr
from weirant.ui.dialogs.sources import entry_words
from weirant.ui.document import Document
from weirant.ui.entry import GONE, TypedEdit, WordChoice
from weirant.ui.theme import THEME
from weirant.units import parse
from weirant.units.dimension import DISCHARGE as FLOW
from weirant.units.dimension import LENGTH
from weirant.units.display import DEPTH, DISCHARGE, shown, unit_of


class PumpCurveEdit(TypedEdit):
    """The curve of a pump on one line, such as ``0 gpm: 25 ft; 20 gpm: 18 ft; 35 gpm: 8 ft``."""

    def __init__(self, document: Document, path: str) -> None:
        super().__init__(label_at(document.shown_job, path))
        self.document, self.path = document, path
        self.setMinimumWidth(round(14 * THEME.text))
        self.setPlaceholderText(tr("discharge: head; discharge: head …"))
        document.changed.connect(self.follow)
        self.show_value()

    def show_value(self) -> None:  # noqa: D102
        system = self.document.system
        try:
            points: tuple[PumpPoint, ...] = value_at(self.document.shown_job, self.path)
        except GONE:
            return
        self.setText("; ".join(f"{shown(p.discharge, DISCHARGE, system)}: {shown(p.head, DEPTH, system)}" for p in points))
        self.setCursorPosition(0)

    def take(self, text: str) -> str:  # noqa: D102
        system, label = self.document.system, self.accessibleName()
        try:
            points = []
            for pair in filter(None, (part.strip() for part in text.split(";"))):
                discharge, mark, head = pair.partition(":")
                if not mark:
                    raise InputError(label, tr("wants a discharge and a head at each point, such as 20 gpm: 18 ft; 35 gpm: 8 ft"), pair)
                points.append(PumpPoint(parse(discharge.strip(), FLOW, label, unit_of(DISCHARGE, system)), parse(head.strip(), LENGTH, label, unit_of(DEPTH, system))))
            if len(points) < 2 or any(b.discharge <= a.discharge or b.head >= a.head for a, b in zip(points, points[1:], strict=False)):
                raise InputError(label, tr("needs two points or more, of growing discharge and falling head"), text)
        except InputError as fault:
            self.document.refused.emit(str(fault))
            return str(fault)
        return "" if self.document.edit(lambda job: with_value(job, self.path, tuple(points)), tr("Pump curve")) else tr("does not fit")


class LeadsChoice(WordChoice):
    """Where a pump leads: away, or to what is set into a run or its top."""

    def __init__(self, document: Document, path: str) -> None:
        outcome, own = document.outcome, path.split(".")[1]
        options = [(node.id, entry_words(outcome, node.id, run.id, document.system)) for node, run in entries_of(outcome.job) if node.id != own]
        super().__init__(document, path, [("", tr("away from the site")), *options])
