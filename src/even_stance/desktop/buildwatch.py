"""Works the build sheet out beside the window while it is looked at, and says while it is on its way."""

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from even_stance.desktop.background import LateStudy
from even_stance.errors import InputError, JobFileError
from even_stance.exchange.wholefile import read_whole, write_whole
from even_stance.judgement.build import named
from even_stance.shop.buildsheet import BuildStudy, study_build
from even_stance.shop.drawer import drawer_of, dump_drawer, load_drawer, with_part
from even_stance.vehicle.build import AnyPart, LinkParts

if TYPE_CHECKING:
    from even_stance.desktop.bench import Bench

_LARGEST = 1_000_000
_IDLE_MS = 2500


class BuildWatch(QObject):
    """The build sheet of the job on a bench, the link looked at, and the person's own parts.

    Signals:
        changed: more is known, another link is looked at, or the drawer changed.
    """

    changed = pyqtSignal()

    def __init__(self, bench: "Bench") -> None:
        super().__init__(bench)
        self._bench = bench
        self.study: BuildStudy | None = None
        self.link: tuple[str, str] = ("", "")
        self.eager = False
        self.own: list[AnyPart] = []
        self.file: Path | None = None
        self._late = LateStudy(self)
        self._late.done.connect(self._arrived)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._ask)
        bench.job_changed.connect(self.follow)

    @property
    def up_to_date(self) -> bool:
        """Whether what is known is of the job as it is now."""
        return self.study is not None and self.study.job == self._bench.job

    @property
    def parts(self) -> LinkParts | None:
        """The parts of the link looked at."""
        return self._bench.job.vehicle.build.of(*self.link)

    @property
    def named(self) -> str:
        """What the link looked at is called in verdicts; its twin is called alike."""
        axle, part = self.link
        return named(f"{axle} {part}") if part else ""

    def look(self, eager: bool) -> None:
        """Say whether the build sheet is being looked at just now."""
        self.eager = eager
        self.follow()

    def follow(self) -> None:
        """Catch up with the job when there is a pause."""
        if self.up_to_date or not (self.eager or self._bench.job.vehicle.build.links):
            self._timer.stop()
        elif self.eager:
            self._timer.stop()
            self._ask()
        else:  # whether links hold is said at every station, once there is a long pause
            self._timer.start(_IDLE_MS)

    def _ask(self) -> None:
        job = self._bench.job
        self._late.ask(lambda: study_build(job))

    def _arrived(self, result: object) -> None:
        if not isinstance(result, BuildStudy):
            self._bench.refused.emit(str(result))
            return
        if result.job == self._bench.job:
            self.study = result
            self._bench.built()
            self.changed.emit()

    def pick(self, axle: str, part: str) -> None:
        """Look at a link."""
        if (axle, part) != self.link:
            self.link = (axle, part)
            self.changed.emit()

    def pick_named(self, name: str) -> None:
        """Look at the link that a verdict is named for."""
        if self.study is None:
            return
        for cut in self.study.cuts:
            if named(cut.piece.words).lower() == name.lower():
                self.pick(cut.piece.axle, cut.piece.part)
                return

    # --- the person's own parts

    @property
    def drawer(self) -> list[AnyPart]:
        """All parts to choose from."""
        return drawer_of(self.own)

    def open_drawer(self, file: Path) -> None:
        """Read the person's own parts from where they are kept; a damaged file is told and left as it is."""
        self.file = file
        if not file.exists():
            return
        try:
            self.own = load_drawer(read_whole(file, _LARGEST, "a parts drawer").decode("utf-8"))
        except (InputError, JobFileError, OSError, UnicodeDecodeError) as error:
            self.file = None  # nothing is written over it
            self._bench.refused.emit(f"Your parts drawer could not be read and is left as it is: {error}")
        self.changed.emit()

    def put_part(self, part: AnyPart) -> None:
        """Put a part into the drawer."""
        self._keep(with_part(self.own, part))

    def take_part(self, part: AnyPart) -> None:
        """Take one of the person's own parts out of the drawer."""
        self._keep([p for p in self.own if p != part])

    def import_parts(self, path: Path) -> None:
        """Add the parts of an exported drawer."""
        try:
            own = list(self.own)
            for part in load_drawer(read_whole(path, _LARGEST, "a parts drawer").decode("utf-8")):
                own = with_part(own, part)
        except (InputError, JobFileError, OSError, UnicodeDecodeError) as error:
            self._bench.refused.emit(str(error))
            return
        self._keep(own)

    def export_parts(self, path: Path) -> None:
        """Write the person's own parts to a file for others."""
        try:
            write_whole(path, dump_drawer(self.own).encode())
        except JobFileError as error:
            self._bench.refused.emit(str(error))
            return
        self._bench.wrote.emit(path)

    def _keep(self, own: list[AnyPart]) -> None:
        self.own = own
        if self.file is not None:
            try:
                self.file.parent.mkdir(parents=True, exist_ok=True)
                write_whole(self.file, dump_drawer(own).encode())
            except (OSError, JobFileError) as error:
                self._bench.refused.emit(f"Your parts drawer could not be kept: {error}")
        self.changed.emit()
