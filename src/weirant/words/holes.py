"""What the tests of a hole say, and what is believed of the soil and why, in words."""

from __future__ import annotations

from weirant.design.holes import LayerVerdict, fit
from weirant.errors import InputError
from weirant.job.holes import PERCOLATION, FieldTest
from weirant.job.soil import Soil
from weirant.language import capital, tr
from weirant.library import shipped
from weirant.methods.field_tests import percolation_rate
from weirant.units.display import CONDUCTIVITY, System, shown


def fit_words(test: FieldTest | None, system: System) -> str:
    """The conductivity of a test in words, or what it still lacks."""
    if test is None:
        return ""
    try:
        found = fit(test)
    except InputError as fault:
        text = str(fault)
        return capital(text) + "."
    return (tr("Conductivity {best}; its {used} readings lie between {low} and {high}.{test}", best=shown(found.best, CONDUCTIVITY, system),
               used=found.used, low=shown(found.low, CONDUCTIVITY, system), high=shown(found.high, CONDUCTIVITY, system), test=_last_interval(test, system)))  # fmt: skip


def _last_interval(test: FieldTest, system: System) -> str:
    """A percolation test is asked for as minutes an inch of its last interval."""
    if test.kind != PERCOLATION or len(test.readings) < 2:
        return ""
    before, last = test.readings[-2:]
    if last.depth <= before.depth:
        return ""
    minutes = percolation_rate(last.depth - before.depth, last.time - before.time) / 60  # a metre
    return tr(" Last interval: {minutes:.0f} min an inch.", minutes=minutes * 0.0254) if system == System.IMPERIAL else tr(" Last interval: {minutes:.1f} min a millimetre.",
                                                                                                                           minutes=minutes / 1000)


def layer_words(soil: Soil, found: tuple[LayerVerdict, ...], system: System) -> str:
    """Each layer with its band, and the evidence it rests on."""
    lines = []
    for verdict in found:
        name, band = shipped().texture(soil.layers[verdict.layer].texture).name, verdict.band
        lines.append(tr("{name}: {best}, likely {low} to {high}", name=name, best=shown(band.best, CONDUCTIVITY, system),
                        low=shown(band.low, CONDUCTIVITY, system), high=shown(band.high, CONDUCTIVITY, system)))
        lines += [tr("    {best} within {factor:.1f} times: {e}", best=shown(e.best, CONDUCTIVITY, system), factor=e.factor, e=e.words) for e in verdict.evidence]
    lines.append(tr("Sharper evidence counts for more; evidence that disagrees widens the range."))
    return "\n".join(lines)
