"""The job file: round trip, faults with their paths, damage of every kind, kills during a save, recovery."""

from __future__ import annotations

import dataclasses
import json
import os
import random
import re
import signal
import subprocess
import sys
import textwrap
from pathlib import Path

import jsonschema
import pytest
from pydantic import TypeAdapter, ValidationError

from weirant.design.assess import assess
from weirant.errors import JobFileError
from weirant.formats import job_file
from weirant.formats.job_file import VERSION
from weirant.formats.published_schema import schema
from weirant.formats.recovery import Keeper, find_recoverable
from weirant.formats.strict_reader import reader_of
from weirant.job import Job
from weirant.job.paths import with_value
from weirant.job.work_terms import WorkTerms

SCHEMA = Path(__file__).parents[2] / "docs" / "job-file.schema.json"


@pytest.fixture
def text(job):
    return job_file.to_text(job)


def test_round_trip(job, tmp_path):
    job_file.save(job, tmp_path / "a.weirant")
    assert job_file.load(tmp_path / "a.weirant") == job


def test_a_file_of_the_version_before_has_the_usual_terms(job, text):
    document = json.loads(text)
    before = document | {"version": 16, "job": {key: value for key, value in document["job"].items() if key != "work"}}
    assert job_file.from_text(json.dumps(before)) == dataclasses.replace(job, work=WorkTerms())


def test_one_change_is_one_line_of_difference(job, text):
    other = job_file.to_text(with_value(job, "sections.s1.width", 0.4))
    assert sum(a != b for a, b in zip(text.splitlines(), other.splitlines(), strict=True)) == 1


def test_the_published_schema_is_the_programs_and_the_demo_follows_it(text):
    published = json.loads(SCHEMA.read_text(encoding="utf-8"))
    assert published == json.loads(json.dumps(schema()))
    jsonschema.validate(json.loads(text), published)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(json.loads(text.replace('"width": 0.3048', '"width": -1')), published)


def test_the_reader_finds_what_pydantic_finds(text):
    """The whole library, given the same classes, is the other opinion: lines of the demo's file with wrong values of each kind."""
    schema()  # hangs the settings on the classes
    other, lines = TypeAdapter(Job), text.splitlines()

    def told(read):
        try:
            return read()
        except ValidationError as fault:
            return {(error["type"], tuple(step for step in error["loc"] if step != "job")) for error in fault.errors(include_url=False)}

    values = [(number, *line.split(": ", 1)) for number, line in enumerate(lines[3:], 3) if ": " in line and line[-1] not in "[{"]
    for number, name, value in random.Random(1).sample(values, 120):
        for wrong in ('"x"', "1", "1.5", "1e999", "true", "null", "[]", '{"x": 1}', '[1, "a"]'):
            changed = "\n".join([*lines[:number], f"{name}: {wrong}{',' * value.endswith(',')}", *lines[number + 1 :]])
            theirs = told(lambda changed=changed: other.validate_json(json.dumps(json.loads(changed)["job"])))
            assert told(lambda changed=changed: reader_of(Job, is_early=False).validate_json(changed)["job"]) == theirs


@pytest.mark.parametrize(
    ("find", "put", "says"),
    [
        ('"width": 0.3048', '"width": -2', "job.sections[0].width: trench width must be more than 0"),
        ('"width": 0.3048', '"width": "wide"', "job.sections[0].width: must be a number"),
        ('"width": 0.3048', '"width": true', "job.sections[0].width: must be a number"),
        ('"width": 0.3048', '"wide": 1', "job.sections[0].wide: is not known here"),
        ('"bedding": 0.0508,', "", "job.sections[0]"),
        ('"width": 0.3048', '"width": NaN', "holds NaN"),
        ('"width": 0.3048', '"width": 1e999', "job.sections[0].width: must be a finite number"),
        ('"texture": "loam"', '"texture": "porridge"', "job.soils[0].layers[0].texture: 'porridge' is not in the library"),
        ('"pipe": "corrugated-100"', '"pipe": "lead"', "job.runs[0].stretches[0].pipe: 'lead' is not in the library"),
        ('"units": "imperial"', '"units": "cubits"', "job.units: units must be one of imperial, metric"),
        (f'"version": {VERSION}', f'"version": {VERSION + 1}', f"version {VERSION + 1}; this Weirant reads version {VERSION}. Update"),
        (f'"version": {VERSION}', '"version": "2"', "which version"),
        ('"weirant-job"', '"shopping-list"', "is not a Weirant job"),
        ('"name": "Clubhouse slab drain"', '"name": "a", "name": "b"', "'name' stands twice"),
        ('"job": {', '"jib": {', "is not known here"),
    ],
)
def test_damage_is_told_with_its_place(text, find, put, says):
    assert find in text
    broken = text.replace(find, put, 1)
    if find.startswith('"bedding'):
        assert job_file.from_text(broken).sections[0].bedding == 0.0508  # a missing field takes its default
        return
    with pytest.raises(JobFileError) as caught:
        job_file.from_text(broken)
    assert says in str(caught.value)


