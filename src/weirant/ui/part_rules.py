"""The rules of parts that were typed last, remembered by the program: a new job begins with them."""

from __future__ import annotations

import dataclasses
import json

from weirant.job import Job
from weirant.job.faults import faults
from weirant.job.part_rules import OwnPart, PartRule, PartRules
from weirant.library.parts import is_counted
from weirant.ui.memory import remember, words

KEY = "rules of parts"


def keep_rules(rules: PartRules) -> None:
    """Remember them."""
    text = json.dumps(dataclasses.asdict(rules), ensure_ascii=False)
    if text != words(KEY) and (words(KEY) or rules != PartRules()):
        remember(KEY, text)


def with_rules(job: Job) -> Job:
    """A new job with the rules of the last one; what cannot be read any more is as usual."""
    try:
        found = json.loads(words(KEY) or "{}")
        rules = PartRules(tuple(rule for one in found.get("counts", ()) if is_counted(rule := PartRule(**one))), tuple(OwnPart(**one) for one in found.get("own", ())))
        begun = dataclasses.replace(job, parts=rules)
        return job if faults(begun) else begun
    except (ValueError, TypeError, AttributeError, RecursionError):
        return job
