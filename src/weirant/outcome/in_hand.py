"""What was computed, seen for the run in hand."""

from __future__ import annotations

import dataclasses

from weirant.job.in_hand import as_main, index_of
from weirant.outcome.outcome import Outcome


def seen_for(outcome: Outcome, name: str) -> Outcome:
    """The outcome with the run of a name in the place of the main line; flow is worked out for the main line only."""
    if index_of(outcome.job, name) < 0:
        return outcome
    found = outcome.site.run(name) if outcome.site is not None else None
    return dataclasses.replace(outcome, job=as_main(outcome.job, name), grade=found.grade if found else None, flow=None, flow_high=None)
