"""Every command of the command line, with what it takes: help, man page and completion are made from this table.

Each runs a function that is loaded only when the command is called, so that a short command starts fast.
"""

from __future__ import annotations

import importlib
from argparse import Namespace
from collections.abc import Callable

from weirant.cli.parser import Command, Parser

JOB_CODES = "0 nothing fails, 1 something fails, 2 wrong call or a file that cannot be used, 70 an unexpected error (its trace is in the log)"
CODES = "0 done, 2 wrong call or a file that cannot be used, 70 an unexpected error (its trace is in the log)"
JOB = "a job file, the word demo, or pattern:NAME"


def _later(module: str, function: str) -> Callable[[Namespace], int]:
    def run(given: Namespace) -> int:
        code: int = getattr(importlib.import_module(f"weirant.cli.{module}"), function)(given)
        return code

    return run


def _calc(parser: Parser) -> None:
    parser.add_argument("name", nargs="?", metavar="NAME", help="the calculation; without it all are listed with their keys")
    parser.add_argument("values", nargs="*", metavar="KEY=VALUE", help='each key with its value and unit, such as slope="1 in per 10 ft"; a bare number is SI')
    parser.add_argument("--json", action="store_true", help="print JSON, in SI")
    parser.add_argument("--stdin", action="store_true", help='answer lines of JSON: {"name": …, "args": {…}}')


def _check(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--storm", action="store_true", help="also simulate whether the place is dry in time after the design storm (some seconds)")
    parser.add_argument("--json", action="store_true", help="print JSON, in SI")


def _grade(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--aim", metavar="AIM", default="dig", help="dig (least dig), breaks (fewest grade breaks) or depth (deepest); default dig")
    parser.add_argument("--every", metavar="LENGTH", help='let the grade change also at every such length, such as "10 ft", 0.3 m at least; default only at the nodes')
    parser.add_argument("--json", action="store_true", help="print JSON, in SI")


def _cutsheet(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("-o", "--output", metavar="FILE", required=True, help="the file to write, ending in .csv or .pdf; with --all the folder for them")
    parser.add_argument("--all", action="store_true", help="write the sheets of every run, each as a page and as CSV, into a folder")
    parser.add_argument("--run", metavar="NAME", help="the run, by its name; default the one that serves the place to keep dry")
    parser.add_argument("--step", metavar="LENGTH", help='distance between its lines, such as "5 ft", 0.05 m at least; default 10 ft or 2.5 m')


def _network(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--json", action="store_true", help="print JSON, in SI")


def _report(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("-o", "--output", metavar="FILE", required=True, help="the PDF file to write")


def _simulate(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--run", metavar="NAME", help="the run, by its name; default the one that serves the place to keep dry")
    parser.add_argument("--station", metavar="LENGTH", help="where along the run; default where it serves the place")
    parser.add_argument("--storm", metavar="STORM", help="name of a storm of the job, or a CSV file of rain; default the design storm")
    parser.add_argument("--hours", metavar="TIME", help='how long to look, such as "3 days"; a bare number is hours; default 72, at most 1440')
    parser.add_argument("--without-drain", action="store_true", help="the same ground without its drain")
    parser.add_argument("--check-cells", action="store_true", help="run once more on cells half as large, and tell the change")
    parser.add_argument("--json", action="store_true", help="print JSON, in SI")
    parser.add_argument("--csv", metavar="FILE", help="write the hydrograph as CSV")


def _new(parser: Parser) -> None:
    parser.add_argument("pattern", metavar="PATTERN", help="the pattern, by its key; weirant patterns lists them")
    parser.add_argument("-o", "--output", metavar="FILE", help="the job file to write; default the key of the pattern")


def _listed(parser: Parser) -> None:
    parser.add_argument("--json", action="store_true", help="print JSON, in SI")


def _nothing(_: Parser) -> None:
    pass


COMMANDS = {command.name: command for command in (
    Command("calc", "List the calculations, or run one by its name.", _calc, CODES, 'weirant calc pipe-full-flow diameter="4 in" roughness_n=0.012 slope="1 %"', _later("calc", "calc")),
    Command("check", "Print the findings of a job, worst first.", _check, JOB_CODES, "weirant check club.weirant --storm", _later("job_commands", "check")),
    Command("grade", "Find the best grade of every run.", _grade, f"1 where no grade line satisfies every demand (what could give way is told), else {CODES}",
            'weirant grade demo --aim breaks --every "10 ft"', _later("job_commands", "grade")),
    Command("network", "Print nodes, runs, levels and the flow through them.", _network, f"1 where a reference of the file leads nowhere, else {CODES}",
            "weirant network club.weirant --json", _later("network", "network")),
    Command("cutsheet", "Write the cut sheet of a run.", _cutsheet, CODES, 'weirant cutsheet club.weirant -o cuts.pdf --run "green drain"', _later("job_commands", "cutsheet")),
    Command("report", "Write the owner's sheet.", _report, CODES, "weirant report club.weirant -o owner.pdf", _later("job_commands", "report")),
    Command("orderlist", "Write the order list.", _report, CODES, "weirant orderlist club.weirant -o order.pdf", _later("job_commands", "orderlist")),
    Command("simulate", "Run a storm on the ground across the drain.", _simulate, f"1 where the place is not dry in the wanted time, else {CODES}",
            'weirant simulate demo --hours "2 days" --storm cloudburst', _later("simulate", "simulate")),
    Command("patterns", "List the patterns of the trade.", _listed, CODES, "weirant patterns", _later("patterns", "patterns")),
    Command("new", "Write a pattern as a job file.", _new, CODES, "weirant new curtain -o shelter.weirant", _later("patterns", "new")),
    Command("rules", "List the rules of the trade with their figures and sources.", _listed, CODES, "weirant rules --json", _later("rules", "rules")),
    Command("schema", "Print the JSON Schema of the job file.", _nothing, CODES, "weirant schema > job.schema.json", _later("job_commands", "print_schema")),
)}  # fmt: skip
