"""One process serves a folder; the second is told who does."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from phasko.core.errors import ConflictError, StorageError
from phasko.store.one_server import folder_taken

HOLDS = """
import sys, time
from pathlib import Path
from phasko.store.one_server import folder_taken
with folder_taken(Path(sys.argv[1]), "serves it at port 1234"):
    print("held", flush=True)
    time.sleep(60)
"""


def test_the_second_is_told_which_process_holds_it(tmp_path: Path) -> None:
    with subprocess.Popen([sys.executable, "-c", HOLDS, str(tmp_path)], stdout=subprocess.PIPE, text=True) as running:
        assert running.stdout is not None
        assert running.stdout.readline().strip() == "held"
        with pytest.raises(ConflictError, match=f"process {running.pid} serves it at port 1234"):
            folder_taken(tmp_path, "tries").__enter__()
        running.send_signal(signal.SIGKILL)
    with folder_taken(tmp_path, "serves it"):
        pass  # a kill leaves no lock behind


def test_the_command_ends_with_one_line(tmp_path: Path) -> None:
    with folder_taken(tmp_path, "serves it at port 1"):
        command = [sys.executable, "-m", "phasko", "serve", "--data", str(tmp_path), "--port", "0"]
        ended = subprocess.run(command, capture_output=True, text=True, timeout=60, check=False)
    assert ended.returncode == 2
    assert len(ended.stderr.strip().splitlines()) == 1
    assert f"process {os.getpid()} serves it at port 1" in ended.stderr


def test_a_folder_that_cannot_be_made(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("")
    with pytest.raises(StorageError):
        folder_taken(tmp_path / "file" / "folder", "serves it").__enter__()
