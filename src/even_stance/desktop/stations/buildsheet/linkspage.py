"""Links: what each is made of, what its tube is cut to, what the threads take up; the cut list and the bars."""

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QTableWidget, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.stations.buildsheet.barpicture import BarPicture
from even_stance.desktop.stations.buildsheet.partpicture import PartPicture
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.catalog.parts import (
    bolt_for,
    fitted_end,
    fitting_bung,
    fitting_spacers,
    starting_parts,
)
from even_stance.study.cutlist import CutPiece, cut_list, uneven_pairs
from even_stance.study.pieces import pieces
from even_stance.units import System, format_length
from even_stance.vehicle.build import AnyPart, Joint, LinkEnd, LinkParts, Tube
from even_stance.vehicle.edits import change_parts, fit_parts, set_build, take_parts_off, with_changes

COLUMNS = ("Link", "Tube", "Cut", "Hands", "Out, in")
_NONE = "none: fit parts"


class LinksPage(QWidget):
    """The part drawing above, the cut list and the bars below."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.cuts: list[CutPiece] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 6, 10, 2)
        column.setSpacing(4)
        column.addLayout(self._top())
        self.picture = PartPicture(look)
        column.addWidget(self.picture, 5)
        self.wrong = PlainLabel()
        self.wrong.setProperty("role", "alarm")
        self.wrong.setWordWrap(True)
        column.addWidget(self.wrong)
        below = QHBoxLayout()
        self.table = plain_table(COLUMNS, "Cut list", wide=0)
        self.table.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        self.table.itemSelectionChanged.connect(self._picked)
        below.addWidget(self.table, 5)
        right = QVBoxLayout()
        fields = QHBoxLayout()
        self.kerf = LengthField(bench, "Saw cut", lambda mm: bench.do(set_build("Saw cut", kerf_mm=mm)))
        self.kerf_label = Labeled(bench, "Saw cut", self.kerf, "length")
        fields.addWidget(self.kerf_label)
        self.bar = LengthField(bench, "Bar length", self._add_bar)
        self.bar_label = Labeled(bench, "Add a bar length", self.bar, "length")
        fields.addWidget(self.bar_label)
        self.drop = QComboBox()
        self.drop.setAccessibleName("Bars sold")
        fields.addWidget(Labeled(bench, "Bars sold", self.drop), 1)
        self.off = QPushButton("Not sold")
        self.off.setToolTip("Take the bar length shown off the list")
        self.off.clicked.connect(lambda _=False: self._drop_bar())
        fields.addWidget(self.off)
        right.addLayout(fields)
        self.bars = BarPicture(look)
        right.addWidget(self.bars, 1)
        below.addLayout(right, 4)
        column.addLayout(below, 6)
        bench.build.changed.connect(self.refresh)

    def _top(self) -> QVBoxLayout:
        bench = self._bench
        box, row, more = QVBoxLayout(), QHBoxLayout(), QHBoxLayout()
        self.link = self._combo("Link", row, 3)
        self.tube = self._combo("Tube", row, 3)
        self.joint = self._combo("Joints", row, 4)
        self.bolt = self._combo("Bolts", row, 2)
        self.bung = self._combo("Bungs", more, 2)
        self.spacers = self._combo("Spacers", more, 2)
        self.link.activated.connect(lambda _: bench.build.pick(*self.link.currentData()))
        self.tube.activated.connect(lambda _: self._set_tube())
        self.joint.activated.connect(lambda _: self._set_joint())
        self.bolt.activated.connect(lambda _: self._set_part("bolt", self.bolt))
        self.bung.activated.connect(lambda _: self._set_part("bung", self.bung))
        self.spacers.activated.connect(lambda _: self._set_part("spacers", self.spacers))
        self.gap = LengthField(bench, "Bracket gap", self._set_gap)
        self.engaged = LengthField(bench, "Thread engaged", partial(self._set_end, "engaged_mm", "Thread engaged"))
        self.nut = LengthField(bench, "Jam nut", partial(self._set_end, "nut_mm", "Jam nut"))
        self.labels = [Labeled(bench, title, field, "length") for title, field in
                       (("Bracket gap", self.gap), ("Engaged", self.engaged), ("Jam nut", self.nut))]  # fmt: skip
        for labeled in self.labels:
            more.addWidget(labeled)
        self.swap = QPushButton("Swap hands")
        self.swap.setToolTip("Make the left-hand end right-hand and the other way round")
        self.swap.clicked.connect(lambda _=False: self._swap())
        self.fit = QPushButton("Fit anew")
        self.fit.setToolTip("Fit parts to this link, as to one that has none")
        self.fit.clicked.connect(lambda _=False: self._fit(False))
        self.fit_all = QPushButton("Fit parts to all links without")
        self.fit_all.setProperty("main", "true")
        self.fit_all.clicked.connect(lambda _=False: self._fit(True))
        self.out = QPushButton("Take off")
        self.out.setToolTip("Take this link’s parts off the sheet")
        self.out.clicked.connect(lambda _=False: bench.do(take_parts_off(*bench.build.link)))
        for button in (self.swap, self.fit, self.out):
            more.addWidget(button)
        box.addLayout(row)
        box.addLayout(more)
        box.addWidget(self.fit_all)
        return box

    def _combo(self, name: str, row: QHBoxLayout, stretch: int) -> QComboBox:
        combo = QComboBox()
        combo.setAccessibleName(name)
        combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        combo.setMinimumContentsLength(6)
        row.addWidget(Labeled(self._bench, name, combo), stretch)
        return combo

    # --- what is done

    def _picked(self) -> None:
        row = self.table.currentRow()
        if 0 <= row < len(self.cuts):
            piece = self.cuts[row].piece
            self._bench.build.pick(piece.axle, piece.part)

    def _fit(self, every: bool) -> None:
        bench = self._bench
        metric = bench.job.units == "metric"
        known = bench.job.vehicle.build
        links = pieces(bench.job.vehicle)
        if every:
            found = [p for p in links if known.of(p.axle, p.part) is None]
        else:
            found = [p for p in links if (p.axle, p.part) == bench.build.link]
        if not found:
            bench.refused.emit("Every link has its parts: choose one to fit it anew.")
            return
        label = "Parts for all links" if every else f"Parts for {found[0].words}"
        bench.do(fit_parts(label, [starting_parts(p, metric) for p in found]))

    def _ends(self, parts: LinkParts, change: object) -> None:
        """Both ends of a link, and of its twin, made anew by a function of the end."""
        assert callable(change)
        axle, part = self._bench.build.link
        ends = {n: change(getattr(parts, n)) for n in ("first", "second") if getattr(parts, n).joint is not None}
        self._bench.do(change_parts(axle, part, f"Parts of {part}", ends))

    def _set_tube(self) -> None:
        parts, tube = self._bench.build.parts, self.tube.currentData()
        if parts is None or not isinstance(tube, Tube):
            return

        def refit(end: LinkEnd) -> LinkEnd:
            assert end.joint is not None
            return with_changes(end, bung=fitting_bung(end.joint, tube))

        axle, part = self._bench.build.link
        ends = {n: refit(getattr(parts, n)) for n in ("first", "second") if getattr(parts, n).joint is not None}
        self._bench.do(change_parts(axle, part, f"{part} of {tube.name}", {"tube": tube, **ends}))

    def _set_joint(self) -> None:
        parts, joint = self._bench.build.parts, self.joint.currentData()
        if parts is None or not isinstance(joint, Joint):
            return

        def refit(end: LinkEnd) -> LinkEnd:
            new = fitted_end(joint, parts.tube, bolt_for(joint), end.hand == "left", end.gap_mm)
            return with_changes(end, joint=new.joint, bung=new.bung, spacers=new.spacers, engaged_mm=new.engaged_mm,
                                nut_mm=new.nut_mm, bolt=new.bolt)  # fmt: skip

        self._ends(parts, refit)

    def _set_part(self, name: str, combo: QComboBox) -> None:
        parts, part = self._bench.build.parts, combo.currentData()
        if parts is not None and (part is not None or name == "spacers"):
            self._ends(parts, lambda end: with_changes(end, **{name: part}))

    def _set_gap(self, mm: float) -> None:
        parts = self._bench.build.parts
        if parts is not None:
            self._ends(parts, lambda end: with_changes(end, gap_mm=mm))

    def _set_end(self, name: str, title: str, mm: float) -> None:
        axle, part = self._bench.build.link
        self._bench.do(change_parts(axle, part, title, {name: mm}, end="ends"))

    def _swap(self) -> None:
        parts = self._bench.build.parts
        if parts is not None:
            self._ends(parts, lambda end: with_changes(end, hand="right" if end.hand == "left" else "left"))

    def _add_bar(self, mm: float) -> None:
        bars = self._bench.job.vehicle.build.bars_mm
        self._bench.do(set_build("Bar length", bars_mm=tuple(sorted({*bars, mm}))))
        self.bar.clear_typed()

    def _drop_bar(self) -> None:
        bars, gone = self._bench.job.vehicle.build.bars_mm, self.drop.currentData()
        left = tuple(b for b in bars if b != gone)
        if not left:
            self._bench.refused.emit("One bar length has to stay: add another first.")
            return
        self._bench.do(set_build("Bar length", bars_mm=left))

    # --- what is shown

    def refresh(self) -> None:
        """Show the link looked at, the cut list and the bars."""
        if not self.isVisible():
            return
        bench = self._bench
        job, build, units = bench.job, bench.build, bench.job.units
        for labeled in (*self.labels, self.kerf_label, self.bar_label):
            labeled.refresh_unit()
        every = pieces(job.vehicle)
        names = [(p.axle, p.part) for p in every]
        if build.link not in names and names:
            mine = [n for n in names if n[0] == bench.axle_key] or names
            build.link = mine[0]
        with blocked(self.link):
            words = [p.words for p in every]
            if [self.link.itemText(i) for i in range(self.link.count())] != words:
                self.link.clear()
                for piece in every:
                    self.link.addItem(piece.words, (piece.axle, piece.part))
            self.link.setCurrentIndex(names.index(build.link) if build.link in names else -1)
        self.cuts = cut_list(job.vehicle, units)
        parts = build.parts
        self._fill_combos(parts)
        ends = [] if parts is None else [e for e in (parts.first, parts.second) if e.joint is not None]
        for field, name in ((self.gap, "gap_mm"), (self.engaged, "engaged_mm"), (self.nut, "nut_mm")):
            field.setEnabled(bool(ends))
            field.show_mm(getattr(ends[0], name) if ends else None)
        self.swap.setEnabled(len(ends) > 0)
        self.out.setEnabled(parts is not None)
        self.fit.setEnabled(bool(names))
        self.fit_all.setVisible(any(job.vehicle.build.of(*n) is None for n in names))
        self._show_link(names)
        self._list(units)
        self._show_bars()

    def _fill_combos(self, parts: LinkParts | None) -> None:
        drawer = self._bench.build.drawer
        ends = [] if parts is None else [e for e in (parts.first, parts.second) if e.joint is not None]
        for combo, sort, now in (
            (self.tube, "tube", None if parts is None else parts.tube),
            (self.joint, "joint", ends[0].joint if ends else None),
            (self.bolt, "bolt", ends[0].bolt if ends else None), (self.bung, "bung", ends[0].bung if ends else None),
            (self.spacers, "spacers", ends[0].spacers if ends else None),
        ):  # fmt: skip
            choices = [*self._fitted(sort, parts, ends), *(p for p in drawer if p.sort == sort)]
            if now is not None and now not in choices:
                choices.insert(0, now)
            with blocked(combo):
                combo.clear()
                if now is None or sort == "spacers":
                    combo.addItem(_NONE if parts is None else "none", None)
                for choice in choices:
                    combo.addItem(choice.name, choice)
                combo.setCurrentIndex(0 if now is None else choices.index(now) + (sort == "spacers"))
            combo.setEnabled(parts is not None and (sort == "tube" or bool(ends)))

    def _fitted(self, sort: str, parts: LinkParts | None, ends: list[LinkEnd]) -> list[AnyPart]:
        """Bungs and spacers made to fit what is chosen."""
        if parts is None or not ends or ends[0].joint is None:
            return []
        joint, hole = ends[0].joint, ends[0].bolt.diameter_mm if ends[0].bolt is not None else ends[0].joint.bore_mm
        if sort == "bung":
            return [fitting_bung(joint, parts.tube)]
        spacers = fitting_spacers(joint, ends[0].gap_mm, hole) if sort == "spacers" else None
        return [] if spacers is None else [spacers]

    def _show_link(self, names: list[tuple[str, str]]) -> None:
        bench = self._bench
        cut = next((c for c in self.cuts if (c.piece.axle, c.piece.part) == bench.build.link), None)
        words = ""
        if cut is None:
            words = "This link has no parts yet: fit parts to it, then choose tube and joints." if names else (
                "No links, arms or steering rods yet: design them in Links and Steering first.")  # fmt: skip
        self.picture.show_cut(bench.job, cut, words)
        wrong = [] if cut is None else [*cut.wrong, *(w for w in uneven_pairs(self.cuts, bench.job.units)
                                                      if w.startswith(cut.piece.words))]  # fmt: skip
        self.wrong.setText("\n".join(wrong[:3]))
        self.wrong.setVisible(bool(wrong))

    def _list(self, units: System) -> None:
        def said(mm: float) -> str:
            return format_length(max(mm, 0.0), units).removeprefix("~")

        with blocked(self.table):
            self.table.setRowCount(len(self.cuts))
            for i, cut in enumerate(self.cuts):
                hands = " + ".join(e.parts.hand[0].upper() if e.parts.joint else "weld" for e in cut.ends)
                mark = "" if not cut.wrong else "  ✗"
                set_text(self.table, i, 0, f"{cut.piece.words}{mark}", right=False)
                set_text(self.table, i, 1, cut.tube.name, right=False)
                set_text(self.table, i, 2, said(cut.cut_mm))
                set_text(self.table, i, 3, hands, right=False)
                set_text(self.table, i, 4, f"+{said(cut.out_mm)} -{said(cut.in_mm)}")
                item = self.table.item(i, 2)
                if item is not None:
                    font = item.font()
                    font.setBold(True)
                    item.setFont(font)
            link = self._bench.build.link
            row = next((i for i, c in enumerate(self.cuts) if (c.piece.axle, c.piece.part) == link), -1)
            if row >= 0:
                self.table.selectRow(row)
            else:
                self.table.clearSelection()

    def _show_bars(self) -> None:
        build, sheet = self._bench.build, self._bench.job.vehicle.build
        self.kerf.show_mm(sheet.kerf_mm)
        units = self._bench.job.units
        with blocked(self.drop):
            self.drop.clear()
            for bar in sheet.bars_mm:
                self.drop.addItem(format_length(bar, units).removeprefix("~"), bar)
        study = build.study
        fresh = build.up_to_date and study is not None
        self.bars.show_plans(units, study.counted if fresh and study is not None else None)

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()

    def focus_link(self) -> None:
        """Keys go to the choice of link."""
        self.link.setFocus(Qt.FocusReason.OtherFocusReason)
