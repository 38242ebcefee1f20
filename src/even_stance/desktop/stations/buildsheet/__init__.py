"""The Build sheet: what to buy, what to cut, how long, whether it holds, templates, and in which order."""

from even_stance.desktop.stations.spec import Station, made_late
from even_stance.desktop.studies import Studies
from even_stance.judgement.findings import Finding


def _findings(studies: Studies) -> list[Finding]:
    return studies.built()


_MAKE, _LOAD = made_late("buildsheet", "BuildStation")
STATION = Station("build", "Build sheet", _MAKE, _findings, load=_LOAD)
