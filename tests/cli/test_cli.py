"""The command line as its user sees it: exit codes, stdout, one clear line on stderr, no Qt."""

from __future__ import annotations

import csv
import dataclasses
import io
import json
import re
import shlex
import subprocess
import sys
from pathlib import Path

import pytest

from weirant import __version__
from weirant.cli.commands import COMMANDS
from weirant.cli.main import UNEXPECTED, main
from weirant.cli.parser import parser_of
from weirant.formats import job_file
from weirant.job.paths import with_value
from weirant.job.soil import Band, Layer
from weirant.methods.catalogue import REGISTRY

SOURCE = Path(__file__).parents[2] / "src"


@pytest.fixture
def run(capsys):
    def call(*arguments):
        code = main([str(a) for a in arguments])
        captured = capsys.readouterr()
        return code, captured.out, captured.err

    return call


@pytest.mark.parametrize(("words", "says"), [
    (["schedule", "demo", "--json", "-o", "x.ics"], "--json cannot stand beside --output"), (["schedule", "demo", "--moved", "x.ics", "--json"], "--json cannot stand beside --moved"),
    (["takeoff", "demo", "--per-ft", "--per-100ft"], "--per-ft cannot stand beside --per-100ft"),
    (["takeoff", "demo", "--per-ft", "--little-waste"], "--little-waste cannot stand beside --per-ft"),
    (["filter", "demo", "--suited", "--graded"], "--suited cannot stand beside --graded"), (["filter", "demo", "--suited", "--school", "bare"], "--school cannot stand beside --suited"),
    (["filter", "demo", "--graded", "--years", "5"], "--years cannot stand beside --graded"), (["export", "demo", "-o", "x.xml", "--step", "1 m"], "--step is for files")])  # fmt: skip
def test_an_option_that_would_say_nothing_is_refused_before_anything_is_written(words, says, tmp_path, capsys, monkeypatch):
    monkeypatch.chdir(tmp_path)
    assert main(words) == 2 and says in capsys.readouterr().err and not list(tmp_path.iterdir())


def test_calc_lists_everything(run):
    code, out, err = run("calc")
    assert code == 0 and "hooghoudt-spacing" in out and "conductivity_above" in out and err == ""
    listed = json.loads(run("calc", "--json")[1])
    assert {"name", "keys", "results", "sources", "formula"} <= set(listed[0])


def test_calc_answers_in_si(run):
    code, out, _ = run("calc", "pipe-full-flow", "diameter=12 in", "roughness_n=0.013", "slope=1 %", "--json")
    assert code == 0 and json.loads(out)["discharge"] == pytest.approx(3.56 * 0.3048**3, rel=0.005)
    assert "discharge" in run("calc", "pipe-full-flow", "diameter=12 in", "roughness_n=0.013", "slope=1 %")[1]
    assert (
        json.loads(
            run("calc", "uscs", "gradation=4.75 mm:92, 0.075 mm:18", "liquid_limit=0", "plasticity_index=0", "--json")[
                1
            ]
        )["d10"]
        is None
    )


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["calc", "pipe-full-floww"], "did you mean pipe-full-flow"),
        (["calc", "kirpich", "length=1 m"], "slope is missing"),
        (["calc", "kirpich", "length=1 m", "slope=1 %", "x=2"], "x is not a key"),
        (["calc", "kirpich", "length=1 m", "length=2 m"], "length is given twice"),
        (["calc", "kirpich", "length"], "must read key=value"),
        (["calc", "kirpich", "length=nan", "slope=1"], "length must be a finite number"),
        (["calc", "kirpich", "length=1 s", "slope=1"], "length takes a value of length"),
        (["calc", "storm-release", "area=-5", "rain_depth=1", "share_to_drain=1", "release_time=1"], "area must not be less than 0"),
        (["calc", "footing-clearance", "trench_depth=4 ft", "footing_depth=2 ft", "distance=1e308"], "beyond all numbers in ft"),
        (["calc", "pipe-full-flow", "diameter=1", "roughness_n=0.5", "slope=0.01"], "roughness_n must be between 0.005 and 0.1"),
        (["calc", "--jsn"], "--jsn is not known to weirant calc; did you mean --json"),
        (["calc", "--stdin", "kirpich"], "beside --stdin"),
        (["check"], "missing: JOB; weirant check --help"),
        (["check", "a", "b"], "b is not known to weirant check"),
        (["chek", "demo"], "no command and no file that is there; did you mean check"),
        (["nowhere.weirant"], "no command and no file"),
        (["demo", "demo"], "one word too many"),
        (["grade", "demo", "--every=0"], "must be at least 1.0 ft"),
        (["grade", "demo", "--every", "-5 ft"], "must be at least 1.0 ft"),
        (["cutsheet", "demo", "-o", "x.csv", "--step=1e-9"], "step must be at least 2 in"),
        (["check", "/dev/zero"], "it is a device, no plain file"),
        (["check", "nowhere.weirant"], "cannot be read"),
        (["report", "demo"], "missing: -o/--output"),
        (["schema", "x"], "x is not known to weirant schema"),
        (["--colour"], "--colour is not known"),
    ],
)
def test_bad_calls_get_code_2_and_one_line(run, arguments, says):
    code, out, err = run(*arguments)
    assert code == 2 and says in err and out == "" and err.count("\n") == 1


