"""What stands on the floor: the car, its axles and links at a posture, in each projection."""

from functools import lru_cache

import numpy as np

from even_stance.mechanics.solids import flattened, outline
from even_stance.mechanics.vectors import Array
from even_stance.study.beams import beams_of
from even_stance.study.bodies import (
    member_solids,
    near_last_spots,
    own_solids,
    shaft_solids,
    solids_of_powertrain,
    steering_solids,
)
from even_stance.study.drawing import (
    Area,
    Hole,
    Joint,
    Mark,
    Path,
    Place,
    Round,
    Shape,
    View,
    Xyz,
    project,
    project_all,
)
from even_stance.study.figures import AxleStudy
from even_stance.study.frame import RAIL_HALF_MM, cg_x, frame_ends, rail_line, rail_thick
from even_stance.study.model import wheel_centers
from even_stance.study.places import AxlePlace, xyz
from even_stance.study.springlines import spring_shapes
from even_stance.study.state import (
    BodyPose,
    CarState,
    axle_body,
    axle_state,
    knuckle_body,
    pose_of_powertrain,
    power_points,
)
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.driveline import Powertrain
from even_stance.vehicle.records import is_guess
from even_stance.vehicle.spots import point_on


def still_shapes(vehicle: Vehicle, places: list[AxlePlace], view: View, active: str, names: bool = True) -> list[Shape]:
    """What stands still while a point is moved: frame, ground, axles, and faintly what holds those not looked at."""
    others = [p for p in places if p.axle.key != active]
    # Seen from behind, two axles would cover each other.
    faint = [s for p in others for s in (*standing_shapes(p, view, False), *_axle_shapes(p, view, False))]
    mine = [s for p in places if p.axle.key == active for s in standing_shapes(p, view, True)]
    ground = ground_shapes(vehicle, places, view, active)
    return [
        *frame_shapes(vehicle, view),
        *power_shapes(vehicle.powertrain, view),
        *(faint if view != "rear" else []),
        *ground,
        *mine,
        *(Mark(project(view, p.at.xyz), "cross", "landmark", p.name if names else "") for p in vehicle.landmarks),
    ]


def live_shapes(vehicle: Vehicle, places: list[AxlePlace], view: View, active: str) -> list[Shape]:
    """What holds the axle looked at, with its joints, in full color, and the CG, in one projection."""
    shapes: list[Shape] = []
    for place in places:
        if place.axle.key == active:
            shapes += _axle_shapes(place, view, True)
    shapes += power_joints(vehicle.powertrain, view)
    x = cg_x(vehicle)
    shapes.append(Mark(project(view, (x, 0.0, vehicle.cg_height_mm)), "cg", "cg", "CG"))
    return shapes


def car_shapes(vehicle: Vehicle, places: list[AxlePlace], view: View, active: str) -> list[Shape]:
    """Ground, frame, axles, links and joints in one projection; the active axle in full color, others faint."""
    return still_shapes(vehicle, places, view, active) + live_shapes(vehicle, places, view, active)


def beneath_shapes(study: AxleStudy, view: View) -> list[Shape]:
    """The links of another variant, drawn beneath: bands twice as wide as the links that lie on them."""
    now, layout = study.now, study.now.layout
    if not now.ok[0]:
        return []
    return [
        Path((project(view, xyz(now.chassis_ends[0, i])), project(view, xyz(now.rod_ends[0, i]))), "beneath",
             2.2 * layout.mounts[rod.first].member.tube_mm)
        for i, rod in enumerate(layout.rods)
    ]  # fmt: skip


def patches(places: list[AxlePlace], side: int) -> Array:
    """Where the tires of one side (0 left, 1 right) touch the ground, front to rear, mm, shape (axles, 3).

    The ground goes through the patches of all axles, so that each is square below its wheel's center.
    """
    centers = np.array([place.wheels[side] for place in places])
    radii = np.array([place.axle.tire.loaded_radius_mm for place in places])
    normal = np.tile([0.0, 0.0, 1.0], (len(places), 1))
    touch: Array = centers
    for _ in range(4):  # each round is a hundred times nearer: the slope hardly turns with the patches
        touch = centers - radii[:, None] * normal
        slope = np.gradient(touch[:, 2], touch[:, 0]) if len(places) > 1 else np.zeros(1)
        normal = np.stack((-slope, np.zeros_like(slope), np.ones_like(slope)), axis=-1)
        normal /= np.sqrt((normal**2).sum(axis=-1))[:, None]
    return touch


