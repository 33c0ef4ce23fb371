"""The steps of the job in trade order, as data: what each asks for, and its state in a few words."""

from __future__ import annotations

from collections.abc import Callable

from weirant.job import Job
from weirant.job.network import FALLS_INTO_WATER, OUTLETS, RISES
from weirant.job.situations import places_of
from weirant.language import ntr, tr
from weirant.outcome.finding import DRY_IN_TIME, State
from weirant.outcome.outcome import Outcome
from weirant.records import dataclass


@dataclass(frozen=True)
class CardPage:
    """A page of the card: its name, and the entries on it; a field that begins with "# " is a heading. ``of`` names the thing in hand that it is about; it is
    there only where the thing in hand has the field that it ``needs``, and where its outlet is of one of the ``kinds``.
    """

    name: str
    fields: tuple[str, ...]
    of: str = ""
    needs: str = ""
    kinds: tuple[str, ...] = OUTLETS


def _limits(*fields: str) -> CardPage:
    return CardPage(tr("limits of this job"), fields)


@dataclass(frozen=True)
class Step:
    """A verb, the pages of its card, the findings that tell its state, what it still lacks, and its views: the stage's, two companions, others."""

    key: str
    verb: str
    pages: tuple[CardPage, ...]
    families: tuple[str, ...]
    lacks: Callable[[Job], str]
    views: tuple[str, ...]


def _lacks_water(job: Job) -> str:
    collects = any(not s.is_solid for run in job.runs for s in run.stretches)
    return tr("what is to be dry?") if collects and not places_of(job) else ""


def _lacks_levels(job: Job) -> str:
    shots = sum(1 for s in job.survey.shots if s.station is not None or s.place) + len(job.points)  # along a line or in plan
    if not job.is_surveyed:
        return tr("made up, not shot")
    return tr("no readings yet") if not shots else tr("one more reading") if shots == 1 else ""


def _lacks_map(job: Job) -> str:
    return "" if job.points or any(s.place for s in job.survey.shots) else tr("no shots in plan yet")


def _lacks_built(job: Job) -> str:
    return "" if job.as_built else tr("nothing dug yet")


def _lacks_soil(job: Job) -> str:
    if any(soil.hard_layer_depth is None for soil in job.soils):
        return tr("hard layer not known")
    return tr("depth to water not known") if any(soil.water_table_depth is None for soil in job.soils) else ""


def _lacks_outlet(job: Job) -> str:
    unknown = any(n.outlet is not None and n.outlet.water_level is None and n.outlet.kind in FALLS_INTO_WATER for n in job.nodes)
    return tr("water level at outlet?") if unknown else ""


def _lacks_permissions(job: Job) -> str:
    asked = (
        job.permissions.public_lines_marked,
        job.permissions.private_lines_checked,
        job.permissions.discharge_allowed,
    )
    open_questions = sum(1 for answer in asked if answer is None)
    return tr("{open_questions} to ask", open_questions=open_questions) if open_questions else ""


