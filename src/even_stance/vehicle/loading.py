"""What the load cases assume: every figure is the user's to change."""

from typing import Annotated

from pydantic import Field

from even_stance.vehicle.records import Record

Factor = Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)]
Ratio = Annotated[float, Field(gt=0, le=50, allow_inf_nan=False)]


class LoadAssumptions(Record):
    """Assumptions of the load cases.

    Attributes:
        friction: tire on ground.
        engine_torque_nm: at full throttle; first_gear, transfer_low, axle_ratio: the ratios behind it.
        brake_g, corner_g: deceleration and side acceleration, in g.
        bump_g: extra load of one wheel on a bump, in standing wheel loads.
        ledge_g: push of a ledge against one wheel, in vehicle weights.
    """

    friction: Factor = 1.0
    engine_torque_nm: Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)] = 400.0
    first_gear: Ratio = 3.0
    transfer_low: Ratio = 2.7
    axle_ratio: Ratio = 4.1
    brake_g: Factor = 0.9
    corner_g: Factor = 0.8
    bump_g: Factor = 2.0
    ledge_g: Factor = 0.7
