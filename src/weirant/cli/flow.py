"""``flow``: the steady flow along every run, where its surface stands in pipe, stone and ground, and what leaves where; also with exits plugged."""

from __future__ import annotations

import csv
import io
from argparse import Namespace
from typing import Any

import numpy as np

from weirant.cli.giving import check_one_way, give
from weirant.cli.job_commands import open_job
from weirant.cli.parser import guess
from weirant.design.assess import assess
from weirant.design.flows import with_plugged
from weirant.errors import InputError
from weirant.formats.csv_text import harmless
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.standing import OVER, Standing, standing
from weirant.units.display import DISCHARGE, System, shown
from weirant.words.facts import doubt_words
from weirant.words.flow import exit_name, station_words

EACH = "each"  # stands for every exit and inlet in turn
HEADINGS = ("run", "station_m", "ground_m", "invert_m", "crown_m", "stone_m", "surface_m", "flow_m3_per_s", "share_of_full", "stands")


def flow(given: Namespace) -> int:
    """Print or write the flow; 0 where no water comes over the ground, 1 where it does."""
    check_one_way(given)
    for key, value in (("--hours", given.hours), ("--no-power", given.no_power)):
        if value and not given.storm:
            raise InputError(key, tr("needs a storm: add --storm"))
    outcome = assess(open_job(given.job))
    if given.plug == [EACH]:
        if not given.storm:
            raise InputError("--plug", tr("each in turn needs a storm: add --storm"))
        from weirant.cli.flow_storm import each_in_turn

        return each_in_turn(outcome, given)
    plugged = tuple(_node(outcome, words) for words in given.plug or ())
    if given.storm:
        from weirant.cli.flow_storm import flow_in_storm  # the simulator takes half a second to load

        return flow_in_storm(outcome, given, plugged)
    if plugged:
        outcome = with_plugged(outcome, plugged)
    found = {run.id: stands for run in outcome.site.runs if (stands := standing(run)) is not None}
    give(given, lambda: _as_json(outcome, found), lambda: _as_csv(outcome, found), lambda: _lines(outcome, found))
    return 1 if any(OVER in along.stands for along in found.values()) else 0


def _node(outcome: Outcome, words: str) -> str:
    nodes = outcome.job.nodes
    found = next((n for n in nodes if n.id == words), None) or next((n for n in nodes if n.name and n.name == words), None)
    if found is None:
        raise InputError("--plug", tr("is no node of this job{hint}", hint=guess(words, [name for n in nodes for name in (n.id, n.name) if name])), words)
    return found.id


def _rows(along: Standing) -> list[tuple[Any, ...]]:
    """The stations of a run from its low end up, SI, as the headings say."""
    columns = (along.stations, along.ground, along.invert, along.crown, along.stone, along.surface, along.flow)
    shares = [share if np.isfinite(share) else None for share in along.share.tolist()]
    return list(zip(*(column.tolist() for column in columns), shares, along.stands, strict=True))


def _as_json(outcome: Outcome, found: dict[str, Standing]) -> dict[str, Any]:
    runs = []
    for run in outcome.site.runs:
        high = run.flow_high
        stations = [dict(zip(HEADINGS[1:], row, strict=True)) for row in _rows(found[run.id])] if run.id in found else None
        runs.append({"id": run.id, "name": run.run.name, "stations": stations, "missing": doubt_words(high.missing, outcome.job) if high is not None else "",
                     "shared": doubt_words(high.shared, outcome.job) if high is not None else ""})  # fmt: skip
    leaves = [{"node": node, "leaves": steady.discharge, "missing": doubt_words(steady.missing, outcome.job)} for node, steady in outcome.site.exits.items()]
    return {"job": outcome.job.name, "runs": runs, "exits": leaves}


def _as_csv(outcome: Outcome, found: dict[str, Standing]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEADINGS)
    for run in outcome.site.runs:
        if run.id in found:
            writer.writerows([harmless(run.run.name), *("" if cell is None else cell for cell in row)] for row in _rows(found[run.id]))
    return out.getvalue()


def _lines(outcome: Outcome, found: dict[str, Standing]) -> list[str]:
    system, out = System(outcome.job.units), []
    for run in outcome.site.runs:
        high, along = run.flow_high, found.get(run.id)
        doubt = doubt_words(high.missing or high.shared, outcome.job) if high is not None else ""
        out.append(run.run.name + (tr(" (not known for sure: {why})", why=doubt) if doubt else ""))
        if along is None:
            out.append("  " + tr("not known: there is no ground under it"))
            continue
        at_nodes = {int(np.abs(along.stations - station).argmin()) for _, station in run.run.nodes}
        out += ["  " + station_words(along, index, system) for index in sorted(at_nodes | {along.worst})]
    for node, steady in outcome.site.exits.items():
        name, amount = exit_name(outcome.job, node), shown(abs(steady.discharge), DISCHARGE, system)
        out.append(tr("comes back in by {exit}: {flow}", exit=name, flow=amount) if steady.discharge < 0 else tr("leaves by {exit}: {flow}", exit=name, flow=amount))
    return out
