"""Findings as they are told: what is found of many runs once, the worst of it, with the list of the others."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable

from weirant.job import Job
from weirant.outcome.finding import Finding


def told(findings: Iterable[Finding], job: Job) -> tuple[Finding, ...]:
    """One finding for each check, place and state: that with the least room, named for its run, and in ``also`` the other subjects; the order stays."""
    groups: dict[tuple[str, str, str], list[Finding]] = {}
    for finding in findings:
        groups.setdefault((finding.key, finding.place, str(finding.state)), []).append(finding)
    return tuple(_named(_worst(group), job) for group in groups.values())


def _named(finding: Finding, job: Job) -> Finding:
    also = also_words(finding, job)
    return dataclasses.replace(finding, title=title_of(finding, job), reason=f"{finding.reason} {also}".strip())


def _worst(group: list[Finding]) -> Finding:
    if len(group) == 1:
        return group[0]
    worst = min(group, key=lambda f: f.margin if f.margin is not None else float("-inf"))
    return dataclasses.replace(worst, also=tuple(f.subject for f in group if f is not worst))


def title_of(finding: Finding, job: Job) -> str:
    """The title with the run it is about, where there are several, and how many more."""
    if len(job.runs) < 2 or not finding.subject:
        return finding.title
    name = next((run.name for run in job.runs if run.id == finding.subject), "")
    if len(finding.also) + 1 == len(job.runs) and len(job.runs) > 2:
        return f"{finding.title}: every run" if finding.value is None else f"{finding.title}: all, least room in {name}"
    more = f" and {len(finding.also)} more" if finding.also else ""
    return f"{finding.title}: {name}{more}" if name else finding.title


def also_words(finding: Finding, job: Job) -> str:
    """The other runs of which the same is found, in words; empty for none."""
    names = [run.name for run in job.runs if run.id in finding.also]
    if not names:
        return ""
    return f"Also: {', '.join(names[:6])}{f' and {len(names) - 6} more' if len(names) > 6 else ''}."
