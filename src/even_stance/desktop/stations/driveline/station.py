"""The Driveline station: the floor framed on the whole driveline, the shaft to order, and the engine on its mounts."""

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.explainstrip import ExplainStrip
from even_stance.desktop.floor import Floor
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Pages, Scrolled, above
from even_stance.desktop.pointbar import PointBar
from even_stance.desktop.stations.driveline.anglespage import AnglesPage
from even_stance.desktop.stations.driveline.enginepage import EnginePage
from even_stance.desktop.stations.driveline.shaftpage import ShaftPage
from even_stance.desktop.walkaround import WalkAround
from even_stance.desktop.widgets.labels import FittedWords, plain_tip
from even_stance.judgement.driveline import alike_words, driveline_findings, study_words, wind_up_words

FLOOR, ANGLES, SHAFT, ENGINE, TRAVEL, WALK = range(6)


class DrivelineStation(QWidget):
    """Pages on the driveline of one axle: floor with the point bar, shaft, engine, walk-around."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        self.strip = PointBar(bench, look)
        self.floor = Floor(bench, look, whole=True)
        self.why = ExplainStrip(bench, look)

        def travel() -> QWidget:
            # Charts are the heaviest import: they come when first asked for.
            from even_stance.desktop.stations.driveline.travelpage import DrivelineTravelPage  # noqa: PLC0415

            return DrivelineTravelPage(bench, look)

        self.pages = Pages(
            (("Floor", lambda: above(self.floor, self.why)), ("Angles", lambda: AnglesPage(bench, look)),
             ("Shaft", lambda: Scrolled(ShaftPage(bench, look))), ("Engine", lambda: EnginePage(bench, look)),
             ("Travel", travel), ("Walk", lambda: WalkAround(bench, look)))
        )  # fmt: skip
        self.words = FittedWords()
        self.pages.foot.addWidget(self.words, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.strip)
        column.addWidget(self.pages, 1)
        self.pages.turn_to(FLOOR)
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
        """Show point, page and what the readings say."""
        if not self.isVisible():
            return
        bench = self._bench
        self.strip.refresh()
        self.why.refresh()
        if self.pages.current:  # the floor listens for itself
            self.pages.refresh()
        study = bench.study(bench.axle_key)
        parts = [alike_words(bench.job, bench.axle)]
        if study is not None:
            parts += [study_words(study), wind_up_words(bench.job, study)]
        lacking = [f.sentence for f in driveline_findings(bench.job) if f.severity in ("missing", "stop")]
        if not any(parts):
            none = f"The {bench.axle_key} axle is not driven: turn to a driven one, or say so in Stance."
            parts = lacking or [none]
        said = [p for p in parts if p]
        self.words.say(said)
        self.words.setToolTip(plain_tip("\n".join([*said, *lacking])))
