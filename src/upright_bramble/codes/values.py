"""The values of a code in force: its own, and what a user puts in their place."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from upright_bramble.errors import CodeError


@dataclass(frozen=True)
class Value:
    """A national or code value in force, with its clause; `changed` when the user overrode it."""

    value: float
    clause: str
    changed: bool = False


FARTHEST = 20.0  # times, or parts of, the code's own value that a user's value may be


PSI = ("psi_0", "psi_1", "psi_2")
Table = Mapping[str, Mapping[str, Any]]


def combination_factors(tables: Sequence[Table], clause: str) -> dict[str, dict[str, Any]]:
    """Entries of the combination factors of categories and kinds, which a user may override like all other
    values.

    >>> list(combination_factors([{"A": {"psi_0": 0.7, "psi_1": 0.5, "psi_2": 0.3}}], "A1.2.2"))
    ['psi_0_A', 'psi_1_A', 'psi_2_A']
    """
    return {
        f"{psi}_{name}": {"value": entry[psi], "clause": clause, "zero": True, "share": True}
        for table in tables
        for name, entry in table.items()
        for psi in PSI
    }


def with_factors(table: Table, v: Mapping[str, float]) -> dict[str, dict[str, Any]]:
    """A table of categories or kinds with the factors in force."""
    return {name: {**entry, **{psi: v[f"{psi}_{name}"] for psi in PSI}} for name, entry in table.items()}


def values_in_force(
    entries: Mapping[str, Mapping[str, Any]], overrides: Mapping[str, float]
) -> dict[str, Value]:
    """Every value by name, with its clause.

    `entries`: value and clause by name; `zero` where the standard lets the value be 0, `share` where it is
    one. Raises CodeError with all values that are not known or cannot be meant.

    >>> values_in_force({"gamma_c": {"value": 1.5, "clause": "2.4.2.4"}}, {"gamma_c": 1.4})["gamma_c"].value
    1.4
    """
    wrong = [
        f"'{key[:40]}' is not a valid code value (valid: {', '.join(sorted(entries))})"
        for key in overrides
        if key not in entries
    ][:1]
    for key, value in overrides.items():
        own = entries[key]["value"] if key in entries else None
        if own is None:
            continue
        zero = bool(entries[key].get("zero"))
        if not math.isfinite(value) or value < 0.0 or (value == 0.0 and own > 0.0 and not zero):
            wrong.append(
                f"{key} = {value:g} cannot be used; it must be {'zero or more' if zero else 'above zero'}"
            )
        elif entries[key].get("share") and value > 1.0:
            wrong.append(f"{key} = {value:g} cannot be used; it is a share, no more than 1")
        elif value == 0.0 or entries[key].get("share"):
            continue
        elif own > 0.0 and not own / FARTHEST <= value <= own * FARTHEST:
            range_ = f"{own / FARTHEST:g} to {own * FARTHEST:g}"
            wrong.append(
                f"{key} = {value:g} cannot be meant; the code's own value is {own:g}, {range_} is permitted"
            )
    if wrong:
        raise CodeError("; ".join(wrong))
    return {
        key: Value(float(overrides.get(key, e["value"])), e["clause"], key in overrides)
        for key, e in entries.items()
    }
