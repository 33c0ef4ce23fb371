"""From version 6 to 7: the one trench, stone and fabric become a section, and every stretch names its pipe and its section."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

Fields = dict[str, Any]
SECTION, NAME = "s1", "trench"  # identity and name of the one section


def with_sections(job: Fields) -> Fields:
    """The fields of a job with sections and products by stretch."""
    choice, trench = job["choice"], job["trench"]
    section = {"id": SECTION, "name": NAME, **trench, "aggregate": choice["aggregate"], "geotextile": choice["geotextile"]}
    runs = [{**run, "stretches": [{**stretch, "id": f"p{number + 1}", "pipe": choice["pipe"], "section": SECTION} for number, stretch in enumerate(run["stretches"])]}
            for run in job["runs"]]  # fmt: skip
    assumed = [new for path in job["assumed"] for new in _paths(path, runs)]
    return {**{key: value for key, value in job.items() if key not in ("trench", "choice")}, "runs": runs, "sections": [section], "assumed": assumed}


def _paths(path: str, runs: list[Fields]) -> Iterator[str]:
    """Where a field stands now; the pipe of the job is that of every run."""
    owner, _, rest = path.partition(".")
    steps = path.split(".")
    if owner == "trench" or path in ("choice.aggregate", "choice.geotextile"):
        yield f"sections.{SECTION}.{rest}" if rest else f"sections.{SECTION}"
    elif path == "choice.pipe":
        yield from (f"runs.{run['id']}.pipe" for run in runs)
    elif owner == "runs" and len(steps) > 3 and steps[2] == "stretches" and steps[3].isdecimal():
        yield ".".join([*steps[:3], f"p{int(steps[3]) + 1}", *steps[4:]])
    elif path != "choice":
        yield path
