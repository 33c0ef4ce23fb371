"""Texts in another language: complete, with its numbers, its words typed, and numbers that hold together where it runs from right to left."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

from weirant.errors import InputError
from weirant.language import TONGUES, choice, use
from weirant.language.numbers import without_isolates

ROOT = Path(__file__).parents[1]
sys.path.append(str(ROOT / "tools"))
HERE = Path(__file__).parent


@pytest.fixture
def speak():
    """A language for a test, of what is looked up while it runs."""
    from weirant.language import here

    before = here()
    yield lambda code: use(TONGUES[code])
    use(before)


def python(*arguments, **environment):
    return subprocess.run([sys.executable, *arguments], capture_output=True, text=True, check=False, timeout=240,
                          env={**os.environ, "PYTHONPATH": f"{ROOT / 'src'}:{HERE}", "QT_QPA_PLATFORM": "offscreen", **environment})  # fmt: skip


def test_german_is_complete_packed_and_asks_for_no_value_that_is_not_there():
    import messages

    german, today = messages.translated(messages.CATALOGUES / "de.po"), messages.collected()
    assert messages.faults(german, today) == [] and len(today) > 2500
    assert (messages.CATALOGUES / "de.mo").read_bytes() == messages.packed(german)
    german.get("Why?").string = ""
    german.get("dry to {depth}").string = "trocken bis {tiefe}"
    assert [fault.split(":")[0] for fault in messages.faults(german, today)] == ["gaps differ", "not translated"]


def test_clauses_of_findings_ask_for_the_same_facts_in_every_language():
    """[fact? text] and {fact}: one that is misspelt would be left out in silence, or end the telling."""
    import messages

    asked = re.compile(r"\[!?(\w+)\?|\{(\w+)[:}]")
    for message in messages.translated(messages.CATALOGUES / "de.po"):
        if message.id and any("words/" in place for place, _ in message.locations):
            texts = [message.id, message.string] if isinstance(message.id, str) else [*message.id, *message.string]
            assert set(asked.findall(texts[-1])) <= set(asked.findall(texts[0])), message.id


def test_written_pages_are_there_in_german_with_all_their_parts():
    pages = ROOT / "src" / "weirant" / "handbook" / "pages"
    for page in pages.glob("*.md"):
        english, german = page.read_text(encoding="utf-8"), (pages / "de" / page.name).read_text(encoding="utf-8")
        marks = [[len(re.findall(mark, text, re.MULTILINE)) for mark in (r"^# ", r"^\d+\. ", r"^\*\*", r"\n\n")] for text in (english, german)]
        assert marks[0] == marks[1] and english != german, page.name


def test_nothing_that_is_shown_goes_round_the_catalogue():
    """In a mock language all that is looked up is in letters with marks; plain ones are names, units, keys and Qt's own buttons."""
    walked = python(str(HERE / "ui" / "everything_shown.py"), "mock", PYTHONFAULTHANDLER="1")
    if walked.returncode < 0:  # killed by a signal: told, and walked once more, as a test is whose process died
        print(f"the walk died: {walked.stderr[-3000:]}", file=sys.__stderr__)
        walked = python(str(HERE / "ui" / "everything_shown.py"), "mock", PYTHONFAULTHANDLER="1")
    assert walked.returncode == 0, walked.stderr[-3000:]
    shown = json.loads(walked.stdout.splitlines()[-1])
    names = r"TH\d|BM|TP\d|No\. 57|[CM][LH](?:-ML)?|/dev/\S+|[\w ]+\(invented\)|Deutsch|English|Weirant|OK|Cancel|\(?(?:Ctrl|Alt|Shift|F\d)[\w+,-]*\)?"
    units = r"(?:ft|in|yd|gal|gpm|mm|ton|min|lb)[²³]?(?:/100 ft|/ft)?"
    stray = [text for text in shown if re.search(r"[A-Za-z]{2}", re.sub(rf"(?<![A-Za-z])(?:{names}|{units})(?![A-Za-z])", "", text))]
    kept = [text for text in stray if re.search(r"Step \d+: |: Words·|Words$|How the window|A job from|^⟦ɱéťħóď", text)]  # whole pages have no mock; names of methods are typed
    assert sorted(set(stray) - set(kept)) == [] and len(shown) > 1000 and len(kept) < 100
    assert "Traceback" not in walked.stderr


@pytest.mark.parametrize(("option", "environment", "code"), [
    ("", {}, "en"), ("", {"LANG": "de_AT.UTF-8"}, "de"), ("", {"LANG": "de_DE", "LC_ALL": "C.UTF-8"}, "en"), ("", {"LANG": "xx_YY"}, "en"),
    ("", {"LANG": "en_GB", "WEIRANT_LANG": "de"}, "de"), ("en", {"WEIRANT_LANG": "de"}, "en"), ("", {"WEIRANT_LANG": "klingon", "LANG": "de"}, "de"),
])  # fmt: skip
def test_the_command_line_goes_before_the_environment_and_that_before_the_desktop(option, environment, code, tmp_path):
    assert choice.wanted(option, {"HOME": str(tmp_path), **environment}).code == code


