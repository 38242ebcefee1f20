"""Writes the demo jobs: made-up vehicles, all figures our own invention."""

from pathlib import Path

from demo_things import beam_things, coupe_things, cruiser_things, rig_things, trail_things

from even_stance.exchange.jobfile import dump_job
from even_stance.judgement.catalog.parts import starting_parts
from even_stance.judgement.catalog.springs import SpringKey, starting_springs
from even_stance.judgement.catalog.starter import NewJob, new_job, with_starter
from even_stance.judgement.catalog.steerings import starting_steering
from even_stance.judgement.known import guessed_spots
from even_stance.shop.readings import new_reading
from even_stance.shop.sheet import take_reading
from even_stance.study.pieces import pieces
from even_stance.study.standing import wanted_at_ride
from even_stance.vehicle.car import Housing, Vehicle
from even_stance.vehicle.driveline import Mark, Powertrain, Yoke
from even_stance.vehicle.edits import (
    Edit,
    add_springs,
    change_parts,
    change_spring,
    change_steering,
    fit_parts,
    made,
    move_by,
    put_together,
    set_axle,
    set_build,
    set_cargo,
    set_holes,
    set_job,
    set_known,
    set_measuring,
    set_powertrain,
    set_price,
    set_shaft,
    set_split,
    set_springs,
    set_steering,
    set_sure,
    set_tire,
    set_vehicle,
    with_changes,
)
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import Ballast, Heights, LowPoint, Quantity, Tool
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import STEER_POINTS, Spot, all_spots, spots_on
from even_stance.vehicle.springs import Cargo, Rocker
from even_stance.vehicle.steering import SteeringKind
from even_stance.vehicle.variants import branch_off, switch_to

IN = 25.4
DEMO = Path(__file__).parent.parent / "src" / "even_stance" / "demo"


def run(job: Job, *edits: Edit) -> Job:
    for edit in edits:
        job = edit.apply(job)
    return job


def trail_pickup() -> Job:
    asked = NewJob("Saltbush trail pickup", "trail", "us", 118 * IN, 64 * IN, 35 * IN, 12.5 * IN)
    job = run(
        new_job(asked),
        set_axle("front", "Weights", load_kg=1100.0, unsprung_kg=250.0, bump_mm=4 * IN, droop_mm=5 * IN),
        set_axle("rear", "Weights", load_kg=870.0, unsprung_kg=230.0, bump_mm=5 * IN, droop_mm=5 * IN),
        set_vehicle("CG", cg_height_mm=29 * IN, cg_source="camshaft", cg_sure_mm=2 * IN),
    )
    job = _framed(job, front_kick_up_mm=8 * IN, rail_out_mm=16 * IN)
    return run(
        _steered(with_starter(with_starter(job, "rear", "triangulated"), "front", "leaf"), "front", "crossover"),
        move_by(Spot("rear", "Upper left", "chassis"), 0.0, 0.0, 1.25 * IN),
        set_holes(Spot("rear", "Lower left", "chassis"), 2, 1.25 * IN),
        set_job(
            "Notes",
            notes="Stock leaf springs and a crossover drag link in front. Uppers clear the bed floor at full bump.",
        ),
        set_axle("rear", "Output", output=_yoke(-62.0, 1.25, 25.5, -2.0)),
        set_axle("rear", "Pinion", pinion=_yoke(-106.5, 0.5, 18.25, 8.2)),
        set_shaft("rear", "Shaft", output_joint="double_cardan", tube_mm=3 * IN, wall_mm=0.12 * IN, slip="shaft",
                  spline_mm=6 * IN, pull_out_mm=2.5 * IN, limit_deg=28.0, top_rpm=3100.0),
        set_powertrain(
            Powertrain(
                mount_left=_taped(-5.0, 11.5, 30.0), mount_right=_taped(-5.0, -11.5, 30.0),
                tail=_taped(-56.0, 0.0, 23.0),
                marks=(
                    Mark(name="filler neck", at=_taped(2.0, -6.0, 43.0), clears="hood brace", toward="ahead",
                         gap_mm=1.75 * IN, wanted_mm=0.75 * IN),
                    Mark(name="case lever", at=_taped(-58.0, 6.0, 31.0), clears="seat floor", toward="above",
                         gap_mm=2.25 * IN, wanted_mm=1 * IN),
                ),
            )
        ),
        _sprung("front", "shock", "bump_stop"),
        _sprung("rear", "coil_over", "bump_stop", "strap"),
        _shifted("front", ("Shock left", "top bottom", -360.0, -140.0, 0.0),
                 ("", "ball drag sector sector_top", 0, 0, 85.0)),
        change_steering("front", "Stops", stop_deg=31.0),
        _shifted("rear", ("Coil-over left", "top bottom", 0.0, -140.0, 0.0)),
        set_cargo(
            "Carried",
            (
                Cargo(name="tool chest", mass_kg=70.0, behind_front_mm=112 * IN, aboard=False),
                Cargo(name="spare wheel", mass_kg=34.0, behind_front_mm=140 * IN, left_mm=-8 * IN),
            ),
        ),
        trail_things(),
        # The inner fender has a slot for the drag link.
        put_together("front drag link", "right front inner fender"),
        _parts(("2 x 0.250", 41.0), ("1 1/2 x 0.120", 17.5), done=("stand", "stand-hold")),
        change_parts("rear", "Lower left", "Heavy hits", {"hit": True}),
        branch_off("cantilevered front", _cantilevers()),
        switch_to("As measured"),
    )  # fmt: skip


