"""Numbers that are kept from one start to the next: never a wrong one, whatever became of the file."""

from __future__ import annotations

import json
import math

import pytest

from weirant.kept import kept


@pytest.fixture
def file(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    return tmp_path / "weirant" / "soils.json"


def asked(on, gives, log):
    return kept("soils", "numpy", on, lambda: log.append(on) or gives, lambda row: len(row) == 2 and all(map(math.isfinite, row)))


def test_what_was_worked_out_is_not_again(file):
    log = []
    assert asked((1, 2), (0.1, 1 / 3), log) == asked((1.0, 2.0), (9, 9), log) == (0.1, 1 / 3) and log == [(1, 2)]
    assert asked((3,), (math.nan, 1), log)[1] == 1 and "NaN" not in file.read_text()


@pytest.mark.parametrize("becomes", [b"", b"\xff\xfe", b"[]", b"null", b'{"stamp": 1}', b"[" * 100_000, {"stamp": "another version"}, {"rows": []}, [1.0], ["x", None], [math.nan, 1]])
def test_a_file_that_is_not_its_own_is_worked_out_anew(file, becomes):
    asked((1, 2), (3, 4), [])
    was = json.loads(file.read_text())
    if isinstance(becomes, list):
        becomes = {"rows": dict.fromkeys(was["rows"], becomes)}
    file.write_bytes(becomes if isinstance(becomes, bytes) else json.dumps(was | becomes).encode())
    log = []
    assert asked((1, 2), (5, 6), log) == asked((1, 2), (7, 8), log) == (5, 6) and len(log) == 1


def test_where_nothing_can_be_kept_it_is_worked_out_each_time(tmp_path, monkeypatch):
    (tmp_path / "weirant").write_text("a file where the folder should be")
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    log = []
    assert asked((1,), (3, 4), log) == asked((1,), (3, 4), log) == (3, 4) and len(log) == 2 and [p.name for p in tmp_path.iterdir()] == ["weirant"]
