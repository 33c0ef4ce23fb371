"""The launcher on machines that lack something: one clear line, and no half-made set-up that stays."""

from __future__ import annotations

import contextlib
import os
import stat
import subprocess
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]


def launch(*arguments, **environment):
    kept = {k: v for k, v in os.environ.items() if not k.startswith(("PIP_", "UV_", "PYTEST", "DISPLAY", "QT_"))}
    done = subprocess.run(
        [str(ROOT / "weirant"), *arguments], env={**kept, **environment}, capture_output=True, text=True, check=False
    )
    return done.returncode, done.stdout, done.stderr


def test_too_old_a_python_is_named(tmp_path):
    old = tmp_path / "python3"
    old.write_text("#!/bin/sh\nexit 1\n")
    old.chmod(old.stat().st_mode | stat.S_IXUSR)
    code, _, err = launch("calc", WEIRANT_VENV=str(tmp_path / "venv"), WEIRANT_PYTHON=str(old))
    assert code == 3 and "Python 3.11 or newer is needed" in err and err.count("\n") == 1


def test_too_little_room_is_told(tmp_path):
    code, _, err = launch("calc", WEIRANT_VENV=str(tmp_path / "venv"), WEIRANT_MIN_DISK_KB=str(10**12))
    assert code == 3 and "not enough disk space" in err


@pytest.mark.skipif(os.geteuid() == 0, reason="root may write anywhere")
def test_a_folder_that_cannot_be_written():
    code, _, err = launch("calc", WEIRANT_VENV="/proc/venv")
    assert code == 3 and "cannot write" in err


def test_no_network_is_one_line_and_a_second_try_goes_on(tmp_path):
    venv = tmp_path / "venv"
    nowhere = {
        "PIP_INDEX_URL": "http://127.0.0.1:9/simple",
        "PIP_RETRIES": "0",
        "PIP_NO_CACHE_DIR": "1",
        "PIP_CONFIG_FILE": "/dev/null",
    }
    for _ in range(2):
        code, out, err = launch("calc", WEIRANT_VENV=str(venv), **nowhere)
        assert code == 3 and out == "" and "the network cannot be reached" in err, err
        assert not (venv / ".stamp-run").exists()


def test_no_network_is_needed_once_it_is_set_up():
    code, out, err = launch("--version", PIP_INDEX_URL="http://127.0.0.1:9/simple")
    assert (code, err) == (0, "") and out.startswith("weirant ")


def test_without_a_screen_it_says_so():
    code, _, err = launch("demo")
    assert code == 3 and "no screen found" in err and err.count("\n") == 1


def test_nothing_that_lies_about_is_taken_for_a_part_of_it(tmp_path):
    """A numpy.py in the folder one stands in, or in an inherited PYTHONPATH, was once run."""
    for name in ("numpy.py", "json.py", "weirant.py"):
        (tmp_path / name).write_text("raise SystemExit('not ours')\n")
    for places in ({}, {"PYTHONPATH": str(tmp_path), "PYTHONSTARTUP": str(tmp_path / "json.py")}):
        done = subprocess.run([str(ROOT / "weirant"), "check", "demo", "--json"], cwd=tmp_path, env={**os.environ, **places}, capture_output=True, text=True, check=False)
        assert done.returncode == 1 and "not ours" not in done.stdout + done.stderr and '"findings"' in done.stdout


def test_unknown_words_are_told_without_a_screen():
    code, out, err = launch("chek", "demo")
    assert (code, out) == (2, "") and "did you mean check" in err


def everything_from(terminal):
    """All that was written to the other end, which is closed; one reading may give a piece of it only."""
    told = b""
    with contextlib.suppress(OSError):
        while piece := os.read(terminal, 10_000):
            told += piece
    return told.decode()


@pytest.mark.skipif(os.geteuid() != 0, reason="without rights nothing is installed anyhow")
@pytest.mark.parametrize(("arguments", "answer", "installs"), [((), "n", False), ((), "y", True), (("--yes",), "", True), ((), None, True)])
def test_it_asks_before_it_installs_system_packages(tmp_path, arguments, answer, installs):
    """On a terminal it asks, unless told not to; as root without one it goes on."""
    tools = tmp_path / "bin"
    tools.mkdir()
    (tools / "apt-get").write_text(f'#!/bin/sh\necho "$@" >>{tmp_path}/asked\n')
    (tools / "python3").write_text('#!/bin/sh\ncase "$2" in *ensurepip*) exit 1 ;; esac\nexit 0\n')
    for tool in tools.iterdir():
        tool.chmod(0o755)
    ours, theirs = os.openpty()
    end = theirs if answer is not None else subprocess.DEVNULL
    kept = {"PATH": f"{tools}:{os.environ['PATH']}", "HOME": str(tmp_path), "WEIRANT_VENV": str(tmp_path / "venv"), "WEIRANT_MIN_DISK_KB": str(10**12)}  # it ends there, after the packages
    process = subprocess.Popen([str(ROOT / "weirant"), *arguments, "calc"], env=kept, stdin=end, stdout=subprocess.DEVNULL, stderr=theirs if answer is not None else subprocess.DEVNULL)
    if answer:
        os.write(ours, f"{answer}\n".encode())
    assert process.wait(timeout=30) == 3
    os.close(theirs)
    told = everything_from(ours) if answer is not None else ""
    os.close(ours)
    assert ("install them now? [y/N]" in told) == bool(answer)
    assert ((tmp_path / "asked").exists() and "install -y -qq --no-install-recommends python3-venv" in (tmp_path / "asked").read_text()) == installs
