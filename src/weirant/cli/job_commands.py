"""``check``, ``report``, ``cutsheet`` and ``schema``."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.errors import InputError
from weirant.formats import job_file
from weirant.formats.atomic import write_safely
from weirant.formats.cut_sheet_csv import write_cut_sheet
from weirant.job import Job
from weirant.outcome.finding import Finding, State
from weirant.outcome.outcome import Outcome
from weirant.sources import citation
from weirant.units.display import System, shown


def open_job(name: str) -> Job:
    """The job of a file name, or the demo."""
    return demo_job() if name == "demo" else job_file.load(Path(name))


def _words(arguments: list[str], flags: tuple[str, ...], usage: str) -> list[str]:
    words = [a for a in arguments if a not in flags]
    if any(w.startswith("-") and w != "-o" for w in words) or not words:
        raise InputError("", f"use: {usage}")
    return words


def check(arguments: list[str]) -> int:
    """Print the findings, worst first. 0 where nothing fails, 1 where something does."""
    words = _words(arguments, ("--json",), "weirant check JOB [--json]")
    if len(words) != 1:
        raise InputError("", "use: weirant check JOB [--json]")
    outcome = assess(open_job(words[0]))
    if "--json" in arguments:
        print(json.dumps(_as_json(outcome), allow_nan=False, ensure_ascii=False, indent=1))
    else:
        print("\n".join(_line(outcome, finding) for finding in outcome.findings))
    return 1 if any(f.state == State.FAILS for f in outcome.findings) else 0


def _line(outcome: Outcome, finding: Finding) -> str:
    fixes = "".join(f"\n         fix: {fix.name}" for fix in finding.fixes)
    caution = f"\n         caution: {finding.caution}" if finding.caution else ""
    limit = ""
    if finding.value is not None and finding.limit is not None and finding.kind is not None:
        system = System(outcome.job.units)
        limit = (f" [{shown(finding.value, finding.kind, system)}, {'at most' if finding.at_most else 'at least'} "
                 f"{shown(finding.limit, finding.kind, system)}]")  # fmt: skip
    return f"{finding.state:<8} {finding.title}: {finding.reason}{limit}{caution}{fixes}"


def _as_json(outcome: Outcome) -> dict[str, Any]:
    return {
        "job": outcome.job.name,
        "findings": [{"key": f.key, "family": f.family, "state": str(f.state), "title": f.title, "value": f.value, "limit": f.limit,
                      "bound": "at most" if f.at_most else "at least", "margin": f.margin, "quantity": f.kind.name if f.kind else None,
                      "reason": f.reason, "caution": f.caution, "source": citation(f.source), "fixes": [x.name for x in f.fixes],
                      "station": f.station, "elements": list(f.elements)} for f in outcome.findings],
        "quantities": {figure.label: figure.value for figure in outcome.takeoff.rows()} if outcome.takeoff else {},
    }  # fmt: skip


def _target(arguments: list[str], usage: str) -> tuple[Job, Path]:
    words = _words(arguments, (), usage)
    if len(words) != 3 or "-o" not in words[:2]:
        raise InputError("", f"use: {usage}")
    at = words.index("-o")
    name, target = words[2 if at == 0 else 0], words[at + 1]
    return open_job(name), Path(target)


def report(arguments: list[str]) -> int:
    """Write the owner's sheet as PDF."""
    job, target = _target(arguments, "weirant report JOB -o FILE.pdf")
    from weirant.paper.owner_sheet import owner_sheet_pdf

    write_safely(target, owner_sheet_pdf(assess(job)))
    return 0


def cutsheet(arguments: list[str]) -> int:
    """Write the cut sheet as CSV."""
    from weirant.design.sheets import crew_cut_sheet

    job, target = _target(arguments, "weirant cutsheet JOB -o FILE.csv")
    write_safely(target, write_cut_sheet(crew_cut_sheet(assess(job)), System(job.units)).encode())
    return 0


def print_schema(arguments: list[str]) -> int:
    """Print the job file's JSON Schema."""
    if arguments:
        raise InputError(arguments[0], "is not known; weirant schema takes nothing")
    print(json.dumps(job_file.schema(), indent=1))
    return 0
