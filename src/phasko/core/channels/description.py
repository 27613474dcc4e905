"""From proposed roles to a capture description that a person then confirms or changes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from phasko.core.channels.proposed import RoleProposal
from phasko.core.documents.capture import CaptureDescription
from phasko.core.signals.scaling import preset

__all__ = ["proposed_description"]


def proposed_description(
    proposals: Sequence[RoleProposal], units: Mapping[str, str], data_name: str, interval_s: float | None
) -> CaptureDescription:
    """Every column with its proposed role; a current clamp in volts gets the usual 1 mV/A. ``interval_s`` where the
    file itself does not tell it."""
    channels: list[dict[str, Any]] = []
    for one in proposals:
        unit = units.get(one.column, "") or "V"
        channel: dict[str, Any] = {"column": one.column, "role": one.role, "unit": unit}
        channel |= {"cam": one.cam, "wheel": one.wheel, "cylinder": one.cylinder, "signal": one.signal}
        if one.role == "starter_current" and unit in ("V", "mV"):
            line = preset("clamp_1mv").line
            channel |= {"scale": line.scale * (1e-3 if unit == "mV" else 1.0), "scaled_unit": line.unit}
        if one.role == "cylinder_pressure":
            channel |= {"cylinder": one.cylinder or 1, "reference": "gauge"}
        channels.append({key: value for key, value in channel.items() if value is not None})
    document = {"schema": "phasko.capture/1", "data": data_name, "channels": channels, "interval_s": interval_s}
    return CaptureDescription.model_validate({key: value for key, value in document.items() if value is not None})
