"""What a finding rests on, as numbers and identities: how any of it is said is no matter of who found it."""

from __future__ import annotations

from collections.abc import Mapping

from weirant.job.doubt import Doubt
from weirant.records import dataclass
from weirant.units.display import Kind


@dataclass(frozen=True)
class Amount:
    """A number in SI and what kind of number it is."""

    value: float
    kind: Kind


@dataclass(frozen=True)
class Named:
    """A run, thing or source of the job by its identity; it is called as the job calls it when it is told."""

    identity: str


@dataclass(frozen=True)
class WaterDepth:
    """A depth m to water; negative where it stands over the ground."""

    depth: float


@dataclass(frozen=True)
class Times:
    """How many times one number is another."""

    ratio: float


@dataclass(frozen=True)
class Fall:
    """A slope, m/m, told by what it comes to over a length that can be measured with a board or tape."""

    slope: float


@dataclass(frozen=True)
class Lasting:
    """A time span in s, as said on a site; infinite where it is longer than the time s that was looked at."""

    seconds: float
    looked_at: float


@dataclass(frozen=True)
class Titled:
    """Another finding by its code, told by its title."""

    code: str


# a text is the user's own or a product's name; a truth only turns a clause of a sentence on; None is as if it were not there
Fact = Amount | Named | Doubt | WaterDepth | Times | Fall | Lasting | Titled | tuple[Named | str, ...] | float | str | bool | None
Facts = Mapping[str, Fact]
