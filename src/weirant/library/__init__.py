"""Shipped data with its sources, and its loader."""

from __future__ import annotations

import dataclasses
from functools import cache
from typing import TypeVar

from weirant.errors import InputError
from weirant.job.products import HOLE, OwnPipe, OwnStone, Products, SoldIn
from weirant.job.soil import Band
from weirant.language import tr
from weirant.library.drilled import drilled
from weirant.library.products import Aggregate, Geotextile, Pipe, Texture
from weirant.library.tables import rows_in
from weirant.methods.gradation import Gradation, gradation_of
from weirant.records import dataclass

__all__ = ["Aggregate", "Geotextile", "Library", "Pipe", "Texture", "shipped", "with_own"]


@dataclass(frozen=True)
class Library:
    """Products and soils by key, in the order of the data files."""

    pipes: dict[str, Pipe]
    aggregates: dict[str, Aggregate]
    geotextiles: dict[str, Geotextile]
    textures: dict[str, Texture]

    def pipe(self, key: str) -> Pipe:
        """The pipe of a key; InputError lists what there is."""
        return _found(self.pipes, key, tr("pipe"))

    def aggregate(self, key: str) -> Aggregate:
        """The stone of a key; InputError lists what there is."""
        return _found(self.aggregates, key, tr("stone"))

    def geotextile(self, key: str) -> Geotextile:
        """The fabric of a key; InputError lists what there is."""
        return _found(self.geotextiles, key, tr("geotextile"))

    def texture(self, key: str) -> Texture:
        """The soil texture of a key; InputError lists what there is."""
        return _found(self.textures, key, tr("soil texture"))


def with_own(library: Library, products: Products) -> Library:
    """A library with the own products of a job beside those that it has."""
    if products == Products():
        return library
    pipes = {own.key: _own_pipe(own) for own in products.pipes}
    stones = {own.key: _own_stone(own) for own in products.stones}
    fabrics = {own.key: Geotextile(own.key, own.name, own.kind, own.o95, own.permittivity, own.thickness, own.open_area, own.mass, own.roll_width, "user", "", strength=own.strength)
               for own in products.fabrics}  # fmt: skip
    pipes = library.pipes | pipes
    pipes |= {own.key: dataclasses.replace(pipes[own.key], supply_length=own.length) for own in products.sold_in if own.key in pipes and own.length is not None}
    cloths = library.geotextiles | fabrics
    cloths |= {own.key: _on_a_roll(cloths[own.key], own) for own in products.sold_in if own.key in cloths}
    return Library(pipes, library.aggregates | stones, cloths, library.textures)


def _on_a_roll(cloth: Geotextile, sold: SoldIn) -> Geotextile:
    """A cloth on the roll that is bought; a sock comes on none."""
    if cloth.roll_width is None:
        return cloth
    return dataclasses.replace(cloth, roll_length=sold.length or cloth.roll_length, roll_width=sold.width or cloth.roll_width)


def _own_pipe(own: OwnPipe) -> Pipe:
    """A pipe of the user's own; the openings of one that is drilled are those of its rows."""
    shape, opening, area, where = own.opening_shape, own.opening, own.open_area_per_length, own.openings
    if own.rows:
        found = drilled(own.rows)
        shape, opening, area, where = HOLE, found.opening, found.open_area, found.where
    return Pipe(own.key, own.name, own.inner_diameter, own.outer_diameter, own.roughness_n, (own.roughness_n, own.roughness_n), shape, opening, area, where, own.supply,
                own.supply_length, "user", "")  # fmt: skip


def _own_stone(own: OwnStone) -> Aggregate:
    coarse, fine = _sides([(band.size, band.least, band.most) for band in own.grading])
    return Aggregate(own.key, own.name, coarse, fine, own.voids, own.bulk_density, own.washed, "user", "")


Product = TypeVar("Product")


