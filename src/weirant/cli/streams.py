"""What the commands print to: streams that may be closed, full, no terminal, or know no more than ASCII."""

from __future__ import annotations

import json
import os
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from weirant.errors import WeirantError
from weirant.language import tr

LONGEST_LINE = 1_000_000  # characters of a line of stdin


class OutputError(WeirantError, OSError):
    """What was to be printed could not be."""


def make_ready() -> None:
    """Streams that were closed lead nowhere; what a stream cannot write is written as a question mark, never refused."""
    while (handle := os.open(os.devnull, os.O_RDWR)) <= 2:
        pass  # 0 to 2 stay taken, so that no file of ours gets the number of a stream that was closed
    os.close(handle)
    if sys.stdout is None:
        sys.stdout = Path(os.devnull).open("w", encoding="utf-8")  # noqa: SIM115
    if sys.stderr is None:
        sys.stderr = Path(os.devnull).open("w", encoding="utf-8")  # noqa: SIM115
    for stream in (sys.stdin, sys.stdout, sys.stderr):
        reconfigure = getattr(stream, "reconfigure", None)
        if reconfigure is not None:
            reconfigure(errors="replace")


def flush() -> None:
    """Have everything printed leave. Raises OutputError where it cannot, such as on a full disk."""
    try:
        sys.stdout.flush()
    except BrokenPipeError:
        raise
    except OSError as fault:
        leave_off()
        raise OutputError(tr("what was printed could not be written: {why}.", why=fault.strerror or fault)) from fault


def leave_off() -> None:
    """Nobody listens any more: what is still to be printed goes nowhere, without a word at the end."""
    os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())


def print_json(value: Any, indent: int | None = None) -> None:
    """Print as JSON; letters that the stream cannot write as escapes, so that it can be read back."""
    is_narrow = not (getattr(sys.stdout, "encoding", None) or "utf-8").lower().replace("-", "").startswith("utf")
    print(json.dumps(value, allow_nan=False, ensure_ascii=is_narrow, indent=indent))


def lines_in() -> Iterator[str]:
    """Lines of stdin, one at a time. Raises WeirantError where one has no end."""
    while line := sys.stdin.readline(LONGEST_LINE):
        if len(line) >= LONGEST_LINE and not line.endswith("\n"):
            raise WeirantError(tr("a line of stdin is longer than {longest_line:,} characters; stopped there", longest_line=LONGEST_LINE))
        yield line


def is_terminal() -> bool:
    """Whether somebody watches stderr."""
    return sys.stderr is not None and sys.stderr.isatty()
