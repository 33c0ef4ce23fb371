"""The entries of a page of the card: each field by the widget that fits it, in the words of the thing in hand."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QPushButton, QWidget

from weirant.job.beside import NOUGHT
from weirant.job.network import FALLS_INTO_WATER, RISES
from weirant.job.paths import label_at, leads_somewhere, value_at
from weirant.job.section import AT_JOINTS, CAN_BE_PAVED, LAID_ON, SOIL_CAP, TOP_SHEET
from weirant.job.site import FOUNDED
from weirant.job.situations import situation_of
from weirant.job.water import PARALLEL
from weirant.language import tr
from weirant.ui.document import Document
from weirant.ui.steps.entries import entry_for
from weirant.ui.steps.place_fields import PlaceChoice
from weirant.ui.steps.pump_fields import LeadsChoice, PumpCurveEdit
from weirant.ui.steps.run_fields import JoinChoice, RunNameEdit
from weirant.ui.steps.section_fields import PipeChoice, SectionChoice
from weirant.ui.steps.soil_fields import BandEdit, LayerChoice, LayerCount, SieveEdit, layer_name
from weirant.ui.steps.soil_place import SoilChoice, WhereChoice
from weirant.ui.steps.thing_fields import NameEdit, thing_entries

Entry = tuple[str, Callable[[], QWidget] | None, str | None]  # its words, what makes it (None for a heading), the path of its field; None where its widget knows that
HEADING = "# "


def entries_of(document: Document, fields: tuple[str, ...], ask: Callable[[str], None]) -> list[Entry]:
    """Entries of fields, each to be made when there is time for it; what the thing in hand has not is left out. ``ask`` is called for what a button on
    the card opens.
    """
    entries: list[Entry] = []
    for field in fields:
        if field.startswith(HEADING):
            entries.append((field.removeprefix(HEADING), None, ""))
        else:
            entries += _entry(document, field, ask)
    return entries


def _entry(document: Document, field: str, ask: Callable[[str], None]) -> list[Entry]:
    special: dict[str, Callable[[], list[Entry]]] = {
        "run.name": lambda: [(tr("name of the run"), lambda: RunNameEdit(document), "")],
        "run.joins": lambda: [(tr("its low end"), lambda: JoinChoice(document), "")],
        "run.pipe": lambda: [(tr("pipe"), lambda: PipeChoice(document), ""), (tr("holes"), lambda: _drill(document, ask), ""), (tr("or else"), lambda: _compare(ask), "")],
        "filter years": lambda: [(tr("over the years"), lambda: _over_years(ask), "")],
        "run.place": lambda: [(tr("it keeps dry"), lambda: PlaceChoice(document), "")],
        "sources": lambda: [(tr("other water"), lambda: _sources(document, ask), "")],
        "stretch.section": lambda: _stretch(document, ask),
        "thing": lambda: [(words, make, None) for words, make in thing_entries(document)],
        "soil.choice": lambda: [(tr("soil"), lambda: SoilChoice(document), "")],
        "soil.where": lambda: [(tr("it holds"), lambda: WhereChoice(document), "")],
        "soil.name": lambda: [_plain(document, "soil.name", tr("its name"))] if len(document.shown_job.soils) > 1 else [],
        "soil.count": lambda: [(tr("layers above the hard one"), lambda: LayerCount(document), "")],
        "layer.choice": lambda: [(tr("layer that was tested"), lambda: LayerChoice(document), "")] if len(document.soil.layers) > 1 else [],
        "soil.layers": lambda: _layers(document),
        "layer.more": lambda: [(tr("from a file"), lambda: _ask(tr("Read it …"), tr("A CSV file with columns such as size_mm or sieve, and percent_passing"), "sieve file", ask), ""),
                               (tr("from a jar"), lambda: _ask(tr("Hydrometer …"), tr("Readings of a hydrometer in what passes the No. 10 sieve"), "hydrometer", ask), "")],
        "soil.sieve": lambda: [(tr("sieve result (size: percent passing)"), lambda: SieveEdit(document), "")],
    }
    if field in special:
        return special[field]()
    path = document.path_of(field)
    if field.startswith(("outlet.pump.", "outlet.soaks.", "outlet.main.", "pit.")) and not leads_somewhere(document.shown_job, path):
        return []
    if field == "outlet.pump.curve":
        return [(tr("pump curve (discharge: head; …)"), lambda: PumpCurveEdit(document, path), path), (tr("or from a file"), lambda: _from_file(ask), "")]
    if field == "outlet.pump.leads":
        return [(tr("pumped to"), lambda: LeadsChoice(document, path), path)]
    if field == "kept.name":
        return [(tr("name of the place"), lambda: NameEdit(document, path.split(".")[1]), path)] if path else []
    if not path or _is_idle(document, field):
        return []
    if field == "run.reach" and document.in_hand.part.situation.source == PARALLEL:
        return [_plain(document, field, tr("spacing of the lines"))]
    return [_plain(document, field)]


def _plain(document: Document, field: str, words: str = "") -> Entry:
    path = document.path_of(field)
    return words or label_at(document.shown_job, path), lambda: entry_for(document, path), path


def _sources(document: Document, ask: Callable[[str], None]) -> QPushButton:
    """The way to what roofs, paving, springs and pumps bring."""
    count = len(document.shown_job.sources)
    button = QPushButton(tr("Roofs, paving, pumps ({count}) …", count=count) if count else tr("Roofs, paving, pumps …"))
    button.setToolTip(tr("What sheds rain or brings water, and the pipe it is led into"))
    button.clicked.connect(lambda: ask("sources"))
    return button


def _drill(document: Document, ask: Callable[[str], None]) -> QPushButton:
    """The way to the rows of holes of a pipe that is drilled on the job."""
    button = QPushButton(tr("Drill it …"))
    button.setToolTip(tr("A pipe of this size with rows of holes of your own, each with its angle, hole and spacing"))
    button.clicked.connect(lambda: ask("drill"))
    return button


def _from_file(ask: Callable[[str], None]) -> QPushButton:
    """The way to a pump curve in a file."""
    button = QPushButton(tr("Read it …"))
    button.setToolTip(tr("A CSV file with columns such as discharge_gpm and head_ft"))
    button.clicked.connect(lambda: ask("pump curve"))
    return button


def _ask(words: str, tip: str, what: str, ask: Callable[[str], None]) -> QPushButton:
    """A button that asks for something."""
    button = QPushButton(words)
    button.setToolTip(tip)
    button.clicked.connect(lambda: ask(what))
    return button


def _compare(ask: Callable[[str], None]) -> QPushButton:
    """The way to other sizes and numbers of pipe for the run in hand."""
    button = QPushButton(tr("One or two …"))
    button.setToolTip(tr("Other sizes and numbers of pipe that carry as much, with the trench and the stone they want"))
    button.clicked.connect(lambda: ask("pipes"))
    return button


def _over_years(ask: Callable[[str], None]) -> QPushButton:
    """The way to what fills and blinds the drain, by way to build it."""
    button = QPushButton(tr("Compare …"))
    button.setToolTip(tr("Ways to keep the soil out, followed for thirty years on a hundred plausible soils"))
    button.clicked.connect(lambda: ask("schools"))
    return button


def _stretch(document: Document, ask: Callable[[str], None]) -> list[Entry]:
    """The section of the stretch at the station, its name where there are several, and the way to all stretches."""
    entries: list[Entry] = []
    if not document.in_hand.run.run.trench_of:
        entries.append((tr("trench section here"), lambda: SectionChoice(document, document.run, document.in_hand.stretch(document.station).id), ""))
    if len(document.shown_job.sections) > 1:
        entries.append(_plain(document, "section.name", tr("its name")))
    tip = tr("Where along the run pipe or section changes")
    return [*entries, (tr("along the run"), lambda: _ask(tr("Stretches …"), tip, "stretches", ask), "")]


def _layers(document: Document) -> list[Entry]:
    """Each layer under its heading."""
    entries: list[Entry] = []
    count = len(document.soil.layers)
    for index in range(count):
        name = layer_name(index, count)
        if count > 1:
            entries.append((name, None, ""))
        entries.append(_plain(document, f"soil.layers.{index}.texture"))
        if index + 1 < count:
            entries.append(_plain(document, f"soil.layers.{index}.thickness", tr("its thickness")))
        entries.append((tr("{name}: conductivity low / best / high", name=name), partial(BandEdit, document, index), document.path_of(f"soil.layers.{index}.conductivity")))
    return entries


def _is_idle(document: Document, field: str) -> bool:
    """Whether a field has no meaning as things stand."""
    if field in ("outlet.rise", "outlet.mouth.opens_at"):
        return value_at(document.shown_job, document.path_of("outlet.kind")) not in RISES
    if field in ("outlet.water_level", "outlet.storm_level"):
        return value_at(document.shown_job, document.path_of("outlet.kind")) not in (*FALLS_INTO_WATER, *RISES)
    if field == "kept.footing_depth":
        return value_at(document.shown_job, document.path_of("kept.kind")) not in FOUNDED
    if field == "run.distance":
        kept = document.path_of("kept.name").split(".")[1:2]  # where stretches keep different places dry the distance is that of the first
        lie = document.in_hand.part.lie
        return kept != [situation_of(document.in_hand.run.run).place] or (lie is not None and lie.distance <= NOUGHT)
    top = document.section.top
    section = document.section
    has_roll = section.has_cloth and document.outcome.library.geotextile(section.geotextile).roll_width is not None
    idle = {"section.aggregate": not section.has_stone, "section.top": not section.has_stone,
            "section.layers": section.wrap != TOP_SHEET, "section.sand": not section.is_in_sand, "section.sand_thickness": not section.is_in_sand,
            "section.overlap": not section.is_covered and section.wrap != AT_JOINTS, "section.geotextile": not section.has_cloth,
            "section.roll_width": not has_roll, "section.roll_length": not has_roll,
            "section.turf": top not in LAID_ON or not section.has_stone, "section.stone_cover": top != SOIL_CAP or not section.has_stone,
            "section.pavement": top not in CAN_BE_PAVED}  # fmt: skip
    return idle.get(field, False)
