"""What box, ram, joints and threads of a steering come to, in rows of a title and a figure."""

import numpy as np

from even_stance.mechanics.screws import end_play, turns_until_bound
from even_stance.mechanics.tapers import included_angle, seat_left, sinks, size_at, wall_left
from even_stance.study.columnshaft import column_answers
from even_stance.study.steerfigures import mechanism_of
from even_stance.study.steerloads import assist_loads, box_loads, joint_height, ram_loads
from even_stance.units import System, force_unit, format_force, format_length, format_torque, length_unit, torque_unit
from even_stance.vehicle.car import Axle
from even_stance.vehicle.steering import JointFit

Rows = list[tuple[str, str]]
# Threads that steering rods, rod ends and hose fittings have: name, diameter and pitch, mm (ASME B1.1 and ISO 261).
THREADS: tuple[tuple[str, float, float], ...] = tuple(
    [(f"{name}-{n}", 25.4 * d, 25.4 / n) for name, d, n in (
        ("7/16", 7 / 16, 20), ("1/2", 1 / 2, 20), ("9/16", 9 / 16, 18), ("5/8", 5 / 8, 18), ("11/16", 11 / 16, 18),
        ("3/4", 3 / 4, 16), ("7/8", 7 / 8, 14), ("7/8", 7 / 8, 18), ("1", 1.0, 12), ("1", 1.0, 14), ("1 1/4", 1.25, 12),
    )] + [(f"M{d}x{p:g}", float(d), p) for d, p in (
        (10, 1.0), (10, 1.5), (12, 1.25), (12, 1.5), (12, 1.75), (14, 1.5), (16, 1.5), (18, 1.5), (20, 1.5), (22, 1.5),
        (24, 1.5), (24, 2.0), (27, 2.0),
    )]
)  # fmt: skip
_NEAR_MM, _NEAR_PITCH_MM, _HALF_OUT_MM = 0.5, 0.02, 6.0


def _length(mm: float, units: System) -> str:
    return f"{format_length(mm, units).removeprefix('~')} {length_unit(units)}"


def _size(mm: float, units: System) -> str:
    """A diameter, which a caliper reads: thousandths, or hundredths of a millimeter."""
    return f"{mm / 25.4:.3f} in" if units == "us" else f"{mm:.2f} mm"


def box_rows(axle: Axle, units: System) -> Rows:
    """What a push at one tire does to the box, and what its pitman arm is; empty without a box."""
    loads, steering = box_loads(axle), axle.steering
    if loads is None or steering is None or steering.box is None:
        return []
    box = steering.box

    def torque(nm: float) -> str:
        return f"{format_torque(nm, units)} {torque_unit(units)}"

    def force(n: float) -> str:
        return f"{format_force(n, units)} {force_unit(units)}"

    most = float(loads.torque_nm.max())
    rows = [
        ("Sector shaft, torque", torque(most)),
        ("Sector shaft, bending at the arm’s hub", torque(float(loads.bending_nm.max()))),
        ("The same with a flat arm", torque(float(loads.flat_nm.max()))),
        ("Drag link, pull or push", force(float(loads.drag_n.max()))),
        ("At the hand wheel’s rim, with no help and no losses", force(float(loads.rim_n.max()))),
        ("Pitman arm, center to center as measured", _length(loads.arm_mm, units)),
        ("Pitman arm, true drop", _length(loads.drop_mm, units)),
        ("Pitman arm, sweeps from lock to lock", f"{loads.sweep_deg:.0f}°"),
    ]
    if box.rating_nm is not None:
        rows.append(("Of the torque its maker allows", f"{100.0 * most / box.rating_nm:.0f} %"))
    if box.drop_mm is not None:
        apart = loads.drop_mm - box.drop_mm
        way = "more" if apart > 0 else "less"
        words = "as sold" if abs(apart) < 1.0 else f"{_length(abs(apart), units)} {way} than sold"
        rows.append(("Drop against what it was sold with", words))
    if box.splines:
        step = 90.0 if box.indexed else 360.0 / box.splines
        turns = step / 360.0 * box.ratio
        words = f"every {step:.1f}°: the hand wheel may stand up to {0.5 * turns:.2f} turns off straight"
        rows.append(("The arm goes on the splines", words + (", indexed" if box.indexed else ", all round")))
    longer = 25.4 / 2
    share = 100.0 * longer / max(loads.arm_mm, 1.0)
    rows.append((f"An arm {_length(longer, units)} longer", f"{share:.0f} % quicker, and as much heavier at the rim"))
    return rows


