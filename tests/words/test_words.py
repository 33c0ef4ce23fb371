"""The words of findings and fixes: each code has them, each gap is filled, and they follow the reader's units."""

import ast
import re
import tomllib
from pathlib import Path

import pytest

import weirant
from weirant import checks
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.patterns import PATTERNS
from weirant.outcome.facts import Amount, Fall, Lasting, Named, Times, WaterDepth
from weirant.outcome.finding import DRY_IN_TIME, WAITS, Finding, State
from weirant.units.display import DEPTH, System
from weirant.words.facts import fact_words
from weirant.words.findings import spoiled_words, worded
from weirant.words.pictures import plan_words, profile_words, section_words
from weirant.words.template import parsed

ROOM = Path(weirant.__file__).parent
FINDINGS = tomllib.loads((ROOM / "words" / "findings.toml").read_text(encoding="utf-8"))
OTHERS = tomllib.loads((ROOM / "words" / "phrases.toml").read_text(encoding="utf-8"))
FINDERS = [path for room in ("checks", "design", "hydraulics") for path in (ROOM / room).glob("*.py")]
OWN = {"value", "limit", "station", "place"}


def literals(*names):
    """The texts that stand first in calls of some functions, in all that finds."""
    calls = (n for path in FINDERS for n in ast.walk(ast.parse(path.read_text(encoding="utf-8"))) if isinstance(n, ast.Call) and isinstance(n.func, ast.Name) and n.func.id in names)
    return {c.value for call in calls if call.args for c in ast.walk(call.args[0]) if isinstance(c, ast.Constant) and isinstance(c.value, str)}


def test_every_code_has_its_words_and_no_words_are_left_over():
    codes = {code for kind in (checks.JOB, checks.RUN, checks.PLACE, checks.PART, checks.STRETCH) for family in kind.values() for code in family}
    assert set(FINDINGS) == codes | {DRY_IN_TIME, "old-drain"}  # which are held against all the others
    fixes = {*literals("Fix"), "raise-from", "lower-from", "keep-top", "keep-end", "lengthen", "collect-from", *(f"note-{code}" for code in checks.allowed.JOB)}
    assert set(OTHERS["fixes"]) == fixes - {"note-", "_", "-"} and set(OTHERS["gives"]) == literals("Given")
    assert set(OTHERS["doubts"]) == literals("Doubt")
    sources = "".join(path.read_text(encoding="utf-8") for path in FINDERS)
    assert all(f'"{code}"' in sources for code in OTHERS["cautions"]) and {*re.findall(r'caution="([^"]+)"', sources)} == set(OTHERS["cautions"])
    told = [*(text for code in FINDINGS.values() for text in code.values() if isinstance(text, str)), *(text for kind in OTHERS.values() for text in kind.values())]
    given = {*re.findall(r'"(\w+)"', sources), *(f"{name}_{way}" for name in ("flat", "least") for way in ("above", "below")), "run", "at", "lift", "subject", "detail"}
    assert {name for text in told for name in re.findall(r"\{(\w+)\}|(\w+)\?", text) for name in name if name} - OWN <= given | {"where", "rim"}
    cases = {case for code in FINDINGS.values() for case in code if case not in ("title", "titles", "said", *State)}
    assert all(f'"{case.removesuffix("-tight").removesuffix("-holds").removesuffix("-fails")}"' in sources for case in cases - {WAITS})


@pytest.mark.parametrize(("facts", "told"), [
    ({}, "It falls."), ({"more": 2}, "It falls, and 2 more."), ({"flat": True}, "It lies."), ({"more": None, "flat": False, "x": 1.5}, "It falls 1.5 times."),
    ({"low": 1.0}, "It falls."), ({"low": 1.0, "high": 2.0}, "It falls from 1 to 2."), ({"x": 0.0}, "It falls."),
])  # fmt: skip
def test_a_clause_is_said_only_where_its_facts_are_there(facts, told):
    template = parsed("It [flat?lies][!flat?falls][ {x} times][, and {more} more][ from {low} to {high}].")
    assert template.filled(lambda name: bool(facts.get(name)), lambda name: fact_words(facts[name], demo_job(), System.METRIC)) == told


@pytest.mark.parametrize(("fact", "imperial", "metric"), [
    (Amount(0.3048, DEPTH), "12.0 in", "305 mm"), (Named("r1"), "slab drain", "slab drain"), (("a", "b"), "a, b", "a, b"),
    (WaterDepth(0.254), "10.0 in below ground", "254 mm below ground"), (WaterDepth(-0.0254), "1.0 in over the ground", "25 mm over the ground"),
    ((Named("r1"), Named("r2"), Named("t3")), "slab drain, roof line and brook", "slab drain, roof line and brook"), (2.5, "2.5", "2.5"), (3, "3", "3"),
    (Times(10.44), "10 times", "10 times"), (Times(9.96), "10 times", "10 times"), (Times(1.26), "1.3 times", "1.3 times"), (Fall(0.1), "12 in in 10 ft", "300 mm in 3 m"),
    (Lasting(59.0, 1.0), "at once", "at once"), (Lasting(60.0, 1.0), "1 min", "1 min"), (Lasting(float("inf"), 72 * 3600.0), "more than 72 h", "more than 72 h"),
])  # fmt: skip
def test_facts_are_said_in_the_readers_units(fact, imperial, metric):
    assert (fact_words(fact, demo_job(), System.IMPERIAL), fact_words(fact, demo_job(), System.METRIC)) == (imperial, metric)


def test_a_sum_that_refuses_its_values_is_told_under_its_own_title():
    told = worded(Finding(State.UNKNOWN, "refused", code="soil-stone", facts={"why": "the curve bends back"}), demo_job())
    assert (told.title, told.reason) == ("Stone against soil", "Cannot be worked out: the curve bends back.")
    with pytest.raises(KeyError):  # a thing that is not there has no name
        fact_words(Named("t99"), demo_job(), System.METRIC)


def test_what_finds_makes_no_sentences():
    """Numbers are put into words in one room only."""
    assert not [path.name for path in (ROOM / "checks").glob("*.py") if "units.display import" in path.read_text(encoding="utf-8")]


def test_pictures_are_told_in_words(outcome):
    assert profile_words(outcome, "r1") == ("Slab drain, 172.0 ft long, falls 1.20 % from 97.11 ft to 95.05 ft; the trench is 0.0 in to 35.1 in deep; "
                                            "it crosses gas line at 50.0 ft.")  # fmt: skip
    assert section_words(outcome, "r1", 38.4).startswith("At 126.0 ft of slab drain: a trench 12 in wide; ") and "green side into green drain" in plan_words(outcome, "r1")
    court = assess(PATTERNS["court"].job())
    assert "lies level at 98.48 ft; the trench is 20.6 in deep" in profile_words(court, court.site.runs[1].id)


def test_many_names_are_cut_short_and_what_is_spoiled_at_many_runs_is_told_once():
    job = demo_job()
    names = tuple(Named(run.id) for run in job.runs) * 2
    assert [fact_words(names[:n], job, System.IMPERIAL) for n in (1, 2, 8)] == ["slab drain", "slab drain and roof line",
                                                                               "slab drain, roof line, green drain, green side, slab drain, roof line and 2 more"]  # fmt: skip
    assert fact_words(names[:7], job, System.IMPERIAL).endswith("and green drain")
    spoiled = [next(f for f in assess(job).findings if f.code == code) for code in ("slope", "slope", "cover")]
    assert spoiled_words(spoiled, job) == "slope (at 2 runs), cover over the pipe"
