"""What a code's status and the lamp mean, in plain words."""

from __future__ import annotations

from phasko.core.documents.job import Code, Lamp

__all__ = ["lamp_words", "status_words"]

_STATUS = {
    "current": "The fault is there now.",
    "pending": "Seen once, in this drive or the last. Many faults need two drives in a row with it before the code is "
    "stored and the lamp lights; one drive without it takes the code away.",
    "stored": "Confirmed: seen in two drives in a row, or so grave that one was enough. It stays until it is cleared, "
    "or about forty warm drives long without the fault.",
    "history": "It was there once and is not now. The lamp goes out after three drives without the fault; the code "
    "stays longer.",
}
"""Two-trip logic of the on-board diagnosis (SAE J1979 / J2012 and 40 CFR 86.1806, from memory)."""


def status_words(code: Code) -> str:
    """What the status of a code means, and whether it came back after clearing."""
    said = _STATUS[code.status]
    if code.returned is True:
        return f"{said} It came back after clearing: the fault is real."
    if code.returned is False:
        return f"{said} It did not come back after clearing; some need two drives before they do."
    return said


_LAMP = {
    "on": "The lamp is on: at least one fault is confirmed.",
    "flashing": "A flashing lamp: misfires that can ruin the catalyst happen now. Do not drive on under load.",
    "off": "The lamp is off. Pending codes do not light it, and codes of other systems may not either.",
}


def lamp_words(lamp: Lamp | None) -> str | None:
    """What the lamp says; ``None`` where nobody looked."""
    return None if lamp is None else _LAMP[lamp]