def test_all_faults_are_told_together(text):
    broken = text.replace('"width": 0.3048', '"width": "x"').replace('"slope": 0.012', '"slope": null')
    with pytest.raises(JobFileError) as caught:
        job_file.from_text(broken)
    assert {path for path, _ in caught.value.faults} == {"job.sections[0].width", "job.runs[0].slope"}


@pytest.mark.parametrize(
    ("content", "says"),
    [(b"\xff\xfe\x00", "not UTF-8 text"), (b"", "damaged at line 1"), (b"[]", "not a Weirant job"), (b"[" * 100_000, "damaged"),
     (b"9" * 5000, "damaged"), (b"{}", "is not a Weirant job")],
)  # fmt: skip
def test_files_that_are_no_jobs(tmp_path, content, says):
    path = tmp_path / "bad.weirant"
    path.write_bytes(content)
    with pytest.raises(JobFileError, match=says):
        job_file.load(path)


def test_missing_and_unwritable_places(job, tmp_path):
    with pytest.raises(JobFileError, match=r"nowhere\.weirant cannot be read: No such file"):
        job_file.load(tmp_path / "nowhere.weirant")
    with pytest.raises(JobFileError, match="cannot be written"):
        job_file.save(job, tmp_path / "no-folder" / "a.weirant")
    huge = tmp_path / "huge.weirant"
    with huge.open("wb") as sparse:
        sparse.truncate(job_file.LARGEST + 1)
    with pytest.raises(JobFileError, match="too large"):
        job_file.load(huge)


def damaged(text: str, chance: random.Random) -> bytes:
    """One to four wounds: cut off, bytes changed, pieces taken out, doubled or swapped, numbers blown up."""
    data = bytearray(text.encode())
    for _ in range(chance.randint(1, 4)):
        at, length = chance.randrange(len(data)), chance.randint(1, 40)
        wound = chance.randrange(7)
        if wound == 0:
            del data[at:]
        elif wound == 1:
            data[at] = chance.randrange(256)
        elif wound == 2:
            del data[at : at + length]
        elif wound == 3:
            data[at:at] = data[at : at + length]
        elif wound == 4:
            data[at:at] = chance.choice([b"1e308", b"-1", b"null", b"[", b"}", b'""', b"true", b"0.", b"NaN"])
        elif wound == 5:
            digits = [i for i, c in enumerate(data) if chr(c).isdigit()] or [0]
            data[chance.choice(digits)] = ord(chance.choice("0123456789e-."))
        else:
            lines = bytes(data).split(b"\n")
            chance.shuffle(lines)
            data = bytearray(b"\n".join(lines))
        if not data:
            data = bytearray(b" ")
    return bytes(data)


def test_two_thousand_damaged_files_open_or_are_refused(text, tmp_path):
    chance, opened, refused = random.Random(20261124), 0, 0
    path = tmp_path / "wounded.weirant"
    for _ in range(2000):
        path.write_bytes(damaged(text, chance))
        try:
            job = job_file.load(path)
        except JobFileError as fault:
            refused += 1
            assert "wounded" in str(fault) or "The file" in str(fault)
            assert "Traceback" not in str(fault)
        else:
            opened += 1
            assert assess(job).findings
    assert opened + refused == 2000 and opened > 50 and refused > 500


SAVER = """
    import dataclasses, sys
    from pathlib import Path
    from weirant.design.demo import demo_job
    from weirant.formats import job_file
    path, job = Path(sys.argv[1]), demo_job()
    print("ready", flush=True)
    for n in range(10**9):
        job_file.save(dataclasses.replace(job, name="x" * (n % 5000)), path)
"""


@pytest.mark.parametrize("delay", [0.0, 0.003, 0.011, 0.037, 0.09, 0.2])
def test_a_kill_during_a_save_leaves_a_whole_file(job, tmp_path, delay):
    path = tmp_path / "kept.weirant"
    job_file.save(job, path)
    source = Path(__file__).parents[2] / "src"
    process = subprocess.Popen([sys.executable, "-c", textwrap.dedent(SAVER), str(path)], stdout=subprocess.PIPE,
                               env={**os.environ, "PYTHONPATH": str(source)})  # fmt: skip
    assert process.stdout is not None
    process.stdout.readline()
    try:
        process.wait(timeout=delay)
    except subprocess.TimeoutExpired:
        pass
    process.send_signal(signal.SIGKILL)
    process.wait()
    process.stdout.close()
    assert job_file.load(path).soils == job.soils
    backup = path.with_name(path.name + "~")
    assert not backup.exists() or job_file.load(backup).soils == job.soils


