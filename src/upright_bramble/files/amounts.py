"""Amounts inside notes and messages, put into units."""

from __future__ import annotations

import re
from math import isfinite

from upright_bramble.text import CLOSE, OPEN, amount
from upright_bramble.units import SYSTEMS, UnitSystem

_AMOUNT = re.compile(rf"{OPEN}([a-z ]+)\|([^{CLOSE}]+){CLOSE}")


def significant(value: float, digits: int = 3) -> str:
    """12.3, 1230, 0.0123: never an exponent, never fewer whole digits than there are. Halves are rounded away from zero, whatever the last
    bits of the number are."""
    if value == 0.0 or abs(value) < 1e-9:
        return "0"
    from math import floor, log10

    places = max(digits - 1 - floor(log10(abs(value))), 0)
    return f"{value * (1.0 + 1e-11):.{places}f}"


def ratio_text(value: float, digits: int = 2) -> str:
    """A ratio of demand to resistance, such that it shows on which side of 1 it is: 1.003, 0.998; '>99' where nothing resists."""
    if value >= 99.0:
        return ">99"
    text = f"{value:.{digits}f}"
    for more in range(digits + 1, digits + 5):
        if abs(float(text) - 1.0) > 1e-12 or abs(value - 1.0) <= 1e-9:
            return text
        text = f"{value:.{more}f}"
    return text


def along(value: float) -> str:
    """A position or length along the beam (mm) inside a fault, to be worded in the file's units."""
    return amount(value, "span")


def across(value: float) -> str:
    """A length of the section (mm) inside a fault, to be worded in the file's units."""
    return amount(value, "size")


def worded(text: str, system: UnitSystem) -> str:
    """A note or message with its amounts in the units of `system`."""

    def put(match: re.Match[str]) -> str:
        quantity, value = match.group(1), float(match.group(2))
        section, span = system.factor("section"), system.factor("span")
        if not isfinite(value):
            return "no finite amount"
        if quantity == "place":
            return f"{value / span:.2f} {system.of['span']}"
        if quantity == "size":
            return f"{value / section:.6g} {system.of['section']}"
        if quantity == "span":
            return f"{value / span:.6g} {system.of['span']}"
        if quantity in ("force", "moment", "stress"):
            return f"{significant(value / system.factor(quantity))} {system.of[quantity]}"
        if quantity == "length":
            return f"{significant(value / section)} {system.of['section']}"
        if quantity == "area":
            return f"{significant(value / section**2)} {system.of['section']}²"
        return f"{significant(value * span / section**2)} {system.of['section']}²/{system.of['span']}"

    return _AMOUNT.sub(put, text)


def in_si(text: str) -> str:
    """As result files have it: kN, m, mm."""
    return worded(text, SYSTEMS["kN-m"])
