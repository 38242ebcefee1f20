"""The three projections as a DXF drawing, millimeters, each kind of thing on a layer of its own."""

from collections.abc import Sequence
from io import StringIO
from typing import Any

import numpy as np
from ezdxf.filemanagement import new
from ezdxf.math import OCS

from even_stance.errors import StanceError
from even_stance.study.answers import Answers, answers_at
from even_stance.study.drawing import VIEWS, Area, Hole, Joint, Label, Mark, Path, Place, Round, Shape, View, project
from even_stance.study.floor import car_shapes
from even_stance.study.model import bolt_directions
from even_stance.study.places import study_places, xyz
from even_stance.study.styles import style_of
from even_stance.vehicle.job import Job

# AutoCAD color numbers of the layers: fixed by the file format, not a look of our own.
LAYERS = {
    "LOWER_LINKS": 5, "UPPER_LINKS": 1, "LATERAL": 6, "ARMS_AND_SPRINGS": 30, "AXLES": 7, "TIRES": 8, "FRAME": 9,
    "DRIVESHAFT": 4, "POWERTRAIN": 9, "JOINTS": 3, "HOLES": 2, "THINGS": 8, "GROUND": 7, "TEXT": 7,
    "TIRES_BUMP": 8, "TIRES_DROOP": 8, "BOLTS": 2, "LINK_NAMES": 7, "LENGTHS": 4, "CENTERLINES_3D": 5, "JOINTS_3D": 3,
}  # fmt: skip
DIMENSIONS, SPACE_JOINTS = "EVEN_STANCE", "JOINTS_3D"
_GAP_MM = 800.0
PROJECTIONS = "Even Stance projections"
_MM = 4  # the format's code for millimeters


def drawing_dxf(job: Job) -> bytes:
    """Side, plan and rear projection side by side, true to size, as DXF R2010 in millimeters, and the car's points.

    Each link is its center line from joint to joint with its name, and in the side view its true length pin to pin as a
    dimension; layers are named in LAYERS. Joints and center lines stand in space on layers of their own, in the axes of
    the car (x forward, y left, z up), ahead of the projections, which are no places on the car.
    """
    drawing = new("R2010", units=_MM, setup=True)
    style = drawing.dimstyles.duplicate_entry("EZDXF", DIMENSIONS)
    for key, value in (("dimtxt", 30.0), ("dimasz", 25.0), ("dimexe", 12.0), ("dimexo", 8.0), ("dimdec", 1),
                       ("dimlfac", 1.0), ("dimscale", 1.0), ("dimgap", 8.0)):  # fmt: skip
        style.set_dxf_attrib(key, value)
    for name, color in LAYERS.items():
        drawing.layers.add(name, color=color)
    space = drawing.modelspace()
    h = 0.0
    for view in VIEWS:
        shapes = _all_shapes(job, view)
        low, high = _reach(shapes)
        _put(space, shapes, h - low, [project(view, a.center) for a in job.vehicle.axles])
        said = f"{view.upper()} projection  {job.name}  mm; lengths as seen, true ones at the dimensions"
        text = space.add_text(said, height=40, dxfattribs={"layer": "TEXT"})
        text.set_placement((h, -350.0 if view != "plan" else -1500.0))
        for answers in _answers(job):
            _name_links(space, answers, view, h - low)
        h += high - low + _GAP_MM
    _in_space(space, job)
    # Says what it is: its three views are no places on the car.
    drawing.header["$PROJECTNAME"] = PROJECTIONS
    out = StringIO()
    drawing.write(out)
    return out.getvalue().encode(drawing.encoding, "replace")


def _answers(job: Job) -> list[Answers]:
    """Every axle on links where it stands at ride height."""
    found = []
    for axle in job.vehicle.axles:
        try:
            found.append(answers_at(job.vehicle, axle, 0.0, 0.0, job.units))
        except StanceError:
            continue
    return found


