"""Takes the command line apart and runs the command. Results go to stdout, everything else to stderr."""

from __future__ import annotations

import os
import sys

from weirant.errors import WeirantError

COMMANDS = """commands:
  weirant [FILE]                        open the application, on a job file if one is named
  weirant demo                          open the application on the demo job
  weirant calc                          list the calculations
  weirant calc NAME key=value … [--json]   run one; values carry units, a bare number is SI
  weirant calc --stdin                  one JSON object a line in, one a line out
  weirant check JOB [--storm] [--json]  findings, with --storm also the simulated one; exit 0 all hold, 1 something fails, 2 cannot be read
  weirant grade JOB [--aim dig|breaks|depth] [--every LENGTH] [--json]
                                        best grade of every run; exit 1 with what could give way if there is none
  weirant cutsheet JOB -o FILE.csv|FILE.pdf [--run NAME] [--step LENGTH]   cut sheet
  weirant report JOB -o FILE.pdf        the owner's sheet
  weirant simulate JOB [--station S] [--storm NAME|FILE.csv] [--hours H] [--without-drain] [--check-cells] [--json | --csv FILE]
                                        a storm on the ground across the drain; exit 1 where the place is not dry in time
  weirant schema                        JSON Schema of the job file
  weirant --version
JOB may be 'demo'."""


def main(arguments: list[str]) -> int:
    """Run a command; gives the exit code. Errors are one clear line, never a traceback."""
    try:
        return _run(arguments)
    except WeirantError as fault:
        print(f"weirant: {fault}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    except KeyboardInterrupt:
        return 130


def _run(arguments: list[str]) -> int:
    command, rest = (arguments[0], arguments[1:]) if arguments else ("", [])
    if command == "calc":
        from weirant.cli.calc import calc

        return calc(rest)
    if command in ("check", "report", "cutsheet", "grade", "schema"):
        from weirant.cli import job_commands

        runs = {"check": job_commands.check, "report": job_commands.report, "cutsheet": job_commands.cutsheet, "grade": job_commands.grade,
                "schema": job_commands.print_schema}  # fmt: skip
        return runs[command](rest)
    if command == "simulate":
        from weirant.cli.simulate import simulate

        return simulate(rest)
    if command == "--version":
        from weirant import __version__

        print(f"weirant {__version__}")
        return 0
    if command in ("--help", "-h", "help"):
        print(COMMANDS)
        return 0
    if command.startswith("-"):
        print(f"weirant: {command} is not known; weirant --help lists the commands", file=sys.stderr)
        return 2
    from weirant.ui.app import run

    return run(arguments)
