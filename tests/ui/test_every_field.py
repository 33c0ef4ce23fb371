"""Every field that a step asks for: changed, undone, done again, saved and read back, and typed again as it is shown."""

from __future__ import annotations

import math
import re
from functools import reduce

import pytest

from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.errors import InputError
from weirant.formats import job_file
from weirant.job.faults import faults
from weirant.job.network import DRY_WELL, MAIN, PUMPED_ON
from weirant.job.paths import field_at, label_at, value_at, with_value
from weirant.ui.document import Document
from weirant.ui.steps.catalogue import STEPS
from weirant.units import parse
from weirant.units.display import SHARE, SLOPE, System, shown, unit_of
from weirant.words.findings import as_told, offered

JOB = reduce(lambda job, of: with_value(job, f"nodes.{of[0]}.outlet.kind", of[1]), (("n1", PUMPED_ON), ("n4", MAIN), ("n7", DRY_WELL)), demo_job())  # each with what it has
HOLE = ("holes.0.x", "holes.0.y", "holes.0.water_depth", "holes.0.hard_depth", "holes.0.tests.0.radius", "holes.0.tests.0.depth", "holes.0.tests.0.water",
        "holes.0.tests.0.on_hard_layer")
SOIL = ("soils.g1.layers.0.thickness",)
OWNERS = {"run": "runs.r1", "soil": "soils.g1", "kept": "features.t10", "outlet": "nodes.n1.outlet", "pit": "nodes.n1.basin", "section": "sections.s1", "layer": "soils.g1.layers.1"}
OF = {"main": "nodes.n4.outlet", "soaks": "nodes.n7.outlet"}
SHAPED = ("run.joins", "stretch.section", "sources", "thing", "best grade", "filter years", "soil.choice", "soil.where", "soil.count",
          "soil.layers", "soil.sieve", "layer.choice", "layer.more")  # more than one field
FIELDS = [".".join([OF.get((*rest, "")[0]) or OWNERS.get(owner, owner), *rest]) for step in STEPS for owner, *rest in (path.split(".") for page in step.pages for path in page.fields
          if not path.startswith("# ") and path not in SHAPED)]
PATHS = [*dict.fromkeys([*FIELDS, *HOLE, *SOIL])]


def others(path):
    """Values a little and much away from the present one, as far as the field may take them."""
    field, now = field_at(JOB, path), value_at(JOB, path)
    if "words" in field.metadata:
        return [word for word in field.metadata["words"] if word != now]
    if isinstance(now, bool):
        return [not now]
    if isinstance(now, int):
        return [now + 1]
    if path.endswith(".place"):
        return ["", "t2"]
    if path.endswith(".leads"):
        return ["n6", "n1", "nowhere"]
    if isinstance(now, str):
        return [f"{now} east", "Ünder the Übergang"] if not path.startswith("survey.staff") else []
    spec = field.metadata.get("spec")
    if spec is None:
        return []
    found = [None] if "None" in str(field.type) else []
    for value in ((now or 0.0) * 1.05 + 0.01, (now or 1.0) * 0.9, (now or 0.0) + 1e-4, spec.at_least, spec.at_most):
        try:
            if value is not None:
                spec.check(value)
                found.append(value)
        except InputError:
            continue
    return [v for v in found if v != now]


@pytest.mark.parametrize("path", PATHS)
def test_a_field_is_changed_undone_done_again_and_kept_in_the_file(qtbot, tmp_path, path):
    document, said = Document(), []
    document.open(JOB, None)
    document.refused.connect(said.append)
    for value in others(path):
        before, heard = document.job, len(said)
        if not document.set_value(path, value):
            assert document.job == before and len(said) == heard + 1  # refused with a reason, and nothing has changed
            continue
        if document.job == before:
            continue
        after = document.job
        assert value_at(after, path) == (value if path != "runs.r1.distance" else pytest.approx(value)) and not faults(after)
        assert label_at(after, path) in document.stack.undoText()
        job_file.save(after, tmp_path / "job.weirant")
        assert job_file.load(tmp_path / "job.weirant") == after
        document.stack.undo()
        assert document.job == before
        document.stack.redo()
        assert document.job == after
        document.stack.undo()


@pytest.mark.parametrize("system", list(System))
def test_what_is_shown_can_be_typed_again(system):
    """Within what the display rounds off; a bare number is in the unit shown."""
    for path in PATHS:
        spec, value = field_at(JOB, path).metadata.get("spec"), value_at(JOB, path)
        if spec is None or value is None:
            continue
        text = shown(value, spec.kind, system).replace(",", "\u00a0")  # as an entry shows it
        unit = "%" if spec.kind in (SLOPE, SHARE) else unit_of(spec.kind, system) or None
        again = parse(text, spec.kind.dimension, path, unit)
        assert shown(again, spec.kind, system).replace(",", "\u00a0") == text, path
        assert again == pytest.approx(value, rel=0.05, abs=0.004), (path, text)


@pytest.mark.parametrize("text", ["", "abc", "1e999", "nan", "-1e9 ft", "3 gal ft", "12''3", "½½", "١٢", "1,2,3", "0x10", "--5", "5 5 5", "∞"])
def test_what_cannot_be_is_refused_in_words_that_name_the_field(text):
    for path in PATHS:
        spec = field_at(JOB, path).metadata.get("spec")
        if spec is None or not text:
            continue
        try:
            value = parse(text, spec.kind.dimension, spec.label, unit_of(spec.kind, System.IMPERIAL) or None)
            spec.check(value)
            changed = with_value(JOB, path, value)
        except InputError as fault:
            assert spec.label in str(fault) and "Traceback" not in str(fault), path
        else:
            found = assess(changed)
            assert all(f.value is None or math.isfinite(f.value) for f in found.findings), path
            assert not [words for words in (as_told(f, changed) for f in found.told) if not words.reason or re.search(r"[{}\[\]]|nan\b|None", words.title + words.reason)], path


def test_every_fix_that_is_offered_leads_to_a_whole_job():
    """Of the demo and of jobs with something wrong in each part."""
    wrong = [("runs.r1.invert", 28.7), ("runs.r1.slope", 0.001), ("features.t10.dry_depth", 0.9), ("runs.r1.distance", 0.5), ("sections.s1.width", 0.16), ("sections.s1.wrap", "none"),
             ("limits.blocked", 0.99), ("sources.w1.node", "n3"), ("runs.r1.solid_length", 40.0), ("runs.r1.pipes", 2), ("soils.g1.hard_layer_depth", None)]
    seen = 0
    for job in [JOB, *(with_value(JOB, path, value) for path, value in wrong)]:
        if faults(job):
            continue
        for finding in assess(job).findings:
            for fix in finding.fixes:
                seen += 1
                assert not faults(fix.made(job)), (finding.code, fix.code)
                after = {(f.code, f.subject): f for f in assess(fix.made(job)).findings}.get((finding.code, finding.subject))
                assert not offered(fix, job).name[:1].islower() and fix.made(job) != job
                if after is not None and after.state.rank <= finding.state.rank:  # where one fix is not enough it must at least go the right way
                    assert after.state == finding.state and after.margin is not None and after.margin > finding.margin, (finding.code, fix.code)
                assert job_file.from_text(job_file.to_text(fix.made(job))) == fix.made(job)
    assert seen > 12