def _parts(*prices: tuple[str, float], **changes: object) -> Edit:
    """Parts for every link and rod, what some of them cost, and what else is said of them."""

    def apply(job: Job) -> Job:
        metric = job.units == "metric"
        parts = [starting_parts(p, metric) for p in pieces(job.vehicle)]
        job = fit_parts("Parts", parts).apply(job)
        for what, each in prices:
            job = set_price(what, each).apply(job)
        return set_build("Build", **changes).apply(job)

    return Edit("Parts", apply)


def _cantilevers() -> Edit:
    """The front shocks laid along the frame, each worked by a rocker."""

    def apply(job: Job) -> Job:
        units = tuple(made(Rocker, **{n: getattr(u, n) for n in Rocker.model_fields} | {"coil": None})
                      for u in starting_springs(job, "front", "rocker"))  # fmt: skip
        kept = tuple(s for s in job.vehicle.axle("front").springs if s.kind != "shock")
        return set_springs("front", (*kept, *units), "Cantilevers").apply(job)

    return Edit("Cantilevers", apply)


def street_coupe() -> Job:
    asked = NewJob("Juniper street coupe", "street_performance", "us", 108 * IN, 58 * IN, 26 * IN, 9.5 * IN)
    job = run(
        new_job(asked, "three_link"),
        set_axle("front", "Weights", load_kg=850.0, unsprung_kg=140.0),
        set_axle("rear", "Weights", load_kg=720.0, unsprung_kg=150.0),
        set_vehicle("CG", cg_height_mm=20.5 * IN, cg_source="camshaft", cg_sure_mm=1 * IN),
    )
    job = _framed(job, front_kick_up_mm=6 * IN)
    return run(
        _steered(with_starter(with_starter(job, "rear", "three_link"), "front", "parallel"), "front", "fore_aft"),
        set_tire("front", "Front tires", free_diameter_mm=25 * IN, loaded_radius_mm=11.75 * IN, width_mm=8.5 * IN),
        move_by(Spot("rear", "Panhard", "chassis"), 0.0, 0.0, 0.5 * IN),
        set_holes(Spot("rear", "Panhard", "axle"), 3, 1 * IN),
        set_job("Notes", notes="Panhard frame end on the driver's side. Exhaust runs over the tube on the right."),
        set_measuring(
            "Stance",
            who="Ada",
            stance="empty, half a tank, driven height",
            heights=Heights(air=True, lower_mm=2.75 * IN, raise_mm=2 * IN, settle_mm=0.0),
            low_points=(
                LowPoint(name="oil pan", at=Point(x=-10 * IN, y=0.0, z=5.25 * IN)),
                LowPoint(name="exhaust crossover", at=Point(x=-52 * IN, y=9 * IN, z=5.75 * IN)),
            ),
            ballast=(Ballast(name="battery and trim", mass_kg=45.0, at=Point(x=-70 * IN, y=0.0, z=22 * IN)),),
        ),
        *(_reading(what, quantity, value) for what, quantity, value in COUPE_READINGS),
        set_shaft("rear", "Shaft", tube_mm=3 * IN, wall_mm=0.083 * IN, spline_mm=4.75 * IN, pull_out_mm=1 * IN,
                  limit_deg=22.0, top_rpm=5200.0),
        set_powertrain(
            Powertrain(
                mount_left=_taped(-9.0, 10.5, 16.5), mount_right=_taped(-10.5, -10.5, 16.25),
                tail=_taped(-46.0, 0.0, 10.5),
                marks=(
                    Mark(name="idler pulley", at=_taped(7.5, 4.0, 24.0), clears="oil cooler", toward="ahead",
                         gap_mm=1 * IN, wanted_mm=0.625 * IN),
                    Mark(name="shifter", at=_taped(-49.5, 0.0, 19.5), clears="tunnel", toward="above",
                         gap_mm=1.75 * IN, wanted_mm=0.5 * IN),
                    Mark(name="starter cable", at=_taped(-21.0, -9.0, 9.0), clears="cable tray", toward="right",
                         gap_mm=0.75 * IN, wanted_mm=0.5 * IN),
                ),
            )
        ),
        _sprung("front", "coil_over", "bump_stop", "sway_bar"),
        _sprung("rear", "coil_over", "bump_stop", "strap"),
        _shifted("front", ("Coil-over left", "top bottom", -20.0, -140.0, 0.0),
                 ("Panhard", "chassis axle", 60.0, 0.0, 0.0),
                 ("Sway bar", "bearing_left arm_left drop_left", 0.0, -60.0, 0.0), ("", "left_tie", 0.0, 0.0, 20.0),
                 ("", "drag ball sector sector_top", 0.0, -60.0, 0.0)),
        change_steering("front", "Stops", stop_deg=27.0),
        _shifted("rear", ("Coil-over left", "top bottom", 170.0, -140.0, 0.0),
                 ("Panhard", "chassis axle", -60.0, 0.0, 0.0)),
        set_axle("rear", "Housing", housing=Housing(ball_mm=9.75 * IN, wide_mm=8 * IN, nose_mm=5.5 * IN)),
        move_by(Spot("rear", "Coil-over left", "top"), 0.0, -1.75 * IN, -0.5 * IN),
        change_spring("rear", "Coil-over left", "Coil", inner="coil", sag_mm=0.25 * IN),
        set_cargo(
            "Carried",
            (
                Cargo(name="two people", mass_kg=150.0, behind_front_mm=66 * IN),
                Cargo(name="luggage", mass_kg=40.0, behind_front_mm=122 * IN, aboard=False),
            ),
        ),
        coupe_things(),
        # The left rail is notched over the arm of the box and its drag link.
        put_together("left frame rail", "front pitman arm"),
        put_together("left frame rail", "front drag link"),
        _parts(("2 x 0.250", 41.0)),
        change_parts("rear", "Panhard", "Fine thread", {"engaged_mm": 0.8125 * IN}, end="second"),
    )  # fmt: skip