def _found(items: dict[str, Product], key: str, what: str) -> Product:
    if key not in items:
        raise InputError(what, tr("is not in the library, which has {items}", items=", ".join(items)), key)
    return items[key]


@cache
def shipped() -> Library:
    """The library that comes with the application."""
    return Library(
        {row["key"]: _pipe(row) for row in rows_in("pipes.csv")},
        {row["key"]: _aggregate(row) for row in rows_in("aggregates.csv")},
        {row["key"]: _geotextile(row) for row in rows_in("geotextiles.csv")},
        {row["key"]: _texture(row) for row in rows_in("textures.csv")},
    )


def _pipe(row: dict[str, str]) -> Pipe:
    return Pipe(
        row["key"], tr(row["name"]), float(row["inner_mm"]) / 1e3, float(row["outer_mm"]) / 1e3, float(row["roughness_n"]),
        (float(row["roughness_low"]), float(row["roughness_high"])), row["opening_shape"], float(row["opening_mm"]) / 1e3,
        float(row["open_area_cm2_per_m"]) / 1e4, row["holes_where"], row["supply"], float(row["supply_length_m"]),
        row["source"], tr(row["note"]), float(row["stiffness_kpa"]) * 1e3 if row["stiffness_kpa"] else None, tuple(row["fittings"].split()),
    )  # fmt: skip


def _aggregate(row: dict[str, str]) -> Aggregate:
    coarse, fine = _band_sides(row["gradation_mm"])
    return Aggregate(row["key"], tr(row["name"]), coarse, fine, float(row["voids"]), float(row["bulk_density"]),
                     row["washed"] == "yes", row["source"], tr(row["note"]), row["shape"])  # fmt: skip


def _band_sides(text: str) -> tuple[Gradation, Gradation]:
    """Coarse side (least passing) and fine side (most passing) of ``size:least-most …`` in mm.

    The coarse side ends at the first sieve that may pass nothing.
    """
    points = []
    for size, limits in (p.split(":") for p in text.split()):
        least, most = map(float, limits.split("-"))
        points.append((float(size) / 1e3, least, most))
    return _sides(points)


def _sides(points: list[tuple[float, float, float]]) -> tuple[Gradation, Gradation]:
    """Coarse and fine side of a band by size m, least and most percent passing, coarsest first."""
    coarse, fine = [(s, least) for s, least, _ in points], [(s, most) for s, _, most in points]
    first_empty = next((i for i, (_, percent) in enumerate(coarse) if percent == 0), len(coarse))
    return gradation_of(coarse[: first_empty + 1]), gradation_of(fine)


def _geotextile(row: dict[str, str]) -> Geotextile:
    return Geotextile(
        row["key"], tr(row["name"]), row["kind"], float(row["o95_mm"]) / 1e3, float(row["permittivity"]),
        float(row["thickness_mm"]) / 1e3, float(row["percent_open_area"]) / 100 if row["percent_open_area"] else None,
        float(row["mass_g_m2"]) / 1e3, float(row["roll_width_m"]) if row["roll_width_m"] else None,
        row["source"], tr(row["note"]), float(row["o95_low_mm"]) / 1e3, float(row["permittivity_high"]), int(row["strength_class"]) if row["strength_class"] else None,
    )  # fmt: skip


def _texture(row: dict[str, str]) -> Texture:
    best, spread = float(row["conductivity_cm_day"]) / 100 / 86400, float(row["spread"])
    points = [(float(s) / 1e3, float(p)) for s, p in (point.split(":") for point in row["gradation_mm"].split())]
    return Texture(row["key"], tr(row["name"]), Band(best / spread, best, best * spread), float(row["drainable_porosity"]),
                   (float(row["theta_r"]), float(row["theta_s"]), float(row["alpha_per_m"]), float(row["n"])), gradation_of(points), float(row["plasticity_index"]), float(row["dig_time"]),
                   row["source"], tr(row["note"]))  # fmt: skip
