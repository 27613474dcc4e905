"""Analysing one job from files, without a store."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from pathlib import Path

from phasko.core.analyse import Beside, HashedCapture, analyse_job
from phasko.core.documents import Analysis, EngineProfile, parse_document
from phasko.core.documents.job import JobDocument
from phasko.core.errors import DataError, RefusedError
from phasko.formats import read_capture, read_capture_files

__all__ = ["analyse_files"]


def analyse_files(
    capture_paths: Sequence[Path],
    engine_path: Path,
    reference_paths: Sequence[Path] = (),
    job_path: Path | None = None,
) -> Analysis:
    """The result of one job from files. Raises DocumentError, DataError for an input that cannot be read at all, and
    RefusedError without captures and without a job document."""
    if not capture_paths and job_path is None:
        raise RefusedError("There is nothing to analyse", remedy="Give captures, a job document, or both.")
    engine = _bytes(engine_path)
    profile = parse_document(engine, EngineProfile, engine_path.name).moved_with_index()
    hashed = []
    for path in capture_paths:
        files = read_capture_files(path)
        hashed.append(HashedCapture(read_capture(files), files.sha256))
    references = [read_capture(read_capture_files(path)) for path in reference_paths]
    beside = _beside(job_path, profile) if job_path is not None else None
    return analyse_job(hashed, profile, hashlib.sha256(engine).hexdigest(), references, beside)


def _beside(path: Path, profile: EngineProfile) -> Beside:
    """What the job document knows, with its road tests read from beside it."""
    from phasko.core.call.told_words import check_told
    from phasko.core.road import judge_road_test
    from phasko.formats import read_scan_log

    told = parse_document(_bytes(path), JobDocument, path.name)
    check_told(told, profile, path.name)
    drives = tuple(
        judge_road_test(read_scan_log(_bytes(path.parent / name), name), name, profile) for name in told.road_tests
    )
    return Beside(roads=drives, told=told)


def _bytes(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError as error:
        raise DataError(f"cannot be opened: {error.strerror}", place=path.name) from error
