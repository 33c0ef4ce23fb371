"""Entries for what a plain number cannot hold: a conductivity band, a sieve result, the number of layers."""

from __future__ import annotations

import dataclasses

from weirant.design.soil import layer_conductivity
from weirant.errors import InputError
from weirant.job import Job
from weirant.job.paths import with_value
from weirant.job.soil import MOST_LAYERS, Band, Layer, SievePoint
from weirant.job.soils import soil_of, with_soil
from weirant.language import tr
from weirant.library import shipped
from weirant.methods.gradation import read_gradation
from weirant.ui.document import Document
from weirant.ui.entry import TypedEdit, mark
from weirant.ui.still_box import StillBox
from weirant.units import parse
from weirant.units.dimension import SPEED
from weirant.units.display import CONDUCTIVITY, shown_number, unit_of


class BandEdit(TypedEdit):
    """Low, best and high conductivity of a layer on one line, such as ``1 / 2.5 / 5 ft/day``; empty means by texture."""

    def __init__(self, document: Document, index: int) -> None:
        super().__init__(tr("conductivity of layer {index}: low / best / high", index=index + 1))
        self.document, self.index = document, index
        self.setMinimumWidth(190)
        document.changed.connect(self.follow)
        self.show_value()

    def show_value(self) -> None:  # noqa: D102
        layers = self.document.soil.layers
        if self.index >= len(layers):
            return
        band, system = layer_conductivity(layers[self.index], shipped()), self.document.system
        figures = " / ".join(shown_number(v, CONDUCTIVITY, system) for v in (band.low, band.best, band.high))
        self.setText(f"{figures} {unit_of(CONDUCTIVITY, system)}")
        self.setCursorPosition(0)
        own = layers[self.index].conductivity is not None
        mark(self, "assumed", not own)
        self.setToolTip("" if own else tr("Assumed from the texture. Test a hole, or type low / best / high."))

    def take(self, text: str) -> str:  # noqa: D102
        path = self.document.path_of(f"soil.layers.{self.index}.conductivity")
        if not text:
            return "" if self.document.set_value(path, None) else tr("does not fit")
        try:
            band = self._read(text)
        except InputError as fault:
            self.document.refused.emit(str(fault))
            return str(fault)
        return "" if self.document.set_value(path, band) else tr("does not fit the rest of the job")

    def _read(self, text: str) -> Band:
        unit, parts = (
            unit_of(CONDUCTIVITY, self.document.system),
            text.split(" / ") if " / " in text else text.split(";"),
        )
        if len(parts) == 1:
            best = parse(parts[0], SPEED, "conductivity", unit)
            return Band(best / 3, best, best * 3)
        if len(parts) != 3:
            raise InputError("conductivity", tr('takes one figure, or "low / best / high"'), text)
        last_unit = "".join(c for c in parts[2].strip() if not (c.isdigit() or c in ".-+ ")) or unit
        low, best, high = (parse(p, SPEED, "conductivity", last_unit) for p in parts)
        if not 0 < low <= best <= high:
            raise InputError("conductivity", tr("must rise from low to high"), text)
        return Band(low, best, high)


class SieveEdit(TypedEdit):
    """The sieve result on one line, such as ``2 mm:100, 0.075 mm:68``."""

    def __init__(self, document: Document) -> None:
        super().__init__(tr("sieve result of the soil"))
        self.document = document
        self.setMinimumWidth(215)
        self.setPlaceholderText(tr("2 mm:100, 0.25 mm:93, 0.075 mm:68 …  (empty: assumed from the texture)"))
        document.changed.connect(self.follow)
        self.show_value()

    def show_value(self) -> None:  # noqa: D102
        points = self.document.soil.layers[self.document.layer].gradation
        self.setText(", ".join(tr("{size:g} mm:{percent:g}", size=p.size * 1000, percent=p.percent) for p in points))
        self.setCursorPosition(0)

    def take(self, text: str) -> str:  # noqa: D102
        try:
            points: tuple[SievePoint, ...] = ()
            if text:
                read = read_gradation(text, tr("sieve result"))
                points = tuple(SievePoint(s, p) for s, p in zip(read.sizes, read.percents, strict=True))
        except InputError as fault:
            self.document.refused.emit(str(fault))
            return str(fault)
        path = self.document.path_of("layer.gradation")
        name = tr("Sieve result") if points else tr("Sieve result taken out")
        return "" if self.document.edit(lambda job: with_value(job, path, points), name) else tr("does not fit")


class LayerChoice(StillBox):
    """Which layer of the soil the laboratory's figures beside are of."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setAccessibleName(tr("layer that was tested"))
        count = len(document.soil.layers)
        self.addItems([layer_name(index, count) for index in range(count)])
        self.setCurrentIndex(document.layer)
        self.activated.connect(document.take_layer)


class LayerCount(StillBox):
    """How many layers the soil has over the hard one."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setAccessibleName(tr("number of soil layers"))
        self.addItems([COUNTED[count] for count in range(1, MOST_LAYERS + 1)])
        self.setCurrentIndex(len(document.soil.layers) - 1)
        self.activated.connect(self._set)

    def _set(self, index: int) -> None:
        soil = self.document.soil
        if index + 1 != len(soil.layers):
            self.document.edit(lambda job: with_layers(job, soil.id, index + 1), tr("Soil in {counted}", counted=COUNTED[index + 1]), may_come=True)


COUNTED = {1: tr("one layer"), 2: tr("two layers"), 3: tr("three layers"), 4: tr("four layers"), 5: tr("five layers"), 6: tr("six layers"), 7: tr("seven layers"), 8: tr("eight layers")}


def layer_name(index: int, count: int) -> str:
    """What a layer is called among so many, from the top down."""
    if count == 1:
        return "soil"
    return tr("upper soil") if index == 0 else tr("lower soil") if index == count - 1 else tr("soil {index}", index=index + 1)


def with_layers(job: Job, identity: str, count: int) -> Job:
    """The job with so many layers of a soil. The lowest stays the lowest; what is added over it is like it, the first of all a 10 in topsoil of loam, and
    is marked as assumed; what goes is taken from over it.
    """
    soil, stem = soil_of(job, identity), f"soils.{identity}.layers."
    *upper, lowest = soil.layers
    before, kept = len(upper), tuple(upper[: count - 1])
    like = Layer(lowest.texture, 0.3048, lowest.conductivity)  # what a laboratory said of the lowest it has not said of these
    added = tuple(Layer("loam", 0.254) if not kept and not i else like for i in range(count - 1 - len(kept)))

    def renumbered(path: str) -> str:
        number, _, field = path.removeprefix(stem).partition(".")
        if not path.startswith(stem) or not number.isdecimal():
            return path
        at = count - 1 if int(number) == before else int(number)
        return f"{stem}{at}.{field}" if int(number) == before or at < len(kept) else ""

    marks = (f"{stem}{len(kept) + i}.{field}" for i in range(len(added)) for field in ("texture", "thickness"))
    assumed = (*(p for p in map(renumbered, job.assumed) if p), *marks)
    return dataclasses.replace(with_soil(job, dataclasses.replace(soil, layers=(*kept, *added, lowest))), assumed=assumed)