def axle_patches(place: AxlePlace) -> Array:
    """Where the left and right tire of one axle touch the ground, the ground square to its wheels, mm, shape (2, 3)."""
    left, right = np.array(place.wheels[0]), np.array(place.wheels[1])
    lean = np.arctan2(left[2] - right[2], left[1] - right[1])
    down = -place.axle.tire.loaded_radius_mm * np.array([0.0, -np.sin(lean), np.cos(lean)])
    return np.stack((left + down, right + down))


_FAR_MM = 50_000.0
_LEVEL_MM = 1.0  # grounds no farther apart than this are drawn as one


def _through(points: list[Place]) -> tuple[Place, ...]:
    """A line through places from left to right, carried on far beyond both ends."""
    points = sorted(points)
    (a, b), (c, d) = points[:2], points[-2:]
    low, high = ((b[1] - a[1]) / (b[0] - a[0]), (d[1] - c[1]) / (d[0] - c[0]))
    return ((a[0] - _FAR_MM, a[1] - low * _FAR_MM), *points, (d[0] + _FAR_MM, d[1] + high * _FAR_MM))


def ground_shapes(vehicle: Vehicle, places: list[AxlePlace], view: View, active: str) -> list[Shape]:
    """The ground under the tires; off ride height also the ground there, which heights are told from."""
    if view == "plan":
        ahead, behind = frame_ends(vehicle)
        return [Path((project("plan", (ahead + 300, 0, 0)), project("plan", (behind - 300, 0, 0))), "centerline")]
    ride = Path(((-_FAR_MM, 0.0), (_FAR_MM, 0.0)), "ground")
    here = [p for p in places if p.axle.key == active] if view == "rear" else places
    if not here or all(p.is_ride for p in here):
        return [ride]
    if view == "rear":
        lines = [[project(view, xyz(p)) for p in axle_patches(here[0])]]
    else:
        lines = [[project(view, xyz(p)) for p in patches(places, side)] for side in (0, 1)]
        if np.abs(np.array(lines[0]) - np.array(lines[1])).max() < _LEVEL_MM:
            del lines[1]
    shapes: list[Shape] = [Path(ride.places, "ground-far")]
    shapes += [Path(_through(line), "ground-far") for line in lines[1:]]
    shapes.append(Path(_through(lines[0]), "ground"))
    return shapes


def frame_shapes(vehicle: Vehicle, view: View) -> list[Shape]:
    """The frame rails in one projection."""
    frame = vehicle.frame
    ahead, behind = frame_ends(vehicle)
    thick = rail_thick(vehicle)
    if view == "side":
        line = rail_line(vehicle)
        top = [project(view, (x, 0.0, frame.rail_top_mm + z)) for x, z in line]
        bottom = [project(view, (x, 0.0, frame.rail_top_mm - thick + z)) for x, z in reversed(line)]
        return [Area((*top, *bottom), "frame")]
    out, half = frame.rail_out_mm, RAIL_HALF_MM
    if view == "plan":
        corners = ((ahead, half), (behind, half), (behind, -half), (ahead, -half))
        return [Area(tuple(project(view, (x, s * out + w, 0.0)) for x, w in corners), "frame") for s in (1.0, -1.0)]
    return [
        Area(
            tuple(
                project(view, (0.0, s * out + w, z))
                for w, z in (
                    (half, frame.rail_top_mm), (-half, frame.rail_top_mm),
                    (-half, frame.rail_bottom_mm), (half, frame.rail_bottom_mm),
                )
            ),
            "frame",
        )
        for s in (1.0, -1.0)
    ]  # fmt: skip


@lru_cache(maxsize=64)
def _axle_shapes(place: AxlePlace, view: View, active: bool) -> tuple[Shape, ...]:
    """What holds an axle, with its joints; of one that is not looked at it is faint and has no joints."""
    axle = place.axle
    shapes: list[Shape] = []
    for part in (*steering_solids(axle), *member_solids(axle)):
        assert part.line is not None
        a, b = (project(view, xyz(p)) for p in place.state.place(part.body, part.line)[0])
        shapes.append(Path((a, b), part.style if active else f"{part.style}-faint", part.width_mm))
    shapes += spring_shapes(axle, place.mounts, view, active)
    if not active:
        return tuple(shapes)
    ghosts = [Round(project(view, p), axle.tire.free_diameter_mm / 2, "ghost") for p in place.ghosts if view == "side"]
    holes = [Hole(project(view, at)) for at in place.holes.values()]
    joints = [
        Joint(project(view, place.mounts[spot.member, spot.end]), spot, style, is_guess(point_on(axle, spot)))
        for spot, style in near_last_spots(axle)
    ]
    return (*shapes, *ghosts, *holes, *joints)


