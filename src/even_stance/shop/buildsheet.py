"""The whole build sheet of a job at once: cut list, strength, counting, plates."""

from dataclasses import dataclass
from typing import TYPE_CHECKING

from even_stance.judgement.build import judged_links
from even_stance.judgement.verdicts import Verdict
from even_stance.shop.counting import Counted, count_parts
from even_stance.study.cutlist import CutPiece, cut_list, without_parts
from even_stance.study.pieces import Piece
from even_stance.study.strength import LinkUse
from even_stance.vehicle.job import Job

if TYPE_CHECKING:
    from even_stance.shop.plates import Template


@dataclass(frozen=True, eq=False)
class BuildStudy:
    """What is known of a job's build sheet.

    Attributes:
        job: of which; cuts: the cut list; missing: links without parts; uses, verdicts: their strength, judged.
        counted: what is bought; plates: templates of its plates.
    """

    job: Job
    cuts: tuple[CutPiece, ...]
    missing: tuple[Piece, ...]
    uses: tuple[LinkUse, ...]
    verdicts: tuple[Verdict, ...]
    counted: Counted
    plates: "tuple[Template, ...]"

    def use_of(self, axle: str, part: str) -> LinkUse | None:
        """The strength of one link."""
        return next((u for u in self.uses if (u.cut.piece.axle, u.cut.piece.part) == (axle, part)), None)


def study_build(job: Job) -> BuildStudy:
    """Work out the build sheet of a job."""
    from even_stance.shop.plates import plates_of  # noqa: PLC0415 - shapes of plates need a library of their own

    vehicle = job.vehicle
    uses, verdicts = judged_links(job)
    return BuildStudy(
        job, tuple(cut_list(vehicle, job.units)), tuple(without_parts(vehicle)), tuple(uses), tuple(verdicts),
        count_parts(vehicle, job.units), tuple(plates_of(vehicle, job.units)),
    )  # fmt: skip
