"""Tables of springs: every spring now, where the car sits, how it leans, leaves and air."""

import numpy as np

from even_stance.errors import InputError
from even_stance.judgement.springs import force_words, plain_name, rate_words, torque_per_degree
from even_stance.judgement.steerrows import Rows, lengthwise
from even_stance.mechanics.coils import coil_rate, leaf_pack_rate
from even_stance.mechanics.leaning import G
from even_stance.study.leaves import leaves_over_travel
from even_stance.study.model import axle_title
from even_stance.study.ride import NM_DEG, AxleRide, axle_ride, car_ride
from even_stance.study.springs import SpringStudy, sprung_n
from even_stance.study.springstops import StopRun, stops_of
from even_stance.study.springunits import units_of
from even_stance.study.standing import TURNS_G, Standing, as_bought, leans_at, stand, vehicle_cargo, wanted_at_ride
from even_stance.units import (
    POUND_PER_INCH,
    System,
    format_mass,
    format_pressure,
    mass_unit,
    pressure_unit,
)
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, all_of, change_spring, pair_of, set_members, turn_collar
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import Leaf, LeafPack
from even_stance.vehicle.springs import AirSpring, Damped, SwayBar

_HIGH = 0.75  # of the CG's height: roll centers above that are told of (common practice, no source)
_JACKS = "so high that the links lift the body in a corner (jacking): it leans less, and grips less"


def now_rows(job: Job, springs: SpringStudy) -> list[tuple[str, ...]]:
    """Every spring where the wheels are now: name, length, push, motion ratio, wheel rate and its two parts."""
    units, per = job.units, POUND_PER_INCH if job.units == "us" else 1.0
    found: list[tuple[str, ...]] = []
    for run in springs.runs:
        if run.unit.kind == "sway_bar":
            twist = float(np.degrees(run.length[0]))
            found.append((run.unit.name, f"{abs(twist):.1f}° twist", "", "", "", ""))
            continue
        leaf = run.unit.kind == "leaf"
        hold = float(springs.held[0 if run.unit.side == "left" else 1]) if leaf else 0.0
        length = "" if leaf else lengthwise(float(run.length[0]), units)
        push = float(run.force[0]) + hold
        ratio = "" if not np.isfinite(run.motion_ratio[0]) else f"{float(run.motion_ratio[0]):.2f}"
        rate, lean = float(run.wheel_rate[0]), float(run.geometry_part[0])
        found.append((
            run.unit.name, length, force_words(push, units) if run.unit.spring or abs(push) > 0.5 else "", ratio,
            rate_words(rate, units) if abs(rate) > 1e-6 else "",
            f"{round(lean / per, 1) + 0.0:+.1f}" if abs(rate) > 1e-6 else "",
        ))  # fmt: skip
    return found


def sits_rows(job: Job, aside_mm: float = 0.0) -> list[tuple[str, ...]]:
    """How high the car sits, as bought, settled, empty and with what is aboard: a title, then every axle."""
    vehicle, units = job.vehicle, job.units
    found: list[tuple[str, ...]] = []
    for title, car, cargo in (
        ("As bought, empty", as_bought(vehicle), ()),
        ("Settled, empty", vehicle, ()),
        ("With what is aboard", vehicle, vehicle_cargo(vehicle)),
        ("All listed aboard", vehicle, vehicle.cargo),
    ):
        try:
            at = stand(car, cargo, aside_mm)
        except InputError as error:
            found.append((title, str(error)))
            continue
        cells = [_height(at, a.key, units) for a in vehicle.axles]
        found.append((title, *cells, f"{at.cross_pct:.1f} %"))
    return found


def _height(at: Standing, key: str, units: System) -> str:
    """How high an axle's end of the car sits over ride height."""
    left, right = (-mm for mm in at.travel(key))
    if abs(left - right) < 1.0:
        return _over(0.5 * (left + right), units)
    return f"{_over(left, units)} left, {_over(right, units)} right"


def _over(mm: float, units: System) -> str:
    if abs(mm) < 0.8:
        return "at ride height"
    return f"{lengthwise(abs(mm), units)} {'high' if mm > 0 else 'low'}"