def test_stdin_answers_line_by_line(run, monkeypatch):
    lines = [
        {"name": "hazen", "args": {"d10": "0.2 mm", "coefficient": 100}},
        {"name": "hazen", "args": {"d10": "0.2 mm"}},
        {"name": "nothing"},
        [1],
    ]
    monkeypatch.setattr(
        "sys.stdin", io.StringIO("\n".join([*map(json.dumps, lines), "{", "", '{"name":"hazen","args":7}']))
    )
    code, out, _ = run("calc", "--stdin")
    answers = [json.loads(line) for line in out.splitlines()]
    assert code == 2 and answers[0]["result"]["conductivity"] == pytest.approx(4e-4)
    assert ["error" in a for a in answers] == [False, True, True, True, True, True]
    assert "coefficient is missing" in answers[1]["error"] and "not JSON" in answers[4]["error"]


def test_check_tells_by_its_exit_code(run, job, tmp_path):
    path = tmp_path / "club.weirant"
    job_file.save(job, path)
    code, out, _ = run("check", path)
    assert code == 1 and out.startswith("fails") and "fix: Raise the outlet" in out
    job_file.save(with_value(job, "nodes.n1.outlet.water_level", None), path)
    assert run("check", path)[0] == 0
    path.write_text("{")
    code, out, err = run("check", path)
    assert code == 2 and out == "" and "damaged at line 1" in err


def test_check_as_json(run):
    code, out, _ = run("check", "demo", "--json")
    found = json.loads(out)
    worst = found["findings"][0]
    assert code == 1 and worst["state"] == "fails" and worst["margin"] == pytest.approx(-0.3 * 0.3048)
    assert worst["fixes"] and found["quantities"]["Dig"] > 5


def test_the_demo_with_its_roofs_fails_nowhere_and_each_of_its_waters_leaves(run):
    """Two roofs and a box at the low spot by the roof line, the slab's water by its pump; a plugged roof line is told."""
    code, out, _ = run("check", "demo:roofs", "--json")
    assert code == 0 and {f["state"] for f in json.loads(out)["findings"]} == {"holds", "tight", "unknown"}
    code, out, _ = run("flow", "demo:roofs", "--storm", "cloudburst")
    assert code == 0 and "pumped out of slab drain" in out and "stands over the grate of low spot" in out and out.count("no water is lost") == 3
    assert "leaves by roof line" not in run("flow", "demo:roofs", "--storm", "cloudburst", "--plug", "roof line")[1]


def test_cut_sheet_and_schema(run, tmp_path):
    assert run("cutsheet", "demo", "-o", tmp_path / "cuts.csv")[0] == 0
    assert (tmp_path / "cuts.csv").read_text().startswith("station_ft,")
    assert json.loads(run("schema")[1])["title"] == "Weirant job"
    assert run("--version")[1] == f"weirant {__version__}\n"
    code, out, err = run("--help")
    assert (code, err) == (0, "") and all(name in out for name in COMMANDS)


