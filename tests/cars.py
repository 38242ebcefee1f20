"""Small cars for tests: an axle of given rods under a plain vehicle."""

from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from even_stance.exchange.demo import demo_jobs
from even_stance.mechanics.pose import Pose
from even_stance.study.answers import Answers, study_postures
from even_stance.study.cargaps import study_gaps
from even_stance.study.clearances import GapStudy
from even_stance.study.driveline import SHAFT_KEYS
from even_stance.vehicle.car import Axle, Tire, Vehicle
from even_stance.vehicle.edits import made, set_axle, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import Mount, Rod
from even_stance.vehicle.records import Point
from even_stance.vehicle.things import Block, Thing

Solid = Sequence[float]
TIRE = Tire(free_diameter_mm=880.0, loaded_radius_mm=400.0, width_mm=300.0)


def rod(name: str, chassis: Solid, axle: Solid, role: str = "lower", side: str = "left") -> Rod:
    ends = [Mount(at=Point(x=float(p[0]), y=float(p[1]), z=float(p[2]))) for p in (chassis, axle)]
    return Rod(name=name, role=role, side=side, chassis=ends[0], axle=ends[1])  # type: ignore[arg-type]


def pair(name: str, chassis: Solid, axle: Solid, role: str) -> tuple[Rod, Rod]:
    """A link on the left and its mirror image on the right."""
    (cx, cy, cz), (ax, ay, az) = chassis, axle
    return (
        rod(f"{name} left", chassis, axle, role, "left"),
        rod(f"{name} right", (cx, -cy, cz), (ax, -ay, az), role, "right"),
    )


def unsprung(job: Job) -> Job:
    """The same job with no springs: what holds it up acts at the wheels."""
    for axle in job.vehicle.axles:
        job = set_axle(axle.key, "No springs", springs=()).apply(job)
    return job


def bare_front(job: Job) -> Job:
    """The same job with nothing that holds or steers its front axle."""
    return set_axle("front", "Bare", members=(), steering=None).apply(job)


def vehicle_of(
    members: Sequence[Rod],
    front: bool = False,
    wheelbase: float = 2800.0,
    cg_height: float = 700.0,
    track: float = 1500.0,
) -> tuple[Vehicle, Axle]:
    """A vehicle whose rear (or front) axle has these members, drives with all and brakes with half."""

    def axle(key: str, behind: float, mine: bool) -> Axle:
        return Axle(
            key=key, behind_front_mm=behind, track_mm=track, tire=TIRE, driven=mine, drive_share=1.0 if mine else 0.0,
            brake_share=0.5, bump_mm=100.0, droop_mm=100.0, members=tuple(members) if mine else (),
        )  # fmt: skip

    vehicle = Vehicle(axles=(axle("front", 0.0, front), axle("rear", wheelbase, not front)), cg_height_mm=cg_height)
    return vehicle, vehicle.axle("front" if front else "rear")


def symmetric_four_link(x: float = -2800.0) -> tuple[Rod, ...]:
    """A triangulated four-link whose axle center is at x."""
    return (
        *pair("Lower", (x + 900, 430, 420), (x, 560, 340), "lower"),
        *pair("Upper", (x + 700, 420, 590), (x + 10, 140, 580), "upper"),
    )


def three_link(x: float = -2800.0) -> tuple[Rod, ...]:
    """An off-center upper and a sloped panhard: nothing symmetric about it."""
    return (
        *pair("Lower", (x + 850, 420, 400), (x, 550, 330), "lower"),
        rod("Upper", (x + 640, 210, 610), (x + 20, 260, 570), "upper"),
        rod("Panhard", (x - 130, 520, 480), (x - 150, -430, 430), "lateral"),
    )


def one(answers: Answers, i: int = 0) -> tuple[np.ndarray, np.ndarray]:  # type: ignore[type-arg]
    """Center and rotation at one posture."""
    pose: Pose = answers.pose
    return pose.center[i], pose.rotation[i]


def shaft_at(job: Job, left: float, right: float, key: str = "rear") -> dict[str, float]:
    """Everything said of the driveshaft of an axle at one posture."""
    found = study_postures(job.vehicle, job.vehicle.axle(key), np.array([left]), np.array([right]))
    return {k: found.value(k) for k in SHAFT_KEYS if k in found.values}


@lru_cache
def studied(demo: int) -> GapStudy:
    """The gaps of a demo car."""
    return study_gaps(demo_jobs()[demo].vehicle)


def block(name: str = "box", **changes: object) -> Thing:
    """A box hung on the chassis."""
    form = {"ahead_mm": -2400.0, "long_mm": 200.0, "wide_mm": 300.0, "under_mm": 900.0, "high_mm": 100.0} | changes
    return made(Thing, name=name, kind="block", form=made(Block, **form))


def bare(job: Job) -> Job:
    """A car with nothing put on."""
    return with_changes(job, vehicle=with_changes(job.vehicle, things=()))
