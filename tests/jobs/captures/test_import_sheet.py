"""A data file without a description: roles are proposed, a person confirms or changes them, and only then it counts."""

import json
from importlib import import_module
from pathlib import Path

import numpy as np
import pytest

from phasko.bench.probe import Probe
from phasko.core.documents.capture import Mark
from phasko.core.errors import ConflictError, DataError, DocumentError, NotFoundError, RefusedError
from phasko.formats import WRITTEN, Table
from phasko.jobs.analysing import analyse_stored_job, phase_strip
from phasko.jobs.captures import (
    MOST_CHANNELS,
    CaptureSetup,
    confirm_setup,
    import_capture,
    import_data_file,
    import_from_disk,
    import_sheet,
    list_captures,
    scale_presets,
    set_marks,
)
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import JobSummary, open_job
from phasko.jobs.progress import Progress, begin, look, stop
from phasko.store import Database, captures
from tests.builders import FOUR, bench_files, pool_engine, run_recording

PROBES = [Probe("crank"), Probe("cam", cam="B1I"), Probe("cam", cam="B1E"), Probe("starter_current")]


@pytest.fixture(scope="module")
def foreign() -> bytes:
    """What a scope exports: its own names, volts, no roles."""
    recording = run_recording(FOUR, PROBES, 61)[0]
    names = ("Ch 1", "Ch 2", "Ch 3", "Ch 4")
    columns = {name: channel.samples for name, channel in zip(names, recording.channels, strict=True)}
    csv = next(form for form in WRITTEN if form.name == "CSV")
    text = csv.write(Table(0.0, recording.interval_s, columns))
    return text.replace(b'"time_s"', b"Time", 1).replace(b"time_s", b"Time", 1)


def setup_of(database: Database, capture_id: int, **changes: object) -> CaptureSetup:
    sheet = import_sheet(database, capture_id)
    keep = ("column", "role", "cam", "wheel", "cylinder", "signal", "reference")
    channels = [
        {key: getattr(one.description, key) for key in keep} | changes.get(one.description.column, {})  # type: ignore[operator]
        for one in sheet.channels
    ]
    return CaptureSetup.model_validate({"condition": "cranking", "channels": channels})


def test_roles_are_proposed_with_their_reason(database: Database, job: JobSummary, foreign: bytes) -> None:
    stored = import_data_file(database, job.id, "scope 7.csv", foreign)
    sheet = import_sheet(database, stored.id)
    assert not stored.confirmed
    assert [(c.description.role, c.description.cam) for c in sheet.channels] == [
        ("crank", None),
        ("cam", "B1I"),
        ("cam", "B1E"),
        ("starter_current", None),
    ]
    assert all(channel.proposal for channel in sheet.channels)
    assert sheet.channels[3].description.scaled_unit == "A"
    assert any("'Time'" in note for note in sheet.notes)


def test_more_channels_than_anybody_could_name_are_refused_and_leave_nothing(
    database: Database, job: JobSummary
) -> None:
    """The limit itself is taken in."""

    def wide(channels: int) -> bytes:
        row = ",".join(["1"] * channels)
        return f"{','.join(f'c{k}' for k in range(channels))}\n{row}\n{row}\n{row}\n".encode()

    with pytest.raises(DataError, match=f"holds {MOST_CHANNELS + 1} channels"):
        import_data_file(database, job.id, "wide.csv", wide(MOST_CHANNELS + 1), 1e-5)
    assert list_captures(database, job.id) == []
    stored = import_data_file(database, job.id, "wide.csv", wide(MOST_CHANNELS), 1e-5)
    assert len(import_sheet(database, stored.id).channels) == MOST_CHANNELS


def test_nothing_is_measured_before_somebody_confirmed(database: Database, job: JobSummary, foreign: bytes) -> None:
    stored = import_data_file(database, job.id, "scope 7.csv", foreign)
    assert analyse_stored_job(database, job.id) is None
    confirmed = confirm_setup(database, stored.id, setup_of(database, stored.id))
    assert (confirmed.confirmed, confirmed.condition) == (True, "cranking")
    analysis = analyse_stored_job(database, job.id)
    assert analysis is not None
    assert {cam.cam for cam in analysis.analysis.captures[0].cams} == {"B1I", "B1E"}


@pytest.mark.parametrize(
    ("scale", "changes", "expected"),
    [
        ({"kind": "preset", "id": "clamp_1mv"}, {}, (1000.0, 0.0, "A")),
        ({"kind": "preset", "id": "clamp_10mv"}, {"turned": True}, (-100.0, 0.0, "A")),
        ({"kind": "preset", "id": "clamp_1mv"}, {"zero": 0.002}, (1000.0, -2.0, "A")),
        ({"kind": "preset", "id": "clamp_1mv"}, {"zero": 0.002, "turned": True}, (-1000.0, 2.0, "A")),
        ({"kind": "line", "scale": 50.0, "offset": 1.0, "unit": "A"}, {}, (50.0, 1.0, "A")),
        (
            {"kind": "two_points", "raw_1": 0.5, "value_1": 0.0, "raw_2": 4.5, "value_2": 34.5, "unit": "bar"},
            {},
            (8.625, -4.3125, "bar"),
        ),
    ],
)
def test_scales(
    database: Database,
    job: JobSummary,
    foreign: bytes,
    scale: dict[str, object],
    changes: dict[str, object],
    expected: tuple[float, float, str],
) -> None:
    stored = import_data_file(database, job.id, "scope 7.csv", foreign)
    confirm_setup(database, stored.id, setup_of(database, stored.id, **{"Ch 4": {"scale": scale, **changes}}))
    described = import_sheet(database, stored.id).channels[3].description
    assert (described.scale, described.offset, described.scaled_unit) == (
        pytest.approx(expected[0]),
        pytest.approx(expected[1]),
        expected[2],
    )


