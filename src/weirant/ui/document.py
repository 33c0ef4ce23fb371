"""The one document of a window: the job, its undo stack, its latest outcome, the station all views stand at."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import Any, TypeVar
from uuid import uuid4

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from weirant.design.effects import tried
from weirant.design.session import Session
from weirant.errors import InputError, NoJobError, NoSuchRunError, WeirantError
from weirant.formats import job_file
from weirant.formats.trouble_log import write_trouble
from weirant.ground.in_place import in_place
from weirant.job import Job
from weirant.job.faults import faults
from weirant.job.geometry import has_run, run_of
from weirant.job.identity import by_id
from weirant.job.paths import field_at, label_at, leads_somewhere, value_at, with_value
from weirant.job.section import TrenchSection
from weirant.job.soil import Soil
from weirant.language import tr
from weirant.library import shipped, with_own
from weirant.outcome.commands import Offer
from weirant.outcome.finding import Finding
from weirant.outcome.outcome import Outcome, with_findings
from weirant.outcome.site import RunOutcome
from weirant.outcome.trench_pipes import trench_at
from weirant.records import dataclass
from weirant.ui.due import Due
from weirant.ui.worked import Worked
from weirant.units.display import System, shown

Made = TypeVar("Made")
AT_HAND = 40  # steps that can be undone without working anything out: each holds some 0.15 MB
GONE = (KeyError, IndexError, AttributeError, TypeError, StopIteration)  # what a path meets where its part of the job is not there, or only in a fix on trial


class _Change(QUndoCommand):
    """One named edit; edits of one drag or one nudging merge into one step."""

    def __init__(self, document: Document, before: Worked, after: Worked, name: str, merge: str) -> None:
        super().__init__(name)
        self.document, self.before, self.after, self.merge_key = document, before, after, merge
        self.last: Worked | None = None  # what an edit that merged with this one took the place of

    def id(self) -> int:  # noqa: D102
        return 1 if self.merge_key else -1

    def mergeWith(self, other: QUndoCommand | None) -> bool:  # noqa: N802, D102
        if not isinstance(other, _Change) or other.merge_key != self.merge_key:
            return False
        self.last, self.after = self.after, other.after
        self.setText(other.text())
        return True

    def redo(self) -> None:  # noqa: D102
        self.document._show(self.after)

    def undo(self) -> None:  # noqa: D102
        self.document._show(self.before)


@dataclass(frozen=True)
class _Opening:
    """Another job that is being worked out, to take the place of the one in hand."""

    worked: Worked
    session: Session
    path: Path | None
    digest: str
    opened: Callable[[], None]
    failed: Callable[[str], object]


LEFT_OPEN = {"mouth.across": tr("as the pipe"), "main.invert": tr("as the pipe"), "soaks.water_table": tr("lies lower"), "sold_in": tr("as usual"), "roll_width": tr("as usual"),
             "roll_length": tr("as usual")}  # fmt: skip


def left_open(path: str) -> str:
    """What it means that nothing stands in a field."""
    return next((words for end, words in LEFT_OPEN.items() if path.endswith(end)), tr("not known"))


class Document(QObject):
    """Holds the job and its outcome; every edit comes through here, and one signal says that something changed.

    ``found`` says that only a finding came, which was worked out beside the interface: whoever types is not to be disturbed by it. An edit has changed the
    job at once (``begun``); its outcome may come a little later (``changed``), and whoever asks for it before waits for it.
    """

    begun = pyqtSignal()
    changed = pyqtSignal()
    found = pyqtSignal()
    station_changed = pyqtSignal(float)
    run_changed = pyqtSignal(str)
    thing_changed = pyqtSignal()
    soil_changed = pyqtSignal()
    refused = pyqtSignal(str)
    drag_ended = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.stack = QUndoStack(self)
        self.path: Path | None = None
        self.digest = ""
        self.stack.indexChanged.connect(self._lighten)
        self._now: Worked | None = None
        self._trial: Offer | None = None
        self._tried: Worked | None = None
        self._opening: _Opening | None = None
        self._due = Due(self, self.catch_up)
        self._told: tuple[Worked | None, Worked | None] = (None, None)  # the job and the fix on trial that are shown
        self._looks_at_told = False
        self._station = 0.0
        self._run, self._thing, self._soil = "", "", ""
        self._then: list[Callable[[], object]] = []  # what is to follow when the outcome that is to come is shown
        self._layer: int | None = None
        self.session, self.mark = Session(), ""
        self.dragging = self.live = self._ends = False

    @contextmanager
    def as_shown(self) -> Iterator[None]:
        """For what paints, and for clocks: within it job and outcome are those that are shown, also while those of an edit are to come; ``changed`` tells when they are there."""
        before, self._looks_at_told = self._looks_at_told, self.is_due and all(w is None or w.outcome is not None for w in self._told)
        try:
            yield
        finally:
            self._looks_at_told = before

    def _states(self) -> tuple[Worked | None, Worked | None]:
        """The job and the fix on trial that are looked at."""
        return self._told if self._looks_at_told else (self._now, self._tried)

    @property
    def job(self) -> Job:
        """The present job; InputError where none is open."""
        now = self._states()[0]
        if now is None:
            raise NoJobError
        return now.job

    @property
    def is_empty(self) -> bool:
        """Whether no job is open yet."""
        return self._now is None

    @property
    def shown_job(self) -> Job:
        """The job shown: with the fix on trial if there is one."""
        tried = self._states()[1]
        return tried.job if tried is not None else self.job

    @property
    def outcome(self) -> Outcome:
        """The outcome shown: of the fix on trial if there is one, else of the job."""
        tried = self._states()[1]
        return tried.outcome if tried is not None and self._wait(tried) and tried.outcome is not None else self.settled

    @property
    def settled(self) -> Outcome:
        """The outcome of the job itself, without the trial."""
        while (now := self._states()[0]) is not None:  # what cannot be worked out is taken back, and another job is the present one
            if self._wait(now) and now.outcome is not None:
                return now.outcome
        raise NoJobError

    @property
    def run(self) -> str:
        """Identity of the run in hand: the one that profile and section show. Where the job shown lacks it, its first run is."""
        return self._run if has_run(self.shown_job, self._run) else self.shown_job.runs[0].id

    @property
    def in_hand(self) -> RunOutcome:
        """What was found of the run in hand."""
        return self.outcome.run(self.run)

    def take_run(self, identity: str) -> None:
        """Take a run in hand; every view turns to it."""
        if identity != self._run and has_run(self.shown_job, identity):
            self._run, self._soil, self._layer = identity, "", None
            self._station = min(self._station, self.in_hand.run.length)
            self.run_changed.emit(identity)
            self.station_changed.emit(self._station)

    def when_shown(self, act: Callable[[], object]) -> None:
        """Do something about what an edit just made as soon as its outcome is shown, or not at all where that is taken back."""
        if self.is_due:
            self._then.append(act)
        else:
            act()

    @property
    def thing(self) -> str:
        """Identity of the feature in hand on the plan, empty for none."""
        return self._thing if self._now is not None and by_id(self.shown_job.features, self._thing) is not None else ""

    def take_thing(self, identity: str) -> None:
        """Take a feature of the plan in hand, or none."""
        if identity != self._thing:
            self._thing = identity
            self.thing_changed.emit()

    @property
    def soil(self) -> Soil:
        """The soil in hand: the one chosen, or else that at the station."""
        found: Soil | None = by_id(self.shown_job.soils, self._soil)
        return found or self.in_hand.soil(self.station)

    def take_soil(self, identity: str) -> None:
        """Take a soil in hand."""
        if identity != self._soil:
            self._soil, self._layer = identity, None
            self.soil_changed.emit()

    @property
    def layer(self) -> int:
        """Number of the layer in hand of the soil in hand, from the top down: the one chosen, or else the lowest."""
        lowest = len(self.soil.layers) - 1
        return lowest if self._layer is None else min(self._layer, lowest)

    def take_layer(self, number: int) -> None:
        """Take a layer of the soil in hand."""
        if number != self.layer:
            self._layer = number
            self.soil_changed.emit()

    def path_of(self, path: str) -> str:
        """Where a field stands in the job: ``run.`` is the run in hand, ``section.`` the trench section at the station,
        ``outlet.`` the outlet at its low end, ``pit.`` the box there, ``kept.`` what it keeps dry, ``soil.`` the soil in hand, ``layer.`` its layer in
        hand; empty where it has none."""
        owner, _, rest = path.partition(".")
        if owner == "run":
            return f"runs.{self.run}.{rest}"
        if owner == "section":
            return f"sections.{self.section.id}.{rest}"
        if owner == "soil":
            return f"soils.{self.soil.id}.{rest}"
        if owner == "layer":
            return f"soils.{self.soil.id}.layers.{self.layer}.{rest}"
        if owner == "kept":
            place = self.in_hand.part_at(self.station).place
            return f"features.{place.id}.{rest}" if place is not None else ""
        if owner == "outlet":
            node = self.in_hand.run.nodes[0][0]
            return f"nodes.{node.id}.outlet.{rest}" if node.outlet is not None else ""
        if owner == "pit":
            return f"nodes.{self.in_hand.run.nodes[0][0].id}.basin.{rest}"
        return path

    @property
    def section(self) -> TrenchSection:
        """The trench section at the station: of the run in hand, or of the one in whose trench it lies."""
        host, there = trench_at(self.outcome.site, self.in_hand, self.station)
        return host.make(there).section

    def set_live(self, live: bool) -> None:
        """Keep the grade best while an invert is dragged."""
        self.live = live

    @property
    def trial(self) -> Offer | None:
        """The fix on trial."""
        return self._trial

    @property
    def system(self) -> System:
        """The job's units."""
        return System(self.job.units)

    @property
    def station(self) -> float:
        """The station all views stand at, m."""
        return self._station

    def open(self, job: Job, path: Path | None, digest: str = "", opened: Callable[[], None] = lambda: None, failed: Callable[[str], object] = lambda _: None,
             at_once: bool = False) -> None:  # fmt: skip
        """Take over another job with a fresh undo stack; ``digest`` is that of its file as it was read. ``at_once`` it is waited for, where nobody sees the window yet.

        Then ``opened`` is called; or ``failed`` where the job cannot be worked out, and the present one stays.
        """
        if self._opening is not None:
            self._opening.worked.give_up()
        opening = self._opening = _Opening(Worked(job), Session(), path, digest, opened, failed)
        try:
            if opening.worked.begin(opening.session, at_once=at_once):
                self._open()
            else:
                opening.worked.tell(partial(self._come, opening.worked))
        except WeirantError as fault:
            self._opening = None
            failed(str(fault))

    def _open(self) -> None:
        opening, self._opening = self._opening, None
        assert opening is not None and opening.worked.outcome is not None
        self._now, self.session, self.path, self.digest = opening.worked, opening.session, opening.path, opening.digest
        self._due.over()
        self.mark = uuid4().hex
        self._trial = self._tried = None
        self._told = self._now, None
        self._then.clear()
        self.dragging = self._ends = False
        self.stack.clear()
        chosen = opening.worked.outcome.chosen()
        self._run, self._thing, self._soil, self._layer = chosen.id, "", "", None
        self._station = chosen.part.station
        self.begun.emit()
        self.changed.emit()
        self.station_changed.emit(self._station)
        opening.opened()

    def close(self) -> None:
        """Give the job up: nothing of it is left."""
        self._due.over()
        self._now = self._trial = self._tried = self._opening = self.path = None
        self._told = (None, None)
        self._then.clear()
        self.dragging = self._ends = False
        self.session = Session()
        self.digest = ""
        self.stack.clear()

    def change(self, job: Job, name: str, merge: str = "", *, may_come: bool = False, known: Outcome | None = None) -> bool:
        """Make an edit that can be undone; an edit that cannot be is refused with a message and nothing changes. Its outcome ``may_come`` later where whoever asks
        goes on with nothing that is shown of it: the next row of a table must be there when Enter is pressed. Steps of a drag are worked out where they are made
        as long as that is quick, which the first one shows: half a ms is saved. An outcome that is ``known``, since it was worked out beside the interface
        before, is taken where it is of this job.
        """
        if job == self.job:
            return True
        if self._opening is not None:
            self.refused.emit(tr("Another job is being opened"))
            return False
        try:
            found = faults(job, self.job)
            if found:
                raise InputError("", found[0][1])
            job = in_place(job, with_own(shipped(), job.products))
            if job == self.job:
                raise InputError("", tr("Its level follows from the run in whose trench it lies: move that one, or let this one lie at its own level"))
            worked = self._tried if self._tried is not None and self._tried.job == job else Worked(job)
            if known is not None and known.job == job:
                worked.outcome = known
            worked.begin(self.session, at_once=(self._is_at_once and self._goes_on(merge)) or not may_come)
        except WeirantError as fault:
            self.refused.emit(str(fault))
            return False
        self._trial = self._tried = None
        before = self._now
        assert before is not None
        before.give_up()  # but for where it is gone back to
        self.stack.push(_Change(self, before, worked, name, merge))
        return True

    def edit(self, made: Callable[[Job], Job], name: str | Callable[[Job], str], merge: str = "", *, may_come: bool = False) -> bool:
        """Make an edit that may meet a piece which stands in the job no more, or only in the fix on trial that is shown: that is told, and nothing changes.
        Its name may have to be made from the job that comes of it.
        """
        def named(job: Job) -> tuple[Job, str]:
            after = made(job)
            return after, name if isinstance(name, str) else name(after)

        edit = self.made(named)
        return edit is not None and self.change(*edit, merge, may_come=may_come)

    def made(self, made: Callable[[Job], Made]) -> Made | None:
        """What is made of the job; None where that is refused, or where it meets a piece that the job lacks, which is told."""
        try:
            return made(self.job)
        except (NoSuchRunError, *GONE) as fault:
            if self._trial is None:  # then it should not have been on the screen
                write_trouble(fault)
            self.refused.emit(tr("This stands only in the fix on trial; keep that first") if self._trial is not None else tr("This is in the job no more"))
        except InputError as fault:
            self.refused.emit(str(fault))
        return None

    def set_value(self, path: str, value: Any, merge: str = "") -> bool:
        """Set one field by its path; the undo step names it with old and new value. The same again in another unit is no step."""
        if isinstance(value, float) and leads_somewhere(self.job, path) and path not in self.job.assumed:
            before = value_at(self.job, path)
            value = before if before is not None and math.isclose(value, before, rel_tol=1e-12) else value

        def name(after: Job) -> str:
            return tr("{field}: {before} to {after}", field=label_at(self.job, path), before=self.words(path), after=self.words(path, after))

        return self.edit(lambda job: with_value(job, path, value), name, merge, may_come=True)

    def words(self, path: str, job: Job | None = None) -> str:
        """A field's value as the reader sees it."""
        job = job or self.job
        value, metadata = value_at(job, path), field_at(job, path).metadata
        if value is None:
            return left_open(path)
        if path.endswith(".place"):
            thing = by_id(job.features, value)
            return thing.name if thing is not None else tr("nothing yet")
        if path.endswith(".trench_of"):
            return run_of(job, value).name if has_run(job, value) else tr("none")
        return shown(value, metadata["spec"].kind, System(job.units)) if "spec" in metadata else tr(value) if "words" in metadata else str(value)

    def add_findings(self, of: Outcome, findings: tuple[Finding, ...]) -> None:
        """Add what was worked out beside the interface, if the outcome it is about is still there."""
        about = next((worked for worked in (self._tried, self._now) if worked is not None and worked.outcome is of), None)
        if about is not None:
            about.outcome = with_findings(of, findings)
            self.found.emit()

    def try_fix(self, fix: Offer) -> None:
        """Show a fix without taking it."""
        try:
            worked = Worked(tried(fix, self.job, self.settled.library))
            is_there = worked.begin(Session(self.session), at_once=False)
        except WeirantError as fault:
            self.put_back()
            self.refused.emit(str(fault))
            return
        self._trial, self._tried = fix, worked
        self.begun.emit()
        if is_there:
            self._due.over()
            self._told = self._now, worked
            self.changed.emit()
            self._follow_up()
        else:
            self._wait_for(worked)

    def keep_trial(self) -> None:
        """Take the fix on trial."""
        if self._trial is not None and self._tried is not None and not self.change(self._tried.job, self._trial.name, may_come=True):
            self.put_back(is_told=True)

    def put_back(self, is_told: bool = False) -> None:
        """Leave the fix on trial; what was told of it stands where it ``is_told`` why."""
        if self._trial is not None:
            self._due.over()
            self._trial = self._tried = None
            self._told = self._now, None
            if not is_told:
                self.begun.emit()
            self.changed.emit()
            self._follow_up()

    @property
    def is_due(self) -> bool:
        """Whether the outcome of an edit is to come."""
        return self._due.of is not None

    @property
    def is_opening(self) -> bool:
        """Whether another job is being worked out, to be shown then."""
        return self._opening is not None

    @property
    def _is_at_once(self) -> bool:
        shown = self._told[0]
        return self.dragging and not (shown is not None and shown.is_slow)

    def _goes_on(self, merge: str) -> bool:
        """Whether a step follows another of the same drag."""
        last = self.stack.command(self.stack.index() - 1)
        return isinstance(last, _Change) and bool(merge) and last.merge_key == merge

    def end_drag(self) -> None:
        """A drag is over, as soon as its last step is shown: every view may take its time again."""
        self._ends = self.is_due
        if self._ends:
            return
        self.dragging = False
        self.drag_ended.emit()

    def move_to(self, station: float) -> None:
        """Stand at another station; every view follows."""
        station = min(max(station, 0.0), self.in_hand.run.length)
        if abs(station - self._station) > 1e-9:
            self._station = station
            self.station_changed.emit(station)

    def save(self, path: Path, expected: str | None = None) -> None:
        """Write the job; raises JobFileError where it cannot be written, ChangedOnDiskError where the file has not the digest ``expected``."""
        self.catch_up()  # a job that cannot be worked out is taken back, and goes into no file
        _ = self.settled
        self.digest = job_file.save(self.job, path, expected)
        self.path = path
        self.stack.setClean()
        self.changed.emit()

    # outcomes that come later

    def _show(self, worked: Worked) -> None:
        """Have another state of the job in hand."""
        self._now = worked
        self.begun.emit()
        try:
            # one that is coming tells of its error in an event of its own: the step that led here is not on the stack yet
            if not worked.is_coming and worked.begin(self.session, at_once=self._is_at_once):
                self._due.over()
                self._tell()
            else:
                self._wait_for(worked)
        except WeirantError as fault:
            self._take_back(worked, fault)

    def _come(self, worked: Worked) -> None:
        """An outcome has come, or cannot; it may be that nobody waits for it any more."""
        if self._opening is not None and worked is self._opening.worked:
            try:
                worked.wait()
            except WeirantError as fault:
                opening, self._opening = self._opening, None
                opening.failed(str(fault))
            else:
                self._open()
        elif self._due.of is worked:
            self.catch_up()

    def _wait_for(self, worked: Worked) -> None:
        self._due.wait_for(worked)
        worked.tell(partial(self._come, worked))

    def catch_up(self) -> None:
        """Show the outcome that is waited for: it has come, or a hand that cannot wait meets no view of what was before."""
        worked = self._due.over()
        if worked is not None and worked in (self._now, self._tried) and self._wait(worked):
            self._tell()

    def _wait(self, worked: Worked) -> bool:
        """Wait for an outcome. Where it cannot be worked out that is told, and what was asked for is taken back."""
        try:
            worked.wait()
        except WeirantError as fault:
            self._take_back(worked, fault)
            return False
        return True

    def _take_back(self, worked: Worked, fault: WeirantError) -> None:
        self._then.clear()
        if worked is self._tried:
            self.put_back()
        else:
            led, leads = self.stack.command(self.stack.index() - 1), self.stack.command(self.stack.index())
            if isinstance(led, _Change) and led.after is worked and led.last is not None:
                led.after, led.last = led.last, None  # of a drag its last step alone
                self._show(led.after)
            elif isinstance(led, _Change) and led.after is worked:
                before = led.before
                led.setObsolete(True)
                self.stack.undo()  # which only drops it
                self._show(before)
            elif isinstance(leads, _Change) and leads.before is worked:
                self.stack.redo()
            else:
                raise fault
        self.refused.emit(str(fault))

    def _tell(self) -> None:
        """The outcome shown is another."""
        self._told = self._now, self._tried
        outcome = self.settled
        if not has_run(outcome.job, self._run):
            self._run = outcome.chosen().id
            self.run_changed.emit(self._run)
        self._station = min(self._station, self.in_hand.run.length)
        self.changed.emit()
        self._follow_up()

    def _follow_up(self) -> None:
        """What waited for what is shown now."""
        then, self._then = self._then, []
        for act in then:
            act()
        if self._ends:
            self.end_drag()

    def _lighten(self, index: int) -> None:
        """Of steps long ago, and of those undone long ago, keep the jobs alone: they are worked out anew when they are gone to."""
        long_ago, far_on = self.stack.command(index - AT_HAND - 1), self.stack.command(index + AT_HAND)
        if isinstance(long_ago, _Change):
            long_ago.before.lighten()
            long_ago.last = None
        if isinstance(far_on, _Change):
            far_on.after.lighten()
