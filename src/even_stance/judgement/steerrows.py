"""What box, ram, rods and column of a steering come to, in rows of a title and a figure with its +/-."""

from collections.abc import Callable
from functools import lru_cache

from even_stance.mechanics.vectors import Array
from even_stance.study.columnshaft import column_answers, column_spreads
from even_stance.study.cutlist import cut_list
from even_stance.study.steerfigures import Turner, turner_of
from even_stance.study.steerloads import assist_loads, box_loads, joint_height, ram_loads, ram_values
from even_stance.study.steerroom import cover_gap, ends_sure, pitman_near, puller_room
from even_stance.study.steerspread import steer_spreads
from even_stance.units import System, force_unit, format_force, format_length, format_torque, length_unit, torque_unit
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.job import Job

Rows = list[tuple[str, str]]
_HALF_OUT_MM = 6.0


def _give(value: float, sure: float, write: Callable[[float, System], str], unit: str, units: System) -> str:
    """A figure with its +/-, where that is as large as what is written."""
    said, give = (write(v, units).removeprefix("~") for v in (value, sure))
    nil = write(0.0, units).removeprefix("~")
    return f"{said} {unit}" if give == nil else f"{said} ± {give} {unit}"


def lengthwise(mm: float, units: System, sure: float = 0.0) -> str:
    """A length with its +/-."""
    return _give(mm, sure, format_length, length_unit(units), units)


def _torque(nm: float, units: System, sure: float = 0.0) -> str:
    return _give(nm, sure, format_torque, torque_unit(units), units)


def _force(n: float, units: System, sure: float = 0.0) -> str:
    return _give(n, sure, format_force, force_unit(units), units)


def box_rows(job: Job, axle: Axle) -> Rows:
    """What a push at one tire does to the box, and what its pitman arm is; empty without a box."""
    loads, steering, units = box_loads(axle), axle.steering, job.units
    if loads is None or steering is None or steering.box is None:
        return []
    box, sure = steering.box, _box_spreads(axle)
    most = {key: float(value) for key, value in loads.most.items()}
    rows = [
        ("Sector shaft, torque", _torque(most["torque"], units, sure["torque"])),
        ("Sector shaft, bending at the arm’s hub", _torque(most["bending"], units, sure["bending"])),
        ("The same with a flat arm", _torque(most["flat"], units, sure["flat"])),
        ("Drag link, pull or push", _force(most["drag"], units, sure["drag"])),
        ("At the hand wheel’s rim, with no help and no losses", _force(most["rim"], units, sure["rim"])),
        ("Pitman arm, center to center as measured", lengthwise(most["arm"], units, sure["arm"])),
        ("Pitman arm, true drop", lengthwise(most["drop"], units, sure["drop"])),
        ("Pitman arm, sweeps from lock to lock", f"{most['sweep']:.0f}°"),
    ]
    if box.rating_nm is not None:
        rows.append(("Of the torque its maker allows", f"{100.0 * most['torque'] / box.rating_nm:.0f} %"))
    if box.drop_mm is not None:
        apart = most["drop"] - box.drop_mm
        way = "more" if apart > 0 else "less"
        words = f"{lengthwise(abs(apart), units, sure['drop'])} {way} than sold"
        rows.append(("Drop against what it was sold with", "as sold" if abs(apart) < 1.0 else words))
    if box.splines:
        step = 90.0 if box.indexed else 360.0 / box.splines
        turns = step / 360.0 * box.ratio
        words = f"every {step:.1f}°: the hand wheel may stand up to {0.5 * turns:.2f} turns off straight"
        rows.append(("The arm goes on the splines", words + (", indexed" if box.indexed else ", all round")))
    longer = 25.4 / 2
    share = 100.0 * longer / max(most["arm"], 1.0)
    rows.append(
        (f"An arm {lengthwise(longer, units)} longer", f"{share:.0f} % quicker, and as much heavier at the rim")
    )
    return rows


@lru_cache(maxsize=8)
def _box_spreads(axle: Axle) -> dict[str, float]:
    """The +/- of what the box holds, from how sure the steering's points are."""

    def values(many: Turner) -> dict[str, Array]:
        loads = box_loads(axle, many)
        return {} if loads is None else loads.most

    return steer_spreads(axle, values)


_TIGHT_MM, _PULLER_MM, _SHOWN = 12.7, 100.0, 4  # common practice, no source: half an inch, and a puller's four inches


