"""The Driveline station: angles that cancel, a shaft that fits, and what raising the tail moves."""

from importlib import import_module

from PyQt6.QtWidgets import QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.stations.spec import Station
from even_stance.desktop.studies import Studies
from even_stance.judgement.driveline import driveline_findings
from even_stance.judgement.findings import Finding, number_findings


def _load() -> object:
    # Papers and charts take long to import: that goes on beside the window.
    return [import_module(f"even_stance.desktop.stations.driveline.{name}") for name in ("station", "travelpage")]


def _make(bench: Bench, look: Look) -> QWidget:
    from even_stance.desktop.stations.driveline.station import DrivelineStation  # noqa: PLC0415 - made when asked for

    return DrivelineStation(bench, look)


def _findings(studies: Studies) -> list[Finding]:
    linked = [a.key for a in studies.job.vehicle.axles if a.members]
    numbers = number_findings({k: studies.at_ride(k)[0] for k in linked}, "driveline")
    return [*driveline_findings(studies.job), *numbers]


STATION = Station("driveline", "Driveline", _make, _findings, load=_load)
