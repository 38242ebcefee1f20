"""The Steering station: the floor with every joint of the steering, its pieces, the sweep, and the walk-around."""

from PyQt6.QtWidgets import QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.stations.axlestation import AxleStation
from even_stance.desktop.stations.steering.arcspage import ArcsPage
from even_stance.desktop.stations.steering.parts import arm_page, box_page, joints_page, ram_page, shaft_page
from even_stance.desktop.stations.steering.piecespage import PiecesPage
from even_stance.judgement.steering import beam_foot_words, foot_words, steering_findings
from even_stance.study.beams import beams_of

FLOOR, PIECES, ARCS, SWEEP, BOX, RAM, JOINTS, ARM, SHAFT, WALK = range(10)


class SteeringStation(AxleStation):
    """Pages on the steering of one axle."""

    def __init__(self, bench: Bench, look: Look) -> None:
        def sweep() -> QWidget:
            # Charts are the heaviest import: they come when first asked for.
            from even_stance.desktop.stations.steering.sweeppage import SweepPage  # noqa: PLC0415

            return SweepPage(bench, look)

        super().__init__(bench, look, (
            ("Pieces", lambda: PiecesPage(bench, look)), ("Arcs", lambda: ArcsPage(bench, look)),
            ("Sweep", sweep),
            ("Box", lambda: box_page(bench, look)), ("Ram", lambda: ram_page(bench, look)),
            ("Joints", lambda: joints_page(bench, look)), ("Arm", lambda: arm_page(bench, look)),
            ("Shaft", lambda: shaft_page(bench, look)),
        ))  # fmt: skip
        self.floor.bring_front("plan")

    def say(self) -> None:
        """Say what the wheels do over bumps, or what is not known yet."""
        bench = self._bench
        study = bench.study(bench.axle_key)
        lacking = [f.sentence for f in steering_findings(bench.job) if f.axle == bench.axle_key]
        none = f"The {bench.axle_key} axle does not steer: say so in Stance, or turn to one that does."
        if beams_of(bench.axle) is not None:
            self.put_words([beam_foot_words(bench.axle)])
            return
        said = [foot_words(study)] if study is not None and bench.axle.steering is not None else lacking or [none]
        self.put_words(said)
