"""What an angle finder shows, turned into the angle of the thing it was pressed on."""

from typing import Literal

from even_stance.errors import InputError

Against = Literal["level", "floor", "frame"]


def shaft_angle(
    shown_deg: float, on: Literal["shaft", "face"], zero: Literal["level", "plumb"], way: Literal["up", "down"]
) -> float:
    """How far a shaft, rail or link rises toward the front, degrees to level, from what the finder shows.

    A face square to a shaft (a yoke face, a pinion flange) reads 90 minus the shaft's angle: 88 on the face is a shaft
    2 degrees off level. The finder cannot tell which way it points: the person does.

    Args:
        shown_deg: the figure shown, 0 to 90.
        on: pressed along the shaft, or on a face square to it.
        zero: whether the finder shows 0 when level, or 90 when level (0 when plumb).
        way: whether the shaft goes up or down toward the front of the car.

    Raises:
        InputError: not a figure between 0 and 90.
    """
    if not 0.0 <= shown_deg <= 90.0:
        raise InputError(
            "Angle finder", f"shows {shown_deg:g}°, which is not between 0 and 90.",
            "Turn the tool so that it shows the small angle, and say with up or down which way it points.",
        )  # fmt: skip
    surface = shown_deg if zero == "level" else 90.0 - shown_deg
    off = surface if on == "shaft" else 90.0 - surface
    if off > 45.0:
        hint = "the face of the yoke" if on == "shaft" else "the shaft itself"
        raise InputError(
            "Angle finder", f"{shown_deg:g}° would make it {off:.1f}° off level.",
            f"Was the tool on {hint}, or does it show {'90' if zero == 'level' else '0'} when level?",
        )  # fmt: skip
    return off if way == "up" else -off


def against(level_deg: float, to: Against, floor_slope_deg: float, rake_deg: float) -> float:
    """An angle to level as it is to the floor (floor slope taken out) or to the frame (body rake taken out too).

    Args:
        level_deg: rise toward the front, to level.
        to: what it shall be measured against.
        floor_slope_deg: how far the floor rises toward the front; rake_deg: how far the frame points nose up against
            the floor.
    """
    if to == "level":
        return level_deg
    return level_deg - floor_slope_deg - (rake_deg if to == "frame" else 0.0)


def up_down(degrees: float) -> str:
    """An angle in words: 2.3° up, 1.0° down."""
    if abs(degrees) < 0.05:
        return "level"
    return f"{abs(degrees):.1f}° {'up' if degrees > 0 else 'down'}"
