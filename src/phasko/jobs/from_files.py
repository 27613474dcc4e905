"""Analysing one job from files, without a store."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from phasko.core.analyse import Beside, HashedCapture, analyse_job
from phasko.core.documents import Analysis, EngineProfile, parse_document
from phasko.core.documents.job import JobDocument
from phasko.core.errors import DataError, RefusedError
from phasko.formats import read_capture, read_capture_files

__all__ = ["ReadJob", "analyse_files", "read_job"]


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
    read = read_job(capture_paths, engine_path, job_path)
    references = [read_capture(read_capture_files(path)) for path in reference_paths]
    return analyse_job(read.captures, read.profile, read.engine_sha256, references, read.beside)


@dataclass(frozen=True, slots=True, eq=False)
class ReadJob:
    """A job as it was read from its files: the engine's profile with the hash of its file, the captures, and what the
    job document knows beside them."""

    profile: EngineProfile
    engine_sha256: str
    captures: tuple[HashedCapture, ...]
    beside: Beside | None


def read_job(capture_paths: Sequence[Path], engine_path: Path, job_path: Path | None = None) -> ReadJob:
    """A job from its files, nothing measured yet. Raises DocumentError, DataError for an input that cannot be read."""
    engine = _bytes(engine_path)
    profile = parse_document(engine, EngineProfile, engine_path.name).moved_with_index()
    hashed = []
    for path in capture_paths:
        files = read_capture_files(path)
        hashed.append(HashedCapture(read_capture(files), files.sha256))
    beside = _beside(job_path, profile) if job_path is not None else None
    return ReadJob(profile, hashlib.sha256(engine).hexdigest(), tuple(hashed), beside)


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
