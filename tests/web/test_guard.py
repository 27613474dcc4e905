"""Passphrase, sessions, other sites' pages, other hosts, huge uploads."""

import socket
from collections.abc import AsyncIterator
from contextlib import closing
from pathlib import Path

import pytest
from argon2 import PasswordHasher

from phasko import __version__
from phasko.code_hash import SHORT, code_hash
from phasko.core.errors import RefusedError
from phasko.keeping.passphrases import check_passphrase
from phasko.keeping.people import Account
from phasko.store import Database
from phasko.web.door import TRIES, Door, is_loopback
from phasko.web.guard import cookie_name
from phasko.web.serving import PASSPHRASE_VARIABLE, Serving, _listening, open_door, reachable, serve, store_passphrase
from tests.web.caller import Caller

COOKIE = cookie_name("http")
QUICK = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)
GOOD = {"passphrase": "tide and rope"}
FIELDS = {"description": ("a.capture.json", b"{}"), "data": ("a.csv", b"x")}


def test_without_a_passphrase_the_loopback_is_open(call: Caller) -> None:
    assert call("GET", "/api/session").json() == {
        "passphrase_needed": False,
        "signed_in": True,
        "version": __version__,
        "code": code_hash()[:SHORT],
        "name": "",
        "role": "lead",
        "entry": 0,
    }


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
    answer = guarded("POST", "/api/session", json=GOOD)
    cookie = answer.headers["set-cookie"]
    assert cookie.startswith("__Host-phasko_session=")
    assert "Secure" in cookie
    assert "Path=/" in cookie
    assert "Domain" not in cookie
    assert guarded("GET", "/api/jobs").status_code == 200
    assert "max-age" in answer.headers["strict-transport-security"]


def test_a_made_up_session_does_not_pass(guarded: Caller) -> None:
    guarded.cookies.set(COOKIE, "x" * 43)
    assert guarded("GET", "/api/jobs").status_code == 401


def test_guessing_is_slowed(guarded: Caller) -> None:
    for _ in range(TRIES):
        assert guarded("POST", "/api/session", json={"passphrase": "guess"}).status_code == 403
    last = guarded("POST", "/api/session", json=GOOD)
    assert last.status_code == 403
    assert "Too many" in last.json()["what"]


def test_wrong_guesses_slow_only_the_address_they_come_from() -> None:
    now = [0.0]
    lead = Account("lead", "lead", QUICK.hash("tide and rope"))
    door = Door(lambda: [lead], loopback_only=False, clock=lambda: now[0])
    inside = door.sign_in("tide and rope", address="10.0.0.2")
    for _ in range(TRIES):
        with pytest.raises(RefusedError, match="not the name and the passphrase"):
            door.sign_in("guess", address="10.0.0.9")
    with pytest.raises(RefusedError, match="Too many"):
        door.sign_in("tide and rope", address="10.0.0.9")
    assert door.admits(door.sign_in("tide and rope", address="10.0.0.2"))
    assert door.admits(inside)
    assert door.admits(door.sign_in("tide and rope", address="10.0.0.9", token=inside))
    now[0] = 61.0
    assert door.admits(door.sign_in("tide and rope", address="10.0.0.9"))


def test_before_signing_in_only_small_bodies_are_read(guarded: Caller) -> None:
    huge = guarded("POST", "/api/session", content=b"[" * 5000, headers={"content-type": "application/json"})
    assert huge.status_code == 413

    async def pieces() -> AsyncIterator[bytes]:
        for _ in range(20):
            yield b"[" * 1000

    unmeasured = guarded("POST", "/api/session", content=pieces(), headers={"content-type": "application/json"})
    assert unmeasured.status_code == 413
    assert unmeasured.json()["what"] == "Too large"


def test_documents_are_no_uploads(call: Caller) -> None:
    huge = call("POST", "/api/jobs", content=b" " * (9 << 20), headers={"content-type": "application/json"})
    assert huge.status_code == 413


@pytest.mark.parametrize("path", ["/api/session", "/api/jobs", "/api/nowhere", "/anything"])
def test_every_answer_tells_the_browser_what_it_may_do(call: Caller, path: str) -> None:
    headers = call("GET", path).headers
    assert "script-src 'self'" in headers["content-security-policy"]
    assert "frame-ancestors 'none'" in headers["content-security-policy"]
    assert headers["x-content-type-options"] == "nosniff"
    assert headers["referrer-policy"] == "no-referrer"
    assert (headers.get("cache-control") == "no-store") == path.startswith("/api/")
    assert "server" not in headers
    assert "strict-transport-security" not in headers


