"""Carrying jobs from one workshop's file to another as open files: written whole, read back whole."""

from phasko.jobs.carrying.giving import export_jobs
from phasko.jobs.carrying.taking import TakenIn, import_jobs

__all__ = ["TakenIn", "export_jobs", "import_jobs"]