def corner_rows(job: Job, aside_mm: float = 0.0) -> list[tuple[str, ...]]:
    """What every tire carries as the car sits with what is aboard: a title, left and right."""
    try:
        at = stand(job.vehicle, None, aside_mm)
    except InputError as error:
        return [(str(error),)]
    rows: list[tuple[str, ...]] = []
    for axle in job.vehicle.axles:
        left, right = (f"{format_mass(n / G, job.units)} {mass_unit(job.units)}" for n in at.load(axle.key))
        rows.append((axle_title(axle), left, right))
    return rows


def wanted_rows(job: Job, axle: Axle) -> Rows:
    """What would make an axle sit at ride height with what is aboard: free length, collar turns, or pressure."""
    units, rows = job.units, []
    try:
        wants = wanted_at_ride(job.vehicle, axle)
    except InputError as error:
        return [("At ride height", str(error))]
    for want in wants:
        if want.pressure_bar is not None:
            words = f"{format_pressure(want.pressure_bar, units)} {pressure_unit(units)}"
        else:
            longer = want.longer_mm or 0.0
            words = f"coil {lengthwise(abs(longer), units)} {'longer' if longer > 0 else 'shorter'}"
            if abs(longer) < 0.8:
                words = "as it is"
            elif want.turns is not None:
                words += f", or collar {abs(want.turns):.1f} turns {'up' if want.turns > 0 else 'down'}"
        rows.append((want.name, words))
    return rows or [("At ride height", "leaves carry what they were measured with: re-arch or block them")]


def air_rows(job: Job, axle: Axle) -> Rows:
    """What pressure holds each of the three heights; empty without air springs."""
    units, heights = job.units, job.measuring.heights
    bags = [u for u in units_of(axle) if isinstance(u.part, AirSpring) and u.side == "left"]
    run = stops_of(job.vehicle, axle, contacts=False) if bags else None
    if run is None:
        return []
    rows = []
    for title, mm in (("Driven", 0.0), ("Raised", -heights.raise_mm), ("Lowest", heights.lower_mm)):
        for unit in bags:
            spring = next(r for r in run.runs if r.unit.name == unit.name)
            part = unit.part
            assert isinstance(part, AirSpring)
            length = float(np.interp(mm, run.travel, spring.length)) - part.seats_mm
            ratio = float(np.interp(mm, run.travel, spring.motion_ratio))
            area = float(np.interp(length, part.heights_mm, part.areas_mm2))
            if length <= part.closed_mm + 0.5:
                rows.append((f"{title} height", "on its internal stop, no air in it"))
                continue
            if length > part.open_mm:
                rows.append((f"{title} height", "beyond what the air spring reaches"))
                continue
            bar = 10.0 * 0.5 * sprung_n(axle) / max(ratio, 1e-6) / area
            rows.append((f"{title} height", f"{format_pressure(bar, units)} {pressure_unit(units)}, air spring "
                         f"{lengthwise(length, units)} high"))  # fmt: skip
    return rows


def roll_rows(job: Job) -> Rows:
    """How the car leans, axle by axle and as a whole."""
    vehicle, units = job.vehicle, job.units
    try:
        car = car_ride(vehicle)
    except InputError as error:
        return [("How the car leans", str(error))]
    rows = [
        ("Roll per g", f"{car.roll_deg:.1f}°, {car.gravity_pct:.0f} % of it from the weight leaning out"),
        *_lean_rows(job),
        ("Sprung mass over the roll axis", lengthwise(car.arm_mm, units)),
        ("Front springs hold", f"{car.front_share_pct:.0f} % of the roll"),
        (
            "Front takes",
            f"{car.front_transfer_pct:.0f} % of what goes across, with {car.front_weight_pct:.0f} % of the weight",
        ),
    ]
    for axle in vehicle.axles:
        ride = axle_ride(vehicle, axle)
        assert ride is not None
        rows += _axle_rows(axle, ride, units)
        lift = car.lift_g[axle.key]
        g = TURNS_G[-1]
        across = min(g * car.transfer_n[axle.key], 0.5 * car.load_n[axle.key])
        half = 0.5 * car.load_n[axle.key]
        at = f"{lift:.2f} g" if np.isfinite(lift) else "never"
        rows.append((f"{axle_title(axle)}, inside wheel lifts at", at))
        rows.append((f"{axle_title(axle)}, tires at {g:g} g",
                     f"{force_words(half - across, units)} inside, {force_words(half + across, units)} outside "
                     f"({force_words(across, units)} across)"))  # fmt: skip
        if ride.roll_center_mm > _HIGH * vehicle.cg_height_mm:
            rows.append((f"{axle_title(axle)}, roll center", _JACKS))
    return rows


