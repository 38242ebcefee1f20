"""Will it hold: how much of every part of each link is used, other tubes beside it, and what is assumed."""

from collections.abc import Callable, Mapping
from functools import partial

import numpy as np
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QTableWidget, QVBoxLayout, QWidget

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import ForceField, Labeled, LengthField, NumberField, PercentField, StressField
from even_stance.desktop.widgets.labels import PlainLabel, faint_words, group_head
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.build import PART_WORDS, share_pct, use_words
from even_stance.judgement.findings import CAUTIONS
from even_stance.study.strength import LinkUse, compared, rock_force
from even_stance.units import force_unit, format_force, format_mass, mass_unit
from even_stance.vehicle.build import Tube
from even_stance.vehicle.edits import change_parts, set_build, with_changes

_COLUMNS = ("Part of the link", "Used", "Worst at")
_TUBES = ("Other tubes for it", "Used", "Each", "Cost each")
_END_FIELDS: tuple[tuple[str, str, type[NumberField], str], ...] = (
    ("plate_mm", "Bracket plate", LengthField, "length"), ("plate_yield_mpa", "Its yield", StressField, "stress"),
    ("edge_mm", "Hole to edge", LengthField, "length"), ("weld_mm", "Weld leg", LengthField, "length"),
    ("welded_mm", "Welded in all", LengthField, "length"), ("room_mm", "Room for a wrench", LengthField, "length"),
)  # fmt: skip


