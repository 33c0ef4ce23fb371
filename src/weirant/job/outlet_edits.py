"""Edits of the outlets and inlets of a job; each gives a new job. What a node of its kind has is there to be set also where nobody has said anything of it yet."""

from __future__ import annotations

import dataclasses

from weirant.job.job import Job
from weirant.job.network import (
    BASINS,
    BUBBLER,
    DRY_WELL,
    FALLS_INTO_WATER,
    GRATE_RISER,
    INLET,
    MAIN,
    POP_UP,
    PUMP_PIT,
    PUMPED_ON,
    RISES,
    SQUARE,
    Basin,
    Grate,
    MainPipe,
    Mouth,
    Node,
    Outlet,
    Pump,
    Soakaway,  # fmt: skip
)
from weirant.job.run_edits import of_node_kind, with_node

USUAL_PIT = Basin(SQUARE, 0.4572, 0.6096)  # 18 in square, two feet under the lowest pipe (common practice, no source)


SPRING_LID, OPEN_GRATE = 0.0254, 0.4  # m of head that opens a lid; share of a grate that is open (both common practice, no source)
GRAVEL = Soakaway(area=0.1, depth=0.3048, voids=0.4)  # under a riser with a hole in its foot


def outlet_of(kind: str, outlet: Outlet | None = None) -> Outlet:
    """An outlet of a kind with what that kind has, as it was before where it was of that kind already."""
    before = outlet or Outlet()
    if outlet is not None and outlet.kind == kind:
        mouth, soaks = outlet.mouth, outlet.soaks
    else:
        mouth = Mouth(opens_at=SPRING_LID) if kind == POP_UP else Mouth(clear=OPEN_GRATE) if kind in (GRATE_RISER, BUBBLER) else Mouth()
        soaks = Soakaway() if kind == DRY_WELL else GRAVEL if kind in RISES else None
    has_water = kind in (*FALLS_INTO_WATER, *RISES)
    return Outlet(kind, before.water_level if has_water else None, before.rise if kind in RISES else None, before.pump or Pump() if kind == PUMPED_ON else None,
                  before.storm_level if has_water else None, mouth, soaks, before.main or MainPipe() if kind == MAIN else None)  # fmt: skip


def outlet_kind(job: Job, node: str) -> str:
    """How water leaves at a node. KeyError where it does not."""
    outlet = _node(job, node).outlet
    if outlet is None:
        raise KeyError(node)
    return outlet.kind


def with_outlet_kind(job: Job, node: str, kind: str) -> Job:
    """The job with water leaving at a node in another way: a pump comes with its pit, a well and a main with what they are, and what only one kind has goes
    with it.
    """
    of = _node(job, node)
    outlet = outlet_of(kind, of.outlet)
    if kind == PUMPED_ON:
        pit = of if of.kind in BASINS else dataclasses.replace(of, basin=USUAL_PIT)
        return with_node(job, dataclasses.replace(of_node_kind(pit, PUMP_PIT), outlet=outlet))
    before = of_node_kind(of, "plain") if of.outlet is not None and of.outlet.kind == PUMPED_ON else of
    return with_node(job, dataclasses.replace(before, outlet=outlet))


def grate_of(job: Job, node: str) -> Grate:
    """The grate of an inlet. KeyError where there is none."""
    of = _node(job, node)
    if of.kind != INLET:
        raise KeyError(node)
    return of.grate or Grate()


def with_grate(job: Job, node: str, grate: Grate) -> Job:
    """The job with another grate over an inlet."""
    grate_of(job, node)
    return with_node(job, dataclasses.replace(_node(job, node), grate=grate))


def soakaway_of(job: Job, node: str) -> Soakaway:
    """The ground under an outlet that soaks water up. KeyError where its kind has none."""
    outlet = _node(job, node).outlet
    if outlet is None or outlet.kind not in (DRY_WELL, *RISES):
        raise KeyError(node)
    return outlet.soaks or (Soakaway() if outlet.kind == DRY_WELL else GRAVEL)


def with_soakaway(job: Job, node: str, soaks: Soakaway) -> Job:
    """The job with other ground under an outlet."""
    soakaway_of(job, node)
    of = _node(job, node)
    return with_node(job, dataclasses.replace(of, outlet=dataclasses.replace(of.outlet or Outlet(), soaks=soaks)))


def main_of(job: Job, node: str) -> MainPipe:
    """The main that an outlet leads into. KeyError where it leads into none."""
    outlet = _node(job, node).outlet
    if outlet is None or outlet.kind != MAIN:
        raise KeyError(node)
    return outlet.main or MainPipe()


def with_main(job: Job, node: str, main: MainPipe) -> Job:
    """The job with another main at an outlet."""
    main_of(job, node)
    of = _node(job, node)
    return with_node(job, dataclasses.replace(of, outlet=dataclasses.replace(of.outlet or Outlet(), main=main)))


def _node(job: Job, identity: str) -> Node:
    found = next((n for n in job.nodes if n.id == identity), None)
    if found is None:
        raise KeyError(identity)
    return found
