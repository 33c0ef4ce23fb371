"""Test holes: what was dug through, where water stood, and the tests made in them."""

from __future__ import annotations

from weirant.job.fields import choice, plain, quantity, several
from weirant.records import dataclass
from weirant.units import display as k

AUGER_HOLE, FALLING_WATER, PERCOLATION, BAIL = "auger hole, water rising", "falling water", "percolation hole", "bail test in a pipe"
TESTS = (AUGER_HOLE, FALLING_WATER, PERCOLATION, BAIL)
RISING = (AUGER_HOLE, BAIL)


@dataclass(frozen=True)
class Horizon:
    """A layer of the log down to a depth m; ``mottled`` where grey and rust spots show that water stands there in season."""

    texture: str = plain("soil texture")
    to_depth: float = quantity("down to", k.DEPTH, above=0, at_most=30)
    mottled: bool = plain("grey and rust spots", False)
    note: str = plain("note", "")


@dataclass(frozen=True)
class WaterReading:
    """Depth m from the ground down to the water at a time s of the stopwatch."""

    time: float = quantity("time on the stopwatch", k.SECONDS, at_least=0, at_most=30 * 86400)
    depth: float = quantity("depth to water", k.FINE_DEPTH, at_least=0, at_most=30)


@dataclass(frozen=True)
class FieldTest:
    """A test in a hole: radius and depth of the hole m, depth of the undisturbed water m (rising water only), radius and length of the
    open end of a pipe m (bail test), readings. ``on_hard_layer``: the hole ends on the hard layer.
    """

    kind: str = choice("kind of test", *TESTS, default=AUGER_HOLE)
    radius: float = quantity("radius of the hole", k.SECTION, above=0, at_most=1, default=0.0508)
    depth: float = quantity("depth of the hole", k.DEPTH, above=0, at_most=30, default=0.762)
    water: float | None = quantity("water before the test", k.DEPTH, at_least=0, at_most=30, default=None)
    open_length: float = quantity("open length of the pipe", k.SECTION, above=0, at_most=5, default=0.3048)
    on_hard_layer: bool = plain("the hole ends on the hard layer", False)
    readings: tuple[WaterReading, ...] = several("readings", ())


@dataclass(frozen=True)
class TestHole:
    """A hole with its place in plan m, its log from the top down, depth m at which water stood and where the auger stopped."""

    __test__ = False  # not one of pytest's

    id: str = plain("identity of the hole")
    name: str = plain("name of the hole")
    x: float = quantity("distance east", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    y: float = quantity("distance north", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    log: tuple[Horizon, ...] = several("soil log", ())
    water_depth: float | None = quantity("water stood at", k.DEPTH, at_least=0, at_most=50, default=None)
    hard_depth: float | None = quantity("the auger stopped at", k.DEPTH, above=0, at_most=50, default=None)
    tests: tuple[FieldTest, ...] = several("tests", ())
