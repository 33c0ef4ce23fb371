"""Edits of the rules by which a job counts its parts; each gives new rules."""

from __future__ import annotations

import dataclasses

from weirant.job.part_rules import OwnPart, PartRule, PartRules
from weirant.job.products import OWN, own_key


def with_count(rules: PartRules, part: str, wanted: str, each: float | None) -> PartRules:
    """The rules with a figure for a part of the library; None is the library's own again."""
    others = tuple(rule for rule in rules.counts if (rule.part, rule.wanted) != (part, wanted))
    return dataclasses.replace(rules, counts=others if each is None else (*others, PartRule(part, wanted, each)))


def with_own_part(rules: PartRules, name: str) -> PartRules:
    """The rules with one more own part, under a key out of its name that is not taken: one for each top, until it is said what for."""
    taken, stem = {part.key for part in rules.own}, own_key(name) if own_key(name) != OWN else f"{OWN}part"
    key = next(found for n in range(1, len(taken) + 2) if (found := stem if n == 1 else f"{stem}-{n}") not in taken)
    return dataclasses.replace(rules, own=(*rules.own, OwnPart(key, name, "end")))


def without_own_part(rules: PartRules, key: str) -> PartRules:
    """The rules without an own part."""
    return dataclasses.replace(rules, own=tuple(part for part in rules.own if part.key != key))
