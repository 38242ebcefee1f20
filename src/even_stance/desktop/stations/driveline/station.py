"""The Driveline station: the floor framed on the whole driveline, the shaft to order, and the engine on its mounts."""

from PyQt6.QtWidgets import QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.stations.axlestation import AxleStation
from even_stance.desktop.stations.driveline.anglespage import AnglesPage
from even_stance.desktop.stations.driveline.enginepage import EnginePage
from even_stance.desktop.stations.driveline.shaftpage import ShaftPage
from even_stance.judgement.driveline import alike_words, driveline_findings, study_words, wind_up_words

FLOOR, ANGLES, SHAFT, ENGINE, TRAVEL, WALK = range(6)


class DrivelineStation(AxleStation):
    """Pages on the driveline of one axle: floor with the point bar, shaft, engine, walk-around."""

    def __init__(self, bench: Bench, look: Look) -> None:
        def travel() -> QWidget:
            # Charts are the heaviest import: they come when first asked for.
            from even_stance.desktop.stations.driveline.travelpage import DrivelineTravelPage  # noqa: PLC0415

            return DrivelineTravelPage(bench, look)

        super().__init__(bench, look, (
            ("Angles", lambda: AnglesPage(bench, look)), ("Shaft", lambda: ShaftPage(bench, look)),
            ("Engine", lambda: EnginePage(bench, look)), ("Travel", travel),
        ), whole=True)  # fmt: skip

    def say(self) -> None:
        """Say what the readings say."""
        bench = self._bench
        study = bench.study(bench.axle_key)
        parts = [alike_words(bench.job, bench.axle)]
        if study is not None:
            parts += [study_words(study), wind_up_words(bench.job, study)]
        lacking = [f.sentence for f in driveline_findings(bench.job) if f.severity in ("missing", "stop")]
        if not any(parts):
            none = f"The {bench.axle_key} axle is not driven: turn to a driven one, or say so in Stance."
            parts = lacking or [none]
        said = [p for p in parts if p]
        self.put_words(said, [*said, *lacking])
