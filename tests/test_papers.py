"""What leaves the app: DXF read back with ezdxf, CSV with units, PDF pages read back as text, and the command line."""

import csv
import io
import sys
from pathlib import Path

import ezdxf
import numpy as np
import pytest
from pypdf import PdfReader

from even_stance.__main__ import main
from even_stance.errors import InputError, JobFileError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.dxf import LAYERS, drawing_dxf
from even_stance.exchange.jobfile import dump_job
from even_stance.exchange.paper import Drawing, Setup
from even_stance.exchange.paperlabels import Box, clear_place
from even_stance.exchange.papers import PAPERS, paper_of, write_paper
from even_stance.exchange.points import points_csv, read_points
from even_stance.exchange.report import report_pdf
from even_stance.exchange.tables import sweep_csv
from even_stance.exchange.typeface import TEXT, runs, typeface
from even_stance.judgement.findings import CAUTIONS
from even_stance.judgement.verdicts import judge
from even_stance.shop.points import known_points
from even_stance.study.drawing import Path as Path_
from even_stance.study.figures import study_axle
from even_stance.study.travel import SWEEPS, study_sweep, sweep_postures
from even_stance.vehicle.edits import move_by, set_job
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import Rod
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.variants import branch_off


def test_dxf_reads_back_true_to_size_on_its_layers(rock_job: Job, tmp_path: Path) -> None:
    path = tmp_path / "rig.dxf"
    path.write_bytes(drawing_dxf(rock_job))
    drawing = ezdxf.readfile(path)
    assert drawing.units == 4  # millimeters
    assert not drawing.audit().has_errors
    assert set(LAYERS) <= {layer.dxf.name for layer in drawing.layers}
    space = drawing.modelspace()
    used = {e.dxf.layer for e in space}
    assert {"LOWER_LINKS", "UPPER_LINKS", "AXLES", "TIRES", "FRAME", "JOINTS"} <= used
    for layer, role in (("LOWER_LINKS", "lower"), ("UPPER_LINKS", "upper")):
        drawn = []
        for line in space.query(f'LWPOLYLINE[layer=="{layer}"]'):
            points = np.array([p[:2] for p in line.get_points()])
            drawn.append(float(np.linalg.norm(points[-1] - points[0])))
        for axle in rock_job.vehicle.axles:
            for m in axle.members:
                if isinstance(m, Rod) and m.role == role:
                    a, b = np.array(m.chassis.at.xyz), np.array(m.axle.at.xyz)
                    for seen in ((0, 2), (0, 1)):  # side and plan
                        wanted = float(np.linalg.norm((a - b)[list(seen)]))
                        assert min(abs(d - wanted) for d in drawn) < 1e-6, (m.name, seen)
    radius = rock_job.vehicle.axles[0].tire.free_diameter_mm / 2
    assert any(abs(c.dxf.radius - radius) < 1e-9 for c in space.query('CIRCLE[layer=="TIRES_BUMP"]'))


def test_points_go_out_and_come_back(coupe_job: Job, tmp_path: Path) -> None:
    path = tmp_path / "points.csv"
    path.write_text(points_csv(coupe_job.vehicle), encoding="utf-8-sig")
    back = read_points(path)
    known = known_points(coupe_job.vehicle)
    assert [k.name for k in back] == [k.name for k in known]
    for one, other in zip(back, known, strict=True):
        assert one.point.xyz == pytest.approx(other.point.xyz, abs=6e-4)
    path.write_text(points_csv(coupe_job.vehicle).replace(",", ";"), encoding="utf-8")  # as some spreadsheets save it
    assert len(read_points(path)) == len(known)


