"""Where a point is, from distances taped to points that are known."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.vectors import Array, cross, norm


@dataclass(frozen=True)
class Located:
    """A point found from distances.

    Attributes:
        point: the best place, mm, shape (3,)
        residual: taped minus reckoned distance of each tape, mm, shape (k,)
        sure: +/- of each coordinate, mm, shape (3,)
        suspect: index of the tape that disagrees with all others, or -1 when none does or it cannot be told.
    """

    point: Array
    residual: Array
    sure: Array
    suspect: int


def flatness(references: Array) -> Array:
    """How spread out known points are: the three semi-axes of their cloud.

    Args:
        references: known points, mm, shape (k, 3)

    Returns:
        Root mean square extents, largest first, mm, shape (3,): the second is nil for points on a line, the third for
        points in a plane.

    Source: derived here; principal axes by singular value decomposition.
    """
    spread: Array = np.linalg.svd(references - references.mean(axis=0), compute_uv=False) / np.sqrt(len(references))
    return np.pad(spread, (0, 3 - len(spread)))


def spheres_meet(references: Array, distances: Array) -> tuple[Array, float]:
    """The two points at three given distances from three known points, mirror images in the plane of these.

    With p1 the origin, ex along p1 p2, ey in the plane: x = (r1^2 - r2^2 + d^2) / 2d,
    y = (r1^2 - r3^2 + i^2 + j^2) / 2j - i x / j, z^2 = r1^2 - x^2 - y^2.

    Args:
        references: three known points, not on one line, mm, shape (3, 3)
        distances: from each of them to the point, mm, shape (3,)

    Returns:
        The two points, mm, shape (2, 3), both in the plane when the distances cannot meet; and how far they are from
        meeting, mm: the square root of -z^2 when that is negative, else 0.

    Source: derived here; the textbook intersection of three spheres.
    """
    p1, p2, p3 = references
    ex = (p2 - p1) / norm(p2 - p1)
    i = float(ex @ (p3 - p1))
    off = p3 - p1 - i * ex
    ey = off / norm(off)
    ez = cross(ex, ey)
    d, j = float(norm(p2 - p1)), float(ey @ (p3 - p1))
    r1, r2, r3 = distances
    x = (r1**2 - r2**2 + d**2) / (2 * d)
    y = (r1**2 - r3**2 + i**2 + j**2) / (2 * j) - i * x / j
    square = r1**2 - x**2 - y**2
    z = np.sqrt(max(square, 0.0))
    base = p1 + x * ex + y * ey
    return np.stack((base + z * ez, base - z * ez)), float(np.sqrt(max(-square, 0.0)))


def trilaterate(references: Array, distances: Array, sure: Array, near: Array) -> Located:
    """The point that fits three or more taped distances best, by weighted least squares.

    Gauss-Newton from a rough place; among mirror images the one on the side of that place is found. A tape is suspect
    when a residual, in units of its own standard deviation after the fit, is above 3, and leaving out this tape brings
    the rest together better than leaving out any other one by 3 standard deviations; with only one tape to spare it
    cannot be told which one is wrong.

    Args:
        references: known points, not all on one line, mm, shape (k, 3)
        distances: taped, mm, shape (k,)
        sure: +/- of each distance, reference included, mm, shape (k,)
        near: roughly where the point is, mm, shape (3,)

    Returns:
        The point with residuals and sureness, mm, shape (3,) and (k,).

    Source: derived here; Gauss-Newton least squares with the covariance of the normal equations (ISO/IEC Guide 98-3),
    standardized residuals after Baarda (data snooping, from memory).
    """
    point, covariance = _fit(references, distances, sure, near)
    residual = distances - norm(references - point)
    return Located(point, residual, np.sqrt(np.diag(covariance)), _suspect(references, distances, sure, point))


def _fit(references: Array, distances: Array, sure: Array, near: Array) -> tuple[Array, Array]:
    """The place that fits all distances best, nearest to a start, and its covariance: damped Gauss-Newton."""
    point = near.astype(np.float64)
    weight = 1.0 / sure
    damp = 1e-9
    for _ in range(200):
        span = point - references
        length = np.maximum(norm(span), 1e-9)
        rows = span / length[:, None] * weight[:, None]
        off = (distances - length) * weight
        normal = rows.T @ rows
        step = np.linalg.solve(normal + damp * np.trace(normal) * np.eye(3), rows.T @ off)
        size = float(norm(step))
        point = point + step * min(1.0, 300.0 / max(size, 1e-12))
        if size < 1e-9:
            break
    span = point - references
    rows = span / np.maximum(norm(span), 1e-9)[:, None] * weight[:, None]
    return point, np.asarray(np.linalg.pinv(rows.T @ rows), dtype=np.float64)


def _suspect(references: Array, distances: Array, sure: Array, point: Array) -> int:
    """The distance that does not belong, found by leaving each out in turn; -1 when there is none."""
    count = len(distances)
    if count < 5:
        return -1
    span = point - references
    rows = span / norm(span)[:, None] / sure[:, None]
    leverage = np.einsum("ki,ij,kj->k", rows, np.linalg.pinv(rows.T @ rows), rows)
    off = (distances - norm(span)) / sure
    standard = np.abs(off) / np.sqrt(np.maximum(1.0 - leverage, 1e-6))
    if standard.max() < 3.0:
        return -1
    left = np.array([_left_without(i, references, distances, sure, point) for i in range(count)])
    best, next_best = np.sort(left)[:2]
    # Two tapes that each would explain it alone: nobody can tell which one is wrong.
    clear = best < 9.0 * (count - 4) and next_best - best > 9.0
    return int(np.argmin(left)) if clear else -1


def _left_without(i: int, references: Array, distances: Array, sure: Array, point: Array) -> float:
    """Weighted sum of squared residuals of the others when one tape is left out."""
    rest = np.arange(len(distances)) != i
    without, _ = _fit(references[rest], distances[rest], sure[rest], point)
    off = (distances[rest] - norm(references[rest] - without)) / sure[rest]
    return float((off**2).sum())
