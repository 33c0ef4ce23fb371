"""Edits of trench sections, of the stretches that lie in them, and of the places of pipes in them; each gives a new job."""

from __future__ import annotations

import dataclasses

from weirant.errors import InputError
from weirant.job.assumed import unmarked
from weirant.job.geometry import APART, parts_of, run_of
from weirant.job.identity import BORE, SECTION, STRETCH, by_id, fresh
from weirant.job.job import Job
from weirant.job.network import Stretch
from weirant.job.run_edits import length, with_run
from weirant.job.section import MOST_BORES, Bore, TrenchSection
from weirant.language import tr
from weirant.units.display import STATION, System, shown


def section_of(job: Job, identity: str) -> TrenchSection:
    """The section of an identity. KeyError where there is none: the audit has let nothing else through."""
    found: TrenchSection | None = by_id(job.sections, identity)
    if found is None:
        raise KeyError(identity)
    return found


def with_section(job: Job, section: TrenchSection) -> Job:
    """The job with a section in the place of the one of its identity."""
    return dataclasses.replace(job, sections=tuple(section if s.id == section.id else s for s in job.sections))


def users_of(job: Job, section: str) -> tuple[str, ...]:
    """Names of the runs with a stretch in a section."""
    return tuple(run.name for run in job.runs if any(s.section == section for s in run.stretches))


def without_section(job: Job, identity: str) -> Job:
    """The job without a section. Raises InputError where a stretch lies in it."""
    used = users_of(job, identity)
    if used:
        raise InputError(section_of(job, identity).name, tr("is the trench of {used}; give those another section first", used=", ".join(used)))
    kept = tuple(s for s in job.sections if s.id != identity)
    return unmarked(dataclasses.replace(job, sections=kept), [f"sections.{identity}."])


def fresh_section_name(job: Job, stem: str) -> str:
    """A name that no section bears."""
    names = {s.name for s in job.sections}
    return next(name for i in range(2, len(names) + 3) if (name := f"{stem} {i}") not in names)


def in_section_of_its_own(job: Job, run: str, stretch: str) -> tuple[Job, str]:
    """The job with a stretch in a new section like the one it lies in, and the identity of that."""
    here = stretch_of(job, run, stretch)
    old = section_of(job, here.section)
    new = dataclasses.replace(old, id=fresh(job.sections, SECTION), name=fresh_section_name(job, old.name.rstrip(" 0123456789") or tr("trench")))
    job = dataclasses.replace(job, sections=(*job.sections, new))
    return with_stretch(job, run, dataclasses.replace(here, section=new.id)), new.id


def in_sections_of_its_own(job: Job, run: str) -> Job:
    """The job with a run in sections that no other run lies in: those that it shares are copied for it."""
    for section in sections_along(job, run):
        if len([r for r in job.runs if any(s.section == section.id for s in r.stretches) and r.trench_of != run]) < 2:
            continue
        copy = dataclasses.replace(section, id=fresh(job.sections, SECTION), name=fresh_section_name(job, section.name.rstrip(" 0123456789") or tr("trench")))
        here = run_of(job, run)
        stretches = tuple(dataclasses.replace(s, section=copy.id) if s.section == section.id else s for s in here.stretches)
        job = with_run(dataclasses.replace(job, sections=(*job.sections, copy)), dataclasses.replace(here, stretches=stretches))
    return job


def stretch_of(job: Job, run: str, identity: str) -> Stretch:
    """A stretch of a run. Raises InputError where it is gone."""
    found: Stretch | None = by_id(run_of(job, run).stretches, identity)
    if found is None:
        raise InputError("stretch", tr("is not there any more on {job}", job=run_of(job, run).name), identity)
    return found


def stretch_at(job: Job, run: str, station: float) -> Stretch:
    """The stretch of a run at a station m; where two meet the one above."""
    parts = parts_of(run_of(job, run), length(job, run))
    return next((stretch for low, _, stretch in reversed(parts) if station >= low - 1e-6), parts[0][2])


def with_stretch(job: Job, run: str, stretch: Stretch) -> Job:
    """The job with a stretch in the place of the one of its identity."""
    here = run_of(job, run)
    return with_run(job, dataclasses.replace(here, stretches=tuple(stretch if s.id == stretch.id else s for s in here.stretches)))


def split_at(job: Job, run: str, station: float) -> Job:
    """The job with a stretch in two, alike, at a station m. Raises InputError where one of them would be next to nothing."""
    here = run_of(job, run)
    for low, high, stretch in parts_of(here, length(job, run)):
        if low + APART < station < high - APART:
            index = here.stretches.index(stretch)
            lower = dataclasses.replace(stretch, to_station=round(station, 6))
            upper = dataclasses.replace(stretch, id=fresh(here.stretches, STRETCH))
            return with_run(job, dataclasses.replace(here, stretches=(*here.stretches[:index], lower, upper, *here.stretches[index + 1 :])))
    raise InputError(here.name, tr("has an end of a stretch at {station} already; stand between two", station=shown(station, STATION, System(job.units))))


def without_stretch(job: Job, run: str, identity: str) -> Job:
    """The job without a stretch: the one below it goes on, below the lowest the one above begins. Raises InputError for the last."""
    here = run_of(job, run)
    if len(here.stretches) == 1:
        raise InputError(here.name, tr("needs a stretch of pipe"))
    index = here.stretches.index(stretch_of(job, run, identity))
    kept = list(here.stretches[:index] + here.stretches[index + 1 :])
    if index == len(kept):
        kept[-1] = dataclasses.replace(kept[-1], to_station=None)
    elif index:
        kept[index - 1] = dataclasses.replace(kept[index - 1], to_station=here.stretches[index].to_station)
    return with_run(job, dataclasses.replace(here, stretches=tuple(kept)))


def sections_along(job: Job, run: str) -> tuple[TrenchSection, ...]:
    """The sections that a run lies in, each once, from its low end up."""
    return tuple(section_of(job, s) for s in dict.fromkeys(stretch.section for stretch in run_of(job, run).stretches))


def with_place_for(job: Job, host: str, bore: Bore) -> tuple[Job, str]:
    """The job with a further place for a pipe in every section of a run, and the identity it has in all of them.

    Raises InputError where a section has as many as there may be.
    """
    along = sections_along(job, host)
    full = next((s for s in along if len(s.bores) >= MOST_BORES), None)
    if full is not None:
        raise InputError(full.name, tr("has {most_bores} places for pipes, which is the most", most_bores=MOST_BORES))
    identity = fresh((b for s in along for b in s.bores), BORE)
    for section in along:
        job = with_section(job, dataclasses.replace(section, bores=(*section.bores, dataclasses.replace(bore, id=identity))))
    return job, identity
