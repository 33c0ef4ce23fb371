"""``network``: nodes, runs and stretches of a job, their levels, and the steady flow through them; or what its references lack."""

from __future__ import annotations

import json
import re
from argparse import Namespace
from pathlib import Path
from typing import Any

import numpy as np

from weirant.cli.job_commands import open_job
from weirant.cli.streams import print_json
from weirant.design.assess import assess
from weirant.design.sheets import low_end_words
from weirant.errors import JobFileError
from weirant.formats.job_file import LARGEST
from weirant.formats.plain_files import read_plain
from weirant.ground.grade_line import GradeLine
from weirant.ground.inverts import invert_at
from weirant.ground.set_in import set_there
from weirant.ground.stretches import LaidStretch
from weirant.hydraulics.run_flow import DROP, RunFlow
from weirant.job.network import PLAIN
from weirant.job.site import Feature
from weirant.job.situations import places_of
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.outcome.stretch import StretchOutcome, stretch_outcomes
from weirant.outcome.water import Brought
from weirant.units.display import DISCHARGE, LEVEL, STATION, System, shown
from weirant.words.facts import doubt_words


def network(given: Namespace) -> int:
    """Print the network; 0 where its references are sound, 1 with every fault and its subject where they are not."""
    try:
        outcome = assess(open_job(given.job))
    except JobFileError as fault:
        if not fault.faults:
            raise
        told = [{"subject": _subject(Path(given.job), path), "path": path, "fault": words} for path, words in fault.faults]
        if given.json:
            print_json({"faults": told}, indent=1)
        else:
            print("\n".join(f"{found['subject'] or tr('the job')}: {found['fault']} ({found['path']})" for found in told))
        return 1
    if given.json:
        print_json(as_json(outcome), indent=1)
    else:
        print("\n".join(_lines(outcome)))
    return 0


def _subject(path: Path, place: str) -> str:
    """The identity of the piece that a path such as ``job.runs[1].nodes`` leads to; empty where it has none."""
    found = re.match(r"job\.(\w+)\[(\d+)\]", place)
    try:
        piece = json.loads(read_plain(path, LARGEST, tr("a job file")))["job"][found[1]][int(found[2])] if found else {}
    except (KeyError, IndexError, TypeError, ValueError):
        return ""
    return str(piece.get("id") or piece.get("run") or "") if isinstance(piece, dict) else ""


def as_json(outcome: Outcome) -> dict[str, Any]:
    """The network in SI. A flow is for the best figure of the soil and, ``high``, for the high end of its band."""
    return {"job": outcome.job.name, "nodes": [_node(outcome, node.id) for node in outcome.job.nodes], "runs": [_run(outcome, found) for found in outcome.site.runs],
            "places": [_place(outcome, place) for place in places_of(outcome.job)], "sources": [_source(outcome, found) for found in outcome.site.brought], "faults": []}  # fmt: skip


def _source(outcome: Outcome, found: Brought) -> dict[str, Any]:
    return {"id": found.source.id, "name": found.source.name, "kind": found.source.kind, "node": found.source.node,
            "brings": found.figure.value if found.figure is not None else None, "missing": doubt_words(found.missing, outcome.job)}  # fmt: skip


def _node(outcome: Outcome, identity: str) -> dict[str, Any]:
    node = next(n for n in outcome.job.nodes if n.id == identity)
    found, leaves = outcome.site.node(node), outcome.site.exits.get(identity)
    outlet = {"kind": node.outlet.kind, "water_level": node.outlet.water_level, "rise": node.outlet.rise} if node.outlet is not None else None
    return {"id": node.id, "name": node.name, "kind": node.kind, "x": node.x, "y": node.y, "outlet": outlet, "rim": node.rim, "status": node.status,
            "basin": {"shape": node.basin.shape, "size": node.basin.size, "sump": node.basin.sump} if node.basin is not None else None,
            "runs": [{"run": j.run, "station": j.station, "invert": found.inverts[j.run]} for j in found.joints], "ground": found.ground, "step": found.step,
            "passes": {"high": found.passes.discharge, "at_least": doubt_words(found.passes.missing, outcome.job), "at_most": doubt_words(found.passes.shared, outcome.job)},
            "findings": [{"code": f.code, "subject": f.subject, "state": str(f.state)} for f in outcome.findings if f.piece == node.id],
            "leaves": None if leaves is None else {"high": leaves.discharge, "at_least": doubt_words(leaves.missing, outcome.job),
                                                   "at_most": doubt_words(leaves.shared, outcome.job)}}  # fmt: skip