STEPS = (
    Step("water", tr("Find the water"),
         (CardPage(tr("what is to be dry"), ("run.place", "kept.name", "run.source", "run.distance", "kept.dry_depth", "kept.footing_depth", "sources")),
          CardPage(tr("ground and rain"), ("run.reach", "run.contributing_area", "water.drainage_rate", "water.share_to_drain", "water.release_time", "water.storm_depth",
                                       "water.storm_duration"))),
         ("place-wanted", "served", "table", "drain-level", "roof", "source-led", "reach", "spacing", "old-drain"), _lacks_water,
         ("plan", "across", "profile", "water", "old drain", "formulae")),
    Step("levels", tr("Shoot the grades"),
         (CardPage(tr("level and staff"), ("survey.benchmark_name", "survey.benchmark_elevation", "survey.staff_length", "survey.staff", "survey.allowed_misclosure")),
          CardPage(tr("tape and angles"), ("# the tape starts", "survey.tape_x", "survey.tape_y", "survey.tape_bearing",
                                   "# the instrument stands", "survey.stand_x", "survey.stand_y", "survey.zero_bearing"))),
         ("readings", "surveyed", "closure", "ground"), _lacks_levels, ("readings", "profile", "plan")),
    Step("map", tr("Map the site"), (CardPage(tr("in hand"), ("thing",)),),
         ("points", "unread", "boundary", "crossings", "lines-located", "footing", "buildings", "paving", "roots"), _lacks_map, ("plan", "profile", "section")),
    Step("soil", tr("Know the soil"),
         (CardPage(tr("the soil"), ("soil.choice", "soil.count", "soil.hard_layer_depth", "soil.water_table_depth", "soil.water_table_slope")),
          CardPage(tr("where it holds"), ("soil.where", "soil.name")),
          CardPage(tr("its layers"), ("soil.layers", "soil.hard_layer", "soil.sideways")),
          CardPage(tr("laboratory"), ("layer.choice", "soil.sieve", "layer.more", "layer.liquid_limit", "layer.plasticity_index"))),
         ("barrier",), _lacks_soil, ("holes", "across", "soil class", "grains")),
    Step("line", tr("Lay the line"),
         (CardPage(tr("level and fall"), ("outlet.kind", "outlet.water_level", "outlet.rise", "run.invert", "run.slope"), "run"),
          CardPage(tr("its opening"), ("outlet.mouth.across", "outlet.mouth.clear", "outlet.mouth.opens_at", "outlet.mouth.flap", "outlet.storm_level"), needs="outlet.mouth.across",
                   kinds=(*FALLS_INTO_WATER, *RISES)),
          CardPage(tr("ground that soaks"), ("outlet.soaks.percolation", "outlet.soaks.area", "outlet.soaks.depth", "outlet.soaks.voids", "outlet.soaks.water_table"),
                   needs="outlet.soaks.area"),
          CardPage(tr("the main"), ("outlet.main.diameter", "outlet.main.slope", "outlet.main.roughness", "outlet.main.filled", "outlet.main.own_flow", "outlet.main.own_storm",
                                    "outlet.main.invert"), needs="outlet.main.slope"),
          CardPage(tr("the pit"), ("outlet.pump.starts", "outlet.pump.stops", "pit.size", "pit.sump", "outlet.pump.battery"), needs="outlet.pump.starts"),
          CardPage(tr("the pump"), ("outlet.pump.curve", "outlet.pump.pumps", "outlet.pump.main_diameter", "outlet.pump.main_length", "outlet.pump.lets_go_at",
                                    "outlet.pump.leads", "outlet.pump.check_valve", "outlet.pump.freeze_relief"), needs="outlet.pump.starts"),
          CardPage(tr("name and lengths"), ("run.name", "run.joins", "run.solid_length", "run.length", "run.least_depth")), CardPage(tr("best grade"), ("best grade",)),
          _limits("limits.least_slope", "limits.least_slope_solid", "limits.least_slope_trees", "limits.most_slope", "limits.least_cover", "limits.most_depth", "limits.clearance",
                  "limits.drop_at_joints")),
         ("slope", "way-out", "outlet-on-run", "against-fall", "daylight", "outlet-level", "cover", "depth", "joints", "wye", "clean-outs", "runs-apart", "names", "rim", "basin", "grate",
          "entry", "takes-it", "rest-water", "runs-on", "erosion", "pump", "pump-starts", "pump-floats", "pump-power", "pump-pipe", "pump-way",
          "pit-uplift"),
         _lacks_outlet, ("profile", "plan", "section", "across", "formulae")),
    Step("trench", tr("Shape the trench"),
         (CardPage(tr("the trench here"), ("stretch.section", "section.top", "section.wrap", "section.overlap", "section.layers", "section.sand_thickness")),
          CardPage(tr("dimensions"), ("section.width", "section.bedding", "section.stone_cover", "section.turf", "section.pavement", "section.traffic")),
          CardPage(tr("its sides"), ("section.side_slope", "section.bench_width", "section.bench_height"))),
         ("fits", "in-place", "cap", "wheels", "walls", "cloth-under-turf"), lambda job: "", ("section", "profile", "plan", "across")),
    Step("materials", tr("Choose materials"),
         (CardPage(tr("pipe, stone and cloth"), ("run.pipe", "run.pipes", "section.aggregate", "section.geotextile", "section.sand", "filter years")),
          CardPage(tr("how it is sold"), ("run.sold_in", "section.roll_width", "section.roll_length")),
          CardPage(tr("what ages it"), ("exposure.iron", "exposure.lime", "exposure.frost_depth")),
          _limits("limits.filters", "limits.blocked", "limits.grate_blocked", "limits.fullest")),
         ("capacity", "shares-stone", "over-ground", "gives-back", "velocity", "intake", "retention", "permittivity", "clogging", "soil-stone", "surface-fines", "stone-drains", "stone-pipe",
          "sock", "soil-tests", "soil-stability", "sand-stone", "sand-room", "sediment", "slime", "lime", "frost", "drain-board", "under-slab", "cloth-strength",
          "cloth-head"), lambda job: "",
         ("grains", "section", "profile", "soil class")),
    Step("storm", tr("Watch a storm"),
         (CardPage(tr("rain"), ("water.storm_depth", "water.storm_duration", "water.drainage_rate", "kept.dry_within")),
          CardPage(tr("plants and air"), ("water.climate", "water.evapotranspiration"))),
         (DRY_IN_TIME,), lambda job: "", ("storm", "profile", "section", "through", "across")),
    Step("order", tr("Ask and order"),
         (CardPage(tr("before you dig"), ("permissions.public_lines_marked", "permissions.private_lines_checked", "permissions.discharge_allowed")),
          CardPage(tr("earth and loads"), ("work.spoil", "work.spread_width", "work.truck")),
          CardPage(tr("title of the job"), ("name", "place", "client", "contractor", "date")),
          _limits("limits.waste", "limits.swell")),
         ("public-lines-marked", "private-lines-checked", "discharge-allowed"), _lacks_permissions, ("order", "plan", "profile", "plan of work")),
    Step("dig", tr("Dig to grade"),
         (CardPage(tr("instrument and staff"), ("survey.instrument_elevation", "survey.staff", "survey.rounding")), _limits("limits.tolerance")),
         ("as-built",), _lacks_built, ("dig", "profile", "section")),
)  # fmt: skip