COUPE_READINGS: tuple[tuple[str, Quantity, float], ...] = (
    ("floor.slope", "angle", 0.2),
    *(("floor.frame", "angle", v) for v in (-0.9, -0.7, -0.8, -0.8, -0.85, -2.6)),
    ("wheelbase.left", "length", 108.125 * IN), ("wheelbase.right", "length", 107.875 * IN),
    ("diagonal.left", "length", 122.5625 * IN), ("diagonal.right", "length", 122.625 * IN),
    ("scale.front.left", "mass", 428.0), ("scale.front.right", "mass", 422.0),
    ("scale.rear.left", "mass", 345.0), ("scale.rear.right", "mass", 352.0),
    ("rear.output.ahead", "length", 52.5 * IN), ("rear.output.left", "length", 0.0),
    ("rear.output.up", "length", 13.25 * IN), ("rear.output.angle", "angle", 2.6),
    ("rear.pinion.ahead", "length", 11.5 * IN), ("rear.pinion.left", "length", 0.0),
    ("rear.pinion.up", "length", 11.875 * IN), ("rear.pinion.angle", "angle", 2.1),
)  # fmt: skip


def _reading(what: str, quantity: Quantity, value: float) -> Edit:
    tool: Tool = {"length": "tape", "angle": "angle_finder", "mass": "scales"}[quantity]  # type: ignore[assignment]

    def apply(job: Job) -> Job:
        return take_reading(new_reading(job, what, quantity, value, tool, "2026-03-14T10:20")).apply(job)

    return Edit("Reading", apply)