@pytest.mark.parametrize("kind", SWEEPS)
def test_a_sweep_as_a_table_has_units_and_the_same_numbers(rock_job: Job, kind: str) -> None:
    axle = rock_job.vehicle.axle("rear")
    answers = study_sweep(rock_job.vehicle, axle, kind)  # type: ignore[arg-type]
    left, right = sweep_postures(axle, kind)  # type: ignore[arg-type]
    assert {"bump": np.array_equal(left, right), "roll": np.array_equal(left, -right), "left": not right.any(),
            "right": not left.any(), "cross": (np.diff(left) > 0).all() and (np.diff(right) < 0).all()}[kind]  # fmt: skip
    for system, per in (("us", 25.4), ("metric", 1.0)):
        rows = list(csv.DictReader(io.StringIO(sweep_csv(answers, system))))  # type: ignore[arg-type]
        unit = "in" if system == "us" else "mm"
        assert len(rows) == 61
        for i in (0, 30, 60):
            assert float(rows[i][f"left_{unit}"]) * per == pytest.approx(answers.left[i], abs=0.01)
            assert float(rows[i][f"roll_center_{unit}"]) * per == pytest.approx(
                answers.value("roll_center_mm", i), abs=0.01
            )
            assert float(rows[i]["anti_squat_pct"]) == pytest.approx(answers.value("anti_squat_pct", i), abs=1e-4)


def _text(path: Path) -> str:
    return " ".join(" ".join(page.extract_text() for page in PdfReader(path).pages).split())


def test_report_says_what_the_screen_says(coupe_job: Job, tmp_path: Path) -> None:
    job = branch_off("bar up", move_by(Spot("rear", "Panhard", "axle"), 0.0, 0.0, 25.4)).apply(coupe_job)
    job = set_job("d", decision="Built with the bar up: rides the same, steers less.").apply(job)
    path = tmp_path / "coupe.pdf"
    path.write_bytes(report_pdf(job))
    text = _text(path)
    study = study_axle(job.vehicle, job.vehicle.axle("rear"), 0.0, 0.0)
    for verdict in judge(job, study):
        assert verdict.title in text
        assert verdict.reading("us") in text
        assert verdict.band_words("us") in text
    for wanted in ("Juniper street coupe", "Variant “bar up”", "Built with the bar up", "Panhard axle end 1 in up",
                   "one of 6 readings does not belong", "Gillespie", "1:20", "What this rests on"):  # fmt: skip
        assert wanted in text, wanted
    for caution in CAUTIONS:
        assert caution in text
    assert "■" not in text
    assert "safe" not in text.replace("safely", "")


def test_measuring_sheet_has_every_step_and_room_to_write(rock_job: Job, tmp_path: Path) -> None:
    path = tmp_path / "sheet.pdf"
    write_paper(rock_job, "measuring-sheet", path)
    text = _text(path)
    for wanted in ("Measuring sheet", "Wheelbase, both sides", "Diagonals", "Upper left, frame end", "Pinion yoke, rear",
                   "________", "mm", "Springs, air bags and limit straps"):  # fmt: skip
        assert wanted in text, wanted


@pytest.mark.parametrize("what", PAPERS)
def test_papers_of_odd_jobs_and_bad_folders(what: str, trail_job: Job, tmp_path: Path) -> None:
    bare = trail_job.vehicle.axle("rear").model_copy(update={"members": ()})
    loose = trail_job.vehicle.axle("rear").model_copy(update={"members": trail_job.vehicle.axle("rear").members[:2]})
    for n, axle in enumerate((bare, loose)):
        if what == "driveshaft-order":  # nothing holds the axle, so that its shaft has no length over travel
            continue
        vehicle = trail_job.vehicle.model_copy(update={"axles": (trail_job.vehicle.axles[0], axle)})
        job = trail_job.model_copy(update={"vehicle": vehicle, "name": "Ünïcödé 車 <&> job"})
        write_paper(job, what, tmp_path / f"{what}{n}")
        assert (tmp_path / f"{what}{n}").stat().st_size > 300
    with pytest.raises(JobFileError, match="could not be written"):
        write_paper(trail_job, what, tmp_path / "nowhere" / "x")
    with pytest.raises(InputError, match="there is no “poem”"):
        write_paper(trail_job, "poem", tmp_path / "x")


