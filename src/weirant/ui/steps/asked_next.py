"""What is asked next, in plain words: the first thing in the order of the trade that somebody must look at, measure or ask."""

from __future__ import annotations

from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.ui.steps.catalogue import STEPS

ASKED = {
    tr("what is to be dry?"): tr("say what is to be dry"),
    tr("made up, not shot"): tr("shoot the grades"),
    tr("no readings yet"): tr("shoot the grades"),
    tr("one more reading"): tr("shoot one more reading"),
    tr("hard layer not known"): tr("dig a hole: how deep is the hard layer?"),
    tr("depth to water not known"): tr("leave a hole open: how deep is the water?"),
    tr("water level at outlet?"): tr("level the water at the outlet"),
}


def asked_next(outcome: Outcome) -> tuple[str, str]:
    """The step where it is done, and what it is; both empty where nothing is asked."""
    for step in STEPS:
        lacking = step.lacks(outcome.job)
        if lacking in ASKED:
            return step.key, ASKED[lacking]
        if lacking and step.key == "order":
            return step.key, tr("ask before you dig")
    return "", ""
