"""Where words on a printed drawing go: beside what they name, clear of links and of one another."""

from collections.abc import Sequence

Box = tuple[float, float, float, float]
Stroke = tuple[float, float, float, float, float]
"""A drawn line: from, to, and half its width, points."""
_TRIED = ((5, 3), (5, -8), (0, 7), (0, -12), (9, 11), (9, -18), (0, 18), (0, -26), (22, 22), (22, -30))


def clear_place(x: float, y: float, wide: float, high: float, strokes: Sequence[Stroke], taken: Sequence[Box],
          inside: Box) -> Box:  # fmt: skip
    """The box of words about a place, points: the first tried that hides nothing, or that which hides least.

    Args:
        x, y: what they are about; wide, high: of the words; strokes: what must not be hidden; taken: boxes of other
            words; inside: the drawing.
    """
    best: tuple[float, Box] | None = None
    for rank, (dx, dy) in enumerate(_TRIED):
        for left in (x + dx, x - dx - wide) if dx else (x - wide / 2,):
            low_x = min(max(left, inside[0]), inside[2] - wide)
            low_y = min(max(y + dy, inside[1]), inside[3] - high)
            box = (low_x, low_y, low_x + wide, low_y + high)
            bad = sum(_crossing(box, stroke) for stroke in strokes) + 40.0 * sum(_shared(box, other) for other in taken)
            worth = bad + 0.01 * rank
            if best is None or worth < best[0]:
                best = (worth, box)
        if best is not None and best[0] < 0.5:
            break
    assert best is not None
    return best[1]


def _crossing(box: Box, stroke: Stroke) -> float:
    """How much of a stroke lies under a box, points."""
    ax, ay, bx, by, half = stroke
    steps = 24
    inside = 0
    for i in range(steps + 1):
        x, y = ax + i / steps * (bx - ax), ay + i / steps * (by - ay)
        inside += box[0] - half <= x <= box[2] + half and box[1] - half <= y <= box[3] + half
    length = float(((bx - ax) ** 2 + (by - ay) ** 2) ** 0.5)
    return inside / (steps + 1) * length


def _shared(one: Box, other: Box) -> bool:
    return one[0] < other[2] and other[0] < one[2] and one[1] < other[3] and other[1] < one[3]
