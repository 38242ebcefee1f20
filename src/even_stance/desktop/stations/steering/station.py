"""The Steering station: the floor with every joint of the steering, its pieces, the sweep, and the walk-around."""

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.floor import Floor
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Pages
from even_stance.desktop.pointbar import PointBar
from even_stance.desktop.stations.steering.piecespage import PiecesPage
from even_stance.desktop.walkaround import WalkAround
from even_stance.desktop.widgets.labels import FittedWords, plain_tip
from even_stance.judgement.steering import foot_words, steering_findings

FLOOR, PIECES, SWEEP, WALK = range(4)


class SteeringStation(QWidget):
    """Pages on the steering of one axle."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        self.strip = PointBar(bench, look)
        self.floor = Floor(bench, look)

        def sweep() -> QWidget:
            # Charts are the heaviest import: they come when first asked for.
            from even_stance.desktop.stations.steering.sweeppage import SweepPage  # noqa: PLC0415

            return SweepPage(bench, look)

        self.pages = Pages((
            ("Floor", lambda: self.floor), ("Pieces", lambda: PiecesPage(bench, look)), ("Sweep", sweep),
            ("Walk", lambda: WalkAround(bench, look)),
        ))  # fmt: skip
        self.words = FittedWords()
        self.pages.foot.addWidget(self.words, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.strip)
        column.addWidget(self.pages, 1)
        self.pages.turn_to(FLOOR)
        self.floor.bring_front("plan")
        self.pages.turned.append(lambda page: self.strip.setVisible(page in (FLOOR, WALK)))
        bench.job_changed.connect(self.refresh)
        bench.selection_changed.connect(self.refresh)

    def turn_to(self, page: int) -> None:
        """Show one of the pages."""
        self.pages.turn_to(page)

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()

    def refresh(self) -> None:
        """Show point, page and what the wheels do over bumps."""
        if not self.isVisible():
            return
        bench = self._bench
        self.strip.refresh()
        if self.pages.current:  # the floor listens for itself
            self.pages.refresh()
        study = bench.study(bench.axle_key)
        lacking = [f.sentence for f in steering_findings(bench.job) if f.axle == bench.axle_key]
        none = f"The {bench.axle_key} axle does not steer: say so in Stance, or turn to one that does."
        said = [foot_words(study)] if study is not None and bench.axle.steering is not None else lacking or [none]
        self.words.say(said)
        self.words.setToolTip(plain_tip("\n".join(said)))
