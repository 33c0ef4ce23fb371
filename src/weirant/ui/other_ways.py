"""Other ways to build the job in hand, each a job file of its own: which they are is remembered by the program, by the job's file."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from weirant.design.assess import assess
from weirant.design.offer import Option, priced_option
from weirant.design.worked_out import with_nothing_waiting
from weirant.errors import WeirantError
from weirant.formats import job_file
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import PriceList
from weirant.ui.document import Document
from weirant.ui.memory import remember, words

KEY, MOST, MOST_JOBS = "other ways", 6, 40  # of a job; jobs whose ways are remembered


def _all() -> dict[str, list[str]]:
    try:
        found = json.loads(words(KEY) or "{}")
    except ValueError:
        return {}
    return {job: [p for p in paths if isinstance(p, str)] for job, paths in found.items() if isinstance(paths, list)} if isinstance(found, dict) else {}


def kept_by(document: Document) -> str:
    """What the ways of the job in hand are remembered by: its file, or a mark of its own where it has none yet."""
    return str(document.path.absolute()) if document.path is not None else document.mark


def other_ways(document: Document) -> tuple[Path, ...]:
    """The files of the other ways of the job in hand."""
    return () if document.is_empty else tuple(Path(path) for path in _all().get(kept_by(document), ()))


def keep_ways(document: Document, ways: Sequence[Path]) -> None:
    """Remember them, each once; those of the jobs looked at longest ago are forgotten."""
    kept, name = _all(), kept_by(document)
    for old in {name, document.mark}:
        kept.pop(old, None)
    paths = list(dict.fromkeys(str(path.absolute()) for path in ways))[:MOST]
    remember(KEY, json.dumps(dict([*kept.items(), *([(name, paths)] if paths else [])][-MOST_JOBS:])))


def carry_ways(before: str, document: Document) -> None:
    """The job was saved: what was remembered by what it was kept by before goes with it."""
    found = _all()
    if kept_by(document) not in found:
        keep_ways(document, [Path(path) for path in found.get(before, ())])


def option_at(path: Path, prices: PriceList) -> Option:
    """The way in a file, by a price list. Raises WeirantError where it cannot be read or counted."""
    return priced_option(path.stem, with_nothing_waiting(assess(job_file.load(path))), prices)


def options_beside(outcome: Outcome, ways: Sequence[Path], prices: PriceList) -> Callable[[], tuple[Option | str, ...]]:
    """What works out, touching no widget, the job as drawn and each way beside it; words in place of one that cannot be had."""

    def drawn() -> Option:
        return priced_option(tr("as drawn"), with_nothing_waiting(outcome), prices)

    every: list[Callable[[], Option]] = [drawn, *(partial(option_at, path, prices) for path in ways)]
    return lambda: tuple(map(_had, every))


def _had(way: Callable[[], Option]) -> Option | str:
    try:
        return way()
    except WeirantError as fault:
        return str(fault)
