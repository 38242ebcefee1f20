"""Drawings on paper are to scale: lines measured in the PDF's own page description, in points of 1/72 inch.

The PDF page description language (ISO 32000-1, 8.5.2 path construction, 8.3.4 transformation matrices): "m" and "l" give
the corners of a path, "cm" the matrix from there to points.
"""

import re
from pathlib import Path

import numpy as np
import pytest
from pypdf import PdfReader

from even_stance.exchange.paper import Drawing, made_pdf, words
from even_stance.exchange.report import report_pdf
from even_stance.study.drawing import Path as Line
from even_stance.study.drawing import Round, Shape
from even_stance.study.floor import car_shapes
from even_stance.study.frame import view_frame
from even_stance.study.places import AxlePlace
from even_stance.vehicle.job import Job

POINTS_PER_MM = 72 / 25.4


def _strokes(path: Path, page: int = 0) -> list[np.ndarray]:  # type: ignore[type-arg]
    """Every two-point path of a page, in points."""
    raw = PdfReader(path).pages[page].get_contents().get_data().decode("latin-1")  # type: ignore[union-attr]
    stack, matrix, found, corners = [], np.eye(3), [], []
    for line in re.split(r"\s*\n\s*|(?<=[a-zA-Z*])\s+", raw):
        numbers = [float(n) for n in re.findall(r"-?\d*\.?\d+", line.rsplit(" ", 1)[0])] if " " in line else []
        command = line.rsplit(" ", 1)[-1]
        if command == "q":
            stack.append(matrix)
        elif command == "Q" and stack:
            matrix = stack.pop()
        elif command == "cm" and len(numbers) == 6:
            a, b, c, d, e, f = numbers
            matrix = np.array([[a, b, 0], [c, d, 0], [e, f, 1]]) @ matrix
        elif command in ("m", "l") and len(numbers) == 2:
            place = (np.array([*numbers, 1.0]) @ matrix)[:2]
            corners = [place] if command == "m" else [*corners, place]
        elif command in ("S", "s", "n", "B", "b", "f"):
            if len(corners) == 2:
                found.append(np.array(corners))
            corners = []
    return found


@pytest.mark.parametrize("width", [60.0, 170.0])
def test_a_meter_on_the_car_is_as_long_as_the_scale_says(trail_job: Job, tmp_path: Path, width: float) -> None:
    shapes: list[Shape] = [Line(((0.0, 0.0), (1000.0, 0.0)), "lower"), Line(((0.0, 0.0), (300.0, 400.0)), "upper"),
                           Round((500.0, 200.0), 100.0, "tire")]  # fmt: skip
    drawing = Drawing(shapes, (-100.0, 1100.0, -100.0, 600.0), width, 60.0, "us")
    path = tmp_path / "scale.pdf"
    path.write_bytes(made_pdf(trail_job, "scale", [words("x"), drawing]))
    lengths = [float(np.linalg.norm(s[1] - s[0])) for s in _strokes(path)]
    per_mm = POINTS_PER_MM / drawing.ratio
    text = PdfReader(path).pages[0].extract_text()
    bar, said = re.search(r"(\d+) in, 1:([\d.]+)", text).groups()  # type: ignore[union-attr]
    assert float(said) == drawing.ratio
    for mm in (1000.0, 500.0, 25.4 * int(bar)):  # the line, the 3-4-5 one, and the bar to measure by
        assert min(abs(length - mm * per_mm) for length in lengths) < 1e-3 * mm * per_mm
    # The whole window fits into its box, by the tighter of the two ways, at a scale that a rule has.
    tightest = max(1200.0 / width, 700.0 / 60.0)
    assert tightest <= drawing.ratio <= 1.5 * tightest
    assert drawing.ratio in (12, 15, 16, 20, 24, 25)


def test_links_of_the_report_are_to_the_scale_that_stands_below_them(trail_job: Job, tmp_path: Path) -> None:
    """Side view of the rear axle: each link's length on paper times the printed scale is its length on the car."""
    path = tmp_path / "report.pdf"
    path.write_bytes(report_pdf(trail_job))
    axle = trail_job.vehicle.axle("rear")
    page = next(i for i, p in enumerate(PdfReader(path).pages) if "Side, from the left" in p.extract_text())
    text = PdfReader(path).pages[page].extract_text()
    printed = float(re.search(r"Side, from the left, front to the left; 1:([\d.]+)", text)[1].rstrip("."))  # type: ignore[index]
    drawn = [float(np.linalg.norm(s[1] - s[0])) / POINTS_PER_MM * printed for s in _strokes(path, page)]
    for name in ("Upper left", "Lower left"):
        a, b = (np.array(m.at.xyz) for m in axle.member(name).mounts.values())
        seen = float(np.linalg.norm((a - b)[[0, 2]]))
        assert min(abs(d - seen) / seen for d in drawn) < 0.001, name


def test_paper_and_window_draw_the_same_list(trail_job: Job) -> None:
    """One draw list, two back ends: what the floor shows is what the paper is given."""
    axle = trail_job.vehicle.axle("rear")
    places = [AxlePlace(a, None) for a in trail_job.vehicle.axles]
    for view in ("side", "plan", "rear"):
        shapes = car_shapes(trail_job.vehicle, places, view, "rear")
        h0, h1, v0, v1 = view_frame(trail_job.vehicle, axle, view, False)
        assert h1 > h0
        assert v1 > v0
        inside = [s for s in shapes if isinstance(s, Line) and s.style in ("upper", "lower")]
        for line in inside:
            for h, v in line.places:
                assert h0 <= h <= h1
                assert v0 <= v <= v1
