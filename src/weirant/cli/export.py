"""``export``: a job for other programs, by the ending of the file."""

from __future__ import annotations

import dataclasses
from argparse import Namespace
from collections.abc import Callable
from functools import partial
from pathlib import Path

from weirant.cli.job_commands import open_job, run_called
from weirant.design.assess import assess
from weirant.design.worked_out import with_nothing_waiting
from weirant.errors import InputError
from weirant.formats.exports import EXPORTS, Export
from weirant.formats.grade_csv import STEP, every_grade, grade_csv
from weirant.formats.plain_files import write_safely
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.units import parse
from weirant.units.dimension import LENGTH
from weirant.units.display import System, in_both

LEAST_STEP, MOST_STEP = 0.05, 1000.0  # m between lines of grades
PLAN, PICTURES = "plan", (".svg", ".png")
Write = Callable[[Namespace, Outcome], bytes]


def export(given: Namespace) -> int:
    """Write it; 0."""
    path = Path(given.output)
    write = BY_ENDING.get(path.suffix.lower())
    if write is None:
        raise InputError("-o", tr("must end in {endings}", endings=", ".join(BY_ENDING)), path.name)
    for option, value, endings in (("step", given.step, (".csv",)), ("what", given.what, PICTURES), ("scale", given.scale, PICTURES)):
        if value and path.suffix.lower() not in endings:
            raise InputError(f"--{option}", tr("is for files that end in {endings}", endings=", ".join(endings)), path.name)
    write_safely(path, write(given, assess(open_job(given.job))))
    return 0


def _by_kind(kind: Export, given: Namespace, outcome: Outcome) -> bytes:
    return kind.write(_alone(outcome, run_called(outcome.job, given.run).id) if given.run else outcome)


def _alone(outcome: Outcome, identity: str) -> Outcome:
    """One run with its nodes, among the things of the site."""
    found, job = outcome.run(identity), outcome.job
    nodes = {node.id for node, _ in found.run.nodes}
    return dataclasses.replace(outcome, job=dataclasses.replace(job, nodes=tuple(node for node in job.nodes if node.id in nodes)),
                               site=dataclasses.replace(outcome.site, runs=(found,)))  # fmt: skip


def _grades(given: Namespace, outcome: Outcome) -> bytes:
    step = float(parse(given.step, LENGTH, "step", strict=True)) if given.step else STEP
    if not LEAST_STEP <= step <= MOST_STEP:
        raise InputError("step", tr("must be from {least} to {most}", least=in_both(LEAST_STEP), most=in_both(MOST_STEP)), given.step)
    return grade_csv(outcome, (outcome.run(run_called(outcome.job, given.run).id),), step).encode("utf-8") if given.run else every_grade(outcome, step)


def _picture(given: Namespace, outcome: Outcome) -> bytes:
    from weirant.paper.picture_out import drawing_of, picture  # draws

    words = (given.scale or "1:100").replace(" ", "")
    one, colon, number = words.partition(":")
    try:
        scale = float(number if colon else one)
    except ValueError as fault:
        raise InputError("scale", tr("must read 1:100"), given.scale) from fault
    if colon and one != "1":
        raise InputError("scale", tr("must read 1:100"), given.scale)
    run = run_called(outcome.job, given.run).id if given.run else ""
    drawing = drawing_of(with_nothing_waiting(outcome), given.what or PLAN, run)
    return picture(drawing, scale, Path(given.output).suffix.lower(), System(outcome.job.units), north=(given.what or PLAN) == PLAN)


BY_ENDING: dict[str, Write] = {ending: partial(_by_kind, kind) for ending, kind in EXPORTS.items()} | {".csv": _grades, ".svg": _picture, ".png": _picture}
