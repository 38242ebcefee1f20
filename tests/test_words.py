"""A referee of the words: what a check prints of random cars is worked out again from the other replies.

The long run of this: scripts/long_words.py, 40 cars and more.
"""

import random
import re
from collections.abc import Iterator
from typing import Any

import pytest

from even_stance.errors import StanceError
from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.bands import PURPOSE_WORDS
from even_stance.judgement.standards import STANDARDS
from even_stance.replies.car import clearances, ride
from even_stance.replies.checking import check
from even_stance.replies.posture import answers
from even_stance.vehicle.edits import move_by, set_job, set_vehicle
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import all_spots

_NUMBER = r"(-?)(?:(?:(\d+) )?(\d+)/(\d+)|(\d[\d,]*(?:\.\d+)?))"
_PER = {"in": 25.4, "ft": 0.3048, "mm": 1.0, "m": 1.0}


def random_car(seed: int) -> Job:
    """A car of the demo with its points, CG, purpose and units changed at random."""
    hands = random.Random(seed)
    job = demo_jobs()[seed % 5]
    for spot in all_spots(job):
        if spot.axle and hands.random() < 0.5:
            try:
                job = move_by(spot, *(hands.uniform(-12.0, 12.0) for _ in "xyz"), hands.random() < 0.7).apply(job)
            except StanceError:
                continue
    job = set_vehicle("CG", cg_height_mm=job.vehicle.cg_height_mm * hands.uniform(0.85, 1.15)).apply(job)
    return set_job("Purpose", purpose=hands.choice(list(PURPOSE_WORDS)), units=hands.choice(["us", "metric"])).apply(
        job
    )


def number_in(words: str, title: str) -> tuple[float, float] | None:
    """The number printed behind a title, in stored units, and how far off rounding may have put it."""
    found = re.match(rf"{re.escape(title)}: ~?{_NUMBER} ?([^ (;.]*)", words)
    if found is None:
        return None
    sign, inches, over, under, plain, unit = found.groups()
    per = _PER.get(unit, 1.0)
    value = float(plain.replace(",", "")) if plain else float(inches or 0) + float(over) / float(under)
    step = 1.0 / 16.0 if unit == "in" else 10.0 ** -len(plain.partition(".")[2])
    return (-value if sign else value) * per, 0.51 * step * per


def over_travel(job: Job, key: str) -> list[dict[str, Any]]:
    """The answers of an axle from full droop to full bump, in steps that meet both ends and ride height."""
    axle = job.vehicle.axle(key)
    found = []
    for share in (-1.0, -0.75, -0.5, -0.25, 0.0, 0.25, 0.5, 0.75, 1.0):
        mm = share * (axle.bump_mm if share > 0.0 else axle.droop_mm)
        try:
            found.append(answers(job, key, mm, mm).model_dump())
        except StanceError:
            continue
    return found


def recomputed(job: Job, judged: Any, rows: list[Any], travel: dict[str, list[dict[str, Any]]]) -> Iterator[str]:
    """What of a judged number disagrees with the other replies; nothing where all agree."""
    key, value, axle = judged.key, judged.value, judged.axle
    if key.startswith("gap_"):
        mine = [r for r in rows if abs(r.gap_mm - value) < 1e-3 and {r.a, r.b} and r.a in judged.sentence]
        if not any(r.b in judged.sentence for r in mine):
            yield f"{judged.words}: no such gap"
        return
    said: float | None = None
    if key in ("roll_per_g_deg", "inside_lift_g", "transfer_over_weight_pct"):
        car = ride(job).car
        lifts = [g for g in car.inside_lift_g.values() if g is not None]
        said = {
            "roll_per_g_deg": car.roll_deg_per_g, "inside_lift_g": min(lifts, default=None),
            "transfer_over_weight_pct": car.front_share_of_transfer_pct - car.front_weight_pct,
        }[key]  # fmt: skip
    elif key in ("ride_frequency_hz", "motion_ratio_x"):
        one = ride(job).axles[axle]
        said = one.frequency_hz if key == "ride_frequency_hz" else one.motion_ratio_heave
    elif travel[axle]:
        now = next((a for a in travel[axle] if a["posture"]["left_mm"] == 0.0), None)
        pitch = [a["pitch_deg"] for a in travel[axle] if "pitch_deg" in a]
        shift = [a["axle_shift_mm"] for a in travel[axle] if "axle_shift_mm" in a]
        if now is not None and isinstance(now.get(key), float):
            said = now[key]
        elif key == "shaft_residual_deg" and now is not None:
            said = now["driveline"][0]["residual_deg"]
        elif key in ("pinion_change_deg", "caster_change_deg") and len(pitch) == 9:
            low = max(abs(deg) for deg in pitch)
            if not low - 1e-3 <= value <= 1.1 * low + 0.05:
                yield f"{judged.words}: the axle turns {low:.2f}"
        elif key in ("side_shift_mm", "wheelbase_change_mm") and len(shift) == 9:
            low = max(abs(s["y" if key == "side_shift_mm" else "x"]) for s in shift)
            if not low - 1e-2 <= value <= 1.1 * low + 0.5:
                yield f"{judged.words}: the axle goes {low:.2f}"
    if said is not None and value != pytest.approx(said, rel=1e-4, abs=1e-3):
        yield f"{judged.words}: {said} by the other reply"


def disagreements(job: Job) -> list[str]:
    """Statements of a check that the other replies do not bear out."""
    reply = check(job, fine=False)
    rows = clearances(job, fine=False).gaps
    travel = {}
    for axle in job.vehicle.axles:
        travel[axle.key] = over_travel(job, axle.key)
    wrong: list[str] = []
    for j in reply.judged:
        low, high, sure = j.low, j.high, j.uncertainty or 0.0
        if j.value is not None and j.state in ("inside", "unsure", "low", "high") and j.key != "cross_up_free_pct":
            outside = (
                "low" if low is not None and j.value < low else "high" if high is not None and j.value > high else ""
            )
            near = any(m is not None and abs(j.value - m) < sure for m in (low, high))
            wanted = outside or ("unsure" if near else "inside")
            if j.state != wanted:
                wrong.append(f"{j.words}: {j.state}, by its marks {wanted}")
            standard = STANDARDS.get(j.key)
            both = standard is not None and standard.inside and standard.low
            if both and (standard.inside in j.sentence) != (j.state in ("inside", "unsure")):
                wrong.append(f"{j.words}: {j.state}, and says another thing")
        printed = number_in(j.words, j.title)
        told = printed is not None and j.value is not None and j.state not in ("not_judged", "missing")
        if told and abs(printed[0] - j.value) > printed[1] + 1e-9:
            wrong.append(f"{j.words}: prints {printed[0]}, is {j.value}")
        if j.value is not None:
            wrong += recomputed(job, j, rows, travel)
    return wrong


@pytest.mark.parametrize("seed", range(10))
def test_what_a_check_prints_is_borne_out_by_the_other_replies(seed: int) -> None:
    assert not disagreements(random_car(seed))