@pytest.mark.parametrize("name", COMMANDS)
def test_every_command_explains_itself(run, name):
    code, out, err = run(name, "--help")
    assert (code, err) == (0, "") and f"usage: weirant {name}" in out and "example:\n  weirant" in out and "70 an unexpected error" in out
    example = shlex.split(out.split("example:\n")[1].split(">")[0])  # what it shows can be taken apart by its own parser
    assert parser_of(COMMANDS[name]).parse_known_intermixed_args(example[2:])[1] == []


FT, GPM, DAY = 0.3048, 3.785411784e-3 / 60, 86400.0
DRAIN = "conductivity=1 m/day|head_far=4'|head_drain=1 ft|distance=20 ft"


@pytest.mark.parametrize(("typed", "key", "units"), [
    ("pipe-full-flow|diameter=4 in|roughness_n=0.012|slope=1/8 in per ft", "discharge", {"gpm": GPM}),
    ("pipe-full-flow|diameter=4 in|roughness_n=0.012|slope=1/8 in per ft", "velocity", {"ft/s": FT}),
    ("pipe-full-flow|diameter=100 mm|roughness_n=0.012|slope=1 %", "discharge", {"L/s": 1e-3}),
    (f"dupuit-inflow|{DRAIN}", "discharge_per_length", {"L/min/m": 1e-3 / 60, "gpm/100 ft": GPM / 100 / FT}),  # both systems where both were typed
    ("dupuit-table|head_far=4|head_drain=1|distance=20|place=10", "head", {"m": 1.0}),  # SI where nothing had a unit
    ("hooghoudt-equivalent-depth|spacing=40 ft|depth_to_barrier=6 ft|drain_radius=2 in", "equivalent_depth", {"ft": FT}),
    ("footing-clearance|trench_depth=4' 3\"|footing_depth=42 in|distance=10 in", "clearance", {"in": FT / 12}),
    ("sump|inflow=5 gpm|pump_discharge=20 gpm|pit_area=2 ft2|level_on=12 in|level_off=4 in", "cycle_time", {"min": 60.0}),
    ("interceptor-flow|conductivity=1 in/h|saturated_depth=3 ft|slope=5 %", "discharge_per_length", {"gpm/100 ft": GPM / 100 / FT}),
    ("hazen|d10=0.2 mm|coefficient=100", "conductivity", {"m/day": 1 / DAY}),
    ("granular-filter-limits|gradation=4.75 mm:100, 0.25 mm:85, 0.075 mm:60, 0.02 mm:15", "d15_max", {"mm": 1e-3}),
])  # fmt: skip
def test_calc_answers_in_the_units_that_were_typed(run, typed, key, units):
    code, out, err = run("calc", *typed.split("|"))
    said = next(line for line in out.splitlines() if line.startswith(f"{key} "))
    exact = json.loads(run("calc", *typed.split("|"), "--json")[1])[key]
    found = dict(re.findall(r"(?:\s\s|\()([\d.e-]+) ([^()]+)", said))
    assert code == 0 and err == "" and {unit.strip() for unit in found.values()} == set(units), said
    assert all(float(value) * units[unit.strip()] == pytest.approx(exact, rel=1e-5) for value, unit in found.items())


def test_outside_of_its_range_a_calculation_says_so(run):
    rough = ["calc", "pipe-full-flow", "diameter=4 in", "roughness_n=0.04", "slope=1 %"]
    code, out, err = run(*rough)
    assert code == 0 and "gpm" in out and "outside its range: Manning's n should be 0.008 to 0.035" in err
    assert json.loads(run(*rough, "--json")[1])["outside_range"] == ["Manning's n should be 0.008 to 0.035"]
    for sieves, is_outside in (("25 mm:100, 19 mm:40, 4.75 mm:12, 0.075 mm:6", True), ("25 mm:100, 4.75 mm:60, 2 mm:30, 0.5 mm:15, 0.075 mm:14, 0.05 mm:14", False)):
        limits = json.loads(run("calc", "granular-filter-limits", f"gradation={sieves}", "--json")[1])  # fines under much gravel ask two things at once
        assert (limits["d15_min"] > limits["d15_max"]) == is_outside == bool(limits["outside_range"])


