"""The Stance station: the car measured, weighed and squared."""

from importlib import import_module

from PyQt6.QtWidgets import QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.stations.spec import Station
from even_stance.desktop.studies import Studies
from even_stance.judgement.findings import Finding, stance_findings


def _load() -> object:
    for page in ("station", "heightspage"):
        import_module(f"even_stance.desktop.stations.stance.{page}")
    return None


def _make(bench: Bench, look: Look) -> QWidget:
    from even_stance.desktop.stations.stance.station import StanceStation  # noqa: PLC0415 - made when asked for

    return StanceStation(bench, look)


def _findings(studies: Studies) -> list[Finding]:
    return [*stance_findings(studies.job), *studies.measured()]


STATION = Station("stance", "Stance", _make, _findings, load=_load, moves=False)
