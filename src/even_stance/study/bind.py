"""Bind: layouts that cannot move freely, how much their bushings have to give, and how far they get."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers, study_postures
from even_stance.vehicle.car import Axle, Vehicle

_STEPS = 21


@dataclass(frozen=True)
class Bind:
    """How freely an axle crosses up.

    Attributes:
        free: True when nothing has to give at all.
        misfit_per_deg: largest give per degree of roll near ride height, mm.
        force_per_deg: the force that goes with it, N.
        row: where it gives.
        free_share: share of the wanted cross-up (left up and right down, and the other way round) that the bushings
            take without harm, 0..1; wanted_deg: that cross-up, degrees of roll, no more than the travel has.
        basis: which stiffness it rests on, in words.
    """

    free: bool
    misfit_per_deg: float
    force_per_deg: float
    row: str
    free_share: float
    wanted_deg: float
    basis: str


def study_bind(vehicle: Vehicle, axle: Axle, now: Answers, wanted_deg: float = 90.0) -> Bind:
    """Cross an axle up step by step and see what has to give.

    Args:
        vehicle: the vehicle.
        axle: the axle.
        now: its answers at any posture (for its layout).
        wanted_deg: how far it should cross up, degrees of roll; all that the travel has where that is less.
    """
    half_track = axle.track_mm / 2
    rise = half_track * np.sin(np.radians(wanted_deg))
    up, down = min(rise, axle.bump_mm), min(rise, axle.droop_mm)
    wanted_deg = float(np.degrees(np.arcsin(np.clip((up + down) / axle.track_mm, 0.0, 1.0))))
    if now.linkage.stiffness is None:
        return Bind(True, 0.0, 0.0, "", 1.0, wanted_deg, "Every joint moves freely: nothing has to give.")
    degree = half_track * np.sin(np.radians(1.0))
    share = np.linspace(0.0, 1.0, _STEPS)
    left = np.concatenate(([degree, 0.0], share * up, -share * down))
    right = np.concatenate(([-degree, 0.0], -share * down, share * up))
    crossed = study_postures(vehicle, axle, left, right)
    layout = now.layout
    counts = layout.gives
    give = np.abs(np.where(counts, crossed.pose.misfit_mm, 0.0))
    stiffness = np.asarray(now.linkage.stiffness)
    force = give * stiffness
    per_degree = np.abs(np.where(counts, crossed.pose.misfit_mm[0] - crossed.pose.misfit_mm[1], 0.0))
    worst = int(np.argmax(per_degree * stiffness))
    # The row's movement is shared between its joints and the axle tube or arm that twists behind them.
    joints = give * stiffness / layout.stiffness
    use = (joints / layout.allowed_give).max(axis=1)
    free = min(_free_share(share, use[2 : 2 + _STEPS]), _free_share(share, use[2 + _STEPS :]))
    basis = (
        f"Rests on joint stiffness: {layout.row_names[worst]} {layout.stiffness[worst]:,.0f} N/mm, with the twist of "
        f"the axle tube and the bend of arms {stiffness[worst]:,.0f}; defaults of each joint kind (common practice, no "
        "source) unless typed."
    )
    return Bind(
        bool(force.max() < 1.0), float(per_degree[worst]), float(per_degree[worst] * stiffness[worst]),
        layout.row_names[worst], free, wanted_deg, basis,
    )  # fmt: skip


def _free_share(share: Array, use: Array) -> float:
    """How far along the use of the give stays within 1, between the steps by a straight line."""
    over = np.flatnonzero(~(use <= 1.0))
    if not over.size:
        return 1.0
    i = int(over[0])
    if i == 0 or not np.isfinite(use[i]):
        return float(share[max(i - 1, 0)])
    return float(share[i - 1] + (1.0 - use[i - 1]) / (use[i] - use[i - 1]) * (share[i] - share[i - 1]))
