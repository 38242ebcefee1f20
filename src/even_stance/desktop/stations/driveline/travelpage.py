"""The driveshaft over travel: both joints, what is left over, and how far the slip goes."""

from collections.abc import Iterator

import numpy as np

from even_stance.desktop.bench import Bench
from even_stance.desktop.chartpage import ChartPage
from even_stance.desktop.look import Look
from even_stance.judgement.bands import wanted

# Answer, judged number whose band it has, and title.
CHARTS = (
    ("output_angle_deg", "output_joint_deg", "Joint at the output, °"),
    ("pinion_angle_deg", "pinion_joint_deg", "Joint at the pinion, °"),
    ("shaft_residual_deg", "shaft_worst_deg", "Left over, °"),
    ("spline_engaged_mm", "spline_left_mm", "Spline left in"),
)


class DrivelineTravelPage(ChartPage):
    """Four charts against travel of both wheels together."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__(bench, look, "driveline", {key: title for key, _, title in CHARTS})

    def build(self) -> Iterator[None]:
        """The charts, each to be clicked."""
        yield from super().build()
        for chart in self.charts.values():
            chart.clicked.connect(self.go_to)

    def go_to(self, index: int) -> None:
        """Put the wheels where the chart was clicked."""
        study = self._bench.study(self._bench.axle_key)
        if study is not None:
            travel = float(study.travel.sweep.left[index])
            self._bench.set_posture(travel, travel)

    def refresh(self) -> None:
        """Draw the shaft of the axle looked at."""
        bench = self._bench
        study = bench.study(bench.axle_key)
        per, unit = (25.4, "in") if bench.job.units == "us" else (1.0, "mm")
        nothing = study is None or "shaft_length_mm" not in study.now.values
        self.words.setText(
            "No shaft to draw: measure output and pinion yoke first."
            if nothing
            else f"Against travel of both wheels, {unit}. Dashed lines: wanted; triangle: farthest out of it."
        )
        for key, judged, title in CHARTS:
            chart, scale = self.charts[key], per if key.endswith("_mm") else 1.0
            titled = f"{title}, {unit}" if key.endswith("_mm") else title
            if chart.title != titled:
                chart.title = titled
                chart.restyle()
            if study is None or key not in study.now.values:
                chart.show_curves(np.array([]), np.array([]), (np.nan, np.nan), (None, None))
                continue
            sweep, now = study.travel.sweep, study.now
            band = wanted(bench.job, judged, bench.axle_key).band
            marks = tuple(None if m is None else m / scale for m in (band.low, band.high))
            alike = abs(float(now.left[0] - now.right[0])) < 0.5
            here = (float(now.left[0]) / per, now.value(key) / scale) if alike else (np.nan, np.nan)
            chart.show_curves(sweep.left / per, sweep.values[key] / scale, here, (marks[0], marks[1]))
