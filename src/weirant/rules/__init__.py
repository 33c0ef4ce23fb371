"""The rules of the trade, each once: limits, distances and shares that practice or a published rule asks for, with their sources."""

from __future__ import annotations

import csv
from dataclasses import fields
from functools import cache
from pathlib import Path

from weirant.language import digits_here, tr
from weirant.records import dataclass
from weirant.units.dimension import LENGTH, NUMBER, SLOPE, SPEED, TIME
from weirant.units.parse import parse

_DIMENSIONS = {dimension.name: dimension for dimension in (LENGTH, NUMBER, SLOPE, SPEED, TIME)}


@dataclass(frozen=True)
class Rule:
    """A rule by its key: what it says, its figure as it is spoken of and in SI, its source by its key (cp: common practice, no source)."""

    key: str
    words: str
    spoken: str
    value: float
    source: str
    note: str


@dataclass(frozen=True)
class Rules:
    """The figures of all rules, SI; what each says stands beside it in ``rules.csv``."""

    freeboard: float
    outlet_proud: float
    step_at_joint: float
    deepest_outlet: float
    least_cap: float
    near_cap: float
    side_room: float
    in_place: float
    widest_trench: float
    least_velocity: float
    most_velocity: float
    head_on_low_holes: float
    head_all_round: float
    room_in_pipe: float
    slot_ratio: float
    hole_ratio: float
    head_in_cloth: float
    turf_over_cloth: float
    sure_ratio: float
    permeability_ratio: float
    woven_open_area: float
    protect_from: float
    ladder_from: float
    bench_wall: float
    benched_back: float
    laid_back: float
    near_footing: float
    near_footing_line: float
    place_missed: float
    spacing_slack: float
    outlet_on_run: float
    against_fall: float
    clear_of_footing_line: float
    through_outline: float
    sized_by: float
    way_in_within: float
    most_starts: float
    power_cut: float
    empties_within: float
    cover_under_cars: float
    cover_under_trucks: float
    most_deflection: float
    least_velocity_up: float
    most_velocity_up: float
    sheds: float
    walk_width: float
    curtain_uphill: float
    footing_drain_beside: float
    solid_start: float
    rim_over_ground: float
    rim_under_ground: float
    basin_wall: float
    least_sump: float
    least_slope: float
    least_slope_solid: float
    least_slope_trees: float
    most_slope: float
    least_cover: float
    most_depth: float
    clearance: float
    drop_at_joints: float
    tolerance: float
    fullest: float
    blocked: float
    grate_blocked: float
    swell: float
    waste: float


def rules_from(lines: list[str]) -> tuple[Rule, ...]:
    """The rules of a table. Raises InputError where a figure cannot be read."""
    return tuple(Rule(row["key"], tr(row["words"]), digits_here(row["value"]), _si(row), row["source"], tr(row["note"])) for row in csv.DictReader(lines))


def _si(row: dict[str, str]) -> float:
    """The figure in SI, to the nanometre and the like, so that a file that holds it reads well."""
    return round(parse(row["value"], _DIMENSIONS[row["dimension"]], row["words"], strict=True), 9)


@cache
def told_rules() -> tuple[Rule, ...]:
    """The rules that come with the application, in the order of their table."""
    return rules_from(Path(__file__).with_name("rules.csv").read_text(encoding="utf-8").splitlines())


@cache
def shipped_rules() -> Rules:
    """Their figures."""
    figures = {rule.key: rule.value for rule in told_rules()}
    assert set(figures) == {field.name for field in fields(Rules)}
    return Rules(**figures)
