"""What the tests of a hole say, and what is believed of the soil and why, in words."""

from __future__ import annotations

from weirant.design.holes import LayerVerdict, fit
from weirant.errors import InputError
from weirant.job.holes import PERCOLATION, FieldTest
from weirant.job.soil import Soil
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
        return text[:1].upper() + text[1:] + "."
    return (f"Conductivity {shown(found.best, CONDUCTIVITY, system)}; its {found.used} readings lie between "
            f"{shown(found.low, CONDUCTIVITY, system)} and {shown(found.high, CONDUCTIVITY, system)}.{_last_interval(test, system)}")  # fmt: skip


def _last_interval(test: FieldTest, system: System) -> str:
    """A percolation test is asked for as minutes an inch of its last interval."""
    if test.kind != PERCOLATION or len(test.readings) < 2:
        return ""
    before, last = test.readings[-2:]
    if last.depth <= before.depth:
        return ""
    minutes = percolation_rate(last.depth - before.depth, last.time - before.time) / 60  # a metre
    return f" Last interval: {minutes * 0.0254:.0f} min an inch." if system == System.IMPERIAL else f" Last interval: {minutes / 1000:.1f} min a millimetre."


def layer_words(soil: Soil, found: tuple[LayerVerdict, ...], system: System) -> str:
    """Each layer with its band, and the evidence it rests on."""
    lines = []
    for verdict in found:
        name, band = shipped().texture(soil.layers[verdict.layer].texture).name, verdict.band
        lines.append(f"{name}: {shown(band.best, CONDUCTIVITY, system)}, likely {shown(band.low, CONDUCTIVITY, system)} to {shown(band.high, CONDUCTIVITY, system)}")
        lines += [f"    {shown(e.best, CONDUCTIVITY, system)} within {e.factor:.1f} times: {e.words}" for e in verdict.evidence]
    lines.append("Sharper evidence counts for more; evidence that disagrees widens the range.")
    return "\n".join(lines)
