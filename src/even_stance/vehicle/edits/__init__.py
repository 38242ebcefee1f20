"""Every change a person can make to a job, as pure functions from job to job with a label.

The window, the command line and the tests all use these and nothing else.
"""

from even_stance.vehicle.edits.arms import ARMS
from even_stance.vehicle.edits.axles import set_axle, set_back, set_tire, set_wheelbase
from even_stance.vehicle.edits.brackets import choose_hole, set_holes, set_joint, set_mount
from even_stance.vehicle.edits.driveline import (
    carry_shaft,
    drive_from,
    raise_mounts,
    raise_tail,
    set_marks,
    set_powertrain,
    set_shaft,
    set_yoke,
    turn_pinion,
)
from even_stance.vehicle.edits.edit import Edit, made, with_axle, with_changes, with_member
from even_stance.vehicle.edits.members import replace_members, set_members
from even_stance.vehicle.edits.points import (
    move_by,
    move_to,
    moved_point,
    place_point,
    put_mount,
    set_sure,
    shifted,
    shifted_mount,
)
from even_stance.vehicle.edits.springs import (
    add_springs,
    change_spring,
    pair_of,
    set_cargo,
    set_springs,
    take_springs_off,
    turn_collar,
    two_coils,
)
from even_stance.vehicle.edits.steering import (
    bolt_arm_on,
    change_steering,
    set_steering,
    start_assist,
    start_column,
    tape_axle_joints,
    tape_cover,
)
from even_stance.vehicle.edits.whole import set_band, set_job, set_measuring, set_split, set_vehicle

__all__ = [
    "ARMS",
    "Edit",
    "add_springs",
    "bolt_arm_on",
    "carry_shaft",
    "change_spring",
    "change_steering",
    "choose_hole",
    "drive_from",
    "made",
    "move_by",
    "move_to",
    "moved_point",
    "pair_of",
    "place_point",
    "put_mount",
    "raise_mounts",
    "raise_tail",
    "replace_members",
    "set_axle",
    "set_back",
    "set_band",
    "set_cargo",
    "set_holes",
    "set_job",
    "set_joint",
    "set_marks",
    "set_measuring",
    "set_members",
    "set_mount",
    "set_powertrain",
    "set_shaft",
    "set_split",
    "set_springs",
    "set_steering",
    "set_sure",
    "set_tire",
    "set_vehicle",
    "set_wheelbase",
    "set_yoke",
    "shifted",
    "shifted_mount",
    "start_assist",
    "start_column",
    "take_springs_off",
    "tape_axle_joints",
    "tape_cover",
    "turn_collar",
    "turn_pinion",
    "two_coils",
    "with_axle",
    "with_changes",
    "with_member",
]
