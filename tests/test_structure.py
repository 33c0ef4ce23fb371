"""Rules of the house that no other tool watches."""

from __future__ import annotations

import ast
import os
import re
import subprocess
import sys
from collections import Counter
from pathlib import Path

import pytest

from weirant.compiling import KEPT_IN, kernels_digest

ROOT = Path(__file__).parents[1]
PACKAGE = ROOT / "src" / "weirant"


def test_everything_below_ui_and_paper_loads_without_qt():
    modules = [".".join(p.relative_to(ROOT / "src").with_suffix("").parts) for p in sorted(PACKAGE.rglob("*.py"))]
    below = [m for m in modules if not m.startswith(("weirant.ui", "weirant.paper")) and not m.endswith("__main__")]
    program = f"import importlib, sys\nfor m in {below!r}: importlib.import_module(m.removesuffix('.__init__'))\nsys.exit(any(m.startswith('PyQt6') for m in sys.modules))"
    assert (
        subprocess.run([sys.executable, "-c", program], env={"PYTHONPATH": str(ROOT / "src")}, check=False).returncode
        == 0
    )


def test_no_two_classes_have_one_name():
    """But for the records of earlier files, which keep theirs."""
    names = [name for p in PACKAGE.rglob("*.py") if "earlier" not in p.parts for name in re.findall(r"^class (\w+)", p.read_text(encoding="utf-8"), re.MULTILINE)]
    assert [name for name, times in Counter(names).items() if times > 1] == [] and len(names) > 200


def test_what_takes_many_arguments_takes_them_by_keyword():
    """More than seven in a row get mixed up. The compiled kernels have no keywords."""
    long = [f"{path.name}: {node.name}" for path in (ROOT / "src").rglob("*.py") if "kernel" not in path.parts
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))) if isinstance(node, ast.FunctionDef) and len([*node.args.posonlyargs, *node.args.args]) > 8]  # fmt: skip
    assert not long


def test_every_picture_is_linked_and_they_are_few():
    pictures = sorted((ROOT / "docs" / "screenshots").glob("*.png"))
    readme = (ROOT / "README.md").read_text(encoding="utf-8")
    assert 5 <= len(pictures) < 20
    assert [p.name for p in pictures if p.name not in readme] == []


def test_lock_files_pin_hashes_and_name_no_index():
    for lock in (ROOT / "requirements").glob("*.lock"):
        text = lock.read_text()
        assert "--hash=sha256:" in text and not re.search(r"https?://|--index", text)


def test_a_version_with_an_entry_in_the_changelog():
    from weirant import __version__

    assert f"## {__version__}" in (ROOT / "CHANGELOG.md").read_text(encoding="utf-8")


def test_man_page_and_completion_are_those_of_the_commands():
    done = subprocess.run([sys.executable, str(ROOT / "tools" / "manual.py"), "--check"], env={"PYTHONPATH": str(ROOT / "src")}, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr


@pytest.mark.parametrize("room", ["weirant.ui.app", "weirant.cli.main", "weirant.cli.job_commands"])
def test_what_loads_slowly_is_not_loaded_before_it_is_wanted(room):
    """The solver, the compiler and the filters of pictures take a second together; the first window needs none of them."""
    told = subprocess.run([sys.executable, "-c", f"import sys, {room}; print([m for m in ('numba', 'scipy.optimize', 'scipy.ndimage', 'ezdxf', 'lxml') if m in sys.modules])"],
                          capture_output=True, text=True, check=True, env={**os.environ, "QT_QPA_PLATFORM": "offscreen"})  # fmt: skip
    assert told.stdout.strip() == "[]", told.stdout


def test_a_change_in_any_kernel_is_another_version_of_all_compiled_forms(tmp_path):
    """One kernel holds what it calls from another file, whose change its own cache would not see."""
    for name in ("a/kernel/outer.py", "b/kernel/inner.py"):
        (tmp_path / name).parent.mkdir(parents=True)
        (tmp_path / name).write_text("x = 1\n", encoding="utf-8")
    before = kernels_digest(tmp_path)
    assert kernels_digest(tmp_path) == before and KEPT_IN is not None and KEPT_IN.name == kernels_digest()
    (tmp_path / "b/kernel/inner.py").write_text("x = 2\n", encoding="utf-8")
    assert kernels_digest(tmp_path) != before
