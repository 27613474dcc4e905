"""Instruments behind one interface: a scope that streams, and a scan tool. A real one is one more module here."""

from phasko.devices.remote_scan_tool import RemoteScanTool
from phasko.devices.remote_scope import RemoteScope
from phasko.devices.scan_tool import LiveValues, ReadCode, ScanTool, StoredFrame
from phasko.devices.scope import Block, Scope, ScopeAbout, ScopeChannel, ScopeSetup
from phasko.devices.wire import Link, connect, listen

__all__ = [
    "Block",
    "Link",
    "LiveValues",
    "ReadCode",
    "RemoteScanTool",
    "RemoteScope",
    "ScanTool",
    "Scope",
    "ScopeAbout",
    "ScopeChannel",
    "ScopeSetup",
    "StoredFrame",
    "connect",
    "listen",
]
