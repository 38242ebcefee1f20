"""What differs between two cars, in the language of the shop."""

from itertools import zip_longest

from even_stance.judgement.wording import SEEN_MM, bracket_words, move_words
from even_stance.units import System, format_length, format_mass, length_unit, mass_unit
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.members import AnyMember, Mount
from even_stance.vehicle.records import Record
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.springs import AnySpring

_LENGTHS = (("track_mm", "track"), ("bump_mm", "bump travel"), ("droop_mm", "droop travel"), ("tube_mm", "axle tube"))
_TIRE = (("free_diameter_mm", "tire diameter"), ("loaded_radius_mm", "axle center height"), ("width_mm", "tire width"))


def differences(before: Vehicle, after: Vehicle, system: System) -> list[str]:
    """What one has to do to the first car to get the second, one line each."""
    unit = length_unit(system)

    def change(words: str, a: float, b: float) -> list[str]:
        if abs(a - b) < SEEN_MM:
            return []
        return [f"{words}: {format_length(a, system)} to {format_length(b, system)} {unit}"]

    found = change("Wheelbase", before.wheelbase_mm, after.wheelbase_mm)
    found += change("CG height", before.cg_height_mm, after.cg_height_mm)
    for old, new in zip_longest(before.axles, after.axles):
        if old is None or new is None:
            found.append(f"{(new or old).key.capitalize()} axle: {'added' if old is None else 'gone'}")
            continue
        where = f"{new.key.capitalize()} "
        for name, words in _LENGTHS:
            found += change(where + words, getattr(old, name), getattr(new, name))
        for name, words in _TIRE:
            found += change(where + words, getattr(old.tire, name), getattr(new.tire, name))
        for name, words in (("load_kg", "axle weight"), ("unsprung_kg", "unsprung weight")):
            a, b = getattr(old, name), getattr(new, name)
            if abs(a - b) >= 0.5:
                said = f"{format_mass(a, system)} to {format_mass(b, system)} {mass_unit(system)}"
                found.append(f"{where}{words}: {said}")
        found += _members(old, new, system)
    return found


def _members(old: Axle, new: Axle, system: System) -> list[str]:
    """What differs between the members and springs of two axles."""
    olds, news = ({part.name: part for part in a.parts} for a in (old, new))
    found = []
    for name in [*olds, *(n for n in news if n not in olds)]:
        if name not in news:
            found.append(f"{new.key.capitalize()}: take {name} out")
        elif name not in olds or olds[name].kind != news[name].kind:
            found.append(f"{new.key.capitalize()}: fit {name}")
    said: set[Spot] = set()
    both = [n for n in olds if n in news and olds[n].kind == news[n].kind]
    for name in both:
        for end in news[name].mounts:
            spot = Spot(new.key, name, end)
            if spot in said:
                continue
            words = _mount(olds[name].mounts[end], news[name].mounts[end], system)
            twin = _twin(spot, both)
            if twin is not None:
                pair = _mount(olds[twin.member].mounts[end], news[twin.member].mounts[end], system)
                if pair == words:
                    said.add(twin)
                else:
                    twin = None
            if words:
                found.append(f"{new.key.capitalize()}: {bracket_words(spot, twin)} {words}")
        found += _own(olds[name], news[name], new.key)
    return found


def _twin(spot: Spot, names: list[str]) -> Spot | None:
    other = spot.member.replace("left", "right")
    return Spot(spot.axle, other, spot.end) if other != spot.member and other in names else None


def _mount(old: Mount, new: Mount, system: System) -> str:
    """Hole, place and joint: what changed about a mount, empty when nothing did."""
    parts = []
    (ax, ay, az), (bx, by, bz) = old.at.xyz, new.at.xyz
    moved = max(abs(bx - ax), abs(by - ay), abs(bz - az)) >= SEEN_MM
    same_bracket = [h.xyz for h in old.holes] == [h.xyz for h in new.holes]
    if old.hole != new.hole and same_bracket and old.hole is not None and new.hole is not None:
        parts.append(f"from hole {old.hole + 1} to hole {new.hole + 1}")
    elif moved:
        parts.append(move_words(bx - ax, by - ay, bz - az, system, by))
    if old.joint != new.joint:
        parts.append(f"{new.joint.replace('_', ' ')} in place of {old.joint.replace('_', ' ')}")
    if old.bolt != new.bolt:
        parts.append(f"bolt {new.bolt}")
    return ", ".join(parts)


def _own(old: AnyMember | AnySpring, new: AnyMember | AnySpring, key: str) -> list[str]:
    """Fields of a member or spring other than its mounts."""
    skip = {*old.mounts, "name", "role", "side", "kind"}
    return [f"{key.capitalize()}: {new.name} {words}" for words in _fields(old, new, skip)]


def _fields(old: Record, new: Record, skip: set[str]) -> list[str]:
    """What differs between two records of a kind, field by field; those of a record within one after its name."""
    found = []
    for name in type(new).model_fields:
        a, b = getattr(old, name), getattr(new, name)
        if name in skip or a == b:
            continue
        words = name.replace("_mm", "").replace("_", " ")
        if isinstance(a, Record) and isinstance(b, Record):
            found += [f"{words}: {said}" for said in _fields(a, b, set())]
        elif isinstance(a, Record) or isinstance(b, Record):
            found.append(f"{words} {'put on' if a is None else 'taken off'}")
        else:
            found.append(f"{words} {_plain(a)} to {_plain(b)}")
    return found


def _plain(value: object) -> str:
    """A value of a record, no longer than it has to be."""
    return f"{value:.6g}" if isinstance(value, float) else str(value)
