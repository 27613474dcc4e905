"""The turn strip on paper: one cycle unrolled, measured thick, reference hatched and dashed, in black and white."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from phasko.core.capture.cylinder_parts import CornerMark, CylinderPicture, FeltView
from phasko.core.capture.turn_strip import CamLane, Ruler, StripEdge, TurnStrip
from phasko.core.words import angle_words
from phasko.report.svg import GREY, Drawing, arrow, box, hatch, label, line, path, poly

__all__ = ["before_after_svg", "turn_svg"]

WIDTH = 682.0
_LEFT = 92.0
_CYCLE = 720.0
_LANE = 62.0
_HIGH, _LOW = 22.0, 46.0
_GAP_DEG = 20.0


@dataclass(frozen=True, slots=True)
class _Scale:
    """Angles of the strip in pixels."""

    origin: float

    def x(self, deg: float) -> float:
        return _LEFT + (WIDTH - _LEFT) * (deg - self.origin) / _CYCLE

    def unrolled(self, deg: float) -> float:
        return self.origin + (deg - self.origin) % _CYCLE


def turn_svg(strip: TurnStrip, cylinders: CylinderPicture | None = None) -> str:
    """The picture of one capture: crank wheel as a ruler, cams against their reference, the pressure of each felt
    cylinder with its corners."""
    felt = [one for one in (cylinders.felt if cylinders is not None else []) if one.state == "motored"][:2]
    height = 24.0 + 44.0 + _LANE * len(strip.lanes) + 92.0 * len(felt) + 4.0
    drawing = Drawing(WIDTH, height, _told(strip))
    scale = _Scale(strip.origin_deg)
    bottom = height - 2.0
    _tdc_lines(drawing, strip, scale, bottom, {one.cylinder for one in felt})
    y = 24.0
    if strip.ruler is not None:
        _ruler(drawing, strip.ruler, scale, y)
    y += 44.0
    for lane in strip.lanes:
        _lane(drawing, lane, scale, y)
        y += _LANE
    for one in felt:
        _pressure(drawing, one, scale, y)
        y += 92.0
    by = f", by {cylinders.index_words}" if cylinders is not None and cylinders.index_words else ""
    _tdc_flags(drawing, strip, scale, {one.cylinder: by for one in felt})
    return drawing.svg()


def before_after_svg(before: TurnStrip, after: TurnStrip) -> str:
    """Both captures on one picture: a lane a cam, before dashed, after solid, the reference hatched behind both."""
    lanes = [(lane, next((a for a in after.lanes if a.cam == lane.cam), None)) for lane in before.lanes]
    height = 24.0 + 44.0 + 78.0 * len(lanes) + 4.0
    drawing = Drawing(WIDTH, height, f"Before: {_told(before)}. After: {_told(after)}")
    scale = _Scale(before.origin_deg)
    _tdc_lines(drawing, before, scale, height - 2.0, set())
    if before.ruler is not None:
        _ruler(drawing, before.ruler, scale, 24.0)
    y = 68.0
    for lane, then in lanes:
        _two_lanes(drawing, lane, then, scale, y)
        y += 78.0
    _tdc_flags(drawing, before, scale, {})
    return drawing.svg()


def _told(strip: TurnStrip) -> str:
    said = [
        f"{lane.name} {angle_words(lane.offset_deg, lane.total_u95_deg or 0.5)}"
        for lane in strip.lanes
        if lane.offset_deg is not None
    ]
    return f"One cycle unrolled over 720 degrees; {', '.join(said) or 'no cam could be compared'}"


def _tdc_lines(drawing: Drawing, strip: TurnStrip, scale: _Scale, bottom: float, felt: set[int]) -> None:
    for tdc in strip.tdc:
        proved = strip.tdc_confirmed or tdc.cylinder in felt
        drawing.add(
            line(
                (scale.x(tdc.deg), 16.0), (scale.x(tdc.deg), bottom), width=0.8, dash="" if proved else "4 3", ink=GREY
            )
        )


def _tdc_flags(drawing: Drawing, strip: TurnStrip, scale: _Scale, felt: Mapping[int, str]) -> None:
    """Flags over the lines; a black one, with what showed it, where that cylinder's own pressure was recorded."""
    for tdc in strip.tdc:
        black = tdc.cylinder in felt
        text = f"TDC {tdc.cylinder}{felt.get(tdc.cylinder, '')}"
        wide = 6.0 * len(text) + 10.0
        x = min(max(scale.x(tdc.deg), _LEFT + wide / 2), WIDTH - wide / 2)
        drawing.add(
            box((x - wide / 2, 1.0), (wide, 16.0), fill="#000" if black else "#fff"),
            label((x, 13.0), text, size=10.5, bold=True, anchor="middle", ink="#fff" if black else "#000"),
        )


