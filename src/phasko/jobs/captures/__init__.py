"""The captures of a job: taken in, said what they are, listed, taken out and back."""

from phasko.jobs.captures.describing import change_description, rewrite_description, set_filter
from phasko.jobs.captures.import_sheet import (
    CaptureSetup,
    ImportSheet,
    ScalePreset,
    confirm_setup,
    import_sheet,
    scale_presets,
    set_marks,
)
from phasko.jobs.captures.importing import MOST_CHANNELS, import_capture, import_data_file, import_from_disk
from phasko.jobs.captures.listed import (
    ImportedCapture,
    SwitchingChannel,
    list_captures,
    remove_capture,
    restore_capture,
)

__all__ = [
    "MOST_CHANNELS",
    "CaptureSetup",
    "ImportSheet",
    "ImportedCapture",
    "ScalePreset",
    "SwitchingChannel",
    "change_description",
    "confirm_setup",
    "import_capture",
    "import_data_file",
    "import_from_disk",
    "import_sheet",
    "list_captures",
    "remove_capture",
    "restore_capture",
    "rewrite_description",
    "scale_presets",
    "set_filter",
    "set_marks",
]
