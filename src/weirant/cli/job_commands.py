"""``check``, ``report``, ``cutsheet`` and ``schema``."""

from __future__ import annotations

import json
from argparse import Namespace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from weirant.cli.parser import guess
from weirant.cli.streams import print_json
from weirant.design.assess import assess
from weirant.design.effects import clears, effect_of, is_enough
from weirant.design.session import Session
from weirant.design.worked_out import simulated_findings, with_nothing_waiting
from weirant.errors import InputError, WeirantError
from weirant.formats import job_file
from weirant.formats.plain_files import write_safely
from weirant.ground.network import run_called
from weirant.job import Job
from weirant.job.network import OVER
from weirant.language import tr
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome, with_findings
from weirant.sources import citation
from weirant.units import parse
from weirant.units.dimension import LENGTH
from weirant.units.display import VOLUME, System, shown
from weirant.words.facts import at_most_words, called, plain_fact
from weirant.words.findings import as_told, offered, outside_of, spoiled_words, worded

if TYPE_CHECKING:
    from weirant.design.best_grade import GradePlan


PATTERN, ROOFS = "pattern:", "demo:roofs"


def open_job(name: str) -> Job:
    """The job of a file name, of a pattern, or a demo."""
    if name.startswith(PATTERN):
        from weirant.design.patterns import pattern

        return pattern(name.removeprefix(PATTERN)).job()
    if name == ROOFS:
        from weirant.design.demo_roofs import roofs_job

        return roofs_job()
    if name == "demo":
        from weirant.design.demo import demo_job

        return demo_job()
    return job_file.load(Path(name))


def check(given: Namespace) -> int:
    """Print the findings, worst first; with ``--storm`` also the simulated ones. 0 where nothing fails, 1 where something does."""
    session = Session()  # what a fix would do rests mostly on what is known already
    outcome = with_nothing_waiting(assess(open_job(given.job), session=session))
    if given.storm:
        outcome = with_findings(outcome, simulated_findings(outcome) or ())
    if given.json:
        print_json(_as_json(outcome, session), indent=1)
    else:
        print("\n".join(_line(outcome, session, finding) for finding in outcome.told))
    return 1 if any(f.state == State.FAILS for f in outcome.findings) else 0


def _line(outcome: Outcome, session: Session, finding: Finding) -> str:
    words = as_told(finding, outcome.job)
    fixes = "".join(tr("\n         fix: {fix}", fix=fix) for fix in _that_cure(outcome, session, finding))
    caution = tr("\n         caution: {caution}", caution=words.caution) if words.caution else ""
    limit = ""
    if finding.value is not None and finding.limit is not None and finding.kind is not None:
        system = System(outcome.job.units)
        limit = (f" [{shown(finding.value, finding.kind, system)}, {at_most_words(finding.at_most)} {shown(finding.limit, finding.kind, system)}]")
    return f"{tr(finding.state):<8} {words.title}: {words.reason}{limit}{caution}{fixes}"


def _that_cure(outcome: Outcome, session: Session, finding: Finding) -> list[str]:
    """The fixes that clear a finding, each with what it spoils."""
    told: list[str] = []
    enough: list[Fix] = []
    for fix in finding.fixes:
        if is_enough(fix, enough):
            continue
        try:
            effect = effect_of(fix, outcome, session)
        except WeirantError:
            continue
        if clears(finding, effect):
            enough.append(fix)
            spoils = spoiled_words(effect.spoiled, effect.job)
            told.append(offered(fix, outcome.job).name + (tr(" (spoils: {spoils})", spoils=spoils) if spoils else ""))
    return told


def _as_json(outcome: Outcome, session: Session) -> dict[str, Any]:
    names = {run.id: run.name for run in outcome.job.runs} | {thing.id: thing.name for thing in outcome.job.features}
    return {
        "job": outcome.job.name,
        "findings": [{"code": f.code, "case": f.case, "subject": f.subject or "job", "name": names.get(f.subject, ""), "place": f.place, "piece": f.piece, "family": f.family,
                      "state": str(f.state), "title": words.title, "value": f.value, "limit": f.limit, "band": list(f.band) if f.band else None,
                      "bound": "at most" if f.at_most else "at least", "margin": f.margin, "quantity": f.kind.name if f.kind else None,
                      "evidence": {name: plain_fact(fact) for name, fact in f.facts.items() if fact is not None},
                      "reason": words.reason, "outside_range": list(outside_of(f)), "caution": words.caution, "source": citation(f.source), "fixes": _that_cure(outcome, session, f),
                      "station": f.station, "elements": list(f.elements)} for f, words in ((f, worded(f, outcome.job)) for f in outcome.findings)],
        "quantities": {figure.label: figure.value for figure in outcome.takeoff.rows()} if outcome.takeoff else {},
    }  # fmt: skip


def report(given: Namespace) -> int:
    """Write the owner's sheet as PDF."""
    job = open_job(given.job)
    from weirant.paper.owner_sheet import owner_sheet_pdf

    write_safely(Path(given.output), owner_sheet_pdf(assess(job)))
    return 0


def why(given: Namespace) -> int:
    """Write why a run is built as it is, as PDF."""
    job = open_job(given.job)
    from weirant.paper.why_sheet import why_sheet_pdf

    outcome = assess(job)
    run = run_called(job, given.run).id if given.run else outcome.chosen().id
    write_safely(Path(given.output), why_sheet_pdf(outcome, run, given.against or ""))
    return 0