def _ruler(drawing: Drawing, ruler: Ruler, scale: _Scale, y: float) -> None:
    base = y + 26.0
    drawing.add(label((0.0, y + 14.0), "Crank", bold=True), label((0.0, y + 27.0), ruler.wheel, size=10.0, ink=GREY))
    drawing.add(line((_LEFT, base), (WIDTH, base), width=1.0))
    every = max(1, round(len({tick.tooth for tick in ruler.ticks}) / 6))
    for tick in ruler.ticks:
        named = tick.tooth == 1 or tick.tooth % (10 if every > 4 else every) == 0
        x = scale.x(tick.deg)
        drawing.add(line((x, base - (14.0 if named else 9.0)), (x, base), width=1.6 if named else 0.8))
        if named and _LEFT <= x <= WIDTH - 4:
            drawing.add(label((x, base + 11.0), str(tick.tooth), size=9.5, anchor="middle", ink=GREY))
    for gap in ruler.gaps:
        left, right = scale.x(gap.from_deg), scale.x(gap.to_deg)
        drawing.add(box((left, base - 15.0), (max(3.0, right - left), 15.0)))


def _lane(drawing: Drawing, lane: CamLane, scale: _Scale, y: float) -> None:
    words = "no reference" if lane.offset_deg is None else angle_words(lane.offset_deg, lane.total_u95_deg or 0.5)
    drawing.add(label((0.0, y + 34.0), lane.name, bold=True), label((0.0, y + 47.0), words, size=10.0, ink=GREY))
    high, low = y + _HIGH, y + _LOW
    _reference(drawing, lane, scale, high, low)
    _measured(drawing, lane.edges, scale, (high, low), dash="")
    last = -100.0
    for edge in sorted(lane.edges, key=lambda e: scale.unrolled(e.measured_deg)):
        x = scale.x(scale.unrolled(edge.measured_deg))
        if x - last > 26.0:
            drawing.add(
                label((x, high - 5.0), f"{edge.measured_deg % 720:.0f}°", size=10.0, bold=True, anchor="middle")
            )
            last = x
        if edge.reference_deg is not None and lane.state not in ("in", None):
            drawing.add(arrow(x - edge.delta_deg * (WIDTH - _LEFT) / _CYCLE, x, low + 8.0))


def _reference(drawing: Drawing, lane: CamLane, scale: _Scale, high: float, low: float) -> None:
    placed = sorted((scale.unrolled(e.reference_deg), e.kind) for e in lane.edges if e.reference_deg is not None)
    for start, end in _high_stretches(placed, scale):
        drawing.add(hatch((scale.x(start), high), (scale.x(end) - scale.x(start), low - high)))
    for at, _ in placed:
        drawing.add(line((scale.x(at), high), (scale.x(at), low), width=0.9, dash="3 2.5"))


def _high_stretches(placed: Sequence[tuple[float, str]], scale: _Scale) -> list[tuple[float, float]]:
    """Where a signal is high, cut at the ends of the strip; none where only one direction of edges is known."""
    if len({kind for _, kind in placed}) < 2:
        return []
    found: list[tuple[float, float]] = []
    start: float | None = scale.origin if placed[0][1] == "falling" else None
    for at, kind in placed:
        if kind == "rising":
            start = at
        elif start is not None:
            found.append((start, at))
            start = None
    if start is not None:
        found.append((start, scale.origin + _CYCLE))
    return found


def _measured(
    drawing: Drawing, edges: Sequence[StripEdge], scale: _Scale, levels: tuple[float, float], dash: str
) -> None:
    high, low = levels
    placed = sorted((scale.unrolled(e.measured_deg), e.kind) for e in edges)
    if not placed:
        return
    width = 1.3 if dash else 2.0
    if len({kind for _, kind in placed}) < 2:
        drawing.add(line((_LEFT, low), (WIDTH, low), width=0.8))
        for at, _ in placed:
            drawing.add(line((scale.x(at), high), (scale.x(at), low), width=width, dash=dash))
        return
    y = high if placed[0][1] == "falling" else low
    points = [(_LEFT, y)]
    for at, kind in placed:
        points += [(scale.x(at), y), (scale.x(at), high if kind == "rising" else low)]
        y = high if kind == "rising" else low
    points.append((WIDTH, y))
    drawing.add(poly(points, width=width, dash=dash))


