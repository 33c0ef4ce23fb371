"""What suits a soil, told as rows and a sentence."""

from __future__ import annotations

from weirant.design.suited import CLOTH, SAND, STONE, Suited, Suits
from weirant.language import first_small, tr
from weirant.outcome.finding import State
from weirant.words.facts import listed
from weirant.words.findings import titles

KINDS = {CLOTH: tr("cloth"), STONE: tr("bare stone"), SAND: tr("sand round the stone")}


def contacts_words(product: Suited) -> str:
    """Which of its contacts do not hold, the worst first; that all do."""
    bad = sorted(((state, code) for code, state in product.states.items() if state != State.HOLDS), key=lambda each: each[0].rank)
    return listed([f"{first_small(titles()[code])}: {tr(state)}" for state, code in bad]) or tr("every contact holds")


def ways_words(suits: Suits) -> str:
    """Of how many ways to build how many suit."""
    return tr("Of {all} ways to build with all of the library {holds} hold, {tight} are tight, {fails} fail and {unknown} are not known.", all=sum(suits.ways.values()),
              **{str(state): suits.ways.get(state, 0) for state in State})  # fmt: skip
