"""The words of the trade with a small drawing each: for the screen and for a page of the documentation."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from phasko.core.glossary import TERMS, Term
from phasko.report.svg import Drawing, label, line, path, poly

__all__ = ["drawing_of", "glossary_page"]

WIDE, HIGH = 300.0, 96.0
INK = "currentColor"
SHADE = "var(--chakra-colors-mute, #55626a)"
MAIN = "var(--chakra-colors-petrol, #0c6069)"
OFF = "var(--chakra-colors-late, #8e1f4b)"

_Pieces = list[str]


def drawing_of(term: Term) -> str:
    """What that word means as a picture (SVG), in the colours of the page it stands on. Raises KeyError for a term
    without one."""
    made = Drawing(WIDE, HIGH, term.meaning)
    made.add(*_DRAWN[term.id]())
    return made.svg()


def glossary_page(folder: str) -> tuple[str, dict[str, str]]:
    """The page of the documentation in Markdown, and its drawings by file name, which lie in ``folder`` beside it."""
    lines = ["# Words", "", "Made from `src/phasko/core/glossary.py`; change them there. In the app one key away: Q."]
    pictures = {}
    for term in TERMS:
        name = f"{term.id}.svg"
        pictures[name] = drawing_of(term) + "\n"
        lines += ["", f"## {term.name}", "", f"![{term.name}]({folder}/{name})", "", f"{term.meaning} {term.more}"]
    return "\n".join(lines) + "\n", pictures


def _words(x: float, y: float, text: str, ink: str = INK, anchor: str = "middle") -> str:
    return label((x, y), text, size=12, ink=ink, anchor=anchor)


def _upright(x: float, ink: str = INK, dash: str = "", top: float = 10.0, bottom: float = 76.0) -> str:
    return line((x, top), (x, bottom), ink=ink, dash=dash, width=1.6)


def _square(edges: Sequence[float], low: float = 66.0, high: float = 28.0, *, ink: str = INK, dash: str = "") -> str:
    """A switching signal that begins low and changes at each edge."""
    points, level = [(8.0, low)], low
    for x in edges:
        points.append((x, level))
        level = high if level == low else low
        points.append((x, level))
    return poly([*points, (WIDE - 8, level)], ink=ink, dash=dash, width=2)


def _curve(value: Callable[[float], float], start: float, stop: float, *, ink: str = INK, width: float = 2.0) -> str:
    steps = 90
    xs = [start + (stop - start) * k / steps for k in range(steps + 1)]
    return poly([(x, value(x)) for x in xs], ink=ink, width=width)


def _across(start: float, end: float, y: float, ink: str = OFF) -> str:
    way = 1.0 if end > start else -1.0
    head = path(f"M{end:.1f} {y:.1f}l{-way * 8:.1f} -4v8z", fill=ink, width=0)
    return line((start, y), (end - way * 6, y), ink=ink, width=2) + head


def _span(start: float, end: float, y: float, ink: str = MAIN) -> str:
    ends = line((start, y - 5), (start, y + 5), ink=ink, width=1.6) + line(
        (end, y - 5), (end, y + 5), ink=ink, width=1.6
    )
    return ends + line((start, y), (end, y), ink=ink, width=1.6)


def _ring(x: float, y: float, r: float, ink: str = INK, dash: str = "") -> str:
    return path(f"M{x - r:.1f} {y:.1f}a{r} {r} 0 1 0 {2 * r} 0a{r} {r} 0 1 0 {-2 * r} 0z", ink=ink, width=2, dash=dash)


def _dot(x: float, y: float, ink: str = OFF) -> str:
    return path(f"M{x - 4:.1f} {y:.1f}a4 4 0 1 0 8 0a4 4 0 1 0 -8 0z", fill=ink, width=0)


def _teeth(marked: int | None = None, gap: int = 14) -> _Pieces:
    """A wheel unrolled; the teeth at ``gap`` are missing."""
    pieces = [line((8, 62), (WIDE - 8, 62))]
    for k in range(24):
        if k in (gap, gap + 1):
            continue
        x = 14.0 + 12 * k
        pieces.append(line((x, 62), (x, 40), width=5 if k == marked else 3, ink=MAIN if k == marked else INK))
    return pieces


def _cycle() -> _Pieces:
    widths = {"compression": 90, "power": 60, "exhaust": 70, "intake": 60}
    pieces = [_span(10, 290, 80)]
    x = 10.0
    for name, width in widths.items():
        pieces.append(path(f"M{x} 24h{width}v26h-{width}z", width=1.4, ink=INK))
        pieces.append(label((x + width / 2, 41), name, size=11, anchor="middle", ink=INK))
        x += width
    return [*pieces, _words(85, 16, "one turn"), _words(225, 16, "second turn"), _words(150, 74, "720°", MAIN)]


def _crank_degree() -> _Pieces:
    return [
        _ring(80, 46, 22),
        _ring(220, 46, 32),
        line((80, 46), (80, 24), width=3, ink=MAIN),
        line((220, 46), (235, 18), width=3, ink=OFF),
        line((220, 46), (220, 14), width=1, dash="3 3"),
        _words(80, 88, "crank: 1 turn"),
        _words(220, 92, "cam: half a turn"),
    ]


def _tdc() -> _Pieces:
    return [
        _curve(lambda x: 72 - 54 * math.exp(-(((x - 90) / 26) ** 2)), 10, 290),
        _upright(90, MAIN),
        _upright(220, MAIN, "4 3"),
        _words(90, 90, "firing"),
        _words(220, 90, "gas exchange"),
    ]


def _gap() -> _Pieces:
    return [*_teeth(), path("M175 36h26v28h-26z", fill="none", ink=MAIN, width=2), _words(188, 26, "gap", MAIN)]


def _tooth() -> _Pieces:
    return [*_teeth(marked=6), _span(86, 98, 74), _words(92, 92, "6° of 360°", MAIN)]


def _index() -> _Pieces:
    return [
        *_teeth(gap=4),
        _upright(218, MAIN, "4 3", 10, 62),
        _words(218, 92, "TDC 1"),
        _span(86, 218, 76),
        _words(150, 30, "index", MAIN),
    ]


def _late() -> _Pieces:
    return [
        _square((90, 170), ink=SHADE, dash="4 3"),
        _square((125, 205)),
        _across(90, 125, 80),
        _words(150, 20, "late", OFF),
        _words(60, 92, "belongs here", SHADE),
        _words(190, 92, "stands here"),
    ]


def _edge() -> _Pieces:
    return [_square((80, 160, 230)), _ring(160, 47, 14, MAIN), _words(160, 90, "falls", MAIN), _words(80, 90, "rises")]


def _hall() -> _Pieces:
    return [_square((60, 100, 150, 190, 240)), _words(32, 24, "5 V"), _words(32, 84, "0.2 V", SHADE)]


def _inductive() -> _Pieces:
    return [
        line((8, 48), (292, 48), ink=SHADE, dash="4 3"),
        _curve(lambda x: 48 - 30 * math.sin((x - 10) / 22), 10, 290),
        _dot(10 + 22 * math.pi, 48),
        _words(94, 90, "read at this crossing", OFF),
    ]


def _sprocket(x: float, y: float, teeth: int, r: float) -> _Pieces:
    pieces = [_ring(x, y, r)]
    for k in range(teeth):
        a = 2 * math.pi * k / teeth
        inner, outer = r, r + 6
        start = (x + inner * math.cos(a), y + inner * math.sin(a))
        pieces.append(line(start, (x + outer * math.cos(a), y + outer * math.sin(a)), width=2.4))
    return pieces


def _pitch() -> _Pieces:
    a = 2 * math.pi / 14
    tip = (70 + 44 * math.cos(-a), 48 + 44 * math.sin(-a))
    return [
        *_sprocket(70, 48, 14, 28),
        line((70, 48), (114, 48), ink=MAIN, width=1.6),
        line((70, 48), tip, ink=MAIN, width=1.6),
        _words(180, 44, "360° / 21 teeth", MAIN),
        _words(180, 62, "= 17.1° of the crank", MAIN),
    ]


def _strands(slack: float, ink: str) -> _Pieces:
    return [
        _ring(50, 48, 14),
        _ring(240, 48, 28),
        line((52, 34), (236, 20), ink=MAIN, width=2.4),
        path(f"M52 62Q145 {72 + slack} 236 76", ink=ink, width=2.4),
    ]


def _stretch() -> _Pieces:
    return [*_strands(0, INK), _across(240, 262, 48), _words(140, 18, "longer", MAIN), _words(240, 92, "cam late", OFF)]


def _tensioner() -> _Pieces:
    return [
        *_strands(34, OFF),
        path("M136 66h16v24h-16z", fill=SHADE, width=0, ink=SHADE),
        _words(266, 92, "slack", OFF),
    ]


def _bar() -> _Pieces:
    return [path("M40 40h220v16h-220z", width=1.6), _words(40, 30, "stop"), _words(260, 30, "stop")]


def _park() -> _Pieces:
    return [*_bar(), path("M246 36h14v24h-14z", fill=MAIN, width=0), _words(240, 82, "rests here, pinned", MAIN)]


def _phaser() -> _Pieces:
    return [
        *_bar(),
        path("M130 36h14v24h-14z", fill=MAIN, width=0),
        _across(144, 200, 72, MAIN),
        _words(150, 92, "travel", MAIN),
    ]


def _hump() -> _Pieces:
    return [
        _curve(lambda x: 58 - 24 * abs(math.sin((x - 10) / 89.1 * math.pi * 1.27)), 10, 290),
        _span(10, 290, 78),
        _words(150, 94, "four in 720°", MAIN),
    ]


def _relative_compression() -> _Pieces:
    pieces = [line((20, 28), (280, 28), ink=SHADE, dash="4 3"), _words(264, 22, "90", SHADE)]
    for k, size in enumerate((54, 52, 30, 53)):
        ink = OFF if size < 40 else INK
        pieces.append(path(f"M{40 + 58 * k} {76 - size}h30v{size}h-30z", fill=ink, width=0))
        pieces.append(_words(55 + 58 * k, 92, str(k + 1), ink))
    return pieces


def _corner() -> _Pieces:
    return [
        poly([(10, 60), (110, 58), (200, 22), (290, 14)], width=2),
        line((110, 58), (290, 55), ink=SHADE, dash="4 3"),
        _dot(110, 58),
        _words(110, 86, "leaves the line here", OFF),
    ]


def _overlap() -> _Pieces:
    def lift(middle: float) -> Callable[[float], float]:
        return lambda x: 74 - max(0.0, 54 * math.cos((x - middle) / 92 * math.pi / 2))

    return [
        _curve(lift(96), 10, 188),
        _curve(lift(204), 112, 290, ink=MAIN),
        _upright(150, SHADE, "4 3"),
        _words(74, 92, "exhaust"),
        _words(226, 92, "intake", MAIN),
    ]


def _loss_angle() -> _Pieces:
    return [
        _curve(lambda x: 76 - 56 * math.exp(-(((x - 138) / 40) ** 2)), 10, 290),
        _upright(150, MAIN, "4 3", 8, 78),
        _upright(138, OFF, "", 14, 30),
        _words(176, 18, "TDC", MAIN),
        _words(104, 18, "peak", OFF),
    ]


def _leak_down() -> _Pieces:
    return [
        path("M110 20v60M190 20v60M110 20h80", width=2.4),
        path("M113 52h74v20h-74z", fill=SHADE, width=0),
        _across(40, 104, 32, MAIN),
        _across(196, 250, 26),
        _words(44, 22, "air", MAIN),
        _words(250, 46, "leaks", OFF),
    ]


def _wasted_spark() -> _Pieces:
    def bolt(x: float, ink: str) -> str:
        return path(f"M{x} 24l-9 22h8l-7 20l16 -26h-9l7 -16z", fill=ink, width=0)

    return [
        bolt(80, MAIN),
        bolt(220, SHADE),
        _span(10, 290, 78),
        _words(80, 94, "fires", MAIN),
        _words(220, 94, "wasted", SHADE),
    ]


def _dwell() -> _Pieces:
    return [
        poly([(10, 70), (90, 70), (200, 22), (204, 70), (290, 70)], width=2),
        _span(90, 202, 82),
        _words(146, 96, "dwell", MAIN),
        _words(228, 30, "spark", OFF),
    ]


def _clear_flood() -> _Pieces:
    return [
        path("M40 76L110 40", width=6, ink=INK),
        _words(76, 94, "pedal down"),
        path("M200 22h24v26l-12 18l-12 -18z", width=2),
        path("M188 18l48 56", width=3, ink=OFF),
        _words(212, 92, "no fuel", OFF),
    ]


def _half_width() -> _Pieces:
    return [
        _curve(lambda x: 62 - 44 * math.exp(-(((x - 150) / 34) ** 2)), 30, 270),
        _span(102, 198, 74),
        _words(150, 94, "95 in 100", MAIN),
        _upright(150, SHADE, "3 3", 18, 62),
    ]


def _known_good() -> _Pieces:
    return [
        _square((70, 140, 210), ink=SHADE, dash="4 3"),
        _square((78, 148, 218)),
        _words(150, 90, "dashed: known good", SHADE),
    ]


def _gate() -> _Pieces:
    pieces: _Pieces = []
    for k, name in enumerate(("no", "confirm first", "open up")):
        x = 8.0 + 96 * k
        here = k == 1
        pieces.append(path(f"M{x} 34h92v28h-92z", fill=MAIN if here else "none", width=1.4))
        pieces.append(_words(x + 46, 53, name, "var(--chakra-colors-on-petrol, #fff)" if here else INK))
    return pieces


_DRAWN: dict[str, Callable[[], _Pieces]] = {
    "cycle": _cycle,
    "crank_degree": _crank_degree,
    "tdc": _tdc,
    "gap": _gap,
    "tooth": _tooth,
    "index": _index,
    "late": _late,
    "edge": _edge,
    "hall": _hall,
    "inductive": _inductive,
    "pitch": _pitch,
    "stretch": _stretch,
    "tensioner": _tensioner,
    "park": _park,
    "phaser": _phaser,
    "hump": _hump,
    "relative_compression": _relative_compression,
    "corner": _corner,
    "overlap": _overlap,
    "loss_angle": _loss_angle,
    "leak_down": _leak_down,
    "wasted_spark": _wasted_spark,
    "dwell": _dwell,
    "clear_flood": _clear_flood,
    "half_width": _half_width,
    "known_good": _known_good,
    "gate": _gate,
}
