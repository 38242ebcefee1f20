"""What is looked at: which station, axle, posture, point and figure."""

from dataclasses import dataclass, field
from typing import Literal

from even_stance.study.loads import CaseKey
from even_stance.vehicle.job import Job
from even_stance.vehicle.posture import CarPosture
from even_stance.vehicle.spots import Spot

Along = Literal["", "opposite", "same"]
PaperSize = Literal["letter", "a4", ""]


@dataclass
class Selection:
    """What the person at the bench has before them.

    Attributes:
        axle_key: the axle looked at; station: the station that is open.
        posture: where the wheels of the car are.
        spot, figure: the point held and the number looked at, if any; why: whether it is being explained.
        both_sides: whether the other side goes along when a point is moved.
        keep: the number that stays as it is while a point is dragged or nudged, if any.
        moving_end: which end of a link moves when its length is typed; empty until that was said.
        along: what another steered axle does while one is steered: nothing, the opposite way or the same way.
        load_case: the loads drawn; overlay: the variant drawn beneath.
    """

    axle_key: str
    station: str = "links"
    posture: CarPosture = field(default_factory=CarPosture)
    spot: Spot | None = None
    figure: str | None = None
    both_sides: bool = True
    keep: str = ""
    moving_end: str = ""
    along: Along = ""
    load_case: CaseKey | None = None
    why: bool = False
    overlay: str | None = None

    @classmethod
    def first(cls, job: Job, station: str = "links") -> "Selection":
        """What is looked at when a job is opened: the rear axle if it has links, else the first one that has."""
        linked = [a.key for a in job.vehicle.axles if a.members]
        return cls("rear" if "rear" in linked else (linked or [job.vehicle.axles[-1].key])[0], station)