@pytest.mark.parametrize("name", sorted(REGISTRY))
def test_alone_a_calculation_tells_what_it_needs_with_an_example_that_runs(run, name):
    code, out, _ = run("calc", name)
    example = next(line for line in out.splitlines() if line.startswith("Example: weirant "))
    assert code == 0 and "Holds for: " in out and "Source: " in out and all(f"\n  {key} " in out for key in REGISTRY[name].keys)
    again = run(*shlex.split(example.removeprefix("Example: weirant ")))
    assert again[0] == 0 and again[2] == "" and [line.strip() for line in again[1].splitlines()] == [line.strip() for line in out.split(example)[1].splitlines() if line.strip()]


@pytest.mark.parametrize(
    "arguments", [["calc", "kirpich", "length=100", "slope=0.05"], ["check", "demo"], ["schema"], ["--version"]]
)
def test_no_qt_for_figures(arguments):
    program = f"import sys; from weirant.cli.main import main; main({arguments!r}); sys.exit(any(m.startswith('PyQt6') for m in sys.modules))"
    done = subprocess.run(
        [sys.executable, "-c", program], env={"PYTHONPATH": str(SOURCE)}, stdout=subprocess.DEVNULL, check=False
    )
    assert done.returncode == 0


def test_grade_prints_levels_and_what_binds(capsys):
    assert main(["grade", "demo"]) == 0
    text = capsys.readouterr().out
    assert text.startswith("Dig 21.") and "slab drain passes over gas line" in text and "each 1 in costs" in text
    assert main(["grade", "demo", "--aim", "breaks", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["feasible"] and set(told["profiles"]) == {"slab drain", "roof line", "green drain", "green side"} and told["dig"] < told["dig_before"] * 1.2


def test_grade_offers_ways_out_where_there_is_none(job, tmp_path, capsys):
    steep = dataclasses.replace(job, limits=dataclasses.replace(job.limits, least_slope=0.03, least_slope_solid=0.03))
    job_file.save(steep, tmp_path / "steep.weirant")
    assert main(["grade", str(tmp_path / "steep.weirant"), "--json"]) == 1
    told = json.loads(capsys.readouterr().out)
    assert not told["feasible"] and {"outlet"} in [set(r["gives"]) for r in told["relaxations"]] and "sump" in told["advice"]
    assert main(["grade", str(tmp_path / "steep.weirant")]) == 1 and "Accept a slope of" in capsys.readouterr().out


@pytest.mark.parametrize(("arguments", "says"), [
    (["grade"], "missing: JOB; weirant grade --help"), (["grade", "demo", "--aim", "beauty"], "--aim must be dig, breaks or depth"), (["grade", "demo", "--every"], "--every: needs a value"),
    (["grade", "demo", "--every", "3 gal"], "--every"), (["cutsheet", "demo", "-o", "x.doc"], "must end in .csv or .pdf"),
    (["cutsheet", "demo", "-o", "x.csv", "--run", "nowhere"], "run is not on this site, which has slab drain, roof line, green drain, green side: nowhere"),
])  # fmt: skip
def test_grade_and_cutsheet_refuse(arguments, says, capsys):
    assert main(arguments) == 2
    captured = capsys.readouterr()
    assert says in captured.err and captured.out == "" and "Traceback" not in captured.err


def test_cutsheet_of_a_run_as_csv_and_page(tmp_path, capsys):
    assert main(["cutsheet", "demo", "-o", str(tmp_path / "c.csv"), "--run", "green drain", "--step", "5 ft"]) == 0
    lines = (tmp_path / "c.csv").read_text().splitlines()
    assert lines[0].startswith("station_ft,ground_ft,invert_ft") and len(lines) > 14 and "tee to green side" in "".join(lines)
    assert main(["cutsheet", "demo", "-o", str(tmp_path / "c.pdf")]) == 0
    assert (tmp_path / "c.pdf").read_bytes().startswith(b"%PDF")


def test_simulate_tells_balance_times_and_lines(run, tmp_path):
    code, out, err = run("simulate", "demo", "--hours", "24", "--json")
    found = json.loads(out)
    assert code == 0 and err == "" and found["balance_error"] < 1e-5
    assert found["volumes"]["pipe"] == pytest.approx(sum(s["length"] * s["pipe"] for s in found["hydrograph"]))
    assert found["drain_starts"] > 0 and found["place"]["dry_after_rain"] < 24 * 3600
    assert len(found["water_table"]["across"]) == len(found["water_table"]["lines"][0]["depth"])
    halved = json.loads(run("simulate", "demo", "--hours", "12", "--check-cells", "--json")[1])
    assert halved["change_on_halved_cells"] < 0.05  # the demo's own section
    code, out, _ = run("simulate", "demo", "--hours", "24", "--without-drain")
    assert code == 1 and "never runs" in out and "wetter than 18.0 in for all of the 24 h" in out
    bare = json.loads(run("simulate", "demo", "--hours", "12", "--without-drain", "--json")[1])
    assert bare["before"]["measured"] == pytest.approx(bare["before"]["stands"], abs=0.05) and bare["volumes"]["used_by_plants"] == 0
    code, out, _ = run("check", "demo", "--storm")
    line = next(row for row in out.splitlines() if "Dry in time" in row)
    assert code == 1 and line.startswith("holds") and "at most 24.0 h" in line and "over the range of the soil" in line
    rain = tmp_path / "storm.csv"
    rain.write_text("time_h,depth_in\n1,0.5\n2,1.0\n")
    code, out, _ = run("simulate", "demo", "--storm", rain, "--station", "100 ft", "--hours", "1 day", "--csv", tmp_path / "out.csv")
    rows = (tmp_path / "out.csv").read_text().splitlines()
    assert code == 0 and out == "" and rows[0].startswith("time_h,rain_m2_per_s,pipe_m2_per_s") and rows[-1].startswith("24.0000,")


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["demo", "--storm", "flood"], "storm is not one of design storm"),
        (["demo", "--storm", "missing.csv"], "missing.csv cannot be read"),
        (["demo", "--station", "900 m"], "--station must lie on slab drain"),
        (["demo", "--station", "0 m"], "the pipe lies at the surface"),
        (["demo", "--hours", "1000000"], "--hours must be between"),
        (["demo", "--hours"], "--hours: needs a value"),
        (["demo", "--json", "--csv", "x.csv"], "--csv cannot stand beside --json"),
        ([], "missing: JOB"),
    ],
)
def test_simulate_refuses_in_one_line(run, arguments, says):
    code, out, err = run("simulate", *arguments)
    assert code == 2 and out == "" and says in err and err.strip().count("\n") == 0


