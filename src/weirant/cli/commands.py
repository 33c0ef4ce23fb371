"""Every command of the command line, with what it takes: help, man page and completion are made from this table.

Each runs a function that is loaded only when the command is called, so that a short command starts fast.
"""

from __future__ import annotations

import importlib
from argparse import Namespace
from collections.abc import Callable

from weirant.cli.parser import OUT, Command, Parser
from weirant.language import tr

JOB_CODES = tr("0 nothing fails, 1 something fails, 2 wrong call or a file that cannot be used, 70 an unexpected error (its trace is in the log)")
CODES = tr("0 done, 2 wrong call or a file that cannot be used, 70 an unexpected error (its trace is in the log)")
JOB = tr("a job file, the word demo or demo:roofs, or pattern:NAME")


def _later(module: str, function: str) -> Callable[[Namespace], int]:
    def run(given: Namespace) -> int:
        code: int = getattr(importlib.import_module(f"weirant.cli.{module}"), function)(given)
        return code

    return run


def _calc(parser: Parser) -> None:
    parser.add_argument("name", nargs="?", metavar="NAME", help=tr("the calculation; without it all are listed with their keys"))
    parser.add_argument("values", nargs="*", metavar="KEY=VALUE", help=tr('each key with its value and unit, such as slope="1 in per 10 ft"; a bare number is SI'))
    parser.add_argument("--json", action="store_true", help=tr("print JSON, in SI"))
    parser.add_argument("--stdin", action="store_true", help=tr('answer lines of JSON: {"name": …, "args": {…}}'))


