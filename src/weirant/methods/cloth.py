"""What a cloth costs the water, and how strong it must be to come through the laying."""

from __future__ import annotations

from typing import NamedTuple

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.domain import between, not_negative, positive
from weirant.methods.registry import method
from weirant.units.dimension import DISCHARGE_PER_LENGTH, LENGTH, NUMBER, PER_TIME

LARGE, DEEP = 0.030, 2.0  # m of stone and of trench under which the weakest class may do: AASHTO M 288, default selection (recalled)


class ClothHead(NamedTuple):
    """Head m lost in a cloth, and the permittivity 1/s that all of its layers have together."""

    head: float
    permittivity: float


@method("cloth-head", keys={"inflow_per_length": DISCHARGE_PER_LENGTH, "girth": LENGTH, "permittivity": PER_TIME, "layers": NUMBER, "doubled": LENGTH, "clogged_fraction": NUMBER},
        results={"head": LENGTH, "permittivity": PER_TIME}, formula="ψ_n = ψ (1 − clogged)/n;  q = h (ψ_n (U − doubled) + ψ_n/2 · doubled)", sources="fhwa_nhi_07_092",
        valid=tr("laminar flow, as permittivity is measured; the same head on all of the cloth"))  # fmt: skip
def cloth_head(inflow_per_length: float, girth: float, permittivity: float, layers: float, doubled: float, clogged_fraction: float) -> ClothHead:
    """Head that water loses on its way through a cloth round a drain.

    inflow_per_length m²/s (0 or more), girth m of cloth round the stone that water passes, permittivity 1/s of one layer (both > 0), layers 1 or more (in series
    their resistances add up), doubled m of the girth where the cloth overlaps (0 to girth), clogged_fraction of its permittivity that is lost (0 to under 1).
    Source: FHWA NHI-07-092 (2008) §2.4, permittivity as flow over head and area.
    """
    positive(girth=girth, permittivity=permittivity)
    not_negative(inflow_per_length=inflow_per_length)
    between(1, 20, layers=layers)
    between(0, girth, doubled=doubled)
    if not 0 <= clogged_fraction < 1:
        raise InputError("clogged_fraction", tr("must be from 0 to under 1"), clogged_fraction)
    through = permittivity * (1 - clogged_fraction) / layers
    return ClothHead(inflow_per_length / (through * (girth - doubled / 2)), through)


class GradientRatio(NamedTuple):
    """How many times steeper the water's fall is in soil and cloth together than in the soil before it."""

    ratio: float


@method("gradient-ratio", keys={"head_at_cloth": LENGTH, "length_at_cloth": LENGTH, "head_in_soil": LENGTH, "length_in_soil": LENGTH}, results={"ratio": NUMBER},
        formula="GR = (h_sf / L_sf) / (h_s / L_s)", sources="astm_d5101 fhwa_nhi_07_092",
        valid=tr("of sands and silts in the laboratory, after 24 hours; up to 3 the cloth does not clog"))  # fmt: skip
def gradient_ratio(head_at_cloth: float, length_at_cloth: float, head_in_soil: float, length_in_soil: float) -> GradientRatio:
    """What a laboratory's permeameter says of a soil against a cloth.

    head_at_cloth m lost in the cloth and the soil next to it over length_at_cloth m (25 mm and the cloth), head_in_soil m lost in the soil above over length_in_soil m
    (50 mm); all > 0. Source: ASTM D5101; no more than 3 by FHWA NHI-07-092 (recalled). It says little of clay, in which it takes too long to come to rest.
    """
    positive(head_at_cloth=head_at_cloth, length_at_cloth=length_at_cloth, head_in_soil=head_in_soil, length_in_soil=length_in_soil)
    return GradientRatio(head_at_cloth / length_at_cloth / (head_in_soil / length_in_soil))


@method("cloth-strength", keys={"stone_size": LENGTH, "trench_depth": LENGTH}, results={"strength_class": NUMBER},
        formula="class 2;  class 3 for stone under 30 mm in a trench under 2 m", sources="aashto_m288",
        valid=tr("subsurface drains, stone dropped from under 1 m; angular rock and heavy tamping ask class 1"))  # fmt: skip
def cloth_strength(stone_size: float, trench_depth: float) -> float:
    """The class of strength that a cloth in a drain should have to come through the laying; 1 is the strongest.

    stone_size m is the largest of the stone, trench_depth m (both > 0). Source: AASHTO M 288, default for subsurface drainage and its footnote (recalled).
    """
    positive(stone_size=stone_size, trench_depth=trench_depth)
    return 3.0 if stone_size < LARGE and trench_depth < DEEP else 2.0
