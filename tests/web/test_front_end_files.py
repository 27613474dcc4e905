"""The built front end as the server hands it out: nothing from elsewhere, nothing stale."""

from __future__ import annotations

import re

import pytest

from phasko.web.app import STATIC
from tests.web.caller import Caller


@pytest.fixture
def page(call: Caller) -> str:
    answer = call("GET", "/")
    assert answer.status_code == 200
    assert answer.headers["cache-control"] == "no-cache"
    return answer.text


def test_every_file_of_the_page_is_there(call: Caller, page: str) -> None:
    named = re.findall(r'(?:src|href)="(/assets/[^"]+)"', page)
    assert len(named) >= 3
    for address in named:
        assert call("GET", address).status_code == 200, address


def test_nothing_is_fetched_from_elsewhere(page: str) -> None:
    assert "http://" not in page
    assert "https://" not in page
    for sheet in (STATIC / "assets").glob("*.css"):
        assert not re.findall(r"url\((?:https?:)?//", sheet.read_text(encoding="utf-8")), sheet.name


def test_the_typeface_ships_with_it() -> None:
    fonts = list((STATIC / "assets").glob("atkinson-hyperlegible-next-*.woff2"))
    assert fonts
    assert all(font.read_bytes()[:4] == b"wOF2" for font in fonts)


def test_a_missing_file_is_not_a_screen(call: Caller) -> None:
    assert call("GET", "/assets/none.js").status_code == 404


@pytest.mark.parametrize("screen", ["/", "/jobs/1/phase", "/jobs/7/captures", "/anything"])
def test_every_screen_is_the_same_page(call: Caller, page: str, screen: str) -> None:
    assert call("GET", screen).text == page


def test_files_are_sent_packed_to_whoever_unpacks_and_are_kept_for_good(call: Caller, page: str) -> None:
    script = next(a for a in re.findall(r'src="(/assets/[^"]+\.js)"', page))
    plain = call("GET", script, headers={"accept-encoding": "identity"})
    packed = call("GET", script, headers={"accept-encoding": "gzip"})
    assert packed.content == plain.content, "unpacked by the caller"
    assert int(packed.headers["content-length"]) < 0.5 * int(plain.headers["content-length"])
    assert (packed.headers["content-encoding"], packed.headers["vary"]) == ("gzip", "accept-encoding")
    assert packed.headers["content-type"].startswith("text/javascript")
    assert "immutable" in plain.headers["cache-control"] and "content-encoding" not in plain.headers
    assert "immutable" not in call("GET", "/assets/none.js").headers.get("cache-control", "")