def _stretch(outcome: Outcome, found: RunOutcome, laid: LaidStretch, told: StretchOutcome) -> dict[str, Any]:
    return {"id": laid.id, "from": told.low, "to": told.high, "solid": laid.is_solid, "pipe": laid.make.pipe.key, "section": laid.make.section.id, "slope": told.slope,
            "carries": told.carries, "comes": told.comes, "deepest": told.deepest, "least_cover": told.least_cover,
            "findings": [{"code": f.code, "state": str(f.state)} for f in outcome.findings if (f.subject, f.piece) == (found.id, laid.id)]}  # fmt: skip


def _place(outcome: Outcome, place: Feature) -> dict[str, Any]:
    found = outcome.site.place(place)
    served = []
    for by in found.served:
        table = by.water.known_table if by.water is not None else None
        served.append({"run": by.run, "spans": list(by.spans), "distance": by.distance, "table_depth": None if table is None else table.value,
                       "band": list(table.band) if table is not None and table.band else None, "missing": doubt_words(by.water.missing if by.water is not None else None, outcome.job),
                       "is_guess": by.water is not None and by.water.waits})
    return {"id": place.id, "name": place.name, "dry_depth": place.dry_depth, "served": served, "table_depth": found.table_depth,
            "findings": [{"code": f.code, "subject": f.subject, "state": str(f.state)} for f in outcome.findings if f.place == place.id]}  # fmt: skip


def _run(outcome: Outcome, found: RunOutcome) -> dict[str, Any]:
    run, flow, high = found.run, found.flow, found.flow_high
    levels = []
    for node, station in run.nodes:
        row: dict[str, Any] = {"node": node.id, "station": station, "invert": float(invert_at(run, np.array(station)))}
        if found.grade is not None and flow is not None and high is not None:
            row |= {"ground": found.grade.at(found.grade.ground, station), "flow": _flow_at(found.grade, flow, station), "high": _flow_at(found.grade, high, station)}
        levels.append(row)
    return {"id": run.id, "name": run.name, "length": run.length, "carries": list(outcome.site.carries[run.id]), "trench_of": run.run.trench_of,
            "joins": [{"run": other.id, "station": station} for other, station in outcome.site.network.drains_to(run)],
            "stretches": [_stretch(outcome, found, laid, told) for laid, told in zip(found.stretches, stretch_outcomes(found), strict=True)],
            "soils": [{"from": along.low, "to": along.high, "soil": along.soil.id} for along in found.soils],
            "collects": [{"spans": list(part.spans), "soil": part.soil.id, "from": part.situation.source, "place": part.place.id if part.place is not None else "",
                          "distance": part.lie.distance if part.lie is not None else None} for part in found.collects if part.spans], "levels": levels,
            "at_least": doubt_words(high.missing, outcome.job) if high is not None else "", "at_most": doubt_words(high.shared, outcome.job) if high is not None else ""}  # fmt: skip


def _flow_at(grade: GradeLine, flow: RunFlow, station: float) -> float:
    """Flow m³/s at a station, below nought where it goes up the stations; what is left of rounding at a top end is nothing."""
    discharge = grade.at(flow.discharge, station)
    return discharge if abs(discharge) > DROP else 0.0


def _lines(outcome: Outcome) -> list[str]:
    system, out = System(outcome.job.units), []
    for found in outcome.site.runs:
        run = found.run
        parts = ", ".join((tr("solid to {top}", top=shown(top, STATION, system)) if is_solid else tr("collects to {top}",
                                                                                                     top=shown(top, STATION, system))) for _, top, is_solid in run.spans)
        out.append(f"{run.name}: {low_end_words(outcome, found)}; {parts}")
        for node, station in run.nodes:
            others = ", ".join(other.name for other, _ in outcome.site.network.others_at(run, node.id))
            flow = "" if found.grade is None or found.flow_high is None else f" {shown(_flow_at(found.grade, found.flow_high, station), DISCHARGE, system):>13}"
            what = " ".join(words for words in (set_there(node) if node.kind != PLAIN else "", tr("with {others}", others=others) if others else "") if words)
            out.append(f"  {shown(station, STATION, system):>10} {shown(float(invert_at(run, np.array(station))), LEVEL, system):>11}{flow}  {what}".rstrip())
        if found.flow_high is not None and (found.flow_high.missing or found.flow_high.shared):
            out.append(tr("  flow not known for sure: {why}", why=doubt_words(found.flow_high.missing or found.flow_high.shared, outcome.job)))
    return out
