"""Generic parts to begin with, and what is fitted to a link: sizes are of common make, to be checked against one's own.

Where a public standard gives sizes it is named; all others say "measure yours".
"""

from even_stance.mechanics.fasteners import engaged_least
from even_stance.study.pieces import Piece
from even_stance.units import MPA_PER_KSI
from even_stance.vehicle.build import AnyPart, Bolt, Bung, Joint, LinkEnd, LinkParts, Spacers, Tube
from even_stance.vehicle.edits import with_changes

IN = 25.4
_MINE = "measure yours"
_SAE = "SAE J429 (from memory)"
_A513 = "ASTM A513 type 5, 1020 as drawn: 60 ksi (from memory)"
_ISO = "ISO 12240-4 K, from memory"


def _joint(name: str, thread: float, turns: float, bore: float, wide: float, head: float, shank: float,
           threaded: float, swing: float) -> Joint:  # fmt: skip
    return Joint(
        name=name, thread_mm=thread * IN, pitch_mm=IN / turns, bore_mm=bore * IN, wide_mm=wide * IN, head_mm=head * IN,
        shank_mm=shank * IN, threaded_mm=threaded * IN, swing_deg=swing, source=_MINE,
    )  # fmt: skip


JOINTS: tuple[Joint, ...] = (
    _joint("1/2 bore, 1/2-20 rod end", 0.5, 20, 0.5, 0.625, 1.3125, 2.4375, 1.5, 12),
    _joint("5/8 bore, 5/8-18 rod end", 0.625, 18, 0.625, 0.75, 1.5, 2.625, 1.625, 13),
    _joint("3/4 bore, 3/4-16 rod end", 0.75, 16, 0.75, 0.875, 1.75, 2.875, 1.75, 13),
    _joint("3/4 bore, 7/8-14 rod end", 0.875, 14, 0.75, 0.875, 1.875, 3.375, 2.0, 13),
    _joint("1 bore, 1 1/4-12 rod end", 1.25, 12, 1.0, 1.375, 2.75, 4.125, 2.375, 14),
    _joint("bushed eye, 1 1/4-12 shank", 1.25, 12, 0.5625, 2.625, 2.5, 4.25, 2.5, 8),
    *(
        Joint(name=f"{d:g} mm bore, M{d:g} rod end", thread_mm=d, pitch_mm=pitch, bore_mm=d, wide_mm=wide, head_mm=head,
              shank_mm=shank, threaded_mm=threaded, swing_deg=swing, source=_ISO)
        for d, pitch, wide, head, shank, threaded, swing in (
            (12.0, 1.75, 16.0, 32.0, 54.0, 33.0, 13.0), (16.0, 2.0, 21.0, 42.0, 66.0, 40.0, 15.0),
            (20.0, 1.5, 25.0, 50.0, 78.0, 47.0, 14.0),
        )
    ),
)  # fmt: skip

TUBES: tuple[Tube, ...] = (
    *(
        Tube(name=f"{words} x {wall:.3f}", outside_mm=outside * IN, wall_mm=wall * IN, yield_mpa=60 * MPA_PER_KSI,
             source=_A513)
        for words, outside, wall in (
            ("1 1/4", 1.25, 0.12), ("1 1/2", 1.5, 0.12), ("1 1/2", 1.5, 0.25), ("1 3/4", 1.75, 0.12),
            ("1 3/4", 1.75, 0.188), ("1 3/4", 1.75, 0.25), ("2", 2.0, 0.188), ("2", 2.0, 0.25), ("2 1/4", 2.25, 0.25),
            ("2 1/4", 2.25, 0.375),
        )
    ),
    Tube(name="2 x 0.250, aluminum core", outside_mm=2 * IN, wall_mm=0.25 * IN, yield_mpa=60 * MPA_PER_KSI,
         core="aluminum", core_yield_mpa=40 * MPA_PER_KSI,
         source=f"{_A513}; core 6061-T6, ASTM B221: 35 to 40 ksi (from memory)"),
    *(
        Tube(name=f"{outside:g} x {wall:g} mm", outside_mm=outside, wall_mm=wall, yield_mpa=355.0,
             source="EN 10305-1, E355 normalized (from memory)")
        for outside, wall in ((32.0, 3.0), (38.0, 4.0), (45.0, 4.0), (45.0, 5.0), (50.0, 5.0), (50.0, 6.0), (57.0, 8.0))
    ),
)  # fmt: skip

BOLTS: tuple[Bolt, ...] = (
    *(
        Bolt(name=f"{words}-{turns} grade 8", diameter_mm=inches * IN, pitch_mm=IN / turns, yield_mpa=130 * MPA_PER_KSI,
             source=_SAE)
        for words, inches, turns in (("7/16", 0.4375, 14), ("1/2", 0.5, 13), ("9/16", 0.5625, 12), ("5/8", 0.625, 11),
                                     ("3/4", 0.75, 10), ("1", 1.0, 8))
    ),
    Bolt(name="1/2-13 grade 5", diameter_mm=0.5 * IN, pitch_mm=IN / 13, yield_mpa=92 * MPA_PER_KSI, source=_SAE),
    *(
        Bolt(name=f"M{d:.0f} 10.9", diameter_mm=d, pitch_mm=pitch, yield_mpa=940.0, source="ISO 898-1 (from memory)")
        for d, pitch in ((10.0, 1.5), (12.0, 1.75), (14.0, 2.0), (16.0, 2.0), (20.0, 2.5))
    ),
)  # fmt: skip