def _lean_rows(job: Job) -> Rows:
    """How far the body leans in turns that are driven, with stops and straps: per g is its slope, straight ahead."""
    rows = []
    for g in TURNS_G:
        try:
            words = f"{leans_at(job.vehicle, g):.1f}°, with stops and straps"
        except InputError as error:
            words = f"not known: {error.problem}"
        rows.append((f"Leans at {g:g} g", words))
    return rows


def _axle_rows(axle: Axle, ride: AxleRide, units: System) -> Rows:
    """The roll stiffness of an axle, what of it bars give, and what it is not."""
    words = torque_per_degree(ride.stiffness, units)
    if ride.bar_stiffness > 0.0:
        words += f", {torque_per_degree(ride.bar_stiffness, units)} of it the bar"
    if abs(ride.bushing_stiffness) * NM_DEG > 1.0:
        words += f", {torque_per_degree(ride.bushing_stiffness, units)} the bushings"
    return [
        (f"{axle_title(axle)}, roll stiffness", words),
        (f"{axle_title(axle)}, if its springs stood at the tires", torque_per_degree(ride.at_wheels, units)),
    ]


def leaf_rows(job: Job, axle: Axle) -> Rows:
    """What a leaf pack's leaves come to, and how its shackle stands over the travel; empty without leaves."""
    rows, units = [], job.units
    for leaf in (m for m in axle.members if isinstance(m, Leaf)):
        if leaf.pack is not None:
            pack = leaf.pack
            rate = pack_rate(leaf, pack)
            loose = leaf_pack_rate(leaf_halves(leaf), 0.0, pack.leaves, pack.wide_mm, pack.thick_mm, pack.stiffening)
            rows.append((f"{leaf.name}, by its leaves", f"{rate_words(rate, units)}; {rate_words(loose, units)} if the "
                         "clamp is left out"))  # fmt: skip
        rows.append((f"{leaf.name}, as it counts", rate_words(leaf.rate_n_mm, units)))
    for at in leaves_over_travel(job.vehicle, axle):
        if at.leaf.side == "right":
            continue
        ride = int(np.abs(at.travel).argmin())
        swings = ", ".join(f"{at.shackle_deg[i]:+.0f}°" if np.isfinite(at.shackle_deg[i]) else "does not reach"
                           for i in (0, ride, -1))  # fmt: skip
        arches = ", ".join(lengthwise(float(at.arch_mm[i]), units) if np.isfinite(at.arch_mm[i]) else "—"
                           for i in (0, ride, -1))  # fmt: skip
        rows.append(("Shackle in droop, ride, bump; + rearward", f"{swings}{', may go over' if at.goes_over else ''}"))
        rows.append(("Seat off the line of the eyes, likewise", arches))
        if at.leaf.pack is not None and np.isfinite(at.arch_mm[ride]):
            carried = at.leaf.rate_n_mm * (at.leaf.pack.arch_mm - float(at.arch_mm[ride]))
            rows.append(("Carries at ride height, by its free arch", force_words(max(carried, 0.0), units)))
    return rows


def jack_rate(job: Job, key: str, name: str, kg: float, mm: float) -> Edit:
    """A leaf's rate as measured: a jack at its seat raised by some mm, and the scales showing so much less or more.

    Raises:
        InputError: nothing was raised, or the scales show no difference.
    """
    if kg <= 0.0 or mm <= 0.0:
        raise InputError(
            "Jack and scales", "show no difference.", "Type what the scales changed by, and how far it rose."
        )
    names = pair_of(job, key, name)
    return set_members(key, names, f"{name}: rate by jack and scales", rate_n_mm=kg * G / mm, pack=None)


def wire_rate(job: Job, key: str, name: str, wire_mm: float, mean_mm: float, active: float) -> Edit:
    """A coil's rate by its wire, mean diameter and active coils, as measured with calipers.

    Raises:
        InputError: a figure is lacking, or the wire is as thick as the coil.
    """
    if min(wire_mm, mean_mm, active) <= 0.0 or mean_mm <= wire_mm:
        raise InputError("Coil by its wire", "lacks a figure.", "Measure wire, mean diameter and the coils that move.")
    rate = coil_rate(wire_mm, mean_mm, active)
    return change_spring(key, name, "Coil by its wire", inner="coil", rate_n_mm=rate)


