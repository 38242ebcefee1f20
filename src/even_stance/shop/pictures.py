"""The picture of each measuring step: the car with the lines to measure on it."""

from even_stance.shop.steps import Step
from even_stance.study.drawing import Path, Place, Shape, project
from even_stance.study.floor import car_shapes
from even_stance.study.places import AxlePlace
from even_stance.vehicle.job import Job

Frame = tuple[float, float, float, float]


def step_picture(job: Job, step: Step) -> tuple[list[Shape], Frame]:
    """Shapes of a step's picture, and the window of its projection that shows them."""
    vehicle = job.vehicle
    axle = next((a for a in vehicle.axles if a.key in step.key.replace("/", ".").split(".")), vehicle.axles[-1])
    places = [AxlePlace(a, None) for a in vehicle.axles]
    shapes = car_shapes(vehicle, places, step.view, axle.key)
    for a, b in step.lines:
        start, end = project(step.view, a), project(step.view, b)
        shapes.append(Path((start, end), "exact"))
        shapes += [Path(tick, "exact") for tick in _ticks(start, end)]
    return shapes, _frame(shapes, step)


def _ticks(a: Place, b: Place, size: float = 45.0) -> list[tuple[Place, Place]]:
    """A cross stroke at both ends of a measured line."""
    run = (b[0] - a[0], b[1] - a[1])
    length = max((run[0] ** 2 + run[1] ** 2) ** 0.5, 1e-6)
    across = (-run[1] / length * size, run[0] / length * size)
    return [((p[0] + across[0], p[1] + across[1]), (p[0] - across[0], p[1] - across[1])) for p in (a, b)]


def _frame(shapes: list[Shape], step: Step) -> Frame:
    """All of the car, but for small things a closer look around the lines."""
    line_places = [project(step.view, p) for line in step.lines for p in line]
    h, v = [p[0] for p in line_places], [p[1] for p in line_places]
    long = max(max(h) - min(h), max(v) - min(v))
    pad = max(0.25 * long, 500.0)
    low = -120.0 if step.view != "plan" else min(v) - pad
    del shapes
    return min(h) - pad, max(h) + pad, min(min(v) - pad, low) if step.view == "plan" else low, max(v) + pad