def _two_lanes(drawing: Drawing, before: CamLane, after: CamLane | None, scale: _Scale, y: float) -> None:
    def words(lane: CamLane | None) -> str:
        if lane is None or lane.offset_deg is None:
            return "not read"
        return angle_words(lane.offset_deg, lane.total_u95_deg or 0.5)

    drawing.add(
        label((0.0, y + 24.0), before.name, bold=True),
        label((0.0, y + 38.0), f"before {words(before)}", size=10.0),
        label((0.0, y + 51.0), f"after {words(after)}", size=10.0, bold=True),
    )
    high, low = y + 14.0, y + 40.0
    _reference(drawing, before, scale, high, low)
    _measured(drawing, before.edges, scale, (high + 3.0, low + 3.0), dash="5 3")
    if after is not None:
        _measured(drawing, after.edges, scale, (high, low), dash="")
    for edge in before.edges:
        if edge.reference_deg is not None and before.state not in ("in", None):
            x = scale.x(scale.unrolled(edge.measured_deg))
            drawing.add(arrow(x - edge.delta_deg * (WIDTH - _LEFT) / _CYCLE, x, low + 13.0))


def _pressure(drawing: Drawing, felt: FeltView, scale: _Scale, y: float) -> None:
    """The low end of the pressure, where the corners lie; what is higher is cut off at the top."""
    top, bottom = 1.0, -0.75
    high, low = y + 8.0, y + 72.0

    def at(bar: float) -> float:
        return high + (low - high) * (top - max(bottom, min(top, bar))) / (top - bottom)

    drawing.add(
        label((0.0, y + 26.0), f"Pressure {felt.cylinder}", bold=True),
        label((0.0, y + 39.0), f"{bottom:g} to {top:g} bar", size=10.0, ink=GREY),
        label((0.0, y + 52.0), f"peak {felt.peak_bar:.1f} bar", size=10.0, ink=GREY),
        line((_LEFT, at(0.0)), (WIDTH, at(0.0)), width=0.5, ink="#999"),
    )
    curves = [(felt.expected, "3 2.5", 0.9)] if felt.expected is not None else []
    for curve, dash, width in [*curves, (felt.mean, "", 1.9)]:
        for piece in _below(list(zip(curve.deg, curve.bar, strict=True)), top):
            drawing.add(poly([(scale.x(deg), at(bar)) for deg, bar in piece], width=width, dash=dash))
    for corner in felt.corners:
        _corner(drawing, corner, (scale.x(scale.unrolled(corner.strip_deg)), at(corner.bar)))
    for stroke in felt.strokes:
        middle = (scale.x(stroke.from_deg) + scale.x(stroke.to_deg)) / 2
        if scale.x(stroke.to_deg) - scale.x(stroke.from_deg) > 46.0:
            drawing.add(label((middle, y + 86.0), stroke.name, size=9.5, anchor="middle", ink=GREY))


def _corner(drawing: Drawing, corner: CornerMark, place: tuple[float, float]) -> None:
    """A dot with its half width as brackets, and its angle after the cylinder's own TDC."""
    x, y = place
    half = max(3.0, corner.u95_deg * (WIDTH - _LEFT) / _CYCLE)
    for side in (-1.0, 1.0):
        drawing.add(path(f"M{x + side * (half - 2):.1f} {y - 7:.1f}h{side * 2:g}v14h{-side * 2:g}", width=1.1))
    drawing.add(f'<circle cx="{x:.1f}" cy="{y:.1f}" r="3.4" fill="#000"/>')
    left = x > WIDTH - 190.0
    text = f"{corner.valve} {corner.what} {corner.angle_deg:.0f}°"
    beside = (x - half - 5.0 if left else x + half + 5.0, y + 15.0)
    drawing.add(label(beside, text, size=10.0, bold=True, anchor="end" if left else "start"))


def _below(points: Sequence[tuple[float, float]], top: float) -> list[list[tuple[float, float]]]:
    """The pieces of a curve that lie below a height; a gap in its angles ends a piece, too."""
    pieces: list[list[tuple[float, float]]] = []
    piece: list[tuple[float, float]] = []
    for point in points:
        if piece and point[0] - piece[-1][0] > _GAP_DEG:
            pieces.append(piece)
            piece = []
        if point[1] <= top:
            piece.append(point)
        elif piece:
            pieces.append([*piece, point])
            piece = []
    if piece:
        pieces.append(piece)
    return pieces
