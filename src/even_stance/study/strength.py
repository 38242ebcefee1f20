"""Will it hold: what every link carries in every load case and posture, and how much of each of its parts that uses.

Screening only. Loads are static ones of the cases of the trade; used is the share of the load at which the part yields,
or of what its maker allows where that was typed.
"""

from dataclasses import dataclass

import numpy as np

from even_stance.errors import StanceError
from even_stance.mechanics import fasteners, struts
from even_stance.mechanics.tube import E_STEEL
from even_stance.mechanics.vectors import Array, norm
from even_stance.study.answers import Answers, study_postures
from even_stance.study.cutlist import CutEnd, CutPiece, cut_list, cut_piece, tube_kg_per_m
from even_stance.study.loads import CASES, G, rows_by_case
from even_stance.study.pieces import Piece
from even_stance.study.steerloads import box_loads, ram_loads, rod_loads
from even_stance.vehicle.build import LinkParts, Metal, Tube
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.loading import LoadAssumptions

# N/mm2: aluminum EN 1999-1-1, 3.2.5; titanium Ti-6Al-4V and Ti-3Al-2.5V, 100 to 114 (all from memory).
MODULI: dict[Metal, float] = {"steel": E_STEEL, "aluminum": 70_000.0, "titanium": 110_000.0}
NO_LEVER = "bolt, bracket and weld are reckoned in shear only, with no lever"
WELD_MPA = 400.0  # yield of E70 weld metal, 58 ksi (AWS A5.1, from memory)
JOINT_MPA = 620.0  # a shank's thread is held against the bung's; steel of a rod end's body is no softer than that
Posture = tuple[float, float]


@dataclass(frozen=True)
class Use:
    """How much of one part of a link is used, at the worst of all cases and postures.

    Attributes:
        what: tube, column, thread, bolt, bracket, weld, joint; end: at which end, empty for the tube.
        share: used, 1 at yield or at the rating; load_n: the load it has then; holds_n: the load it would yield at.
        case: in words; posture: left and right travel, mm.
    """

    what: str
    end: str
    share: float
    load_n: float
    holds_n: float
    case: str
    posture: Posture


@dataclass(frozen=True)
class LinkUse:
    """How much of a link is used.

    Attributes:
        cut: the link; uses: of its parts, the worst first; sure: the +/- of the worst from that of its length, 1.
        push_n, pull_n: the most that it is pushed and pulled with along itself, N; missing: what is not judged, why.
    """

    cut: CutPiece
    uses: tuple[Use, ...]
    sure: float
    push_n: float
    pull_n: float
    missing: tuple[str, ...]

    @property
    def worst(self) -> Use | None:
        """The weakest thing of it."""
        return self.uses[0] if self.uses else None


@dataclass(frozen=True)
class Carried:
    """What a link carries: axial load, + pulls, N, bending at its clamp, N mm, by case and posture, shape (n,)."""

    axial: Array
    bending: Array
    cases: tuple[str, ...]
    postures: tuple[Posture, ...]


def tube_figures(tube: Tube, length: float) -> tuple[float, float, float, float, float]:
    """Bending stiffness N mm^2, squash load N, column load N, Euler's load N and yield moment N mm of a tube."""
    own = MODULI[tube.metal]
    modulus = 0.0 if tube.core == "none" else MODULI[tube.core]
    outer = float(struts.second_moment(tube.outside_mm, tube.inside_mm))
    inner = float(struts.second_moment(tube.inside_mm, 0.0)) if modulus else 0.0
    stiffness = own * outer + modulus * inner
    area, core = (float(struts.section_area(*v)) for v in ((tube.outside_mm, tube.inside_mm), (tube.inside_mm, 0.0)))
    strain = tube.yield_mpa / own if not modulus else min(tube.yield_mpa / own, tube.core_yield_mpa / modulus)
    squash = strain * (own * area + modulus * core)
    bends = float(
        struts.yield_moment(
            stiffness, (own, modulus), (tube.yield_mpa, tube.core_yield_mpa),
            (0.5 * tube.outside_mm, 0.5 * tube.inside_mm),
        ) if modulus else struts.yield_moment(stiffness, (own,), (tube.yield_mpa,), (0.5 * tube.outside_mm,))
    )  # fmt: skip
    euler = float(struts.euler_load(stiffness, length))
    return stiffness, squash, float(struts.column_load(squash, stiffness, length)), euler, bends


def rock_force(vehicle: Vehicle) -> float:
    """The force of a rock at mid-span, N: as typed, else a share of the car's weight."""
    build = vehicle.build
    return build.rock_n if build.rock_n is not None else build.rock_share * vehicle.mass_kg * G


