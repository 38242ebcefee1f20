"""Every kind of reply by the command that gives it, with its JSON Schema."""

from even_stance.errors import InputError
from even_stance.replies import car, checking, links, posture, stance
from even_stance.replies.reply import Reply, schema_of

KINDS: dict[str, type[Reply]] = {
    "answers": posture.AnswersReply, "check": checking.CheckReply, "travel": links.TravelReply,
    "loads": links.LoadsReply,
    "holes": links.HolesReply, "solve": links.SolveReply, "why": links.WhyReply, "variants": links.VariantsReply,
    "square": stance.SquareReply, "weight": stance.WeightReply, "heights": stance.HeightsReply,
    "cribs": stance.CribsReply, "ride": car.RideReply, "as-built": car.BuiltReply,
    "clearances": car.GapsReply, "cut-list": car.CutsReply,
}  # fmt: skip


def reply_schema(command: str) -> str:
    """The JSON Schema of what a command prints.

    Raises:
        InputError: no command prints that.
    """
    if command in KINDS:
        return schema_of(KINDS[command])
    raise InputError("Schema", f"there is no “{command}”.", f"There are: job, {', '.join(KINDS)}.")