def rock_rig() -> Job:
    asked = NewJob("Basalt rock rig", "trail", "metric", 2750.0, 1780.0, 1010.0, 340.0)
    job = run(
        new_job(asked, "double_triangulated"),
        set_split("drive", 0.5),
        set_axle("front", "Front axle", load_kg=980.0, unsprung_kg=330.0, bump_mm=150.0, droop_mm=180.0),
        set_axle("rear", "Rear axle", load_kg=900.0, unsprung_kg=320.0, bump_mm=170.0, droop_mm=200.0),
        set_vehicle("CG", cg_height_mm=860.0, cg_source="measured", cg_sure_mm=25.0),
    )
    job = _framed(job, front_kick_up_mm=190.0, kick_up_mm=190.0)
    job = with_starter(with_starter(job, "rear", "double_triangulated"), "front", "double_triangulated")
    job = set_axle("rear", "Steers", steered=True).apply(job)
    return run(
        _steered(_steered(job, "front", "ram"), "rear", "ram"),
        set_job("Notes", notes="Front and rear share one set of cut lengths."),
        rig_things(),
        set_axle("rear", "Output", output=_yoke(-58.0, 0.0, 25.0, -1.0)),
        set_axle("rear", "Pinion", pinion=_yoke(-95.0, 0.0, 21.5, 5.5)),
        set_shaft("rear", "Shaft", output_joint="double_cardan", slip="shaft", spline_mm=180.0, pull_out_mm=80.0,
                  limit_deg=32.0, tube_mm=70.0, wall_mm=5.0),
        set_axle("front", "Output", output=_yoke(-44.0, 7.0, 25.0, -1.0)),
        set_axle("front", "Pinion", pinion=_yoke(-12.0, 7.0, 21.5, -6.5)),
        set_shaft("front", "Shaft", output_joint="double_cardan", slip="shaft", spline_mm=180.0, pull_out_mm=80.0,
                  limit_deg=32.0, tube_mm=70.0, wall_mm=5.0),
        _sprung("front", "dual", "bump_stop", "strap"),
        _shifted("front", ("Coil-over left", "top bottom", 0.0, -80.0, 0.0), ("Lower left", "axle", 0.0, -70.0, 0.0),
                 ("", "left_tie ram_left", 330.0, 0.0, 0.0)),
        set_axle("front", "Housing", housing=Housing(ball_mm=255.0, wide_mm=200.0, nose_mm=140.0)),
        _sprung("rear", "dual", "bump_stop", "strap", "bar_on_axle"),
        _shifted("rear", ("Coil-over left", "top bottom", 230.0, -140.0, 0.0), ("Lower left", "axle", 0.0, -70.0, 0.0),
                 ("", "left_tie ram_left", -330.0, 0.0, 0.0),
                 ("Sway bar", "bearing_left", -40.0, -20.0, 90.0),
            ("Sway bar", "arm_left", -190.0, -20.0, 90.0), ("Sway bar", "drop_left", -190.0, -20.0, 0.0)),
        set_axle("rear", "Housing", housing=Housing(ball_mm=255.0, wide_mm=200.0, nose_mm=140.0)),
        _parts(bars_mm=(3000.0, 6000.0), kerf_mm=2.5),
    )  # fmt: skip


