"""The pages about single parts of a steering: box, ram, and joints with their tapers and threads."""

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.stations.steering.rowspage import FieldSpec, Group, RowsPage, Start
from even_stance.desktop.widgets.fields import (
    DegreeField,
    ForceField,
    LengthField,
    PlainField,
    PressureField,
    ThreadField,
    TorqueField,
    WallField,
)
from even_stance.judgement.steerrows import (
    Rows,
    assist_rows,
    box_rows,
    column_rows,
    cut_rows,
    ram_rows,
    room_rows,
)
from even_stance.judgement.threadrows import bolted_rows, taper_rows, thread_rows
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import bolt_arm_on, start_assist, start_column, tape_cover
from even_stance.vehicle.job import Job


def box_page(bench: Bench, look: Look) -> RowsPage:
    """What a push at one tire does to box and pitman arm."""
    return RowsPage(
        bench, look,
        "A push at the front of one tire, as against a rock, and what of it the box has to hold, from lock to lock. "
        "The arm’s length and true drop come from the points of sector shaft and drag link.",
        "No box here: this axle is steered by a ram, or by nothing yet.",
        (
            FieldSpec("box", "push_n", "Push at one tire’s front", ForceField, "force"),
            FieldSpec("box", "rim_mm", "Hand wheel, across", LengthField, "length"),
            FieldSpec("box", "rating_nm", "Torque its maker allows", TorqueField, "torque"),
            FieldSpec("box", "drop_mm", "Arm’s drop as sold", LengthField, "length"),
            FieldSpec("box", "splines", "Splines on the shaft", PlainField),
            FieldSpec("box", "indexed", "indexed, every quarter turn", None),
        ),
        (Group("What the box holds", box_rows), Group("Room around the arm", room_rows)), "pitman_length",
        stacked=True,
    )  # fmt: skip


def ram_page(bench: Bench, look: Look) -> RowsPage:
    """What a ram pushes, uses and leaves: the one that steers, or one that helps a box."""
    return RowsPage(
        bench, look,
        "What the ram pushes and what of it turns the wheels, from lock to lock; whether it is centered, what is left "
        "at its ends, and how high its joints should stand on the knuckles.",
        "No ram here: this axle is steered by a box alone, or by nothing yet. An assist ram goes from axle to tie rod.",
        (
            FieldSpec("ram", "bore_mm", "Bore", LengthField, "length"),
            FieldSpec("ram", "rod_mm", "Rod", LengthField, "length"),
            FieldSpec("ram", "pressure_bar", "Pressure", PressureField, "pressure"),
            FieldSpec("ram", "stroke_mm", "Stroke, end to end", LengthField, "length"),
            FieldSpec("ram", "body_mm", "Body, across", LengthField, "length"),
            FieldSpec("assist", "bore_mm", "Assist ram, bore", LengthField, "length"),
            FieldSpec("assist", "rod_mm", "Assist ram, rod", LengthField, "length"),
            FieldSpec("assist", "pressure_bar", "Assist ram, pressure", PressureField, "pressure"),
            FieldSpec("assist", "closed_mm", "All the way in", LengthField, "length"),
            FieldSpec("assist", "open_mm", "All the way out", LengthField, "length"),
        ),
        (Group("What the ram does", _rams),),
        starts=(
            Start("Add an assist ram", start_assist, lambda s: s.box is not None and s.assist is None),
            Start("Tape the housing cover", tape_cover, lambda s: s.ram is not None and s.ram.cover is None),
        ),
    )  # fmt: skip


def _rams(job: Job, axle: Axle) -> Rows:
    return [*ram_rows(job, axle), *assist_rows(job, axle)]


def _tapers(job: Job, axle: Axle) -> Rows:
    steering = axle.steering
    return [] if steering is None else taper_rows(steering.fit, steering.arm_mm, job.units)


def _threads(job: Job, axle: Axle) -> Rows:
    steering = axle.steering
    return [] if steering is None else [*thread_rows(steering.fit, job.units), *cut_rows(job.vehicle, axle, job.units)]


