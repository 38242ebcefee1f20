"""The construction behind a number, as lines on the drawing: where it comes from and where the exact answer is."""

from collections.abc import Callable

import numpy as np

from even_stance.mechanics.vectors import Array
from even_stance.study.answers import FAR_MM, cg_height
from even_stance.study.drawing import Beside, Label, Mark, Path, Place, Round, Shape, View, Xyz, project
from even_stance.study.figures import AxleStudy, pinion_up
from even_stance.study.loads import LoadStudy
from even_stance.study.model import wheel_centers
from even_stance.study.places import moved, place_of, xyz
from even_stance.study.shaftlines import OF_SHAFT, shaft_lines
from even_stance.study.springwords import OF_SPRINGS, spring_words
from even_stance.study.steerlines import OF_STEERING
from even_stance.units import System, force_unit, format_force, format_length, length_unit
from even_stance.vehicle.car import Vehicle


def instant_center_words(study: AxleStudy, system: System) -> str:
    """Where the instant center is, as it is said: ahead of this axle and above ground."""
    x, z = study.now.value("ic_x_mm"), study.now.value("ic_z_mm")
    if not np.isfinite(x) or abs(x) > FAR_MM:
        return "no instant center: the links are parallel in side view"
    ahead = x - study.axle.center[0]
    way = "ahead" if ahead >= 0 else "behind"
    if system == "us":
        return f"instant center {abs(ahead) / 25.4:.0f} in {way}, {z / 25.4:.0f} up"
    return f"instant center {abs(ahead):.0f} mm {way}, {z:.0f} up"


def construction(vehicle: Vehicle, study: AxleStudy, key: str, view: View, system: System) -> list[Shape]:
    """The lines behind one figure in one projection; nothing where that projection does not show it."""
    if not study.now.ok[0]:
        return []
    if key.startswith("anti_"):
        return _anti(vehicle, study, key, view)
    builders = {
        "roll_center_mm": _roll,
        "roll_steer_pct": _roll,
        "pinion_change_deg": _pinion,
        **dict.fromkeys(OF_SHAFT, shaft_lines),
        **OF_STEERING,
        **dict.fromkeys(OF_SPRINGS, spring_words),
        "caster_change_deg": _caster,
        "triangulation_deg": _triangulation,
        "side_shift_mm": _path,
        "wheelbase_change_mm": _path,
        "swing_use_pct": _swing,
    }
    return builders[key](study, view, system) if key in builders else []


def _mean_line(study: AxleStudy, role: str) -> tuple[Array, Array] | None:
    """Mid-plane mean of the rods of a role at the posture: chassis end and axle end."""
    layout = study.now.layout
    rods = [i for i, r in enumerate(layout.rods) if layout.mounts[r.first].member.role == role]
    if not rods:
        return None
    return np.mean(study.now.chassis_ends[0][rods], axis=0), np.mean(study.now.rod_ends[0][rods], axis=0)


def _rods(study: AxleStudy) -> list[tuple[str, Array, Array]]:
    """Role, chassis end and axle end of every rod at the posture."""
    layout, now = study.now.layout, study.now
    return [
        (layout.mounts[r.first].member.role, now.chassis_ends[0][i], now.rod_ends[0][i])
        for i, r in enumerate(layout.rods)
    ]


def _anti(vehicle: Vehicle, study: AxleStudy, key: str, view: View) -> list[Shape]:
    """Link lines, their crossing, and the line that means 100 %."""
    if view != "side":
        return []
    now, axle = study.now, study.axle
    x, z = now.value("ic_x_mm"), now.value("ic_z_mm")
    shapes: list[Shape] = []
    has_center = bool(np.isfinite(x)) and abs(x) < FAR_MM
    for role in ("upper", "lower"):
        line = _mean_line(study, role)
        if line is None:
            continue
        chassis, end = line
        reach = abs(x - end[0]) + 200.0 if has_center else 20_000.0
        way = (chassis - end) / max(abs(chassis[0] - end[0]), 1.0)
        if has_center and (x - end[0]) * way[0] < 0:
            way = -way
        shapes.append(Path((project(view, xyz(end)), project(view, xyz(end + way * reach))), f"{role}-line"))
    center = now.pose.center[0]
    contact = np.array([center[0], 0.0, center[2] - axle.tire.loaded_radius_mm])
    share = axle.brake_share if key in ("anti_lift_brake_pct", "anti_dive_pct") else axle.drive_share
    share = 1.0 if key.endswith("_axle_pct") else share
    toward = -1.0 if axle.is_front else 1.0
    if share > 0:
        rise = cg_height(vehicle) / (share * vehicle.wheelbase_mm)
        ends = contact + np.array([toward, 0.0, rise]) * 20_000.0
        shapes.append(Path((project(view, xyz(contact)), project(view, xyz(ends))), "reference"))
        at = contact + np.array([toward, 0.0, rise]) * 1.25 * axle.tire.free_diameter_mm
        shapes.append(Label(project(view, xyz(at)), f"100 % line, {np.degrees(np.arctan(rise)):.1f}° up", "reference"))
    if has_center:
        place = project(view, (x, 0.0, z))
        shapes.append(Path((project(view, xyz(contact)), place), "exact"))
        shapes.append(Mark(place, "cross", "exact", "instant center"))
    return shapes