def test_papers_from_the_command_line(
    trail_job: Job, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    job = tmp_path / "pickup.stance"
    job.write_text(dump_job(trail_job), encoding="utf-8")
    monkeypatch.setattr(sys, "argv", ["even-stance", "paper", "drawing", str(job), str(tmp_path / "out.dxf")])
    assert main() == 0
    assert (tmp_path / "out.dxf").exists()
    monkeypatch.setattr(sys, "argv", ["even-stance", "paper", "report", str(job), str(tmp_path / "no" / "out.pdf")])
    assert main() == 4
    assert "could not be written" in capsys.readouterr().err


# --- what every paper has


def _pages(raw: bytes) -> list[str]:
    return [page.extract_text() for page in PdfReader(io.BytesIO(raw)).pages]


@pytest.mark.parametrize(
    "what", [w for w in PAPERS if w not in ("drawing", "points", "shopping-table", "templates-drawing")]
)
def test_every_page_says_of_what_file_and_day_it_is_in_embedded_type(what: str, trail_job: Job) -> None:
    job = demo_jobs()[0]
    raw = paper_of(job, what, Setup(file="saltbush 車.stance", on="2026-02-03"))
    for text in _pages(raw):
        assert "2026-02-03, Even Stance" in text
        assert "saltbush" in text
        assert "?" not in text.split("Even Stance")[0].split("stance,")[0][-12:]
    for page in PdfReader(io.BytesIO(raw)).pages:
        fonts = page["/Resources"].get("/Font", {})  # type: ignore[union-attr]
        for name, font in fonts.items():
            about = font.get_object()
            kept = about.get("/FontDescriptor")
            drawn = kept is not None and any(k in kept.get_object() for k in ("/FontFile", "/FontFile2", "/FontFile3"))
            named = str(about["/BaseFont"])
            # Reportlab names the printer's own Helvetica on every page and we write nothing in it.
            assert drawn or named == "/Helvetica" or about["/Subtype"] == "/Type0", (name, named)


def test_names_in_any_script_are_on_paper(trail_job: Job) -> None:
    for name in ("Ünïcödé łąka", "Пикап с рычагами", "Αυτοκίνητο", "四連桿 車", "ピックアップ", "픽업 트럭"):
        job = trail_job.model_copy(update={"name": name})
        said = " ".join(_pages(paper_of(job, "order-of-work"))).replace(" ", "")
        assert name.replace(" ", "") in said


def test_papers_are_letter_or_a4_as_chosen_and_drawings_true_to_a_round_scale(trail_job: Job) -> None:
    for size, points in (("letter", (612, 792)), ("a4", (595, 842)), ("", (612, 792))):
        page = PdfReader(io.BytesIO(paper_of(trail_job, "report", Setup(size=size)))).pages[0]  # type: ignore[arg-type]
        assert (round(float(page.mediabox.width)), round(float(page.mediabox.height))) == points
    shapes = [Path_(((0.0, 0.0), (1000.0, 0.0)), "upper", 40.0)]
    drawing = Drawing(shapes, (-100.0, 1100.0, -200.0, 200.0), 178, 58, "metric")
    assert drawing.ratio == 8.0  # 1,200 mm on 178 mm want 6.7: the next round one
    assert drawing.scale_words == "1:8"


def test_the_report_has_all_of_the_car_and_no_nearly_empty_last_page() -> None:
    for number, wanted in ((0, ("Driveline at ride height", "Springs at ride height", "Tightest gaps", "Cut list", "ride height")),
                           (1, ("Driveline at ride height", "Springs at ride height"))):  # fmt: skip
        pages = _pages(paper_of(demo_jobs()[number], "report"))
        text = " ".join(pages)
        for words in wanted:
            assert words in text, words
        assert len(pages[-1].split("\n")) >= 8


def test_scale_bars_are_in_the_units_of_the_job(trail_job: Job) -> None:
    """Bars of the measuring sheet were in inches on a metric job."""
    for units, mine, other in (("us", " in, 1:", " mm, 1:"), ("metric", " mm, 1:", " in, 1:")):
        text = " ".join(_pages(paper_of(trail_job.model_copy(update={"units": units}), "measuring-sheet")))
        assert mine in text
        assert other not in text


def test_words_on_drawings_lie_clear_of_links_and_of_each_other() -> None:
    stroke = (0.0, 50.0, 100.0, 50.0, 4.0)
    taken: list[Box] = []
    for x in (20.0, 30.0, 40.0, 50.0):
        box = clear_place(x, 50.0, 24.0, 8.0, [stroke], taken, (0.0, 0.0, 100.0, 100.0))
        assert box[1] >= 54.0 or box[3] <= 46.0  # beside the link, not on it
        for other in taken:
            assert box[2] <= other[0] or other[2] <= box[0] or box[3] <= other[1] or other[3] <= box[1]
        taken.append(box)


def test_dxf_has_names_true_lengths_bolts_and_the_car_in_space(tmp_path: Path) -> None:
    job = demo_jobs()[0]
    path = tmp_path / "car.dxf"
    path.write_bytes(drawing_dxf(job))
    drawing = ezdxf.readfile(path)
    assert not drawing.audit().has_errors
    space = drawing.modelspace()
    named = {t.dxf.text for t in space.query('TEXT[layer=="LINK_NAMES"]')}
    assert {"Upper left", "Lower right"} <= named
    assert all("projection" in t.dxf.text for t in space.query('TEXT[layer=="TEXT"]') if "mm" in t.dxf.text)
    # Dimensions say what they measure in the drawing, and behind it the true length, pin to pin.
    said = {d.dxf.text for d in space.query("DIMENSION")}
    for d in space.query("DIMENSION"):
        assert float(d.dxf.text.split(" ")[0]) == pytest.approx(d.get_measurement(), abs=0.051)
    ends = {(m.name, e): np.array(m.mounts[e].at.xyz) for m in job.vehicle.axle("rear").members for e in m.mounts}
    true = float(np.linalg.norm(ends["Lower left", "chassis"] - ends["Lower left", "axle"]))
    assert any(words.endswith((f"(true {true:.1f})", f"{true:.1f}")) for words in said)
    assert {d.dxf.dimstyle for d in space.query("DIMENSION")} == {"EVEN_STANCE"}
    # Center lines and joints stand where they are on the car, in its own axes.
    lines = [(np.array(e.dxf.start), np.array(e.dxf.end)) for e in space.query('LINE[layer=="CENTERLINES_3D"]')]
    a, b = ends["Upper right", "chassis"], ends["Upper right", "axle"]
    assert min(np.abs(s - a).max() + np.abs(e - b).max() for s, e in lines) < 1e-6
    points = [np.array(p.dxf.location) for p in space.query('POINT[layer=="JOINTS_3D"]')]
    assert all(min(np.abs(p - at).max() for p in points) < 1e-6 for at in ends.values())
    # Bolts of their own size, square to their axes, about the joint.
    bolts = space.query('CIRCLE[layer=="BOLTS"]')
    sizes = {e.bolt.diameter_mm for p in job.vehicle.build.links for e in (p.first, p.second) if e.bolt is not None}
    assert bolts
    assert {round(2 * c.dxf.radius, 3) for c in bolts} <= {round(s, 3) for s in sizes}
    for circle in bolts:
        middle = np.array(circle.ocs().to_wcs(circle.dxf.center))
        assert min(np.abs(middle - at).max() for at in points) < 1e-6
    # Tires at full bump and full droop are no part of the car as it stands.
    for layer, way in (("TIRES_BUMP", 1), ("TIRES_DROOP", -1)):
        heights = [c.dxf.center.y for c in space.query(f'CIRCLE[layer=="{layer}"]')]
        assert heights
        assert all(min(way * (h - a.center[2]) for a in job.vehicle.axles) > 0 for h in heights)
    # Its points are read back as places on the car.
    found = read_points(path)
    assert len(found) == len(points)
    assert found[0].point.xyz == pytest.approx(tuple(points[0]), abs=1e-6)


def test_names_written_from_right_to_left_stand_on_paper_as_they_are_read() -> None:
    """Hebrew from its right end, Arabic joined: seen at its beginning, lam with alef as one, meem alone (Unicode chart
    FE70 to FEFF); figures keep their order."""
    typeface()
    assert runs("שלום 12") == [(TEXT, "12 םולש")]
    assert runs("سلام") == [(TEXT, "\ufee1\ufefc\ufeb3")]
    assert runs("Ada 12") == [(TEXT, "Ada 12")]
    job = set_job("Name", name="محور خلفي").apply(demo_jobs()[0])
    told = PdfReader(io.BytesIO(paper_of(job, "report"))).pages[0].extract_text()
    # Meem and hah joined, waw at their end, reh alone; the reader puts them back into the order they are said in.
    assert "\ufee3\ufea4\ufeee\ufead" in told