def test_a_changed_scale_changes_the_samples_that_are_read(database: Database, job: JobSummary, foreign: bytes) -> None:
    stored = import_data_file(database, job.id, "scope 7.csv", foreign)
    before = loaded(database, stored.id)
    confirm_setup(database, stored.id, setup_of(database, stored.id, **{"Ch 4": {"scale": None}}))
    np.testing.assert_allclose(loaded(database, stored.id) * 1000.0, before, rtol=1e-5, atol=1e-3)


def loaded(database: Database, capture_id: int) -> np.ndarray:
    with database.transaction() as session:
        return captures.load_recording(session, captures.get_capture(session, capture_id)).channels[3].samples


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"Ch 2": {"cam": None}}, "does not say which"),
        ({"Ch 4": {"scale": {"kind": "preset", "id": "none"}}}, "no preset 'none'"),
        (
            {
                "Ch 4": {
                    "scale": {"kind": "two_points", "raw_1": 1, "value_1": 0, "raw_2": 1, "value_2": 9, "unit": "A"}
                }
            },
            "must differ",
        ),
    ],
)
def test_a_sheet_that_lacks_something_changes_nothing(
    database: Database, job: JobSummary, foreign: bytes, change: dict[str, object], words: str
) -> None:
    stored = import_data_file(database, job.id, "scope 7.csv", foreign)
    with pytest.raises(DocumentError, match=words):
        confirm_setup(database, stored.id, setup_of(database, stored.id, **change))
    assert not list_captures(database, job.id)[0].confirmed


def test_recorded_after_the_repair_is_said_at_the_capture(database: Database, job: JobSummary, foreign: bytes) -> None:
    """Where two captures contradict each other this says which of them tells how the engine is now."""
    stored = import_data_file(database, job.id, "scope 7.csv", foreign)
    assert stored.repair == "before"
    setup = setup_of(database, stored.id).model_copy(update={"repair": "after"})
    assert confirm_setup(database, stored.id, setup).repair == "after"
    assert import_sheet(database, stored.id).capture.repair == "after"
    assert confirm_setup(database, stored.id, setup_of(database, stored.id)).repair == "before"


def test_a_column_that_is_not_there(database: Database, job: JobSummary, foreign: bytes) -> None:
    stored = import_data_file(database, job.id, "scope 7.csv", foreign)
    wrong = CaptureSetup.model_validate({"channels": [{"column": "Ch 9", "role": "crank"}]})
    with pytest.raises(NotFoundError, match="no column Ch 9"):
        confirm_setup(database, stored.id, wrong)


def test_a_file_without_time_asks_for_its_rate(database: Database, job: JobSummary) -> None:
    bare = b"A,B\n" + b"".join(b"%d,%d\n" % (k % 7, k % 3) for k in range(500))
    with pytest.raises(DataError, match="no time column"):
        import_data_file(database, job.id, "x.csv", bare)
    stored = import_data_file(database, job.id, "x.csv", bare, interval_s=1e-4)
    assert stored.sample_rate_hz == pytest.approx(10_000.0)
    with database.transaction() as session:
        assert json.loads(captures.get_capture(session, stored.id).description)["interval_s"] == 1e-4


def test_a_recording_is_known_again_by_its_content(database: Database, job: JobSummary, foreign: bytes) -> None:
    import_data_file(database, job.id, "scope 7.csv", foreign)
    with pytest.raises(ConflictError, match="already in the job, as scope 7"):
        import_data_file(database, job.id, "renamed.csv", foreign)
    files = bench_files()
    import_capture(database, job.id, files)
    with pytest.raises(ConflictError, match="already in the job"):
        import_data_file(database, job.id, "bare.csv", files.data)


@pytest.mark.parametrize("form", WRITTEN, ids=lambda f: f.name)
def test_what_was_written_here_needs_no_confirming(database: Database, job: JobSummary, form: object) -> None:
    recording = run_recording(FOUR, PROBES[:2], 62)[0]
    description = recording.description.model_dump_json(by_alias=True, exclude_none=True)
    columns = {channel.name: channel.samples for channel in recording.channels}
    data = form.write(Table(0.0, recording.interval_s, columns, {}, description))  # type: ignore[attr-defined]
    stored = import_data_file(database, job.id, "again.bin", data)
    assert stored.confirmed
    assert stored.channels == ["crank", "B1I"]


