"""Rod readings as booked, and where each was taken."""

from __future__ import annotations

from weirant.job.fields import choice, plain, quantity, several
from weirant.records import dataclass
from weirant.units import display as k
from weirant.units.staff import DECIMAL_FEET, FEET_INCHES, METRES


@dataclass(frozen=True)
class Place:
    """Where a shot was taken in plan: by coordinates, along a tape line, or by angle and distance.

    plan: first east, second north, m. tape: first along the tape, second to its left (right is negative), m.
    angle: first in degrees clockwise from the zero mark, second the distance, m.
    """

    how: str = choice("how the place was taken", "plan", "tape", "angle")
    first: float = quantity("first figure of the place", k.DISTANCE, at_least=-1e5, at_most=1e5)
    second: float = quantity("second figure of the place", k.DISTANCE, at_least=-1e5, at_most=1e5)


@dataclass(frozen=True)
class Shot:
    """One line of the level book. A station means a shot on the run of an identity, a place one elsewhere in plan; neither, a turning point.

    ``unread`` keeps an entry that could not be understood, so that it stays in sight and can be mended. ``is_assumed`` marks one that
    nobody has shot: nothing may be dug to levels that hang on it.
    """

    point: str = plain("point")
    station: float | None = quantity("station", k.STATION, at_least=-1e4, at_most=1e4, default=None)
    backsight: float | None = quantity("backsight", k.LEVEL, at_least=-10, at_most=30, default=None)
    foresight: float | None = quantity("rod reading", k.LEVEL, at_least=-10, at_most=30, default=None)
    unread: str = plain("entry not understood", "")
    place: Place | None = plain("place in plan", None)
    is_assumed: bool = plain("made up from the first answers, not shot", False)
    run: str = plain("run its station counts along", "")


@dataclass(frozen=True)
class Survey:
    """The level book: first shot on the benchmark, last shot on it again to close.

    The tape line starts at ``tape_x``, ``tape_y`` and runs on a bearing in degrees clockwise from north; angles are read
    from an instrument at ``stand_x``, ``stand_y`` whose zero looks along ``zero_bearing``. ``shift_east`` and ``shift_north`` are what is
    taken off the coordinates of every file that is read, and put back on every one that is written.
    """

    shots: tuple[Shot, ...] = several("shots", (), most=5_000)
    benchmark_name: str = plain("benchmark", "BM")
    benchmark_elevation: float = quantity("benchmark elevation", k.LEVEL, at_least=-500, at_most=9000, default=30.48)
    staff_length: float = quantity("staff length", k.LEVEL, above=0, at_most=10, default=3.6576)
    allowed_misclosure: float = quantity("allowed misclosure", k.LEVEL, above=0, at_most=1, default=0.006096)
    staff: str = choice("staff reads in", DECIMAL_FEET, FEET_INCHES, METRES, default=DECIMAL_FEET)
    rounding: float = quantity("readings for the crew rounded to", k.SECTION, above=0, at_most=0.1, default=0.003175)
    instrument_elevation: float | None = quantity("height of instrument today", k.LEVEL, at_least=-500, at_most=9000, default=None)
    longitude: float | None = quantity("longitude of the plan's origin", k.DEGREES, at_least=-180, at_most=180, default=None)
    latitude: float | None = quantity("latitude of the plan's origin", k.DEGREES, at_least=-89, at_most=89, default=None)
    tape_x: float = quantity("tape starts, east", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    tape_y: float = quantity("tape starts, north", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    tape_bearing: float = quantity("tape runs at, degrees from north", k.COUNT, at_least=-360, at_most=360, default=0.0)
    stand_x: float = quantity("instrument stands, east", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    stand_y: float = quantity("instrument stands, north", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    shift_east: float = quantity("taken off the east of files", k.DISTANCE, at_least=-1e9, at_most=1e9, default=0.0)
    shift_north: float = quantity("taken off the north of files", k.DISTANCE, at_least=-1e9, at_most=1e9, default=0.0)
    zero_bearing: float = quantity("its zero looks, degrees from north", k.COUNT, at_least=-360, at_most=360, default=0.0)

    @property
    def shift(self) -> tuple[float, float]:
        """What is taken off east and north of files, m; nought until a file with far coordinates is read."""
        return self.shift_east, self.shift_north

    @property
    def is_shot(self) -> bool:
        """Whether every level was shot, and none is made up."""
        return not any(shot.is_assumed for shot in self.shots)
