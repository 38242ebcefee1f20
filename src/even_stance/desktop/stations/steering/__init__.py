"""The Steering station: the pieces, what the wheels do over lock and bumps, and the rods to cut."""

from even_stance.desktop.stations.spec import Station, made_late
from even_stance.desktop.studies import Studies
from even_stance.judgement.findings import Finding
from even_stance.judgement.steering import steering_findings


def _findings(studies: Studies) -> list[Finding]:
    return [*steering_findings(studies.job), *studies.numbers("steering")]


_MAKE, _LOAD = made_late("steering", "SteeringStation", "sweeppage")
STATION = Station("steering", "Steering", _MAKE, _findings, load=_LOAD)
