"""``filter``: schools of building the drain, followed for years on the soil of a run."""

from __future__ import annotations

import csv
import dataclasses
import io
import math
from argparse import Namespace
from collections.abc import Sequence

from weirant.cli.giving import check_one_of, check_one_way, give, in_columns
from weirant.cli.job_commands import open_job, run_called
from weirant.clogging.assumed import Assumed
from weirant.design.assess import assess
from weirant.design.graded_filter import graded_filters
from weirant.design.schools import School, schools, with_assumed
from weirant.design.suited import suited
from weirant.design.two_ways import two_ways
from weirant.design.variants import USUAL, VARIANTS
from weirant.errors import InputError
from weirant.formats.csv_text import harmless
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units.display import System
from weirant.words.schools import ASSUMED, CAUTION, HEADS, assumed_words, basis_words, cells, graded_words
from weirant.words.suited import KINDS, contacts_words, ways_words
from weirant.words.two_ways import lines, name_of

MOST_YEARS = 100


def filter_years(given: Namespace) -> int:
    """Print them; 0."""
    check_one_way(given)
    check_one_of(given, "graded", "suited", "side_by_side")
    for none_of_it in ("school", "years", "flush", "assume"):  # what has nothing to do with years
        for option in ("graded", "suited"):
            check_one_of(given, option, none_of_it)
    years, flush = _whole(given.years, "years", 1, 30), _whole(given.flush, "flush", 0, 0)
    wanted = given.school or list(USUAL)
    unknown = next((key for key in wanted if key not in VARIANTS), None)
    if unknown is not None:
        raise InputError("school", tr("is none of {keys}", keys=", ".join(VARIANTS)), unknown)
    job = open_job(given.job)
    outcome = assess(job)
    found = outcome.run(run_called(job, given.run).id) if given.run else outcome.chosen()
    if given.graded:
        soil = outcome.beside(found, found.part.station)
        kinds = graded_filters(soil.gradation, outcome.library)
        give(given, lambda: [{"parts": [part.key for part in kind.parts], "share": kind.share, "fits": kind.fits, "margin": kind.margin, "d15": list(kind.d15)} for kind in kinds],
             lambda: "\n".join(["parts,share,fits,margin", *(f"{'+'.join(p.key for p in kind.parts)},{kind.share:g},{kind.fits},{kind.margin:.4g}" for kind in kinds)]) + "\n",
             lambda: [tr("graded filters against the soil of {run}", run=found.run.name), *(graded_words(kind, System(job.units)) for kind in kinds)])  # fmt: skip
        return 0
    if given.suited:
        return _suited(given, outcome, found)
    if given.side_by_side:
        return _side_by_side(given, outcome, found, years)
    told = schools(outcome, found, years, wanted, _assumed(given.assume or []), flush)
    give(given, lambda: {"run": found.run.name, "years": years, "assumed": dataclasses.asdict(told[0].assumed), "schools": [_as_json(school) for school in told]},
         lambda: _as_csv(told), lambda: _lines(outcome, found, told, years))  # fmt: skip
    return 0


def _lines(outcome: Outcome, found: RunOutcome, told: list[School], years: int) -> list[str]:
    rows = [HEADS, *(cells(school, years, System(outcome.job.units)) for school in told)]
    return [found.run.name, *in_columns(rows), CAUTION + basis_words(outcome, found), tr("Assumed (--assume KEY=VALUE):"), *assumed_words(told[0].assumed)]


def _assumed(changes: list[str]) -> Assumed:
    """What is assumed, with what was given as key=value."""
    assumed = Assumed()
    for change in changes:
        key, sign, text = change.partition("=")
        if not sign:
            raise InputError("assume", tr("needs KEY=VALUE with one of {keys}", keys=", ".join(ASSUMED)), change)
        assumed = with_assumed(assumed, key, text, strict=True)
    return assumed


def _whole(text: str | None, key: str, least: int, usual: int) -> int:
    if text is None:
        return usual
    if not text.isascii() or not text.isdigit() or not least <= int(text[:6]) <= MOST_YEARS or len(text) > 6:
        raise InputError(key, tr("must be a whole number from {least} to {most}", least=least, most=MOST_YEARS), text)
    return int(text)


def _as_json(school: School) -> dict[str, object]:
    course = school.course
    return {"school": school.key, "lasts": [None if math.isinf(years) else years for years in school.lasts], "voids_full": school.silted, "in_pipe": school.in_pipe, "takes": school.takes,
            "balance": course.balance, "opening": school.built.meets, "best": {"let_go": course.let_go[:, 0].tolist(), "on_cloth": course.cake[:, 0].tolist(),
            "in_stone": course.in_stone[:, 0].tolist(), "in_pipe": course.in_pipe[:, 0].tolist(), "out": course.out[:, 0].tolist(), "takes": course.takes[:, 0].tolist()}}  # fmt: skip


def _as_csv(told: list[School]) -> str:
    """Every year of the best guess, in SI."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["school", "year", "let_go_kg_m", "on_cloth_kg_m", "in_stone_kg_m", "in_pipe_kg_m", "out_kg_m", "takes_times"])
    for school in told:
        course = school.course
        kept = (course.let_go, course.cake, course.in_stone, course.in_pipe, course.out, course.takes)
        for year in range(len(course.takes)):
            writer.writerow([school.key, year, *(f"{float(values[year, 0]):.6g}" for values in kept)])
    return out.getvalue()


def _side_by_side(given: Namespace, outcome: Outcome, found: RunOutcome, years: int) -> int:
    keys = given.school or []
    if len(keys) != 2:
        raise InputError("--side-by-side", tr("needs --school twice"), ", ".join(keys))
    ways = two_ways(outcome, found, (keys[0], keys[1]), years, _assumed(given.assume or []))
    told = lines(ways, outcome, years)
    rows = [("", *(name_of(way) for way in ways), tr("differs")), *((line.label, line.one, line.other, line.differs) for line in told)]
    give(given, lambda: [dataclasses.asdict(line) for line in told], lambda: _csv(rows), lambda: in_columns(rows))
    return 0


def _suited(given: Namespace, outcome: Outcome, found: RunOutcome) -> int:
    suits = suited(outcome, found)
    rows = [(tr("as"), tr("product"), tr("verdict"), tr("contacts")), *((KINDS[p.kind], p.name, tr(p.worst), contacts_words(p)) for p in suits.products)]
    give(given, lambda: {"ways": {str(state): number for state, number in suits.ways.items()},
                         "products": [{"kind": p.kind, "key": p.key, "worst": str(p.worst), "states": {code: str(state) for code, state in p.states.items()}} for p in suits.products]},
         lambda: _csv(rows), lambda: [ways_words(suits), *("  ".join(row) for row in rows[1:])])  # fmt: skip
    return 0


def _csv(rows: Sequence[Sequence[str]]) -> str:
    """Rows as CSV; names that a table program would take for a formula are kept as text."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows([[harmless(cell) for cell in row] for row in rows])
    return out.getvalue()
