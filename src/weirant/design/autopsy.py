"""Why an old drain failed: causes ranked by what was found in it, what of it can be kept, and whether the new design does the same again."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator, Sequence
from functools import cache

from weirant.design.evidence import (
    Belief,
    Question,
    Weights,
    ask_next,
    questions_of,
    ranked,
    said,
    with_answer,
)
from weirant.errors import InputError
from weirant.job import Job
from weirant.job.identity import OLD, by_id, fresh
from weirant.job.network import EXISTING, Run
from weirant.job.old_drains import OldDrain
from weirant.job.run_edits import with_run
from weirant.language import first_small, tr
from weirant.library.tables import rows_in
from weirant.methods.granular_filter import granular_filter_limits
from weirant.outcome.facts import Amount, Facts, Titled
from weirant.outcome.finding import Finding, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass
from weirant.units import display as k

TABLE = "autopsy.csv"
LIKELY = 0.3  # share of belief from which on a cause counts (common practice, no source)
SILTED, SHUT = 0.25, 0.5  # of the pipe's height, and of its openings, from which on they count as bad (common practice, no source)
# findings that tell whether a design does again what a cause was
REPEATED_BY = {
    "unheld": ("soil-stone", "retention"), "blinded": ("clogging", "permittivity", "cloth-head"), "fines-in-stone": ("stone-drains",), "little-stone": ("fits",),
    "no-fall": ("slope", "as-built"), "outlet": ("outlet-level", "daylight", "way-out"), "debris": ("roof", "entry"), "roots": ("roots",), "broken": ("cover", "wheels"),
    "misplaced": ("drain-level", "table"), "inlets": ("grate",), "shut-from-below": ("intake",), "nest": ("clean-outs",), "slime": ("slime", "clean-outs"), "crust": ("lime", "clean-outs"),
}  # fmt: skip

@dataclass(frozen=True)
class Failure:
    """A cause, by its key: what to look at to be sure, what the new drain must have, and what of the old one can be kept."""

    key: str
    name: str
    look: str
    measure: str
    keep: str


@dataclass(frozen=True)
class Cause:
    """A cause with its share of belief and the evidence for and against it, and the findings of the new design that it hangs on, the worst first."""

    failure: Failure
    belief: Belief
    again: tuple[Finding, ...]

    @property
    def is_repeated(self) -> State:
        """Whether the new design does it again: fails or is tight where it does, unknown where nothing tells."""
        return self.again[0].state if self.again else State.UNKNOWN


@dataclass(frozen=True)
class Autopsy:
    """Causes from the likeliest down, the question that parts the first two best, and what of the old drain can be kept, in words."""

    causes: tuple[Cause, ...]
    ask_next: Question | None
    kept: tuple[str, ...]


def questions() -> tuple[Question, ...]:
    """What is looked at, in the order in which a drain is opened."""
    return questions_of(TABLE)


@cache
def failures() -> tuple[Failure, ...]:
    """Every cause."""
    return tuple(Failure(r["kind"], tr(r["name"]), tr(r["look"]), tr(r["measure"]), tr(r["keep"])) for r in rows_in("failures.csv"))


def autopsy(outcome: Outcome, drain: OldDrain) -> Autopsy:
    """Rank the causes, and hold the new design against them. What nobody has looked at leaves every cause as likely as the others."""
    found = _believed(outcome, drain)
    causes = tuple(_cause(outcome, belief) for belief in found)
    return Autopsy(causes, ask_next(TABLE, drain.seen, found[0].key, found[1].key), tuple(_kept(drain, causes)))


def _believed(outcome: Outcome, drain: OldDrain) -> list[Belief]:
    return ranked((failure.key for failure in failures()), [*said(TABLE, drain.seen), *_measured(outcome, drain)])


def _cause(outcome: Outcome, belief: Belief) -> Cause:
    codes = REPEATED_BY[belief.key]
    again = sorted([f for f in outcome.findings if f.code in codes], key=lambda f: f.state.rank)
    return Cause(next(failure for failure in failures() if failure.key == belief.key), belief, tuple(again))


def _measured(outcome: Outcome, drain: OldDrain) -> Iterator[tuple[Weights, str]]:
    """Evidence that figures give."""
    seen = {answer.question: answer.answer for answer in drain.seen}
    if drain.sediment is not None and drain.size:
        share = drain.sediment / drain.size
        words = tr("sediment fills {share:.0f} % of the pipe's height", share=100 * min(share, 1.0))
        yield ({"unheld": 0.7, "debris": 0.3, "no-fall": 0.3}, words) if share >= SILTED else ({"unheld": -0.7, "debris": -0.7}, words)
    if drain.blocked is not None:
        words = tr("{share:.0f} % of its openings are shut", share=100 * drain.blocked)
        yield ({"shut-from-below": 0.7, "slime": 0.5, "crust": 0.5}, words) if drain.blocked >= SHUT else ({"shut-from-below": -1.0, "slime": -0.5, "crust": -0.5}, words)
    if drain.age is not None:
        words = tr("it is {age:.0f} years old", age=drain.age)
        yield ({"unheld": 0.3, "misplaced": -0.7, "nest": -0.3}, words) if drain.age >= 10 else ({"misplaced": 0.3, "unheld": -0.3}, words)
    if seen.get("between") in ("nothing", "a sheet on top only"):
        yield from _by_gradation(outcome, outcome.site.run(drain.run) or outcome.chosen())


def _by_gradation(outcome: Outcome, found: RunOutcome) -> Iterator[tuple[Weights, str]]:
    """Whether the soil beside a run would go into bare drain stone, by its own gradation."""
    soil, stone = outcome.beside(found, found.part.station), outcome.library.aggregate("stone-19").coarse_side.size_at(15)
    try:
        limits = granular_filter_limits(soil.gradation)
    except InputError:
        return
    if stone is not None and not soil.gradation_assumed:
        if stone > 2 * limits.d15_max:
            yield {"unheld": 1.0}, tr("this soil runs into bare drain stone, by its gradation")
        elif stone <= limits.d15_max:
            yield {"unheld": -1.5}, tr("this soil stays out of bare drain stone, by its gradation")


def _kept(drain: OldDrain, causes: Sequence[Cause]) -> Iterator[str]:
    """What can be kept, by what was seen; nothing is said of what nobody looked at."""
    seen = {answer.question: answer.answer for answer in drain.seen}
    if not seen:
        return
    sound, clean = seen.get("pipe") == "sound", seen.get("stone") == "clean"
    if seen.get("end") in ("free, and it runs", "free, and nothing comes"):
        yield tr("its outlet, which is free")
    if sound and clean and seen.get("between") != "nothing":
        yield tr("the whole of it, once it is flushed and what stopped it is mended")
    elif sound:
        yield tr("its pipe as solid pipe that carries off, once it is flushed: its stone is not clean") if "stone" in seen else tr("its pipe, if the stone beside it is clean: dig and look")
    if causes[0].belief.share >= LIKELY:
        yield tr("as a rule: {keep}", keep=first_small(causes[0].failure.keep))


def old_drain_findings(outcome: Outcome) -> tuple[Finding, ...]:
    """Of each old drain whether the new design does again what is the likeliest cause of its failing; unknown while no cause stands out."""
    return tuple(_finding(outcome, drain) for drain in outcome.job.old_drains)


def _finding(outcome: Outcome, drain: OldDrain) -> Finding:
    first = _cause(outcome, _believed(outcome, drain)[0])  # the others are of use only on the page
    facts: Facts = {"drain": drain.name, "cause": first_small(first.failure.name), "look": first_small(first.failure.look), "measure": first_small(first.failure.measure),
                    "share": Amount(first.belief.share, k.SHARE), "finding": Titled(first.again[0].code) if first.again else None}  # fmt: skip
    told = Finding(State.UNKNOWN, "open", source="cp", facts=facts, code="old-drain", family="filters", subject=drain.id)
    if first.belief.share < LIKELY:
        return told
    return told.of(state=first.is_repeated, case="" if first.again else "not-judged")


# edits


def old_drain_of(job: Job, identity: str) -> OldDrain:
    """An old drain. Raises InputError where it is gone."""
    found: OldDrain | None = by_id(job.old_drains, identity)
    if found is None:
        raise InputError(tr("old drain"), tr("is not there any more"), identity)
    return found


def with_old_drain(job: Job, drain: OldDrain) -> Job:
    """The job with an old drain in the place of the one of its identity, or with one more."""
    is_there = by_id(job.old_drains, drain.id) is not None
    return dataclasses.replace(job, old_drains=tuple(drain if d.id == drain.id else d for d in job.old_drains) if is_there else (*job.old_drains, drain))


def opened(job: Job) -> tuple[Job, str]:
    """The job with another old drain, of which nothing is known yet, and its identity."""
    names = {d.name for d in job.old_drains}
    name = next(n for i in range(1, len(names) + 2) if (n := tr("old drain") if i == 1 else f"{tr('old drain')} {i}") not in names)
    drain = OldDrain(fresh(job.old_drains, OLD), name)
    return with_old_drain(job, drain), drain.id


def without_old_drain(job: Job, identity: str) -> Job:
    """The job without an old drain; the run that it is stays."""
    return dataclasses.replace(job, old_drains=tuple(d for d in job.old_drains if d.id != identity))


def old_drain_answered(job: Job, identity: str, question: str, answer: str) -> Job:
    """The job with a question about an old drain answered; an empty answer takes it out."""
    drain = old_drain_of(job, identity)
    return with_old_drain(job, dataclasses.replace(drain, seen=with_answer(drain.seen, question, answer)))


def as_existing(job: Job, identity: str, run: str) -> Job:
    """The job with an old drain being a run, which lies there then, with the sediment that was found in it."""
    drain = old_drain_of(job, identity)
    of: Run | None = by_id(job.runs, run)
    if of is None:
        raise InputError(drain.name, tr("is to be a run that is not there"), run)
    depth = of.sediment if drain.sediment is None and of.sediment > 0 else drain.sediment  # where it was said at the run alone, it is that
    job = with_run(job, dataclasses.replace(of, status=EXISTING, sediment=depth or 0.0))
    return with_old_drain(job, dataclasses.replace(drain, run=run, sediment=depth))
