"""A first job from six answers, laid so deep as what is wanted asks for; everything else starts from marked assumptions."""

from __future__ import annotations

import dataclasses

from weirant.design.assess import assess
from weirant.errors import InputError, WeirantError
from weirant.job import Job
from weirant.job.beside import outline_beside
from weirant.job.network import Node, Outlet, Run, Stretch
from weirant.job.paths import with_value
from weirant.job.site import Feature
from weirant.job.soil import Layer, Soil
from weirant.job.survey import Shot, Survey
from weirant.job.water import BOTH_SIDES, HILLSIDE, ONE_SIDE, PARALLEL, Situation
from weirant.language import tr
from weirant.outcome.finding import State
from weirant.records import dataclass
from weirant.units.display import in_both

COVER, DATUM = 0.6, 30.48  # m of ground over the invert at the top end, and the assumed benchmark level (100 ft)
DEEPER = (0.05, 0.15, 0.25, 0.4, 0.6)  # m under the depth that is to be dry at which the drain is tried
UNDER = 0.5  # m at the least from the depth to be dry down to the assumed hard layer
PRODUCTS = 3  # times that another fabric or stone is taken
SPACINGS = (12.192, 9.144, 6.096)  # m between lines that are tried where the usual will not do (40 to 20 ft)
WIDTH = 9.144  # m: how wide the wet place is taken to be (30 ft)


@dataclass(frozen=True)
class Beginning:
    """One of the four places where water stands, and what follows from it."""

    key: str
    words: str
    hint: str
    kind: str
    source: str
    dry_depth: float


BEGINNINGS = (
    Beginning(
        "slab", tr("Against a slab or a wall"), tr("water comes down a slope towards a building"), "slab", HILLSIDE, 0.4572
    ),
    Beginning(
        "footing",
        tr("At a footing"),
        tr("a wet cellar or crawl space, water at the foot of a wall"),
        "building",
        ONE_SIDE,
        0.9144,
    ),
    Beginning("strip", tr("Along a strip of lawn"), tr("a low line that stays soft after rain"), "lawn", BOTH_SIDES, 0.3048),
    Beginning("field", tr("Over a wide flat piece"), tr("a whole lawn or green that will not dry"), "lawn", PARALLEL, 0.3048),
)


@dataclass(frozen=True)
class Answers:
    """The six inputs: texture key; lengths of the wet place, to the outlet and from drain to place m; ground fall m; units."""

    texture: str
    wet_length: float
    outlet_length: float
    distance: float
    fall: float
    units: str


def first_job(beginning: Beginning, answers: Answers) -> Job:
    """The job that the answers make: of the depths that the ground lets it have the least with which nothing fails, at its best grade; where there is
    none, that with which least does. Lines over a wide piece lie as far apart as does. Raises InputError where the fall does not let any pipe run.
    """
    job = _with_products_that_hold(falling_with_the_ground(beginning, answers))
    found, failing = job, _failing(job)
    for reach in (None, *SPACINGS) if beginning.source == PARALLEL else (None,):
        spaced = job if reach is None else dataclasses.replace(with_value(job, "runs.r1.reach", reach), assumed=job.assumed)
        for deeper in DEEPER:
            graded = _graded(with_value(spaced, "runs.r1.least_depth", beginning.dry_depth + deeper))
            if graded is None:  # nor any deeper
                break
            still = _failing(graded)
            if still < failing:
                found, failing = graded, still
            if not failing:
                return found
    return found


def _with_products_that_hold(job: Job) -> Job:
    """With fabric and stone that suit the soil, where those that a job begins with do not."""
    for _ in range(PRODUCTS):
        fix = next((fix for f in assess(job).findings if f.state == State.FAILS and f.family == "filters" for fix in f.fixes if fix.code == "take-product"), None)
        if fix is None:
            break
        job = fix.made(job)
    return job


def _graded(job: Job) -> Job | None:
    """The job at its best grade, with no depth asked for any more; None where the ground does not let it be laid."""
    from weirant.design.best_grade import plan_grade  # its solver takes a fifth of a second to load

    try:
        graded = plan_grade(assess(job), quick=True).job
    except WeirantError:
        return None
    return None if graded is None else with_value(graded, "runs.r1.least_depth", None)


def _failing(job: Job) -> int:
    return sum(f.state == State.FAILS for f in assess(job).findings)


def falling_with_the_ground(beginning: Beginning, answers: Answers) -> Job:
    """The pipe 2 ft under the ground at the top, falling with the ground to the outlet."""
    length = answers.outlet_length + answers.wet_length
    for name, value in ((tr("length of the wet place"), answers.wet_length), (tr("length to the outlet"), answers.outlet_length),
                        ("distance", answers.distance)):  # fmt: skip
        if not value > 0:
            raise InputError(name, tr("must be more than 0"))
    drop = answers.fall - COVER
    if drop <= 0:
        raise InputError(
            tr("fall of the ground"),
            tr("must be more than 2 ft (0.6 m) for a pipe that daylights; else think of a pump or another outlet"),
            in_both(answers.fall),
        )
    slope = min(drop / length, 0.5)
    return Job(
        name=tr("New drain"), units=answers.units,
        soils=(Soil((Layer(answers.texture),), max(0.9, beginning.dry_depth + UNDER), 0.25, 0.05),),
        nodes=(Node("n1", 0.0, 0.0, outlet=Outlet()), Node("n2", 0.0, length)), features=(_place(beginning, answers, length),),
        runs=(Run("r1", "drain", ("n1", "n2"), DATUM - answers.fall, slope,
                  (Stretch(is_solid=True, to_station=answers.outlet_length), Stretch(is_solid=False, id="p2", situation=Situation(beginning.source, place="t1")))),),
        survey=Survey(_shots(length, answers.fall)),
        assumed=("soils.g1.hard_layer_depth", "soils.g1.water_table_depth", "soils.g1.water_table_slope", "runs.r1.invert", "runs.r1.slope",
                 "features.t1.dry_depth", "features.t1.points", "runs.r1.reach", "water.drainage_rate", "water.storm_depth", "survey.benchmark_elevation"),
    )  # fmt: skip


def _place(beginning: Beginning, answers: Answers, length: float) -> Feature:
    """The wet place as an outline beside what collects, as wide as is usual."""
    corners = outline_beside([(0.0, (0.0, 0.0), (0.0, length))], answers.outlet_length, length, answers.distance, answers.distance + WIDTH, on_left=True)
    return Feature("t1", beginning.kind, tr("the wet place"), corners, dry_depth=beginning.dry_depth)


def _shots(length: float, fall: float) -> tuple[Shot, ...]:
    """The two levels that the fall stands for, as if shot from one set-up at 5 ft over the benchmark."""
    height = 1.524  # of the instrument over the benchmark, which is the ground at the top end
    shots = [Shot("BM", None, height, None, is_assumed=True), Shot(tr("top end"), length, None, height, is_assumed=True, run="r1")]
    while height + fall > 3.5:  # a long fall wants turning points, as on the ground
        shots.append(Shot(f"TP{len(shots) - 1}", None, 0.2, 3.4, is_assumed=True))
        height -= 3.2
    return (*shots, Shot("outlet", 0.0, None, height + fall, is_assumed=True, run="r1"))
