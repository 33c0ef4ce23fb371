"""The plan of the work: what waits for what, a crew and its machines, odds with rain, and a calendar there and back."""

from __future__ import annotations

import dataclasses
import datetime
import json
from itertools import islice

import networkx
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from icalendar import Calendar

from weirant.cli.main import main
from weirant.design.assess import assess
from weirant.design.bill import bill_of
from weirant.design.demo import demo_job
from weirant.design.hired import hired_for
from weirant.design.own_rates import measured_rates, rates_of_jobs, with_took
from weirant.design.patterns import PATTERNS, pattern
from weirant.design.plan_terms import days_off, rain_typed, rainy_shares
from weirant.design.schedule import critical_path, days_with_rain, plan_of, rainy, slots_of, working_days
from weirant.design.upkeep import upkeep_of
from weirant.design.work import tasks_of
from weirant.errors import InputError, JobFileError
from weirant.formats import job_file
from weirant.formats.plan_ics import dates_of, plan_ics
from weirant.formats.price_list import read_price_list
from weirant.job.faults import faults
from weirant.job.paths import with_value
from weirant.job.section import IN_SOIL
from weirant.job.work_terms import Took, WorkTerms
from weirant.outcome.plan import COMES, WORKS, PlannedTask
from weirant.words.machines import fit_words
from weirant.words.plan import moved_words
from weirant.words.season import season_words

MONDAY = datetime.date(2026, 11, 30)
OUTCOMES = {key: assess(pattern(key).job()) for key in PATTERNS} | {"demo": assess(demo_job())}
TASKS = st.lists(st.tuples(st.floats(0.1, 9), st.integers(1, 3), st.sampled_from(["", "excavator"]), st.sets(st.integers(0, 11), max_size=3)), min_size=1, max_size=12)


def planned(outcome, start=MONDAY, rates=None, **terms):
    """The plan of an outcome with other terms."""
    job = outcome.job
    work = dataclasses.replace(job.work, start=start.isoformat(), **terms)
    return plan_of(dataclasses.replace(outcome, job=dataclasses.replace(job, work=work)), rates)


def made(drawn):
    """Tasks that wait for earlier ones alone."""
    return [PlannedTask(str(n), str(n), WORKS, hours=hours, people=people, machine=machine, after=tuple(str(b) for b in sorted(before) if b < n))
            for n, (hours, people, machine, before) in enumerate(drawn)]  # fmt: skip


def test_the_critical_path_is_that_of_a_textbook_network():
    """Activities A to H of a common exercise (recalled): A-C-E-G-H, 3 + 4 + 5 + 2 + 1 = 15."""
    lengths = {"A": (3, ""), "B": (2, ""), "C": (4, "A"), "D": (4, "B"), "E": (5, "C"), "F": (1, "C"), "G": (2, "DE"), "H": (1, "FG")}
    path, length = critical_path([PlannedTask(key, key, WORKS, hours=hours, people=1, after=tuple(before)) for key, (hours, before) in lengths.items()])
    assert ("".join(path), length) == ("ACEGH", 15)
    with pytest.raises(InputError, match="circle"):
        critical_path([PlannedTask("a", "a", WORKS, hours=1, after=("b",)), PlannedTask("b", "b", WORKS, hours=1, after=("a",))])


@settings(max_examples=60)
@given(drawn=TASKS)
def test_it_is_as_long_as_networkx_has_it_and_the_slots_keep_order_people_and_machine(drawn):
    tasks = made(drawn)
    graph = networkx.DiGraph()
    for task in tasks:  # each edge as long as the task it comes from
        graph.add_edge(task.id, "end", weight=task.hours)
        graph.add_weighted_edges_from((before, task.id, next(t.hours for t in tasks if t.id == before)) for before in task.after)
    _, length = critical_path(tasks)
    assert length == pytest.approx(networkx.dag_longest_path_length(graph, weight="weight"))
    for people in (3, 4):
        slots = slots_of(tasks, people)
        assert max(s.ends for s in slots.values()) >= length - 1e-9
        for task in tasks:
            assert all(slots[before].ends <= slots[task.id].begins + 1e-9 for before in task.after)
        for at in (s.begins + 1e-6 for s in slots.values()):
            now = [t for t in tasks if slots[t.id].begins <= at < slots[t.id].ends]
            assert sum(t.people for t in now) <= people and sum(t.machine == "excavator" for t in now) <= 1


