"""Ways to get a point: they agree with each other, with exact geometry and with SciPy, and say what is wrong."""

import re
from pathlib import Path

import ezdxf
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import least_squares

from even_stance.errors import InputError, JobFileError, UnitMissingError
from even_stance.exchange.dxf import drawing_dxf
from even_stance.exchange.points import points_csv, read_points
from even_stance.exchange.tables import csv_text
from even_stance.mechanics.locating import spheres_meet, trilaterate
from even_stance.shop.points import Known, along_link, known_points, mirrored, offset_from, taped
from even_stance.vehicle.job import Job
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import all_spots

coordinate = st.floats(-3000.0, 3000.0)
PLACES = np.array([[0.0, 0.0, 0.0], [-1500.0, 500.0, 0.0], [-2800.0, -400.0, 120.0], [-900.0, -700.0, 600.0],
                   [-2000.0, 300.0, 900.0], [-400.0, 650.0, 300.0]])  # fmt: skip
KNOWN = [Known(f"mark {i + 1}", Point(x=p[0], y=p[1], z=p[2], sure=0.5)) for i, p in enumerate(PLACES.tolist())]


def _distances(x: float, y: float, z: float) -> list[float]:
    return [float(d) for d in np.linalg.norm(PLACES - (x, y, z), axis=1)]


@settings(max_examples=60, deadline=None)
@given(coordinate, st.floats(-900.0, 900.0), st.floats(150.0, 1500.0), st.integers(3, 6))
def test_any_mix_of_ways_gives_the_same_point(x: float, y: float, z: float, count: int) -> None:
    """Exact tapes from three to six marks, an offset, a link with its angles, and a mirror image twice."""
    target = np.array([x, y, z])
    # The three marks on the floor cannot tell above from below but for the rough place.
    near = Point(x=x + 40.0, y=y - 30.0, z=z + 50.0)
    found = taped(KNOWN[:count], _distances(x, y, z)[:count], near, 1.6).point.xyz
    off = offset_from(KNOWN[1], *(target - PLACES[1]), 1.0).point
    span = target - PLACES[0]
    length = float(np.linalg.norm(span))
    up = float(np.degrees(np.arcsin(span[2] / length)))
    out = float(np.degrees(np.arctan2(span[1], abs(span[0]))))
    link = along_link(KNOWN[0], length, up, out, span[0] >= 0, 1.0, 0.1).point
    twice = mirrored(Known("m", mirrored(Known("o", off)).point)).point
    for other in (found, off.xyz, link.xyz, twice.xyz):
        assert other == pytest.approx(tuple(target), abs=2e-3)


@settings(max_examples=40, deadline=None)
@given(coordinate, st.floats(-900.0, 900.0), st.floats(150.0, 1500.0), st.integers(0, 10_000))
def test_least_squares_is_that_of_scipy(x: float, y: float, z: float, seed: int) -> None:
    rng = np.random.default_rng(seed)
    distances = np.array(_distances(x, y, z)) + rng.normal(0, 2.0, 6)
    sure = rng.uniform(1.0, 4.0, 6)
    near = np.array([x, y, z]) + 20.0
    ours = trilaterate(PLACES, distances, sure, near)
    theirs = least_squares(lambda p: (distances - np.linalg.norm(PLACES - p, axis=1)) / sure, near, xtol=1e-14)
    assert ours.point == pytest.approx(theirs.x, abs=1e-3)
    covariance = np.linalg.inv(theirs.jac.T @ theirs.jac)
    assert ours.sure == pytest.approx(np.sqrt(np.diag(covariance)), rel=1e-3)


def test_spheres_meet_where_geometry_says() -> None:
    """A 3-4-5 box: from three corners of a 300 by 400 floor, the point 1200 above one corner (5-12-13 and 13-84-85)."""
    corners = np.array([[0.0, 0.0, 0.0], [300.0, 0.0, 0.0], [0.0, 400.0, 0.0]])
    both, gap = spheres_meet(corners, np.array([1200.0, np.hypot(300, 1200), np.hypot(400, 1200)]))
    assert gap == 0.0
    assert sorted(both[:, 2]) == pytest.approx([-1200.0, 1200.0])
    assert both[:, :2] == pytest.approx(np.zeros((2, 2)), abs=1e-9)


def test_sureness_is_that_of_many_draws() -> None:
    rng = np.random.default_rng(5)
    exact = np.array(_distances(-1400.0, 200.0, 500.0))
    sure = np.full(6, 1.6)
    found = trilaterate(PLACES, exact, sure, np.array([-1400.0, 200.0, 500.0]))
    drawn = [trilaterate(PLACES, exact + rng.normal(0, 1.6, 6), sure, found.point).point for _ in range(1500)]
    assert found.sure == pytest.approx(np.std(drawn, axis=0), rel=0.08)


