"""Marks as they should be found: cam sprockets from the front, dashed where a mark belongs, solid where it stands."""

from __future__ import annotations

import math
from collections.abc import Sequence

from phasko.core.handover.document import MarkSketch
from phasko.report.svg import GREY, Drawing, label, line, path

__all__ = ["marks_svg"]

_RADIUS = 40.0
_APART = 104.0
# Less is not seen between two marks by eye; the sketch would claim a difference nobody finds.
_SEEN_DEG = 1.0


def marks_svg(marks: Sequence[MarkSketch]) -> str:
    """The sketch; empty without marks. Late is against the turning, which runs clockwise here as the engine does."""
    if not marks:
        return ""
    width = max(230.0, _APART * len(marks) + 30.0)
    told = ", ".join(f"{mark.name} {mark.words}" for mark in marks)
    drawing = Drawing(width, 176.0, f"Marks with the crank on its own: {told}")
    first = width / 2 - _APART * (len(marks) - 1) / 2
    for i, mark in enumerate(marks):
        _sprocket(drawing, first + i * _APART, mark)
    middle = width / 2
    drawing.add(
        f'<circle cx="{middle:g}" cy="142" r="17" fill="none" stroke="#000" stroke-width="3" stroke-dasharray="3 2"/>',
        line((middle, 120.0), (middle, 142.0), width=2.6),
        label((middle + 24.0, 140.0), "crank on", size=10.0),
        label((middle + 24.0, 152.0), "its own mark", size=10.0),
    )
    drawing.add(
        path("M20 158a13 13 0 1 1 24 0", width=1.3),
        path("M40 157h8l-4 6z", fill="#000", width=0),
        label((52.0, 161.0), "turns", size=10.0, ink=GREY),
    )
    return drawing.svg()


def _sprocket(drawing: Drawing, x: float, mark: MarkSketch) -> None:
    y = 50.0
    off = abs(mark.off_deg) >= _SEEN_DEG
    # The cam turns half as far as the crank.
    turned = math.radians(-mark.off_deg / 2)

    def at(radius: float, angle: float) -> tuple[float, float]:
        return x + radius * math.sin(angle), y - radius * math.cos(angle)

    drawing.add(
        f'<circle cx="{x:g}" cy="{y:g}" r="{_RADIUS:g}" fill="none" stroke="#000" stroke-width="3" '
        'stroke-dasharray="4 2.3"/>',
        line(at(_RADIUS + 8, 0.0), at(12.0, 0.0), width=1.1, dash="3 2"),
        line(at(_RADIUS - 2, turned), at(14.0, turned), width=3.4),
    )
    if off:
        sweep = 1 if turned > 0 else 0
        x0, y0 = at(_RADIUS - 12, 0.0)
        x1, y1 = at(_RADIUS - 12, turned)
        drawing.add(path(f"M{x0:.1f} {y0:.1f}A28 28 0 0 {sweep} {x1:.1f} {y1:.1f}", width=1.2))
    name = mark.name.removesuffix(" cam")
    drawing.add(
        label((x, y + 10.0), name, size=10.0, bold=True, anchor="middle"),
        label((x, y + _RADIUS + 15.0), mark.words, size=10.0, bold=off, anchor="middle"),
    )
