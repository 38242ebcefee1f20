"""A group of points moved as one piece: the best shift and turn from where they should be to where they are."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.vectors import Array


@dataclass(frozen=True, eq=False)
class Fit:
    """A rigid movement and what it leaves.

    Attributes:
        rotation: 1, shape (3, 3); shift: of the points' middle, mm, shape (3,); middle: of the points, mm, shape (3,).
        left: what is left of each point, is minus fitted, mm, shape (n, 3); rms: of all that, mm.
    """

    rotation: Array
    shift: Array
    middle: Array
    left: Array
    rms: float

    @property
    def turned(self) -> Array:
        """How far it is turned about x, y and z, for small turns, rad, shape (3,)."""
        r = self.rotation
        return 0.5 * np.array([r[2, 1] - r[1, 2], r[0, 2] - r[2, 0], r[1, 0] - r[0, 1]])


def rigid_fit(should: Array, are: Array, weight: Array | None = None) -> Fit:
    """The shift and turn that bring points nearest to where they are, in the sense of least squares.

    By the singular values of the cross covariance; where the best orthogonal matrix would be a reflection, the axis
    that matters least is turned back, so that the answer is always a turn.

    Args:
        should: where the points should be, mm, shape (n, 3)
        are: where they are, mm, shape (n, 3)
        weight: of each point, 1, shape (n,); all alike when not given

    Returns:
        The movement and what it leaves, mm, as a Fit.

    Source: Kabsch 1976, A solution for the best rotation to relate two sets of vectors (from memory).
    """
    w = np.ones(len(should)) if weight is None else np.asarray(weight, dtype=float)
    w = w / w.sum()
    a, b = w @ should, w @ are
    u, _, vt = np.linalg.svd((should - a).T @ ((are - b) * w[:, None]))
    sense = 1.0 if np.linalg.det(vt.T @ u.T) > 0.0 else -1.0
    rotation = vt.T @ np.diag([1.0, 1.0, sense]) @ u.T
    left = are - (b + (should - a) @ rotation.T)
    return Fit(rotation, b - a, a, left, float(np.sqrt((left**2).sum(axis=1).mean())))


def odd_one(should: Array, are: Array) -> tuple[int, Fit]:
    """The point that does not belong to the others: leaving it out leaves least.

    The largest residual of a fit over all is often not it, since it pulls the fit toward itself.

    Args:
        should: where the points should be, mm, shape (n, 3), n of 4 or more
        are: where they are, mm, shape (n, 3)

    Returns:
        Its index, 1, and the fit of the others, with what is left of all points, mm, as a Fit.

    Source: derived here, by leaving one out at a time.
    """
    best: tuple[float, int, Fit] | None = None
    for i in range(len(should)):
        keep = np.arange(len(should)) != i
        fit = rigid_fit(should[keep], are[keep])
        if best is None or fit.rms < best[0]:
            moved = fit.middle + fit.shift + (should - fit.middle) @ fit.rotation.T
            best = (fit.rms, i, Fit(fit.rotation, fit.shift, fit.middle, are - moved, fit.rms))
    assert best is not None
    return best[1], best[2]