def stroke_rows(job: Job, run: StopRun) -> Rows:
    """What a shock's stroke is at the wheel, and how it is shared out above and below ride height."""
    rows, units, said = [], job.units, set[str]()
    for spring in run.runs:
        part, name = spring.unit.part, plain_name(spring.unit.name)
        if not isinstance(part, Damped) or name in said:
            continue
        said.add(name)
        ends = {s.what: s.travel_mm for s in run.stops if s.name == part.name and s.what in ("closed", "open")}
        stroke = lengthwise(part.open_mm - part.closed_mm, units)
        if len(ends) < 2:
            rows.append((name, f"{stroke} of stroke: more than the travel looked at uses"))
            continue
        whole = ends["closed"] - ends["open"]
        share = 100.0 * ends["closed"] / whole
        rows.append(
            (name, f"{stroke} of stroke is {lengthwise(whole, units)} at the wheel, {share:.0f} % of it for bump")
        )
    return rows


def bar_for_share(job: Job, axle: Axle, share_pct: float) -> tuple[str, float]:
    """How thick an axle's sway bar has to be for a wanted share of the roll in front, and in words.

    Raises:
        InputError: there is no bar, or no thickness gives that share.
    """
    rides = {a.key: r for a in job.vehicle.axles if (r := axle_ride(job.vehicle, a)) is not None}
    bar = next((s for s in axle.springs if isinstance(s, SwayBar)), None)
    if bar is None or axle.key not in rides or len(rides) < len(job.vehicle.axles):
        raise InputError(
            "Sway bar", "is not on this axle yet.", "Put one on, on the Parts page, and springs on both axles."
        )
    own = rides[axle.key]
    others = sum(r.stiffness for k, r in rides.items() if k != axle.key)
    share = share_pct / 100.0
    if not 0.0 < share < 1.0:
        raise InputError("Wanted share", "is between 0 and 100 %.", "Type a figure such as 58.")
    wanted = share / (1.0 - share) * others if axle.is_front else (1.0 - share) / share * others
    needed = wanted - (own.stiffness - own.bar_stiffness)
    if needed <= 0.0:
        raise InputError(
            "Wanted share", "is passed without any bar here.", "Softer springs here, or a bar at the other end."
        )
    thick = bar.bar_mm * (needed / own.bar_stiffness) ** 0.25
    held = f"{share_pct:.0f} % of the roll in front"
    return f"A bar of {lengthwise(thick, job.units)}, arms as thick as now, gives {held}.", thick


def leaf_halves(leaf: Leaf) -> tuple[float, float]:
    """From the fixed eye to the seat and on to the other eye, mm."""
    fixed, seat, free = (np.array(leaf.mounts[end].at.xyz) for end in ("fixed_eye", "seat", "shackle_eye"))
    return float(np.linalg.norm(seat - fixed)), float(np.linalg.norm(free - seat))


def pack_rate(leaf: Leaf, pack: LeafPack) -> float:
    """The rate of a leaf by its leaves, N/mm."""
    halves = leaf_halves(leaf)
    if min(halves) <= 0.5 * pack.clamp_mm + 25.0:
        raise InputError("Held by U-bolts", "is as long as the spring.", "Measure what the U-bolts hold still.")
    return leaf_pack_rate(halves, pack.clamp_mm, pack.leaves, pack.wide_mm, pack.thick_mm, pack.stiffening)


def wanted_edit(job: Job, axle: Axle) -> Edit | None:
    """The collars turned, or the pressures let in, so that an axle sits at ride height; None where nothing turns."""
    try:
        wants = wanted_at_ride(job.vehicle, axle)
    except InputError:
        return None
    edits, turned = [], False
    for want in wants:
        if want.turns is not None and abs(want.turns) > 0.01:
            edits.append(turn_collar(axle.key, want.name, want.turns, both=False))
            turned = True
        elif want.pressure_bar is not None and want.pressure_bar > 0.0:
            edits.append(change_spring(axle.key, want.name, "Pressure", both=False, pressure_bar=want.pressure_bar))
    if not edits:
        return None
    return all_of("Set the collars so" if turned else "Set the pressure so", edits)
