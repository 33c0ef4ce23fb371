"""The printed sheet: one page, legible text, the right paper, and frames that fit."""

from __future__ import annotations

import dataclasses
import io
import re

import pypdf
import pytest
from PyQt6.QtCore import QPointF, QRectF

from weirant.cli.main import main
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.patterns import PATTERNS
from weirant.design.sheets import crew_cut_sheet
from weirant.drawing.primitives import Drawing
from weirant.drawing.profile import profile_drawing
from weirant.errors import InputError
from weirant.formats.cut_sheet_csv import write_cut_sheet
from weirant.formats.dxf import dxf
from weirant.job.soil import ROCK, Band, Layer
from weirant.outcome.finding import WAITS
from weirant.paper.cut_sheet import cut_sheet_pdf
from weirant.paper.frame import EXAGGERATIONS, fit
from weirant.paper.order_list import order_list_pdf
from weirant.paper.owner_sheet import owner_sheet_pdf
from weirant.paper.palette import DAYLIGHT, DIM, PRINT
from weirant.units.display import System
from weirant.words.pictures import section_words


@pytest.fixture(autouse=True)
def application(qapp):
    return qapp


def text_of(pdf: bytes) -> str:
    return " ".join(" ".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(pdf)).pages).split())


@pytest.mark.parametrize(
    ("units", "points", "dig"), [("imperial", (612, 792), "24.9 yd³"), ("metric", (595, 842), "19.03")]
)
def test_one_page_with_verdict_figures_and_cautions(job, units, points, dig):
    pdf = owner_sheet_pdf(assess(dataclasses.replace(job, units=units)))
    (page,) = pypdf.PdfReader(io.BytesIO(pdf)).pages
    assert (round(page.mediabox.width), round(page.mediabox.height)) == (
        pytest.approx(points[0], abs=1),
        pytest.approx(points[1], abs=1),
    )
    text = text_of(pdf)
    for words in (
        "Clubhouse slab drain",
        "2026-11-24",
        "1 thing fails",
        "Outlet above water",
        "heights ×",
        dig,
        "To mind",
        "protective system",
        "Assumed",
    ):
        assert words in text


def test_a_job_without_ground_still_prints(bare):
    assert "Ground not known" in text_of(owner_sheet_pdf(assess(bare)))


def test_a_run_that_lets_nothing_in_is_told_without_holes_and_without_what_it_does_not_take():
    """Its pipe is called as it is ordered, whatever holes the kind of it has that collects."""
    swale = assess(PATTERNS["swale"].job())
    (run,) = swale.job.runs
    for text in (text_of(owner_sheet_pdf(swale)), text_of(cut_sheet_pdf(swale, run.id, crew_cut_sheet(swale, run.id))), section_words(swale, run.id, 20.0), dxf(swale).decode()):
        assert "6 in (150 mm) smooth PVC, solid" in text and "holes" not in text and "Stone in place" not in text, text
    assert "Stone in place" in text_of(owner_sheet_pdf(assess(demo_job())))


def test_paper_does_not_say_that_something_is_being_worked_out(job):
    clay = assess(dataclasses.replace(job, soils=(dataclasses.replace(job.soils[0], layers=(Layer("clay", None, Band(1e-8, 2e-8, 4e-8)),)),)))
    assert any(f.case == WAITS for f in clay.findings) and "worked out" not in text_of(owner_sheet_pdf(clay))


def test_report_command(tmp_path, capsys):
    assert main(["report", "demo", "-o", str(tmp_path / "sheet.pdf")]) == 0
    assert (tmp_path / "sheet.pdf").read_bytes().startswith(b"%PDF")
    assert main(["report", "demo", "-o", str(tmp_path / "none" / "sheet.pdf")]) == 2
    assert "cannot be written" in capsys.readouterr().err


def test_frames_fit_and_turn_back(outcome):
    drawing, area = profile_drawing(outcome), QRectF(10, 20, 800, 250)
    frame = fit(drawing, area)
    assert frame.exaggeration in EXAGGERATIONS and frame.exaggeration > 1
    left, bottom, right, top = drawing.bounds
    for corner in ((left, bottom), (right, top)):
        at = frame.to_paper(corner)
        assert area.adjusted(-1, -1, 1, 1).contains(at)
        assert frame.to_world(at) == pytest.approx(corner)
    square = fit(Drawing((), (0, 0, 1, 1)), QRectF(0, 0, 300, 200))
    assert square.scale_x == square.scale_y == 200
    assert square.to_paper((0.5, 0.5)) == QPointF(150, 100)


def luminance(colour: str) -> float:
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


@pytest.mark.parametrize("palette", [DAYLIGHT, DIM, PRINT], ids=lambda p: p.name)
@pytest.mark.parametrize("ink", ["ink", "muted", "water", "rust", "ochre", "leaf"])
def test_contrast(palette, ink):
    """WCAG 2.1 §1.4.3: 4.5 to 1 for text, on paper and on panels."""
    for ground in (palette.paper, palette.panel, palette.field):
        high, low = sorted((luminance(getattr(palette, ink)), luminance(ground)), reverse=True)
        assert (high + 0.05) / (low + 0.05) >= 4.5, (ink, ground)


