"""Benchmarks share the tests' window."""

from __future__ import annotations

import pytest

from weirant.design.demo import demo_job


@pytest.fixture(autouse=True)
def own_folders(tmp_path_factory, monkeypatch):
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME"):
        monkeypatch.setenv(name, str(tmp_path_factory.mktemp(name)))


@pytest.fixture(autouse=True)
def waits_for_outcomes(monkeypatch):
    """What an edit costs is timed to its end."""
    monkeypatch.setattr("weirant.ui.worked.PATIENCE", None)


@pytest.fixture
def job():
    return demo_job()