def room_rows(job: Job, axle: Axle) -> Rows:
    """What the pitman arm comes near to over its sweep, and whether a puller fits below it; empty without a box."""
    rows, units = [], job.units
    for near in pitman_near(job.vehicle, axle)[:_SHOWN]:
        turned = (
            "straight"
            if abs(near.steer) < 0.05
            else f"{abs(near.steer):.1f} turns {'left' if near.steer > 0 else 'right'}"
        )
        gap = f"{lengthwise(max(near.gap_mm, 0.0), units, near.sure_mm)}, {turned}"
        if near.gap_mm < near.sure_mm:
            gap = f"{'touches' if near.gap_mm < -near.sure_mm else 'may touch'}, {turned}"
        elif near.gap_mm < _TIGHT_MM:
            gap += ": tight"
        rows.append((f"Pitman arm to {near.what}", gap))
    room = puller_room(job.vehicle, axle)
    if room is not None:
        ends = f", then the {room[1]}" if room[1] else " and more"
        short = f": a puller wants some {lengthwise(_PULLER_MM, units)}" if room[0] < _PULLER_MM else ""
        rows.append(("Free beyond the arm’s hub, for a puller", f"{lengthwise(room[0], units)}{ends}{short}"))
    return rows


def ram_rows(job: Job, axle: Axle) -> Rows:
    """What a ram pushes, uses and leaves, where its joints should stand, and the links to cut; empty without a ram."""
    loads, height, steering, units = ram_loads(axle), joint_height(axle), axle.steering, job.units
    if loads is None or height is None or steering is None:
        return []
    sure = _ram_spreads(axle)
    torque = [_torque(nm, units, sure[key]) for nm, key in ((loads.center_nm, "center"), (loads.least_nm, "least"))]
    used, left = (
        [lengthwise(mm, units, sure[f"{what}_{side}"]) for mm, side in zip(both, ("right", "left"), strict=True)]
        for what, both in (("used", loads.used_mm), ("spare", loads.spare_mm))
    )
    off = lengthwise(abs(loads.off_center_mm), units, sure["off_center"])
    middle = "in the middle" if abs(loads.off_center_mm) < 1.0 else (
        f"{off} to the {'left' if loads.off_center_mm > 0 else 'right'}"
    )  # fmt: skip
    even = abs(loads.used_mm[0] - loads.used_mm[1])
    rows = [
        ("Push, either way", _force(loads.push_n, units)),
        ("Turns one wheel with, straight ahead", torque[0]),
        ("Turns one wheel with, at the least", f"{torque[1]}, {100 * loads.least_nm / loads.center_nm:.0f} % of that"),
        ("Of the push goes across the rod, at the most", f"{100 * loads.side_share:.0f} %"),
        ("Middle of the rod, wheels straight", middle),
        ("Stroke used to the right, to the left", f"{used[0]}, {used[1]}"),
        ("Stroke left at the right end, at the left end", f"{left[0]}, {left[1]}"),
        ("Both strokes", "alike" if even < 1.0 else f"differ by {lengthwise(even, units)}"),
        ("The joint goes up and down on its arc by", lengthwise(height.rises_mm, units)),
    ]
    way = "stay" if abs(height.up_mm) < 0.5 else (
        f"{lengthwise(abs(height.up_mm), units)} {'higher' if height.up_mm > 0 else 'lower'}"
    )  # fmt: skip
    rows.append(("Joints on the knuckles, best", f"{way}: {height.best_deg:.1f}° out of line at worst, now "
                 f"{height.now_deg:.1f}°"))  # fmt: skip
    near = cover_gap(axle)
    if near is not None:
        gap = lengthwise(max(near.gap_mm, 0.0), units, near.sure_mm)
        words = "touches" if near.gap_mm < -near.sure_mm else "may touch" if near.gap_mm < near.sure_mm else gap
        rows.append(("Ram’s body to the housing’s cover", words))
    return rows + cut_rows(job.vehicle, axle, units)


@lru_cache(maxsize=8)
def _ram_spreads(axle: Axle) -> dict[str, float]:
    """The +/- of what a ram does, from how sure the steering's points are."""
    return steer_spreads(axle, lambda many: ram_values(axle, many) or {})


