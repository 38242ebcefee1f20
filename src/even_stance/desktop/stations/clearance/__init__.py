"""The Clearance station: everything that can hit, found before anything is cut."""

from even_stance.desktop.stations.spec import Station, made_late
from even_stance.desktop.studies import Studies
from even_stance.judgement.findings import Finding


def _findings(_studies: Studies) -> list[Finding]:
    return []  # what is too close comes with the search, here as at every station


_MAKE, _LOAD = made_late("clearance", "ClearanceStation", "gapspage")

STATION = Station("clearance", "Clearance", _MAKE, _findings, load=_LOAD)
