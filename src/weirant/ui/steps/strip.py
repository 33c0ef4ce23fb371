"""The entry strip of a step, made from the descriptions of its fields."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QPushButton, QScrollArea, QVBoxLayout, QWidget

from weirant.job.beside import NOUGHT
from weirant.job.identity import by_id
from weirant.job.network import RISES
from weirant.job.paths import label_at, value_at
from weirant.job.section import CAN_BE_PAVED, LAID_ON, SOIL_CAP
from weirant.job.site import FOUNDED
from weirant.job.situations import situation_of
from weirant.job.water import PARALLEL
from weirant.ui.document import Document
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.plain_text import PlainLabel
from weirant.ui.steps.catalogue import Step
from weirant.ui.steps.entries import entry_for
from weirant.ui.steps.place_fields import PlaceChoice
from weirant.ui.steps.run_fields import JoinChoice, RunNameEdit
from weirant.ui.steps.section_fields import PipeChoice, SectionChoice
from weirant.ui.steps.soil_fields import BandEdit, LayerCount, SieveEdit, layer_name
from weirant.ui.steps.soil_place import SoilChoice, WhereChoice
from weirant.ui.steps.thing_fields import NameEdit, thing_entries

RUN_STEPS = ("water", "map", "soil", "line", "trench", "materials", "storm")  # whose entries are about the run in hand


class Strip(QScrollArea):
    """Labelled entries in lines; laid anew when another step is chosen or the soil gets another layer."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._step: Step | None = None
        self._layers = 0
        self._made_for: object = None
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        document.changed.connect(self._follow)
        document.run_changed.connect(self._lay_anew)
        document.thing_changed.connect(self._lay_anew)
        document.soil_changed.connect(self._lay_anew)
        document.station_changed.connect(self._follow)

    def show_step(self, step: Step) -> None:
        """Lay out the entries of a step."""
        self._step, self._layers, self._made_for = step, len(self.document.soil.layers), self._in_hand()
        page = QFrame()
        page.setObjectName("strip")
        flow = FlowLayout(page, 12)
        flow.setContentsMargins(10, 6, 10, 6)
        for label, widget in (
            self._soil()
            if step.key == "soil"
            else thing_entries(self.document)
            if step.key == "map"
            else self._entries(step)
        ):
            flow.addWidget(_labelled(label, widget))
        before = self.takeWidget()
        self.setWidget(page)
        if before is not None:
            before.hide()
            before.deleteLater()  # not at once: an entry on it may be what asked for the new page

    def _entries(self, step: Step) -> list[tuple[str, QWidget]]:
        """Entries of the fields of a step; what the run in hand has not, as a joined run has no outlet, is left out."""
        document = self.document
        entries: list[tuple[str, QWidget]] = []
        for field in step.fields:
            path = document.path_of(field)
            if field == "run.name":
                entries.append(("name of the run", RunNameEdit(document)))
            elif field == "run.joins":
                entries.append(("its low end", JoinChoice(document)))
            elif field == "run.pipe":
                entries.append(("pipe", PipeChoice(document)))
            elif field == "run.place":
                entries.append(("it keeps dry", PlaceChoice(document)))
            elif field == "sources":
                entries.append(("other water", self._sources()))
            elif field == "kept.name" and path:
                entries.append(("name of the place", NameEdit(document, path.split(".")[1])))
            elif field == "stretch.section":
                entries += self._stretch()
            elif path and not self._is_idle(field):
                between = field == "run.reach" and document.in_hand.part.situation.source == PARALLEL
                entries.append(("spacing of the lines" if between else label_at(document.outcome.job, path), entry_for(document, path)))
        return entries

    def _sources(self) -> QPushButton:
        """The way to what roofs, paving, springs and pumps bring."""
        count = len(self.document.outcome.job.sources)
        button = QPushButton(f"Roofs, paving, pumps ({count}) …" if count else "Roofs, paving, pumps …")
        button.setToolTip("What sheds rain or brings water, and the pipe it is led into")
        button.clicked.connect(lambda: self.sources_wanted.emit())
        return button

    def _stretch(self) -> list[tuple[str, QWidget]]:
        """The section of the stretch at the station, its name where there are several, and the way to all stretches."""
        document = self.document
        entries: list[tuple[str, QWidget]] = []
        if not document.in_hand.run.run.trench_of:
            stretch = document.in_hand.stretch(document.station)
            entries.append(("trench section here", SectionChoice(document, document.run, stretch.id)))
        if len(document.outcome.job.sections) > 1:
            entries.append(("its name", entry_for(document, document.path_of("section.name"))))
        button = QPushButton("Stretches …")
        button.setToolTip("Where along the run pipe or section changes")
        button.clicked.connect(lambda: self.stretches_wanted.emit())
        return [*entries, ("along the run", button)]

    def _is_idle(self, field: str) -> bool:
        """Whether a field has no meaning as things stand."""
        document = self.document
        if field == "outlet.rise":
            return value_at(document.outcome.job, document.path_of("outlet.kind")) not in RISES
        if field == "kept.footing_depth":
            return value_at(document.outcome.job, document.path_of("kept.kind")) not in FOUNDED
        if field == "run.distance":
            kept = document.path_of("kept.name").split(".")[1:2]  # where stretches keep different places dry the distance is that of the first
            lie = document.in_hand.part.lie
            return kept != [situation_of(document.in_hand.run.run).place] or (lie is not None and lie.distance <= NOUGHT)
        top = document.section.top
        return {"section.turf": top not in LAID_ON, "section.stone_cover": top != SOIL_CAP, "section.pavement": top not in CAN_BE_PAVED}.get(field, False)

    def _soil(self) -> list[tuple[str, QWidget]]:
        document = self.document
        entries: list[tuple[str, QWidget]] = []
        entries += [("soil", SoilChoice(document)), ("it holds", WhereChoice(document))]
        if len(document.outcome.job.soils) > 1:
            entries.append(("its name", entry_for(document, document.path_of("soil.name"))))
        entries.append(("layers above the hard one", LayerCount(document)))
        for index in range(self._layers):
            name = layer_name(index, self._layers)
            entries.append((name, entry_for(document, document.path_of(f"soil.layers.{index}.texture"))))
            if index + 1 < self._layers:
                entries.append(("its thickness", entry_for(document, document.path_of(f"soil.layers.{index}.thickness"))))
            entries.append((f"{name}: conductivity low / best / high", BandEdit(document, index)))
        for path in map(document.path_of, ("soil.hard_layer_depth", "soil.water_table_depth", "soil.water_table_slope", "soil.sideways")):
            entries.append((label_at(document.outcome.job, path), entry_for(document, path)))
        entries.append(("sieve result (size: percent passing)", SieveEdit(document)))
        for path in map(document.path_of, ("soil.liquid_limit", "soil.plasticity_index")):
            entries.append((label_at(document.outcome.job, path), entry_for(document, path)))
        return entries

    laid_anew = pyqtSignal()
    stretches_wanted = pyqtSignal()
    sources_wanted = pyqtSignal()

    def _lay_anew(self) -> None:
        """Another run or thing is in hand: its entries."""
        if self._step is not None and self._step.key in RUN_STEPS and not self.document.is_empty:
            self.show_step(self._step)
            self.laid_anew.emit()

    def _in_hand(self) -> object:
        """What the entries of the map are about."""
        document = self.document
        feature = by_id(document.outcome.job.features, document.thing)
        outlet = document.in_hand.run.outlet
        section = document.section
        place = document.path_of("kept.name")
        part = document.in_hand.part
        of_place = (place, part.situation.source == PARALLEL, part.lie is not None and part.lie.distance <= NOUGHT)
        of_soil = (document.soil.id, len(document.outcome.job.soils), len(document.outcome.job.sources))
        of_thing = (document.thing, feature.kind if feature is not None else "", outlet.kind if outlet is not None else "")
        return (document.run, of_thing, of_place, of_soil, section.id, section.top, document.in_hand.stretch(document.station).id, len(document.outcome.job.sections),
                document.in_hand.run.run.bore, document.outcome.job.products)  # fmt: skip

    def _follow(self) -> None:
        if self._step is not None and self._step.key in RUN_STEPS and self._in_hand() != self._made_for:
            self._lay_anew()
        if self._step is not None and self._step.key == "soil" and len(self.document.soil.layers) != self._layers:
            self.show_step(self._step)

    def needed_height(self, width: int) -> int:
        """Height that shows every entry of the step at a width."""
        page = self.widget()
        layout = page.layout() if page is not None else None
        return layout.heightForWidth(width) + 4 if layout is not None else 0


def _labelled(text: str, widget: QWidget) -> QWidget:
    cell = QWidget()
    box = QVBoxLayout(cell)
    box.setContentsMargins(0, 0, 0, 0)
    box.setSpacing(1)
    label = PlainLabel(text)
    label.setProperty("quiet", True)
    label.setBuddy(widget)
    box.addWidget(label)
    box.addWidget(widget)
    return cell
