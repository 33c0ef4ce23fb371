"""The gravel box on the bench: rain on dry ground, guesses before, and what the engine answers."""

from __future__ import annotations

import numpy as np

from weirant.design.across import medium_of, stone_of
from weirant.errors import InputError
from weirant.job.soil import Layer
from weirant.language import tr
from weirant.library import shipped
from weirant.records import dataclass
from weirant.seepage.flow import Means
from weirant.seepage.grid import Fineness
from weirant.seepage.mesh import Laid, lay_out
from weirant.seepage.rain import Rain
from weirant.seepage.section import Cut, Opening, Section, Stratum
from weirant.seepage.storm import STARTS, Course
from weirant.units.display import SECTION, in_both, shown_span

SOILS = {"sand": 12 * 3600.0, "sandy-loam": 24 * 3600.0, "loam": 36 * 3600.0, "clay": 96 * 3600.0}  # and how long the box is watched, s
HOLES = ("all round", "down")
WIDE, HIGH, TRENCH = 1.6, 0.9, 0.3  # m of the box and of the trench in it
PIPE, WALL, STONE_COVER = 0.10, 0.004, 0.12
FINE = Fineness(0.04, 0.12, 0.15)
DRY = 0.75  # depth of the water before, m
OPEN_AREA = 0.002  # m² per m
WALLED = Means(pond=1.0, run_on=False)  # the box has a rim: what does not soak in stands on the ground


@dataclass(frozen=True)
class Box:
    """What is set on the bench: soil, rain m in so many s, depth of the trench m, bedding m under the pipe, where its holes are."""

    soil: str = "loam"
    rain: float = 0.05
    lasts: float = 3600.0
    depth: float = 0.7
    bedding: float = 0.05
    holes: str = "all round"

    def __post_init__(self) -> None:
        if self.soil not in SOILS or self.holes not in HOLES:
            raise InputError(tr("the box"), tr("takes one of the soils and holes offered"), f"{self.soil}, {self.holes}")
        if not (0 < self.rain <= 0.3 and 60 <= self.lasts <= 86400):
            raise InputError(tr("rain on the box"), tr("must be up to {most} in a minute to a day", most=in_both(0.3, SECTION)), in_both(self.rain, SECTION))
        if not (0.35 <= self.depth <= HIGH - 0.05 and 0 <= self.bedding <= 0.15):
            raise InputError(tr("depth of the trench"), tr("must be between {low} and {high}, with up to {bedding} of bedding", low=in_both(0.35), high=in_both(HIGH - 0.05),
                                                              bedding=in_both(0.15, SECTION)), in_both(self.depth))  # fmt: skip


def laid_out(box: Box) -> Laid:
    """The box on its grid."""
    library = shipped()
    soil = medium_of(Layer(box.soil), library)
    pipe_depth = box.depth - box.bedding
    highest = PIPE if box.holes == "all round" else PIPE / 4
    pipe = Opening(PIPE, pipe_depth, WALL, highest, WALL, OPEN_AREA)
    cut = Cut(TRENCH, box.depth, max(0.0, pipe_depth - PIPE - STONE_COVER), stone_of(library.aggregate("no-57")), soil, pipe)
    return lay_out(Section(WIDE / 2, WIDE / 2, HIGH, 0.0, (Stratum(soil, HIGH),), cut), FINE)


def rain_on(box: Box) -> Rain:
    """The rain, and dry weather after it."""
    return Rain((0.0, box.lasts), (box.rain / box.lasts, 0.0))


@dataclass(frozen=True)
class Guess:
    """A question with the answers offered; ``right`` is the number of the right one for a course."""

    text: str
    answers: tuple[str, ...]

    def right(self, box: Box, course: Course) -> int:
        """Number of the answer that the course gives."""
        return _RIGHT[self.text](box, course)


FIRST = Guess(tr("Where does water first reach the pipe?"), (tr("through the holes at its top"), tr("from below, when the ground is full to its level"), tr("not at all")))
WHEN = Guess(tr("When does the drain start?"), (tr("while it still rains"), tr("within an hour after the rain"), tr("more than an hour after the rain"), tr("not at all")))
SHARE = Guess(tr("How much of the rain leaves by the pipe while you watch?"), (tr("less than a tenth"), tr("a tenth to a third"), tr("a third to two thirds"), tr("more than two thirds")))
GUESSES = (FIRST, WHEN, SHARE)


def _first(box: Box, course: Course) -> int:
    started = course.starts_at
    if started is None:
        return 2
    # at the first flow the table beside the pipe tells whether the ground was full to the holes
    at = int(np.searchsorted(course.times, started + 1.0))
    table = course.frames[min(at, len(course.frames) - 1)].table
    beside = np.abs(course.laid.x) < TRENCH / 2
    pipe_top = box.depth - box.bedding - PIPE
    return 1 if float(table[beside].min()) > pipe_top - 0.02 else 0


def _when(box: Box, course: Course) -> int:
    started = course.starts_at
    if started is None:
        return 3
    return 0 if started <= box.lasts else 1 if started <= box.lasts + 3600 else 2


def share_drained(course: Course) -> float:
    """Share of the rain that the pipe took."""
    rain = course.total("rain")
    return course.total("pipe") / rain if rain > 0 else 0.0


def _share(box: Box, course: Course) -> int:
    return int(np.searchsorted((0.1, 1 / 3, 2 / 3), share_drained(course)))


_RIGHT = {FIRST.text: _first, WHEN.text: _when, SHARE.text: _share}


@dataclass(frozen=True)
class Score:
    """Guesses right out of those made, over all rounds."""

    right: int = 0
    made: int = 0

    def after(self, guesses: tuple[int, ...], answers: tuple[int, ...]) -> Score:
        """The score after one more round."""
        return Score(self.right + sum(g == a for g, a in zip(guesses, answers, strict=True)), self.made + len(answers))


def lesson(box: Box, course: Course) -> str:
    """What this round shows, in a sentence or two."""
    started = course.starts_at
    if started is None:
        return tr("The soil kept all of it: a drain gives nothing until the ground is full to its level. Pour more, or set the pipe deeper.")
    stops = course.ends[course.pipe > STARTS]
    after = float(stops[-1]) - box.lasts if len(stops) else 0.0
    still = tr(" It still runs.") if len(stops) and stops[-1] >= course.until * 0.999 else ""
    return (tr("The drain began {started} after the first drop and went on for {after} after the last.{still} It took {part:.0f} % of " "the rain; the rest stays in the soil's pores.",
               started=shown_span(started), after=shown_span(max(after, 0.0)), still=still, part=100 * share_drained(course)))  # fmt: skip
