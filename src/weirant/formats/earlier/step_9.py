"""From version 8 to 9: what a run carries follows from the sources above it. One that was said to bring roof, surface or pumped water which nothing is
led into gets a source that nobody has measured yet: it is asked for, as it was.
"""

from __future__ import annotations

from typing import Any

Fields = dict[str, Any]
BROUGHT = {"roof": (("roof",), 0.95), "surface": (("open ground", "paving", "spring"), 0.35), "pump": (("pump",), 1.0)}  # kinds of source, the first for a new one, and its share


def with_what_is_carried(job: Fields) -> Fields:
    """The fields of a job of version 8 in the shape of version 9."""
    sources = list(job["sources"])
    for run in job["runs"]:
        kinds, share = BROUGHT.get(run["system"], ((), 0.0))
        is_joined = any(other is not run and other["nodes"][0] in run["nodes"][1:] for other in job["runs"])
        if kinds and not is_joined and not any(s["kind"] in kinds and s["node"] in run["nodes"] for s in sources):
            number = 1 + max((int(s["id"][1:]) for s in sources if s["id"][1:].isdecimal()), default=0)
            sources.append({"id": f"w{number}", "name": f"{run['system']} of {run['name']}", "kind": kinds[0], "node": run["nodes"][-1], "thing": "", "area": None, "share": share,
                            "intensity": None, "inflow": None})  # fmt: skip
    runs = [{key: value for key, value in run.items() if key != "system"} for run in job["runs"]]
    return {**job, "runs": runs, "sources": sources, "assumed": [path for path in job["assumed"] if not path.endswith(".system")]}
