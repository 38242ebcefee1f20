"""The command even-stance: opens the window, or answers without one."""

import os
import sys
from pathlib import Path

from even_stance import cli
from even_stance.errors import JobFileError, StanceError, UsageError

_ASKS = ("-h", "--help", "-V", "--version")


def main() -> int:
    """Run the command line; the exit code (cli.USAGE and the others when it cannot be done)."""
    try:
        code = _run(sys.argv[1:])
        sys.stdout.flush()
        return code
    except StanceError as error:
        return cli.complain(error)
    except BrokenPipeError:
        # Whoever reads has heard enough, which is their good right: nothing more is said, also not on the way out.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    except OSError as error:
        # The disk behind a redirected output is full, and the like.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return cli.complain(JobFileError(f"The output could not be written: {error.strerror or error}."))


def _run(arguments: list[str]) -> int:
    first = arguments[0] if arguments else ""
    if first in _ASKS or (first in cli.COMMANDS and first not in cli.WINDOWS):
        return cli.run(arguments)
    if first and first not in cli.WINDOWS and not _is_job(first):
        if first.startswith("-"):
            cli.build_parser().parse_args(arguments)
        raise UsageError("Command line", f"there is no command or job file “{first}”.", "See “even-stance --help”.")
    # Imported late: the commands above must work where Qt does not.
    from even_stance.desktop import app  # noqa: PLC0415

    if first == "shots":
        asked = cli.build_parser().parse_args(arguments)
        return app.take_shots(asked.folder, asked.projects)
    if first == "demo":
        cli.build_parser().parse_args(arguments)
        return app.open_window(None, demo=True)
    if len(arguments) > 1:
        raise UsageError("Command line", f"“{arguments[1]}” is one word too many.", "One job file opens in a window.")
    return app.open_window(Path(first) if first else None)


def _is_job(word: str) -> bool:
    return word.endswith(".stance") or Path(word).exists()


if __name__ == "__main__":
    sys.exit(main())
