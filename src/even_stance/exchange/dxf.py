"""The three projections as a DXF drawing, millimeters, each kind of thing on a layer of its own."""

from collections.abc import Sequence
from io import StringIO
from typing import Any

from ezdxf.filemanagement import new

from even_stance.study.drawing import VIEWS, Area, Hole, Joint, Label, Mark, Path, Place, Round, Shape, View
from even_stance.study.floor import car_shapes
from even_stance.study.places import study_places
from even_stance.study.styles import style_of
from even_stance.vehicle.job import Job

# AutoCAD color numbers of the layers: fixed by the file format, not a look of our own.
LAYERS = {
    "LOWER_LINKS": 5, "UPPER_LINKS": 1, "LATERAL": 6, "ARMS_AND_SPRINGS": 30, "AXLES": 7, "TIRES": 8, "FRAME": 9,
    "DRIVESHAFT": 4, "POWERTRAIN": 9, "JOINTS": 3, "HOLES": 2, "THINGS": 8, "GROUND": 7, "TEXT": 7,
}  # fmt: skip
_GAP_MM = 800.0
PROJECTIONS = "Even Stance projections"
_MM = 4  # the format's code for millimeters


def drawing_dxf(job: Job) -> bytes:
    """Side, plan and rear projection side by side, true to size, as DXF R2010 in millimeters.

    Each link is its center line from joint to joint; layers are named in LAYERS.
    """
    drawing = new("R2010", units=_MM)
    for name, color in LAYERS.items():
        drawing.layers.add(name, color=color)
    space = drawing.modelspace()
    h = 0.0
    for view in VIEWS:
        shapes = _all_shapes(job, view)
        low, high = _reach(shapes)
        _put(space, shapes, h - low)
        text = space.add_text(f"{view.upper()}  {job.name}  mm", height=40, dxfattribs={"layer": "TEXT"})
        text.set_placement((h, -350.0 if view != "plan" else -1500.0))
        h += high - low + _GAP_MM
    # Says what it is: its three views are no places on the car.
    drawing.header["$PROJECTNAME"] = PROJECTIONS
    out = StringIO()
    drawing.write(out)
    return out.getvalue().encode(drawing.encoding, "replace")


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


def _put(space: Any, shapes: list[Shape], shift: float) -> None:
    """Draw shapes into the model space, shifted to the right by some mm."""

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
            space.add_circle(at(shape.center), shape.radius_mm, dxfattribs=layer)
        elif isinstance(shape, Hole):
            space.add_circle(at(shape.center), 6.0, dxfattribs={"layer": "HOLES"})
        elif isinstance(shape, Mark):
            space.add_text(shape.label, height=40, dxfattribs=layer).set_placement(at(shape.center))
