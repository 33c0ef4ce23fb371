"""Every field of a job at both ends of what it may be: worked out and drawn, or refused in words. And things with too few corners."""

from __future__ import annotations

import dataclasses

import pytest

from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.first_job import BEGINNINGS, Answers, first_job
from weirant.drawing.plan import plan_drawing
from weirant.drawing.profile import profile_drawing
from weirant.drawing.section import section_drawing
from weirant.errors import WeirantError
from weirant.job.faults import faults
from weirant.job.paths import value_at, with_value
from weirant.job.site import KINDS, Feature, Spot, lacking_corners
from weirant.words.findings import worded


def fields_of(thing, path=""):
    for field in dataclasses.fields(thing):
        value, here = getattr(thing, field.name), f"{path}{field.name}"
        if "spec" in field.metadata:
            yield here, field.metadata["spec"]
        elif dataclasses.is_dataclass(value):
            yield from fields_of(value, f"{here}.")
        elif isinstance(value, tuple) and value and dataclasses.is_dataclass(value[-1]):
            yield from fields_of(value[0], f"{here}.0.")


def worked_out_and_drawn(job):
    outcome = assess(job)
    assert outcome.findings and all(worded(f, outcome.job).reason for f in outcome.findings)
    for draw in (plan_drawing, section_drawing):
        assert draw(outcome, min(3.0, outcome.chosen().run.length)).shapes
    profile_drawing(outcome)


@pytest.mark.parametrize("path", [path for path, _ in fields_of(demo_job())])
def test_a_field_at_both_its_ends(path):
    job, spec = demo_job(), dict(fields_of(demo_job()))[path]
    low = spec.at_least if spec.at_least is not None else spec.above
    for value in filter(lambda v: v is not None, (low, spec.at_most)):
        changed = dataclasses.replace(with_value(job, path, float(value)), assumed=())
        if not faults(changed):
            try:
                worked_out_and_drawn(changed)
            except WeirantError as fault:
                assert str(fault)
    if low is not None:  # just outside it is refused
        found = [words for at, words in faults(_forced(job, path, low - max(1e-9, abs(low) * 1e-6))) if spec.label in words]
        assert found, path


def _forced(thing, path, value):
    head, _, rest = path.partition(".")
    if isinstance(thing, tuple):
        return (*thing[: int(head)], _forced(thing[int(head)], rest, value), *thing[int(head) + 1 :])
    return dataclasses.replace(thing, **{head: _forced(value_at(thing, head), rest, value) if rest else value})


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("count", [1, 2, 3])
def test_a_thing_of_any_kind_with_any_number_of_corners_can_be_looked_at(kind, count):
    corners = tuple(Spot(5.0 * n, 4.0 * n * n) for n in range(count))
    job = demo_job()
    worked_out_and_drawn(dataclasses.replace(job, features=(*job.features, Feature("t99", kind, "odd", corners))))
    assert bool(lacking_corners(kind, corners)) == (count < {"tree": 1, "outlet": 1}.get(kind, 3 if kind in ("building", "slab", "lawn", "woodland", "wet area", "boundary") else 2))


def test_what_no_job_can_keep_is_named():
    job = demo_job()
    thing = Feature("t99", "walk", "half \ud83d", (Spot(0.0, 0.0), Spot(1.0, 1.0)))
    assert ("features[0].name", "text holds half a character, which no file can keep; write it anew") in faults(dataclasses.replace(job, features=(thing,)))
    assert any("has no place" in words for _, words in faults(dataclasses.replace(job, features=(Feature("t99", "walk", "gone", ()),))))
    assert faults(dataclasses.replace(job, name="x" * 10_001)) and not faults(dataclasses.replace(job, name="x" * 10_000))
    many = dataclasses.replace(job, holes=tuple(dataclasses.replace(job.holes[0], id=f"h{n}", name=f"h{n}") for n in range(501)))
    assert "test holes must be 500 at most: 501" in dict(faults(many))["holes"] and not faults(dataclasses.replace(many, holes=many.holes[:500]))


@pytest.mark.parametrize("beginning", BEGINNINGS)
def test_levels_that_nobody_shot_are_marked_until_they_are(beginning):
    job = first_job(beginning, Answers("silt-loam", 18.0, 24.0, 2.4, 5.5, "imperial"))
    assert len(job.survey.shots) > 3 and not job.survey.is_shot and all(s.is_assumed for s in job.survey.shots)
    assert any(f.code == "surveyed" and f.state == "unknown" for f in assess(job).findings)
    assert not any(f.code == "surveyed" for f in assess(demo_job()).findings) and demo_job().survey.is_shot
