"""Passphrase, sessions, other sites' pages, other hosts, huge uploads."""

from pathlib import Path

import pytest

from phasko.core.errors import RefusedError
from phasko.web.guard import COOKIE, TRIES, is_loopback
from phasko.web.serving import PASSPHRASE_VARIABLE, open_door, reachable, serve, store_passphrase
from tests.web.caller import Caller

GOOD = {"passphrase": "tide and rope"}
FIELDS = {"description": ("a.capture.json", b"{}"), "data": ("a.csv", b"x")}


def test_without_a_passphrase_the_loopback_is_open(call: Caller) -> None:
    assert call("GET", "/api/session").json() == {"passphrase_needed": False, "signed_in": True, "version": "0.2.0"}


def test_behind_a_passphrase_nothing_is_shown(guarded: Caller) -> None:
    assert guarded("GET", "/api/jobs").status_code == 401
    assert guarded("GET", "/api/openapi.json").status_code == 401
    assert guarded("GET", "/api/session").json()["signed_in"] is False


def test_signing_in_and_out(guarded: Caller) -> None:
    answer = guarded("POST", "/api/session", json=GOOD)
    cookie = answer.headers["set-cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=strict" in cookie
    assert guarded("GET", "/api/jobs").status_code == 200
    token = guarded.cookies[COOKIE]
    guarded("DELETE", "/api/session")
    guarded.cookies.set(COOKIE, token, domain="127.0.0.1")
    assert guarded("GET", "/api/jobs").status_code == 401


def test_over_tls_the_cookie_never_travels_in_the_open(guarded: Caller) -> None:
    guarded._base_url = "https://bench.island:8765"
    assert "Secure" in guarded("POST", "/api/session", json=GOOD).headers["set-cookie"]


def test_a_made_up_session_does_not_pass(guarded: Caller) -> None:
    guarded.cookies.set(COOKIE, "x" * 43)
    assert guarded("GET", "/api/jobs").status_code == 401


def test_guessing_is_slowed(guarded: Caller) -> None:
    for _ in range(TRIES):
        assert guarded("POST", "/api/session", json={"passphrase": "guess"}).status_code == 403
    last = guarded("POST", "/api/session", json=GOOD)
    assert last.status_code == 403
    assert "Too many" in last.json()["what"]


def test_another_sites_page_may_not_write(call: Caller) -> None:
    refused = call("POST", "/api/jobs", json={}, headers={"origin": "http://elsewhere.example"})
    assert refused.status_code == 403
    own = call("POST", "/api/jobs", json={}, headers={"origin": "http://127.0.0.1:8765"})
    assert own.status_code == 422


def test_another_hosts_name_is_not_answered(call: Caller) -> None:
    assert call("GET", "/api/jobs", headers={"host": "rebound.example"}).status_code == 421
    assert call("GET", "/api/jobs", headers={"host": "127.0.0.1.rebound.example:8765"}).status_code == 421
    assert call("GET", "/api/jobs", headers={"host": "localhost:8765"}).status_code == 200


def test_a_huge_upload_is_refused_before_it_is_read(call: Caller) -> None:
    answer = call("POST", "/api/jobs/1/captures", files=FIELDS, headers={"content-length": str(50 << 20)})
    assert answer.status_code == 413
    assert "at most 40 MiB" in answer.json()["what"]


@pytest.mark.parametrize(
    ("host", "loopback"),
    [
        ("127.0.0.1", True),
        ("127.8.0.1", True),
        ("localhost", True),
        ("::1", True),
        ("0.0.0.0", False),
        ("127.0.0.1.elsewhere.example", False),
        ("127.elsewhere.example", False),
        ("127.1", False),
        ("localhost.elsewhere.example", False),
        ("", False),
    ],
)
def test_loopback(host: str, loopback: bool) -> None:
    assert is_loopback(host) is loopback


def test_off_loopback_needs_a_passphrase(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv(PASSPHRASE_VARIABLE, raising=False)
    with pytest.raises(RefusedError, match="no passphrase is set"):
        serve(host="0.0.0.0", port=1, data=tmp_path, demo=False, certificate=None, key=None)
    store_passphrase(tmp_path, "tide and rope")
    door = open_door("0.0.0.0", tmp_path)
    assert door.closed
    assert not door.loopback_only
    assert "tide" not in (tmp_path / "passphrase.argon2").read_text()
    assert door.admits(door.sign_in("tide and rope"))


def test_a_short_passphrase_is_none(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv(PASSPHRASE_VARIABLE, "short")
    with pytest.raises(RefusedError, match="at least 8"):
        open_door("0.0.0.0", tmp_path)


def test_the_address_that_is_printed_can_be_reached() -> None:
    """0.0.0.0 is every address of the machine, and none that a browser can open."""
    assert reachable("127.0.0.1") == ["127.0.0.1"]
    assert reachable("bench.island") == ["bench.island"]
    for unspecified in ("0.0.0.0", "::"):
        found = reachable(unspecified)
        assert found[0] == "127.0.0.1"
        assert not {"0.0.0.0", "::"} & set(found)
