"""Both wheels over lock, and what they do by themselves over travel with the hand wheel held."""

import numpy as np

from even_stance.desktop.bench import Bench
from even_stance.desktop.chartpage import ChartPage
from even_stance.desktop.look import Look
from even_stance.judgement.steering import beam_curves, bump_curve, lock_curve
from even_stance.study.steerfigures import Turner, turner_of

_TITLES = {
    "lock": "Left wheel over steer input, ° left", "apart": "Right less left over steer input, °",
    "heave": "Left wheel over travel, hand wheel held, °", "roll": "Left wheel crossed up, hand wheel held, °",
}  # fmt: skip


class SweepPage(ChartPage):
    """Four charts of the axle looked at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__(bench, look, "steering", _TITLES)

    def _title(self, key: str, title: str) -> None:
        if self.charts[key].title != title:
            self.charts[key].title = title
            self.charts[key].restyle()

    def _draw_beams(self, beams: Turner) -> None:
        """Swing beams: both wheels over lock at ride height, toe and camber over travel."""
        bench, axle = self._bench, self._bench.axle
        per, unit = (25.4, "in") if bench.job.units == "us" else (1.0, "mm")
        self.words.setText(f"Above: over turns of the hand wheel, + left. Below: over travel of both wheels, {unit}.")
        steer = np.linspace(-1.0, 1.0, 81) * beams.half_mm_or_turns
        left, right = np.moveaxis(beams.at(steer, np.array(axle.center), np.eye(3)).headings, -1, 0)
        now = bench.posture.steer
        for key, y in (("lock", left), ("apart", right - left)):
            self.charts[key].show_curves(steer, y, (now, float(np.interp(now, steer, y))), (None, None))
        travel, toe, lean = beam_curves(axle)
        for key, y in (("heave", toe), ("roll", lean)):
            self.charts[key].show_curves(travel / per, y, (np.nan, np.nan), (None, None))

    def refresh(self) -> None:
        """Draw the steering of the axle looked at."""
        bench = self._bench
        study = bench.study(bench.axle_key)
        beams = turner_of(bench.axle) if study is None else None
        self._title("heave", "Toe over travel, hand wheel held, °" if beams is not None else _TITLES["heave"])
        self._title("roll", "Left wheel’s camber over travel, °" if beams is not None else _TITLES["roll"])
        if beams is not None:
            self._draw_beams(beams)
            return
        if study is None or study.axle.steering is None or not study.now.ok[0]:
            self.words.setText("No steering to draw: start one on the Pieces page.")
            self.show_nothing()
            return
        per, unit = (25.4, "in") if bench.job.units == "us" else (1.0, "mm")
        ram = study.axle.steering.kind == "ram"
        self.words.setText(
            f"Above: over {'mm of the ram’s rod' if ram else 'turns of the hand wheel'}, at the travel shown, + left. "
            f"Below: over travel of the left wheel, {unit}."
        )
        steer, left, right = lock_curve(study)
        now = bench.posture.steer
        for key, y in (("lock", left), ("apart", right - left)):
            self.charts[key].show_curves(steer, y, (now, float(np.interp(now, steer, y))), (None, None))
        for key, crossed in (("heave", False), ("roll", True)):
            travel, left, _ = bump_curve(study, crossed)
            self.charts[key].show_curves(travel / per, left, (np.nan, np.nan), (None, None))
