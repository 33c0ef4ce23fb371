"""A storm through the pipes: the profile with the water of the moment, what leaves over the hours, and what it comes to, also with an exit plugged."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QHideEvent, QKeyEvent, QShowEvent
from PyQt6.QtWidgets import QFrame, QPushButton, QVBoxLayout, QWidget

from weirant.design.hydrographs import Known
from weirant.design.plugged_in_turn import Plugged, can_be_plugged, in_turn
from weirant.design.storms import rain_of
from weirant.design.through_pipes import through_pipes
from weirant.drawing.through import through_chart, through_profile
from weirant.job.rain import Storm
from weirant.language import capital, tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.routed import StormThrough
from weirant.ui.document import Document
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.plain_text import PlainLabel
from weirant.ui.scrolled import Scrolled
from weirant.ui.still_box import StillBox
from weirant.ui.storm.choice import StormChoice
from weirant.ui.storm.film import Film
from weirant.ui.theme import THEME
from weirant.ui.views.picture import Picture
from weirant.ui.work import Newest
from weirant.units.display import shown_span
from weirant.words.through import in_turn_verdict, in_turn_words, part_words, plug_name, run_words, spill_words, verdict

NO_POWER, EACH = "no power", "each in turn"  # stand for the node that is plugged
SETTLE = 250  # ms after a change
SPILLS = 6  # places over the ground that are told


class ThroughPage(Scrolled):
    """Worked out beside the interface whenever it is seen and the job rests."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document, self.choice, self.film, self.plug = document, StormChoice(), Film(), StillBox()
        self.found: StormThrough | None = None
        self._each: tuple[Plugged, ...] = ()
        self._outcome: Outcome | None = None
        self._known: Known = {}
        self._of: object = None
        self._asked: object = None
        self._work = Newest(self, SETTLE)
        self.plug.setAccessibleName(tr("What goes wrong"))
        self.plug.setSizeAdjustPolicy(StillBox.SizeAdjustPolicy.AdjustToContents)
        self.play_button, self.stop_button = QPushButton(tr("Play")), QPushButton(tr("Stop"))
        self.play_button.setProperty("main", True)
        self.verdict, self.detail = PlainLabel(), PlainLabel()
        self.verdict.setProperty("strong", True)
        self.verdict.setAccessibleName(tr("What the storm does in the pipes"))
        self.detail.setAccessibleName(tr("What flows, leaves and is stored"))
        for label in (self.verdict, self.detail):
            label.setWordWrap(True)
        self.profile, self.chart = Picture(tr("Long profile in the storm")), Picture(tr("What leaves over the hours"))
        self._lay_out()
        self.choice.storms.activated.connect(self.refresh)
        self.choice.spans.activated.connect(self.refresh)
        self.plug.activated.connect(self.refresh)
        self.film.moved.connect(self._show_moment)
        self.film.ended.connect(self._film_ended)
        self.play_button.clicked.connect(self.play)
        self.stop_button.clicked.connect(self.stop)
        self.chart.pointed.connect(self._point)
        document.changed.connect(self.refresh)
        document.drag_ended.connect(self.refresh)
        document.run_changed.connect(self._show)

    def _lay_out(self) -> None:
        top, page = QWidget(), QFrame()
        head = FlowLayout(top, 8)
        head.setContentsMargins(0, 0, 0, 0)
        for widget in (self.choice.storms, self.choice.spans, self.plug, self.play_button, self.stop_button):
            head.addWidget(widget)
        page.setObjectName("sheet")
        column = QVBoxLayout(page)
        column.setContentsMargins(8, 4, 8, 4)
        column.setSpacing(4)
        for part, stretch in ((top, 0), (self.verdict, 0), (self.profile, 13), (self.chart, 10), (self.film, 0), (self.detail, 0)):
            column.addWidget(part, stretch)
        self.setWidget(page)

    # working it out

    def refresh(self) -> None:
        """Follow the document where something changed and the page is seen."""
        if self.document.is_empty or self.document.dragging or not self.isVisible():
            return
        self.profile.setMinimumHeight(round(11 * THEME.text))
        self.chart.setMinimumHeight(round(9 * THEME.text))
        outcome = self.document.outcome
        self.choice.follow(outcome.job)
        self._list_exits(outcome)
        asked = (outcome.job, self.choice.key, self.plug.currentData())
        if asked == self._asked:
            return
        if self._of is not self.document.session:
            self._known, self._of, self.found = {}, self.document.session, None
        self._asked = asked
        if self.found is None:
            self.verdict.setText(tr("Working it out … (the first time takes some seconds longer)"))
        self._work.ask(partial(self._follow, outcome, self.choice.storm(outcome.job), self.choice.hours, self.plug.currentData() or "", asked),
                       partial(self._done, outcome, asked), self._fail)  # fmt: skip

    def _follow(self, outcome: Outcome, storm: Storm, hours: float, wrong: str, asked: object) -> tuple[StormThrough | None, tuple[Plugged, ...]]:
        if wrong == EACH:
            each = in_turn(outcome, storm, hours, lambda _: self._asked is asked, self._known)
            whole = through_pipes(outcome, storm, hours, lambda _: self._asked is asked, self._known) if each is not None else None
            return whole, each or ()
        plugged, dark = (wrong,) if wrong not in ("", NO_POWER) else (), (0.0, outcome.rules.power_cut if wrong == NO_POWER else 0.0)
        return through_pipes(outcome, storm, hours, lambda _: self._asked is asked, self._known, plugged, power_cut=dark), ()

    def _list_exits(self, outcome: Outcome) -> None:
        exits = {node: tr("{exit} plugged", exit=plug_name(outcome, node)) for node in can_be_plugged(outcome)}
        if len(exits) > 1:
            exits = {EACH: tr("each plugged in turn"), **exits}
        if outcome.site.pumps:
            exits[NO_POWER] = tr("no power for {time}", time=shown_span(outcome.rules.power_cut))
        if [self.plug.itemData(k) or "" for k in range(self.plug.count())] != ["", *exits] or [self.plug.itemText(k) for k in range(1, self.plug.count())] != list(exits.values()):
            chosen = self.plug.currentData()
            self.plug.clear()
            self.plug.addItem(tr("All in order"), "")
            for node, words in exits.items():
                self.plug.addItem(words, node)
            self.plug.setCurrentIndex(max(self.plug.findData(chosen), 0))

    def _done(self, outcome: Outcome, asked: object, answer: tuple[StormThrough | None, tuple[Plugged, ...]]) -> None:
        found, each = answer
        if found is not None and asked is self._asked:
            self.found, self._outcome, self._each = found, outcome, each
            self._show()

    def _fail(self, words: str) -> None:
        self.found = None
        self.verdict.setText(capital(words))
        self.detail.setText("")
        for picture in (self.profile, self.chart):
            picture.show_drawing(None)

    # showing

    def _show(self) -> None:
        found, outcome, run = self.found, self._outcome, self.document.run
        if found is None or outcome is None or not any(laid.id == run for laid in outcome.job.runs):
            return
        if self._each:
            self.verdict.setText(in_turn_verdict(self._each))
            self.detail.setText("\n".join(capital(line) for line in in_turn_words(outcome, self._each)))
            self._show_moment()
            return
        self.verdict.setText(verdict(outcome, found))
        part = found.part_of(run)
        spills = [spill_words(outcome, spill) for spill in part.spills][:SPILLS] if part is not None else []
        lines = [*run_words(outcome, found, run), *spills, *(part_words(outcome, found, part) if part is not None else ())]
        name = outcome.run(run).run.name
        self.detail.setText("\n".join(capital(f"{name}: {line}") if k == 0 else capital(line) for k, line in enumerate(lines)))
        self._show_moment()

    @property
    def moment(self) -> float:
        """Time on the slider, s."""
        return 0.0 if self.found is None else self.film.share * self.found.until

    def _show_moment(self) -> None:
        found, outcome = self.found, self._outcome
        if found is None or outcome is None:
            return
        self.profile.show_drawing(through_profile(outcome, found, self.document.run, self.moment), tr("This run could not be followed, or the ground along it is not known."))
        self.chart.show_drawing(through_chart(outcome, found, rain_of(outcome.job, found.storm), self.moment))
        self.film.tell(self.moment)

    def _point(self, hours: float) -> None:
        if self.found is not None:
            self.film.turn_to(hours * 3600 / self.found.until)

    def play(self) -> None:
        """Run the film from the slider on."""
        self.stop_button.setEnabled(True)
        self.film.play()

    def stop(self) -> None:
        """Leave the film."""
        self.film.stop()
        self._film_ended()

    def _film_ended(self) -> None:
        self.stop_button.setEnabled(False)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is not None and event.key() == Qt.Key.Key_Space:
            self.stop() if self.film.is_running else self.play()
        elif event is not None and event.key() == Qt.Key.Key_Escape:
            self.stop()
        else:
            super().keyPressEvent(event)

    def showEvent(self, event: QShowEvent | None) -> None:  # noqa: N802, D102
        self._film_ended()
        self.refresh()
        self._show()

    def hideEvent(self, event: QHideEvent | None) -> None:  # noqa: N802, D102
        self.film.stop()
        if self.found is None:
            self._asked = None