@pytest.mark.parametrize("key", sorted(OUTCOMES))
def test_every_run_is_dug_after_what_takes_its_water_and_after_all_that_is_asked(key):
    outcome = OUTCOMES[key]
    plan = planned(outcome)
    digs = {task.run: plan.slots[task.id] for task in plan.tasks if task.id.startswith("dig")}
    asked = [plan.slots[key].ends for key in ("locate", "private", "permit") if key in plan.slots]
    for run in outcome.site.network.runs:
        if run.id in digs:
            assert digs[run.id].begins >= max(asked, default=0.0) - 1e-9
            assert all(digs[other.id].ends <= digs[run.id].begins + 1e-9 for other, _ in outcome.site.network.drains_to(run) if other.id in digs)
    steps = ["sod", "expose", "dig", "lay", "test", "close", "turf"]
    for run in digs:
        own = [task.id.split()[0] for task in plan.tasks if task.run == run]
        assert own == [step for step in steps if step in own]
    brought = [task for task in plan.tasks if task.kind == COMES]
    assert all(0 <= min(plan.slots[t.id].begins for t in plan.tasks if b.id in t.after) - plan.slots[b.id].ends <= 16 for b in brought)
    hours = sum(task.hours for task in plan.tasks if task.kind == WORKS)
    assert plan.dry_days * 8 * 2 >= hours * 0.4 and set(plan.critical) <= set(plan.slots)


def test_more_people_are_never_slower_and_what_is_unasked_costs_days():
    outcome = OUTCOMES["ring"]
    ends = [max(s.ends for s in planned(outcome, people=n).slots.values()) for n in (1, 2, 4, 8)]
    assert all(a >= b - 1e-9 for a, b in zip(ends, ends[1:], strict=False)) and ends[0] > ends[-1]
    asked = assess(with_value(demo_job(), "permissions.public_lines_marked", None))
    assert planned(asked).dates["dig r1"][0] - planned(OUTCOMES["demo"]).dates["dig r1"][0] == datetime.timedelta(days=2)
    for field, wrong in (("people", 0), ("people", 41), ("rain", (0.95,)), ("rain", (-0.1,)), ("rain", ()), ("rain", (0.1,) * 11), ("start", "soon"),
                         ("start", "2026-02-30"), ("days_off", ("2026-12-24/2026-12-20",)), ("days_off", ("2026-01-01/2028-01-01",)), ("days_off", ("",))):
        assert [path.split(".")[0] for path, _ in faults(with_value(demo_job(), f"work.{field}", wrong))] == ["work"]


@pytest.mark.parametrize("share", [0.0, 0.1, 0.25, 0.5, 0.8])
def test_so_many_of_the_days_are_rainy_and_the_odds_grow_with_them(share):
    wet = rainy([share] * 400)
    assert wet.mean() == pytest.approx(share, abs=0.02)
    if 0 < share < 0.6:  # a wet day after a wet one six times in ten
        assert wet[:, 1:][wet[:, :-1]].mean() == pytest.approx(0.6, abs=0.02)
    told = days_with_rain(10, lambda _: share, share)
    assert 10 <= told[5] <= told[8] <= told[9] and (told[9] == 10) == (share == 0)
    assert told[5] == pytest.approx(10 / (1 - share), rel=0.25)
    assert np.all(np.diff([days_with_rain(n, lambda _: share, share)[8] for n in (1, 3, 6, 12)]) > 0)


@pytest.mark.parametrize(("start", "latitude", "told"), [
    ("2026-01-12", None, ["Frost", "Months"]), ("2026-01-12", 48.0, ["Frost"]), ("2026-01-12", -38.0, ["Heat"]), ("2026-07-13", 48.0, ["Heat"]), ("2026-07-13", -38.0, ["Frost"]),
    ("2026-04-13", 48.0, []), ("2026-04-13", None, []), ("2026-04-13", 3.0, ["Heat"]), ("2026-05-11", -38.0, ["Frost"]), ("2026-04-13", -38.0, []),
    ("2026-10-29", 48.0, ["Frost"])])  # fmt: skip
def test_months_ask_for_their_cautions_by_the_half_of_the_earth(start, latitude, told):
    words = season_words(planned(OUTCOMES["demo"], datetime.date.fromisoformat(start)), latitude)
    assert len(words) == len(told) and all(said.startswith(begins) for said, begins in zip(words, told, strict=True))


def test_the_crew_own_rates_stand_in_the_place_of_the_usual_ones():
    hours = [{t.id: t.hours for t in planned(OUTCOMES["demo"], rates=own).tasks} for own in (None, {"dig-excavator": 2.0})]
    assert {key for key in hours[0] if hours[0][key] != hours[1][key]} == {f"dig {run}" for run in ("r1", "r2", "r3", "r4")} & set(hours[0])
    assert hours[1]["dig r2"] == pytest.approx(3 * hours[0]["dig r2"], rel=1e-9) and hours[1]["dig r1"] < 3 * hours[0]["dig r1"]  # some of it lies in the hard layer


