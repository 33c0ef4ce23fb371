"""Degrees on a flat plan about one position, good to millimetres over a site."""

from __future__ import annotations

import math

from weirant.records import dataclass

A, E2 = 6378137.0, 6.69437999014e-3  # WGS 84: half the longer axis m, first eccentricity squared


@dataclass(frozen=True)
class FlatPlan:
    """Metres east and north of an origin in degrees, by the radii of curvature of the WGS 84 ellipsoid there.

    Source: any textbook of geodesy; radii of the meridian and of the prime vertical. Valid to a few kilometres, not at the poles.
    """

    longitude: float
    latitude: float

    @property
    def metres_per_degree(self) -> tuple[float, float]:
        """Metres to a degree of longitude and of latitude at the origin."""
        sine = math.sin(math.radians(self.latitude))
        prime, meridian = A / math.sqrt(1 - E2 * sine**2), A * (1 - E2) / (1 - E2 * sine**2) ** 1.5
        return math.radians(1) * prime * math.cos(math.radians(self.latitude)), math.radians(1) * meridian

    def place(self, longitude: float, latitude: float) -> tuple[float, float]:
        """East and north of a position, m."""
        east, north = self.metres_per_degree
        return (longitude - self.longitude) * east, (latitude - self.latitude) * north

    def position(self, x: float, y: float) -> tuple[float, float]:
        """Longitude and latitude of a place, degrees."""
        east, north = self.metres_per_degree
        return self.longitude + x / east, self.latitude + y / north
