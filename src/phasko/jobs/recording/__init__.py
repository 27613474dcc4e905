"""Recording from a scope while it streams, with what it measures so far; codes and live data from a scan tool."""

from phasko.jobs.recording.recordings import Recordings, RecordingView, StartRecording, StripView

__all__ = ["RecordingView", "Recordings", "StartRecording", "StripView"]
