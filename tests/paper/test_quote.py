"""The quote on paper and as a workbook: the same figures as on the screen, formulas that follow what is typed over, text that stays text."""

from __future__ import annotations

import dataclasses
import io
import re
from decimal import ROUND_HALF_UP, Decimal

import openpyxl
import pypdf
import pytest

from weirant.cli.main import main
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.offer import options_of, priced_option
from weirant.design.order import order_of
from weirant.design.patterns import PATTERNS, pattern
from weirant.errors import InputError
from weirant.formats import job_file
from weirant.formats.price_list import open_price_list, read_price_list
from weirant.formats.quote_xlsx import quote_xlsx
from weirant.job import Job
from weirant.job.part_rules import OwnPart, PartRules
from weirant.job.paths import with_value
from weirant.paper.quote_sheet import quote_pdf
from weirant.words.order import money_words

PRICES = open_price_list("larkmead")


class Sums:
    """A workbook's formulas worked out as a spreadsheet would, from its own cells."""

    def __init__(self, data, at=0, **over):
        self.sheet, self.over = openpyxl.load_workbook(io.BytesIO(data)).worksheets[at], over

    def __getitem__(self, cell):
        value = self.over.get(cell, self.sheet[cell].value)
        if not isinstance(value, str) or not value.startswith("="):
            return Decimal(str(value or 0))
        words = re.sub(r"SUM\((\w)(\d+):\w(\d+)\)", lambda m: "+".join(f"self['{m[1]}{n}']" for n in range(int(m[2]), int(m[3]) + 1)), value[1:])
        words = re.sub(r"(?<![\w'])([A-Z]\d+)(?![\w'])", r"self['\1']", words).replace("ROUND(", "up(")
        return eval(words, {"self": self, "up": lambda x, _: x.quantize(Decimal("0.01"), ROUND_HALF_UP)})  # the workbook is our own

    def price(self):
        return self[f"F{self.sheet.max_row}"]


@pytest.mark.parametrize("name", ["larkmead", "moorgrundel"])
def test_a_workbook_comes_to_what_is_told_and_follows_what_is_typed_over(name):
    option = priced_option("as drawn", assess(demo_job()), open_price_list(name))
    data = quote_xlsx((option,))
    assert Sums(data).price() == option.quote.sums[-1][1]
    row = next(n for n, cells in enumerate(Sums(data).sheet.iter_rows(values_only=True), 1) if cells[1] == "No. 57, 1 in to No. 4 stone")
    dearer = Sums(data, **{f"E{row}": 100})
    assert dearer[f"F{row}"] == Decimal("11.4" if name == "larkmead" else str(Sums(data)[f"C{row}"])) * 100 and dearer.price() > option.quote.sums[-1][1]
    bill = openpyxl.load_workbook(io.BytesIO(data)).worksheets[1]
    assert bill.max_row == len(option.bill.rows) + 1 and {row[4].value for row in list(bill.rows)[1:]} == {run.name for run in demo_job().runs}


@pytest.mark.parametrize("spoil", ["hauled away", "spread on the left"])
def test_the_workbook_of_a_take_off_adds_up_the_rows_it_shows(spoil, tmp_path, capsys):
    job = dataclasses.replace(with_value(demo_job(), "work.spoil", spoil), parts=PartRules((), (OwnPart("own-x", "=1+1 *", "end", 2.0),)))
    (tmp_path / "job.weirant").write_text(job_file.to_text(job))
    assert main(["takeoff", str(tmp_path / "job.weirant"), "--xlsx", str(tmp_path / "job.xlsx")]) == 0
    sheet, rows = openpyxl.load_workbook(tmp_path / "job.xlsx").worksheets
    outcome = assess(job)
    lines = order_of(outcome)
    for number, line in enumerate(lines, 2):
        assert (sheet[f"B{number}"].value, sheet[f"B{number}"].data_type) == (line.name, "s")
        told = sheet[f"C{number}"].value
        if isinstance(told, str):  # as a spreadsheet does it: every row alike in its first two cells
            first, last = map(int, re.search(r"\$C\$(\d+):\$C\$(\d+)\)$", told).groups())
            assert f"=A{number})" in told and f"=B{number})" in told and (first, last) == (2, rows.max_row)
            told = sum(rows[f"C{n}"].value for n in range(first, last + 1) if [rows[f"{c}{n}"].value for c in "AB"] == [sheet[f"{c}{number}"].value for c in "AB"])
        assert told == pytest.approx(line.needed), line.name
    assert sheet.max_row == len(lines) + 1
    capsys.readouterr()
    assert main(["takeoff", "demo", "--csv"]) == 0 and capsys.readouterr().out.startswith("what,item,name,needed")
    for wrong in ("--json", "--per-100ft", "--csv"):
        assert main(["takeoff", "demo", "--xlsx", str(tmp_path / "no.xlsx"), wrong]) == 2 and "cannot stand beside" in capsys.readouterr().err
    assert main(["takeoff", "demo", "--xlsx", str(tmp_path / "no.doc")]) == 2 and "must end in .xlsx" in capsys.readouterr().err
    assert not list(tmp_path.glob("no.*"))


