"""The command even-stance: opens the window, or answers without one."""

import sys
from pathlib import Path

from even_stance import cli
from even_stance.errors import StanceError

_WITHOUT_WINDOW = {"answers", "check", "paper", "schema", "-h", "--help"}


def main() -> int:
    """Run the command line; the exit code (2 when something typed or stored cannot be used)."""
    arguments = sys.argv[1:]
    try:
        if arguments and arguments[0] in _WITHOUT_WINDOW:
            return cli.run(arguments)
        # Imported late: the commands above must work where Qt does not.
        from even_stance.desktop import app  # noqa: PLC0415

        if arguments[:1] == ["shots"]:
            return app.take_shots(cli.build_parser().parse_args(arguments).folder)
        if arguments[:1] == ["demo"]:
            return app.open_window(None, demo=True)
        if len(arguments) > 1:
            cli.build_parser().parse_args(arguments)
        return app.open_window(Path(arguments[0]) if arguments else None)
    except StanceError as error:
        return cli.complain(error)


if __name__ == "__main__":
    sys.exit(main())
