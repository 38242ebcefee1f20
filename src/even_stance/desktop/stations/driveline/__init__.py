"""The Driveline station: angles that cancel, a shaft that fits, and what raising the tail moves."""

from even_stance.desktop.stations.spec import Station, made_late
from even_stance.desktop.studies import Studies
from even_stance.judgement.driveline import driveline_findings
from even_stance.judgement.findings import Finding


def _findings(studies: Studies) -> list[Finding]:
    return [*driveline_findings(studies.job), *studies.numbers("driveline")]


_MAKE, _LOAD = made_late("driveline", "DrivelineStation", "travelpage")
STATION = Station("driveline", "Driveline", _MAKE, _findings, load=_LOAD)
