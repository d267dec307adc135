"""What the core finds, in words for people, with the site's names in place of keys. Nothing reads these words
again: what a program decides by stands in codes and facts."""

from nundine.services.wording.documents import ask_document, in_words
from nundine.services.wording.findings import ask, candidate, conflict, gate, helps, reason
from nundine.services.wording.moves import move
from nundine.services.wording.names import PLAIN, Names

__all__ = [
    "PLAIN",
    "Names",
    "ask",
    "ask_document",
    "candidate",
    "conflict",
    "gate",
    "helps",
    "in_words",
    "move",
    "reason",
]
