"""Keeps the findings of the design storm beside the others, worked out beside the interface whenever the job has changed and rests."""

from __future__ import annotations

import dataclasses
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject

from weirant.language import tr
from weirant.outcome.finding import DRY_IN_TIME, WAITS, Finding
from weirant.outcome.outcome import Outcome
from weirant.ui.document import Document
from weirant.ui.storm.loading import when_loaded
from weirant.ui.work import Newest
from weirant.words.findings import REFUSED

if TYPE_CHECKING:
    from weirant.design.storm_verdict import Answers

REST = 400  # ms that the job must rest


class StormWatch(QObject):
    """Off until ``begin``: it wants the simulator loaded. The newest outcome wins; one that is being worked on is left for it."""

    def __init__(self, document: Document) -> None:
        super().__init__(document)
        self.document = document
        self.is_on = False
        self._asked: Outcome | None = None
        self._why_not = ""
        self._known: Answers = {}
        self._of: object = None
        self._work = Newest(self, REST)
        document.changed.connect(self.follow)
        document.drag_ended.connect(self.follow)

    def begin(self) -> None:
        """Load the simulator if need be, and watch from then on."""
        when_loaded(self._begin, self._cannot_load)

    def _cannot_load(self, why: str) -> None:
        self._why_not = tr("the simulator cannot be loaded here: {why}", why=why)
        self._begin()

    def _begin(self) -> None:
        self.is_on = True
        self.follow()

    def stop(self) -> None:
        """Leave what is being worked out, and watch no more."""
        self.is_on, self._asked = False, None

    def follow(self) -> None:
        """Ask for the finding of the outcome shown, unless it has it."""
        if not self.is_on or self.document.is_empty or self.document.dragging:
            return
        outcome = self.document.outcome
        if outcome is self._asked or any(f.code == DRY_IN_TIME for f in outcome.findings):
            return
        self._asked = outcome
        if self._why_not:
            self._left(outcome, self._why_not)
            return
        if self._of is not self.document.session:  # another job: what was worked out for the one before goes with it
            self._known, self._of = {}, self.document.session
        self._work.ask(partial(self._find, outcome, self._known), partial(self._found, outcome), partial(self._left, outcome))

    def _find(self, outcome: Outcome, known: Answers) -> tuple[Finding, ...] | None:
        """Beside the interface; it wants the simulator, which loads slowly."""
        from weirant.design.worked_out import simulated_findings

        return simulated_findings(outcome, lambda _: self._asked is outcome, known)

    def _left(self, outcome: Outcome, why: str) -> None:
        """What waited is told not to come: nobody waits for ever."""
        waiting = tuple(dataclasses.replace(f, case=REFUSED, facts={"why": why}) for f in outcome.findings if f.case == WAITS)
        if waiting:
            self.document.add_findings(outcome, waiting)

    def _found(self, outcome: Outcome, findings: tuple[Finding, ...] | None) -> None:
        if findings:
            self.document.add_findings(outcome, findings)
