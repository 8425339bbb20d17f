"""Rules of BS 8110 that other codes do not have, or have with other numbers: bars that stop in tension, links
along compressed bars."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from upright_bramble.codes.bs8110.curtailment import cut_off_shear
from upright_bramble.codes.bs8110.detailing import compression_link_diameter
from upright_bramble.codes.rules import CheckKind, Place, Rule, if_fails, worst_of
from upright_bramble.codes.shared_rules import CUT_OFF, LEGS, compression_legs, cut_offs, not_required_within
from upright_bramble.section.arrays import Array
from upright_bramble.working import clause, record

if TYPE_CHECKING:
    from upright_bramble.verify.facts import Facts
    from upright_bramble.verify.result import Check

LINK_SIZE = CheckKind(
    "links.diameter", "stirrups", "diameter of the links along bars in compression", "length", lesson="legs"
)


def own_rules() -> tuple[Rule, ...]:
    """In the order of the rules."""
    return (
        Rule("cut-offs", 61, CUT_OFF, tension_cut_offs),
        Rule("legs for compression bars", 101, (LEGS,), lambda f: compression_legs(f, held_bars)),
        Rule("links along compression bars", 102, (LINK_SIZE,), link_sizes),
    )


@clause("BS 8110-1", "3.12.7.2", "legs", "floor(n/2) + 1", "", names={"number": ("n", "")})
def held_bars(number: Array) -> Array:
    """Bars of a row in compression that links hold at a corner: those in the corners and every other one
    between them."""
    return np.asarray(np.floor(0.5 * np.asarray(number, dtype=float)) + 1.0)


def tension_cut_offs(f: Facts) -> list[Check]:
    """3.12.9.1: a bar that stops in tension goes on for its anchorage (c), or the shear resistance is twice
    the shear (d), or the bars that continue resist twice the moment (e)."""

    def excused(f: Facts, g: int, side: str) -> bool:
        return not_required_within(f, g, side, float(f.placed.anchorage[g]))

    def permitted(resistance: float, twice: bool) -> float:
        return resistance if twice else cut_off_shear(resistance)

    return cut_offs(f, permitted, excused)


def link_sizes(f: Facts) -> list[Check]:
    """3.12.7.1: links of a quarter of the thickest bar in compression that the resistance counts on."""
    result: list[Check] = []
    thickest = np.where(np.isfinite(f.thinnest_counted), f.placed.diameter.max(initial=0.0), 0.0)
    least = compression_link_diameter(thickest)
    for index in range(len(f.beam.spans)):
        where = f.with_stirrups(index) & (thickest > 0.0)
        i = worst_of(least, where)
        if i is None:
            continue
        provided = float(f.placed.tie)
        record("phi_link,there", provided, "mm", "diameter of the links")
        note = if_fails("thicker links", bool(least[i] > provided + 1e-6))
        result.append(f.check("links.diameter", Place(span=index), i, float(least[i]), provided, note=note))
    return result
