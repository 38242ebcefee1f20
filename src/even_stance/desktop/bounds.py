"""How small and large a widget may be, in pixels at 100 %: alike at every scale, also at one that is chosen later."""

from PyQt6.QtWidgets import QWidget

_SET = {
    "least_wide": QWidget.setMinimumWidth, "most_wide": QWidget.setMaximumWidth,
    "least_high": QWidget.setMinimumHeight, "most_high": QWidget.setMaximumHeight,
}  # fmt: skip


def bound(
    widget: QWidget, percent: int, wide: tuple[int | None, int | None] | int = (None, None),
    high: tuple[int | None, int | None] | int = (None, None),
) -> None:  # fmt: skip
    """Keep a widget within bounds.

    Args:
        widget: which; percent: the scale now.
        wide, high: the least and the most, None: whatever it likes; or both in one.
    """
    pairs = [(way, (size, size) if isinstance(size, int) else size) for way, size in (("wide", wide), ("high", high))]
    bounds = {f"{end}_{way}": v for way, both in pairs for end, v in zip(("least", "most"), both, strict=True)}
    widget.setProperty("bounds", {k: v for k, v in bounds.items() if v is not None})
    hold(widget, percent)


def hold(widget: QWidget, percent: int) -> None:
    """Let a widget have its bounds at a scale."""
    for name, size in (widget.property("bounds") or {}).items():
        _SET[name](widget, round(size * percent / 100))
