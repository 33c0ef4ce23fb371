"""Entry point of ``python -m weirant`` and of the installed program."""

from __future__ import annotations

import gc
import os
import sys
from typing import NoReturn

gc.disable()  # a start makes no garbage worth a search; the window collects for itself
# NumPy's linear algebra would start a thread for each further core, which spins a tenth of a second before it sleeps: no system solved here is large
# enough to be parted among them, and what is worked out side by side has processes of its own.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

from weirant.language import use  # noqa: E402
from weirant.language.choice import wanted, without_option  # noqa: E402


def start() -> NoReturn:
    """Choose the language, then run what the command line asks for, and end the process."""
    try:
        arguments, option = without_option(sys.argv[1:])
    except ValueError as fault:
        sys.exit(_refused(fault))
    use(wanted(option, os.environ))
    if option:
        os.environ["WEIRANT_LANG"] = option  # for the worker processes and further windows
    from weirant.cli.main import start as run  # texts are looked up as modules load: not before the language is chosen

    run(arguments)


def _refused(fault: ValueError) -> int:
    print(f"weirant: {fault}", file=sys.stderr)
    return 2


if __name__ == "__main__":  # worker processes import this file too
    start()