def test_no_name_runs_as_a_formula():
    job = with_value(demo_job(), "runs.r1.name", '=HYPERLINK("x")')
    prices = read_price_list('item,per,price,supplier\nno-57,ton,38,"=1+1"\n', "x")
    for sheet in openpyxl.load_workbook(io.BytesIO(quote_xlsx((priced_option("=2", assess(job), prices),) * 2))).worksheets:
        formulas = {cell.value for row in sheet.iter_rows() for cell in row if cell.data_type == "f"}
        assert all(re.fullmatch(r"=(ROUND|SUM|\(|B\d+-|'(Quote|Way \d)'!)[-+*/()A-Z\d,:.]*", words) for words in formulas)


def test_ways_stand_side_by_side_in_a_workbook_and_follow_their_own_sheets():
    prices = open_price_list("larkmead")
    drawn, bare = (priced_option(name, assess(job), prices) for name, job in (("as drawn", demo_job()), ("bare", with_value(demo_job(), "sections.s1.wrap", "none"))))
    data = quote_xlsx((drawn, bare))
    side = openpyxl.load_workbook(io.BytesIO(data))["Side by side"]
    title, cell = re.fullmatch(r"='(.+)'!(F\d+)", side["B3"].value).groups()
    assert Sums(data, 1)[cell] == bare.quote.sums[-1][1] != drawn.quote.sums[-1][1] and title == "Way 2" and side["C3"].value == "=B3-B2"
    assert side["A3"].value == "bare" and "worse" in side["F3"].value and not side["F2"].value


def text_of(data):
    reader = pypdf.PdfReader(io.BytesIO(data))
    return len(reader.pages), " ".join(" ".join(page.extract_text() for page in reader.pages).split())


@pytest.mark.parametrize("key", ["", *sorted(PATTERNS)])
def test_two_pages_tell_the_price_and_what_is_not_in_it(key):
    job: Job = pattern(key).job() if key else demo_job()
    option = priced_option("as drawn", assess(job), PRICES)
    pages, words = text_of(data := quote_pdf((option,)))
    assert pages == 2 and len(data) < 300_000 and money_words(option.quote.sums[-1][1]) in words and "Not in the price" in words and "30 days" in words
    assert ("nobody knows theirs yet" in words) == bool(option.quote.missing)


EARTH = ("Spoil to haul away", "hauling away what is left", "of spoil at the trench, feathered")


@pytest.mark.parametrize(("spoil", "lacks", "says"), [("hauled away", "", EARTH[0]), ("hauled away", "spoil", EARTH[1]), ("spread on the left", "", EARTH[2])])
def test_the_owner_is_told_what_becomes_of_the_earth(spoil, lacks, says):
    prices = dataclasses.replace(PRICES, prices={item: price for item, price in PRICES.prices.items() if item != lacks})
    _, words = text_of(quote_pdf((priced_option("as drawn", assess(with_value(demo_job(), "work.spoil", spoil)), prices),)))
    assert [told for told in EARTH if told in words] == [says]


def test_other_ways_stand_beside_it_with_what_they_spoil(tmp_path, capsys):
    demo, bare = assess(demo_job()), assess(with_value(demo_job(), "sections.s1.wrap", "none"))
    first, other = options_of(priced_option("as drawn", demo, PRICES), [("bare stone", bare)])
    less = first.quote.sums[-1][1] - other.quote.sums[-1][1]
    assert less > 0 and "soil-stone" in {f.code for f in other.spoils(first)} and not first.spoils(first)
    job_file.save(bare.job, tmp_path / "bare.weirant")
    assert main(["quote", "demo", "--prices", "larkmead", "-o", str(tmp_path / "q.pdf"), "--option", f"bare stone={tmp_path / 'bare.weirant'}"]) == 0
    _, words = text_of((tmp_path / "q.pdf").read_bytes())
    assert f"{money_words(less)} less" in words and "worse: Stone against soil" in words
    for wrong in (["-o", "q.doc"], ["-o", str(tmp_path / "x.pdf"), "--option", "nameless"], ["-o", str(tmp_path / "x.pdf"), "--run", "slab drain"],
                  ["-o", str(tmp_path / "x.pdf"), "--method", "spoon"]):
        assert main(["quote", "demo", "--prices", "larkmead", *wrong]) == 2
    assert not (tmp_path / "x.pdf").exists()
    with pytest.raises(InputError, match="shoot the grades"):
        priced_option("x", assess(with_value(with_value(demo_job(), "survey.shots", ()), "points", ())), PRICES)
