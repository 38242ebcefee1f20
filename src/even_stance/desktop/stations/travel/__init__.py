"""The Travel station: the axles through all they will ever do."""

from collections.abc import Iterator

from PyQt6.QtWidgets import QWidget

from even_stance.desktop.stations.spec import Station, made_late
from even_stance.desktop.studies import Studies
from even_stance.judgement.findings import Finding


def _ready(station: QWidget) -> Iterator[None]:
    yield from station.get_ready()  # type: ignore[attr-defined]


def _findings(studies: Studies) -> list[Finding]:
    linked = [a.key for a in studies.job.vehicle.axles if a.members]
    return [*studies.numbers("travel"), *(f for k in linked for f in studies.at_ride(k)[1])]


_MAKE, _LOAD = made_late("travel", "TravelStation")
STATION = Station("travel", "Travel", _MAKE, _findings, load=_LOAD, ready=_ready)
