"""The Stance station: the car measured, weighed and squared."""

from even_stance.desktop.stations.spec import Station, made_late
from even_stance.desktop.studies import Studies
from even_stance.judgement.findings import Finding, stance_findings


def _findings(studies: Studies) -> list[Finding]:
    return [*stance_findings(studies.job), *studies.measured()]


_MAKE, _LOAD = made_late("stance", "StanceStation", "heightspage")
STATION = Station("stance", "Stance", _MAKE, _findings, load=_LOAD, moves=False)
