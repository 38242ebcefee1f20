"""Both wheels over lock, and what they do by themselves over travel with the hand wheel held."""

import numpy as np

from even_stance.desktop.bench import Bench
from even_stance.desktop.chartpage import ChartPage
from even_stance.desktop.look import Look
from even_stance.judgement.steering import bump_curve, lock_curve

_TITLES = {
    "lock": "Left wheel over steer input, ° left", "apart": "Right less left over steer input, °",
    "heave": "Left wheel over travel, hand wheel held, °", "roll": "Left wheel crossed up, hand wheel held, °",
}  # fmt: skip


class SweepPage(ChartPage):
    """Four charts of the axle looked at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__(bench, look, "steering", _TITLES)

    def refresh(self) -> None:
        """Draw the steering of the axle looked at."""
        bench = self._bench
        study = bench.study(bench.axle_key)
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
