"""Findings as they are told: what is found of many runs once, the worst of it, with the others named beside it."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable

from weirant.outcome.facts import Fact
from weirant.outcome.finding import Finding, State


def told(findings: Iterable[Finding]) -> tuple[Finding, ...]:
    """One finding for each check, case, place and state, and for what is missing: that with the least room, and in ``also`` the other subjects; the
    order stays.
    """
    groups: dict[tuple[str, str, str, State, Fact], list[Finding]] = {}
    for finding in findings:
        groups.setdefault((finding.code, finding.case, finding.place, finding.state, finding.facts.get("missing")), []).append(finding)
    return tuple(_worst(group) for group in groups.values())


def _worst(group: list[Finding]) -> Finding:
    if len(group) == 1:
        return group[0]
    worst = min(group, key=lambda f: f.margin if f.margin is not None else float("-inf"))
    return dataclasses.replace(worst, also=tuple(f.subject for f in group if f is not worst))
