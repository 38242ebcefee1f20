"""How long to cut every link's tube, what its threads can still take up, and what of its parts does not go together.

Cut length: pin to pin at ride height, less at each end the ball's center to the end of the shank, less the thread
engaged, plus the bung's shoulder.
"""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.fasteners import engaged_least
from even_stance.study.pieces import Piece, pieces
from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.build import LinkEnd, LinkParts, Metal, Tube
from even_stance.vehicle.car import Vehicle

_FITS_MM = 0.8  # a gap that the spacers fill to a thirty-second is filled
_THREAD_MM = 0.06
_LEAST_ROOM = 0.9  # of the bolt's diameter beside its middle: a socket's radius (common practice, no source)


@dataclass(frozen=True)
class CutEnd:
    """One end of a cut piece, mm.

    Attributes:
        parts: what it is made of; off_mm: from the pin to the face of the tube.
        engaged_mm, least_mm: of the thread; out_mm, in_mm: how far it may still be screwed out and in.
        stack_mm: ball and spacers together; short_mm: of the bracket's gap that they leave open, negative: too wide.
    """

    parts: LinkEnd
    off_mm: float
    engaged_mm: float
    least_mm: float
    out_mm: float
    in_mm: float
    stack_mm: float
    short_mm: float


@dataclass(frozen=True)
class CutPiece:
    """One piece, with what its tube is cut to.

    Attributes:
        piece: which; parts: what it is made of; ends: first and second.
        cut_mm: the tube's length, nil or less where the ends leave none; sure_mm: the +/- of pin to pin.
        out_mm, in_mm: how much longer and shorter it can still be set; spare_mm: what of that the +/- leaves over.
        wrong: sentences on what does not go together.
    """

    piece: Piece
    parts: LinkParts
    ends: tuple[CutEnd, CutEnd]
    cut_mm: float
    sure_mm: float
    out_mm: float
    in_mm: float
    spare_mm: float
    wrong: tuple[str, ...]

    @property
    def tube(self) -> Tube:
        """What it is cut from."""
        return self.parts.tube

    @property
    def covered(self) -> bool:
        """Whether the threads take up what the tape may be off by."""
        return self.spare_mm >= 0.0


def cut_list(vehicle: Vehicle, units: System = "metric") -> list[CutPiece]:
    """Every piece whose parts are chosen."""
    found = []
    for piece in pieces(vehicle):
        parts = vehicle.build.of(piece.axle, piece.part)
        if parts is not None:
            found.append(cut_piece(piece, parts, units))
    return found


def without_parts(vehicle: Vehicle) -> list[Piece]:
    """The pieces whose parts are not chosen yet."""
    return [p for p in pieces(vehicle) if vehicle.build.of(p.axle, p.part) is None]


def cut_piece(piece: Piece, parts: LinkParts, units: System = "metric") -> CutPiece:
    """What one piece is cut to."""
    ends = tuple(
        _end(end, welded) for end, welded in zip((parts.first, parts.second), piece.welded, strict=True)
    )  # fmt: skip
    first, second = ends
    cut = piece.pin_mm - first.off_mm - second.off_mm
    out, into = first.out_mm + second.out_mm, first.in_mm + second.in_mm
    wrong = (*_wrong_ends(piece, ends, units), *_wrong_piece(piece, parts, cut, units))
    spare = min(out, into) - piece.sure_mm
    if piece.welded[0] and piece.welded[1]:
        spare = -piece.sure_mm
    return CutPiece(piece, parts, (first, second), cut, piece.sure_mm, out, into, spare, wrong)