def _postures(axle: Axle) -> list[Posture]:
    up, down = axle.bump_mm, -axle.droop_mm
    return [(0.0, 0.0), (up, up), (down, down), (up, down), (down, up)]


def carried(vehicle: Vehicle, axle: Axle, assume: LoadAssumptions) -> dict[str, Carried] | str:
    """What every link of an axle carries over cases and postures, by piece; a sentence where that cannot be had."""
    places = _postures(axle)
    try:
        left, right = np.array(places).T
        answers = study_postures(vehicle, axle, left, right)
        loads = rows_by_case(vehicle, answers, assume)
    except StanceError as error:
        return str(error)
    ok = answers.ok
    cases = tuple(CASES[case] for case in loads for _ in range(len(places)))
    postures = tuple(p for _ in loads for p in places)
    every = np.concatenate([np.where(ok[:, None], loads[case], np.nan) for case in loads])
    found = {}
    layout = answers.layout
    for i, rod in enumerate(layout.rods):
        found[rod.name] = Carried(every[:, i], np.zeros(len(every)), cases, postures)
    for name, (axial, bending) in _arms(answers, every).items():
        found[name] = Carried(axial, bending, cases, postures)
    return found


def _arms(answers: Answers, every: Array) -> dict[str, tuple[Array, Array]]:
    """Arms clamped to the axle: what their front end carries, along them and as bending at the clamp."""
    layout, n = answers.layout, len(answers.layout.rods)
    found = {}
    for name in {layout.mounts[g.mount].member.name for g in layout.guides if layout.mounts[g.mount].member.kind
                 in ("radius_arm", "torque_arm")}:  # fmt: skip
        force = np.zeros((len(every), 3))
        for j, guide in enumerate(layout.guides):
            if layout.mounts[guide.mount].member.name == name:
                force += every[:, n + j, None] * np.array(guide.normal)
        member = answers.axle.member(name)
        along = np.subtract(member.mounts["axle"].at.xyz, member.mounts["chassis"].at.xyz)
        length = float(norm(along))
        axial = force @ (along / length)
        across = norm(force - axial[:, None] * along / length)
        found[name] = (-axial, across * length)
    return found


def steering_push(axle: Axle) -> dict[str, float]:
    """What the rods of a steering carry at most over the lock, for the push at one tire or the ram's pressure, N."""
    ram = ram_loads(axle)
    if ram is not None:
        # A link that does not lie along the ram carries more than the ram pushes.
        return dict.fromkeys(("Left ram link", "Right ram link"), ram.push_n * float(np.hypot(1.0, ram.side_share)))
    box, rods = box_loads(axle), rod_loads(axle)
    return {} if box is None else {**rods, "Drag link": box.most["drag"].item()}


def study_strength(vehicle: Vehicle, assume: LoadAssumptions) -> list[LinkUse]:
    """How much of every link whose parts are chosen is used."""
    found = []
    cuts = cut_list(vehicle)
    for axle in vehicle.axles:
        own = [c for c in cuts if c.piece.axle == axle.key]
        if not own:
            continue
        links = carried(vehicle, axle, assume) if axle.members else {}
        pushes = steering_push(axle)
        for cut in own:
            found.append(_link_use(vehicle, axle, cut, links, pushes))
    return found


def _of_piece(piece: Piece, links: dict[str, Carried] | str, pushes: dict[str, float]) -> Carried | str:
    """What one piece carries, or why that is not known."""
    if piece.role == "steering":
        if piece.part not in pushes:
            return "what it carries is not known"
        push = pushes[piece.part]
        cases = (*("Steering, push at a tire",) * 2, CASES["standing"])
        return Carried(np.array([push, -push, 0.0]), np.zeros(3), cases, ((0.0, 0.0),) * 3)
    if isinstance(links, str):
        return links
    return links.get(piece.part, "what it carries is not worked out for this kind of arm")


def _link_use(
    vehicle: Vehicle, axle: Axle, cut: CutPiece, links: dict[str, Carried] | str, pushes: dict[str, float]
) -> LinkUse:
    loads = _of_piece(cut.piece, links, pushes)
    if isinstance(loads, str):
        return LinkUse(cut, (), 0.0, 0.0, 0.0, (loads,))
    rock = rock_force(vehicle) if cut.parts.hit else 0.0
    uses, missing = _uses(cut, loads, rock)
    uses.sort(key=lambda u: -u.share)
    sure = 0.0
    if uses and uses[0].what in ("tube", "column") and cut.sure_mm > 0.0 and np.isfinite(uses[0].share):
        longer, _ = _uses(cut, loads, rock, cut.sure_mm)
        sure = abs(max(u.share for u in longer if u.what == uses[0].what) - uses[0].share)
    axial = loads.axial[np.isfinite(loads.axial)]
    if not axial.size:
        return LinkUse(cut, (), 0.0, 0.0, 0.0, ("the axle locks up before any of the postures looked at",))
    return LinkUse(cut, tuple(uses), float(sure), float(max(-axial.min(), 0.0)), float(max(axial.max(), 0.0)), missing)


