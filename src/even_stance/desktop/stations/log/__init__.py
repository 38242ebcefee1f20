"""The Log: the car as it came out, the diary, what to look at again, photos, and the build book."""

from even_stance.desktop.stations.spec import Station, made_late
from even_stance.desktop.studies import Studies
from even_stance.judgement.findings import Finding


def _findings(studies: Studies) -> list[Finding]:
    return studies.logged()


_MAKE, _LOAD = made_late("log", "LogStation")
STATION = Station("log", "Log", _MAKE, _findings, load=_LOAD)
