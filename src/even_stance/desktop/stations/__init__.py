"""The stations in the order of the work: adding one takes its own folders and a line here."""

from even_stance.desktop.stations import buildsheet, clearance, driveline, links, log, springs, stance, steering, travel
from even_stance.desktop.stations.spec import Station
from even_stance.study.walkaround import warm_up
from even_stance.vehicle.car import Vehicle

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


def load_all(vehicle: Vehicle) -> None:
    """Load what all stations need, and make what is seen of a car ahead of the first look: beside the window."""
    for station in STATIONS:
        if station.load is not None:
            station.load()
    warm_up(vehicle)
    # Bars are planned and readings told apart with these: half a second that a hand would feel later.
    import scipy.optimize  # noqa: PLC0415
    import scipy.special  # noqa: F401, PLC0415