def _roll(study: AxleStudy, view: View, system: System) -> list[Shape]:
    """Roll center and roll axis, and the lines of the links that make them."""
    now = study.now
    center = now.pose.center[0]
    height = now.value("roll_center_mm")
    at: Xyz = (float(center[0]), 0.0, height)
    slope = float(np.tan(np.radians(now.value("roll_axis_slope_deg"))))
    shapes: list[Shape] = []
    if view == "side":
        ends = [(at[0] + d, 0.0, height + slope * d) for d in (-800.0, 2500.0 if not study.axle.is_front else -2500.0)]
        shapes.append(Path(tuple(project(view, e) for e in ends), "exact"))
        shapes.append(Mark(project(view, at), "cross", "exact", "roll axis"))
    elif view == "rear":
        for role, chassis, end in _rods(study):
            if role == "lateral":
                shapes.append(Path((project(view, xyz(chassis)), project(view, xyz(end))), "lateral-line"))
        shapes.append(
            Mark(
                project(view, at),
                "cross",
                "exact",
                f"roll center {format_length(height, system)} {length_unit(system)}",
            )
        )
    else:
        for role, chassis, end in _rods(study):
            if role in ("upper", "lower"):
                far = end + (end - chassis) * 2.0
                shapes.append(Path((project(view, xyz(chassis)), project(view, xyz(far))), f"{role}-line"))
    return shapes


def _pinion(study: AxleStudy, view: View, _system: System) -> list[Shape]:
    """The pinion's axis as it points at full droop, now and at full bump."""
    nose = (-380.0 if study.axle.is_front else 380.0, 0.0)

    def words(pitch: float) -> str:
        rise = float(pinion_up(study.axle, pitch))
        return f"{abs(rise):.1f}° {'up' if rise > 0 else 'down'}"

    return _turned(study, nose, words) if view == "side" else []


def _caster(study: AxleStudy, view: View, _system: System) -> list[Shape]:
    """An upright line through the axle as it leans at full droop, now and at full bump: the kingpins go with it."""
    upright = (0.0, 0.6 * study.axle.tire.free_diameter_mm)

    def words(pitch: float) -> str:
        return f"{abs(pitch):.1f}° {'less' if pitch > 0 else 'more'} caster"

    return _turned(study, upright, words) if view == "side" else []


def _turned(study: AxleStudy, reach: tuple[float, float], words: Callable[[float], str]) -> list[Shape]:
    """A line fixed to the axle, from its center ahead and up by some mm, at both ends of travel and now (side view)."""
    sweep = study.travel.sweep
    reachable = np.flatnonzero(sweep.ok)
    shapes: list[Shape] = []
    x, y, z = study.axle.center
    base = np.array([(x, y, z), (x + reach[0], y, z + reach[1])])
    for i, word in ((reachable[0], "full droop"), (reachable[-1], "full bump")) if reachable.size else ():
        a, b = (xyz(p) for p in moved(sweep, int(i), base))
        shapes.append(Path((project("side", a), project("side", b)), "exact"))
        said = words(float(sweep.values["pitch_deg"][i]))
        shapes.append(Label(project("side", b), f"{word}: {said}", "exact"))
    now = [xyz(p) for p in place_of(study).at(base)]
    shapes.append(Path((project("side", now[0]), project("side", now[1])), "reference"))
    return shapes


def _triangulation(study: AxleStudy, view: View, _system: System) -> list[Shape]:
    """The links of a pair carried on to where they meet."""
    if view != "plan":
        return []
    shapes: list[Shape] = []
    for role, chassis, end in _rods(study):
        run = end[:2] - chassis[:2]
        # As far as the centerline, where the pair meets, but not out of the picture.
        reach = min(2.5, -chassis[1] / run[1] if abs(run[1]) > 1.0 and chassis[1] * run[1] < 0 else 1.3)
        far = chassis + (end - chassis) * max(reach, 1.0)
        shapes.append(Path((project(view, xyz(chassis)), project(view, xyz(far))), f"{role}-line"))
    figure = study.figure("triangulation_deg")
    if figure is not None:
        at = xyz(np.array(study.axle.center))
        shapes.append(Label(project(view, at), figure.note, "exact"))
    return shapes


