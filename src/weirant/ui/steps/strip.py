"""The entry strip of a step, made from the descriptions of its fields."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QLabel, QScrollArea, QVBoxLayout, QWidget

from weirant.job.paths import field_at, label_at, value_at
from weirant.library import shipped
from weirant.ui.document import Document
from weirant.ui.entry import QuantityEdit, TypedEdit, WordChoice
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.steps.catalogue import Step
from weirant.ui.steps.soil_fields import BandEdit, LayerCount, SieveEdit
from weirant.ui.theme import THEME

YES_NO: list[tuple[Any, str]] = [(None, "not asked yet"), (True, "yes"), (False, "no")]


class TextEdit(TypedEdit):
    """A field of plain words."""

    def __init__(self, document: Document, path: str) -> None:
        super().__init__(label_at(document.job, path))
        self.document, self.path = document, path
        document.changed.connect(self.follow)
        self.show_value()

    def show_value(self) -> None:  # noqa: D102
        text = str(_value(self.document, self.path))
        if text != self.text():
            self.setText(text)
            self.setCursorPosition(0)

    def take(self, text: str) -> str:  # noqa: D102
        return "" if self.document.set_value(self.path, text) else "cannot be used"


def _value(document: Document, path: str) -> Any:
    return value_at(document.outcome.job, path)


def entry_for(document: Document, path: str) -> QWidget:
    """The widget that fits a field."""
    library, metadata = shipped(), field_at(document.job, path).metadata
    lists: dict[str, Mapping[str, Any]] = {
        "choice.pipe": library.pipes,
        "choice.aggregate": library.aggregates,
        "choice.geotextile": library.geotextiles,
    }
    if path in lists:
        return WordChoice(document, path, [(item.key, item.name) for item in lists[path].values()])
    if path.endswith(".texture"):
        return WordChoice(document, path, [(item.key, item.name) for item in library.textures.values()])
    if path == "choice.pipe_count":
        return WordChoice(
            document, path, [(n, words) for n, words in ((1, "one"), (2, "two"), (3, "three"), (4, "four"))]
        )
    if path.startswith("permissions."):
        return WordChoice(document, path, YES_NO)
    if "words" in metadata:
        return WordChoice(document, path, [(word, word) for word in metadata["words"]])
    if "spec" in metadata:
        edit = QuantityEdit(document, path)
        edit.setFixedWidth(round(7.4 * THEME.text))
        edit.setAlignment(Qt.AlignmentFlag.AlignRight)
        return edit
    edit_text = TextEdit(document, path)
    edit_text.setFixedWidth(round(11 * THEME.text))
    return edit_text


class Strip(QScrollArea):
    """Labelled entries in lines; laid anew when another step is chosen or the soil gets another layer."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._step: Step | None = None
        self._layers = 0
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        document.changed.connect(self._follow)

    def show_step(self, step: Step) -> None:
        """Lay out the entries of a step."""
        self._step, self._layers = step, len(self.document.job.soil.layers)
        page = QFrame()
        page.setObjectName("strip")
        flow = FlowLayout(page, 12)
        flow.setContentsMargins(10, 6, 10, 6)
        for label, widget in (
            self._soil()
            if step.key == "soil"
            else [(label_at(self.document.job, p), entry_for(self.document, p)) for p in step.fields]
        ):
            flow.addWidget(_labelled(label, widget))
        self.setWidget(page)

    def _soil(self) -> list[tuple[str, QWidget]]:
        document = self.document
        entries: list[tuple[str, QWidget]] = []
        entries.append(("layers above the hard one", LayerCount(document)))
        for index in range(self._layers):
            name = "soil" if self._layers == 1 else "upper soil" if index == 0 else "lower soil"
            entries.append((name, entry_for(document, f"soil.layers.{index}.texture")))
            if index + 1 < self._layers:
                entries.append(("its thickness", entry_for(document, f"soil.layers.{index}.thickness")))
            entries.append((f"{name}: conductivity low / best / high", BandEdit(document, index)))
        for path in ("soil.hard_layer_depth", "soil.water_table_depth", "soil.water_table_slope"):
            entries.append((label_at(document.job, path), entry_for(document, path)))
        entries.append(("sieve result (size: percent passing)", SieveEdit(document)))
        for path in ("soil.liquid_limit", "soil.plasticity_index"):
            entries.append((label_at(document.job, path), entry_for(document, path)))
        return entries

    def _follow(self) -> None:
        if self._step is not None and self._step.key == "soil" and len(self.document.job.soil.layers) != self._layers:
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
    label = QLabel(text)
    label.setProperty("quiet", True)
    label.setBuddy(widget)
    box.addWidget(label)
    box.addWidget(widget)
    return cell