OF_WATER = (".source", ".reach", ".place", ".distance", ".contributing_area", ".dry_depth", ".dry_within")  # fields of runs and things that the first step asks for


def _step_of(path: str) -> str:
    """The step that a field marked as assumed belongs to."""
    owner = path.partition(".")[0]
    if owner == "water" or path.endswith(OF_WATER):
        return "water"
    return {"survey": "levels", "soils": "soil", "runs": "line", "nodes": "line", "features": "map"}.get(owner, "")


def state_of(step: Step, outcome: Outcome) -> tuple[State, str]:
    """The step's state, and it in two or three words."""
    states = [f.state for f in outcome.told if f.code in step.families]
    failing = states.count(State.FAILS)
    if failing:
        return State.FAILS, ntr("{n} fails", "{n} fail", failing)
    lacking = step.lacks(outcome.job)
    if lacking:
        return State.UNKNOWN, lacking
    if State.UNKNOWN in states:
        return State.UNKNOWN, tr("not all known")
    if not states:
        return State.HOLDS, tr("ready")
    if any(_step_of(path) == step.key for path in outcome.job.assumed):
        return State.TIGHT, tr("partly assumed")
    return (State.TIGHT, tr("tight")) if State.TIGHT in states else (State.HOLDS, tr("holds"))
