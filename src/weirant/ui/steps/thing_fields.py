"""Entries of the thing, the run or the low spot in hand on the plan."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QLabel, QWidget

from weirant.drawing.plan.things import thing_words
from weirant.job.identity import by_id
from weirant.job.network import BUILT, EXISTING, PLANNED
from weirant.job.paths import label_at, with_value
from weirant.job.site import CAN_BE_DRY, FOUNDED, KINDS, Feature, lacking_corners
from weirant.job.water import GROUND, PUMP, ROOF, SURFACE
from weirant.language import tr
from weirant.ui.document import Document
from weirant.ui.entry import TypedEdit, WordChoice
from weirant.ui.plain_text import PlainLabel
from weirant.ui.steps.entries import entry_for
from weirant.ui.steps.run_fields import FittingChoice, JoinChoice, RunNameEdit
from weirant.ui.steps.section_fields import TrenchChoice
from weirant.ui.theme import THEME


def thing_entries(document: Document) -> list[tuple[str, Callable[[], QWidget]]]:
    """What makes the entries of the thing in hand; without one, those of the run in hand."""
    feature = by_id(document.shown_job.features, document.thing)
    if feature is None:
        return _run_entries(document)
    fields = (*_figures(feature), *(("is_private", "is_located") if feature.is_buried else ()))
    return [("name", partial(NameEdit, document, feature.id)), ("kind", partial(KindChoice, document, feature.id)),
            *(_field(document, f"features.{feature.id}.{name}") for name in fields), (tr("in hand"), partial(_words, thing_words(feature, document.system)))]  # fmt: skip


def _field(document: Document, path: str) -> tuple[str, Callable[[], QWidget]]:
    return label_at(document.shown_job, path), partial(entry_for, document, path)


def _figures(feature: Feature) -> tuple[str, ...]:
    if feature.is_buried:
        return "depth", "diameter", "tolerance"
    dry: tuple[str, ...] = ("dry_depth",) if feature.kind in CAN_BE_DRY else ()
    if feature.dry_depth is not None:
        dry = ("dry_depth", "dry_within")
    if feature.kind in FOUNDED:
        return ("footing_depth", "has_board", *dry)
    if dry:
        return dry
    return ("root_radius",) if feature.kind == "tree" else ()


STATUSES = [(PLANNED, tr("no: it is planned")), (BUILT, tr("yes: built for this job")), (EXISTING, tr("yes: an old one"))]


def _run_entries(document: Document) -> list[tuple[str, Callable[[], QWidget]]]:
    """What the run in hand is, where it leads, what is set into it."""
    base = f"runs.{document.run}"
    return [(tr("name of the run"), partial(RunNameEdit, document)), (tr("its low end"), partial(JoinChoice, document)), (tr("carries"), partial(CarriesLabel, document)),
            (tr("lies there already"), partial(WordChoice, document, f"{base}.status", STATUSES)),
            *([_field(document, f"{base}.sediment")] if document.in_hand.run.run.status == EXISTING else []), _field(document, f"{base}.solid_length"),
            (tr("set at the station"), partial(FittingChoice, document)),
            *([(tr("in the trench of another run"), partial(TrenchChoice, document))] if len(document.shown_job.runs) > 1 else [])]  # fmt: skip


class KindChoice(WordChoice):
    """The kind of a thing; one that needs more corners than the thing has is refused, and says what to do."""

    def __init__(self, document: Document, identity: str) -> None:
        super().__init__(document, f"features.{identity}.kind", [(kind, tr(kind)) for kind in KINDS])
        self._identity = identity

    def take(self, value: object) -> None:  # noqa: D102
        feature = by_id(self.document.job.features, self._identity)
        lacks = lacking_corners(str(value), feature.points) if feature is not None else ""
        if feature is not None and lacks:
            self.document.refused.emit(tr("{feature}: {lacks}. Draw it anew as a {value}, or add corners first.", feature=feature.name, lacks=lacks, value=tr(str(value))))
            self.setCurrentIndex(-1)
            self.show_value()
        else:
            super().take(value)


_WATERS = {GROUND: tr("groundwater"), SURFACE: tr("surface water"), ROOF: tr("roof water"), PUMP: tr("pump water")}


class CarriesLabel(PlainLabel):
    """What kinds of water go through the run in hand; it follows from where they are led."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setMinimumHeight(THEME.row)
        self.setMinimumWidth(round(12 * THEME.text))
        document.changed.connect(self.follow)
        document.run_changed.connect(self.follow)
        self.follow()

    def follow(self) -> None:
        """Tell it of the run in hand."""
        if not self.document.is_empty:
            kinds = [_WATERS[kind] for kind in self.document.outcome.site.carries[self.document.run]]
            self.setText(tr(" and ").join(part for part in (", ".join(kinds[:-1]), kinds[-1]) if part) if kinds else tr("nothing led in yet"))


def _words(text: str) -> QLabel:
    label = PlainLabel(text)
    label.setMinimumHeight(THEME.row)
    return label


class NameEdit(TypedEdit):
    """The name of a feature."""

    def __init__(self, document: Document, identity: str) -> None:
        super().__init__(tr("name"))
        self.document, self.identity = document, identity
        self.setFixedWidth(round(11 * THEME.text))
        document.changed.connect(self.follow)
        self.show_value()

    def show_value(self) -> None:  # noqa: D102
        feature = by_id(self.document.shown_job.features, self.identity)
        if feature is not None and self.text() != feature.name:
            self.setText(feature.name)
            self.setCursorPosition(0)

    def take(self, text: str) -> str:  # noqa: D102
        if not text:
            return tr("a name is needed")
        job = self.document.job
        if by_id(job.features, self.identity) is None:
            return tr("is not there any more")
        return "" if self.document.change(with_value(job, f"features.{self.identity}.name", text), tr("Name: {text}", text=text), may_come=True) else tr("cannot be used")