def test_a_run_that_is_ploughed_in_waits_for_its_pipe_and_is_laid_as_it_goes():
    job = demo_job()
    bare = assess(dataclasses.replace(job, sections=tuple(dataclasses.replace(s, wrap=IN_SOIL) for s in job.sections), work=dataclasses.replace(job.work, method="plough")))
    plan = planned(bare)
    own = [task for task in plan.tasks if task.run == "r1"]
    assert [task.id.split()[0] for task in own] == ["expose", "dig", "test"] and own[1].name.startswith("Plough the pipe") and own[1].machine == "plough"
    assert "expose each crossing" in fit_words(bare, ())[-1]
    mixed = planned(assess(with_value(job, "work.method", "plough")))  # its solid end ploughed in, the rest dug
    dug = next(task for task in mixed.tasks if task.id == "dig r1")
    assert dug.name.startswith("Dig slab drain") and dug.machine == "excavator" and "bring-pipe" in dug.after
    assert plan.slots["bring-pipe"].ends <= plan.slots["dig r1"].begins and plan.dry_days < planned(OUTCOMES["demo"]).dry_days


def test_hours_that_work_took_become_the_rates_of_the_next_job(tmp_path, capsys):
    job = with_took(with_took(demo_job(), "dig-excavator", 30.0), "spoon", 4.0)
    rates = measured_rates(assess(job))
    assert set(rates) == {"dig-excavator"} and rates_of_jobs([rates, {"dig-excavator": 99.0}, {"dig-excavator": 0.1}])["dig-excavator"] == rates["dig-excavator"]
    dug = [sum(t.hours for t in planned(OUTCOMES["demo"], rates=own).tasks if t.id.startswith("dig")) for own in (None, rates)]
    hard = sum(task.hours for task in tasks_of(bill_of(OUTCOMES["demo"])) if task.rate.key == "hard-excavator")
    assert dug[1] == pytest.approx(30.0 + hard) and dug[0] < dug[1]
    job_file.save(job, tmp_path / "last.weirant")
    for like in (["--like", str(tmp_path / "last.weirant")], []):
        assert main(["schedule", "demo", "--start", "2026-11-30", "--json", *like]) == 0
        hours = sum(t["hours"] for t in json.loads(capsys.readouterr().out)["tasks"] if t["id"].startswith("dig"))
        assert hours == pytest.approx(dug[1] if like else dug[0])
    assert main(["quote", "demo", "--prices", "larkmead", "--like", "demo"]) == 2 and "says not how long" in capsys.readouterr().err
    far = with_value(with_took(job, "spread", 6.0), "work.haul", 91.44)  # what was brought three times as far is told as over 100 ft, and comes out as it was
    assert sum(t.hours for t in tasks_of(bill_of(assess(far)), haul=91.44, own=measured_rates(assess(far))) if t.rate.key == "spread") == pytest.approx(6.0)
    assert measured_rates(assess(far))["spread"] == pytest.approx(1.5 * measured_rates(assess(with_value(far, "work.haul", None)))["spread"])
    twice = with_value(job, "work.took", job.work.took * 2)
    assert [path for path, _ in faults(twice)] == ["work"] and with_took(job, "dig-excavator", None).work.took == (Took("spoon", 4.0),)


def test_working_days_leave_weekends_and_days_off_out_and_rain_is_that_of_the_month():
    terms = WorkTerms(start="2026-12-05", days_off=days_off("2026-12-24 to 2027-01-03; 2027-01-06", "off"))  # a Saturday
    days = list(islice(working_days(terms), 30))
    assert days[:2] == [datetime.date(2026, 12, 7), datetime.date(2026, 12, 8)] and all(d.weekday() < 5 for d in days) and days == sorted(set(days))
    assert [d.isoformat() for d in days[12:16]] == ["2026-12-23", "2027-01-04", "2027-01-05", "2027-01-07"]
    dry, wet = ((0.0,) * 11 + (0.6,), (0.6,) + (0.0,) * 11)  # December, January
    december = datetime.date(2026, 12, 7)
    demo = OUTCOMES["demo"]
    assert planned(demo, december, rain=dry).within[8] > planned(demo, december, rain=(0.0,)).within[8] == planned(demo, MONDAY.replace(month=6), rain=wet).within[8]
    assert rainy_shares("3.1 2 3 3 3 3 3 3 3 3 3 3.1", "rain")[::11] == (0.1, 0.1) and rainy_shares(rain_typed((0.25,)), "rain") == (0.25,)
    for words in ("2026-12-24 to", "to 2027-01-04", "tomorrow", "2026-13-01", "2027-01-04 to 2026-12-24"):
        with pytest.raises(InputError):
            days_off(words, "off")
    for words in ("1 2 3", "40 " + "1 " * 11, "nan " * 12, "96 %", ""):
        with pytest.raises(InputError):
            rainy_shares(words, "rain", "%")


