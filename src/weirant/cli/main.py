"""Takes the command line apart and runs the command. Results go to stdout, everything else to stderr."""

from __future__ import annotations

import contextlib
import os
import sys
from pathlib import Path
from typing import NoReturn

from weirant.cli.streams import flush, leave_off, make_ready
from weirant.errors import InputError, WeirantError
from weirant.language import TONGUES, tr

NEEDS_TAKING_APART = {"multiprocessing", "PyQt6.QtCore"}  # modules whose workers and settings are closed at the end
UNEXPECTED = 70  # exit code of an error that nobody foresaw (EX_SOFTWARE of sysexits.h)
USAGE = tr("""weirant [FILE]          open the application, on a job file if one is named
weirant demo            open the application on the demo job
weirant pattern:NAME    open it on a pattern of the trade; weirant patterns lists them
weirant COMMAND …       run a command without a window; weirant COMMAND --help tells what it takes
weirant --lang CODE …    any of these in a language: {languages}
weirant --version""", languages=", ".join(code for code, tongue in TONGUES.items() if not tongue.is_mock))


def start(arguments: list[str]) -> NoReturn:
    """Run what the command line asks for and end the process."""
    code = main(arguments)
    if not NEEDS_TAKING_APART.isdisjoint(sys.modules):
        sys.exit(code)
    with contextlib.suppress(OSError):  # what could not be written has been told
        sys.stdout.flush()
    sys.stderr.flush()
    os._exit(code)  # the system frees in no time what takes Python a tenth of a second to take apart, one thing after another


def main(arguments: list[str]) -> int:
    """Run a command; gives the exit code. Errors are one clear line, never a traceback."""
    make_ready()
    try:
        code = _run(arguments)
        flush()
        return code
    except WeirantError as fault:
        print(f"weirant: {fault}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        leave_off()
        return 0
    except KeyboardInterrupt:
        return 130
    except OSError as fault:  # of printing: whatever reads or writes files says so itself
        leave_off()
        print(tr("weirant: what was to be printed could not be written: {why}.", why=fault.strerror or fault), file=sys.stderr)
        return 2
    except Exception as fault:
        return _unexpected(fault)


def _unexpected(fault: Exception) -> int:
    from weirant.formats.trouble_log import write_trouble

    log = write_trouble(fault)
    where = tr("; what led to it is in {log}", log=log) if log is not None else ""
    print(tr("weirant: an error that was not foreseen ({name}) ended this{where}.", name=type(fault).__name__, where=where), file=sys.stderr)
    return UNEXPECTED


def _run(arguments: list[str]) -> int:
    command, rest = (arguments[0], arguments[1:]) if arguments else ("", [])
    if command == "--version":
        from weirant import __version__

        print(f"weirant {__version__}")
        return 0
    if command in ("", "demo", "demo:roofs") or command.startswith("pattern:"):
        return _open(arguments)
    from weirant.cli.commands import COMMANDS
    from weirant.cli.parser import guess, run

    if command in COMMANDS:
        return run(COMMANDS[command], rest)
    if command in ("--help", "-h", "help"):
        print(overview())
        return 0
    if not command.startswith("-") and Path(command).exists():
        return _open(arguments)
    hint = guess(command, [*COMMANDS, "demo", "--help", "--version"]) or tr("; weirant --help lists the commands")
    raise InputError(command, (tr("is not known") if command.startswith("-") else tr("is no command and no file that is there")) + hint)


def _open(arguments: list[str]) -> int:
    if len(arguments) > 1:
        raise InputError(arguments[1], tr("is one word too many; weirant opens one job"))
    from weirant.ui.app import run

    return run(arguments)


def overview() -> str:
    """The help of the whole program."""
    from weirant.cli.commands import COMMANDS

    commands = "\n".join(f"  {command.name:<10} {command.summary}" for command in COMMANDS.values())
    return tr("Plans, checks and records French drains and curtain drains.\n\n{usage}\n\ncommands:\n{commands}\n\n"
              "A job is a file, the word demo or demo:roofs, or pattern:NAME. Values carry units; a bare number is SI.", usage=USAGE, commands=commands)
