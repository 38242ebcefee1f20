"""The few kinds of trouble Even Stance knows. Each message is a sentence a fabricator can act on."""


class StanceError(Exception):
    """Anything that went wrong and can be told to the user as it stands."""


class InputError(StanceError, ValueError):
    """Something typed or stored cannot be used.

    Args:
        field: the thing on the screen or in the file, in the user's words.
        problem: what was wrong with it.
        hint: what would do.
    """

    def __init__(self, field: str, problem: str, hint: str = "") -> None:
        self.field = field
        self.problem = " ".join(problem.split())  # what was given may hold breaks; a refusal is one line
        self.hint = hint
        super().__init__(f"{field}: {self.problem}" + (f" {hint}" if hint else ""))


class UsageError(InputError):
    """What was typed on the command line is not what a command takes."""


class LayoutError(StanceError, ValueError):
    """The members of an axle do not hold it, or hold it in a way that cannot be computed."""


class CannotReachError(StanceError, ArithmeticError):
    """The linkage locks up before the posture that was asked for.

    Args:
        message: the sentence to show.
        reached: share of the way from ride height to the posture that can be reached, 0..1.
        residual_mm: closure error left at the last good posture, mm.
    """

    def __init__(self, message: str, reached: float, residual_mm: float) -> None:
        self.reached = reached
        self.residual_mm = residual_mm
        super().__init__(message)


class JobFileError(StanceError, OSError):
    """A job file cannot be read or written."""


class JobNotReadError(JobFileError):
    """The job that a command is about cannot be read."""


class UnitMissingError(JobFileError):
    """A file holds figures but does not say in what unit: whoever opened it has to be asked."""


class JobFileChangedError(JobFileError):
    """The file on disk is not the one that was opened: somebody else saved it since."""


class DisplayError(StanceError, OSError):
    """There is no screen to open a window on."""