def joints_page(bench: Bench, look: Look) -> RowsPage:
    """How studs sit, whether threads belong together, and how long to cut the rods."""
    return RowsPage(
        bench, look,
        "Calipers and a thread gauge: how a stud sits in its arm, what flipping it leaves, whether two threads belong "
        "together, and how long to cut the rods.",
        "No joints to look at: start a steering on the Pieces page.",
        (
            FieldSpec("fit", "taper_per_foot", "Taper, inches per foot", PlainField),
            FieldSpec("fit", "stud_mm", "Stud at the hole’s mouth", WallField, "length"),
            FieldSpec("fit", "hole_mm", "Hole at its mouth, as it is", WallField, "length"),
            FieldSpec("", "arm_mm", "Arm, thick", LengthField, "length"),
            FieldSpec("fit", "wide_mm", "Arm, wide at the hole", LengthField, "length"),
            FieldSpec("fit", "sleeve_mm", "Sleeve, across", WallField, "length"),
            FieldSpec("", "rod_end_mm", "Rod end, ball to shank’s end", LengthField, "length"),
            FieldSpec("", "thread_mm", "Its thread, long", LengthField, "length"),
            FieldSpec("fit", "rod_mm", "Rod’s thread, across", WallField, "length"),
            FieldSpec("fit", "rod_pitch_mm", "Its pitch", ThreadField, "thread"),
            FieldSpec("fit", "nut_mm", "End’s thread, across", WallField, "length"),
            FieldSpec("fit", "nut_pitch_mm", "Its pitch, of the end", ThreadField, "thread"),
            FieldSpec("fit", "engaged_mm", "They engage", LengthField, "length"),
        ),
        (Group("Tapers", _tapers), Group("Threads and rods", _threads)), "rod_end_steering",
    )  # fmt: skip


def shaft_page(bench: Bench, look: Look) -> RowsPage:
    """The shaft between column and box."""
    return RowsPage(
        bench, look,
        "From the column to the box: the angles of its joints in space, how evenly it turns, and how far it can still "
        "slide together. Its four points are on the floor, to be dragged, typed and taped.",
        "No steering shaft yet: start from a guess between column and box, then tape its four points.",
        (
            FieldSpec("column", "phase_deg", "Yokes out of line by", DegreeField, "deg"),
            FieldSpec("column", "slip_mm", "Can slide together by", LengthField, "length"),
            FieldSpec("column", "body_mm", "Body moves on its mounts", LengthField, "length"),
        ),
        (Group("The steering shaft", column_rows),),
        starts=(Start("Start from a guess", start_column, lambda s: s.box is not None and s.column is None),),
    )  # fmt: skip


def arm_page(bench: Bench, look: Look) -> RowsPage:
    """A bolted-on arm: its studs, its flat and its threads."""
    return RowsPage(
        bench, look,
        "A steering arm bolted onto its knuckle: what each stud must clamp so that nothing slides, the flat it needs "
        "and how deep its studs go. A screening figure: have the machined knuckle and its studs looked at by someone "
        "who does this work.",
        "No bolted-on arm: forged and cast-on arms need nothing here. Say so if yours is held by studs.",
        (
            FieldSpec("bolted", "studs", "Studs", PlainField),
            FieldSpec("bolted", "stud_mm", "Stud, across", WallField, "length"),
            FieldSpec("bolted", "pitch_mm", "Its pitch", ThreadField, "thread"),
            FieldSpec("bolted", "circle_mm", "Circle they stand on", LengthField, "length"),
            FieldSpec("bolted", "deep_mm", "Screwed in by", LengthField, "length"),
            FieldSpec("bolted", "flat_mm", "Flat, across", LengthField, "length"),
            FieldSpec("bolted", "cast_iron", "into cast iron", None),
            FieldSpec("bolted", "reach_mm", "Studs’ middle to the joint", LengthField, "length"),
        ),
        (Group("The bolted-on arm", bolted_rows),),
        starts=(Start("The arm is bolted on", bolt_arm_on, lambda s: s.bolted is None),),
    )  # fmt: skip
