"""The stations in the order of the work: adding one takes its own folders and a line here."""

from even_stance.desktop.stations import buildsheet, clearance, driveline, links, log, springs, stance, steering, travel
from even_stance.desktop.stations.spec import Station

STATIONS: tuple[Station, ...] = (
    stance.STATION,
    links.STATION,
    travel.STATION,
    driveline.STATION,
    steering.STATION,
    springs.STATION,
    clearance.STATION,
    buildsheet.STATION,
    log.STATION,
)
