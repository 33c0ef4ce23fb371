"""Schools of building a drain told as a table and a sentence, in the units of the job."""

from __future__ import annotations

import math

from weirant.clogging.assumed import Assumed
from weirant.design.graded_filter import GradedFilter
from weirant.design.schools import School
from weirant.language import capital, tr
from weirant.methods.gradation import NO_200
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units.display import CONDUCTIVITY, OPENING, SECTION, SHARE, System, shown

HEADS = (tr("way to build"), tr("a tenth fail by"), tr("half by"), tr("nine tenths by"), tr("voids full"), tr("lies in the pipe"), tr("takes, × what comes"))
CAUTION = tr("A comparison of ways to build on one soil, by what is assumed; never a promise. Roots, iron, frost and crushed pipe are not in it.")
ASSUMED = {
    "turbid": tr("fines in water from soil without plasticity that nothing holds, kg/m³"), "plasticity": tr("plasticity index by which that falls to a tenth"),
    "bridge": tr("fines let go on a square metre while as many grains stay as go, kg"), "packed": tr("settled fines, kg/m³"), "cake_voids": tr("void ratio of settled fines"),
    "washes": tr("share that the pipe washes out where it runs quickly enough"), "flushed": tr("share of what lies in the pipe that flushing fetches"),
    "reaches": tr("share of what lies in the stone that flushing fetches through openings all round"), "blown": tr("what is blown and washed into open stone in a year, kg/m²"),
    "roof_grit": tr("leaves and grit off a square metre of roof in a year, kg"), "ground_grit": tr("and off a square metre of ground, kg"),
    "wet": tr("share of the year in which water comes"),
}  # fmt: skip


def graded_words(found: GradedFilter, system: System) -> str:
    """A stone, or a blend of two, with its D15 and how it keeps to what is asked."""
    name = found.parts[0].name if len(found.parts) == 1 else tr("{share} {one} with {rest} {other}", share=shown(found.share, SHARE, system), one=found.parts[0].name,
                                                               rest=shown(1 - found.share, SHARE, system), other=found.parts[1].name)  # fmt: skip
    fits = tr("fits, with {times:.1f} times to spare", times=found.margin) if found.fits else tr("does not fit: {times:.1f} times too coarse or too fine", times=1 / max(found.margin, 1e-6))
    return tr("{name}: D15 {fine} to {coarse}; {fits}", name=name, fine=shown(found.d15[0], OPENING, system), coarse=shown(found.d15[1], OPENING, system), fits=fits)


def soil_words(outcome: Outcome, found: RunOutcome) -> str:
    """The soil beside a run in a sentence or two, for somebody who has none of it."""
    soil, system = outcome.beside(found, found.part.station), System(outcome.job.units)
    fines, band = soil.gradation.percent_finer(NO_200), outcome.soil(found.soil(found.part.station)).conductivity
    said = [tr("{texture}. It lets water through at {low} to {high}.", texture=soil.texture_name, low=shown(band.low, CONDUCTIVITY, system), high=shown(band.high, CONDUCTIVITY, system))]
    if fines is not None:
        said.append(tr("{fines:.0f} % of it is finer than 0.075 mm (flour is); plasticity index {index:.0f}.", fines=fines, index=soil.plasticity_index))
    said.append(tr("This was assumed from its texture: a sieve test settles it.") if soil.gradation_assumed else tr("It was sieved."))
    return " ".join(said)


def basis_words(outcome: Outcome, found: RunOutcome) -> str:
    """What the comparison rests on that nobody has measured; empty for nothing."""
    soil = outcome.beside(found, found.part.station)
    lacks = [tr("its grading is only assumed from its texture")] if soil.gradation_assumed else []
    lacks += [tr("its conductivity too")] if soil.conductivity_assumed and lacks else [tr("its conductivity is only assumed from its texture")] if soil.conductivity_assumed else []
    return tr(" Of the soil {lacks}: test it before you rely on this.", lacks=", ".join(lacks)) if lacks else ""


def assumed_words(assumed: Assumed) -> list[str]:
    """What is assumed, a line each."""
    return [f"  {key} = {getattr(assumed, key):g}  {words}" for key, words in ASSUMED.items()]


def years_words(years: float, looked_at: int) -> str:
    """So many years, or more than were looked at."""
    return tr("over {years} years", years=looked_at) if math.isinf(years) else tr("under 1 year") if years < 1.5 else tr("{years:.0f} years", years=years)


def cells(school: School, looked_at: int, system: System) -> tuple[str, ...]:
    """A row of the table."""
    first, middle, ninth = school.lasts
    takes = f"{school.takes:.0f}" if school.takes < 1000 else tr("over 1000")
    return (capital(school.built.name), years_words(first, looked_at), years_words(middle, looked_at), years_words(ninth, looked_at), shown(school.silted, SHARE, system),
            shown(school.in_pipe, SECTION, system), takes)  # fmt: skip
