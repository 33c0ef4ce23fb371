"""``flow``: the steady flow along every run, where its surface stands in pipe, stone and ground, and what leaves where; also with exits plugged."""

from __future__ import annotations

import csv
import io
from argparse import Namespace
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from weirant.cli.job_commands import open_job
from weirant.cli.parser import guess
from weirant.cli.streams import print_json
from weirant.design.assess import assess
from weirant.design.flows import with_plugged
from weirant.errors import InputError
from weirant.formats.csv_text import harmless
from weirant.formats.plain_files import write_safely
from weirant.ground.grade_line import GradeLine
from weirant.ground.stretches import largest
from weirant.hydraulics.run_flow import RunFlow
from weirant.job.network import INLET, PUMP_PIT, ROOF_ENTRY
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units.display import DISCHARGE, LEVEL, SECTION, STATION, System, shown
from weirant.words.facts import doubt_words

Array = NDArray[np.float64]
OPEN = (INLET, PUMP_PIT, ROOF_ENTRY)  # what water can come out of
PART_FULL, FULL, IN_STONE, IN_SOIL, OVER = tr("part full"), tr("full"), tr("full, in the stone"), tr("full, over the stone"), tr("over the ground")
DROP, HAIR = 1e-9, 1e-6  # m³/s, a drop of water in a minute; m
HEADINGS = ("run", "station_m", "ground_m", "invert_m", "crown_m", "stone_m", "surface_m", "flow_m3_per_s", "share_of_full", "stands")


def flow(given: Namespace) -> int:
    """Print or write the flow; 0 where no water comes over the ground, 1 where it does."""
    if given.json and given.csv:
        raise InputError("--csv", tr("cannot stand beside --json; ask for one of them"))
    outcome = assess(open_job(given.job))
    if given.plug:
        outcome = with_plugged(outcome, [_node(outcome, words) for words in given.plug])
    rows = {found.id: _rows(found, found.grade, found.flow_high) for found in outcome.site.runs if found.grade is not None and found.flow_high is not None}
    if given.json:
        print_json(_as_json(outcome, rows), indent=1)
    elif given.csv:
        write_safely(Path(given.csv), _as_csv(outcome, rows).encode())
    else:
        print("\n".join(_lines(outcome, rows)))
    return 1 if any(row["stands"] == OVER for found in rows.values() for row in found) else 0


def _node(outcome: Outcome, words: str) -> str:
    nodes = outcome.job.nodes
    found = next((n for n in nodes if n.id == words), None) or next((n for n in nodes if n.name and n.name == words), None)
    if found is None:
        raise InputError("--plug", tr("is no node of this job{hint}", hint=guess(words, [name for n in nodes for name in (n.id, n.name) if name])), words)
    return found.id


def _rows(found: RunOutcome, grade: GradeLine, flow: RunFlow) -> list[dict[str, Any]]:
    """The stations of a run from its low end up, SI. Flow below nought goes up the stations."""
    crown = grade.invert + largest(found.stretches, grade.stations, lambda make: make.pipe.inner_diameter)
    stone, rim = _stone(found, grade, crown), _rim(found, grade)
    moving = np.where(np.abs(flow.discharge) < DROP, 0.0, flow.discharge)
    columns = (grade.stations, grade.ground, grade.invert, crown, stone, flow.surface, moving)
    return [dict(zip(HEADINGS[1:], (*row, share if np.isfinite(share) else None, _stands(row[5], row[3], row[4], out)), strict=True))
            for *row, share, out in zip(*(column.tolist() for column in columns), flow.full_fraction.tolist(), rim.tolist(), strict=True)]  # fmt: skip


def _stone(found: RunOutcome, grade: GradeLine, crown: Array) -> Array:
    """Level m of the top of the stone at each station; the crown where the pipe is solid."""
    top = np.array(crown)
    for stretch in found.stretches:
        if not stretch.is_solid:
            here = stretch.holds(grade.stations)
            top[here] = np.maximum(top[here], (grade.trench_bottom + stretch.make.stone(grade.cut))[here])
    return top


def _rim(found: RunOutcome, grade: GradeLine) -> Array:
    """Level m over which water comes out at each station: the ground where the pipe has openings, the rim of what is set there; endless along solid pipe."""
    rim = np.where(found.run.collects(grade.stations), grade.ground, np.inf)
    for node, station in found.run.nodes:
        if node.kind in OPEN:
            at = int(np.abs(grade.stations - station).argmin())
            rim[at] = min(rim[at], grade.ground[at] if node.rim is None else node.rim)
    return np.asarray(rim)


def _stands(surface: float, crown: float, stone: float, rim: float) -> str:
    if surface > max(rim, crown) + HAIR:
        return OVER
    if surface <= crown + HAIR:
        return FULL if surface > crown - HAIR else PART_FULL
    return FULL if np.isinf(rim) else IN_STONE if surface <= stone + HAIR else IN_SOIL


def _as_json(outcome: Outcome, rows: dict[str, list[dict[str, Any]]]) -> dict[str, Any]:
    runs = []
    for found in outcome.site.runs:
        high = found.flow_high
        runs.append({"id": found.id, "name": found.run.name, "stations": rows.get(found.id), "missing": doubt_words(high.missing, outcome.job) if high is not None else "",
                     "shared": doubt_words(high.shared, outcome.job) if high is not None else ""})  # fmt: skip
    leaves = [{"node": node, "leaves": steady.discharge, "missing": doubt_words(steady.missing, outcome.job)} for node, steady in outcome.site.exits.items()]
    return {"job": outcome.job.name, "runs": runs, "exits": leaves}


def _as_csv(outcome: Outcome, rows: dict[str, list[dict[str, Any]]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEADINGS)
    for found in outcome.site.runs:
        for row in rows.get(found.id, ()):
            writer.writerow([harmless(found.run.name), *("" if cell is None else cell for cell in row.values())])
    return out.getvalue()


def _lines(outcome: Outcome, rows: dict[str, list[dict[str, Any]]]) -> list[str]:
    system, out = System(outcome.job.units), []
    low_ends = {found.run.nodes[0][0].id: tr("the low end of {run}", run=found.run.name) for found in outcome.site.runs}
    names = {node.id: node.name or low_ends.get(node.id, node.id) for node in outcome.job.nodes}
    for found in outcome.site.runs:
        high, told = found.flow_high, rows.get(found.id)
        doubt = doubt_words(high.missing or high.shared, outcome.job) if high is not None else ""
        out.append(found.run.name + (tr(" (not known for sure: {why})", why=doubt) if doubt else ""))
        if told is None:
            out.append(tr("  not known: there is no ground under it"))
            continue
        stations = np.array([row["station_m"] for row in told])
        at_nodes = {int(np.abs(stations - station).argmin()) for _, station in found.run.nodes}
        highest = int(np.argmax([row["surface_m"] - row["crown_m"] for row in told]))
        for i in sorted(at_nodes | {highest}):
            row, moves = told[i], told[i]["flow_m3_per_s"]
            amount, level = shown(abs(moves), DISCHARGE, system), shown(row["surface_m"], LEVEL, system)
            out.append(tr("  at {station}: {flow}, {deep} deep, surface at {level}: {stands}", station=shown(row["station_m"], STATION, system), level=level,
                          flow=tr("{amount} towards its top", amount=amount) if moves < 0 else amount, stands=row["stands"],
                          deep=shown(row["surface_m"] - row["invert_m"], SECTION, system)))  # fmt: skip
    for node, steady in outcome.site.exits.items():
        out.append(tr("leaves at {node}: {flow}", node=names[node], flow=shown(steady.discharge, DISCHARGE, system)))
    return out
