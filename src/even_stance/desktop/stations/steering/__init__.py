"""The Steering station: the pieces, what the wheels do over lock and bumps, and the rods to cut."""

from importlib import import_module

from PyQt6.QtWidgets import QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.stations.spec import Station
from even_stance.desktop.studies import Studies
from even_stance.judgement.findings import Finding, number_findings
from even_stance.judgement.steering import steering_findings


def _load() -> object:
    # Charts take long to import: that goes on beside the window.
    return [import_module(f"even_stance.desktop.stations.steering.{name}") for name in ("station", "sweeppage")]


def _make(bench: Bench, look: Look) -> QWidget:
    from even_stance.desktop.stations.steering.station import SteeringStation  # noqa: PLC0415 - made when asked for

    return SteeringStation(bench, look)


def _findings(studies: Studies) -> list[Finding]:
    linked = [a.key for a in studies.job.vehicle.axles if a.members]
    numbers = number_findings({k: studies.at_ride(k)[0] for k in linked}, "steering")
    return [*steering_findings(studies.job), *numbers]


STATION = Station("steering", "Steering", _make, _findings, load=_load)
