"""The whole calculation of one job."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from functools import partial

from weirant.checks import OF_ITS_MAKE, ByFamily, Kept, run_checks
from weirant.design.autopsy import old_drain_findings
from weirant.design.flows import with_flows
from weirant.design.session import Session
from weirant.design.site import site_of
from weirant.design.soil import layer_figures, soil_figures
from weirant.design.takeoff import take_off, with_amounts
from weirant.ground.levels import reduce_book
from weirant.hydraulics.accumulate import Steady
from weirant.job import Job
from weirant.job.soil import Soil
from weirant.job.work_terms import HAULED
from weirant.library import Library, shipped, with_own
from weirant.outcome.outcome import Outcome, SoilFigures
from weirant.outcome.site import RunOutcome
from weirant.rules import Rules, shipped_rules
from weirant.units.display import System


def assess(job: Job, library: Library | None = None, session: Session | None = None, rules: Rules | None = None) -> Outcome:
    """Ground, grade, water, pipe, quantities and findings of a job and each of its runs; no file and no screen touched.

    The own products of the job stand beside those of the library. ``library`` and ``rules`` are those that come with the application where none are
    handed in. ``session`` keeps what the next assessment can use again. Raises InputError where a product named in the job is not in the library.
    """
    basis, session = library or shipped(), session or Session()
    library = session.once("library", (basis, job.products), lambda: with_own(basis, job.products))
    book = session.once("book", (job.survey, job.units), lambda: reduce_book(job.survey, System(job.units)))
    soils = {soil.id: session.once(f"soil {soil.id}", (soil, library), partial(soil_figures, soil, library)) for soil in job.soils}
    layers = {soil.id: session.once(f"layers {soil.id}", (soil, library), partial(_layers_of, soil, library)) for soil in job.soils}
    rules = rules or shipped_rules()
    site = with_amounts(with_flows(job, site_of(job, book, library, session), soils, library, rules, session), session, job.work.method)
    if job.work.spoil != HAULED:
        from weirant.design.spoil_bands import with_spoil  # counts by the bill, which a start need not load

        site = with_spoil(job, site, session)
    outcome = Outcome(job, book, library, rules, soils, layers, site)
    if any(found.grade is not None for found in site.runs):
        outcome = dataclasses.replace(outcome, takeoff=take_off(job, site, library))
    outcome = dataclasses.replace(outcome, findings=run_checks(outcome, _keeper(outcome, session)))
    if job.old_drains:  # what they say is held against all the others
        told = (*outcome.findings, *old_drain_findings(outcome))
        outcome = dataclasses.replace(outcome, findings=tuple(sorted(told, key=lambda f: f.state.rank)))
    session.rest()
    return outcome


def _layers_of(soil: Soil, library: Library) -> tuple[SoilFigures, ...]:
    return tuple(layer_figures(soil, number, library) for number in range(len(soil.layers)))


ELSEWHERE = ("runs", "nodes", "assumed", "points", "unread", "storms", "rainfall", "answers", "old_drains", "holes", "parts", "name", "place", "date", "client", "contractor")


def _keeper(outcome: Outcome, session: Session) -> Kept:
    """Gives findings about a run: those of before where nothing that they can rest on has changed.

    What a check may look at is the run with all that was found of it, the runs it
    meets, those in its trench, and everything of the job but other runs and what stands in ``ELSEWHERE``.
    """
    job, site = outcome.job, outcome.site
    fields = tuple(getattr(job, f.name) for f in dataclasses.fields(job) if f.name not in ELSEWHERE)
    whole = session.once("basis", (*fields, outcome.rules, outcome.library, site.no_surface, bool(job.points), outcome.book), object)  # stands for all of them
    meets: dict[str, list[object]] = {}
    for meeting in site.meetings:
        for run, other in ((meeting.first, meeting.second), (meeting.second, meeting.first)):
            meets.setdefault(run, []).append(site.network.run(other))
    for guest in job.runs:
        meets.setdefault(guest.trench_of, []).append(guest)

    def basis(found: RunOutcome) -> object:
        met = (other for node, _ in found.run.nodes for other, _ in site.network.others_at(found.run, node.id))
        pump = site.pumps.get(found.run.nodes[0][0].id)
        lifts = (pump.floor, pump.lets_go_at, pump.comes_back, pump.discharge) if pump is not None else ()
        leaves = site.exits.get(found.run.nodes[0][0].id, Steady())
        on = (whole, found.run, found.stretches, found.grade, found.crossings, found.water, found.flow, found.flow_high, "".join(site.carries[found.id]), *met,
              *meets.get(found.id, ()), *lifts, leaves.discharge, leaves.missing, leaves.shared, site.trails.get(found.run.nodes[0][0].id), site.stone_shares.get(found.id))  # fmt: skip
        return session.once(f"basis {found.id}", on, object)

    bases = {found.id: basis(found) for found in site.runs}

    def kept(on: str, found: RunOutcome, make: Callable[[], ByFamily]) -> ByFamily:
        if on == OF_ITS_MAKE:
            lies = (*found.stretches, *found.soils)
            met = session.once(f"layers met {found.id}", (found.grade, *lies), lambda: str([met.layers for met in found.layers]))
            return session.once(f"findings of {on} {found.id}", (whole, found.run.run.status, *lies, met), make)
        rest = (bases[found.id],)
        return session.once(f"findings of {on} {found.id}", rest, make)

    return kept
