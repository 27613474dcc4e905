"""Photos: resized, upright, without the place where they were taken; what is no photo is refused."""

from __future__ import annotations

import io

import pytest
from PIL import Image

from phasko.core.errors import ConflictError, DataError, NotFoundError
from phasko.jobs.handing_over.photos import (
    add_photo,
    caption_photo,
    list_photos,
    photo_bytes,
    photo_file,
    remove_photo,
    restore_photo,
)
from phasko.jobs.opening import JobSummary
from phasko.store import Database

_ORIENTATION, _GPS, _MAKER = 0x0112, 0x8825, 0x010F


def picture(form: str = "JPEG", size: tuple[int, int] = (64, 32), where: bool = False, turned: int = 1) -> bytes:
    """Left half red, right half blue."""
    made = Image.new("RGB", size, "red")
    made.paste("blue", (size[0] // 2, 0, size[0], size[1]))
    exif = Image.Exif()
    if where:
        exif[_MAKER] = "Secretcam"
        exif[_ORIENTATION] = turned
        exif.get_ifd(_GPS).update({1: "N", 2: (54.0, 30.0, 12.0), 3: "W", 4: (3.0, 15.0, 7.0)})
    sink = io.BytesIO()
    made.save(sink, form, exif=exif) if where else made.save(sink, form)
    return sink.getvalue()


def opened(data: bytes) -> Image.Image:
    return Image.open(io.BytesIO(data))


@pytest.mark.parametrize("form", ["JPEG", "PNG", "WEBP"])
def test_nothing_that_the_camera_wrote_is_kept(form: str) -> None:
    sent = picture(form, where=True)
    assert opened(sent).getexif().get_ifd(_GPS)
    taken = photo_bytes(sent, "photo")
    kept = opened(taken.data)
    assert (kept.format, dict(kept.getexif()), kept.info.get("exif")) == ("JPEG", {}, None)
    assert b"Secretcam" not in taken.data


def test_it_stands_upright_without_its_note_of_how_it_was_held() -> None:
    """Orientation 6: the camera was turned, the picture is to be turned clockwise (EXIF 2.32, tag 274)."""
    taken = photo_bytes(picture(size=(64, 32), where=True, turned=6), "photo")
    kept = opened(taken.data)
    assert (taken.width, taken.height) == kept.size == (32, 64)
    top, bottom = kept.getpixel((16, 8)), kept.getpixel((16, 56))
    assert isinstance(top, tuple) and isinstance(bottom, tuple)
    assert (top[0] > 200, top[2] < 60) == (bottom[2] > 200, bottom[0] < 60) == (True, True)


def test_a_large_one_is_made_smaller_and_a_small_one_is_not() -> None:
    assert max(opened(photo_bytes(picture(size=(4000, 1000)), "p").data).size) == 1600
    assert opened(photo_bytes(picture(size=(60, 40)), "p").data).size == (60, 40)


def test_what_is_see_through_stands_on_white() -> None:
    sink = io.BytesIO()
    Image.new("RGBA", (20, 20), (0, 0, 0, 0)).save(sink, "PNG")
    assert opened(photo_bytes(sink.getvalue(), "p").data).getpixel((10, 10)) == (255, 255, 255)


def gif() -> bytes:
    return picture("GIF")


@pytest.mark.parametrize(
    "sent",
    [b"", b"no picture", picture()[:200], picture("PNG")[:60], gif(), b"<svg xmlns='http://www.w3.org/2000/svg'/>"],
    ids=["empty", "text", "cut JPEG", "cut PNG", "GIF", "SVG"],
)
def test_what_is_no_photo_is_refused(sent: bytes) -> None:
    with pytest.raises(DataError, match="no photo"):
        photo_bytes(sent, "photo.jpg")


def test_one_that_unpacks_to_too_much_is_refused() -> None:
    sink = io.BytesIO()
    Image.new("1", (12_000, 12_000)).save(sink, "PNG")
    assert len(sink.getvalue()) < 100_000
    with pytest.raises(DataError, match="pixels"):
        photo_bytes(sink.getvalue(), "bomb.png")


def test_kept_captioned_taken_out_and_brought_back(database: Database, job: JobSummary) -> None:
    stored = add_photo(database, job.id, "look", " the mark ", "mark.png", picture("PNG"))
    assert (stored.station, stored.caption, stored.width) == ("look", "the mark", 64)
    with pytest.raises(ConflictError, match="already"):
        add_photo(database, job.id, "call", "", "again.png", picture("PNG"))
    assert caption_photo(database, stored.id, "one tooth late").caption == "one tooth late"
    remove_photo(database, stored.id)
    assert list_photos(database, job.id) == []
    restore_photo(database, stored.id)
    assert [one.id for one in list_photos(database, job.id)] == [stored.id]
    assert opened(photo_file(database, stored.id)).size == (64, 32)
    with pytest.raises(NotFoundError):
        photo_file(database, 99)