def _end(parts: LinkEnd, welded: bool) -> CutEnd:
    joint, bung = parts.joint, parts.bung
    if welded or joint is None or bung is None:
        return CutEnd(parts, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0)
    least = engaged_least(joint.thread_mm)
    off = joint.shank_mm - parts.engaged_mm + bung.shoulder_mm
    stays = joint.threaded_mm - parts.nut_mm  # of its thread what the jam nut leaves to go into the bung
    into = min(bung.deep_mm, stays) - parts.engaged_mm
    stack = joint.wide_mm + (0.0 if parts.spacers is None else parts.spacers.add_mm)
    return CutEnd(parts, off, parts.engaged_mm, least, parts.engaged_mm - least, into, stack, parts.gap_mm - stack)


def said(mm: float, units: System) -> str:
    """A length as it is read."""
    return f"{format_length(abs(mm), units).removeprefix('~')} {length_unit(units)}"


def _wrong_ends(piece: Piece, ends: tuple[CutEnd, ...], units: System) -> list[str]:
    """What does not go together at either end."""
    found = []
    for end, words in zip(ends, (piece.first_words, piece.second_words), strict=True):
        parts = end.parts
        joint, bung, spacers = parts.joint, parts.bung, parts.spacers
        if joint is None or bung is None:
            continue
        where = f"{piece.words}, {words}"
        if abs(joint.thread_mm - bung.thread_mm) > _THREAD_MM or abs(joint.pitch_mm - bung.pitch_mm) > 0.5 * _THREAD_MM:
            found.append(f"{where}: {joint.name} does not screw into {bung.name}; choose a bung of its thread.")
        if end.out_mm < -1e-6:
            found.append(
                f"{where}: {said(end.engaged_mm, units)} of thread engaged, less than one diameter, "
                f"{said(end.least_mm, units)}; screw it in or cut the tube longer."
            )
        if end.in_mm < -1e-6:
            found.append(
                f"{where}: {said(end.engaged_mm, units)} engaged is {said(end.in_mm, units)} more than its thread, nut "
                "and bung leave; screw it out."
            )
        if end.short_mm < -_FITS_MM:
            found.append(
                f"{where}: ball and spacers are {said(end.stack_mm, units)}, {said(end.short_mm, units)} wider than "
                f"the bracket’s gap; narrower spacers or a wider gap."
            )
        elif end.short_mm > _FITS_MM:
            found.append(
                f"{where}: ball and spacers leave {said(end.short_mm, units)} of the bracket’s gap open; wider "
                "spacers or shims, or the bracket closes up on it."
            )
        if spacers is not None and abs(spacers.bore_mm - joint.bore_mm) > 0.3:
            found.append(f"{where}: {spacers.name} are for a {said(spacers.bore_mm, units)} bore, not this joint’s.")
        hole = joint.bore_mm if spacers is None else spacers.hole_mm
        if parts.bolt is not None and abs(parts.bolt.diameter_mm - hole) > 0.5:
            way = "does not go through" if parts.bolt.diameter_mm > hole else "is loose in"
            found.append(f"{where}: the {parts.bolt.name} bolt {way} its {said(hole, units)} hole.")
        swing = joint.swing_deg if spacers is None else spacers.swing_deg
        mount = piece.mounts[ends.index(end)]
        if mount is not None and swing + 0.05 < mount.misalignment_limit_deg:
            found.append(
                f"{where}: swings {swing:.0f}° as chosen, {mount.misalignment_limit_deg:.0f}° is what Links reckons "
                "with; change the one or the other."
            )
        need = None if parts.bolt is None else _LEAST_ROOM * parts.bolt.diameter_mm
        if need is not None and parts.room_mm is not None and parts.room_mm < need:
            found.append(
                f"{where}: {said(parts.room_mm, units)} beside the bolt’s middle, no wrench goes on; "
                f"{said(need, units)} at least."
            )
    return found


