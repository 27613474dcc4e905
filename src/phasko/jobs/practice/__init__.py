"""Practice: cars with a hidden fault, lessons and a free bench, in a file apart from the workshop's."""

from phasko.jobs.practice.attempt import AttemptView, Begin, attempt_view, begin_blind
from phasko.jobs.practice.calling import CallAsked, TruthView, make_call, truth
from phasko.jobs.practice.free_bench import (
    BenchAsked,
    BenchEngine,
    BenchPicture,
    ForClass,
    ForMyself,
    PutInClass,
    bench_engines,
    bench_picture,
    put_in_class,
    take_made,
)
from phasko.jobs.practice.home import PracticeHome, class_sheet, practice_home
from phasko.jobs.practice.lessons import (
    Answers,
    LessonAsked,
    LessonLine,
    LessonView,
    answer_lesson,
    begin_lesson,
    lesson_view,
    lessons,
)
from phasko.jobs.practice.testing import LookAsked, drive, look, recorded, scanned

__all__ = [
    "Answers",
    "AttemptView",
    "Begin",
    "BenchAsked",
    "BenchEngine",
    "BenchPicture",
    "CallAsked",
    "ForClass",
    "ForMyself",
    "LessonAsked",
    "LessonLine",
    "LessonView",
    "LookAsked",
    "PracticeHome",
    "PutInClass",
    "TruthView",
    "answer_lesson",
    "attempt_view",
    "begin_blind",
    "begin_lesson",
    "bench_engines",
    "bench_picture",
    "class_sheet",
    "drive",
    "lesson_view",
    "lessons",
    "look",
    "make_call",
    "practice_home",
    "put_in_class",
    "recorded",
    "scanned",
    "take_made",
    "truth",
]