def test_the_bad_tape_is_pointed_out() -> None:
    distances = _distances(-1400.0, 200.0, 500.0)
    distances[3] += 25.4
    near = Point(x=-1400.0, y=200.0, z=500.0)
    found = taped(KNOWN, distances, near, 1.6)
    assert found.suspect == 3
    assert "mark 4 disagrees with all others" in found.words
    four = taped(KNOWN[:4], distances[:4], near, 1.6)
    assert four.suspect == -1
    assert "fifth point" in four.words
    good = taped(KNOWN, _distances(-1400.0, 200.0, 500.0), near, 1.6)
    assert good.words == "6 tapes agree to 0 in."


@pytest.mark.parametrize(
    ("count", "change", "words"),
    [
        (2, {}, "only 2 distances"),
        (3, {0: 0.0}, "is no distance"),
        (3, {0: 200.0, 1: 200.0}, "too short to meet"),
        (3, {2: 9000.0}, "too long for the other two"),
        (3, {0: 1500.0, 1: 1300.0, 2: 1520.0}, "cannot meet: they miss each other by"),
    ],
)
def test_tapes_that_cannot_be_used_say_what_to_measure_again(count: int, change: dict[int, float], words: str) -> None:
    distances = _distances(-1400.0, 200.0, 500.0)[:count]
    for i, d in change.items():
        distances[i] = d
    with pytest.raises(InputError, match=words) as caught:
        taped(KNOWN[:count], distances, Point(x=-1400.0, y=200.0, z=500.0), 1.6)
    assert any(w in str(caught.value) for w in ("mark", "three known points"))


def test_known_points_on_a_line_are_refused() -> None:
    line = [Known(f"m{i}", Point(x=-500.0 * i, y=0.0, z=0.0)) for i in range(4)]
    with pytest.raises(InputError, match="lie on one line"):
        taped(line, [900.0] * 4, Point(x=0.0, y=0.0, z=500.0), 1.6)


def test_known_points_are_all_of_the_car(rock_job: Job) -> None:
    names = [k.name for k in known_points(rock_job.vehicle)]
    assert len(names) == len(set(names)) == 10 + len(list(all_spots(rock_job)))
    with pytest.raises(InputError, match="farther away than any car"):
        offset_from(KNOWN[0], 1e6, 0.0, 0.0, 1.0)
    with pytest.raises(InputError, match="is no link"):
        along_link(KNOWN[0], 0.0, 0.0, 0.0, True, 1.0, 0.1)


HEAD = "name,ahead_mm,left_mm,up_mm,sure_mm"


@pytest.mark.parametrize(
    ("raw", "first"),
    [
        (f"{HEAD}\rtab,1,2,3,0.5\r".encode(), (1.0, 2.0, 3.0, 0.5)),
        (f"{HEAD}\r\ntab,1,2,3,\r\n".encode(), (1.0, 2.0, 3.0, None)),
        (b"ahead_mm,left_mm,up_mm,name\n1,2,3\n", (1.0, 2.0, 3.0, None)),
        (b"name\tahead [mm]\tleft [mm]\tup [mm]\ntab\t1\t2\t3\n", (1.0, 2.0, 3.0, None)),
        (b"name;ahead_mm;left_mm;up_mm\ntab;1,5;2;3\n", (1.5, 2.0, 3.0, None)),
        (b'# taped on Monday\nname,ahead_in,left_in,up_in\n\ntab,"1""",1/2,1 1/2\n', (25.4, 12.7, 38.1, None)),
        ("name,ahead_mm,left_mm,up_mm\nFußpunkt,1,2,3\n".encode("latin-1"), (1.0, 2.0, 3.0, None)),
        ("name,ahead_mm,left_mm,up_mm\ntab,1,2,3\n".encode("utf-16"), (1.0, 2.0, 3.0, None)),
        (b"sep=;\r\nname;x_mm;y_mm;z_mm\r\ntab;1;2;3\r\n", (1.0, 2.0, 3.0, None)),
        (b"id,Label,x (millimeter),y (millimeters),z (mm)\n7,tab,1.5e2,-2E-1,3e0\n", (150.0, -0.2, 3.0, None)),
        (b'name,x_mm,y_mm,z_mm\n"upper\nleft","1,234.5","-2,000",3\n', (1234.5, -2000.0, 3.0, None)),
        (b"name;x_mm;y_mm;z_mm\ntab;1.234,5;-2 000;1'250\n", (1234.5, -2000.0, 1250.0, None)),
        ("name;x_mm;y_mm;z_mm\ntab;1\u202f234,25;12;3\n".encode(), (1234.25, 12.0, 3.0, None)),
        (b"name,x_in,y,z\ntab,1,2,13 1/2\n", (25.4, 50.8, 342.9, None)),
    ],
)  # fmt: skip
def test_tables_as_people_have_them(tmp_path: Path, raw: bytes, first: tuple[float, ...]) -> None:
    path = tmp_path / "points.csv"
    path.write_bytes(raw)
    point = read_points(path)[0].point
    assert point.xyz == pytest.approx(first[:3])
    if first[3] is not None:
        assert point.sure == first[3]


