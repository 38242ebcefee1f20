"""What is remembered of a person between sessions: look and scale."""

import json
from contextlib import suppress
from pathlib import Path
from typing import cast

from even_stance.desktop.look import PALETTES, SCALES, LookName


class Settings:
    """A small file in the user's configuration folder; a missing or damaged one means the defaults.

    Args:
        file: where it is kept.
    """

    def __init__(self, file: Path) -> None:
        self._file = file

    def recall(self) -> tuple[LookName, int]:
        """The look and scale last used."""
        try:
            kept = json.loads(self._file.read_text(encoding="utf-8"))
            name, percent = kept["look"], kept["percent"]
        except (OSError, ValueError, KeyError, TypeError):
            return "paper", 100
        known = name in PALETTES and percent in SCALES
        return (cast(LookName, name), int(percent)) if known else ("paper", 100)

    def remember(self, name: LookName, percent: int) -> None:
        """Keep the look and scale; a folder that cannot be written is no reason to bother anyone."""
        with suppress(OSError):
            self._file.parent.mkdir(parents=True, exist_ok=True)
            self._file.write_text(json.dumps({"look": name, "percent": percent}), encoding="utf-8")
