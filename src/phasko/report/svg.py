"""Pieces of a drawing in black on white: text, lines, boxes, hatching. Numbers are pixels; nothing has a colour."""

from __future__ import annotations

from collections.abc import Iterable
from html import escape

__all__ = ["Drawing", "arrow", "box", "hatch", "label", "line", "path", "poly"]

FAMILY = "Hand-over, Atkinson Hyperlegible Next Variable, sans-serif"
INK = "#000"
GREY = "#555"


class Drawing:
    """Collects pieces and wraps them as one SVG of that size, with words for those who cannot see it."""

    def __init__(self, width: float, height: float, told: str) -> None:
        self.width, self.height, self.told = width, height, told
        self._pieces: list[str] = []

    def add(self, *pieces: str) -> None:
        self._pieces += pieces

    def svg(self) -> str:
        """The whole drawing."""
        told = escape(self.told, quote=True)
        head = (
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {self.width:g} {self.height:g}" '
            f'width="{self.width:g}" height="{self.height:g}" font-family="{FAMILY}" role="img" aria-label="{told}">'
        )
        return f"{head}{''.join(self._pieces)}</svg>"


def line(
    start: tuple[float, float], end: tuple[float, float], *, width: float = 1.0, dash: str = "", ink: str = INK
) -> str:
    """A straight line."""
    dashed = f' stroke-dasharray="{dash}"' if dash else ""
    return (
        f'<line x1="{start[0]:.1f}" y1="{start[1]:.1f}" x2="{end[0]:.1f}" y2="{end[1]:.1f}" stroke="{ink}" '
        f'stroke-width="{width:g}"{dashed}/>'
    )


def poly(points: Iterable[tuple[float, float]], *, width: float = 1.0, dash: str = "", ink: str = INK) -> str:
    """A line through points."""
    told = " ".join(f"{x:.1f},{y:.1f}" for x, y in points)
    dashed = f' stroke-dasharray="{dash}"' if dash else ""
    return f'<polyline points="{told}" fill="none" stroke="{ink}" stroke-width="{width:g}"{dashed}/>'


def path(told: str, *, fill: str = "none", width: float = 1.0, dash: str = "", ink: str = INK) -> str:
    """Any shape."""
    dashed = f' stroke-dasharray="{dash}"' if dash else ""
    return f'<path d="{told}" fill="{fill}" stroke="{ink}" stroke-width="{width:g}"{dashed}/>'


def box(corner: tuple[float, float], size: tuple[float, float], *, fill: str = "#fff", width: float = 1.0) -> str:
    """A box with slightly rounded corners."""
    return (
        f'<rect x="{corner[0]:.1f}" y="{corner[1]:.1f}" width="{size[0]:.1f}" height="{size[1]:.1f}" rx="2.5" '
        f'fill="{fill}" stroke="{INK}" stroke-width="{width:g}"/>'
    )


def label(
    at: tuple[float, float],
    text: str,
    *,
    size: float = 11.0,
    bold: bool = False,
    anchor: str = "start",
    ink: str = INK,
) -> str:
    """Words at a place."""
    weight = ' font-weight="700"' if bold else ""
    return (
        f'<text x="{at[0]:.1f}" y="{at[1]:.1f}" font-size="{size:g}"{weight} text-anchor="{anchor}" '
        f'fill="{ink}">{escape(text)}</text>'
    )


def hatch(corner: tuple[float, float], size: tuple[float, float], step: float = 5.0) -> str:
    """Slanted lines that fill a box; drawn one by one, so that every printer and fax shows them."""
    (x, y), (w, h) = corner, size
    parts = []
    offset = step
    while offset < w + h:
        x0, y0 = (x + offset, y) if offset <= w else (x + w, y + offset - w)
        x1, y1 = (x, y + offset) if offset <= h else (x + offset - h, y + h)
        parts.append(f"M{x0:.1f} {y0:.1f}L{x1:.1f} {y1:.1f}")
        offset += step
    return path("".join(parts), width=0.6, ink="#777")


def arrow(start: float, end: float, y: float) -> str:
    """From where something belongs to where it is; too short ones are left out."""
    long = abs(end - start)
    if long < 3.0:
        return ""
    way = 1.0 if end > start else -1.0
    head = min(6.0, long)
    shaft = line((start, y), (end - way * head * 0.7, y), width=1.6)
    return shaft + path(f"M{end:.1f} {y:.1f}l{-way * head:.1f} -3.4v6.8z", fill=INK, width=0)
