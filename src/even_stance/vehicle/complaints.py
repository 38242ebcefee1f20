"""What a refused record has wrong with it, in one sentence that names the field."""

from typing import Any

from pydantic import ValidationError

_FIELDS = {
    "behind_front_mm": "Distance behind the front axle", "track_mm": "Track", "tire": "Tire",
    "tube_mm": "Tube diameter", "tube_wall_mm": "Tube wall", "wall_mm": "Tube wall",
    "bump_mm": "Bump travel", "droop_mm": "Droop travel", "drive_share": "Drive share", "brake_share": "Brake share",
    "load_kg": "Axle weight", "unsprung_kg": "Unsprung weight",
    "cg_height_mm": "CG height", "cg_sure_mm": "CG height +/-",
    "wheelbase_sure_mm": "Wheelbase +/-", "ride_sure_mm": "Ride height +/-",
    "cg_source": "CG source",
    "free_diameter_mm": "Tire diameter", "loaded_radius_mm": "Loaded radius", "width_mm": "Tire width",
    "chassis": "frame end", "axle": "axle end", "holes": "holes", "name": "Name",
    "bands": "Wanted bands",
    "frame": "Frame", "rail_top_mm": "Rail top", "rail_bottom_mm": "Rail bottom", "rail_out_mm": "Rail spacing",
    "readings": "Reading", "value": "value", "sure": "+/-", "lower_mm": "Lowest height", "raise_mm": "Raised height",
    "settle_mm": "Settling", "low_points": "Low point", "ballast": "Missing part", "mass_kg": "weight",
    "lift_mm": "Lift", "level_kg": "Load when level", "raised_kg": "Load when lifted", "pitch_mm": "Thread pitch",
    "height_mm": "Crib height", "thick_mm": "Timber thickness", "wide_mm": "Timber width", "stock_mm": "Stock length",
    "kerf_mm": "Saw kerf", "inside_long_mm": "Chock to chock", "inside_wide_mm": "Tire width", "nose_up_deg": "Angle",
    "angle_sure_deg": "Angle +/-", "floor_slope_deg": "Floor slope", "rake_deg": "Body rake",
    "heights": "Heights", "variants": "Variant",
    "powertrain": "Powertrain", "mount_left": "Left engine mount", "mount_right": "Right engine mount",
    "tail": "Gearbox mount", "tail_up_mm": "Tail raised", "mounts_up_mm": "Engine mounts raised",
    "steering": "Steering", "box": "Steering box", "ram": "Steering ram", "drag": "Drag link", "tie": "Tie rod joint",
    "ratio": "Ratio", "turns": "Turns stop to stop", "stroke_mm": "Stroke", "stop_deg": "Steering stop",
    "stop_right_deg": "Stop, turned right", "ratio_at_lock": "Ratio at the locks",
    "left": "left knuckle", "right": "right knuckle", "lower": "kingpin, lower", "upper": "kingpin, upper",
    "joint": "Axle-shaft joint", "ball": "Drag link, pitman end", "top": "Sector shaft, far end", "bore_mm": "Bore",
    "rod_mm": "Rod", "pressure_bar": "Pressure", "body_mm": "Body", "cover": "Housing cover", "assist": "Assist ram",
    "closed_mm": "All the way in", "open_mm": "All the way out", "rim_mm": "Hand wheel", "push_n": "Push at the tire",
    "rating_nm": "Torque allowed", "drop_mm": "Drop as sold", "splines": "Splines", "fit": "Joints",
    "taper_per_foot": "Taper", "stud_mm": "Stud", "hole_mm": "Hole", "sleeve_mm": "Sleeve",
    "rod_pitch_mm": "Rod’s pitch", "nut_mm": "End’s thread", "nut_pitch_mm": "End’s pitch", "engaged_mm": "Engaged",
    "rod_end_mm": "Rod end", "thread_mm": "Its thread", "swing_limit_deg": "Swing limit", "arm_mm": "Arm, thick",
    "ball_mm": "Joint’s height", "axle_joint_limit_deg": "Axle joint limit", "column": "Steering shaft",
    "slip_mm": "Slip", "left_beam": "left beam", "right_beam": "right beam", "pivot": "Beam’s pivot",
    "arm": "Radius arm’s end", "inner": "Tie rod, inner end", "bolted": "Bolted-on arm", "studs": "Studs",
    "circle_mm": "Circle of studs", "deep_mm": "Screwed in", "flat_mm": "Flat", "reach_mm": "Studs to joint",
    "arm_holes": "Holes of an arm", "hole": "hole",
    "rate_n_mm": "Rate", "free_mm": "Free length", "solid_mm": "Length closed solid", "sag_mm": "Settled by",
    "seats_mm": "Eye to eye, not coil", "crossover_mm": "Crossover stop", "coil": "coil", "upper_coil": "upper coil",
    "heights_mm": "Heights", "areas_mm2": "Areas", "volume_l": "Air in it", "squeeze_mm": "Squeeze",
    "length_mm": "Length", "stretch_pct": "Stretch", "bar_mm": "Bar, across", "inside_mm": "Bar’s inside",
    "shear_n_mm2": "Shear modulus", "shaft_mm": "Rod", "bottom": "lower mount", "low": "shock, rocker end",
    "pivot_to": "far end of its axis", "push_top": "pushrod, rocker end", "push_bottom": "pushrod, axle end",
    "cargo": "Carried", "left_mm": "Left of the middle", "leaves": "Leaves", "clamp_mm": "Held by U-bolts",
    "stiffening": "Stiffening", "arch_mm": "Free arch", "on": "stands on",
    "bearing_left": "left bearing", "bearing_right": "right bearing", "arm_left": "left arm’s end",
    "arm_right": "right arm’s end", "drop_left": "left link’s far end", "drop_right": "right link’s far end",
    "carrier": "Carrier bearing", "marks": "Marked point",
    "gap_mm": "Gap", "wanted_mm": "Wanted gap",
    "shaft": "Driveshaft", "spline_mm": "Spline length", "pull_out_mm": "Pull-out", "limit_deg": "Joint limit",
    "top_rpm": "Top shaft speed", "phase_deg": "Phasing", "double_mm": "Double-cardan length",
    "branch": "Variant name", "weights": "Weights", "output": "Output yoke", "pinion": "Pinion yoke",
    "shank_mm": "Center to end", "threaded_mm": "Thread on the shank", "head_mm": "Head",
    "turned_mm": "Across, in the tube", "shoulder_mm": "Shoulder", "add_mm": "Both spacers add", "swing_deg": "Swing",
    "rated_n": "Rating", "yield_mpa": "Yield", "core_yield_mpa": "Core’s yield", "outside_mm": "Outside",
    "diameter_mm": "Diameter", "plate_mm": "Bracket plate", "plate_yield_mpa": "Plate’s yield",
    "edge_mm": "Hole to edge", "weld_mm": "Weld leg", "welded_mm": "Weld length", "room_mm": "Wrench room",
    "bars_mm": "Bar length", "rock_n": "Rock", "rock_share": "Rock", "prices": "Price", "each": "Price",
    "build": "Build sheet", "links": "Link", "first": "first end", "second": "second end", "hand": "Hand",
    "bung": "Bung", "spacers": "Spacers", "bolt": "Bolt",
    "misalignment_limit_deg": "Swing limit", "x": "x", "y": "y", "z": "z",
}  # fmt: skip

