"""Files on the disk as they may be: links, devices, pipes, private ones, long names, changed by others, open elsewhere."""

from __future__ import annotations

import os
import stat
import subprocess
import sys
import time
from pathlib import Path

import pytest

from weirant.errors import JobFileError
from weirant.formats import job_file
from weirant.formats.open_mark import OpenMark, mark_of
from weirant.formats.plain_files import ChangedOnDiskError, digest_of, read_plain, write_safely


@pytest.fixture(autouse=True)
def usual_umask():
    before = os.umask(0o022)
    yield
    os.umask(before)


def mode(path):
    return stat.S_IMODE(path.stat().st_mode)


def test_a_link_is_followed_and_stays(job, tmp_path):
    real, link = tmp_path / "real.weirant", tmp_path / "link.weirant"
    job_file.save(job, real)
    link.symlink_to(real)
    job_file.save(job, link)
    assert link.is_symlink() and job_file.load(real) == job and (tmp_path / "real.weirant~").exists()
    loop = tmp_path / "loop"
    loop.symlink_to(loop)
    with pytest.raises(JobFileError, match="cannot be written"):
        write_safely(loop, b"x")


@pytest.mark.parametrize("kind", ["fifo", "folder", "device", "socket"])
def test_what_is_no_plain_file_is_neither_read_nor_replaced(tmp_path, kind):
    path = Path("/dev/zero") if kind == "device" else tmp_path / kind
    if kind == "fifo":
        os.mkfifo(path)
    elif kind == "folder":
        path.mkdir()
    elif kind == "socket":
        import socket

        end = socket.socket(socket.AF_UNIX)
        end.bind(str(path))
        end.close()
    before = path.stat().st_mode
    with pytest.raises(JobFileError, match=r"no plain file|Is a directory|No such device") as told:
        read_plain(path, 100, "a test")
    assert str(told.value).count("cannot be read") == 1
    with pytest.raises(JobFileError, match="no plain file"):
        write_safely(path, b"x")
    assert path.stat().st_mode == before and list(tmp_path.glob(".weirant-*")) == []


def test_a_name_takes_one_line_of_a_message_whatever_is_in_it(tmp_path):
    path = tmp_path / "a\nb\x1b[31m.weirant"
    path.write_text("{")
    with pytest.raises(JobFileError, match=r"^a\?b\?\[31m\.weirant is damaged at line 1"):
        job_file.load(path)


def test_what_is_private_stays_private_in_every_copy(job, tmp_path):
    path = tmp_path / "a.weirant"
    job_file.save(job, path)
    assert mode(path) == 0o644
    path.chmod(0o600)
    job_file.save(job, path)
    assert mode(path) == mode(tmp_path / "a.weirant~") == 0o600
    os.umask(0o077)
    job_file.save(job, tmp_path / "b.weirant")
    assert mode(tmp_path / "b.weirant") == 0o600


@pytest.mark.parametrize("length", [251, 255])
def test_names_as_long_as_names_can_be(job, tmp_path, length):
    path = tmp_path / ("ä" * ((length - 8) // 2) + "x" * (length % 2 == 1) + ".weirant")
    for _ in range(2):
        job_file.save(job, path)
    mark = OpenMark()
    assert job_file.load(path) == job and len(list(tmp_path.glob("*~"))) == 1 and mark.move_to(path) is None and mark_of(path).exists()
    mark.let_go()
    with pytest.raises(JobFileError, match="cannot be written: File name too long"):
        job_file.save(job, tmp_path / ("x" * 256))


def test_what_somebody_else_wrote_is_not_replaced_unasked(job, tmp_path):
    path = tmp_path / "a.weirant"
    digest = job_file.save(job, path)
    assert job_file.read_job(path).digest == digest == digest_of(path.read_bytes())
    job_file.save(job, path, digest)
    path.write_text("theirs")
    with pytest.raises(ChangedOnDiskError, match="changed by somebody else"):
        job_file.save(job, path, digest)
    assert path.read_text() == "theirs"
    path.unlink()
    job_file.save(job, path, digest)  # gone is not changed: nothing would be lost


def test_halves_that_a_kill_left_are_swept_but_not_those_being_written(tmp_path):
    old, young = tmp_path / ".weirant-a.part", tmp_path / ".weirant-b.part"
    for part in (old, young):
        part.write_text("half")
    os.utime(old, (time.time() - 100, time.time() - 100))
    write_safely(tmp_path / "x", b"x")
    assert not old.exists() and young.exists()


def test_who_has_a_file_open_is_told_until_he_lets_go_or_dies(tmp_path):
    path, ours = tmp_path / "a.weirant", OpenMark()
    program = f"import sys; from pathlib import Path; from weirant.formats.open_mark import OpenMark; m = OpenMark(); print(m.move_to(Path({str(path)!r})), flush=True); sys.stdin.read()"
    other = subprocess.Popen([sys.executable, "-c", program], env={"PYTHONPATH": str(Path(__file__).parents[2] / "src")}, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
    assert other.stdout.readline() == "None\n"
    assert f"process {other.pid}" in ours.move_to(path)
    other.kill()
    other.wait()
    other.stdin.close()
    other.stdout.close()
    assert mark_of(path).exists() and ours.move_to(path) is None  # what a death left is taken over
    assert "process" in OpenMark().move_to(path)
    ours.move_to(None)
    assert not mark_of(path).exists() and OpenMark().move_to(tmp_path / "no" / "folder") is None