def _wrong_piece(piece: Piece, parts: LinkParts, cut: float, units: System) -> list[str]:
    """What is wrong with a piece as a whole."""
    found = []
    if cut <= 0.0:
        found.append(f"{piece.words}: its ends alone are {said(cut, units)} longer than pin to pin; no tube is left.")
    screwed = [e for e, w in zip((parts.first, parts.second), piece.welded, strict=True) if not w and e.joint]
    if len(screwed) == 2 and screwed[0].hand == screwed[1].hand:
        found.append(
            f"{piece.words}: both threads are {screwed[0].hand}-hand; it cannot be set on the car. Make one "
            f"{'left' if screwed[0].hand == 'right' else 'right'}-hand."
        )
    for end in screwed:
        bung = end.bung
        if bung is not None and bung.turned_mm > parts.tube.inside_mm + 0.1:
            found.append(
                f"{piece.words}: {bung.name} is {said(bung.turned_mm, units)} across, the tube "
                f"{said(parts.tube.inside_mm, units)} inside; turn it down or choose another."
            )
            break
    for end, welded, words in zip(
        (parts.first, parts.second), piece.welded, (piece.first_words, piece.second_words), strict=True
    ):
        if end.joint is None and not welded:
            found.append(f"{piece.words}: no joint is chosen for its {words}.")
    return found


def uneven_pairs(cuts: list[CutPiece], units: System) -> list[str]:
    """Left and right links that are alike on the drawing but would be cut unlike, or the other way round."""
    found = []
    by = {(c.piece.axle, c.piece.part): c for c in cuts}
    for (axle, part), cut in by.items():
        if "left" not in part.lower():
            continue
        twin = by.get((axle, part.replace("left", "right").replace("Left", "Right")))
        if twin is None:
            continue
        pins, tubes = abs(cut.piece.pin_mm - twin.piece.pin_mm), abs(cut.cut_mm - twin.cut_mm)
        if pins < 0.05 and tubes > 0.05:
            found.append(
                f"{cut.piece.words} and its twin are alike pin to pin, but the tubes differ by {said(tubes, units)}: "
                "their ends are not the same parts."
            )
        elif 0.05 <= pins <= 6.0:
            found.append(
                f"{cut.piece.words} and its twin differ by {said(pins, units)} pin to pin: the axle will stand as "
                "much out of square. Make the points alike if that is not meant."
            )
    return found


def machine_readable_cuts(vehicle: Vehicle) -> list[dict[str, object]]:
    """The fixed keys of `even-stance cut-list`, and what else is known of each piece."""
    rows: list[dict[str, object]] = []
    for cut in cut_list(vehicle):
        ends = [
            {
                "joint": None if e.parts.joint is None else e.parts.joint.name, "hand": e.parts.hand,
                "engaged_mm": round(e.engaged_mm, 3), "engaged_min_mm": round(e.least_mm, 3),
                "out_mm": round(e.out_mm, 3), "in_mm": round(e.in_mm, 3), "gap_left_mm": round(e.short_mm, 3),
            }
            for e in cut.ends
        ]  # fmt: skip
        rows.append({
            "part": cut.piece.words, "axle": cut.piece.axle, "stock": cut.tube.name, "cut_mm": round(cut.cut_mm, 3),
            "pin_to_pin_mm": round(cut.piece.pin_mm, 3), "ends": ends, "sure_mm": round(cut.sure_mm, 3),
            "spare_mm": round(cut.spare_mm, 3), "wrong": list(cut.wrong),
            "guesses": list(cut.piece.guesses),
        })  # fmt: skip
    return rows


_DENSITIES: dict[Metal, float] = {"steel": 7850e-6, "aluminum": 2700e-6, "titanium": 4430e-6}  # kg per m and mm^2


def tube_kg_per_m(tube: Tube) -> float:
    """What a meter of tube weighs, with its core; steel 7850, aluminum 2700, titanium 4430 kg/m^3 (from memory)."""
    own = np.pi / 4.0 * (tube.outside_mm**2 - tube.inside_mm**2) * _DENSITIES[tube.metal]
    core = 0.0 if tube.core == "none" else np.pi / 4.0 * tube.inside_mm**2 * _DENSITIES[tube.core]
    return float(own + core)