def _check(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--storm", action="store_true", help=tr("also simulate whether the place is dry in time after the design storm (some seconds)"))
    parser.add_argument("--json", action="store_true", help=tr("print JSON, in SI"))


def _grade(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--aim", metavar="AIM", default="dig", help=tr("dig (least dig), breaks (fewest grade breaks) or depth (deepest); default dig"))
    parser.add_argument("--every", metavar="LENGTH", help=tr('let the grade change also at every such length, such as "10 ft", 0.3 m at least; default only at the nodes'))
    parser.add_argument("--json", action="store_true", help=tr("print JSON, in SI"))


def _cutsheet(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("-o", "--output", metavar="FILE", required=True, help=tr("the file to write, ending in .csv or .pdf; with --all the folder for them"))
    parser.add_argument("--all", action="store_true", help=tr("write the sheets of every run, each as a page and as CSV, into a folder"))
    parser.add_argument("--run", metavar="NAME", help=tr("the run, by its name; default the one that serves the place to keep dry"))
    parser.add_argument("--step", metavar="LENGTH", help=tr('distance between its lines, such as "5 ft", 0.05 m at least; default 10 ft or 2.5 m'))


def _network(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--json", action="store_true", help=tr("print JSON, in SI"))


def _flow(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--plug", metavar="NODE", action="append",
                        help=tr("let no water through at an exit or inlet, by its name or identity; may be given several times; each: every one in turn, with --storm"))
    parser.add_argument("--storm", metavar="STORM", help=tr("follow a storm through the pipes: its name, or a CSV file of rain"))
    parser.add_argument("--hours", metavar="HOURS", help=tr("how long to follow the storm (default: 72 h)"))
    parser.add_argument("--no-power", metavar="HOURS", help=tr("for how long after it begins pumps have no power"))
    parser.add_argument("--json", action="store_true", help=tr("print JSON, in SI"))
    parser.add_argument("--csv", metavar="FILE", help=tr("write every station as CSV, in SI; of a storm what leaves where in the course of it"))


def _report(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("-o", "--output", metavar="FILE", required=True, help=tr("the PDF file to write"))


def _order_list(parser: Parser) -> None:
    _report(parser)
    parser.add_argument("--prices", metavar="FILE", help=tr("a price list: then a page for each who sells"))


def _simulate(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--run", metavar="NAME", help=tr("the run, by its name; default the one that serves the place to keep dry"))
    parser.add_argument("--station", metavar="LENGTH", help=tr("where along the run; default where it serves the place"))
    parser.add_argument("--storm", metavar="STORM", help=tr("name of a storm of the job, or a CSV file of rain; default the design storm"))
    parser.add_argument("--hours", metavar="TIME", help=tr('how long to look, such as "3 days"; a bare number is hours; default 72, at most 1440'))
    parser.add_argument("--without-drain", action="store_true", help=tr("the same ground without its drain"))
    parser.add_argument("--check-cells", action="store_true", help=tr("run once more on cells half as large, and tell the change"))
    parser.add_argument("--json", action="store_true", help=tr("print JSON, in SI"))
    parser.add_argument("--csv", metavar="FILE", help=tr("write the hydrograph as CSV"))


def _pipes(parser: Parser) -> None:
    parser.add_argument("--prices", metavar="FILE", help=tr("also what each costs, by a price list: a CSV file, or larkmead or moorgrundel, made up for practice"))
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--run", metavar="NAME", help=tr("the run, by its name; default the one that serves the place to keep dry"))
    _dug_so(parser)
    parser.add_argument("--json", action="store_true", help=tr("print JSON, in SI"))


def _filter(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--run", metavar="NAME", help=tr("the run, by its name; default the one that serves the place to keep dry"))
    parser.add_argument("--school", metavar="SCHOOL", action="append", help=tr("one way to build it alone; may be given several times; default: all"))
    parser.add_argument("--years", metavar="N", help=tr("how many years to look (default: 30)"))
    parser.add_argument("--graded", action="store_true", help=tr("instead: stone and sand of the library, and blends of two, that hold the soil as a graded filter"))
    parser.add_argument("--assume", metavar="KEY=VALUE", action="append", help=tr("another figure of what is assumed; may be given several times"))
    parser.add_argument("--suited", action="store_true", help=tr("instead: every cloth, stone and sand of the library by what its contacts with the soil ask"))
    parser.add_argument("--side-by-side", action="store_true", help=tr("two ways, given by --school each, held against each other"))
    parser.add_argument("--flush", metavar="N", help=tr("flush the pipe every so many years (default: never)"))
    parser.add_argument("--json", action="store_true", help=tr("print JSON, in SI"))
    parser.add_argument("--csv", metavar="FILE", help=tr("write every year of the best guess as CSV, in SI"))


def _why(parser: Parser) -> None:
    _report(parser)
    parser.add_argument("--run", metavar="NAME", help=tr("the run, by its name; default the one that serves the place to keep dry"))
    parser.add_argument("--against", metavar="SCHOOL", help=tr("the way to build that it is held against; default bare stone, or a wrap where none is drawn"))


def _takeoff(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--run", metavar="NAME", help=tr("one run alone, by its name"))
    parser.add_argument("--per-100ft", action="store_true", help=tr("what 100 ft (30.48 m) of the trenches takes in the mean"))
    parser.add_argument("--per-ft", action="store_true", help=tr("what 1 ft (0.3048 m) of the trenches takes in the mean"))
    parser.add_argument("--xlsx", metavar="FILE", help=tr("write a workbook whose lines follow the rows they come from"))
    _cut_so(parser)


def _quote(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--prices", metavar="FILE", required=True, help=tr("the price list, a CSV file; or larkmead or moorgrundel, made up for practice"))
    parser.add_argument("--run", metavar="NAME", help=tr("one run alone, by its name"))
    parser.add_argument("-o", "--output", metavar="FILE", help=tr("write the quote for the owner, ending in .pdf, or a workbook, ending in .xlsx"))
    parser.add_argument("--option", metavar="NAME=JOB", action="append", help=tr("another way to build it beside, a job of its own, on the paper or in the workbook"))
    _dug_so(parser)
    _cut_so(parser)


def _schedule(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--start", metavar="DATE", help=tr("the first working day, as 2026-03-31; default: as the job has it, else today"))
    parser.add_argument("--crew", metavar="N", help=tr("how many people; default: as the job has it"))
    parser.add_argument("--rain", metavar="SHARE",
                        help=tr('share of the days that rain takes, such as "25 %%", or days lost in each month, twelve numbers or a CSV file of them; default: as the job has it'))
    _dug_so(parser)
    parser.add_argument("--gate", metavar="LENGTH", help=tr("the narrowest place on the way in; default: as the job has it"))
    parser.add_argument("--off", metavar="DATES", help=tr('days off, such as "2026-12-24 to 2027-01-04, 2027-01-15"; default: as the job has it'))
    parser.add_argument("--prices", metavar="FILE", help=tr("a price list whose rates of the crew are taken"))
    parser.add_argument("-o", "--output", metavar="FILE", help=tr("write a calendar, ending in .ics, with alarms and what is to be done every year"))
    parser.add_argument("--moved", metavar="FILE", help=tr("a calendar that came back: tell what was moved in it"))
    parser.add_argument("--json", action="store_true", help=tr("print JSON, in SI"))


def _export(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("-o", "--output", metavar="FILE", required=True,
                        help=tr("the file: .dxf the drawing, .xml LandXML alignments, .csv grades for a machine, .geojson or .kml the network, .svg or .png a picture"))  # fmt: skip
    parser.add_argument("--run", metavar="NAME", help=tr("one run alone, by its name"))
    parser.add_argument("--step", metavar="LENGTH", help=tr("distance between lines of grades; default 1 m"))
    parser.add_argument("--what", metavar="DRAWING", help=tr("plan, profile or section; default plan"))
    parser.add_argument("--scale", metavar="1:N", help=tr("scale of a picture; default 1:100"))


def _dug_so(parser: Parser) -> None:
    parser.add_argument("--like", metavar="JOB", action="append", help=tr("an earlier job that says how long the work took: the crew is as quick here; of several the one in the middle"))
    parser.add_argument("--haul", metavar="LENGTH", help=tr("the way from the heap to the trench; default: as the job has it, else 100 ft"))
    parser.add_argument("--method", metavar="METHOD", help=tr("how the trench is dug: excavator, trencher, hand or plough; default: as the job has it"))


def _cut_so(parser: Parser) -> None:
    parser.add_argument("--little-waste", action="store_true", help=tr("cut pipe with joints wherever a length ends; default: as few joints as can be"))
    parser.add_argument("--json", action="store_true", help=tr("print JSON, in SI"))
    parser.add_argument("--csv", metavar="FILE", nargs="?", const=OUT, help=tr("write the lines as CSV; print them where no file is named"))


def _autopsy(parser: Parser) -> None:
    parser.add_argument("job", metavar="JOB", help=JOB)
    parser.add_argument("--json", action="store_true", help=tr("print JSON, in SI"))


def _new(parser: Parser) -> None:
    parser.add_argument("pattern", metavar="PATTERN", help=tr("the pattern, by its key; weirant patterns lists them"))
    parser.add_argument("-o", "--output", metavar="FILE", help=tr("the job file to write; default the key of the pattern"))


def _listed(parser: Parser) -> None:
    parser.add_argument("--json", action="store_true", help=tr("print JSON, in SI"))


def _nothing(_: Parser) -> None:
    pass


COMMANDS = {command.name: command for command in (
    Command("calc", tr("List the calculations, or run one by its name."), _calc, CODES, 'weirant calc pipe-full-flow diameter="4 in" roughness_n=0.012 slope="1 %"', _later("calc", "calc")),
    Command("check", tr("Print the findings of a job, worst first."), _check, JOB_CODES, "weirant check club.weirant --storm", _later("job_commands", "check")),
    Command("grade", tr("Find the best grade of every run."), _grade, tr("1 where no grade line satisfies every demand (what could give way is told), else {codes}", codes=CODES),
            'weirant grade demo --aim breaks --every "10 ft"', _later("job_commands", "grade")),
    Command("network", tr("Print nodes, runs, levels and the flow through them."), _network, tr("1 where a reference of the file leads nowhere, else {codes}", codes=CODES),
            "weirant network club.weirant --json", _later("network", "network")),
    Command("flow", tr("Print how water flows and stands along every run."), _flow, tr("1 where water stands over the ground or a run could not be followed, else {codes}", codes=CODES),
            "weirant flow pattern:footing --plug n9 --csv flow.csv", _later("flow", "flow")),
    Command("pipes", tr("Compare other sizes and numbers of pipe for a run."), _pipes, CODES, 'weirant pipes demo --run "green drain"', _later("pipe_choices", "pipes")),
    Command("filter", tr("Compare ways to keep the soil out of the drain, over the years."), _filter, CODES, "weirant filter demo --school bare --school wrap --years 30",
            _later("filter_years", "filter_years")),
    Command("autopsy", tr("Rank why old drains that were opened failed."), _autopsy, CODES, "weirant autopsy demo", _later("autopsy", "old_drains")),
    Command("cutsheet", tr("Write the cut sheet of a run."), _cutsheet, CODES, 'weirant cutsheet club.weirant -o cuts.pdf --run "green drain"', _later("job_commands", "cutsheet")),
    Command("report", tr("Write the owner's sheet."), _report, CODES, "weirant report club.weirant -o owner.pdf", _later("job_commands", "report")),
    Command("why", tr("Write why it is built with its wrap, a page for the owner."), _why, CODES, "weirant why demo -o why.pdf --against sand", _later("job_commands", "why")),
    Command("orderlist", tr("Write the order list."), _order_list, CODES, "weirant orderlist club.weirant -o order.pdf", _later("job_commands", "orderlist")),
    Command("takeoff", tr("Print what a job takes, and where each of it comes from."), _takeoff, CODES, "weirant takeoff demo --per-100ft", _later("order", "takeoff")),
    Command("quote", tr("Print what a job comes to by a price list."), _quote, tr("1 where something has no price, else {codes}", codes=CODES),
            "weirant quote demo --prices larkmead", _later("order", "quote")),
    Command("schedule", tr("Print the plan of the work, day by day, or write it as a calendar."), _schedule,
            tr("1 where something was moved before what it waits for, else {codes}", codes=CODES), "weirant schedule demo --start 2026-11-30 -o week.ics", _later("schedule", "schedule")),
    Command("export", tr("Write a job for other programs, by the ending of the file."), _export, CODES, "weirant export demo -o club.dxf", _later("export", "export")),
    Command("simulate", tr("Run a storm on the ground across the drain."), _simulate, tr("1 where the place is not dry in the wanted time, else {codes}", codes=CODES),
            'weirant simulate demo --hours "2 days" --storm cloudburst', _later("simulate", "simulate")),
    Command("patterns", tr("List the patterns of the trade."), _listed, CODES, "weirant patterns", _later("patterns", "patterns")),
    Command("new", tr("Write a pattern as a job file."), _new, CODES, "weirant new curtain -o shelter.weirant", _later("patterns", "new")),
    Command("rules", tr("List the rules of the trade with their figures and sources."), _listed, CODES, "weirant rules --json", _later("rules", "rules")),
    Command("schema", tr("Print the JSON Schema of the job file."), _nothing, CODES, "weirant schema > job.schema.json", _later("job_commands", "print_schema")),
)}  # fmt: skip
