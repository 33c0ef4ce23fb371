"""Texture classes of the USDA: from sand, silt and clay, and by feel."""

from __future__ import annotations

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.domain import between
from weirant.methods.registry import method, read_percent

# answers of the key by feel
NO_BALL, BALL = "does not stay in a ball", "stays in a ball"
NO_RIBBON, SHORT, MIDDLE, LONG = "no ribbon", "ribbon up to 1 in (25 mm)", "ribbon 1 to 2 in (25 to 50 mm)", "ribbon over 2 in (50 mm)"
GRITTY, SMOOTH, NEITHER = "gritty", "smooth as flour", "neither"
ANSWERS = (NO_BALL, BALL, NO_RIBBON, SHORT, MIDDLE, LONG, GRITTY, SMOOTH, NEITHER)


@method("usda-texture", keys={"sand": read_percent, "silt": read_percent, "clay": read_percent}, results={"texture": None},
        formula="the boundaries of the texture triangle", sources="usda_manual", valid=tr("shares by mass of the soil under 2 mm; they add up to 100 %"))  # fmt: skip
def usda_texture(sand: float, silt: float, clay: float) -> str:
    """Key of the texture class of a soil; sand, silt and clay in percent (0 to 100, adding up to 100 within 1).

    Source: USDA Soil Survey Manual, Agriculture Handbook 18, ch. 3.
    """
    between(0, 100, sand=sand, silt=silt, clay=clay)
    if abs(sand + silt + clay - 100) > 1:
        raise InputError("clay", tr("with sand and silt must add up to 100 %"), tr("{value:g} %", value=sand + silt + clay))
    if silt + 1.5 * clay < 15:
        return "sand"
    if silt + 2 * clay < 30:
        return "loamy-sand"
    if clay >= 40:
        return "silty-clay" if silt >= 40 else "sandy-clay" if sand > 45 else "clay"
    if clay >= 35 and sand > 45:
        return "sandy-clay"
    if clay >= 27:
        return "silty-clay-loam" if sand <= 20 else "clay-loam" if sand <= 45 else "sandy-clay-loam"
    if clay >= 20 and silt < 28 and sand > 45:
        return "sandy-clay-loam"
    if silt >= 80 and clay < 12:
        return "silt"
    if silt >= 50:
        return "silt-loam"
    return "loam" if clay >= 7 and silt >= 28 and sand <= 52 else "sandy-loam"


def texture_by_feel(ball: str, ribbon: str, grit: str) -> str:
    """Key of the texture class by a moist handful: does it stay in a ball, how long a ribbon does it press to, how does it feel wet.

    Source: Thien 1979 (recalled). The answers are the words of this file.
    """
    if ball == NO_BALL:
        return "sand"
    if ribbon == NO_RIBBON:
        return "loamy-sand"
    table = {SHORT: ("sandy-loam", "silt-loam", "loam"), MIDDLE: ("sandy-clay-loam", "silty-clay-loam", "clay-loam"), LONG: ("sandy-clay", "silty-clay", "clay")}
    if ribbon not in table or grit not in (GRITTY, SMOOTH, NEITHER):
        raise InputError(tr("texture by feel"), tr("needs one of the answers offered"), f"{ribbon}, {grit}")
    return table[ribbon][(GRITTY, SMOOTH, NEITHER).index(grit)]
