"""What the core finds in words, as files of weeks tell it: each test that makes a finding also has it
said."""

from collections.abc import Iterable

from nundine.core.finding import Finding
from nundine.core.week.check import Broken
from nundine.core.week.plan import NotPlaced
from nundine.services import wording

WORDS = wording.in_words(wording.PLAIN)


def said(broken: Iterable[Broken]) -> list[str]:
    """Each broken rule in words."""
    return [whole(WORDS.conflict(b.finding())) for b in broken]


def reasons_of(one: NotPlaced) -> list[str]:
    """Each reason of a job that is left out; what would help is said too."""
    for found in one.would_help:
        whole(WORDS.helps(found))
    return [whole(WORDS.reason(found)) for found in one.reasons]


def asked(found: Finding) -> str:
    """What is asked for."""
    return whole(wording.ask(found, wording.PLAIN))


def whole(text: str) -> str:
    """The sentence, once it is sure that no place in it stayed empty."""
    assert text and not {"{", "}"} & set(text) and "None" not in text, text
    return text
