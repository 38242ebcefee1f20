"""The Travel station: the axles through all they will ever do."""

from collections.abc import Iterator
from importlib import import_module

from PyQt6.QtWidgets import QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.stations.spec import Station
from even_stance.desktop.studies import Studies
from even_stance.judgement.findings import Finding, number_findings


def _load() -> object:
    # Charts are the heaviest import of all.
    return import_module("even_stance.desktop.stations.travel.station")


def _make(bench: Bench, look: Look) -> QWidget:
    from even_stance.desktop.stations.travel.station import TravelStation  # noqa: PLC0415 - charts come when asked for

    return TravelStation(bench, look)


def _ready(station: QWidget) -> Iterator[None]:
    yield from station.get_ready()  # type: ignore[attr-defined]


def _findings(studies: Studies) -> list[Finding]:
    linked = [a.key for a in studies.job.vehicle.axles if a.members]
    found = number_findings({k: studies.at_ride(k)[0] for k in linked}, "travel")
    return [*found, *(f for k in linked for f in studies.at_ride(k)[1])]


STATION = Station("travel", "Travel", _make, _findings, load=_load, ready=_ready)