def test_from_this_machines_disk(database: Database, job: JobSummary, foreign: bytes, tmp_path: Path) -> None:
    path = tmp_path / "on disk.csv"
    path.write_bytes(foreign)
    stored = import_from_disk(database, job.id, path)
    assert stored.name == "on disk"
    (tmp_path / "empty.csv").write_bytes(b"")
    with pytest.raises(DataError, match="is empty"):
        import_from_disk(database, job.id, tmp_path / "empty.csv")
    with pytest.raises(DataError, match="cannot be opened"):
        import_from_disk(database, job.id, tmp_path / "none.csv")


class StopsAt(Progress):
    """Somebody presses cancel as soon as that stage is told."""

    def step(self, stage: str, share: float = 0.0) -> None:  # type: ignore[override]
        if stage == self.at and share >= 0.5:
            self.stop()
        super().step(stage, share)  # type: ignore[arg-type]

    at = "storing"


def test_cancelled_in_the_middle_nothing_is_stored(database: Database, job: JobSummary, foreign: bytes) -> None:
    with pytest.raises(RefusedError, match=r"cancelled\. The job is as it was"):
        import_data_file(database, job.id, "scope 7.csv", foreign, progress=StopsAt())
    assert list_captures(database, job.id) == []
    assert import_data_file(database, job.id, "scope 7.csv", foreign).id > 0


def test_progress_can_be_asked_for_by_name(database: Database, job: JobSummary, foreign: bytes) -> None:
    running = begin("one")
    assert look("one").stage == "reading"
    import_data_file(database, job.id, "scope 7.csv", foreign, progress=running)
    assert look("one").stage == "done"
    assert stop("one") is False
    with pytest.raises(NotFoundError):
        look("another")


def test_marks_are_kept_in_order_and_confirm_nothing(database: Database, job: JobSummary, foreign: bytes) -> None:
    stored = import_data_file(database, job.id, "scope 7.csv", foreign)
    set_marks(database, stored.id, [Mark(t_s=1.5, text="stumble"), Mark(t_s=0.5)])
    sheet = import_sheet(database, stored.id)
    assert [mark.t_s for mark in sheet.marks] == [0.5, 1.5]
    assert not sheet.capture.confirmed


def test_a_mark_has_no_channel_judged_again(
    database: Database, job: JobSummary, foreign: bytes, monkeypatch: pytest.MonkeyPatch
) -> None:
    stored = import_data_file(database, job.id, "scope 7.csv", foreign)
    before = import_sheet(database, stored.id)
    judged: list[int] = []
    monkeypatch.setattr(
        import_module("phasko.jobs.captures.import_sheet"), "judge_quality", lambda *_: judged.append(1)
    )
    set_marks(database, stored.id, [Mark(t_s=1.5, text="stumble")])
    after = import_sheet(database, stored.id)
    assert [mark.text for mark in after.marks] == ["stumble"]
    assert (after.channels, judged) == (before.channels, [])


def test_presets_name_their_role_and_unit() -> None:
    presets = scale_presets()
    assert {p.role for p in presets} >= {"starter_current", "cylinder_pressure"}
    assert all(p.unit for p in presets)


def test_cams_are_intake_or_exhaust_before_a_profile_lists_any(database: Database, foreign: bytes) -> None:
    unlisted = pool_engine(FOUR).model_copy(update={"cams": [], "drive": None})
    document = unlisted.model_dump_json(by_alias=True, exclude_none=True).encode()
    engine = save_engine(database, document, "bare.json")
    bare = open_job(database, vehicle="Skiff 4", make_model="", complaint="", codes=[], engine_id=engine.id)
    stored = import_data_file(database, bare.id, "scope 8.csv", foreign)
    sheet = import_sheet(database, stored.id)
    assert [(cam.id, cam.name) for cam in sheet.cams] == [
        ("B1I", "Intake cam"),
        ("B1E", "Exhaust cam"),
        ("CAM", "The only cam"),
    ]
    said = {"Ch 2": {"role": "cam", "cam": "B1I"}, "Ch 3": {"role": "cam", "cam": "B1E"}}
    confirm_setup(database, stored.id, setup_of(database, stored.id, **said))
    analysis = analyse_stored_job(database, bare.id)
    assert analysis is not None
    lanes = phase_strip(database, stored.id).lanes
    assert {lane.shaft for lane in lanes} == {"intake", "exhaust"}


def test_a_pressure_that_nobody_placed_asks_for_its_cylinder(database: Database, job: JobSummary) -> None:
    recording = run_recording(FOUR, [Probe("crank"), Probe("cylinder_pressure", cylinder=3)], 62)[0]
    columns = {f"Ch {k}": c.samples for k, c in enumerate(recording.channels, start=1)}
    csv = next(form for form in WRITTEN if form.name == "CSV")
    stored = import_data_file(database, job.id, "felt.csv", csv.write(Table(0.0, recording.interval_s, columns)))
    assert [c.asks_cylinder for c in import_sheet(database, stored.id).channels] == [False, True]
    confirm_setup(database, stored.id, setup_of(database, stored.id, **{"Ch 2": {"cylinder": 3}}))
    assert not any(c.asks_cylinder for c in import_sheet(database, stored.id).channels)