def ram_rows(axle: Axle, units: System) -> Rows:
    """What a ram pushes, uses and leaves, where its joints should stand, and the links to cut; empty without a ram."""
    loads, height, steering = ram_loads(axle), joint_height(axle), axle.steering
    if loads is None or height is None or steering is None:
        return []
    torque = [f"{format_torque(nm, units)} {torque_unit(units)}" for nm in (loads.center_nm, loads.least_nm)]
    used = [_length(mm, units) for mm in (*loads.used_mm, *loads.spare_mm)]
    middle = "in the middle" if abs(loads.off_center_mm) < 1.0 else (
        f"{_length(abs(loads.off_center_mm), units)} to the {'left' if loads.off_center_mm > 0 else 'right'}"
    )  # fmt: skip
    even = abs(loads.used_mm[0] - loads.used_mm[1])
    rows = [
        ("Push, either way", f"{format_force(loads.push_n, units)} {force_unit(units)}"),
        ("Turns one wheel with, straight ahead", torque[0]),
        ("Turns one wheel with, at the least", f"{torque[1]}, {100 * loads.least_nm / loads.center_nm:.0f} % of that"),
        ("Of the push goes across the rod, at the most", f"{100 * loads.side_share:.0f} %"),
        ("Middle of the rod, wheels straight", middle),
        ("Stroke used to the right, to the left", f"{used[0]}, {used[1]}"),
        ("Stroke left at the right end, at the left end", f"{used[2]}, {used[3]}"),
        ("Both strokes", "alike" if even < 1.0 else f"differ by {_length(even, units)}"),
        ("The joint goes up and down on its arc by", _length(height.rises_mm, units)),
    ]
    way = "stay" if abs(height.up_mm) < 0.5 else (
        f"{_length(abs(height.up_mm), units)} {'higher' if height.up_mm > 0 else 'lower'}"
    )  # fmt: skip
    rows.append(("Joints on the knuckles, best", f"{way}: {height.best_deg:.1f}° out of line at worst, now "
                 f"{height.now_deg:.1f}°"))  # fmt: skip
    return rows + cut_rows(axle, units)


def assist_rows(axle: Axle, units: System) -> Rows:
    """What an assist ram beside a box does; empty without one."""
    loads, steering = assist_loads(axle), axle.steering
    if loads is None or steering is None or steering.assist is None:
        return []
    assist = steering.assist
    room = (loads.shortest_mm - assist.closed_mm, assist.open_mm - loads.longest_mm)
    torque = [format_torque(nm, units) for nm in loads.helps_nm]
    force = [format_force(n, units) for n in (loads.push_n, loads.pull_n)]
    half = abs(loads.straight_mm - 0.5 * (assist.closed_mm + assist.open_mm)) < _HALF_OUT_MM
    return [
        ("Assist ram, wheels straight", _length(loads.straight_mm, units)),
        ("From lock to lock", f"{_length(loads.shortest_mm, units)} to {_length(loads.longest_mm, units)}"),
        ("Left before it is all the way in, out", " and ".join(_length(max(mm, 0.0), units) for mm in room)),
        ("Push, pull", f"{force[0]} and {force[1]} {force_unit(units)}"),
        ("Helps both wheels by, the weaker way", f"{torque[0]} to {torque[1]} {torque_unit(units)}"),
        ("Half out with the wheels straight", "yes" if half else "no: one lock ends before the other"),
    ]


def cut_rows(axle: Axle, units: System) -> Rows:
    """How long to cut the rods' tubes, both ends half way on their threads."""
    mechanism, steering = mechanism_of(axle), axle.steering
    if mechanism is None or steering is None:
        return []
    out = steering.rod_end_mm - steering.thread_mm / 2.0
    rows = []
    for link in mechanism.links:
        cut = link.length_mm - 2.0 * out
        name = link.name.capitalize()
        rows.append((f"{name}, joint to joint", _length(link.length_mm, units)))
        rows.append((f"{name}, cut to", _length(cut, units) if cut > 0.0 else "shorter than its two ends"))
    rows.append(("Threads take, each way and end", _length(steering.thread_mm / 2.0, units)))
    return rows


