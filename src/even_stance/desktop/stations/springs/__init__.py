"""The Springs station: what hangs between frame and axle, what ends the travel, where the car sits and how it leans."""

from even_stance.desktop.stations.spec import Station, made_late
from even_stance.desktop.studies import Studies
from even_stance.judgement.findings import Finding


def _findings(studies: Studies) -> list[Finding]:
    return [*studies.springs(), *studies.numbers("springs")]


_MAKE, _LOAD = made_late("springs", "SpringsStation", "chartspage")
STATION = Station("springs", "Springs", _MAKE, _findings, load=_LOAD)
