"""``patterns`` lists the patterns of the trade, ``new`` writes one of them as a job file."""

from __future__ import annotations

from argparse import Namespace
from pathlib import Path

from weirant.cli.streams import print_json
from weirant.design.patterns import PATTERNS, pattern
from weirant.errors import InputError
from weirant.formats import job_file
from weirant.language import tr


def patterns(given: Namespace) -> int:
    """Print every pattern, a line each."""
    if given.json:
        print_json([{"key": p.key, "title": p.title, "hint": p.hint} for p in PATTERNS.values()], indent=1)
    else:
        width = max(len(key) for key in PATTERNS)
        print("\n".join(f"{p.key:<{width}}  {p.title}: {p.hint}" for p in PATTERNS.values()))
    return 0


def new(given: Namespace) -> int:
    """Write the job of a pattern; a file that is there is not replaced."""
    chosen = pattern(given.pattern.removeprefix("pattern:"))
    target = Path(given.output or f"{chosen.key}{job_file.SUFFIX}")
    if target.exists():
        raise InputError("file", tr("is there already; name another one with -o"), str(target))
    job_file.save(chosen.job(), target)
    print(target)
    return 0