class StrengthPage(QWidget):
    """The link looked at, part by part."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self._of: object = None
        self._late = LateStudy(self)
        self._late.done.connect(self._compared)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        row = QHBoxLayout()
        self.table = plain_table(_COLUMNS, "What of the link is used", wide=2)
        row.addWidget(self.table, 6)
        self.tubes = plain_table(_TUBES, "Other tubes", wide=0)
        self.tubes.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        self.tubes.setToolTip("Double-click a tube to take it")
        self.tubes.cellDoubleClicked.connect(lambda i, _: self._take(i))
        row.addWidget(self.tubes, 4)
        column.addLayout(row, 1)
        column.addWidget(group_head("What is assumed of it, both ends and its twin alike"))
        column.addLayout(self._assumed())
        column.addWidget(faint_words(f"{CAUTIONS[0]} {CAUTIONS[3]} A truss over a cast housing: how it is held and "
                                     "welded is for a qualified person, with a procedure."))  # fmt: skip
        self._choices: list[Tube] = []
        bench.build.changed.connect(self.refresh)

    def _assumed(self) -> QGridLayout:
        bench, grid = self._bench, QGridLayout()
        self.fields: dict[str, NumberField] = {}
        self.labels: list[Labeled] = []

        def add(name: str, title: str, kind: type[NumberField], unit: str, send: Callable[[float], object]) -> None:
            self.fields[name] = kind(bench, title, send)  # type: ignore[call-arg, arg-type]
            self.labels.append(Labeled(bench, title, self.fields[name], unit))
            at = len(self.labels) - 1
            grid.addWidget(self.labels[-1], at // 5, at % 5)

        for name, title, kind, unit in _END_FIELDS:
            add(name, title, kind, unit, partial(self._set_end, name, title))
        add("rated_n", "Joint rated for", ForceField, "force", self._set_rating)
        add("rock_n", "Rock at mid-span", ForceField, "force", lambda n: bench.do(set_build("Rock", rock_n=n)))
        add("rock_share", "or share of the weight", PercentField, "percent", self._set_share)
        self.hit = QCheckBox("May come down on a rock")
        self.hit.clicked.connect(lambda on: self._change("Rocks", {"hit": on}))
        self.plane = QCheckBox("Bolt’s thread in the gap")
        self.plane.setToolTip("Thread in a shear plane costs a fifth of the bolt")
        self.plane.clicked.connect(lambda on: self._set_end("threads_in_plane", "Thread in the gap", on))
        box = QVBoxLayout()
        box.addWidget(self.hit)
        box.addWidget(self.plane)
        grid.addLayout(box, 1, 4)
        return grid

    # --- what is done

    def _change(self, label: str, changes: Mapping[str, object], end: str = "") -> None:
        axle, part = self._bench.build.link
        self._bench.do(change_parts(axle, part, label, changes, end))

    def _set_end(self, name: str, title: str, value: object) -> None:
        self._change(title, {name: value}, "ends")

    def _set_rating(self, newtons: float) -> None:
        parts = self._bench.build.parts
        if parts is None:
            self._bench.refused.emit("This link has no parts yet: fit parts to it first.")
            return
        ends = {n: with_changes(e, joint=with_changes(e.joint, rated_n=newtons))
                for n, e in (("first", parts.first), ("second", parts.second)) if e.joint is not None}  # fmt: skip
        self._change("Joint’s rating", ends)

    def _set_share(self, share: float) -> None:
        self._bench.do(set_build("Rock", rock_share=share / 100.0, rock_n=None))

    def _take(self, row: int) -> None:
        if 0 <= row < len(self._choices):
            self._change(f"Tube {self._choices[row].name}", {"tube": self._choices[row]})

    # --- what is shown

    def refresh(self) -> None:
        """Show the link looked at."""
        if not self.isVisible():
            return
        bench, build = self._bench, self._bench.build
        for labeled in self.labels:
            labeled.refresh_unit()
        parts, sheet = build.parts, bench.job.vehicle.build
        end = None if parts is None else next((e for e in (parts.first, parts.second) if e.joint), parts.first)
        for name, *_ in _END_FIELDS:
            self._show(name, None if end is None else getattr(end, name))
            self.fields[name].setEnabled(end is not None)
        self._show("rated_n", None if end is None or end.joint is None else end.joint.rated_n)
        self.fields["rated_n"].setEnabled(end is not None and end.joint is not None)
        self._show("rock_n", rock_force(bench.job.vehicle))
        self._show("rock_share", None if sheet.rock_n is not None else 100.0 * sheet.rock_share)
        for box, on in (
            (self.hit, parts is not None and parts.hit),
            (self.plane, end is not None and end.threads_in_plane),
        ):
            with blocked(box):
                box.setChecked(on)
                box.setEnabled(parts is not None)
        study = build.study
        use = None if study is None or not build.up_to_date else study.use_of(*build.link)
        self._say(use)
        self._list(use)
        self._ask(use)

    def _show(self, name: str, value: float | None) -> None:
        field = self.fields[name]
        if isinstance(field, LengthField):
            field.show_mm(value)
        else:
            field.show_value(value)

    def _say(self, use: LinkUse | None) -> None:
        bench, units = self._bench, self._bench.job.units
        if bench.build.parts is None:
            self.words.setText("This link has no parts yet: fit parts to it in Links, or pick another link there.")
        elif not bench.build.up_to_date:
            self.words.setText("Being worked out…")
        elif use is None:
            self.words.setText("Loads need the axle weights: weigh the car in Stance.")
        else:
            most = f"pushed with up to {format_force(use.push_n, units)}, pulled with {format_force(use.pull_n, units)}"
            said = f"{use.cut.piece.words}: {most} {force_unit(units)} along itself, over all cases and postures."
            missing = f" Not judged: {'; '.join(use.missing)}." if use.missing else ""
            self.words.setText(said[0].upper() + said[1:] + missing)

    def _list(self, use: LinkUse | None) -> None:
        rows = () if use is None else use.uses
        with blocked(self.table):
            self.table.setRowCount(len(rows))
            for i, one in enumerate(rows):
                where = f", {one.end}" if one.end else ""
                set_text(self.table, i, 0, f"{PART_WORDS[one.what].capitalize()}{where}", right=False)
                set_text(self.table, i, 1, f"{share_pct(one.share):.0f} %")
                said = use_words(self._bench.job, one, use.cut.piece.axle if use else "")
                set_text(self.table, i, 2, said.partition(": ")[2], right=False)

    def _ask(self, use: LinkUse | None) -> None:
        build, job = self._bench.build, self._bench.job
        key = (job, build.link, tuple(build.own), use is not None)
        if key == self._of:
            return
        self._of = key
        if use is None:
            self.tubes.setRowCount(0)
            self._choices = []
            return
        # Generic tubes of the trade's other units are seldom at hand.
        other = "us" if job.units == "metric" else "metric"
        tubes = tuple(
            p for p in build.drawer
            if isinstance(p, Tube) and (p in build.own or p.name.endswith("mm") == (other == "us"))
        )  # fmt: skip
        self._late.ask(lambda: compared(job.vehicle, job.loads, use, tubes))

    def _compared(self, result: object) -> None:
        if not isinstance(result, list):
            return
        units, prices = self._bench.job.units, {p.what: p.each for p in self._bench.job.vehicle.build.prices}
        parts = self._bench.build.parts
        rows = sorted(result, key=lambda row: row[2])
        self._choices = [tube for tube, _, _ in rows]
        study = self._bench.build.study
        use = None if study is None else study.use_of(*self._bench.build.link)
        long = 0.0 if use is None else max(use.cut.cut_mm, 0.0) / 1000.0
        self.tubes.setRowCount(len(rows))
        for i, (tube, share, weight) in enumerate(rows):
            now = " (now)" if parts is not None and tube == parts.tube else ""
            set_text(self.tubes, i, 0, f"{tube.name}{now}", right=False)
            set_text(self.tubes, i, 1, f"{share_pct(share):.0f} %" if np.isfinite(share) else "—")
            set_text(self.tubes, i, 2, f"{format_mass(weight, units)} {mass_unit(units)}")
            each = prices.get(tube.name)
            set_text(self.tubes, i, 3, "no price" if each is None else f"{each * long:.2f}")

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()