def fitting_bung(joint: Joint, tube: Tube) -> Bung:
    """A bung of a joint's thread, turned five thousandths under the inside of a tube (common practice, no source)."""
    return Bung(
        name=f"bung {_thread_words(joint)} for {tube.name}", thread_mm=joint.thread_mm, pitch_mm=joint.pitch_mm,
        deep_mm=round(max(1.6 * joint.thread_mm, joint.threaded_mm), 1),
        turned_mm=max(tube.inside_mm - 0.127, joint.thread_mm + 2.0), source="turned to fit the tube; measure yours",
    )  # fmt: skip


def fitting_spacers(joint: Joint, gap_mm: float, hole_mm: float) -> Spacers | None:
    """A pair of spacers that fills a bracket's gap; none where the ball fills it itself."""
    add = gap_mm - joint.wide_mm
    if add < 0.8:
        return None
    return Spacers(
        name=f"spacers {_bore_words(joint)} to {_size(hole_mm)}, {_size(add)} a pair", add_mm=add, hole_mm=hole_mm,
        bore_mm=joint.bore_mm, swing_deg=25.0, source=_MINE,
    )  # fmt: skip


def _size(mm: float) -> str:
    """A size as it is said in the trade it belongs to: inches where it is of sixty-fourths, else millimeters."""
    sixty_fourths = mm / IN * 64.0
    if abs(sixty_fourths - round(sixty_fourths)) > 0.02:
        return f"{mm:g} mm"
    whole, rest = divmod(round(sixty_fourths), 64)
    if not rest:
        return str(whole)
    under = 64
    while rest % 2 == 0:
        rest, under = rest // 2, under // 2
    return f"{whole} {rest}/{under}" if whole else f"{rest}/{under}"


def _bore_words(joint: Joint) -> str:
    return _size(joint.bore_mm)


def _thread_words(joint: Joint) -> str:
    inch = joint.name.partition(" mm ")[1] == ""
    return f"{_size(joint.thread_mm)}-{IN / joint.pitch_mm:.0f}" if inch else f"M{joint.thread_mm:g}x{joint.pitch_mm:g}"


_BRACKET_MM = 2.625 * IN  # common practice, no source: usual gap of the large size
_JAM = 0.55  # height of a jam nut over its thread (ASME B18.2.2, from memory: 27/64 for 3/4)


def fitted_end(joint: Joint, tube: Tube, bolt: Bolt, left: bool, gap_mm: float | None = None) -> LinkEnd:
    """One end of a link with a joint: bung, spacers and nut to go with it, screwed in half way."""
    gap = gap_mm if gap_mm is not None else max(_BRACKET_MM, joint.wide_mm)
    bung, nut = fitting_bung(joint, tube), round(_JAM * joint.thread_mm, 2)
    most, least = min(bung.deep_mm, joint.threaded_mm - nut), engaged_least(joint.thread_mm)
    hole = bolt.diameter_mm
    return LinkEnd(
        joint=joint, bung=bung, spacers=fitting_spacers(joint, gap, hole), hand="left" if left else "right",
        engaged_mm=round(0.5 * (most + least), 2), nut_mm=nut, bolt=bolt, gap_mm=gap, edge_mm=max(1.8 * hole, 20.0),
    )  # fmt: skip


def joint_for(tube: Tube) -> Joint:
    """The rod end that usually goes with a tube (common practice, no source)."""
    inch = not tube.name.endswith("mm")
    if not inch:
        return JOINTS[8] if tube.outside_mm >= 44.0 else JOINTS[7]
    if tube.inside_mm >= 34.0 and tube.outside_mm >= 50.0:
        return JOINTS[4]
    if tube.outside_mm >= 44.0:
        return JOINTS[3]
    return JOINTS[2] if tube.outside_mm >= 38.0 else JOINTS[1]


def bolt_for(joint: Joint) -> Bolt:
    """The bolt a size or so smaller than a joint's bore, as goes with spacers; of its own bore where it has none."""
    metric = joint.source == _ISO
    own = [b for b in BOLTS if b.name.startswith("M") == metric and "grade 5" not in b.name]
    smaller = [b for b in own if b.diameter_mm <= 0.86 * joint.bore_mm]
    if joint.wide_mm >= _BRACKET_MM - 0.8:
        return min(own, key=lambda b: abs(b.diameter_mm - joint.bore_mm))
    return smaller[-1] if smaller else own[0]


def starting_parts(piece: Piece, metric: bool = False) -> LinkParts:
    """Parts to begin with for a link: tube as thick as it is drawn, lowers heavier, a joint that goes with it."""
    heavy = piece.role in ("lower", "arm")
    own = [t for t in TUBES if t.name.endswith("mm") == metric and t.core == "none"]
    wanted_wall = (5.0 if metric else 0.25 * IN) if heavy else (4.0 if metric else 0.12 * IN)
    tube = min(own, key=lambda t: (abs(t.outside_mm - piece.tube_mm), abs(t.wall_mm - wanted_wall)))
    joint = joint_for(tube)
    first, second = (fitted_end(joint, tube, bolt_for(joint), left) for left in (False, True))
    if piece.role == "steering":  # its ends go into arms, not between plates
        first, second = (with_changes(e, bolt=None, spacers=None, gap_mm=joint.wide_mm) for e in (first, second))
    bare = LinkEnd()
    return LinkParts(
        axle=piece.axle, part=piece.part, tube=tube, first=bare if piece.welded[0] else first,
        second=bare if piece.welded[1] else second, hit=heavy,
    )  # fmt: skip


def generic_parts() -> tuple[AnyPart, ...]:
    """All of them, as a drawer to begin with."""
    return (*JOINTS, *TUBES, *BOLTS)
