"""Runs forth and back, frame by frame, as wheels go through their travel or from lock to lock."""

CYCLE_MS, CYCLE_FRAMES = 33, 120


def there_and_back(frame: int) -> float:
    """Where a run is at a frame: 0 to 1, back through 0 to -1, and to 0 again."""
    share = 4.0 * frame / CYCLE_FRAMES
    return share if share <= 1.0 else 2.0 - share if share <= 3.0 else share - 4.0
