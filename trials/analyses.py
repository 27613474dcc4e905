"""Jobs analysed once: the core's own function, with its results kept on disk."""

from __future__ import annotations

from phasko.core.analyse import analyse_job as _analyse_job
from trials.cache import cached_on_disk

__all__ = ["analyse_job"]

analyse_job = cached_on_disk(_analyse_job)
