"""The powertrain from the left: as it sits, as it was measured, and the window that shows it."""

from even_stance.study.drawing import Area, Path, Shape, project
from even_stance.study.floor import frame_shapes, power_joints, power_shapes, standing_shapes
from even_stance.study.places import AxlePlace
from even_stance.study.powertrain import seated
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import with_changes


def power_view(vehicle: Vehicle, axle: Axle) -> tuple[list[Shape], tuple[float, float, float, float]]:
    """Engine, gearbox and shaft from the left, the engine as measured dotted, and the window that shows them."""
    power = vehicle.powertrain
    if power is None:
        return [], (0.0, 1.0, 0.0, 1.0)
    before = with_changes(power, tail_up_mm=0.0, mounts_up_mm=0.0)
    place = AxlePlace(seated(vehicle, axle), None)
    shapes: list[Shape] = [*frame_shapes(vehicle, "side")]
    if power.moved:
        shapes += [Path((*s.places, s.places[0]), "ghost") for s in power_shapes(before, "side") if isinstance(s, Area)]
    shapes += [*power_shapes(power, "side"), *standing_shapes(place, "side", True)]
    shapes += power_joints(power, "side")
    h = [p[0] for s in shapes if isinstance(s, Area) and s.style == "engine" for p in s.places]
    v = [p[1] for s in shapes if isinstance(s, Area) and s.style == "engine" for p in s.places]
    ends = [project("side", y.at.xyz)[0] for y in (axle.output, axle.pinion) if y is not None]
    return shapes, (min(h + ends) - 150.0, max(h + ends) + 150.0, min(v) - 150.0, max(v) + 100.0)
