"""A reader's own process ends with the one that started it, and neither leaves a file behind."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

READER = """
import sys, time
from phasko.readers.process import write_apart

def read(path, out):
    print("reading", file=open({mark!r}, "w"))
    time.sleep(60)

sys.exit(write_apart(read, sys.argv[1:]))
"""
PARENT = """
from phasko.formats.apart import read_apart
read_apart("endless", "MAT", b"MATLAB" * 1000, "x.mat")
"""


def test_a_kill_leaves_neither_process_nor_folder(tmp_path: Path) -> None:
    mark, scratch = tmp_path / "mark", tmp_path / "scratch"
    scratch.mkdir()
    (tmp_path / "endless.py").write_text(READER.format(mark=str(mark)))
    there = {**os.environ, "PYTHONPATH": str(tmp_path), "TMPDIR": str(scratch)}
    with subprocess.Popen([sys.executable, "-c", PARENT], env=there) as parent:
        for _ in range(300):
            if mark.exists():
                break
            time.sleep(0.1)
        assert mark.exists()
        children = [int(pid) for pid in Path(f"/proc/{parent.pid}/task/{parent.pid}/children").read_text().split()]
        assert len(children) == 1
        parent.send_signal(signal.SIGKILL)
    for _ in range(50):
        if _gone(children[0]):
            break
        time.sleep(0.1)
    assert _gone(children[0])
    assert list(scratch.iterdir()) == []


def _gone(pid: int) -> bool:
    """Ended, even where nobody has asked how."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0] == "Z"
    except OSError:
        return True
