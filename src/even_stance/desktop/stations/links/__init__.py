"""The Links station: what holds the axles."""

from PyQt6.QtWidgets import QWidget

from even_stance.desktop.stations.links.station import LinksStation
from even_stance.desktop.stations.spec import Station
from even_stance.desktop.studies import Studies
from even_stance.judgement.findings import Finding, layout_findings


def _findings(studies: Studies) -> list[Finding]:
    linked = [a.key for a in studies.job.vehicle.axles if a.members]
    errors = {k: e for k in linked if (e := studies.layout_error(k)) is not None}
    return [*layout_findings(errors), *studies.numbers("links")]


def _focus(station: QWidget) -> QWidget:
    assert isinstance(station, LinksStation)
    return station.floor.panes[station.floor.front]


STATION = Station("links", "Links", LinksStation, _findings, focus=_focus)
