"""What is remembered of a person between sessions: look, scale, and where the window was."""

import json
from contextlib import suppress
from pathlib import Path
from typing import Any, cast

from even_stance.desktop.colors import PALETTES, LookName
from even_stance.desktop.look import SCALES
from even_stance.desktop.selection import PaperSize
from even_stance.errors import JobFileError
from even_stance.exchange.kept import paths_of, read_kept
from even_stance.exchange.wholefile import write_whole

_FAR = 100_000
_MOST_RECENT = 12


class Settings:
    """A small file in the user's configuration folder; a missing or damaged one means the defaults.

    Args:
        file: where it is kept.
    """

    def __init__(self, file: Path) -> None:
        self._file = file

    def beside(self, name: str) -> Path:
        """Where another file of the person's is kept, beside the settings."""
        return self._file.with_name(name)

    def _kept(self) -> dict[str, Any]:
        return read_kept(self._file)

    def recall(self) -> tuple[LookName, int] | None:
        """The look and scale last chosen; None while nobody chose."""
        kept = self._kept()
        name, percent = kept.get("look"), kept.get("percent")
        known = isinstance(name, str) and name in PALETTES and type(percent) is int and percent in SCALES
        return (cast(LookName, name), cast(int, percent)) if known else None

    def recall_decimal_inches(self) -> bool:
        """Whether lengths are read in thousandths of an inch."""
        return self._kept().get("decimal_inches") is True

    def remember_decimal_inches(self, on: bool) -> None:
        """Keep how lengths are read."""
        self._keep(decimal_inches=on)

    def recall_paper(self) -> PaperSize:
        """The paper chosen; empty while it goes by the units."""
        kept = self._kept().get("paper")
        return cast(PaperSize, kept) if kept in ("letter", "a4") else ""

    def remember_paper(self, size: PaperSize) -> None:
        """Keep the paper chosen."""
        self._keep(paper=size)

    def recall_glove(self) -> bool:
        """Whether everything that is pressed is large enough for gloves."""
        return self._kept().get("glove") is True

    def recall_window(self) -> tuple[int, int, int, int, bool] | None:
        """Place and size of the window and whether it filled the screen; None when nothing that can be is kept."""
        place, maximized = self._kept().get("window"), self._kept().get("maximized")
        if not isinstance(place, list) or len(place) != 4 or not isinstance(maximized, bool):
            return None
        if not all(isinstance(v, int) and not isinstance(v, bool) and abs(v) < _FAR for v in place):
            return None
        x, y, width, height = place
        return (x, y, width, height, maximized) if width >= 300 and height >= 200 else None

    def remember(self, name: LookName, percent: int, glove: bool = False) -> None:
        """Keep the look and scale, and whether it is for gloves."""
        self._keep(look=name, percent=percent, glove=glove)

    def remember_window(self, x: int, y: int, width: int, height: int, maximized: bool) -> None:
        """Keep where the window is."""
        self._keep(window=[x, y, width, height], maximized=maximized)

    def recent(self) -> list[Path]:
        """The job files worked on last, the latest first, those that are still there."""
        found = []
        for path in paths_of(self._kept(), "recent", _MOST_RECENT):
            with suppress(OSError, ValueError):
                if path.is_file():
                    found.append(path)
        return found

    def remember_file(self, file: Path) -> None:
        """Put a job file first among those worked on last."""
        name = str(file.absolute())
        others = [n for n in map(str, paths_of(self._kept(), "recent", _MOST_RECENT)) if n != name]
        self._keep(recent=[name, *others][:_MOST_RECENT])

    def _keep(self, **changes: Any) -> None:
        # A folder that cannot be written is no reason to bother anyone.
        with suppress(OSError, JobFileError):
            self._file.parent.mkdir(parents=True, exist_ok=True)
            write_whole(self._file, json.dumps(self._kept() | changes).encode())
