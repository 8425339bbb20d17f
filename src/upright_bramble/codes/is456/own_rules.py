"""Rules of IS 456 that some other codes do not have, or have with other numbers: bars that stop in tension,
development at points of inflection, stirrups along compressed bars, the grade for the exposure."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from upright_bramble.codes.is456.curtailment import beyond_inflection, cut_off_shear, development_limit
from upright_bramble.codes.is456.detailing import compression_stirrup_diameter
from upright_bramble.codes.is456.symbols import IS
from upright_bramble.codes.rules import CheckKind, Place, Rule, if_fails, worst_of
from upright_bramble.codes.shared_rules import (
    CUT_OFF,
    INFLECTION,
    LEGS,
    TOP_GOES_ON,
    compression_legs,
    cut_offs,
    inflection,
    top_past_inflection,
)
from upright_bramble.section.arrays import Array
from upright_bramble.working import clause, record

if TYPE_CHECKING:
    from upright_bramble.verify.facts import Facts
    from upright_bramble.verify.result import Check

STIRRUP_SIZE = CheckKind(
    "links.diameter",
    "stirrups",
    "diameter of the stirrups along bars in compression",
    "length",
    lesson="legs",
)


def own_rules() -> tuple[Rule, ...]:
    """In the order of the rules."""
    return (
        Rule("cut-offs", 61, CUT_OFF, lambda f: cut_offs(f, cut_off_shear)),
        Rule("legs for compression bars", 101, (LEGS,), lambda f: compression_legs(f, held_bars)),
        Rule("stirrups along compression bars", 102, (STIRRUP_SIZE,), stirrup_sizes),
        Rule("past inflection", 121, (TOP_GOES_ON,), lambda f: top_past_inflection(f, beyond_inflection)),
        Rule("inflection", 122, (INFLECTION,), lambda f: inflection(f, development_limit)),
    )


@clause(IS, "26.5.3.2(b)", "legs", "corner bars and every other one between them", "")
def held_bars(number: Array) -> Array:
    """Bars of a row in compression that stirrups hold at a corner: those in the corners and every other one
    between them."""
    return np.asarray(np.floor(0.5 * np.asarray(number, dtype=float)) + 1.0)


def stirrup_sizes(f: Facts) -> list[Check]:
    """26.5.3.2(c): stirrups of a quarter of the thickest bar in compression that the resistance counts on."""
    result: list[Check] = []
    thickest = np.where(np.isfinite(f.thinnest_counted), f.placed.diameter.max(initial=0.0), 0.0)
    least = compression_stirrup_diameter(thickest)
    for index in range(len(f.beam.spans)):
        i = worst_of(least, f.with_stirrups(index) & (thickest > 0.0))
        if i is None:
            continue
        provided = float(f.placed.tie)
        record("phi_t,there", provided, "mm", "diameter of the stirrups")
        note = if_fails("thicker stirrups", bool(least[i] > provided + 1e-6))
        result.append(f.check("links.diameter", Place(span=index), i, float(least[i]), provided, note=note))
    return result