def test_flow_tells_where_water_goes_and_stands_and_what_an_exit_that_is_plugged_turns_round(run, tmp_path):
    code, out, _ = run("flow", "pattern:footing", "--json")
    found = json.loads(out)
    leaves = {exit_["node"]: exit_["leaves"] for exit_ in found["exits"]}
    assert code == 0 and len(leaves) == 3 and all(row["stands"] == "part full" and row["flow_m3_per_s"] >= 0 for one in found["runs"] for row in one["stations"])
    code, out, _ = run("flow", "pattern:footing", "--plug", "n9", "--plug", "n10", "--csv", tmp_path / "flow.csv")
    rows = list(csv.DictReader(io.StringIO((tmp_path / "flow.csv").read_text())))
    south = [float(row["flow_m3_per_s"]) for row in rows if row["run"] == "south and east"]
    assert code == 0 and out == "" and south[0] < -1e-5 and max(float(row["surface_m"]) for row in rows if row["run"] == "exit 1") == pytest.approx(29.618, abs=0.01)
    code, out, _ = run("flow", "pattern:footing", "--plug", "n9", "--plug", "n10", "--json")
    assert json.loads(out)["exits"][0]["leaves"] == pytest.approx(sum(leaves.values()), rel=1e-6)
    code, out, err = run("flow", "pattern:footing", "--plug", "n9", "--plug", "n10", "--plug", "n11")
    assert code == 2 and out == "" and "n10 is the only way out of its part of the network" in err
    assert "towards its top" in run("flow", "pattern:footing", "--plug", "n9", "--plug", "n10")[1]


