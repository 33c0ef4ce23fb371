"""What a product is, in a line or two."""

from __future__ import annotations

from weirant.ground.stretches import Make
from weirant.job.section import IN_SAND, NO_WRAP
from weirant.language import tr
from weirant.library import Pipe
from weirant.units.display import DISTANCE, SECTION, System, shown

FITTINGS = {"coupler": tr("coupler"), "tee": tr("tee"), "wye": tr("wye"), "elbow": tr("elbow"), "bend-45": tr("bend 45°"), "bend-90": tr("bend 90°"), "reducer": tr("reducer"),
            "cap": tr("cap")}  # fmt: skip


def wrap_words(make: Make) -> str:
    """What lies between soil and stone, and of which product."""
    wrap = make.section.wrap
    return tr(wrap) if wrap == NO_WRAP else f"{tr(wrap)}, {make.sand.name if wrap == IN_SAND else make.geotextile.name}"


def pipe_words(pipe: Pipe, system: System) -> str:
    """Sizes, roughness with its range, how it is sold, stiffness and fittings of a pipe."""
    low, high = pipe.roughness_range
    said = [tr("{inside} inside, {outside} outside, roughness n {n:g} ({low:g} to {high:g})", inside=shown(pipe.inner_diameter, SECTION, system),
               outside=shown(pipe.outer_diameter, SECTION, system), n=pipe.roughness_n, low=low, high=high),
            tr("sold by the {supply} of {length}", supply=tr(pipe.supply), length=shown(pipe.supply_length, DISTANCE, system))]  # fmt: skip
    if pipe.stiffness is not None:
        said.append(tr("pipe stiffness {stiffness:.0f} kPa ({psi:.0f} psi) at 5 % deflection", stiffness=pipe.stiffness / 1e3, psi=pipe.stiffness / 6894.757))
    if pipe.fittings:
        said.append(tr("fittings: {fittings}", fittings=", ".join(FITTINGS[fitting] for fitting in pipe.fittings)))
    return "; ".join(said)
