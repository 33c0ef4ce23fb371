"""What is asked next, in plain words: the first thing in the order of the trade that somebody must look at, measure or ask."""

from __future__ import annotations

from weirant.outcome.outcome import Outcome
from weirant.ui.steps.catalogue import STEPS

ASKED = {
    "what is to be dry?": "say what is to be dry",
    "made up, not shot": "shoot the grades",
    "no readings yet": "shoot the grades",
    "one more reading": "shoot one more reading",
    "hard layer not known": "dig a hole: how deep is the hard layer?",
    "depth to water not known": "leave a hole open: how deep is the water?",
    "water level at outlet?": "level the water at the outlet",
}


def asked_next(outcome: Outcome) -> tuple[str, str]:
    """The step where it is done, and what it is; both empty where nothing is asked."""
    for step in STEPS:
        lacking = step.lacks(outcome.job)
        if lacking in ASKED:
            return step.key, ASKED[lacking]
        if lacking.endswith("to ask"):
            return step.key, "ask before you dig"
    return "", ""
