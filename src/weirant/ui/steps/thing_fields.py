"""Entries of the thing, the run or the low spot in hand on the plan."""

from __future__ import annotations

import dataclasses

from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QWidget

from weirant.design.layout import rename_run
from weirant.drawing.plan.things import thing_words
from weirant.errors import InputError
from weirant.job.in_hand import index_of
from weirant.job.line import Fitting
from weirant.job.network import MAIN
from weirant.job.paths import label_at
from weirant.job.site import FOUNDED, KINDS, Feature, lacking_corners
from weirant.ui.document import Document
from weirant.ui.entry import TypedEdit, WordChoice
from weirant.ui.steps.entries import entry_for
from weirant.ui.theme import THEME
from weirant.ui.words import Words


def thing_entries(document: Document) -> list[tuple[str, QWidget]]:
    """The entries of the thing in hand; without one, those of the run in hand."""
    index = document.thing
    if index < 0:
        return _run_entries(document)
    feature, base = document.outcome.job.features[index], f"features.{index}"
    entries: list[tuple[str, QWidget]] = [("name", NameEdit(document, f"{base}.name")),
                                          ("kind", KindChoice(document, index))]
    entries += [(label_at(document.job, f"{base}.{name}"), entry_for(document, f"{base}.{name}")) for name in _figures(feature)]
    if feature.is_buried:
        entries += [(label_at(document.job, f"{base}.{name}"), entry_for(document, f"{base}.{name}")) for name in ("is_private", "is_located")]
    return [*entries, ("in hand", _words(thing_words(feature, document.system)))]


def _figures(feature: Feature) -> tuple[str, ...]:
    if feature.is_buried:
        return "depth", "diameter", "tolerance"
    if feature.kind in FOUNDED:
        return ("footing_depth",)
    return ("root_radius",) if feature.kind == "tree" else ()


def _run_entries(document: Document) -> list[tuple[str, QWidget]]:
    name, job = document.run, document.outcome.job
    if name == MAIN:
        return [("in hand", _words("the main line: press another run, a thing or a low spot")), ("set at the station", FittingChoice(document))]
    base = f"branches.{index_of(job, name)}"
    systems = [(word, word) for word in ("ground", "surface", "roof", "pump")]
    others: list[tuple[str, str]] = [("", "no: its own trench"), (MAIN, "main line"), *((b.name, b.name) for b in job.branches if b.name != name)]
    return [("name of the run", RunNameEdit(document)), ("carries", WordChoice(document, f"{base}.line.system", systems)),
            (label_at(job, f"{base}.line.solid_length"), entry_for(document, f"{base}.line.solid_length")),
            ("set at the station", FittingChoice(document)), ("in the trench of another run", WordChoice(document, f"{base}.trench_of", list(others)))]  # fmt: skip


class KindChoice(WordChoice):
    """The kind of a thing; one that needs more corners than the thing has is refused, and says what to do."""

    def __init__(self, document: Document, index: int) -> None:
        super().__init__(document, f"features.{index}.kind", [(kind, kind) for kind in KINDS])
        self._index = index

    def take(self, value: object) -> None:  # noqa: D102
        lacks = lacking_corners(str(value), self.document.job.features[self._index].points)
        if lacks:
            self.document.refused.emit(f"{self.document.job.features[self._index].name}: {lacks}. Draw it anew as a {value}, or add corners first.")
            self.setCurrentIndex(-1)
            self.show_value()
        else:
            super().take(value)


class FittingChoice(QComboBox):
    """Sets a fitting into the run in hand at its station, or takes those within a foot of it out."""

    KINDS = ("clean-out", "inlet", "riser", "coupler", "vent")

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setAccessibleName("Set a fitting at the station")
        self.addItems(["choose a fitting …", *self.KINDS, "take out what is here"])
        self.activated.connect(self._set)

    def _set(self, index: int) -> None:
        self.setCurrentIndex(0)
        document, station = self.document, round(self.document.station, 4)
        line = document.seen.job.line
        kept = tuple(f for f in line.fittings if abs(f.station - station) > 0.3048)
        if 1 <= index <= len(self.KINDS):
            fittings, name = (*line.fittings, Fitting(station, self.KINDS[index - 1])), f"{self.KINDS[index - 1]} set"
        elif index > len(self.KINDS):
            fittings, name = kept, "Fitting taken out"
        else:
            return
        seen = dataclasses.replace(document.seen.job, line=dataclasses.replace(line, fittings=tuple(sorted(fittings, key=lambda f: f.station))))
        document.change_seen(seen, name)


def _words(text: str) -> QLabel:
    label = Words(text)
    label.setMinimumHeight(round(1.8 * THEME.text))
    return label


class NameEdit(TypedEdit):
    """The name of a feature."""

    def __init__(self, document: Document, path: str) -> None:
        super().__init__("name")
        self.document, self.index = document, int(path.split(".")[1])
        self.setFixedWidth(round(11 * THEME.text))
        document.changed.connect(self.follow)
        self.show_value()

    def show_value(self) -> None:  # noqa: D102
        features = self.document.outcome.job.features
        if self.index < len(features):
            _show(self, features[self.index].name)

    def take(self, text: str) -> str:  # noqa: D102
        job = self.document.job
        if not text:
            return "a name is needed"
        changed = dataclasses.replace(job.features[self.index], name=text)
        features = (*job.features[: self.index], changed, *job.features[self.index + 1 :])
        return "" if self.document.change(dataclasses.replace(job, features=features), f"Name: {text}") else "cannot be used"


class RunNameEdit(TypedEdit):
    """The name of the run in hand."""

    def __init__(self, document: Document) -> None:
        super().__init__("name of the run")
        self.document = document
        self.setFixedWidth(round(11 * THEME.text))
        self.show_value()

    def show_value(self) -> None:  # noqa: D102
        _show(self, self.document.run)

    def take(self, text: str) -> str:  # noqa: D102
        try:
            job = rename_run(self.document.job, self.document.run, text)
        except InputError as fault:
            self.document.refused.emit(str(fault))
            return str(fault)
        if self.document.change(job, f"Run {self.document.run} is now {text}"):
            self.document.take_run(text)
        return ""


def _show(edit: QLineEdit, text: str) -> None:
    if edit.text() != text:
        edit.setText(text)
        edit.setCursorPosition(0)