# The same word for two things.
_WITHIN: dict[tuple[object, str], str] = {
    ("box", "shaft"): "Sector shaft", ("fit", "rod_mm"): "Rod’s thread", ("fit", "wide_mm"): "Arm, wide",
    ("column", "joint"): "Column joint", ("column", "input"): "Joint at the box",
    **{(kind, "top"): "upper mount" for kind in
       ("coil_over", "shock", "air", "bump_stop", "strap", "rocker", "coil")},
    ("coil_over", "upper"): "upper coil", ("rocker", "pivot"): "rocker’s pivot",
    **{(kind, end): words for kind in ("coil_over", "shock", "rocker", "air", "upper", "coil") for end, words in
       (("closed_mm", "All the way in"), ("open_mm", "All the way out"))},
    ("ram", "left"): "Rod’s left end", ("ram", "right"): "Rod’s right end",
}  # fmt: skip

# Steps on the way to a field that people have no name for.
_SILENT = (
    "vehicle",
    "axles",
    "members",
    "at",
    "rod",
    "a_arm",
    "a_arm_reversed",
    "radius_arm",
    "torque_arm",
    "watts",
    "leaf",
    "springs",
    "coil_over",
    "shock",
    "air",
    "bump_stop",
    "strap",
    "sway_bar",
    "rocker",
    "measuring",
)