def _uses(cut: CutPiece, loads: Carried, rock: float, longer: float = 0.0) -> tuple[list[Use], tuple[str, ...]]:
    """The use of every part of a link, and what is not judged."""
    length = cut.piece.pin_mm + longer
    _, squash, column, euler, bends = tube_figures(cut.tube, length)
    push = -np.nan_to_num(loads.axial)
    together = struts.used_together(push, column, euler, squash, loads.bending, bends)
    k = int(np.argmax(np.where(np.isfinite(loads.axial), together, -1.0)))
    what = "column" if push[k] > 0.0 and not cut.piece.bends else "tube"
    uses = [Use(what, "", float(together[k]), float(abs(push[k])), column if push[k] > 0.0 else squash,
                loads.cases[k], loads.postures[k])]  # fmt: skip
    if rock > 0.0:
        standing = [i for i, case in enumerate(loads.cases) if case == CASES["standing"]] or [0]
        i = max(standing, key=lambda j: push[j])
        hit = struts.used_together(push[i], column, euler, squash, struts.hit_moment(rock, length), bends)
        uses.append(Use("tube", "", float(hit), rock, 4.0 * bends / length, "Rock at mid-span", loads.postures[i]))
    j = int(np.nanargmax(np.abs(loads.axial)))
    most = float(abs(loads.axial[j]))
    missing = []
    for end, words in zip(cut.ends, (cut.piece.first_words, cut.piece.second_words), strict=True):
        for name, holds in _holds(end):
            if holds is None:
                missing.append(f"{words}: {name}")
            elif not holds > 0.0:
                uses.append(Use(name, words, np.inf, most, 0.0, loads.cases[j], loads.postures[j]))
            else:
                uses.append(Use(name, words, most / holds, most, holds, loads.cases[j], loads.postures[j]))
        if end.parts.bolt is not None:
            missing.append(f"{words}: {NO_LEVER}")
    return uses, tuple(missing)


def _holds(end: CutEnd) -> list[tuple[str, float | None]]:
    """The load every part of an end yields at, N; None where nothing is known of it."""
    parts = end.parts
    joint, bung, bolt = parts.joint, parts.bung, parts.bolt
    found: list[tuple[str, float | None]] = []
    if joint is not None and bung is not None:
        found.append(("joint’s rating is not typed", None) if joint.rated_n is None else ("joint", joint.rated_n))
        strip = fasteners.strip_load(
            joint.thread_mm, joint.pitch_mm, max(end.engaged_mm, 0.0), JOINT_MPA, bung.yield_mpa
        )  # fmt: skip
        found.append(("thread", strip))
    if bolt is not None:
        found.append(("bolt", fasteners.double_shear(bolt.diameter_mm, bolt.yield_mpa, parts.threads_in_plane)))
        found.append(
            ("bracket", fasteners.tear_out(parts.edge_mm, bolt.diameter_mm, parts.plate_mm, 2, parts.plate_yield_mpa))
        )
        found.append(("weld", fasteners.fillet_load(parts.weld_mm, parts.welded_mm, WELD_MPA)))
    return found


def compared(
    vehicle: Vehicle, assume: LoadAssumptions, use: LinkUse, tubes: tuple[Tube, ...]
) -> list[tuple[Tube, float, float]]:
    """Other tubes for a link: each with the share used of the worst of tube and column, and its weight, kg."""
    cut = use.cut
    axle = vehicle.axle(cut.piece.axle)
    links = carried(vehicle, axle, assume) if axle.members else {}
    loads = _of_piece(cut.piece, links, steering_push(axle))
    found = []
    for tube in tubes:
        parts: LinkParts = with_changes(cut.parts, tube=tube)
        other = cut_piece(cut.piece, parts)
        worst = np.nan
        if not isinstance(loads, str):
            uses, _ = _uses(other, loads, rock_force(vehicle) if parts.hit else 0.0)
            worst = max(u.share for u in uses if u.what in ("tube", "column"))
        found.append((tube, float(worst), tube_kg_per_m(tube) * max(other.cut_mm, 0.0) / 1000.0))
    return found