def orderlist(given: Namespace) -> int:
    """Write the order list as PDF."""
    job = open_job(given.job)
    from weirant.formats.price_list import open_price_list
    from weirant.outcome.prices import NO_PRICES

    prices = open_price_list(given.prices) if given.prices else NO_PRICES
    from weirant.paper.order_list import write_order_list

    write_order_list(assess(job), Path(given.output), prices)
    return 0


def cutsheet(given: Namespace) -> int:
    """Write the cut sheet of a run as CSV, or as a page to print where the target ends in .pdf."""
    from weirant.design.sheets import crew_cut_sheet

    target = Path(given.output)
    if given.all:
        return _every_sheet(given, target)
    if target.suffix.lower() not in (".csv", ".pdf"):
        raise InputError(target.name, tr("must end in .csv or .pdf"))
    job = open_job(given.job)
    outcome = assess(job)
    run = run_called(job, given.run).id if given.run else outcome.chosen().id
    lines = crew_cut_sheet(outcome, run, None if given.step is None else parse(given.step, LENGTH, "--step", strict=True))
    if target.suffix.lower() == ".pdf":
        from weirant.paper.cut_sheet import cut_sheet_pdf

        write_safely(target, cut_sheet_pdf(outcome, run, lines))
    else:
        from weirant.formats.cut_sheet_csv import write_cut_sheet

        write_safely(target, write_cut_sheet(lines, System(job.units), job.survey.staff, job.survey.rounding, is_shot=job.is_surveyed).encode())
    return 0


def _every_sheet(given: Namespace, folder: Path) -> int:
    """Sheets of every run into a folder; runs without ground are told and left out."""
    from weirant.paper.cut_sheet import write_every_sheet

    if given.run:
        raise InputError("--run", tr("cannot stand beside --all; ask for one of them"))
    written, told = write_every_sheet(assess(open_job(given.job)), folder, None if given.step is None else parse(given.step, LENGTH, "--step", strict=True))
    print("\n".join([*(path.name for path in written), *told]))
    return 0


def grade(given: Namespace) -> int:
    """Find the best grade of every run and print it; 0 where there is one, 1 with what could give way where there is none."""
    from weirant.design.best_grade import plan_grade
    from weirant.ground.grade.demands import Aim

    aims = {"dig": Aim.LEAST_DIG, "breaks": Aim.FEWEST_BREAKS, "depth": Aim.DEEPEST}
    if given.aim not in aims:
        raise InputError("--aim", tr("must be dig, breaks or depth{aim}", aim=guess(given.aim, aims)), given.aim)
    outcome = assess(open_job(given.job))
    plan = plan_grade(outcome, aims[given.aim], every=None if given.every is None else parse(given.every, LENGTH, "--every", strict=True))
    if given.json:
        print_json(_grade_json(outcome, plan), indent=1)
    else:
        print("\n".join(_grade_lines(outcome, plan)))
    return 0 if plan.job is not None else 1


def _grade_lines(outcome: Outcome, plan: GradePlan) -> list[str]:
    from weirant.words.grade import bindings_words, levels_words, sump_words, way_out_offer

    job = outcome.job
    system = System(outcome.job.units)
    if plan.job is None:
        return [tr("No grade line satisfies every demand. Any one of these would make it possible:"), *(f"  {way_out_offer(job, way).name}" for way in plan.ways_out),
                *([sump_words(job, plan)] if plan.sump is not None else [])]  # fmt: skip
    proof = "" if plan.best.is_proven else tr(" (best found in time; not proven)")
    return [tr("Dig {dig}, {dig_before} as it lies{proof}", dig=shown(plan.dig, VOLUME, system), dig_before=shown(plan.dig_before, VOLUME, system),
               proof=proof), *levels_words(job, plan.best),
            *((tr("{run} passes over {thing}", run=called(job, run), thing=called(job, thing)) if way == OVER
              else tr("{run} passes under {thing}", run=called(job, run), thing=called(job, thing))) for run, thing, way in plan.best.ways), *bindings_words(job, plan)]  # fmt: skip


def _grade_json(outcome: Outcome, plan: GradePlan) -> dict[str, Any]:
    from weirant.words.grade import sump_words, way_out_offer

    def named(identity: str) -> str:
        return called(outcome.job, identity) if identity else ""

    return {
        "feasible": plan.job is not None, "proven": plan.best.is_proven, "dig": plan.dig, "dig_before": plan.dig_before,
        "profiles": {named(run): [{"station": s, "invert": z} for s, z in zip(stations.tolist(), levels.tolist(), strict=True)]
                     for run, (stations, levels) in plan.best.levels.items()},
        "binding": [{"limit": str(b.family), "run": named(b.run), "thing": named(b.name), "station": b.station, "dig_per_unit": b.rate, "dig_saved_without": b.saving}
                    for b in plan.best.bindings],
        "ways": [{"run": named(run), "thing": named(thing), "way": way} for run, thing, way in plan.best.ways],
        "relaxations": [{"gives": {str(family): amount for family, amount in way.give.amounts}, "words": way_out_offer(outcome.job, way).name} for way in plan.ways_out],
        "advice": sump_words(outcome.job, plan),
    }  # fmt: skip


def print_schema(_: Namespace) -> int:
    """Print the job file's JSON Schema."""
    from weirant.formats.published_schema import schema as published

    print(json.dumps(published(), indent=1))
    return 0
