"""Pictures of the lessons: what the machine reads off them, by ways of its own, is what the lesson holds for true."""

import pytest

from phasko.bench.lessons import LESSON_PICTURES, LessonPicture, lesson_picture
from phasko.bench.pool import pool_engine
from phasko.core.analyse import HashedCapture, analyse_job
from phasko.core.documents import Analysis
from phasko.core.practice.lessons import LESSONS
from phasko.core.signals.recording import Recording
from phasko.formats import CaptureFiles, read_capture

OWN_PLACES = ("src/phasko/jobs/practice",)

SEED = 11


def read(picture: LessonPicture) -> Recording:
    described, data = f"{picture.name}.capture.json", f"{picture.name}.csv"
    return read_capture(CaptureFiles(described, picture.files[described], data, picture.files[data]))


def analysed(lesson: str, seed: int = SEED) -> tuple[LessonPicture, Analysis]:
    picture = lesson_picture(lesson, seed)
    return picture, analyse_job([HashedCapture(read(picture), "0" * 64)], pool_engine(picture.engine), "0" * 64)


@pytest.mark.exhaustive
@pytest.mark.parametrize("lesson", LESSONS, ids=lambda one: one.id)
def test_every_lesson_has_its_picture_its_truth_and_its_words(lesson: object) -> None:
    picture = lesson_picture(lesson.id, SEED)  # type: ignore[attr-defined]
    assert set(picture.truth) == {one.id for one in lesson.asked}  # type: ignore[attr-defined]
    told = [*lesson.text, *lesson.how, lesson.after, *(one.words for one in lesson.asked)]  # type: ignore[attr-defined]
    assert all("{" not in words.format(**picture.words) for words in told)


@pytest.mark.exhaustive
def test_there_are_as_many_pictures_as_lessons_in_the_order_of_the_trade() -> None:
    assert list(LESSON_PICTURES) == [one.id for one in LESSONS]
    assert 10 <= len(LESSONS) <= 15


@pytest.mark.exhaustive
@pytest.mark.parametrize("seed", [11, 12, 13])
def test_teeth_from_the_gap(seed: int) -> None:
    picture, found = analysed("teeth", seed)
    cam = next(one for one in found.captures[0].cams if one.cam == picture.words["cam"])
    assert any(abs(edge.teeth_from_gap - picture.truth["teeth"]) < 0.1 for edge in cam.edges if edge.teeth_from_gap)


@pytest.mark.exhaustive
def test_pitches() -> None:
    picture, found = analysed("pitch")
    cam = found.captures[0].cams[0]
    assert cam.offset_deg == pytest.approx(picture.truth["degrees"], abs=0.5)
    assert cam.pitches == pytest.approx(picture.truth["pitches"], abs=0.03)


@pytest.mark.exhaustive
def test_the_wheel_that_moved() -> None:
    picture, found = analysed("wheel_or_chain")
    assert found.captures[0].crank.index_offset_deg == pytest.approx(picture.truth["wheel"], abs=2.0)


@pytest.mark.exhaustive
def test_the_weak_cylinder_is_the_one_that_compresses_least() -> None:
    picture, found = analysed("weak_cylinder")
    compression = found.captures[0].compression
    assert compression is not None
    lowest = min(compression.cylinders, key=lambda one: one.relative if one.relative is not None else 9.0)
    assert lowest.cylinder == picture.truth["cylinder"]


@pytest.mark.exhaustive
@pytest.mark.parametrize("seed", range(11, 16))
def test_humps_in_a_cycle(seed: int) -> None:
    picture, found = analysed("humps", seed)
    compression = found.captures[0].compression
    assert compression is not None
    assert compression.events_per_cycle == picture.truth["humps"]


@pytest.mark.exhaustive
def test_either_bank() -> None:
    picture, found = analysed("good_bank")
    offsets = {one.cam: one.offset_deg for one in found.captures[0].cams if one.reference == "profile"}
    for side in ("first", "second"):
        assert offsets[picture.words[side]] == pytest.approx(picture.truth[side], abs=0.5)


@pytest.mark.exhaustive
def test_how_far_the_phaser_went() -> None:
    picture, found = analysed("phaser")
    swept = found.captures[0].phasers[0].swept_deg
    assert swept is not None
    assert abs(swept) == pytest.approx(picture.truth["swept"], abs=1.0)


@pytest.mark.exhaustive
def test_the_corner_and_the_peak() -> None:
    picture, found = analysed("corner")
    felt = found.captures[0].cylinder_pressure[0]
    assert felt.peak_bar == pytest.approx(picture.truth["peak"], abs=0.2)
    assert felt.exhaust_open_deg == pytest.approx(picture.truth["opens"], abs=5.0)
