"""Unified soil classification (ASTM D2487) from a grain-size curve and the Atterberg limits."""

from __future__ import annotations

from typing import NamedTuple

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.domain import not_negative
from weirant.methods.gradation import NO_4, NO_200, Gradation, read_gradation
from weirant.methods.registry import method
from weirant.units.dimension import LENGTH, NUMBER


class SoilClass(NamedTuple):
    """Group symbol, characteristic sizes in m and the two coefficients; None where the curve does not reach."""

    symbol: str
    d10: float | None
    d30: float | None
    d60: float | None
    uniformity: float | None
    curvature: float | None


@method("uscs", keys={"gradation": read_gradation, "liquid_limit": NUMBER, "plasticity_index": NUMBER},
        results={"symbol": None, "d10": LENGTH, "d30": LENGTH, "d60": LENGTH, "uniformity": NUMBER, "curvature": NUMBER},
        formula="fines at 0.075 mm, gravel at 4.75 mm, A-line PI = 0.73 (LL − 20), C_u = d60/d10, C_c = d30²/(d10 d60)",
        sources="astm_d2487", valid=tr("inorganic soils; limits of 0 stand for a non-plastic soil"))  # fmt: skip
def uscs(gradation: Gradation, liquid_limit: float, plasticity_index: float) -> SoilClass:
    """Group symbol of an inorganic soil.

    gradation must reach 4.75 mm and 0.075 mm; liquid_limit and plasticity_index are the usual numbers (percent of
    water, 0 where non-plastic). Raises InputError where the curve does not reach what the class needs.
    Source: ASTM D2487, group symbols.
    """
    not_negative(liquid_limit=liquid_limit, plasticity_index=plasticity_index)
    if plasticity_index > liquid_limit:
        raise InputError("plasticity_index", tr("must not be more than the liquid limit"), plasticity_index)
    fines, finer_no_4 = gradation.need_percent(NO_200), gradation.need_percent(NO_4)
    if fines >= 50:
        symbol = fine_symbol(liquid_limit, plasticity_index)
    else:
        letter = "G" if 100 - finer_no_4 > (100 - fines) / 2 else "S"
        symbol = _coarse_symbol(letter, fines, gradation, fine_symbol(liquid_limit, plasticity_index))
    sizes = (gradation.size_at(10), gradation.size_at(30), gradation.size_at(60))
    return SoilClass(symbol, *sizes, gradation.uniformity, gradation.curvature)


def fine_symbol(liquid_limit: float, plasticity_index: float) -> str:
    """Symbol of the fines on the plasticity chart: ML, CL, CL-ML, MH or CH (ASTM D2487)."""
    above = plasticity_index >= 0.73 * (liquid_limit - 20)
    if liquid_limit >= 50:
        return "CH" if above else "MH"
    if above and plasticity_index > 7:
        return "CL"
    return "CL-ML" if above and plasticity_index >= 4 else "ML"


def _coarse_symbol(letter: str, fines: float, gradation: Gradation, of_fines: str) -> str:
    dirty = {"ML": "M", "MH": "M"}.get(of_fines, "C")
    if fines > 12:
        return f"{letter}C-{letter}M" if of_fines == "CL-ML" else letter + dirty
    clean = letter + ("W" if _well_graded(letter, gradation) else "P")
    return clean if fines < 5 else f"{clean}-{letter}{dirty}"


def _well_graded(letter: str, gradation: Gradation) -> bool:
    if gradation.uniformity is None or gradation.curvature is None:
        raise InputError("gradation", tr("must reach 10 %, 30 % and 60 % passing to tell well from poorly graded"))
    return gradation.uniformity >= (4 if letter == "G" else 6) and 1 <= gradation.curvature <= 3
