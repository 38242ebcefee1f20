"""The Links station: the point held, in figures, above the floor."""

from PyQt6.QtWidgets import QWidget

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.stations.axlestation import AxleStation
from even_stance.desktop.stations.links.layouts import LayoutChooser
from even_stance.desktop.stations.links.linktable import LinkTable
from even_stance.desktop.stations.links.loadsheet import LoadSheet
from even_stance.desktop.stations.links.solvepage import SolvePage
from even_stance.desktop.stations.links.variantpage import VariantPage
from even_stance.desktop.widgets.labels import plain_tip
from even_stance.judgement.bands import ARTICULATION_DEG
from even_stance.judgement.schools import link_schools
from even_stance.judgement.verdicts import bind_words
from even_stance.study.beams import beams_of
from even_stance.study.bind import Bind, study_bind
from even_stance.study.figures import layout_figures
from even_stance.units import format_length, length_unit
from even_stance.vehicle.car import Axle

FLOOR, TABLE, LOADS, LAYOUT, VARIANTS, HOLES, SOLVE, WALK = range(8)


class LinksStation(AxleStation):
    """Pages on one axle: the floor with the point strip, the link table, the loads, and the layout chooser."""

    def __init__(self, bench: Bench, look: Look) -> None:
        self.table = LinkTable(bench, look)
        self.sheet = LoadSheet(bench)
        self.chooser = LayoutChooser(bench, look)

        def holes() -> QWidget:
            # Charts are the heaviest import: they come when first asked for.
            from even_stance.desktop.stations.links.holepage import HolePage  # noqa: PLC0415

            return HolePage(bench, look)

        super().__init__(bench, look, (
            ("Table", lambda: self.table), ("Loads", lambda: self.sheet), ("Layout", lambda: self.chooser),
            ("Variants", lambda: VariantPage(bench, look)), ("Holes", holes),
            ("Solve", lambda: SolvePage(bench, look)),
        ))  # fmt: skip
        self.bind = LateStudy(self)
        self.bind.done.connect(self._bound)
        self._bind_words = ""
        self._bind_of: tuple[Axle, str] | None = None

    def _bound(self, found: object) -> None:
        if isinstance(found, Bind):
            self._bind_words = bind_words(found, self._bench.job.units)
            self.say()

    def _ask_bind(self) -> None:
        bench = self._bench
        study, axle, vehicle = bench.study(bench.axle_key), bench.axle, bench.job.vehicle
        if study is None or (axle, bench.job.purpose) == self._bind_of:
            return
        self._bind_of, self._bind_words = (axle, bench.job.purpose), ""
        now, wanted_deg = study.now, ARTICULATION_DEG[bench.job.purpose]
        self.bind.ask(lambda: study_bind(vehicle, axle, now, wanted_deg))

    def say(self) -> None:
        """Say how far it may be crossed up before it binds, and how its links lie."""
        self._ask_bind()
        bench, units = self._bench, self._bench.job.units
        error = bench.studies.layout_error(bench.axle_key)
        if not bench.axle.members:
            error = f"No links on the {bench.axle_key} axle yet: choose a layout."
            if beams_of(bench.axle) is not None:
                error = f"Swing beams hold the {bench.axle_key} wheels: they are in Steering."
        if error is not None:
            self.put_words([error])
            return
        figures = layout_figures(bench.axle)
        parts = [self._bind_words] if self._bind_words else []
        if figures.upper_included_deg is not None:
            parts.append(f"uppers {figures.upper_included_deg:.1f}° included")
        if figures.length_ratio is not None:
            parts.append(f"uppers {100 * figures.length_ratio:.0f} % as long")
        if figures.separation_mm is not None:
            parts.append(f"{format_length(figures.separation_mm, units)} {length_unit(units)} apart")
        self.words.say(parts)
        if not bench.on_its_way:
            self.words.setToolTip(plain_tip("\n".join([*parts, *link_schools(bench.job, bench.axle)])))
