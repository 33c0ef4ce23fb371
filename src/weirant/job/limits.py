"""Limits of the job that are the user's to set, and what has been asked of others."""

from __future__ import annotations

from weirant.job.fields import choice, plain, quantity
from weirant.records import dataclass
from weirant.rules import shipped_rules
from weirant.units import display as k

_RULES = shipped_rules()
APPLICATIONS = ("less-critical", "critical", "dynamic")  # of a cloth, as FHWA NHI-07-092 parts them


@dataclass(frozen=True)
class Limits:
    """Limits that are the user's to set; the defaults are the rules of the trade."""

    least_slope: float = quantity("least slope", k.SLOPE, at_least=0, at_most=0.2, default=_RULES.least_slope)
    least_cover: float = quantity("least cover over the pipe", k.SECTION, at_least=0, at_most=3, default=_RULES.least_cover)
    fullest: float = quantity("fullest pipe, share of full flow", k.SHARE, above=0, at_most=1, default=_RULES.fullest)
    blocked: float = quantity("share of the openings blocked", k.SHARE, at_least=0, at_most=0.99, default=_RULES.blocked)
    grate_blocked: float = quantity("share of a grate covered by leaves", k.SHARE, at_least=0, at_most=0.99, default=_RULES.grate_blocked)
    swell: float = quantity("swell of the spoil", k.SHARE, at_least=0, at_most=1, default=_RULES.swell)
    least_slope_solid: float = quantity("least slope of solid pipe", k.SLOPE, at_least=0, at_most=0.2, default=_RULES.least_slope_solid)
    least_slope_trees: float = quantity("least slope beside trees", k.SLOPE, at_least=0, at_most=0.2, default=_RULES.least_slope_trees)
    most_slope: float = quantity("steepest slope", k.SLOPE, above=0, at_most=0.5, default=_RULES.most_slope)
    most_depth: float = quantity("deepest trench", k.DEPTH, above=0, at_most=10, default=_RULES.most_depth)
    clearance: float = quantity("clearance to buried lines", k.SECTION, at_least=0, at_most=2, default=_RULES.clearance)
    drop_at_joints: float = quantity("drop allowed where runs join", k.SECTION, at_least=0, at_most=3, default=_RULES.drop_at_joints)
    tolerance: float = quantity("tolerance of the invert as built", k.SECTION, above=0, at_most=0.5, default=_RULES.tolerance)
    filters: str = choice("what hangs on the filters", *APPLICATIONS, default=APPLICATIONS[0])
    waste: float = quantity("waste on orders", k.SHARE, at_least=0, at_most=1, default=_RULES.waste)


@dataclass(frozen=True)
class Permissions:
    """What has been asked and answered: yes, no, or not yet known."""

    public_lines_marked: bool | None = plain("public lines located and marked", None)
    private_lines_checked: bool | None = plain("private lines looked for", None)
    discharge_allowed: bool | None = plain("discharge allowed at the outlet", None)