def test_the_file_before_is_kept_as_backup(job, tmp_path):
    path = tmp_path / "a.weirant"
    job_file.save(job, path)
    job_file.save(dataclasses.replace(job, name="second"), path)
    assert job_file.load(tmp_path / "a.weirant~").name == job.name


def many(piece: str, count: int) -> str:
    return ", ".join(piece.replace("#", str(n)) for n in range(count))


@pytest.mark.parametrize(("job", "says"), [
    ('{"k1": 2, ' + many('"k#": 1', 150) + "}", "'k1' stands twice"), ("{" + many('"k#": 1', 10**6) + "}", "1,000,000 fields stand in one place"),
    ('{"features": [' + many("{}", 10**6) + "]}", "kind: is missing"), ('{"features": [' + many("[" * 9 + "]" * 9, 10**5) + "]}", "features[0]: must be a group of fields"),
    ('{"line": {}, "soil": {"layers": [' + many('{"texture": 1}', 300_000) + "]}}", "layers[0].texture: must be text"),
])  # fmt: skip
def test_ten_megabytes_of_nonsense_are_refused_at_once_in_a_few_lines(job, says):
    """Each took minutes or gigabytes: growth is what is tested, by limits of the process, not by a clock."""
    script = """
        import resource, sys
        resource.setrlimit(resource.RLIMIT_AS, (2**30, 2**30)); resource.setrlimit(resource.RLIMIT_CPU, (30, 30))
        from weirant.formats import job_file
        try: job_file.from_text('{"format": "weirant-job", "version": 4, "job": ' + sys.stdin.read() + "}")
        except job_file.JobFileError as fault: print(fault)
    """
    source = Path(__file__).parents[2] / "src"
    places = {**os.environ, "PYTHONPATH": str(source), "OPENBLAS_NUM_THREADS": "1"}
    done = subprocess.run([sys.executable, "-c", textwrap.dedent(script)], input=job, capture_output=True, text=True, check=False, env=places)
    assert done.returncode == 0 and says in done.stdout and len(done.stdout) < 3000, done.stderr[-300:]


def test_many_faults_are_counted_and_the_first_told(text):
    broken = text.replace('"x": ', '"x": "a", "q": ')
    with pytest.raises(JobFileError) as caught:
        job_file.from_text(broken)
    assert str(caught.value).count("\n") == 31 and str(caught.value).endswith(f"and {len(caught.value.faults) - 30:,} more")


def test_work_of_a_crash_is_found_and_work_in_hand_is_not(job, tmp_path):
    keeper = Keeper(tmp_path)
    keeper.keep(job, Path("/somewhere/club.weirant"), keeper.turn)
    assert find_recoverable(tmp_path) == []
    keeper.release()  # as the death of the process would
    (left,) = find_recoverable(tmp_path)
    assert left.load() == job and left.original == Path("/somewhere/club.weirant")
    assert {p.stat().st_mode & 0o077 for p in tmp_path.iterdir()} <= {0o044, 0} and left.copy.stat().st_mode & 0o077 == 0
    left.discard()
    assert find_recoverable(tmp_path) == [] and list(tmp_path.iterdir()) == []


def test_the_newest_work_is_told_by_its_content_not_by_the_clock_and_leftovers_are_swept(job, tmp_path):
    for name in ("first", "second", "third"):
        keeper = Keeper(tmp_path)
        keeper.keep(dataclasses.replace(job, name=name), None, keeper.turn, "digest")
        keeper.release()
        os.utime(find_recoverable(tmp_path)[0].copy, (1e9 - len(name), 1e9 - len(name)))  # a clock set back each time
    alive = Keeper(tmp_path)
    alive.keep(job, None, alive.turn)
    for leftover in ("a.lock", "b.json", ".weirant-0123.part"):
        (tmp_path / leftover).write_text("{")
    found = find_recoverable(tmp_path)
    assert [left.load().name for left in found] == ["third", "second", "first"]
    assert found[0].digest == "digest" and re.fullmatch(r"\d{4}-\d\d-\d\d \d\d:\d\d", found[0].kept)
    assert not any((tmp_path / leftover).exists() for leftover in ("a.lock", "b.json", ".weirant-0123.part")) and len(list(tmp_path.iterdir())) == 12


def test_a_keeper_that_cannot_write_says_so(job, tmp_path):
    (tmp_path / "file").write_text("in the way")
    with pytest.raises(JobFileError, match="safety copy cannot be kept"):
        Keeper(tmp_path / "file" / "x").keep(job, None, 0)


def test_a_copy_that_comes_too_late_is_not_written(job, tmp_path):
    keeper = Keeper(tmp_path)
    turn = keeper.turn
    keeper.drop()  # saved while the copy was still on its way
    keeper.keep(job, None, turn)
    assert list(tmp_path.iterdir()) == []
