"""What is drawn stands where the mechanics says: which arrow is on which link, and where a leaf's free eye hangs."""

import numpy as np
import pytest

from even_stance.exchange.dxf import drawing_dxf
from even_stance.judgement.catalog.starter import with_layout
from even_stance.study.answers import answers_at
from even_stance.study.construction import load_shapes
from even_stance.study.drawing import Label, Path, project
from even_stance.study.figures import study_axle
from even_stance.study.floor import car_shapes
from even_stance.study.loads import study_loads
from even_stance.study.places import AxlePlace
from even_stance.units import format_force
from even_stance.vehicle.job import Job


def test_each_load_stands_beside_its_own_link(trail_job: Job) -> None:
    """From the side a label names the links that cover each other; its figures are those of these links, pull or push."""
    axle = trail_job.vehicle.axle("rear")
    study = study_axle(trail_job.vehicle, axle, 0.0, 0.0)
    loads = study_loads(trail_job.vehicle, study.now, trail_job.loads, "launch")
    labels = [s for s in load_shapes(study, loads, "side", "us") if isinstance(s, Label)]
    for i, rod in enumerate(study.now.layout.rods):
        force = float(loads.rows[i])
        ends = [project("side", tuple(p)) for p in (study.now.chassis_ends[0, i], study.now.rod_ends[0, i])]  # type: ignore[arg-type]
        middle = np.mean(ends, axis=0)
        words = f"{format_force(abs(force), 'us')} lb {'pull' if force > 0 else 'push'}"
        mine = [label for label in labels if words in label.text]
        assert mine, rod.name
        nearest = min(labels, key=lambda label: float(np.hypot(*(np.array(label.at) - middle))))
        assert nearest in mine, rod.name


def test_arrows_of_a_pull_point_at_each_other(trail_job: Job) -> None:
    """A link that is pulled draws its ends together, one that is pushed holds them apart."""
    axle = trail_job.vehicle.axle("rear")
    study = study_axle(trail_job.vehicle, axle, 0.0, 0.0)
    loads = study_loads(trail_job.vehicle, study.now, trail_job.loads, "launch")
    pulled = {r.name: float(f) > 0 for r, f in zip(study.now.layout.rods, loads.rows, strict=True)}
    # Driving: the axle pushes the car ahead through the lowers; the uppers hold its nose down and are pulled.
    assert not pulled["Lower left"]
    assert pulled["Upper left"]


@pytest.mark.parametrize("travel", [-90.0, 0.0, 60.0])
def test_the_free_eye_of_a_leaf_keeps_its_distances(trail_job: Job, travel: float) -> None:
    """By hand: as far from the seat and from the shackle's pivot in side view as at ride height."""
    job = with_layout(trail_job, "rear", "leaf", keep=False)
    axle = job.vehicle.axle("rear")
    study = study_axle(job.vehicle, axle, travel, travel)
    place = AxlePlace(axle, study)
    leaf = axle.member("Leaf left")
    side = lambda p: np.array([p[0], p[2]])  # noqa: E731 - the two of three coordinates that count here
    eye, seat = (np.array(place.mounts["Leaf left", end]) for end in ("shackle_eye", "seat"))
    pivot = leaf.mounts["shackle"].at.xyz
    for at, was in ((seat, leaf.mounts["seat"].at.xyz), (pivot, pivot)):
        ride = np.linalg.norm(side(leaf.mounts["shackle_eye"].at.xyz) - side(was))
        assert np.linalg.norm(side(eye) - side(at)) == pytest.approx(ride, abs=1e-6)


def test_screen_and_drawing_hold_the_same_link_lines(trail_job: Job) -> None:
    """The ends of every link in the DXF's side view are those painted on the floor, to a hundredth of a millimeter."""
    from io import StringIO  # noqa: PLC0415

    import ezdxf  # noqa: PLC0415

    axle = trail_job.vehicle.axle("rear")
    places = [
        AxlePlace(a, study_axle(trail_job.vehicle, a, 0, 0) if a.members else None) for a in trail_job.vehicle.axles
    ]
    shapes = car_shapes(trail_job.vehicle, places, "side", axle.key)
    drawn = {
        round(float(np.hypot(*np.subtract(s.places[-1], s.places[0]))), 2)
        for s in shapes
        if isinstance(s, Path) and s.style in ("lower", "upper") and s.width_mm
    }
    read = ezdxf.read(StringIO(drawing_dxf(trail_job).decode("utf-8")))
    lines = set()
    for entity in read.modelspace().query('*[layer=="LOWER_LINKS" | layer=="UPPER_LINKS"]'):
        points = list(entity.vertices()) if entity.dxftype() == "POLYLINE" else None
        if entity.dxftype() == "LINE":
            points = [entity.dxf.start, entity.dxf.end]
        elif entity.dxftype() == "LWPOLYLINE":
            points = [tuple(p)[:2] for p in entity.get_points()]
        if points:
            a, b = points[0], points[-1]
            lines.add(round(float(np.hypot(b[0] - a[0], b[1] - a[1])), 2))
    assert drawn
    assert all(min(abs(length - other) for other in lines) <= 0.011 for length in drawn), (drawn, lines)
    assert answers_at(trail_job.vehicle, axle, 0.0, 0.0).ok.all()