def test_a_table_without_units_is_asked_about(tmp_path: Path) -> None:
    """Figures without a unit were read as millimeters: a car 25 times too small."""
    path = tmp_path / "bare.csv"
    path.write_text("Label;x;y;z\n one ;1,5;2;3\n", encoding="utf-8")
    with pytest.raises(UnitMissingError, match=r"bare\.csv does not say in what unit its figures are"):
        read_points(path)
    (known,) = read_points(path, "in")
    assert known.name == "one"
    assert known.point.xyz == pytest.approx((38.1, 50.8, 76.2))
    path.write_text("name,x_mm,y_in,z\na,1,2,3\n", encoding="utf-8")
    with pytest.raises(JobFileError, match="some columns say their unit and others do not"):
        read_points(path)
    drawing = ezdxf.new("R2010", units=0)
    drawing.modelspace().add_point((2, 1, 0.5))
    drawing.saveas(tmp_path / "bare.dxf")
    with pytest.raises(UnitMissingError):
        read_points(tmp_path / "bare.dxf")
    assert read_points(tmp_path / "bare.dxf", "cm")[0].point.xyz == pytest.approx((20.0, 10.0, 5.0))


def test_our_own_points_come_back_with_their_plus_minus(trail_job: Job, tmp_path: Path) -> None:
    path = tmp_path / "points.csv"
    path.write_text(points_csv(trail_job.vehicle), encoding="utf-8-sig")
    ours, read = known_points(trail_job.vehicle), read_points(path)
    assert [k.name for k in read] == [k.name for k in ours]
    assert [k.point.sure for k in read] == pytest.approx([k.point.sure for k in ours], abs=1e-4)
    # A spreadsheet that writes thousands with a point must not take one of our decimals for one.
    assert not re.search(r"\.\d{3}(?!\d)", path.read_text())


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (b"name,ahead_mm,left_mm,up_mm\ntab," + b"9" * 200_000 + b",2,3\n", "line 2: is 200,0"),
        (b"name,ahead_mm,left_mm,up_mm\ntab,nan,2,3\n", "line 2"),
        (b"name,ahead_mm,left_mm,up_mm\ntab,1,2\n", "line 2: a figure is missing (up)"),
        (b"\0\xff\x00\x81", "is no text"),
        (b"name,ahead_mm,left_mm,up_mm\n" + b"a,1,2,3\n" * 6000, "5,000 points at most"),
    ],
)
def test_tables_that_cannot_be_are_refused_in_a_sentence(tmp_path: Path, raw: bytes, said: str) -> None:
    path = tmp_path / "points.csv"
    path.write_bytes(raw)
    with pytest.raises(JobFileError) as refused:
        read_points(path)
    assert said in str(refused.value)
    assert len(str(refused.value)) < 300


def test_drawings_say_their_unit_and_what_they_are(tmp_path: Path, trail_job: Job) -> None:
    for units, per in ((1, 25.4), (4, 1.0), (10, 914.4), (14, 100.0)):
        drawing = ezdxf.new("R2010", units=units)
        drawing.modelspace().add_point((2, 1, 0.5))
        drawing.saveas(tmp_path / "d.dxf")
        assert read_points(tmp_path / "d.dxf")[0].point.xyz == pytest.approx((2 * per, per, 0.5 * per))
    for version, units in (("R2010", 0), ("R12", 0), ("R2010", 3)):
        drawing = ezdxf.new(version, units=units)
        drawing.modelspace().add_point((2, 1, 0.5))
        drawing.saveas(tmp_path / "u.dxf")
        with pytest.raises(JobFileError, match="does not say a unit"):
            read_points(tmp_path / "u.dxf")
    (tmp_path / "ours.dxf").write_bytes(drawing_dxf(trail_job))
    places = {m.at.xyz for a in trail_job.vehicle.axles for member in a.members for m in member.mounts.values()}
    for known in read_points(tmp_path / "ours.dxf"):  # of our own drawings only what stands in space
        assert min(sum(abs(p - q) for p, q in zip(known.point.xyz, at, strict=True)) for at in places) < 1e-6
    whole = (tmp_path / "d.dxf").read_bytes()
    for cut in range(0, len(whole), 997):
        (tmp_path / "cut.dxf").write_bytes(whole[:cut] + b"\xff\0x" + whole[cut + 40 :])
        try:
            read_points(tmp_path / "cut.dxf")
        except JobFileError as error:
            assert len(str(error)) < 300


def test_tables_of_text_cannot_become_formulas() -> None:
    out = csv_text([["=1+1", "-12.5 %", "+3", "@x", "-cmd", "812.800", "plain", "1.250 in"]])
    assert out.strip().split(",") == ["'=1+1", "-12.5 %", "+3", "'@x", "'-cmd", "812.8000", "plain", "1.2500 in"]


def test_a_refusal_is_one_line_whatever_the_cell_holds(tmp_path: Path) -> None:
    path = tmp_path / "points.csv"
    path.write_text('name,ahead mm,left mm,up mm\nrear: Lower left axle,"-250,4\nfront: Leaf right",100,300\n')
    with pytest.raises(JobFileError) as refused:
        read_points(path)
    assert "\n" not in str(refused.value)
    assert "ahead" in str(refused.value)
