"""Hooking up: what goes where for which question, how to record it, what to mind, and guides with a meter."""

from phasko.core.hookup.before_after import BEFORE_AFTER, BeforeAfter, before_after_of, before_after_tests
from phasko.core.hookup.cautions import Caution, cautions_of
from phasko.core.hookup.chosen import as_chosen, ranges_of
from phasko.core.hookup.guides import GUIDES, Guide, GuideField, GuideVerdict, guide_of, guide_verdict
from phasko.core.hookup.leads import Lead
from phasko.core.hookup.lost_signal import LostSignal, lost_signals
from phasko.core.hookup.plan import HookUpPlan, Round, hook_up_plan
from phasko.core.hookup.questions import (
    HOOK_UPS,
    HookUpQuestion,
    hook_up_question,
    hook_ups_of,
    proposed_question,
    question_of_test,
)
from phasko.core.hookup.settings import RATES_HZ, Recording, recording_settings

__all__ = [
    "BEFORE_AFTER",
    "GUIDES",
    "HOOK_UPS",
    "RATES_HZ",
    "BeforeAfter",
    "Caution",
    "Guide",
    "GuideField",
    "GuideVerdict",
    "HookUpPlan",
    "HookUpQuestion",
    "Lead",
    "LostSignal",
    "Recording",
    "Round",
    "as_chosen",
    "before_after_of",
    "before_after_tests",
    "cautions_of",
    "guide_of",
    "guide_verdict",
    "hook_up_plan",
    "hook_up_question",
    "hook_ups_of",
    "lost_signals",
    "proposed_question",
    "question_of_test",
    "ranges_of",
    "recording_settings",
]
