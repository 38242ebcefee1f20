"""A point held: dragged with the mouse, stepped from hole to hole, walked to, and told in words."""

from PyQt6.QtCore import QPointF

from even_stance.desktop.bench import Bench
from even_stance.judgement.search.keeping import kept_move, kept_words
from even_stance.study.drawing import PLANES, View, Xyz, unproject
from even_stance.study.floor import axle_to_ride
from even_stance.units import format_length
from even_stance.vehicle.edits import choose_hole, move_to, place_point, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, body_of, hole_name, holes_of, point_of, power_spots, spots_on


class Drag:
    """A point on its way: it drops into the holes of its bracket, and takes the bracket along when pulled beyond."""

    def __init__(self, bench: Bench, view: View, spot: Spot, start: QPointF) -> None:
        self._bench, self._view, self.spot, self._start = bench, view, spot, start
        self._job, self._from = bench.job, point_of(bench.job, spot)
        self._holes, _ = holes_of(bench.job, spot)
        # A single hole is no choice: the bracket moves. So it does where a number is to stay as it is.
        self._moving_bracket = len(self._holes) < 2 or bool(bench.look_at.keep)
        self._live = False

    def to(self, where: QPointF, px_per_mm: float, locked: bool, threshold_px: int) -> None:
        """Follow the mouse."""
        off = where - self._start
        if not self._live and off.manhattanLength() < threshold_px:
            return
        self._live = True
        dh, dv = off.x() / px_per_mm, -off.y() / px_per_mm
        if locked:
            dh, dv = (dh, 0.0) if abs(dh) > abs(dv) else (0.0, dv)
        delta = to_ride(self._bench, self.spot, unproject(self._view, dh, dv))
        ways = tuple(i for i, mm in enumerate(unproject(self._view, dh, dv)) if mm) if locked else PLANES[self._view]
        dx, dy, dz = kept(self._bench, self._job, self.spot, delta, ways)
        x, y, z = (a + d for a, d in zip(self._from.xyz, (dx, dy, dz), strict=True))
        bench, merge = self._bench, f"drag {self.spot.words} {id(self)}"
        if not self._moving_bracket:
            away = [sum((p - q) ** 2 for p, q in zip((x, y, z), h.xyz, strict=True)) ** 0.5 for h in self._holes]
            pitch = min(
                sum((p - q) ** 2 for p, q in zip(a.xyz, b.xyz, strict=True)) ** 0.5
                for a, b in zip(self._holes, self._holes[1:], strict=False)
            )
            nearest = away.index(min(away))
            if away[nearest] <= 1.5 * pitch:
                bench.do(choose_hole(self.spot, nearest, bench.look_at.both_sides, merge))
                return
            self._moving_bracket = True
        bench.do(move_to(bench.job, self.spot, x, y, z, bench.look_at.both_sides, merge))


def kept(bench: Bench, job: Job, spot: Spot, delta: Xyz, ways: tuple[int, ...]) -> Xyz:
    """A movement that leaves the number as it is that is to be kept, if one is."""
    keep = bench.look_at.keep
    return kept_move(job, spot, delta, keep, ways, bench.look_at.both_sides) if keep else delta


def to_ride(bench: Bench, spot: Spot, delta: tuple[float, float, float]) -> tuple[float, float, float]:
    """A movement seen at the posture shown, as the movement of the stored point at ride height."""
    if body_of(bench.job, spot) != "axle":
        return delta
    study = bench.study(spot.axle)
    return axle_to_ride(study, delta) if study is not None else delta


def step_hole(bench: Bench, spot: Spot, step: int) -> None:
    """The next hole up or down of a bracket, if there is one."""
    holes, hole = holes_of(bench.job, spot)
    if hole is not None and 0 <= hole + step < len(holes):
        bench.do(choose_hole(spot, hole + step, bench.look_at.both_sides))


def mirror(bench: Bench, spot: Spot, twin: Spot) -> None:
    """Put the twin of a point where the point is, on the other side of the car."""
    at = point_of(bench.job, spot)
    known = "guessed" if at.known == "guessed" else "derived"
    bench.do(place_point(twin, with_changes(at, y=-at.y, known=known)))


def held_spots(bench: Bench) -> list[Spot]:
    """The points that can be taken hold of while an axle is looked at: its own, and those of the powertrain."""
    return [*spots_on(bench.axle), *power_spots(bench.job.vehicle.powertrain)]


def walk_points(bench: Bench, step: int) -> None:
    """Take hold of the next or previous point."""
    spots = held_spots(bench)
    if spots:
        now = spots.index(bench.spot) + step if bench.spot in spots else 0
        bench.select_spot(spots[now % len(spots)])


def point_words(bench: Bench, spot: Spot) -> list[str]:
    """A point in words: its name, how far ahead and out, how high, and its hole."""
    at, units = point_of(bench.job, spot), bench.job.units
    axle = bench.job.vehicle.axle(spot.axle or bench.axle_key)
    holes, used = holes_of(bench.job, spot)
    ahead = at.x + axle.behind_front_mm
    out = f"{format_length(abs(at.y), units)} {'left' if at.y >= 0 else 'right'}"
    way = "ahead" if ahead >= 0 else "behind"
    words = f"{format_length(abs(ahead), units)} {way}   {out}   {format_length(at.z, units)} up"
    hole = hole_name(spot, used, len(holes)) if used is not None else "no holes"
    keep = f", {kept_words(bench.look_at.keep)} kept" if bench.look_at.keep else ""
    return [spot.words, words, hole + keep]
