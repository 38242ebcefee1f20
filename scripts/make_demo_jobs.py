"""Writes the demo jobs: made-up vehicles, all figures our own invention."""

from pathlib import Path

from even_stance.exchange.jobfile import dump_job
from even_stance.judgement.starter import NewJob, new_job, with_starter
from even_stance.vehicle.edits import (
    Edit,
    Spot,
    move_by,
    set_axle,
    set_holes,
    set_job,
    set_split,
    set_tire,
    set_vehicle,
)
from even_stance.vehicle.job import Job

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
    return run(
        with_starter(job, "rear", "triangulated"),
        move_by(Spot("rear", "Upper left", "chassis"), 0.0, 0.0, 1.25 * IN),
        set_holes(Spot("rear", "Lower left", "chassis"), 2, 1.25 * IN),
        set_job(
            "Notes",
            notes="Stock leaf springs stay in front for now. Uppers clear the bed floor at full bump.",
        ),
    )


def street_coupe() -> Job:
    asked = NewJob("Juniper street coupe", "street_performance", "us", 108 * IN, 58 * IN, 26 * IN, 9.5 * IN)
    job = run(
        new_job(asked, "three_link"),
        set_axle("front", "Weights", load_kg=850.0, unsprung_kg=140.0),
        set_axle("rear", "Weights", load_kg=720.0, unsprung_kg=150.0),
        set_vehicle("CG", cg_height_mm=20.5 * IN, cg_source="camshaft", cg_sure_mm=1 * IN),
    )
    return run(
        with_starter(job, "rear", "three_link"),
        set_tire("front", "Front tires", free_diameter_mm=25 * IN, loaded_radius_mm=11.75 * IN, width_mm=8.5 * IN),
        move_by(Spot("rear", "Panhard", "chassis"), 0.0, 0.0, 0.5 * IN),
        set_holes(Spot("rear", "Panhard", "axle"), 3, 1 * IN),
        set_job("Notes", notes="Panhard frame end on the driver's side. Exhaust runs over the tube on the right."),
    )


def rock_rig() -> Job:
    asked = NewJob("Basalt rock rig", "trail", "metric", 2750.0, 1780.0, 1010.0, 340.0)
    job = run(
        new_job(asked, "double_triangulated"),
        set_split("drive", 0.5),
        set_axle("front", "Front axle", load_kg=980.0, unsprung_kg=330.0, bump_mm=150.0, droop_mm=180.0),
        set_axle("rear", "Rear axle", load_kg=900.0, unsprung_kg=320.0, bump_mm=170.0, droop_mm=200.0),
        set_vehicle("CG", cg_height_mm=860.0, cg_source="measured", cg_sure_mm=25.0),
    )
    job = with_starter(with_starter(job, "rear", "double_triangulated"), "front", "double_triangulated")
    return run(job, set_job("Notes", notes="Front and rear share one set of cut lengths."))


if __name__ == "__main__":
    for name, job in (
        ("1-trail-pickup", trail_pickup()),
        ("2-street-coupe", street_coupe()),
        ("3-rock-rig", rock_rig()),
    ):
        (DEMO / f"{name}.stance").write_text(dump_job(job), encoding="utf-8")