def test_flow_follows_a_storm_through_the_pipes_and_over_the_rims_of_what_is_plugged(run, tmp_path):
    code, out, _ = run("flow", "demo", "--storm", "cloudburst", "--hours", "12", "--json")
    found = json.loads(out)
    roof = next(part for part in found["parts"] if part["runs"][0]["name"] == "roof line")
    assert code == 0 and found["not_followed"] == [] and all(part["balance_error"] < 1e-9 for part in found["parts"])
    # 1.6 in on 1,800 ft² at 95 %: all of it comes, and is gone soon after the hour
    assert roof["came"] == pytest.approx(1.6 / 12 * 1800 * 0.95 * FT**3, rel=1e-3) and roof["left"] == pytest.approx(roof["came"], rel=1e-3) and 3600 < roof["empty_at"] < 5400
    rain = tmp_path / "burst.csv"
    rain.write_text("time_min,depth_mm\n10,20\n20,25\n30,5\n")
    code, out, _ = run("flow", "pattern:eave", "--storm", rain, "--hours", "6", "--plug", "n1")
    assert code == 1 and all(f"comes over the ground at box {k}" in out for k in range(1, 7))
    assert run("flow", "pattern:eave", "--storm", rain, "--csv", tmp_path / "leaves.csv")[:2] == (0, "")
    rows = list(csv.DictReader(io.StringIO((tmp_path / "leaves.csv").read_text())))
    moments = [0.0, *(float(row["time_h"]) * 3600 for row in rows)]
    left = sum((after - before) * float(row["leaves_m3_per_s"]) for before, after, row in zip(moments, moments[1:], rows, strict=False))
    assert left == pytest.approx(1749 * GPM * 60, rel=0.01)
    assert "drain: not followed until you have what runs into the inlet of drain" in run("flow", "pattern:uphill", "--storm", rain)[1]


@pytest.mark.parametrize(
    ("arguments", "says"),
    [(["demo", "--plug", "n99"], "--plug is no node of this job"), (["demo", "--json", "--csv", "a.csv"], "cannot stand beside --json"),
     (["pattern:footing", "--plug", "n2"], "n2 lets no water out; these do: n10, n11, n9"), (["demo", "--hours", "5"], "--hours needs a storm"),
     (["pattern:footing", "--storm", "design storm", "--plug", "n2"], "n2 lets no water out"), (["demo", "--storm", "drizzle"], "is not one of design storm")],
)
def test_flow_refuses_in_one_line(run, arguments, says):
    code, out, err = run("flow", *arguments)
    assert code == 2 and out == "" and re.search(says, err) and err.strip().count("\n") == 0


def test_what_was_printed_before_an_error_leaves_all_the_same():
    """A command ends without Python's own end, which would have written it."""
    program = "from weirant.cli import main as m\nm.main = lambda _: print('half of it') or 2\nm.start([])"
    done = subprocess.run([sys.executable, "-c", program], env={"PYTHONPATH": str(SOURCE)}, capture_output=True, text=True, check=False)
    assert (done.returncode, done.stdout) == (2, "half of it\n")


def test_an_unforeseen_error_has_its_own_code_one_line_and_its_trace_in_the_log(run, monkeypatch, tmp_path):
    monkeypatch.setattr("weirant.cli.job_commands.assess", lambda _, **__: {}["pipe"])
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    code, out, err = run("check", "demo")
    log = tmp_path / "weirant" / "trouble.log"
    assert code == UNEXPECTED and out == "" and err.count("\n") == 1 and "KeyError" in err and str(log) in err
    assert "Traceback" in log.read_text() and log.stat().st_mode & 0o077 == 0


@pytest.mark.parametrize(("shell", "code"), [("check demo >&-", 1), ("check demo --json >/dev/full", 2), ("schema >/dev/full", 2), ("calc kirpich length=100 slope=0.05 2>&- >&-", 0),
                                             ("check demo | head -n 1", 0)])  # fmt: skip
def test_streams_that_are_closed_or_full(shell, code, tmp_path):
    places = {"PYTHONPATH": str(SOURCE), "XDG_STATE_HOME": str(tmp_path)}
    done = subprocess.run(f"{shlex.quote(sys.executable)} -m weirant {shell}", shell=True, env=places, capture_output=True, text=True, check=False)
    assert done.returncode == code and "Traceback" not in done.stderr and "Exception ignored" not in done.stderr
    assert ("could not be written" in done.stderr) == (code == 2)


