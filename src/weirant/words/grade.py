"""What a best grade costs, where its levels lie, and what could give way, in the user's units."""

from __future__ import annotations

from weirant.design.best_grade import GradePlan, WayOut
from weirant.ground.grade.best import BestGrade, Binding
from weirant.ground.grade.demands import Family
from weirant.job import Job
from weirant.language import capital, tr
from weirant.outcome.commands import Instead, Offer
from weirant.outcome.facts import Amount, Facts, Named
from weirant.units.display import DEPTH, LEVEL, SECTION, STATION, VOLUME, System, shown
from weirant.words.facts import called, phrase

_WHAT = {
    Family.OUTLET: tr("the level of the outlet"), Family.SLOPE: tr("the least slope"), Family.STEEP: tr("the steepest slope"), Family.COVER: tr("the cover"),
    Family.CAP: tr("the soil over the stone"),
    Family.DEPTH: tr("the deepest trench allowed"), Family.COLLECT: tr("the depth the ground is to be dry to"), Family.JOINT: tr("the joint"),
}  # fmt: skip


def binding_words(job: Job, binding: Binding) -> str:
    """What one demand costs."""
    system = System(job.units)

    def dig(volume: float) -> str:
        told = shown(volume, VOLUME, system)
        return tr("{told} of dig", told=told) if told != shown(0.0, VOLUME, system) else tr("next to no dig")

    where = tr("{run}, station {station}", run=called(job, binding.run), station=shown(binding.station, STATION, system))
    head = capital(where)
    if binding.family in (Family.CROSSING, Family.HELD):
        what = tr("the {clearance} kept clear of {thing}",
                  clearance=shown(job.limits.clearance, SECTION, system), thing=called(job, binding.name)) if binding.family == Family.CROSSING else tr("the invert you hold")
        saved = binding.saving if binding.saving is not None else 0.0
        return tr("{what} ({where}) costs {saved}.", what=capital(what), where=where, saved=dig(saved))
    if binding.family in (Family.SLOPE, Family.STEEP):
        return tr("{head}: {what} holds it; 0.1 % less would save {rate}.", head=head, what=_WHAT[binding.family], rate=dig(binding.rate * 0.001))
    step, words = (0.0254, tr("1 in")) if system == System.IMPERIAL else (0.01, tr("10 mm"))
    return tr("{head}: {what} holds it; each {words} costs {rate}.", head=head, what=_WHAT[binding.family], words=words, rate=dig(binding.rate * step))


def bindings_words(job: Job, plan: GradePlan) -> list[str]:
    """What each demand that holds a best grade costs; none where there is no line."""
    return [binding_words(job, binding) for binding in plan.best.bindings] if plan.job is not None else []


def levels_words(job: Job, best: BestGrade) -> list[str]:
    """Levels of every run at its nodes, a line each, for the command line."""
    system, rows = System(job.units), []
    for run, (stations, levels) in best.levels.items():
        for station, level in zip(stations.tolist(), levels.tolist(), strict=True):
            rows.append(f"{called(job, run):<16} {shown(station, STATION, system):>12} {shown(level, LEVEL, system):>12}")
    return rows


def way_out_offer(job: Job, way: WayOut) -> Offer:
    """What could give way, as an offer to try."""
    return Offer("; ".join(phrase("gives", given.code, given.facts, job) for given in way.gives), Instead(way.job))


def sump_words(job: Job, plan: GradePlan) -> str:
    """Where a pump would stand if gravity cannot do it; empty for none."""
    if plan.sump is None:
        return ""
    facts: Facts = {"run": Named(plan.sump.run), "at": Amount(plan.sump.station, STATION), "lift": Amount(plan.sump.lift, DEPTH)}
    return phrase("advice", "sump", facts, job)
