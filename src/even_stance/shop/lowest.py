"""What is lowest under the car when springs fail or bags are empty, against the ground."""

from dataclasses import dataclass
from typing import Literal

from even_stance.units import format_length, length_unit
from even_stance.vehicle.job import Job

# Our choice: less than an inch over the road is no gap, the road is not flat.
LEAST_GAP_MM = 25.4


@dataclass(frozen=True)
class LowPlace:
    """One place under the car: its height above ground as driven, settled, at the lowest height and raised, mm."""

    name: str
    driven_mm: float
    settled_mm: float
    lowest_mm: float
    raised_mm: float
    on: Literal["frame", "axle"]


def low_places(job: Job) -> list[LowPlace]:
    """Everything known under the car, the lowest at its lowest height first."""
    vehicle, heights = job.vehicle, job.measuring.heights
    places: list[tuple[str, float, Literal["frame", "axle"]]] = [("frame rails", vehicle.frame.rail_bottom_mm, "frame")]
    for axle in vehicle.axles:
        places.append((f"{axle.key} axle tube", axle.center[2] - axle.tube_mm / 2, "axle"))
        if axle.output is not None:
            places.append((f"{axle.key} output yoke", axle.output.at.z, "frame"))
        if axle.pinion is not None:
            places.append((f"{axle.key} pinion yoke", axle.pinion.at.z, "axle"))
        for member in axle.members:
            for end, mount in member.mounts.items():
                body = member.body(end)
                if body in ("chassis", "axle"):
                    name = f"{axle.key}: {member.name}, {member.WORDS[end]}"
                    places.append((name, mount.at.z - member.tube_mm / 2, "frame" if body == "chassis" else "axle"))
    places += [(p.name, p.at.z, p.on) for p in job.measuring.low_points]
    found = []
    for name, z, on in places:
        down = 1.0 if on == "frame" else 0.0
        settled, lowest, raised = (z + down * mm for mm in (-heights.settle_mm, -heights.lower_mm, heights.raise_mm))
        found.append(LowPlace(name, z, settled, lowest, raised, on))
    return sorted(found, key=lambda p: p.lowest_mm)


def travel_words(job: Job) -> tuple[str, bool]:
    """What is left of the wheels' travel at the lowest and the raised height, and whether one is beyond it."""
    heights, units = job.measuring.heights, job.units
    unit = length_unit(units)
    said, bad = [], False
    for axle in job.vehicle.axles:
        for name, used, has, word in (
            ("lowest", heights.lower_mm, axle.bump_mm, "bump"), ("raised", heights.raise_mm, axle.droop_mm, "droop")
        ):  # fmt: skip
            if used <= 0:
                continue
            left = has - used
            if left < -0.5:
                bad = True
                said.append(
                    f"{axle.key} axle, {name}: {format_length(-left, units)} {unit} beyond its {word} travel, a stop "
                    "or the links end it first"
                )
            else:
                said.append(f"{axle.key} axle, {name}: {format_length(left, units)} {unit} of {word} left")
    return ("; ".join(said).capitalize() + "." if said else ""), bad


def lowest_words(job: Job) -> tuple[str, bool]:
    """What the lowest height does, in sentences, and whether something touches or nearly does."""
    heights, units = job.measuring.heights, job.units
    unit = length_unit(units)
    if heights.lower_mm <= 0:
        what = "bags empty" if heights.air else "springs failed or on their stops"
        return f"Enter how far the frame comes down with {what} to check what is lowest then.", False
    lowest = low_places(job)[0]
    state = "with the bags empty" if heights.air else "at its lowest"
    if lowest.lowest_mm <= 0:
        return (
            f"The {lowest.name} would be {format_length(-lowest.lowest_mm, units)} {unit} in the ground {state}: it "
            "must not drop that far on the road. Raise it, or stop the travel sooner.", True,
        )  # fmt: skip
    gap = f"{format_length(lowest.lowest_mm, units)} {unit}"
    if lowest.lowest_mm < LEAST_GAP_MM:
        return f"Only {gap} under the {lowest.name} {state}: the road is not flat. Raise it.", True
    return f"{state.capitalize()} the {lowest.name} is lowest, {gap} above the ground.", False