def test_an_ascii_terminal_gets_what_it_can_show_and_json_that_reads_back():
    for arguments, check in ((["check", "demo"], lambda out: out.startswith("fails")), (["check", "demo", "--json"], lambda out: "ü" not in out and json.loads(out)["findings"])):
        done = subprocess.run([sys.executable, "-m", "weirant", *arguments], env={"PYTHONPATH": str(SOURCE), "PYTHONIOENCODING": "ascii"}, capture_output=True, text=True, check=False)
        assert done.returncode == 1 and done.stderr == "" and check(done.stdout)


@pytest.mark.parametrize(("line", "says"), [(b'{"name": "kirpich", "args": {"length": ' + b"9" * 401 + b', "slope": 0.01}}', "length must be a finite number"),
                                            (b'{"name": "kirpich", "args": {"length": "' + b"9" * 5000 + b'/3", "slope": 0.01}}', "characters long"),
                                            (b"\xff\xfe{", "not JSON")])  # fmt: skip
def test_lines_of_stdin_that_once_ended_it(line, says):
    good = b'{"name": "hazen", "args": {"d10": 2e-4, "coefficient": 100}}'
    done = subprocess.run([sys.executable, "-m", "weirant", "calc", "--stdin"], env={"PYTHONPATH": str(SOURCE)}, input=line + b"\n" + good + b"\n", capture_output=True, check=False)
    answers = [json.loads(a) for a in done.stdout.splitlines()]
    assert done.returncode == 2 and done.stderr == b"" and says in answers[0]["error"] and "result" in answers[1]


def test_the_network_is_told_with_its_flow_and_a_broken_reference_with_its_subject(run, job, tmp_path):
    code, out, _ = run("network", "demo")
    assert code == 0 and "green side: joins green drain; collects to 86.0 ft" in out and "with green side" in out
    told = json.loads(run("network", "demo", "--json")[1])
    green, side = (next(r for r in told["runs"] if r["name"] == name) for name in ("green drain", "green side"))
    assert side["joins"] == [{"run": "r3", "station": pytest.approx(4.8768)}] and green["levels"][0]["flow"] > side["levels"][0]["flow"] > 0
    assert all(run["levels"][-1]["flow"] == 0 for run in told["runs"] if run["name"] != "roof line")  # nothing comes in at the top ends
    assert [(s["node"], s["missing"]) for s in told["sources"]] == [("n6", "")] and told["runs"][0]["collects"][0]["place"] == "t10" and green["soils"][0]["soil"] == "g1"
    assert next(n for n in told["nodes"] if n["id"] == "n7")["leaves"]["high"] == pytest.approx(green["levels"][0]["high"]) and told["faults"] == []
    low, joint = (next(n for n in told["nodes"] if n["id"] == node) for node in ("n1", "n7"))
    assert {"code": "outlet-level", "subject": "r1", "state": "fails"} in low["findings"] and low["runs"][0]["invert"] == pytest.approx(28.97124) and low["ground"] < low["runs"][0]["invert"]
    assert joint["passes"]["high"] == joint["leaves"]["high"] and joint["passes"]["at_least"] == "" and all(f["subject"] == "r3" for f in joint["findings"])
    met = {(n["id"], r["run"]): r["invert"] for n in told["nodes"] for r in n["runs"]}
    assert met == {(row["node"], r["id"]): pytest.approx(row["invert"], abs=1e-9) for r in told["runs"] for row in r["levels"]} and all(n["step"] < 0.1 for n in told["nodes"])
    solid, collects = told["runs"][0]["stretches"]
    assert (solid["solid"], solid["to"], collects["from"]) == (True, collects["from"], solid["to"]) and solid["comes"] >= collects["comes"] > 0 and solid["carries"] > solid["comes"]
    of_solid, of_collecting = ({f["code"] for f in stretch["findings"]} for stretch in (solid, collects))
    assert of_collecting >= {"retention", "cap", "intake"} and "capacity" in of_solid and collects["deepest"] > collects["least_cover"] > 0 > solid["least_cover"]
    slab = next(p for p in told["places"] if p["id"] == "t10")
    assert [s["run"] for s in slab["served"]] == ["r1"] and slab["served"][0]["distance"] == pytest.approx(9 * 0.3048)
    assert slab["table_depth"] == slab["served"][0]["table_depth"] > slab["dry_depth"] and {"table", "reach"} <= {f["code"] for f in slab["findings"]}
    job_file.save(with_value(job, "soils.g1.hard_layer_depth", None), tmp_path / "unknown.weirant")
    (slab,) = json.loads(run("network", str(tmp_path / "unknown.weirant"), "--json")[1])["places"]
    assert slab["table_depth"] is slab["served"][0]["table_depth"] is None and "auger a hole" in slab["served"][0]["missing"]
    job_file.save(dataclasses.replace(job, soils=(dataclasses.replace(job.soils[0], layers=(Layer("clay", None, Band(1e-8, 2e-8, 4e-8)),)),)), tmp_path / "clay.weirant")
    (slab,) = json.loads(run("network", str(tmp_path / "clay.weirant"), "--json")[1])["places"]
    assert slab["table_depth"] is slab["served"][0]["table_depth"] is None and slab["served"][0]["is_guess"]
    broken = json.loads(job_file.to_text(job))
    broken["job"]["runs"][2]["nodes"][1] = "n99"
    broken["job"]["as_built"] = [{"run": "r77", "station": 1.0, "level": 29.0}]
    (tmp_path / "b.weirant").write_text(json.dumps(broken))
    code, out, _ = run("network", tmp_path / "b.weirant", "--json")
    assert code == 1 and [(f["subject"], f["path"]) for f in json.loads(out)["faults"]] == [("r3", "job.runs[2].nodes"), ("r77", "job.as_built[0].run")]
    assert run("network", tmp_path / "b.weirant")[1].startswith("r3: green drain goes through node n99, which is not there")


