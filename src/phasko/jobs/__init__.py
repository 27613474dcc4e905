"""The use cases: what a technician does with the workshop, each one function. Command line and web call these."""

from phasko.jobs.analysing import JobAnalysis, analyse_files, analyse_stored_job, phase_strip
from phasko.jobs.board import BoardRow, board
from phasko.jobs.demo import fill_demo
from phasko.jobs.importing import (
    ImportedCapture,
    import_capture,
    list_captures,
    original_file,
    remove_capture,
    restore_capture,
)
from phasko.jobs.opening import EngineSummary, JobSummary, engine_profile, engines, open_job, save_engine, show_job
from phasko.jobs.raw_trace import RawTrace, raw_trace

__all__ = [
    "BoardRow",
    "EngineSummary",
    "ImportedCapture",
    "JobAnalysis",
    "JobSummary",
    "RawTrace",
    "analyse_files",
    "analyse_stored_job",
    "board",
    "engine_profile",
    "engines",
    "fill_demo",
    "import_capture",
    "list_captures",
    "open_job",
    "original_file",
    "phase_strip",
    "raw_trace",
    "remove_capture",
    "restore_capture",
    "save_engine",
    "show_job",
]
