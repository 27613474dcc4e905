"""A figure from elsewhere as a crank angle: counted in teeth, between two pulses, in degrees, or read off a picture."""

from __future__ import annotations

import math
from dataclasses import dataclass

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile, Wheel
from phasko.core.documents.job import Figure
from phasko.core.errors import RefusedError

__all__ = ["FigurePlace", "figure_place", "figure_words"]


@dataclass(frozen=True, slots=True)
class FigurePlace:
    """Where the figure puts the edge: degrees after tooth 1, modulo a turn, and the half width of that."""

    after_tooth_1_deg: float
    u95_deg: float


def figure_place(figure: Figure, profile: EngineProfile) -> FigurePlace:
    """The figure as an angle. Tooth 1 is the first after the gap and stands at 0.00. Raises RefusedError where the
    profile lacks what the figure counts by: its wheel, its index, or a regular pitch."""
    wheel = profile.crank.wheel
    if figure.form in ("teeth", "between") and wheel is None:
        raise RefusedError(
            "Teeth cannot be counted: the profile does not describe the crank wheel",
            kept="The figure is kept",
            remedy="Give the wheel, or the figure in degrees.",
        )
    if figure.form == "degrees":
        return FigurePlace(figure.value % 360.0, _last_place(figure))
    if figure.form == "tdc_degrees":
        if profile.crank.index_deg is None:
            raise RefusedError(
                "Degrees after TDC cannot be compared: the profile has no index",
                kept="The figure is kept",
                remedy="Give the index, or the figure in degrees after tooth 1.",
            )
        return FigurePlace((figure.value - profile.crank.index_deg) % 360.0, _last_place(figure))
    if figure.form == "picture":
        return _off_picture(figure)
    assert wheel is not None
    return _by_between(figure, wheel) if figure.form == "between" else _by_teeth(figure, wheel)


def _by_teeth(figure: Figure, wheel: Wheel) -> FigurePlace:
    """Missing teeth counted: every slot is one tooth. Not counted: only teeth that are there, so that the step over a
    gap is one tooth as any other."""
    sign = 1.0 if figure.side == "after" else -1.0
    if figure.counted:
        pitch = wheel.pitch_deg
        if pitch is None:
            raise RefusedError(
                "Missing teeth cannot be counted on a wheel without a regular pitch",
                kept="The figure is kept",
                remedy="Count only the teeth that are there, or give degrees.",
            )
        return FigurePlace(sign * figure.value * pitch % 360.0, _last_place(figure) * pitch)
    angles = wheel.angles_deg
    at = _at_tooth(sign * figure.value, wheel)
    return FigurePlace(at % 360.0, _last_place(figure) * 360.0 / len(angles))


def _by_between(figure: Figure, wheel: Wheel) -> FigurePlace:
    """Tooth number and part of the way to the next one: 1.5 is the middle between tooth 1 and tooth 2."""
    at = _at_tooth(figure.value - 1.0, wheel)
    width = _at_tooth(math.floor(figure.value), wheel) - _at_tooth(math.floor(figure.value) - 1.0, wheel)
    return FigurePlace(at % 360.0, _last_place(figure) * width)


def _at_tooth(count: float, wheel: Wheel) -> float:
    """Degrees from tooth 1 to the tooth ``count`` places on among those that are there; parts lie between two."""
    angles, teeth = wheel.angles_deg, len(wheel.angles_deg)
    whole = math.floor(count)

    def at(number: int) -> float:
        turns, place = divmod(number, teeth)
        return 360.0 * turns + float(angles[place]) - float(angles[0])

    return at(whole) + (count - whole) * (at(whole + 1) - at(whole))


def _off_picture(figure: Figure) -> FigurePlace:
    """Share of the way from one gap to the next. Each of the three places is off by its reading, and the crank does not
    turn evenly between them: the error of a share s is the reading times sqrt(1 + s^2 + (1 - s)^2) over the way."""
    assert figure.from_mark is not None and figure.to_mark is not None and figure.reading is not None
    way = figure.to_mark - figure.from_mark
    share = (figure.value - figure.from_mark) / way
    inside = share % (1.0 / figure.turns) * figure.turns
    angle = share * 360.0 * figure.turns
    read = 360.0 * figure.turns * figure.reading / abs(way) * math.sqrt(1.0 + share**2 + (1.0 - share) ** 2)
    # Between two gaps a cranking engine runs ahead and falls behind; at the gaps themselves it is right.
    swing = numbers.PICTURE_SWING_U95_DEG.value * min(1.0, 6.0 * min(inside, 1.0 - inside))
    return FigurePlace(angle % 360.0, math.hypot(read, swing))


def _last_place(figure: Figure) -> float:
    """The half width that was given, else half of the last place of the figure, in its own unit."""
    if figure.u95 is not None:
        return figure.u95
    text = f"{figure.value:.6f}".rstrip("0").rstrip(".")
    places = len(text.partition(".")[2])
    return 0.5 * 10.0**-places


def figure_words(figure: Figure) -> str:
    """The figure as a person would say it."""
    value = f"{figure.value:g}"
    if figure.form == "teeth":
        missing = "missing ones counted" if figure.counted else "missing ones left out"
        said = f"{value} wheel teeth {figure.side} tooth 1, {missing}"
    elif figure.form == "between":
        said = f"at tooth {value}"
    elif figure.form == "picture":
        said = "read off a picture"
    else:
        said = f"{value}° after {'tooth 1' if figure.form == 'degrees' else 'TDC 1'}"
    return f"{said} ({figure.source})" if figure.source else said