def column_rows(axle: Axle, units: System) -> Rows:
    """The steering shaft from column to box; empty where it is not known."""
    steering = axle.steering
    if steering is None or steering.column is None:
        return []
    shaft = steering.column
    said = column_answers(shaft)
    room = shaft.slip_mm - (said.length_mm - said.least_mm)
    better = said.best_pct < said.uneven_pct - 0.5
    phasing = f"{said.best_phase_deg:.0f}°, leaves {said.best_pct:.1f} %"
    halves = {"double_d": "two flats: one way and its opposite", "spline": "a spline: any tooth"}[shaft.halves]
    return [
        ("Joint at the column", f"{said.column_deg:.1f}°"), ("Joint at the box", f"{said.input_deg:.1f}°"),
        ("The hand wheel feels uneven by", f"{said.uneven_pct:.1f} % over a turn"),
        ("Phasing that evens it most", phasing if better else "as it is"),
        ("Its halves go together on", halves),
        ("Joint to joint", _length(said.length_mm, units)),
        ("As the body moves", f"{_length(said.least_mm, units)} to {_length(said.most_mm, units)}"),
        ("Left to slide together in a crash", _length(room, units) if room > 0.0 else "nothing: it pushes the column"),
        ("Never", "weld on a joint, a splined end or a collapsing part"),
    ]  # fmt: skip


def taper_rows(fit: JointFit, thick_mm: float, units: System) -> Rows:
    """How a stud sits in its arm, and what flipping it to the other side leaves."""
    taper = fit.taper_per_foot / 12.0
    deep = sinks(fit.hole_mm, fit.stud_mm, taper)
    wall = wall_left(fit.wide_mm, fit.sleeve_mm)
    drill = f"{_size(fit.sleeve_mm, units)}, wall {_length(wall, units)}"
    seat = 100.0 * seat_left(fit.hole_mm, fit.stud_mm, taper, thick_mm)
    sits = f"{_length(abs(deep), units)} {'deeper' if deep > 0 else 'proud'}" if abs(deep) > 0.05 else "as it should"
    return [
        ("Included angle", f"{np.degrees(included_angle(taper)):.2f}°"),
        ("Small end of the hole", _size(size_at(fit.hole_mm, taper, thick_mm), units)),
        ("The stud seats", sits),
        ("0.1 mm more hole sinks it", _length(sinks(0.1, 0.0, taper), units)),
        ("Flipped and reamed: seat left", f"{seat:.0f} % of its length"),
        ("Flipped, with a sleeve: drill", drill if wall > 0.0 else "the sleeve is wider than the arm"),
    ]


def thread_rows(fit: JointFit, units: System) -> Rows:
    """Whether two threads belong together, what they are likely to be, and how far they have to engage."""
    play = end_play(fit.rod_mm, fit.rod_pitch_mm)
    turns, needs = turns_until_bound(fit.rod_pitch_mm, fit.nut_pitch_mm, play), fit.engaged_mm / fit.rod_pitch_mm
    apart = abs(fit.rod_mm - fit.nut_mm)
    if apart > _NEAR_MM:
        verdict = f"no: their diameters are {_size(apart, units)} apart"
    elif turns < needs:
        verdict = f"no: starts by hand, binds after {turns:.1f} of {needs:.0f} turns"
    else:
        verdict = "the same pitch" if np.isinf(turns) else f"for {turns:.0f} turns, more than the {needs:.0f} engaged"
    engaged = fit.engaged_mm / fit.rod_mm
    return [
        ("Rod’s thread, nearest", nearest_thread(fit.rod_mm, fit.rod_pitch_mm)),
        ("End’s thread, nearest", nearest_thread(fit.nut_mm, fit.nut_pitch_mm)),
        ("They go together", verdict),
        ("Engaged", f"{engaged:.1f} diameters" + (": less than one, too little" if engaged < 0.995 else "")),
        ("Least to engage, one diameter", _length(fit.rod_mm, units)),
        ("Hands", "one left, one right: it sets on the car"),
    ]


def nearest_thread(diameter: float, pitch: float) -> str:
    """The name of the thread nearest to a measured diameter and pitch, and whether it is that."""
    name, d, p = min(THREADS, key=lambda t: (abs(t[1] - diameter) / 0.4) ** 2 + (abs(t[2] - pitch) / 0.05) ** 2)
    close = abs(d - diameter) <= _NEAR_MM and abs(p - pitch) <= _NEAR_PITCH_MM
    return name if close else f"none of the usual ones; {name} is nearest"
