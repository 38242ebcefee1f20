"""The Springs station: the floor with every mount, its parts, stops, ride, roll, choosing, charts, the walk-around."""

from PyQt6.QtWidgets import QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.stations.axlestation import AxleStation
from even_stance.desktop.stations.springs.choosepage import ChoosePage
from even_stance.desktop.stations.springs.findpage import FindPage
from even_stance.desktop.stations.springs.partspage import PartsPage
from even_stance.desktop.stations.springs.ridepage import RidePage
from even_stance.desktop.stations.springs.rollpage import RollPage
from even_stance.desktop.stations.springs.stopspage import StopsPage
from even_stance.judgement.springs import foot_words

FLOOR, PARTS, STOPS, RIDE, ROLL, CHOOSE, FIND, CHARTS, WALK = range(9)


class SpringsStation(AxleStation):
    """Pages on the springs of one axle, and the car on all of them."""

    def __init__(self, bench: Bench, look: Look) -> None:
        def charts() -> QWidget:
            # Charts are the heaviest import: they come when first asked for.
            from even_stance.desktop.stations.springs.chartspage import ChartsPage  # noqa: PLC0415

            return ChartsPage(bench, look)

        super().__init__(bench, look, (
            ("Parts", lambda: PartsPage(bench, look)), ("Stops", lambda: StopsPage(bench, look)),
            ("Ride", lambda: RidePage(bench, look)), ("Roll", lambda: RollPage(bench, look)),
            ("Choose", lambda: ChoosePage(bench, look)), ("Find", lambda: FindPage(bench, look)),
            ("Charts", charts),
        ))  # fmt: skip
        self.floor.bring_front("rear")

    def say(self) -> None:
        """Say how the axle rides, or what is not known yet."""
        bench = self._bench
        lacking = [f.sentence for f in bench.studies.springs() if f.axle == bench.axle_key and f.severity == "missing"]
        self.put_words(lacking or foot_words(bench.job, bench.axle))