def test_a_calendar_is_read_by_others_and_what_was_moved_in_it_comes_back():
    job = with_value(demo_job(), "name", "Green; no, \\the other\nBEGIN:VEVENT")
    plan = planned(OUTCOMES["demo"])
    data = plan_ics(job, plan, upkeep_of(OUTCOMES["demo"]))
    events = {str(e["uid"]): e for e in Calendar.from_ical(data).walk("VEVENT")}
    assert len(events) == len(plan.tasks) + len(upkeep_of(OUTCOMES["demo"]))
    alarmed = [str(e["summary"]) for e in events.values() if e.walk("VALARM")]
    assert any("private lines" in words for words in alarmed) and any("first good rain" in words for words in alarmed) and not any(words.startswith("Dig") for words in alarmed)
    assert sum("RRULE" in e for e in events.values()) == len(upkeep_of(OUTCOMES["demo"])) > 0
    assert {key: dates_of(data, job, "x")[key] for key in plan.dates} == {key: first for key, (first, _) in plan.dates.items()}
    assert moved_words(plan, dates_of(data, job, "x")) == ([], False)
    dig = next(e for e in events.values() if str(e["summary"]).startswith("Dig slab drain"))
    dig["DTSTART"].dt = MONDAY
    told, wrong = moved_words(plan, {**dates_of(data, job, "x"), "dig r1": MONDAY})
    assert wrong and len(told) == 1 and "it waits for: Expose" in told[0]
    for bad, why in ((b"BEGIN:VCALENDAR\nnothing", "x is no calendar|no task"), (b"\xff\xfe", "no calendar|no task"), (b"BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n", "no task")):
        with pytest.raises(JobFileError, match=why):
            dates_of(bad, job, "x")


def test_the_command_plans_writes_and_tells_what_was_moved(tmp_path, capsys):
    assert main(["schedule", "demo", "--start", "2026-11-30", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["tasks"][0]["first_day"] == "2026-11-30" and set(told["within"]) == {"5", "8", "9"}
    path = tmp_path / "w.ics"
    assert main(["schedule", "demo", "--start", "2026-11-30", "-o", str(path)]) == 0
    path.write_bytes(path.read_bytes().replace(b"DTSTART;VALUE=DATE:20261202", b"DTSTART;VALUE=DATE:20261109", 1))
    assert main(["schedule", "demo", "--start", "2026-11-30", "--moved", str(path)]) == 1 and "from Wed 2026-12-02 to Mon 2026-11-09" in capsys.readouterr().out
    assert main(["schedule", "demo", "--start", "2026-11-30"]) == 0 and "8 of 10 times within" in capsys.readouterr().out
    for wrong in (["--start", "2026-02-30"], ["--start", "9999-12-30"], ["--crew", "0"], ["--crew", "9" * 5000], ["--crew", "many"], ["--rain", "100 %"], ["--method", "spoon"],
                  ["--off", "soon"], ["--gate", "1 in"],
                  ["--moved", str(tmp_path / "none.ics")]):
        assert main(["schedule", "demo", *wrong]) == 2


@pytest.mark.parametrize("each", ["0.5", "99"])
def test_what_is_hired_takes_none_of_the_crew_and_none_of_its_machines(each):
    """The excavator dug for a price by others: no hours of its own in the plan, and the crew's two people lay pipe meanwhile; too dear, nobody is hired."""
    outcome = assess(demo_job())
    prices = read_price_list(f"item,per,price\ncrew,h,40\nexcavator,h,60\nloader,h,50\nhired dig-excavator,m3,{each}\nhired hard-excavator,m3,{each}\n", "x")
    hired = hired_for(outcome, prices)
    plan, before = plan_of(outcome, prices.rates, hired), plan_of(outcome)
    digs = [task for task in plan.tasks if task.id.startswith("dig")]
    assert hired == ({"dig-excavator", "hard-excavator"} if each == "0.5" else set())
    assert {(task.people, task.machine, task.name.endswith("(hired)")) for task in digs} == ({(0, "", True)} if hired else {(1, "excavator", False)})
    assert [t.hours for t in digs] == [t.hours for t in before.tasks if t.id.startswith("dig")] and plan.dry_days <= before.dry_days