def _path(study: AxleStudy, view: View, _system: System) -> list[Shape]:
    """The path of the axle center over travel."""
    if view == "plan":
        return []
    sweep = study.travel.sweep
    centers = sweep.pose.center[sweep.ok]
    if not len(centers):
        return []
    shapes: list[Shape] = [Path(tuple(project(view, xyz(c)) for c in centers), "exact")]
    if view == "rear":
        wheels = wheel_centers(study.axle)
        for i in (np.flatnonzero(sweep.ok)[0], np.flatnonzero(sweep.ok)[-1]):
            ends = moved(sweep, int(i), wheels)
            shapes.append(Path(tuple(project(view, xyz(e)) for e in ends), "ghost"))
    return shapes


def _swing(study: AxleStudy, view: View, _system: System) -> list[Shape]:
    """A ring around the joint that is nearest its limit."""
    figure = study.figure("swing_use_pct")
    if figure is None:
        return []
    layout = study.now.layout
    words = figure.note.partition(":")[0]
    for i, rod in enumerate(layout.rods):
        for index, ends in ((rod.first, study.now.chassis_ends), (rod.second, study.now.rod_ends)):
            place = layout.mounts[index]
            if f"{place.member.name}, {place.member.WORDS[place.end]}" == words:
                at = project(view, xyz(ends[0][i]))
                return [Round(at, 70.0, "exact"), Label(at, f"   {figure.note}", "exact")]
    return []


_BESIDE_MM = 60.0  # half a stout link and the wings of its arrows


def load_shapes(study: AxleStudy, loads: LoadStudy, view: View, system: System) -> list[Shape]:
    """Push and pull along the members, and the springs, as words beside their middle.

    They stand over what is above the axle and under the rest; beside a member that runs up and down in the picture.
    """
    now, unit = study.now, force_unit(system)
    shapes: list[Shape] = []
    places: dict[tuple[int, int], list[tuple[Place, str]]] = {}
    steep: dict[tuple[int, int], bool] = {}
    for i, rod in enumerate(now.layout.rods):
        force = loads.rows[i]
        if abs(force) < 50.0:
            continue
        ends = [project(view, xyz(place)) for place in (now.chassis_ends[0, i], now.rod_ends[0, i])]
        at = ((ends[0][0] + ends[1][0]) / 2, (ends[0][1] + ends[1][1]) / 2)
        member = now.layout.mounts[rod.first].member
        paired = member.side != "center" and member.side in member.name.lower()
        words = f"{format_force(abs(force), system)} {unit} {'pull' if force > 0 else 'push'}"
        # Links that cover each other in this view share one label, a hand apart is apart.
        key = (round(at[0] / 100), round(at[1] / 100))
        places.setdefault(key, []).append((at, f"{member.side} {words}" if paired else words))
        steep[key] = abs(ends[1][1] - ends[0][1]) > abs(ends[1][0] - ends[0][0])
        shapes += _arrows(ends[0], ends[1], force > 0)
    middle = project(view, xyz(now.pose.center[0]))[1]
    for key, found in places.items():
        h, v = (float(x) for x in np.mean([at for at, _ in found], axis=0))
        beside: Beside = "right" if steep[key] else "above" if v > middle else "below"
        h += _BESIDE_MM * steep[key]
        v += {"right": 0.0, "above": _BESIDE_MM, "below": -_BESIDE_MM}[beside]
        shapes.append(Label((h, v), ", ".join(words for _, words in found), "exact", beside))
    offset = len(now.layout.rods)
    shown: set[int] = set()
    for j, guide in enumerate(now.layout.guides):
        force = loads.joints[guide.mount]
        if guide.mount in shown or abs(loads.rows[offset + j]) < 50.0 or guide.spring:
            continue
        shown.add(guide.mount)
        at = place_of(study).at(np.array([now.layout.mounts[guide.mount].mount.at.xyz]))[0]
        shapes.append(Label(project(view, xyz(at)), f"{format_force(force, system)} {unit} on the pivot", "exact"))
    return shapes


def _arrows(a: Place, b: Place, pull: bool) -> list[Shape]:
    """Two arrowheads on a member: pointing apart where it is pulled, at each other where it is pushed."""
    start, run = np.array(a), np.array(b) - np.array(a)
    length = float(np.linalg.norm(run))
    if length < 120.0:
        return []  # seen end on
    along = run / length
    across = np.array([-along[1], along[0]])
    shapes: list[Shape] = []
    for share, way in ((0.2, -1.0), (0.8, 1.0)):
        tip = start + share * run + (way if pull else -way) * 30.0 * along
        back = tip - (way if pull else -way) * 60.0 * along
        wings = [back + 32.0 * across, tip, back - 32.0 * across]
        shapes.append(Path(tuple((float(p[0]), float(p[1])) for p in wings), "ground"))
    return shapes