def _name_links(space: Any, answers: Answers, view: View, shift: float) -> None:
    """The name of every link at its middle; in the side view a dimension of its length as seen, with the true one.

    A dimension says what it measures in the drawing, so that nobody who scales it is misled; where the link leans
    toward the eye, its true length, pin to pin, stands behind.
    """
    for i, rod in enumerate(answers.layout.rods):
        ends = answers.chassis_ends[0, i], answers.rod_ends[0, i]
        true = float(np.linalg.norm(ends[0] - ends[1]))
        a, b = ((h + shift, v) for h, v in (project(view, xyz(e)) for e in ends))
        middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2 + 14.0)
        space.add_text(rod.name, height=22, dxfattribs={"layer": "LINK_NAMES"}).set_placement(middle)
        left = not rod.name.endswith("right")  # the far one lies behind the near one
        if view == "side" and left and np.hypot(a[0] - b[0], a[1] - b[1]) > 1.0:
            seen = float(np.hypot(a[0] - b[0], a[1] - b[1]))
            text = f"{seen:.1f}" if abs(true - seen) < 0.05 else f"{seen:.1f} (true {true:.1f})"
            space.add_aligned_dim(p1=a, p2=b, distance=90.0, text=text, dimstyle=DIMENSIONS,
                                  dxfattribs={"layer": "LENGTHS"}).render()  # fmt: skip


def _in_space(space: Any, job: Job) -> None:
    """Joints as points and links as center lines where they are on the car, and the bolts of joints as circles."""
    bolts = {(p.axle, p.part, end): e.bolt for p in job.vehicle.build.links
             for end, e in zip(("first", "second"), (p.first, p.second), strict=True)}  # fmt: skip
    for answers in _answers(job):
        for place in answers.layout.mounts:
            space.add_point(place.mount.at.xyz, dxfattribs={"layer": SPACE_JOINTS})
        for i, rod in enumerate(answers.layout.rods):
            a, b = answers.chassis_ends[0, i].tolist(), answers.rod_ends[0, i].tolist()
            space.add_line(a, b, dxfattribs={"layer": "CENTERLINES_3D"})
            axes = bolt_directions(answers.layout, answers.chassis_ends[:1], answers.rod_ends[:1])[0, i]
            for k, (end, at) in enumerate((("first", a), ("second", b))):
                bolt = bolts.get((answers.axle.key, rod.name, end))
                if bolt is not None:
                    frame = OCS(axes[k].tolist())
                    space.add_circle(frame.from_wcs(at), bolt.diameter_mm / 2, dxfattribs={
                        "layer": "BOLTS", "extrusion": axes[k].tolist()})  # fmt: skip


def _all_shapes(job: Job, view: View) -> list[Shape]:
    """Every axle in full, the lines that go on for ever left out."""
    places = study_places(job.vehicle)
    found: list[Shape] = []
    for place in places if view != "rear" else places[-1:]:
        shapes = car_shapes(job.vehicle, places, view, place.axle.key)
        found += [s for s in shapes if not getattr(s, "style", "").endswith("-faint") and s not in found]
    return [s for s in found if not (isinstance(s, Path) and s.style == "ground")]


def _places(shape: Shape) -> Sequence[Place]:
    """The places a shape reaches to."""
    if isinstance(shape, Path | Area):
        return shape.places
    if isinstance(shape, Round):
        (h, v), r = shape.center, shape.radius_mm
        return ((h - r, v), (h + r, v))
    return (shape.at,) if isinstance(shape, Label) else (shape.center,)


def _reach(shapes: list[Shape]) -> tuple[float, float]:
    across = [h for s in shapes for h, _ in _places(s)]
    return min(across), max(across)


def _put(space: Any, shapes: list[Shape], shift: float, hubs: list[Place]) -> None:
    """Draw shapes into the model space, shifted to the right by some mm; hubs are the axle centers at ride height."""

    def at(place: Place) -> Place:
        return place[0] + shift, place[1]

    for shape in shapes:
        if isinstance(shape, Joint):
            space.add_point(at(shape.center), dxfattribs={"layer": "JOINTS"})
            space.add_circle(at(shape.center), 12.0, dxfattribs={"layer": "JOINTS"})
            continue
        layer = {"layer": style_of(shape.style).layer or "TEXT"}
        if isinstance(shape, Path):
            space.add_lwpolyline([at(p) for p in shape.places], dxfattribs=layer)
        elif isinstance(shape, Area):
            space.add_lwpolyline([at(p) for p in shape.places], close=True, dxfattribs=layer)
        elif isinstance(shape, Round):
            if shape.style == "ghost":  # a tire at full bump or droop
                hub = min(hubs, key=lambda p: abs(p[0] - shape.center[0]))
                layer = {"layer": "TIRES_BUMP" if shape.center[1] > hub[1] else "TIRES_DROOP"}
            space.add_circle(at(shape.center), shape.radius_mm, dxfattribs=layer)
        elif isinstance(shape, Hole):
            space.add_circle(at(shape.center), 6.0, dxfattribs={"layer": "HOLES"})
        elif isinstance(shape, Mark):
            space.add_text(shape.label, height=40, dxfattribs=layer).set_placement(at(shape.center))
