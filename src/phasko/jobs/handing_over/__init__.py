"""Handing a job over: facts, document, first word, pages, photos, repair, closing."""

from phasko.jobs.handing_over.documents import FORMS, hand_over_document, hand_over_page, made_hand_over

__all__ = ["FORMS", "hand_over_document", "hand_over_page", "made_hand_over"]