def test_off_the_loopback_only_known_names_are_answered(guarded: Caller) -> None:
    for host, status in (
        ("bench.island", 200),
        ("BENCH.island:8765", 200),
        ("10.0.0.7:8765", 200),
        ("[2001:db8::7]:8765", 200),
        ("rebound.example", 421),
        ("10.0.0.7.rebound.example", 421),
        ("", 421),
        ("[", 421),
    ):
        assert guarded("GET", "/api/session", headers={"host": host}).status_code == status, host


def test_names_are_given_at_the_start(tmp_path: Path, database: Database) -> None:
    store_passphrase(database.path.parent, "tide and rope")
    door = open_door("workshop.island", tmp_path, database, ["Bench.Island."])
    assert door.answers_to("bench.island")
    assert door.answers_to("workshop.island")
    assert not door.answers_to("other.island")


@pytest.mark.parametrize(
    ("given", "said"),
    [
        ("elevenchars", "at least 12"),
        ("tide and rope " * 10, "at most 128"),
        ("aaaaaaaaaaaa", "repeats"),
        ("abababababab", "repeats"),
        ("password1234", "tried first"),
        ("Password1234!", "tried first"),
        ("p@ssw0rd2024", "tried first"),
        ("qwertyuiop12", "tried first"),
        ("123456789012", "tried first"),
        ("1234567890abc", "tried first"),
        ("letmein letmein", "tried first"),
        ("correct horse battery staple", "tried first"),
        ("changeme2026", "tried first"),
        ("phasko-phasko", "tried first"),
    ],
)
def test_weak_passphrases_are_refused(given: str, said: str) -> None:
    with pytest.raises(RefusedError, match=said):
        check_passphrase(given)


@pytest.mark.parametrize(
    "given",
    [
        "tide and rope",
        "dünne Eisschicht im März",
        "鎖がとぶと音がする。そして静か",
        " ".join(["moss kettle"] * 10),
        "moss-kettle-vane",
        "xK3;tq9pLw2#",
        "twelve geese on ice",
    ],
)
def test_good_ones_are_taken(given: str) -> None:
    check_passphrase(given)


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
        serve(Serving(host="0.0.0.0", port=1, data=tmp_path))
    store_passphrase(tmp_path, "tide and rope")
    with closing(Database(tmp_path)) as database:
        door = open_door("0.0.0.0", tmp_path, database)
        assert door.closed
        assert not door.loopback_only
        assert door.admits(door.sign_in("tide and rope"))
    assert b"tide" not in (tmp_path / "phasko.sqlite3").read_bytes()


def test_the_passphrase_of_an_older_version_still_opens(tmp_path: Path, database: Database) -> None:
    (tmp_path / "passphrase.argon2").write_text(QUICK.hash("tide and rope") + "\n")
    door = open_door("0.0.0.0", tmp_path, database)
    assert door.admits(door.sign_in("tide and rope"))
    assert door.admits(door.sign_in("tide and rope", "Lead"))
    store_passphrase(tmp_path, "moss-kettle-vane")
    assert not (tmp_path / "passphrase.argon2").exists()


def test_a_short_passphrase_is_none(tmp_path: Path, database: Database, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv(PASSPHRASE_VARIABLE, "short")
    with pytest.raises(RefusedError, match="at least 12"):
        open_door("0.0.0.0", tmp_path, database)


def test_the_address_that_is_printed_can_be_reached() -> None:
    """0.0.0.0 is every address of the machine, and none that a browser can open."""
    assert reachable("127.0.0.1") == ["127.0.0.1"]
    assert reachable("bench.island") == ["bench.island"]
    for unspecified in ("0.0.0.0", "::"):
        found = reachable(unspecified)
        assert found[0] == "127.0.0.1"
        assert not {"0.0.0.0", "::"} & set(found)


def test_the_second_part_of_an_answer_waits_for_no_acknowledgement() -> None:
    """Where one end gathers small parts and the other delays its acknowledgement, each answer takes 40 ms more (RFC
    1122, 4.2.3.2 and 4.2.3.4)."""
    (listening,) = _listening("127.0.0.1", 0)
    with listening, socket.create_connection(listening.getsockname(), timeout=5):
        accepted, _ = listening.accept()
        with accepted:
            assert accepted.getsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY)