def beam_truck() -> Job:
    """A made-up truck on two swing beams in front, for fast rough ground."""
    asked = NewJob("Mesa swing-beam truck", "desert", "us", 126 * IN, 68 * IN, 35 * IN, 12.5 * IN)
    job = run(
        new_job(asked, "three_link"),
        set_axle("front", "Weights", load_kg=1150.0, unsprung_kg=220.0, bump_mm=7 * IN, droop_mm=6 * IN),
        set_axle("rear", "Weights", load_kg=980.0, unsprung_kg=260.0, bump_mm=10 * IN, droop_mm=10 * IN),
        set_vehicle("CG", cg_height_mm=31 * IN, cg_source="measured", cg_sure_mm=1 * IN),
    )
    job = _framed(job, front_kick_up_mm=9 * IN, kick_up_mm=14 * IN, rail_out_mm=15.5 * IN)
    job = _steered(with_starter(job, "rear", "three_link"), "front", "swing_beams")
    return run(
        job,
        move_by(Spot("front", "", "left_inner"), 0.0, 0.0, 1.5 * IN),
        set_axle("rear", "Output", output=_yoke(-64.0, 0.0, 27.5, -2.0)),
        set_axle("rear", "Pinion", pinion=_yoke(-112.0, 0.0, 19.5, 2.5)),
        beam_things(),
        set_job("Notes", notes="Tie rods sit an inch and a half above the beams' pivots, as bought. Seen over bumps."),
        _sprung("front", "coil_over", "bump_stop", "strap"),
        _sprung("rear", "coil_over", "bump_stop", "strap"),
        _shifted(
            "rear",
            ("Coil-over left", "top", 180.0, -20.0, 0.0),
            ("Coil-over left", "bottom", 180.0, -140.0, 0.0),
            ("Panhard", "chassis axle", -40.0, 0.0, 0.0),
        ),
        _shifted(
            "front",
            ("Coil-over left", "top", 0.0, 250.0, 0.0),
            ("Coil-over left", "bottom", 0.0, 110.0, 0.0),
            ("", "left_arm", 0.0, -150.0, 0.0),
            ("", "left_inner left_tie", 0.0, 0.0, 60.0),
            ("", "sector sector_top ball", 0.0, 0.0, 130.0),
        ),
        *(
            move_by(Spot("front", "", f"{side}_{end}"), way * mm, 0.0, 0.0, both_sides=False)
            for side, way in (("left", 1.0), ("right", -1.0))
            for end, mm in (("pivot", 40.0), ("inner", -25.0), ("tie", -25.0))
        ),
        change_steering("front", "Stops", stop_deg=27.0),
        _leveled("front"),
        _parts(),
    )


def air_cruiser() -> Job:
    """A made-up low cruiser on air at both ends, with three heights."""
    asked = NewJob("Harbor air cruiser", "street_cruiser", "us", 121 * IN, 60 * IN, 27 * IN, 8.5 * IN)
    job = run(
        new_job(asked, "triangulated"),
        set_axle("front", "Weights", load_kg=960.0, unsprung_kg=150.0, bump_mm=4.5 * IN, droop_mm=3 * IN),
        set_axle("rear", "Weights", load_kg=840.0, unsprung_kg=170.0, bump_mm=4.5 * IN, droop_mm=3 * IN),
        set_vehicle("CG", cg_height_mm=22 * IN, cg_source="measured", cg_sure_mm=1 * IN),
    )
    job = _framed(job, front_kick_up_mm=8.5 * IN)
    job = _steered(with_starter(with_starter(job, "rear", "triangulated"), "front", "parallel"), "front", "crossover")
    return run(
        job,
        set_axle("rear", "Output", output=_yoke(-55.0, 0.0, 14.5, -2.5)),
        set_axle("rear", "Pinion", pinion=_yoke(-109.0, 0.0, 13.0, 2.75)),
        set_shaft("rear", "Shaft", tube_mm=3 * IN, wall_mm=0.083 * IN, spline_mm=5 * IN, pull_out_mm=1.25 * IN,
                  limit_deg=24.0, top_rpm=4200.0),
        set_measuring(
            "Stance", who="Ada", stance="empty, full tank, driven height",
            heights=Heights(air=True, lower_mm=4.25 * IN, raise_mm=2 * IN, settle_mm=0.0),
        ),
        change_steering("front", "Stops", stop_deg=30.0),
        _sprung("front", "air", "sway_bar"), _sprung("rear", "air", "sway_bar"),
        _shifted("front", ("Air spring left", "top bottom", -25.0, -200.0, 0.0),
                 ("", "ball drag sector sector_top", 0, 0, 70.0),
                 ("Shock left", "top bottom", 220.0, -190.0, 0.0), ("", "left_tie", 0.0, 0.0, 30.0),
                 ("Sway bar", "bearing_left", 40.0, -70.0, 0.0), ("Sway bar", "arm_left drop_left", 0.0, -70.0, 0.0)),
        _shifted("rear", ("Air spring left", "top bottom", 0.0, -140.0, 0.0),
                 ("Shock left", "top bottom", -60.0, -130.0, 0.0)),
        set_cargo("Carried", (Cargo(name="compressor and tank", mass_kg=38.0, behind_front_mm=138 * IN),)),
        cruiser_things(),
        _parts(),
        set_job("Notes", notes="Bags stand on their inner stops with no air in them, and the frame clears the ground."),
    )  # fmt: skip