def test_the_sheets_of_every_run_come_into_one_folder(run, job, tmp_path):
    named = with_value(with_value(job, "runs.r2.name", "a/b: c"), "runs.r3.name", "a_b_ c")
    far = dataclasses.replace(named, nodes=tuple(dataclasses.replace(n, x=900.0 + n.y) if n.id in ("n10", "n11") else n for n in named.nodes))
    job_file.save(far, tmp_path / "site.weirant")
    code = run("cutsheet", tmp_path / "site.weirant", "--all", "-o", tmp_path / "sheets")[0]
    assert code == 0 and {p.name for p in (tmp_path / "sheets").glob("*.pdf")} >= {"slab drain.pdf", "a_b_ c.pdf", "a_b_ c r3.pdf"} and len(list((tmp_path / "sheets").iterdir())) % 2 == 0
    (tmp_path / "file").write_text("in the way")
    for arguments, says in ((("-o", tmp_path / "file"), "cannot be made a folder"), (("-o", tmp_path / "x", "--run", "slab drain"), "cannot stand beside --all")):
        code, _, err = run("cutsheet", "demo", "--all", *arguments)
        assert code == 2 and says in err


def test_patterns_are_listed_written_and_taken_like_the_demo(tmp_path, capsys, monkeypatch):
    monkeypatch.chdir(tmp_path)
    assert main(["patterns"]) == 0 and capsys.readouterr().out.count("\n") == 12
    assert main(["patterns", "--json"]) == 0 and {p["key"] for p in json.loads(capsys.readouterr().out)} >= {"curtain", "ring"}
    assert main(["new", "swale"]) == 0 and main(["check", "swale.weirant"]) == main(["check", "pattern:swale"]) == 0
    capsys.readouterr()
    assert main(["new", "swale"]) == 2 and "is there already" in capsys.readouterr().err
    assert main(["new", "moat", "-o", "x.weirant"]) == 2 and "there are curtain, ring" in capsys.readouterr().err
    assert main(["network", "pattern:grid", "--json"]) == 0 and len(json.loads(capsys.readouterr().out)["runs"]) == 7
    assert main(["cutsheet", "pattern:old-drain", "-o", "cuts.csv", "--run", "new line"]) == 0 and "NOT SURVEYED" in Path("cuts.csv").read_text()
    assert main(["rules"]) == 0 and "29 CFR 1926.652(a)" in capsys.readouterr().out
    assert main(["rules", "--json"]) == 0 and next(r for r in json.loads(capsys.readouterr().out) if r["key"] == "freeboard")["value"] == pytest.approx(0.0508)
