"""``weirant autopsy``: why old drains of a job failed, what can be kept, and whether the new design does it again."""

from __future__ import annotations

from argparse import Namespace

from weirant.cli.job_commands import open_job
from weirant.cli.streams import print_json
from weirant.design.assess import assess
from weirant.design.autopsy import Autopsy, autopsy
from weirant.errors import InputError
from weirant.job.old_drains import OldDrain
from weirant.language import tr

SHOWN = 4


def old_drains(given: Namespace) -> int:
    """Print them; 0."""
    job = open_job(given.job)
    if not job.old_drains:
        raise InputError(job.name, tr("has no old drain: open one in step 1"))
    outcome = assess(job)
    found = [(drain, autopsy(outcome, drain)) for drain in job.old_drains]
    if given.json:
        print_json([_as_json(drain, told) for drain, told in found], indent=1)
    else:
        print("\n".join(line for drain, told in found for line in _lines(drain, told)))
    return 0


def _as_json(drain: OldDrain, told: Autopsy) -> dict[str, object]:
    return {"id": drain.id, "name": drain.name, "run": drain.run, "kept": list(told.kept), "ask_next": told.ask_next.key if told.ask_next else None,
            "causes": [{"cause": c.failure.key, "share": c.belief.share, "for": list(c.belief.points_for), "against": list(c.belief.points_against),
                        "repeated": str(c.is_repeated), "findings": [f.code for f in c.again]} for c in told.causes]}  # fmt: skip


def _lines(drain: OldDrain, told: Autopsy) -> list[str]:
    lines = [drain.name]
    for cause in told.causes[:SHOWN]:
        lines.append(tr("  {share:.0f} of 100: {cause}. It wants: {measure}. In the new design: {state}", share=100 * cause.belief.share, cause=cause.failure.name,
                        measure=cause.failure.measure, state=tr(cause.is_repeated)))  # fmt: skip
    if told.kept:
        lines.append("  " + tr("Can be kept: {kept}.", kept="; ".join(told.kept)))
    if told.ask_next is not None:
        lines.append("  " + tr("Look next: {asked}", asked=told.ask_next.text))
    return lines
