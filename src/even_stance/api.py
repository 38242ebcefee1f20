"""Even Stance as a library: open, edit, answer, sweep, check and save a job; arrays in and out.

What is named here keeps its name and meaning while the first number of the version stays. Lengths are mm, masses kg,
forces N, angles degrees, shares percent; axes and signs are those of help/conventions.md. Everything that goes wrong is
a StanceError whose words can be shown as they are.

    >>> from even_stance import api
    >>> job = api.demo_jobs()[0]
    >>> reply = api.answer(job, "rear")
    >>> round(reply.anti_squat_axle_pct)
    39
    >>> up = api.edit(job, api.move_by(api.Spot("rear", "Upper left", "chassis"), 0.0, 0.0, 25.4))
    >>> api.answer(up, "rear").anti_squat_axle_pct < reply.anti_squat_axle_pct
    True
    >>> import numpy as np
    >>> travel = np.linspace(-60.0, 60.0, 5)
    >>> run = api.sweep(job, "rear", travel, travel)
    >>> run.reached.all(), run["roll_center_mm"].shape
    (np.True_, (5,))
    >>> [line.state for line in api.check(job).lines if line.axle == "rear"][0]
    'low'
"""

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import ArrayLike, NDArray

from even_stance.errors import (
    CannotReachError,
    InputError,
    JobFileChangedError,
    JobFileError,
    LayoutError,
    StanceError,
)
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job, load_job, parse_job, save_job
from even_stance.judgement.search.limits import Freedom
from even_stance.judgement.search.solvefor import Solved
from even_stance.replies.car import as_built, clearances, cuts, ride
from even_stance.replies.checking import check
from even_stance.replies.kinds import reply_schema
from even_stance.replies.links import holes, loads, solve, travel, variants, why
from even_stance.replies.posture import answers as answer
from even_stance.replies.reply import axle_of
from even_stance.replies.stance import cribs, heights, square, weight
from even_stance.study.answers import study_postures
from even_stance.vehicle.edits import Edit, choose_hole, move_by, move_to, set_job, set_wheelbase, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, all_spots, point_of

__all__ = [
    "CannotReachError", "Edit", "Freedom", "InputError", "Job", "JobFileChangedError", "JobFileError", "LayoutError",
    "Solved", "Spot", "StanceError", "Sweep", "all_spots", "answer", "as_built", "check", "choose_hole", "clearances",
    "cribs", "cuts", "demo_jobs", "dump_job", "edit", "heights", "holes", "loads", "move_by", "move_to", "open_job",
    "paper", "parse_job", "point_of", "reply_schema", "ride", "save", "set_job", "set_wheelbase", "solve", "square",
    "sweep", "travel", "variants", "weight", "why", "with_changes",
]  # fmt: skip


def open_job(path: str | Path) -> Job:
    """The job of a file.

    Raises:
        JobFileError: it cannot be read; the sentence says why.
    """
    return load_job(Path(path))[0]


def save(job: Job, path: str | Path) -> None:
    """Write a job to a file, whole or not at all; what was there stays beside it as .bak.

    Raises:
        JobFileError: it cannot be written; nothing on disk was changed.
    """
    save_job(job, Path(path))


def paper(job: Job, what: str) -> bytes:
    """A paper of a job: "report", "drawing", "points", "cut-list" ... as its file holds it.

    Raises:
        InputError: there is no such paper; the error lists those there are.
    """
    from even_stance.exchange.papers import paper_of  # noqa: PLC0415 - what makes paper is large, and not always wanted

    return paper_of(job, what)


def edit(job: Job, *edits: Edit) -> Job:
    """A job with edits made, one after the other; the job given stays as it is.

    Raises:
        InputError: an edit cannot be made.
    """
    for each in edits:
        job = each.apply(job)
    return job


@dataclass(frozen=True, eq=False)
class Sweep:
    """Every answer at some postures of an axle.

    Attributes:
        left_mm, right_mm: the postures, shape (n,); reached: False where the linkage locks up before, shape (n,).
        values: each answer by its key, nan where the axle does not get, shape (n,).
    """

    left_mm: NDArray[np.float64]
    right_mm: NDArray[np.float64]
    reached: NDArray[np.bool_]
    values: Mapping[str, NDArray[np.float64]]

    def __getitem__(self, key: str) -> NDArray[np.float64]:
        """One answer, shape (n,).

        Raises:
            KeyError: there is none of that key.
        """
        return self.values[key]


def sweep(job: Job, axle: str, left_mm: ArrayLike, right_mm: ArrayLike) -> Sweep:
    """Every answer of an axle at many postures at once.

    Args:
        job: the job; axle: which.
        left_mm, right_mm: rise of each wheel center against the chassis, mm, bump +, shape (n,) or ().

    Raises:
        InputError: no such axle, or postures that are no numbers or of two shapes.
        LayoutError: nothing holds the axle.
    """
    try:
        left, right = (np.atleast_1d(a) for a in np.broadcast_arrays(np.asarray(left_mm, float), right_mm))
    except ValueError:
        raise InputError("Postures", "left and right are not of one shape.", "Give two arrays of one length.") from None
    left, right = left.astype(float), right.astype(float)
    if left.ndim != 1 or not (np.isfinite(left).all() and np.isfinite(right).all()):
        raise InputError("Postures", "are no row of numbers.", "Give mm of travel, bump +.")
    found = study_postures(with_changes(job.vehicle, over="ride"), axle_of(job, axle), left, right)
    return Sweep(left, right, np.asarray(found.ok), dict(found.values))
