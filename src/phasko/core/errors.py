"""Every error that Phasko raises on purpose.

PhaskoError
├── DocumentError      a profile, description or result document breaks its contract
├── DataError          a data file cannot be read as what it claims to be
├── NotFoundError      nothing is stored under the name or number that was asked for
├── ConflictError      the change contradicts what is stored already
├── OutdatedError      the change was made from a version that somebody has changed meanwhile
├── RefusedError       allowed only under a condition that is not met
├── DeviceError        an instrument (scope, scan tool) does not answer, is gone, or sends what cannot be read
└── StorageError       the workshop's file or its disk cannot be read or written
    └── DiskFullError  there is no room for more

What cannot be *measured* is no error: it is a ``Problem`` in the result, beside a ``null``.
"""

from __future__ import annotations

__all__ = [
    "ConflictError",
    "DataError",
    "DeviceError",
    "DiskFullError",
    "DocumentError",
    "NotFoundError",
    "OutdatedError",
    "PhaskoError",
    "RefusedError",
    "StorageError",
]


class PhaskoError(Exception):
    """Base of the family: says what happened, where, what was kept and what to do.

    ``place`` names the file, line or field; ``kept`` says what is still as it was; ``remedy`` the next step.
    """

    def __init__(self, what: str, *, place: str = "", kept: str = "", remedy: str = "") -> None:
        self.what = what
        self.place = place
        self.kept = kept
        self.remedy = remedy
        super().__init__(what)

    def __str__(self) -> str:
        return self.one_line()

    def one_line(self) -> str:
        """The whole message on one line, place first, as the command line prints it."""
        head = f"{self.place}: {self.what}" if self.place else self.what
        return " ".join(_sentence(part) for part in (head, self.kept, self.remedy) if part)


def _sentence(text: str) -> str:
    return text if text.endswith((".", "?", "!")) else f"{text}."


class DocumentError(PhaskoError):
    """A JSON document breaks the contract: unreadable, wrong schema, or fields that contradict each other."""


class DataError(PhaskoError):
    """A data file cannot be read: wrong format, wrong columns, text where a number belongs, truncated."""


class NotFoundError(PhaskoError):
    """Nothing is stored under that number."""


class ConflictError(PhaskoError):
    """The change contradicts what is stored, for example the same capture twice in one job."""


class OutdatedError(PhaskoError):
    """Somebody has changed the same thing meanwhile; nothing of theirs is overwritten unseen. ``changed`` names the
    entries that differ from what the change was made from, ``version`` is the one that is stored now."""

    def __init__(self, what: str, *, changed: tuple[str, ...], version: int) -> None:
        super().__init__(
            what,
            kept="Theirs is stored, yours is not lost",
            remedy="Look at what they changed, then keep yours or theirs",
        )
        self.changed = changed
        self.version = version


class RefusedError(PhaskoError):
    """Refused until a condition is met, for example a network address without a passphrase."""


class DeviceError(PhaskoError):
    """An instrument does not answer, was unplugged, refuses, or sends what cannot be read."""


class StorageError(PhaskoError):
    """The workshop's file cannot be opened, read or written: rights, a damaged or foreign file, one of a newer
    version, a lock that is held by another program."""


class DiskFullError(StorageError):
    """There is no room on the disk; what was stored before is whole."""
