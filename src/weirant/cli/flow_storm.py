"""``flow --storm``: a storm followed through the pipes of a job."""

from __future__ import annotations

import csv
import io
from argparse import Namespace
from typing import Any

from weirant.cli.giving import give
from weirant.cli.storms_given import hours_given, storm_given, told_on_terminal
from weirant.design.plugged_in_turn import Plugged, in_turn
from weirant.design.storms import called_storm
from weirant.design.through_pipes import through_pipes
from weirant.formats.csv_text import harmless
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.routed import StormThrough
from weirant.outcome.standing import OVER
from weirant.words.facts import doubt_words
from weirant.words.flow import exit_name
from weirant.words.through import in_turn_verdict, in_turn_words, part_words, plug_name, run_words, spill_words, verdict


def each_in_turn(outcome: Outcome, given: Namespace) -> int:
    """Print or write what a storm comes to with each exit and inlet plugged alone; 0 where no water ever comes over the ground, else 1."""
    found = in_turn(outcome, storm_given(outcome.job, given.storm), hours_given(given.hours), told_on_terminal())
    assert found is not None
    rows = [(p.node, plug_name(outcome, p.node), _spilled(p), verdict(outcome, p.through) if p.through is not None else p.fault) for p in found]

    def as_table() -> str:
        out = io.StringIO()
        writer = csv.writer(out, lineterminator="\n")
        writer.writerow(["node", "name", "over_the_ground_m3", "words"])
        writer.writerows([harmless(node), harmless(name), "" if spilled is None else f"{spilled:.6g}", harmless(words)] for node, name, spilled, words in rows)
        return out.getvalue()

    give(given, lambda: {"job": outcome.job.name, "plugged": [dict(zip(("node", "name", "over_the_ground", "words"), row, strict=True)) for row in rows]}, as_table,
         lambda: [in_turn_verdict(found), *in_turn_words(outcome, found)])  # fmt: skip
    return 1 if any(spilled is None or spilled > 0 for _, _, spilled, _ in rows) else 0


def _spilled(plugged: Plugged) -> float | None:
    """What comes over the ground, m³; None where it cannot be told."""
    return None if plugged.through is None or plugged.through.missing else sum(s.volume for part in plugged.through.parts for s in part.spills)


def flow_in_storm(outcome: Outcome, given: Namespace, plugged: tuple[str, ...]) -> int:
    """Print or write what a storm comes to; 0 where no water comes over the ground and every part could be followed, else 1."""
    through = through_pipes(outcome, storm_given(outcome.job, given.storm), hours_given(given.hours), told_on_terminal(), plugged=plugged,
                            power_cut=(0.0, 3600 * hours_given(given.no_power, "--no-power", 0.0)))  # fmt: skip
    assert through is not None
    give(given, lambda: as_json(outcome, through), lambda: as_csv(outcome, through), lambda: _lines(outcome, through))
    return 1 if through.missing or any(part.spills for part in through.parts) else 0


def as_json(outcome: Outcome, through: StormThrough) -> dict[str, Any]:
    """Everything of a storm through the pipes in SI: levels m, flows m³/s, volumes m³, times s from the beginning of the rain."""
    parts = []
    for part in through.parts:
        routed, runs = part.routed, []
        for run, along in part.runs.items():
            found = outcome.site.run(run)
            stands = part.standing(found) if found is not None else None
            runs.append({"id": run, "name": outcome.site.network.run(run).run.name, "stations": along.stations.tolist(), "highest": routed.highest[along.sections].tolist(),
                         "highest_at": routed.highest_at[along.sections].tolist(), "most": routed.most[along.reaches].tolist(), "most_at": routed.most_at[along.reaches].tolist(),
                         "stands": stands.stands[stands.worst] if stands is not None else None, "over": stands is not None and OVER in stands.stands})  # fmt: skip
        exits = [{"node": node, "name": exit_name(outcome.job, node), "flow": leaves.tolist(), "soaks": part.soaks(node).tolist()} for node in part.nodes
                 if (leaves := part.left_by(node)) is not None]  # fmt: skip
        ponds = [{"node": node, "deepest": deep, "stands": time} for node in part.bowls for deep, time in (part.pond(node),)]
        spills = [{"run": s.run, "station": s.station, "node": s.node, "volume": s.volume, "most": s.most, "at": s.at} for s in part.spills]
        parts.append({"runs": runs, "exits": exits, "ponds": ponds, "over_the_ground": spills, "times": routed.times.tolist(), "stored": routed.holds.tolist(), "empty_at": part.empty_at,
                      "pumps": [{"node": node, "comes": routed.comes[:, k].tolist(), "lifts": routed.lifts[:, k].tolist(), "starts": c.starts.tolist() if c is not None else [],
                                 "stops": c.stops.tolist() if c is not None else []} for k, (node, c) in enumerate(part.pumps.items())],
                      "came": routed.came, "lifted": routed.lifted, "left": routed.left, "spilled": routed.spilled, "stored_before": routed.before, "stored_after": routed.after,
                      "balance_error": routed.off})  # fmt: skip
    missing = [{"run": run, "missing": doubt_words(doubt, outcome.job)} for run, doubt in through.missing.items()]
    return {"job": outcome.job.name, "storm": through.storm.name, "rain_ends": through.ends, "until": through.until, "parts": parts, "not_followed": missing}


def as_csv(outcome: Outcome, through: StormThrough) -> str:
    """What leaves by each exit in the course of the storm, a line a step, SI."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["time_h", "exit", "leaves_m3_per_s", "stored_m3"])
    for part in through.parts:
        for node in part.nodes:
            leaves = part.left_by(node)
            if leaves is not None:
                name = harmless(exit_name(outcome.job, node))
                rows = zip(part.routed.times.tolist(), leaves.tolist(), part.routed.holds.tolist(), strict=True)
                writer.writerows([f"{time / 3600:.4f}", name, f"{flow:.6g}", f"{stored:.6g}"] for time, flow, stored in rows)
    return out.getvalue()


def _lines(outcome: Outcome, through: StormThrough) -> list[str]:
    out = [tr("{storm}, followed for {hours:.0f} h", storm=called_storm(through.storm), hours=through.until / 3600), verdict(outcome, through)]
    for run in outcome.site.runs:
        if run.id not in through.missing:
            out += [run.run.name, *(f"  {words}" for words in run_words(outcome, through, run.id))]
    for part in through.parts:
        out += [*(spill_words(outcome, spill) for spill in part.spills), *part_words(outcome, through, part)]
    return out
