"""A thousand random actions: memory and number of widgets level off."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]


def test_a_walk_of_a_thousand_actions_levels_off():
    done = subprocess.run([sys.executable, str(ROOT / "tools" / "random_walk.py"), "--actions", "1000"], capture_output=True, text=True, check=False)
    print(done.stdout)
    assert done.returncode == 0, done.stdout[-2000:]
