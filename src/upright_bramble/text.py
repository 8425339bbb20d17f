"""Which characters are text, and what is shown of those that are not.

Control characters, marks of direction, characters without width and private ones can move a terminal's
cursor, turn a line around, forge another line or break a file format. Files that hold them are refused where
they are read; what comes from elsewhere (names of files, words of a call) is shown with such characters
spelled out.
"""

from __future__ import annotations

import re

# C0, DEL, C1; soft hyphen, joiners, fillers; zero width; line and paragraph separators; bidi; variation
# selectors; byte order mark; interlinear marks and non-characters; surrogates; private use (amounts inside
# notes are marked with two of them); tags
_HIDDEN = re.compile(
    "[\x00-\x1f\x7f-\x9f\u00ad\u034f\u061c\u115f\u1160\u17b4\u17b5\u180b-\u180f\u200b-\u200f\u2028-\u202e\u2060-\u206f\u3164\ufe00-\ufe0f\ufeff\uffa0\ufff0-\uffff\ud800-\udfff\ue000-\uf8ff\U0001fffe\U0001ffff\U000e0000-\U0010ffff]"
)

OPEN, CLOSE = "\ue0f1", "\ue0f2"  # around an amount in a note: no text from outside can hold them


def amount(value: float, quantity: str) -> str:
    """A number inside a note or message (N, mm, MPa), to be put into the reader's units by
    `core.quantities.worded`.

    Quantities: 'area', 'steel per length', 'length', 'size' (as given), 'place' and 'span' (along the beam),
    'force', 'moment', 'stress'.
    """
    return f"{OPEN}{quantity}|{value:.9g}{CLOSE}"


def hidden(text: str) -> str | None:
    """The first character that is no text, as ``U+001B``; None where there is none.

    >>> hidden("Boathouse deck") is None
    True
    >>> hidden("deck\\x1b[2J")
    'U+001B'
    """
    match = _HIDDEN.search(text)
    return None if match is None else _spelled(match)


def shown(text: str) -> str:
    """Text on one line, with every character that is none spelled out.

    >>> shown("deck\\npass")
    'deck<U+000A>pass'
    """
    return _HIDDEN.sub(lambda match: f"<{_spelled(match)}>", text)


def shown_lines(text: str) -> str:
    """As `shown`, line by line: line feeds stay."""
    return "\n".join(shown(line) for line in text.split("\n"))


def _spelled(match: re.Match[str]) -> str:
    return f"U+{ord(match.group()):04X}"
