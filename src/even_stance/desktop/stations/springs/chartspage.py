"""One spring over travel: its length, motion ratio, wheel rate and push."""

import numpy as np

from even_stance.desktop.bench import Bench
from even_stance.desktop.chartpage import ChartPage
from even_stance.desktop.look import Look
from even_stance.mechanics.vectors import Array
from even_stance.study.springs import study_springs
from even_stance.units import POUND_FORCE, POUND_PER_INCH, length_unit

_TITLES = {
    "length": "Length over travel", "ratio": "Motion ratio over travel", "rate": "Wheel rate over travel",
    "push": "Push over travel",
}  # fmt: skip


class ChartsPage(ChartPage):
    """Four charts of the spring whose point is held, else of the first of the axle."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__(bench, look, "springs", _TITLES)

    def refresh(self) -> None:
        """Draw the spring."""
        bench = self._bench
        study = bench.study(bench.axle_key)
        if study is None or not study.axle.parts:
            self.words.setText("No springs to draw: put some on, on the Parts page.")
            self.show_nothing()
            return
        sweep = study.travel.sweep
        springs = study_springs(bench.job.vehicle, study.axle, sweep)
        spot = bench.spot
        runs = [r for r in springs.runs if r.unit.kind not in ("sway_bar",)]
        run = next((r for r in runs if spot is not None and r.unit.name == spot.member), runs[0] if runs else None)
        if run is None:
            self.words.setText("No springs to draw: put some on, on the Parts page.")
            self.show_nothing()
            return
        us = bench.job.units == "us"
        per, stiff, newton = (25.4, POUND_PER_INCH, POUND_FORCE) if us else (1.0, 1.0, 1.0)
        unit = length_unit(bench.job.units)
        hold = float(springs.held[0]) if run.unit.kind == "leaf" else 0.0
        self.words.setText(
            f"{run.unit.name} over travel of both wheels, {unit}: length in {unit}, rate in "
            f"{'lb/in' if us else 'N/mm'}, push in {'lb' if us else 'N'}. Hold a point of another spring to see it."
        )
        now = 0.5 * (bench.posture.left_mm + bench.posture.right_mm)
        x = sweep.left / per
        curves: dict[str, Array] = {
            "length": run.length / per, "ratio": run.motion_ratio, "rate": run.wheel_rate / stiff,
            "push": (run.force + hold) / newton,
        }  # fmt: skip
        for key, values in curves.items():
            y = np.where(sweep.ok, values, np.nan)
            self.charts[key].show_curves(x, y, (now / per, float(np.interp(now, sweep.left, y))), (None, None))