@lru_cache(maxsize=16)
def power_shapes(power: Powertrain | None, view: View) -> tuple[Shape, ...]:
    """Engine and gearbox as they sit."""
    pose, solids = pose_of_powertrain(power), solids_of_powertrain(power)
    return tuple(Area(_silhouette(pose.place(s.corners)[0], view), s.style) for s in solids if s.spot is None)


@lru_cache(maxsize=16)
def power_joints(power: Powertrain | None, view: View) -> tuple[Shape, ...]:
    """Mounts and marked points of the powertrain as it sits."""
    points = power_points(power)
    now = pose_of_powertrain(power).place(np.array([at.xyz for at in points.values()]).reshape(-1, 3))[0]
    return tuple(
        Joint(project(view, xyz(at)), spot, "mark" if spot.member else "engine", is_guess(points[spot]))
        for spot, at in zip(points, now, strict=True)
    )


def standing_shapes(place: AxlePlace, view: View, active: bool) -> tuple[Shape, ...]:
    """Wheels, tube, housing and shaft of an axle as they stand."""
    pose = place.state.poses[axle_body(place.axle.key)]
    turned = (place.steer, *place.travel)
    own = place.axle.steering if any(turned) or beams_of(place.axle) is not None else None
    bare = place.axle.model_copy(update={"members": (), "output": None, "shaft": None, "steering": own})
    at = xyz(pose.place(np.array([bare.center]))[0, 0]), pose.linear[0].tobytes()
    driven = place.axle.model_copy(update={"members": (), "steering": None})
    return (*_own_shapes(bare, *at, turned, view, active), *_shaft_shapes(driven, *at, view, active))


@lru_cache(maxsize=32)
def _shaft_shapes(driven: Axle, moved: Xyz, rotation: bytes, view: View, active: bool) -> tuple[Shape, ...]:
    """The driveshaft of an axle as it stands: the same one while members are moved about."""
    state = _own_state(driven, moved, rotation, (0.0, 0.0, 0.0))
    return tuple(
        Area(_silhouette(state.place(part.body, part.corners)[0], view), _faint(part.style, active))
        for part in shaft_solids(driven)
    )


def _silhouette(corners: Array, view: View) -> tuple[tuple[float, float], ...]:
    """The outline of a solid in one projection."""
    return tuple((h, v) for h, v in outline(project_all(view, corners)).tolist())


def _faint(style: str, active: bool) -> str:
    """The style of something of an axle that is looked at, or of another one."""
    return style if active else f"{style}-faint"


@lru_cache(maxsize=16)
def _own_state(bare: Axle, moved: Xyz, rotation: bytes, turned: Xyz) -> CarState:
    """Where an axle stands that is shown without what holds it: the same for every view."""
    pose = BodyPose(np.array(bare.center), np.array([moved]), np.frombuffer(rotation).reshape(1, 3, 3))
    steer, *travel = turned
    return axle_state(bare, None, 1, pose, np.array([steer]), np.array([travel]))


@lru_cache(maxsize=64)
def _own_shapes(
    bare: Axle, moved: Xyz, rotation: bytes, turned: Xyz, view: View, active: bool
) -> tuple[Shape, ...]:  # fmt: skip
    """Wheels, tube and housing of an axle as they stand: the same ones while members and gearbox are moved about."""
    state = _own_state(bare, moved, rotation, turned)
    bodies = [knuckle_body(bare.key, side) for side in ("left", "right")]
    wheels = np.array([state.place(b, c[None])[0, 0] for b, c in zip(bodies, wheel_centers(bare), strict=True)])
    shapes: list[Shape] = []
    for part in own_solids(bare):
        style = _faint(part.style, active)
        if part.style in ("tire", "rim") and view == "rear" and not active:
            continue
        if part.style == "rim" and view != "side":
            continue  # edge on, and inside its tire
        corners = state.place(part.body, part.corners)[0]
        if part.style == "tire":
            corners = flattened(corners, wheels, bare.tire.loaded_radius_mm)
        elif part.style == "rim":
            center, radius = corners.mean(axis=0), float(np.ptp(corners[:, 2])) / 2
            shapes.append(Round(project(view, xyz(center)), radius, style))
            continue
        shapes.append(Area(_silhouette(corners, view), style))
    return tuple(shapes)


def axle_to_ride(study: AxleStudy, delta: Xyz) -> Xyz:
    """A movement in chassis axes at the posture studied, turned back to the axle's axes at ride height, mm."""
    if not study.now.ok[0]:
        return delta
    return xyz(study.now.pose.rotation[0].T @ np.array(delta))
