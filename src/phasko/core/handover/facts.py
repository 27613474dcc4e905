"""What a hand-over is made from, and which of a job's two engines it is about: the one that came."""

from __future__ import annotations

from dataclasses import dataclass, field

from phasko.core.documents.analysis import Analysis, CaptureResult, Verdict
from phasko.core.documents.capture import CaptureDescription
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.job import JobDocument
from phasko.core.handover.document import Head, PhotoLine

__all__ = ["Facts"]


@dataclass(frozen=True, slots=True, eq=False)
class Facts:
    """One job: its result, profile and document; what is said of each capture, in the order of the result's; the head
    of the page and the photos. ``now``: the moment at which it is made, in words."""

    analysis: Analysis
    profile: EngineProfile
    told: JobDocument
    described: tuple[CaptureDescription, ...]
    head: Head
    photos: tuple[PhotoLine, ...] = field(default=())

    @property
    def verdict(self) -> Verdict:
        """The call that the document proves: of the engine as it came, where anything was measured or seen of it."""
        before = self.analysis.before_repair
        return before.verdict if before is not None and before.verdict.measured else self.analysis.verdict

    @property
    def repaired(self) -> bool:
        """Whether anything is known from after a repair besides the engine as it came."""
        before = self.analysis.before_repair
        return before is not None and before.verdict.measured

    @property
    def captures(self) -> list[tuple[CaptureResult, CaptureDescription]]:
        """The captures that the call rests on."""
        every = list(zip(self.analysis.captures, self.described, strict=True))
        return [pair for pair in every if pair[1].repair != "after"] if self.repaired else every

    @property
    def finding(self) -> tuple[str, str]:
        """The measurement in a sentence, and what stands under it."""
        found = self.analysis.finding
        before = self.analysis.before_repair
        if self.repaired and before is not None and before.finding is not None:
            own = next((c.finding for c, _ in self.captures if c.finding and c.finding.text == before.finding), None)
            return before.finding, own.detail if own is not None else ""
        return (found.text, found.detail) if found is not None else ("", "")
