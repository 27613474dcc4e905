"""The inbox: what waits in the folder beside the workshop's file, and the folders that fill it."""

from phasko.jobs.inbox.waiting import WaitingFile, import_waiting, inbox_folder, waiting_files
from phasko.jobs.inbox.watching import Watching, check_watched

__all__ = ["WaitingFile", "Watching", "check_watched", "import_waiting", "inbox_folder", "waiting_files"]
