"""What a fix would cost and spoil: the job as it would be, against the job as it is."""

from __future__ import annotations

from collections.abc import Iterable

from weirant.design.assess import assess
from weirant.design.session import Session
from weirant.ground.in_place import in_place
from weirant.job import Job
from weirant.library import Library
from weirant.outcome.commands import Offer
from weirant.outcome.finding import DRY_IN_TIME, WAITS, Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.records import dataclass


@dataclass(frozen=True)
class Effect:
    """The job as it would be; findings cured, questions settled and what was tight eased, findings that get worse, those that fail and only the trial shows, and the change
    of dig and stone in m³.
    """

    job: Job
    cured: tuple[Finding, ...]
    settled: tuple[Finding, ...]
    eased: tuple[Finding, ...]
    spoiled: tuple[Finding, ...]
    to_be_seen: tuple[Finding, ...]
    dig: float
    stone: float


def effect_of(fix: Fix | Offer, before: Outcome, session: Session | None = None) -> Effect:
    """Assess the job with the fix and compare; what did not change is taken from the session of the job, where one is given."""
    after = assess(tried(fix, before.job, before.library), session=Session(session), rules=before.rules)
    # what was added after the assessment, as the storm's finding is, is not known of the fix yet
    was = {f.about: f for f in reversed(before.findings) if f.code != DRY_IN_TIME}  # of several about the same the worst, which stands first
    now = {f.about: f for f in reversed(after.findings)}
    cured = tuple(f for key, f in was.items() if f.state == State.FAILS and (key not in now or (now[key].state != State.FAILS and now[key].case != WAITS)))
    settled = tuple(
        f for key, f in was.items() if f.state == State.UNKNOWN and key in now and now[key].state == State.HOLDS
    )
    eased = tuple(f for key, f in was.items() if f.state == State.TIGHT and key in now and now[key].state == State.HOLDS)
    spoiled = tuple(
        f
        for key, f in now.items()
        if f.state in (State.FAILS, State.TIGHT) and f.state.rank < (was[key].state.rank if key in was else 9)
    )
    dig = stone = 0.0
    if before.takeoff and after.takeoff:
        dig, stone = (
            after.takeoff.dug.value - before.takeoff.dug.value,
            after.takeoff.stone.value - before.takeoff.stone.value,
        )
    later = tuple(f for f in before.findings if f.state == State.FAILS and (f.code == DRY_IN_TIME or (f.about in now and now[f.about].case == WAITS)))
    return Effect(after.job, cured, settled, eased, spoiled, later, dig, stone)


IN_STEPS = ("lower-run", "closer")  # codes of fixes that are made in growing steps, of which the first that clears is enough


def is_enough(fix: Fix, before: Iterable[Fix]) -> bool:
    """Whether one of the fixes that clear, offered before another, spares that other."""
    return fix.code in IN_STEPS and any(other.code == fix.code for other in before)


def tried(fix: Fix | Offer, job: Job, library: Library) -> Job:
    """The job as it would be with a fix, with what follows from it. Raises InputError where the job does not let it be."""
    return in_place(fix.made(job), library)


def clears(finding: Finding, effect: Effect) -> bool:
    """Whether a finding no longer fails, or is no longer unknown or tight, with what was offered for it; that of the storm only the trial shows."""
    return finding.code == DRY_IN_TIME or any(f.about == finding.about for f in (*effect.cured, *effect.settled, *effect.eased, *effect.to_be_seen))
