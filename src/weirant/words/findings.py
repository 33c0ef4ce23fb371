"""Findings in words: title, reason, warning and fixes, in the units of the job."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from functools import cache

from weirant.errors import WeirantError
from weirant.job import Job
from weirant.language import capital, first_small, tr
from weirant.library import shipped
from weirant.methods.catalogue import REGISTRY
from weirant.outcome.commands import Offer
from weirant.outcome.facts import Amount, Fact, Facts, Named
from weirant.outcome.finding import Finding, Fix
from weirant.records import dataclass
from weirant.units.display import STATION
from weirant.words.facts import filled, listed, part_of, phrase, table
from weirant.words.template import Template, parsed

REFUSED = "refused"  # case of a finding whose sums refuse the values


@dataclass(frozen=True)
class Worded:
    """A finding as it is told."""

    title: str
    reason: str
    caution: str
    offers: tuple[Offer, ...]


@dataclass(frozen=True)
class _Sentences:
    """The titles and sentences of a code, by case, case and state, or state; under "" what is said of all others."""

    titles: Mapping[str, Template]
    said: Mapping[str, Template]


def worded(finding: Finding, job: Job) -> Worded:
    """A finding in words."""
    return Worded(title_words(finding, job), _reason(finding, job), caution_words(finding, job), tuple(offered(fix, job) for fix in finding.fixes))


def as_told(finding: Finding, job: Job) -> Worded:
    """A finding that stands for those of several runs: its title names the run, its reason the others."""
    bare = worded(finding, job)
    return Worded(_title_of(finding, bare.title, job), f"{bare.reason} {_also_words(finding, job)}".strip(), bare.caution, bare.offers)


def title_words(finding: Finding, job: Job) -> str:
    """The title of a finding alone."""
    return filled(_chosen(_sentences(finding.code).titles, finding), _all_facts(finding), job)


def titles() -> dict[str, str]:
    """The usual title of every finding, by its code, without the name of a place."""
    return {code: tr(str(lines["title"])).replace("{place}", tr("the place")) for code, lines in table("findings.toml").items()}


def spoiled_words(findings: Iterable[Finding], job: Job) -> str:
    """What a fix would spoil, each once, in small letters: how often, where it is spoiled at several runs."""
    often = Counter(first_small(title_words(finding, job)) for finding in findings)
    return listed([title if number == 1 else tr("{title} (at {number} runs)", title=title, number=number) for title, number in often.items()])


def offered(fix: Fix, job: Job) -> Offer:
    """A fix with its words."""
    return Offer(phrase("fixes", fix.code, fix.facts, job), fix.made)


def caution_words(finding: Finding, job: Job) -> str:
    """The warning that belongs to a finding; empty for none."""
    return phrase("cautions", finding.caution, {}, job) if finding.caution else ""


def outside_of(finding: Finding) -> tuple[str, ...]:
    """What is outside of the published range of the formula that a finding rests on; nothing where it cannot be told, for a finding is always worded."""
    figure = finding.figure
    method = REGISTRY.get(figure.method) if figure is not None else None
    if method is None or figure is None:
        return ()
    try:
        return method.outside(figure.arguments, figure.result)
    except (WeirantError, ArithmeticError, ValueError):
        return ()


def _reason(finding: Finding, job: Job) -> str:
    text = filled(_chosen(_sentences(finding.code).said, finding), _all_facts(finding), job)
    beyond = "; ".join(outside_of(finding))
    if finding.layer is not None:
        soil, number = finding.layer
        textures = [layer.texture for each in job.soils if each.id == soil for layer in each.layers][number : number + 1]
        text += "".join(tr(" (In layer {number} of the soil, {texture}.)", number=number + 1, texture=first_small(shipped().texture(key).name)) for key in textures)
    return capital(text) + (tr(" Outside of what the formula was made for: {beyond}.", beyond=beyond) if beyond else "")  # it may begin with a name


def _chosen(sentences: Mapping[str, Template], finding: Finding) -> Template:
    of_case = (f"{finding.case}-{finding.state}", finding.case) if finding.case else ()
    for key in (*of_case, str(finding.state)):
        if key in sentences:
            return sentences[key]
    return sentences[""]


def _all_facts(finding: Finding) -> Facts:
    """The facts of a finding with its own: value, limit, station and place."""
    own: dict[str, Fact] = {"station": Amount(finding.station, STATION) if finding.station is not None else None, "place": Named(finding.place) if finding.place else None}
    for name, number in (("value", finding.value), ("limit", finding.limit)):
        if number is not None and finding.kind is not None:
            own[name] = Amount(number, finding.kind)
    return {**own, **finding.facts}


def _title_of(finding: Finding, title: str, job: Job) -> str:
    """The title with the run it is about, where there are several, and how many more."""
    name = next((run.name for run in job.runs if run.id == finding.subject), "")
    if len(job.runs) < 2 or not finding.subject:
        return title
    if len(finding.also) + 1 == len(job.runs) and len(job.runs) > 2:
        return tr("{title}: every run", title=title) if finding.value is None else tr("{title}: all, least room in {name}", title=title, name=name)
    more = tr(" and {number} more", number=len(finding.also)) if finding.also else ""
    return f"{title}: {name}{more}" if name else title


def _also_words(finding: Finding, job: Job) -> str:
    """The other runs of which the same is found, in words; empty for none."""
    names = [run.name for run in job.runs if run.id in finding.also]
    if not names:
        return ""
    return tr("Also: {names}.", names=listed(names))


@cache
def _sentences(code: str) -> _Sentences:
    lines, refused = part_of("findings.toml", code), {REFUSED: parsed(tr("Cannot be worked out: {why}."))}
    return _Sentences(dict(_templates(lines.get("titles", {}), lines["title"])), refused | dict(_templates(lines, lines.get("said"))))


def _templates(lines: Mapping[str, object], usual: str | None) -> Iterator[tuple[str, Template]]:
    yield from ((case, parsed(tr(text))) for case, text in lines.items() if isinstance(text, str) and case not in ("title", "said"))
    if usual is not None:
        yield "", parsed(tr(usual))