def _place(location: tuple[int | str, ...], data: Any) -> str:
    """The path to a field in words, with the names of members and axles where the data tells them."""
    words: list[str] = []
    for before, step in zip((None, *location), location, strict=False):
        data = _into(data, step)
        if isinstance(step, int):
            name = data.get("name") or data.get("key") if isinstance(data, dict) else None
            words.append(f"“{_short(name)}”" if isinstance(name, str) else f"no. {step + 1}")
        elif step not in _SILENT:
            words.append(_WITHIN.get((before, step), _FIELDS.get(step, _short(step))))
    return ", ".join(words) or "Job"


def _into(data: Any, step: int | str) -> Any:
    try:
        return data[step]
    except (KeyError, IndexError, TypeError):
        return None


def _short(text: str) -> str:
    """No more of a value than says which it is."""
    return text if len(text) <= 40 else f"{text[:40]}…"


def complaint(error: ValidationError, data: Any = None) -> tuple[str, str]:
    """The field at fault and what was wrong with it, from the first thing pydantic found.

    Args:
        error: what the records refused.
        data: the plain data they were made from, to call members by name.
    """
    first = error.errors()[0]
    place = _place(first["loc"], data)
    kind, context = first["type"], first.get("ctx", {})
    given = first["input"]
    shown = f"“{given:g}”" if isinstance(given, float) else f"“{_short(given)}”" if isinstance(given, str) else "this"
    if isinstance(given, int):
        shown = f"“{_short(repr(given) if abs(given) < 10**60 else 'a figure of more than 60 digits')}”"
    low, high = context.get("ge", context.get("gt", 0)), context.get("le", 0)
    sentences = {
        "extra_forbidden": "is not a field this version knows; it is kept out rather than lost silently.",
        "missing": "is missing.",
        "finite_number": "must be a plain number.",
        "float_type": f"must be a number, not {shown}.",
        "int_type": f"must be a whole number, not {shown}.",
        "string_type": f"must be text, not {shown}.",
        "greater_than": f"must be more than {low:g}, not {shown}.",
        "greater_than_equal": f"must be {low:g} or more, not {shown}.",
        "less_than_equal": f"must be {high:g} or less, not {shown}.",
        "string_too_short": "must not be empty.",
        "string_too_long": f"must be at most {context.get('max_length')} characters.",
        "literal_error": f"must be one of {context.get('expected')}, not {shown}.",
        "too_long": f"holds {context.get('actual_length')} items; {context.get('max_length')} at most make sense.",
        "too_short": f"needs at least {context.get('min_length')} items.",
        "bool_type": f"must be true or false, not {shown}.",
        "tuple_type": "must be a list.",
        "list_type": "must be a list.",
        "dict_type": "must be a record with fields.",
        "model_type": "must be a record with fields.",
        "model_attributes_type": "must be a record with fields.",
        "union_tag_invalid": f"must have a “kind” that is one of {context.get('expected_tags')}.",
        "union_tag_not_found": "must have a “kind”.",
        "int_from_float": f"must be a whole number, not {shown}.",
        "int_parsing_size": "must be a whole number of a size that makes sense.",
    }
    if kind == "value_error":
        reason = str(context["error"])
        return place, reason[0].upper() + reason[1:] + ("" if reason.endswith(".") else ".")
    return place, sentences.get(kind, f"is not what belongs there ({_short(str(first['msg']))}).")
