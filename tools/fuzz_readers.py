"""Reads 2,000 wounded files of every format (or as many as the first word says): none may end the program.

Run: ./weirant python tools/fuzz_readers.py [2000]
"""

import os
import subprocess
import sys
from pathlib import Path

if __name__ == "__main__":
    root = Path(__file__).resolve().parent.parent
    count = sys.argv[1] if len(sys.argv) > 1 else "2000"
    command = [sys.executable, "-P", "-m", "pytest", "--no-xvfb", "-q", "-n", str(os.cpu_count() or 1), "tests/formats/test_fuzz.py"]
    sys.exit(subprocess.run(command, cwd=root, env={**os.environ, "WEIRANT_FUZZ": count, "QT_QPA_PLATFORM": "offscreen"}, check=False).returncode)
