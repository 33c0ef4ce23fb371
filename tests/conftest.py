"""What the tests share: the demo job, and folders of their own for settings and recovery."""

from __future__ import annotations

import dataclasses
import os

import pytest

from weirant.language import TONGUES, use

os.environ.setdefault("WEIRANT_LANG", "en")  # not that of the desktop; the labels are also tried in German
use(TONGUES[os.environ["WEIRANT_LANG"]])  # before the rest is loaded

from weirant.design.assess import assess  # noqa: E402
from weirant.design.demo import demo_job  # noqa: E402


@pytest.fixture(autouse=True)
def own_folders(tmp_path_factory, monkeypatch):
    """No test reads or writes the user's settings."""
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME"):
        monkeypatch.setenv(name, str(tmp_path_factory.mktemp(name)))


@pytest.fixture
def job():
    return demo_job()


@pytest.fixture
def bare(job):
    """The demo job before anybody has shot a level."""
    return dataclasses.replace(job, points=(), survey=dataclasses.replace(job.survey, shots=()))


@pytest.fixture
def outcome(job):
    return assess(job)
