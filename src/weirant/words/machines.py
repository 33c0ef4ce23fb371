"""What of the machines does not fit a job, in words: the runs that are alike together."""

from __future__ import annotations

from weirant.design.machine_fit import DEEP, GATE, LEANS, NARROW, STEEP, Fit
from weirant.job.soil import ROCK
from weirant.language import capital, tr
from weirant.outcome.amounts import HARD, PLOUGHED
from weirant.outcome.outcome import Outcome
from weirant.units import display as k
from weirant.units.display import System, shown

METHOD_NAMES = {"excavator": tr("with an excavator"), "trencher": tr("with a trencher"), "hand": tr("by hand"),
                "plough": tr("ploughed in, the rest dug")}


PLOUGH_CAUTION = tr("A plough sees nothing in its way: have every line located, and expose each crossing by hand, before it goes.")


ROCK_CAUTION = tr("Breaking rock shakes the ground and throws dust and splinters: off footings and lines, wet, with mask, goggles and ear muffs. Blasting is for licensed people.")


def fit_words(outcome: Outcome, fits: tuple[Fit, ...]) -> list[str]:
    """A line for each machine and kind, the worst of its runs told; empty where everything fits."""
    worst: dict[tuple[str, str], Fit] = {}
    runs: dict[tuple[str, str], list[str]] = {}
    for fit in fits:
        key = fit.machine.key, fit.kind
        before = worst.get(key)
        further = before is None or (fit.value < before.value if fit.kind in (GATE, NARROW) else fit.value > before.value)
        worst[key] = fit if further else worst[key]
        runs.setdefault(key, []).append(outcome.run(fit.run).run.name if fit.run else "")
    told = [capital(_line(fit, ", ".join(runs[key]), System(outcome.job.units))) for key, fit in worst.items()]
    is_ploughed = any(found.amounts.all_of(PLOUGHED) for found in outcome.site.runs)
    is_broken = any(found.amounts.of(HARD).get(ROCK) for found in outcome.site.runs)
    return [*told, *([PLOUGH_CAUTION] if is_ploughed else []), *([ROCK_CAUTION] if is_broken else [])]


def _line(fit: Fit, runs: str, system: System) -> str:
    kind = k.SLOPE if fit.kind == STEEP else k.DISTANCE if fit.kind == GATE else k.DEPTH
    said = {"machine": fit.machine.name, "runs": runs, "value": shown(fit.value, kind, system), "limit": shown(fit.limit, kind, system), "passes": fit.passes}
    if fit.kind == GATE:
        return tr("{machine}: it wants {limit} to get in, and the gate is {value}", **said)
    if fit.kind == DEEP:
        return tr("{machine}: it digs to {limit}, and the trench is up to {value} deep: {runs}", **said)
    if fit.kind == STEEP:
        return tr("{machine}: it goes along ground of up to {limit}, and it falls up to {value}: {runs}", **said)
    if fit.kind == LEANS:
        return tr("{machine}: it cuts upright walls alone, and they go back by up to {value} at each side; dig that with a bucket: {runs}", **said)
    if fit.kind == NARROW:
        return tr("{machine}: its narrowest cut is {limit}, and {value} is drawn; the trench gets wider and takes more stone: {runs}", **said)
    return tr("{machine}: {passes} passes of {limit} for a trench of up to {value}: {runs}", **said)