def test_the_settings_go_before_the_desktop(tmp_path):
    (tmp_path / "weirant").mkdir()
    (tmp_path / "weirant" / "weirant.conf").write_bytes(b"[General]\nlook=dim\nlanguage=de\n\xff\xfe=1\n")
    assert choice.wanted("", {"XDG_CONFIG_HOME": str(tmp_path), "LANG": "en_US"}).code == "de"
    assert choice.wanted("", {"XDG_CONFIG_HOME": str(tmp_path), "WEIRANT_LANG": "en"}).code == "en"


def test_the_command_line_speaks_german_but_for_json_and_csv(tmp_path):
    told = python("-m", "weirant", "--lang", "de", "check", "demo")
    assert told.returncode == 1 and told.stdout.startswith("hält nicht") and "3,6 in" in told.stdout and "3.6 in" not in told.stdout
    found = json.loads(python("-m", "weirant", "check", "demo", "--json", "--lang=de").stdout)["findings"][0]
    assert found["state"] == "fails" and found["bound"] == "at least" and found["value"] == pytest.approx(-0.0914, abs=1e-3)
    assert python("-m", "weirant", "cutsheet", "demo", "-o", str(tmp_path / "c.csv"), WEIRANT_LANG="de").returncode == 0
    assert re.search(r"^0\.0+,\d+\.\d+", (tmp_path / "c.csv").read_text(encoding="utf-8"), re.MULTILINE)
    for wrong in (["--lang", "xx", "check", "demo"], ["check", "demo", "--lang"]):
        refused = python("-m", "weirant", *wrong)
        assert refused.returncode == 2 and "de, en" in refused.stderr and refused.stderr.count("\n") == 1


JOBS = """
import dataclasses, json, sys
from weirant.language import TONGUES, use
use(TONGUES[sys.argv[1]])
from weirant.design.demo import demo_job
from weirant.design.assess import assess
from weirant.design.patterns import PATTERNS, pattern
jobs = [demo_job(), *(pattern(key).job() for key in PATTERNS)]
print(json.dumps([[dataclasses.asdict(job), [(f.code, f.subject, f.place, str(f.state), f.value) for f in assess(job).findings]] for job in jobs], default=str))
"""


def test_what_the_program_draws_up_in_german_is_the_same_but_for_its_names():
    def bare(thing):
        if isinstance(thing, dict):
            return {key: bare(value) for key, value in thing.items() if key not in ("name", "place", "point") or not isinstance(value, str)}
        return [bare(item) for item in thing] if isinstance(thing, list) else thing

    english, german = (json.loads(python("-c", JOBS, code).stdout) for code in ("en", "de"))
    assert bare(english) == bare(german) and english[0][0]["name"] != german[0][0]["name"] and len(english) == 13
    for (before, _), (after, _) in zip(english, german, strict=True):
        same = [run["name"] for run, other in zip(before["runs"], after["runs"], strict=True) if run["name"] == other["name"]]
        assert same == [], before["name"]


def test_what_is_shown_in_german_can_be_typed_again(speak):
    from weirant.ground.places import place_text, read_place
    from weirant.units import parse
    from weirant.units.dimension import AREA, LENGTH
    from weirant.units.display import AREA as AREAS
    from weirant.units.display import LEVEL, System, shown
    from weirant.units.staff import METRES, read_staff

    with pytest.raises(InputError):
        parse("98,125 m", LENGTH)  # in English it could be either
    speak("de")
    assert shown(98.125, LEVEL, System.METRIC) == "98,125 m" and parse("98,125 m", LENGTH) == 98.125
    assert parse(shown(12345.6, AREAS, System.METRIC), AREA) == pytest.approx(12345.6)
    for typed in ("Band 12,5 links 3,25", "Band 12,5 rechts 3", "Winkel 35,5 bei 18", "30,5, 12"):
        place = read_place(typed, System.METRIC)
        assert read_place(place_text(place, System.METRIC), System.METRIC) == place
    assert read_place("Band 12,5 links 3,25", System.METRIC).how == "tape" and read_place("30,5, 12", System.METRIC).first == 30.5
    with pytest.raises(InputError):
        parse("98,125 m", LENGTH, strict=True)  # a file's comma is not the reader's
    with pytest.raises(InputError, match="1250 oder 1,250"):
        parse("1.250 mm", LENGTH)  # in German a point could be either
    assert parse("1.250 mm", LENGTH, strict=True) == 0.00125 and parse("0.250 mm", LENGTH) == 0.00025 and parse("1.250,5 mm", LENGTH) == 1.2505
    assert read_staff("1.234", METRES) == read_staff("1,234 m", METRES) == 1.234  # but no staff reads a thousand


def test_numbers_and_names_hold_together_from_right_to_left(speak):
    from weirant.language import ntr, tr
    from weirant.units import parse
    from weirant.units.dimension import LENGTH
    from weirant.units.display import LEVEL, System, shown

    speak("mock-left")
    level = shown(98.125, LEVEL, System.METRIC)
    assert level == "\u206698.125 m\u2069" and parse(level, LENGTH) == 98.125 and without_isolates(level) == "98.125 m"
    said = tr("{run}, station {station}", run="drain 2", station=level)
    assert "\u2068drain 2\u2069" in said and said.count("\u2069") == 3
    assert "\u20663\u2069" in ntr("{n} thing fails", "{n} things fail", 3)
