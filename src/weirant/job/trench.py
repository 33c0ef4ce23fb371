"""The trench section and what goes into it."""

from __future__ import annotations

from dataclasses import dataclass

from weirant.job.fields import choice, plain, quantity
from weirant.units import display as k

NO_WRAP, SOCK, FULL_WRAP = "none", "sock", "full wrap"
SOIL_CAP, OPEN_TOP = "soil cap", "open stone"


@dataclass(frozen=True)
class Trench:
    """Section dimensions in m. Depth follows from ground and grade; the soil cap is what is left above the stone."""

    width: float = quantity("trench width", k.SECTION, above=0, at_most=5, default=0.3048)
    bedding: float = quantity("bedding", k.SECTION, at_least=0, at_most=1, default=0.0508)
    stone_cover: float = quantity("stone over the pipe", k.SECTION, at_least=0, at_most=3, default=0.1524)
    top: str = choice("top of the trench", SOIL_CAP, OPEN_TOP, default=SOIL_CAP)
    side_slope: float = quantity("side slope, horizontal per vertical", k.RATIO, at_least=0, at_most=3, default=0.0)
    overlap: float = quantity("fabric overlap", k.SECTION, at_least=0, at_most=2, default=0.1524)
    wrap: str = choice("separation", NO_WRAP, SOCK, FULL_WRAP, default=FULL_WRAP)


@dataclass(frozen=True)
class Choice:
    """Products by their keys in the library."""

    pipe: str = plain("pipe", "corrugated-100")
    aggregate: str = plain("stone", "no-57")
    geotextile: str = plain("geotextile", "nonwoven-light")


@dataclass(frozen=True)
class Limits:
    """Limits that are the user's to set; the defaults are common practice without a source."""

    least_slope: float = quantity("least slope", k.SLOPE, at_least=0, at_most=0.2, default=0.005)
    least_cover: float = quantity("least cover over the pipe", k.SECTION, at_least=0, at_most=3, default=0.1524)
    fullest: float = quantity("fullest pipe, share of full flow", k.SHARE, above=0, at_most=1, default=0.75)
    blocked: float = quantity("share of the openings blocked", k.SHARE, at_least=0, at_most=0.99, default=0.5)
    swell: float = quantity("swell of the spoil", k.SHARE, at_least=0, at_most=1, default=0.25)
    least_slope_solid: float = quantity("least slope of solid pipe", k.SLOPE, at_least=0, at_most=0.2, default=0.005)
    least_slope_trees: float = quantity("least slope beside trees", k.SLOPE, at_least=0, at_most=0.2, default=0.02)
    most_slope: float = quantity("steepest slope", k.SLOPE, above=0, at_most=0.5, default=0.2)
    most_depth: float = quantity("deepest trench", k.DEPTH, above=0, at_most=10, default=1.524)
    clearance: float = quantity("clearance to buried lines", k.SECTION, at_least=0, at_most=2, default=0.1524)
    drop_at_joints: float = quantity("drop allowed where runs join", k.SECTION, at_least=0, at_most=3, default=0.3048)
    tolerance: float = quantity("tolerance of the invert as built", k.SECTION, above=0, at_most=0.5, default=0.00635)
    waste: float = quantity("waste on orders", k.SHARE, at_least=0, at_most=1, default=0.08)


@dataclass(frozen=True)
class Permissions:
    """What has been asked and answered: yes, no, or not yet known."""

    public_lines_marked: bool | None = plain("public lines located and marked", None)
    private_lines_checked: bool | None = plain("private lines looked for", None)
    discharge_allowed: bool | None = plain("discharge allowed at the outlet", None)