def _sprung(key: str, *kinds: SpringKey) -> Edit:
    """Springs of some kinds, their mounts taped."""

    def apply(job: Job) -> Job:
        for kind in kinds:
            job = add_springs(key, starting_springs(job, key, kind), "Springs").apply(job)
        axle = job.vehicle.axle(key)
        names = {s.name for s in axle.springs}
        for spot in [s for s in spots_on(axle) if s.member in names]:
            job = set_sure(spot, IN / 16, both_sides=False).apply(job)
        return job

    return Edit("Springs", apply)


def _framed(job: Job, **changes: float) -> Job:
    """Rails that kick up over the front axle as well."""
    return set_vehicle("Frame", frame=with_changes(job.vehicle.frame, **changes)).apply(job)


def _leveled(key: str) -> Edit:
    """Coils as long as hold the axle at ride height."""

    def apply(job: Job) -> Job:
        for wanted in wanted_at_ride(job.vehicle, job.vehicle.axle(key)):
            coil = job.vehicle.axle(key).part(wanted.name).coil  # type: ignore[union-attr]
            free = round(coil.free_mm + (wanted.longer_mm or 0.0), 1)
            job = change_spring(key, wanted.name, "Coil", both=False, inner="coil", free_mm=free).apply(job)
        return job

    return Edit("Level", apply)


def _shifted(key: str, *moves: tuple[str, str, float, float, float]) -> Edit:
    """Points moved so that parts pass each other: member, its ends, and how far ahead, left and up, mm; both sides."""

    def apply(job: Job) -> Job:
        for member, ends, ahead, left, up in moves:
            for end in ends.split():
                job = move_by(Spot(key, member, end), ahead, left, up).apply(job)
        return job

    return Edit("Made room", apply)


def _steered(job: Job, key: str, kind: SteeringKind) -> Job:
    """A steering taped to a quarter inch and better."""
    steering = starting_steering(job.vehicle, job.vehicle.axle(key), kind)
    job = set_steering(key, steering).apply(job)
    for spot in [s for s in spots_on(job.vehicle.axle(key)) if s.end in STEER_POINTS and not s.member]:
        job = set_sure(spot, 1.5, both_sides=False).apply(job)
    return job


def _taped(ahead: float, left: float, up: float) -> Point:
    return Point(x=ahead * IN, y=left * IN, z=up * IN, known="taped")


def _known(job: Job) -> Job:
    """All that a starter came with is taped by now; nobody got at the pickup's front shocks."""

    def measured(vehicle: Vehicle) -> Vehicle:
        alone = with_changes(job, vehicle=vehicle, variants=())
        vehicle = set_known(guessed_spots(alone), "taped").apply(alone).vehicle
        axles = tuple(with_changes(a, tube_known="taped") for a in vehicle.axles)
        return with_changes(vehicle, axles=axles, frame=with_changes(vehicle.frame, known="taped"))

    variants = tuple(with_changes(v, vehicle=measured(v.vehicle)) for v in job.variants)
    job = with_changes(job, vehicle=measured(job.vehicle), variants=variants)
    shocks = [s for s in all_spots(job) if s.axle == "front" and s.member in ("Shock left", "Shock right")]
    return set_known(shocks, "guessed").apply(job) if job.name.startswith("Saltbush") else job


def _yoke(ahead: float, left: float, up: float, nose_up: float) -> Yoke:
    return Yoke(at=_taped(ahead, left, up), nose_up_deg=nose_up)


if __name__ == "__main__":
    for name, job in (
        ("1-trail-pickup", trail_pickup()),
        ("2-street-coupe", street_coupe()),
        ("3-rock-rig", rock_rig()),
        ("4-beam-truck", beam_truck()),
        ("5-air-cruiser", air_cruiser()),
    ):
        (DEMO / f"{name}.stance").write_text(dump_job(_known(job)), encoding="utf-8")
