"""``rules``: the limits, distances and shares that the verdicts go by, each with its source."""

from __future__ import annotations

from argparse import Namespace

from weirant.cli.streams import print_json
from weirant.rules import told_rules
from weirant.sources import citation


def rules(given: Namespace) -> int:
    """Print every rule, a line each."""
    found = told_rules()
    if given.json:
        print_json([{"key": r.key, "words": r.words, "spoken": r.spoken, "value": r.value, "source": citation(r.source), "note": r.note} for r in found], indent=1)
    else:
        width, figures = max(len(r.key) for r in found), max(len(r.spoken) for r in found)
        print("\n".join(f"{r.key:<{width}}  {r.spoken:>{figures}}  {r.words}{f' ({r.note})' if r.note else ''}; {citation(r.source)}" for r in found))
    return 0
