"""Entry point of ``python -m weirant`` and of the installed program."""

from __future__ import annotations

import gc
import os
import sys
from typing import NoReturn

gc.disable()  # a start makes no garbage worth a search; the window collects for itself

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
