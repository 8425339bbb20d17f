"""Characters that the drawn outputs can show: their fonts come with the program, so that the same input gives
the same picture anywhere."""

from __future__ import annotations

import unicodedata
from functools import lru_cache
from typing import Any

SANS, MONO = "DejaVuSans.ttf", "DejaVuSansMono.ttf"


@lru_cache(maxsize=2)
def _known(font: str) -> frozenset[int]:
    from matplotlib import get_data_path
    from matplotlib.ft2font import FT2Font

    return frozenset(FT2Font(f"{get_data_path()}/fonts/ttf/{font}").get_charmap())


def drawable(text: str, font: str = SANS) -> str:
    """Text with every character that the font lacks replaced: by its plain form where it has one, else by a
    question mark.

    >>> drawable("Bootshaus Süd")
    'Bootshaus Süd'
    >>> drawable("\\u8239 1")
    '? 1'
    """
    if text.isascii():
        return text
    known = _known(font)
    return "".join(c if ord(c) in known else _plain_form(c, known) for c in text)


def all_drawable(data: Any, font: str = SANS) -> Any:
    """The same for every text of plain data."""
    if isinstance(data, str):
        return drawable(data, font)
    if isinstance(data, dict):
        return {key: all_drawable(value, font) for key, value in data.items()}
    if isinstance(data, (list, tuple)):
        return [all_drawable(value, font) for value in data]
    return data


def _plain_form(character: str, known: frozenset[int]) -> str:
    plain = unicodedata.normalize("NFKD", character)
    kept = "".join(c for c in plain if ord(c) in known and not unicodedata.combining(c))
    return kept or "?"
