"""How each kind of fact is said, and sentences and phrases filled with them."""

from __future__ import annotations

import math
import re
import tomllib
from collections.abc import Mapping, Sequence
from functools import cache
from pathlib import Path
from typing import Any

from weirant.job import Job
from weirant.job.doubt import Doubt
from weirant.job.identity import by_id
from weirant.job.network import Run
from weirant.job.site import Feature
from weirant.job.water import Source
from weirant.language import first_small, tr
from weirant.outcome.facts import Amount, Fact, Facts, Fall, Lasting, Named, Times, Titled, WaterDepth
from weirant.units.display import SECTION, WATER_DEPTH, System, shown, shown_span
from weirant.words.template import Template, parsed

BOARD = {System.IMPERIAL: (3.048, tr("10 ft")), System.METRIC: (3.0, "3 m")}  # over what length a fall is told: the board or tape at hand
_HEAD = re.compile(r"^\[([\w-]+)(?:\.[\w-]+)?\]$", re.MULTILINE)
MOST_NAMES = 6  # of many in a sentence


def fact_words(fact: Fact, job: Job, system: System) -> str:
    """A fact as the reader is told it. Raises KeyError for an identity that the job does not have."""
    match fact:
        case Amount(value, kind):
            return shown(value, kind, system)
        case Named(identity):
            return called(job, identity)
        case Doubt(code, subject, detail):
            return phrase("doubts", code, {"subject": Named(subject), "detail": detail}, job)
        case WaterDepth(depth):
            return water_words(depth, system)
        case Times(ratio):
            return times_words(ratio)
        case Fall(slope):
            length, words = BOARD[system]
            return tr("{slope} in {words}", slope=shown(slope * length, SECTION, system), words=words)
        case Lasting(seconds, looked_at):
            return tr("more than {looked_at:g} h", looked_at=looked_at / 3600) if not math.isfinite(seconds) else shown_span(seconds) if seconds >= 60 else tr("at once")
        case Titled(code):
            return first_small(tr(str(part_of("findings.toml", code)["title"])).replace("{place}", tr("the place")))
        case tuple():
            told = [fact_words(one, job, system) for one in fact]
            if len(told) > MOST_NAMES + 1 and not isinstance(fact[0], str):
                return listed(told)
            return ", ".join(told) if isinstance(fact[0], str) or len(told) < 2 else tr("{some} and {last}", some=", ".join(told[:-1]), last=told[-1])
        case float():
            return tr("{number:g}", number=fact)
        case str():
            return tr(fact)
    return str(fact)


def listed(names: Sequence[str]) -> str:
    """Names one after the other, of many the first and how many more."""
    return ", ".join(names[:MOST_NAMES]) + (tr(" and {number} more", number=len(names) - MOST_NAMES) if len(names) > MOST_NAMES else "")


def filled(template: Template, facts: Facts, job: Job) -> str:
    """A sentence with its facts, in the units of the job."""
    system = System(job.units)
    return template.filled(lambda name: bool(facts.get(name)), lambda name: fact_words(facts[name], job, system))


def phrase(kind: str, code: str, facts: Facts, job: Job) -> str:
    """A phrase of a kind (fixes, gives, doubts …) by its code."""
    return filled(_phrases(kind)[code], facts, job)


def doubt_words(doubt: Doubt | None, job: Job) -> str:
    """Why a figure is not known; empty where it is."""
    return fact_words(doubt, job, System(job.units)) if doubt is not None else ""


@cache
def _phrases(kind: str) -> Mapping[str, Template]:
    return {code: parsed(tr(text)) for code, text in part_of("phrases.toml", kind).items()}


@cache
def _parts(name: str) -> dict[str, str]:
    """The text of each part of a table of sentences: reading all of them takes longer than most that ask for some."""
    found: dict[str, str] = {}
    heads = [*_HEAD.finditer(text := Path(__file__).with_name(name).read_text(encoding="utf-8"))]
    for head, end in zip(heads, [*(after.start() for after in heads[1:]), len(text)], strict=True):
        found[head[1]] = found.get(head[1], "") + text[head.start() : end]
    return found


@cache
def part_of(name: str, part: str) -> dict[str, Any]:
    """One part of a table of sentences. Raises KeyError."""
    found: dict[str, Any] = tomllib.loads(_parts(name)[part])[part]
    return found


@cache
def table(name: str) -> dict[str, dict[str, Any]]:
    """A table of sentences of this room."""
    return tomllib.loads(Path(__file__).with_name(name).read_text(encoding="utf-8"))


def called(job: Job, identity: str) -> str:
    """How the job calls a run, thing or source. Raises KeyError where it has none of that identity."""
    for things in (job.runs, job.features, job.sources):
        one: Run | Feature | Source | None = by_id(things, identity)
        if one is not None:
            return one.name
    raise KeyError(identity)


def plain_fact(fact: Fact) -> object:
    """A fact as bare numbers, identities and texts, SI."""
    match fact:
        case Amount(value, kind):
            return {"value": value, "quantity": kind.name}
        case Named(identity) | Titled(identity):
            return identity
        case Doubt(code, subject):
            return {"code": code, "subject": subject}
        case WaterDepth(number) | Times(number) | Fall(number):
            return number
        case Lasting(seconds):
            return seconds if math.isfinite(seconds) else None
        case tuple():
            return [plain_fact(one) for one in fact]
    return fact


def at_most_words(at_most: bool) -> str:
    """On which side of a limit a value is to stay."""
    return tr("at most") if at_most else tr("at least")


def water_words(depth: float, system: System) -> str:
    """A depth m to water in words: below ground, or how far it stands over it."""
    return shown(depth, WATER_DEPTH, system) if depth < 0 else tr("{depth} below ground", depth=shown(depth, WATER_DEPTH, system))


def times_words(ratio: float) -> str:
    """How many times, to two figures: more would say more than is known."""
    rounded = float(f"{ratio:.2g}")
    return tr("{rounded:,.0f} times", rounded=rounded) if rounded >= 10 else tr("{rounded:g} times", rounded=rounded)