def test_the_cut_sheet_is_printed_with_joints_crossings_and_the_staff(job):
    feet = dataclasses.replace(job, survey=dataclasses.replace(job.survey, staff="feet and inches"))
    outcome = assess(feet)
    for name, step, pages, words in (("r3", None, 1, ("Cut sheet: green drain", "tee to green side", "NOT LOCATED", "10' 9", "Expose crossings by hand")),
                                     ("r1", 0.5, 3, ("Cut sheet: slab drain", "page 1 of 3", "gas line, pipe passes over", "Instrument stands at 104.32 ft"))):  # fmt: skip
        pdf = cut_sheet_pdf(outcome, name, crew_cut_sheet(outcome, name, step))
        text = text_of(pdf)
        assert len(pypdf.PdfReader(io.BytesIO(pdf)).pages) == pages and all(w in text for w in words), text
    metric = assess(dataclasses.replace(job, units="metric"))
    assert "2.885" in text_of(cut_sheet_pdf(metric, "r1", crew_cut_sheet(metric)))


def test_a_cut_sheet_from_made_up_levels_says_so_and_prints_no_rods(job):
    made_up = dataclasses.replace(job, survey=dataclasses.replace(job.survey, shots=tuple(dataclasses.replace(s, is_assumed=s.point == "G5") for s in job.survey.shots)))
    for one, says in ((job, False), (made_up, True)):
        outcome = assess(one)
        lines = crew_cut_sheet(outcome)
        page = pypdf.PdfReader(io.BytesIO(cut_sheet_pdf(outcome, "r1", lines))).pages[0].extract_text().replace("\t", " ")
        table = write_cut_sheet(lines, System.IMPERIAL, is_shot=one.survey.is_shot)
        rod = f"{lines[0].rod / 0.3048:.2f}"
        assert ("NOT SURVEYED" in page) == says == ("NOT SURVEYED" in table) == ("not shot" in page)
        assert (f"{lines[0].rod / 0.3048:.3f}" in table) != says and (rod in page) != says
        assert ("Instrument stands at" in page) != says
        assert ("nobody has shot them" in pypdf.PdfReader(io.BytesIO(owner_sheet_pdf(outcome))).pages[0].extract_text().replace("\t", " ").replace("\n", " ")) == says


def test_the_papers_are_small_and_the_owners_sheet_leaves_no_figure_out(job):
    """Every figure stands within the margins, with the longest list there is: of four runs, two pipes, three outlets; each paper under 300 kB."""
    outcome = assess(job)
    sheet = owner_sheet_pdf(outcome)
    page = pypdf.PdfReader(io.BytesIO(sheet)).pages[0]
    low: list[tuple[float, str]] = []
    page.extract_text(visitor_text=lambda text, cm, tm, *_: low.append((tm[5] * cm[3] + cm[5], text)) if text.strip() else None)
    assert "Spoil" in page.extract_text() and "Weirant" in page.extract_text() and min(y for y, _ in low) > 12 / 25.4 * 72 - 2
    assert len(sheet) < 300_000 and len(cut_sheet_pdf(outcome, "r1", crew_cut_sheet(outcome))) < 300_000


def test_client_and_contractor_stand_on_every_paper(job):
    named = assess(dataclasses.replace(job, client="Bowls committee (invented)", contractor="Weir and Sons (invented)"))
    for data in (owner_sheet_pdf(named), cut_sheet_pdf(named, "r1", crew_cut_sheet(named))):
        assert "for Bowls committee" in text_of(data) and "by Weir and Sons" in text_of(data)


def test_the_order_list_has_what_is_bought_and_says_where_the_job_is_not_ready(job, bare):
    text = text_of(order_list_pdf(assess(job)))
    assert "Cut list" in text and "78.0 ft (slab drain)" in text
    bought = ("Order list", "Stone", "11.4 ton", "No. 57", "Cloth", "needle-punched", "1 roll", "3 coils", "Not ready to order", "Spoil left over, loose", "Fittings and parts", "End cap")
    assert all(words in text for words in bought) and re.search(r"Of it in the hard layer\s+1\.4", text) and "solid rock" not in text, text
    rocky = dataclasses.replace(job.soils[0], hard_layer=ROCK, hard_layer_depth=0.2)
    assert re.search(r"Of it in solid rock\s+\d", text_of(order_list_pdf(assess(dataclasses.replace(job, soils=(rocky, *job.soils[1:]))))))
    with pytest.raises(InputError, match="shoot the grades first"):
        order_list_pdf(assess(bare))
    cut = text_of(cut_sheet_pdf(assess(job), "r1", crew_cut_sheet(assess(job))))
    assert "Private lines looked for: NOT ASKED" in cut and "Staff in decimal feet" in cut and "1 fails" in cut