def assist_rows(job: Job, axle: Axle) -> Rows:
    """What an assist ram beside a box does; empty without one."""
    loads, steering, units = assist_loads(axle), axle.steering, job.units
    if loads is None or steering is None or steering.assist is None:
        return []
    assist, sure = steering.assist, ends_sure(axle, "assist_base", "assist_end")
    room = (loads.shortest_mm - assist.closed_mm, assist.open_mm - loads.longest_mm)
    torque = [format_torque(nm, units) for nm in loads.helps_nm]
    force = [format_force(n, units) for n in (loads.push_n, loads.pull_n)]
    half = abs(loads.straight_mm - 0.5 * (assist.closed_mm + assist.open_mm)) < _HALF_OUT_MM
    return [
        ("Assist ram, wheels straight", lengthwise(loads.straight_mm, units, sure)),
        ("From lock to lock", f"{lengthwise(loads.shortest_mm, units)} to {lengthwise(loads.longest_mm, units, sure)}"),
        ("Left before it is all the way in, out",
         " and ".join(lengthwise(max(mm, 0.0), units, sure) for mm in room)),
        ("Push, pull", f"{force[0]} and {force[1]} {force_unit(units)}"),
        ("Helps both wheels by, the weaker way", f"{torque[0]} to {torque[1]} {torque_unit(units)}"),
        ("Half out with the wheels straight", "yes" if half else "no: one lock ends before the other"),
    ]  # fmt: skip


_LINK_ENDS = {
    "tie rod": ("left_tie", "right_tie"), "drag link": ("ball", "drag"), "left link": ("ram_left", "left_tie"),
    "right link": ("ram_right", "right_tie"), "left tie rod": ("left_inner", "left_tie"),
    "right tie rod": ("right_inner", "right_tie"),
}  # fmt: skip


_ON_BUILD_SHEET = {"left link": "Left ram link", "right link": "Right ram link"}


def cut_rows(vehicle: Vehicle, axle: Axle, units: System) -> Rows:
    """How long to cut the rods' tubes: by their parts on the build sheet, else both ends half way on their threads."""
    turner, steering = turner_of(axle), axle.steering
    if turner is None or steering is None:
        return []
    cuts = {c.piece.part: c for c in cut_list(vehicle, units) if c.piece.axle == axle.key}
    out = steering.rod_end_mm - steering.thread_mm / 2.0
    rows, loose = [], False
    for link in turner.links:
        sure = ends_sure(axle, *_LINK_ENDS[link.name])
        name = link.name.capitalize()
        on_sheet = cuts.get(_ON_BUILD_SHEET.get(link.name, name))
        cut = link.length_mm - 2.0 * out if on_sheet is None else on_sheet.cut_mm
        loose |= on_sheet is None
        rows.append((f"{name}, joint to joint", lengthwise(link.length_mm, units, sure)))
        by = "" if on_sheet is None else ", by its parts on the Build sheet"
        rows.append((f"{name}, cut to", f"{lengthwise(cut, units, sure)}{by}" if cut > 0.0
                     else "shorter than its two ends"))  # fmt: skip
    if loose:
        rows.append(("Threads take, each way and end", lengthwise(steering.thread_mm / 2.0, units)))
    return rows


def column_rows(job: Job, axle: Axle) -> Rows:
    """The steering shaft from column to box; empty where it is not known."""
    steering, units = axle.steering, job.units
    if steering is None or steering.column is None:
        return []
    shaft = steering.column
    said, sure = column_answers(shaft), column_spreads(shaft)
    room = shaft.slip_mm - (said.length_mm - said.least_mm)
    better = said.best_pct < said.uneven_pct - 0.5
    phasing = f"{said.best_phase_deg:.0f}°, leaves {said.best_pct:.1f} %"
    halves = {"double_d": "two flats: one way and its opposite", "spline": "a spline: any tooth"}[shaft.halves]
    along = sure["length_mm"]
    left = lengthwise(room, units, along) if room > 0.0 else "nothing: it pushes the column"
    return [
        ("Joint at the column", f"{said.column_deg:.1f} ± {sure['column_deg']:.1f}°"),
        ("Joint at the box", f"{said.input_deg:.1f} ± {sure['input_deg']:.1f}°"),
        ("The hand wheel feels uneven by", f"{said.uneven_pct:.1f} ± {sure['uneven_pct']:.1f} % over a turn"),
        ("Phasing that evens it most", phasing if better else "as it is"),
        ("Its halves go together on", halves),
        ("Joint to joint", lengthwise(said.length_mm, units, along)),
        ("As the body moves", f"{lengthwise(said.least_mm, units)} to {lengthwise(said.most_mm, units, along)}"),
        ("Left to slide together in a crash", left),
        ("Never", "weld on a joint, a splined end or a collapsing part"),
    ]
