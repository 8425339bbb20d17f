"""CSA A23.1 Table 17: cover. mm."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Cover
from upright_bramble.codes.csa_a23.symbols import NAMES, clause
from upright_bramble.codes.parts import CoverPart, CoverWish
from upright_bramble.errors import CodeError
from upright_bramble.section.arrays import Array, Floats

GROUPS = {  # cover of beams and of slabs, over the diameter and over the aggregate
    "N": (30.0, 20.0, 1.0), "F": (40.0, 40.0, 1.5), "C": (60.0, 60.0, 2.0),
}  # fmt: skip


def _group(exposure: str) -> tuple[float, float, float]:
    name = exposure.upper().replace("_", "-")
    letter = {"N": "N", "F": "F", "S": "F", "C": "C", "A": "C"}.get(name.split("-")[0], "")
    if not letter or len(name) > 4:
        raise CodeError(
            f"'{exposure[:20]}' is not a valid exposure (valid: N, F-1, F-2, S-1 to S-3, C-XL, C-1 to C-4, "
            "A-1 to A-4)"
        )
    return GROUPS[letter]


@clause(
    "A23.1 Table 17",
    "cover",
    "max(max(by exposure; r d_b); r a_g)",
    "mm",
    names={**NAMES, "ratio": ("r", "")},
)
def minimum_cover(exposure: str, d_b: float, d_agg: float, member: str = "beam") -> float:
    """Specified cover of a bar, mm. Raises CodeError for an exposure that the table does not have.

    exposure : text
    d_b : number, mm; 11.3 to 56.4
    d_agg : number, mm (a_g); above 0
    member : text

    >>> round(float(minimum_cover('C-1', 25.2, 20.0)), 2)
    60.0
    """
    beams, slabs, ratio = _group(exposure)
    return max(slabs if member == "slab" else beams, ratio * d_b, ratio * d_agg)


@clause("A23.1 Table 17", "c_bar", "max(d_b; a_g)", "mm")
def bar_cover(d_b: Floats, d_agg: float) -> Array:
    """Least cover of main bars, mm.

    d_b : number or array, mm; 11.3 to 56.4
    d_agg : number, mm (a_g); above 0

    >>> round(float(bar_cover(25.2, 20.0)), 2)
    25.2
    """
    return np.asarray(np.maximum(np.asarray(d_b, dtype=float), d_agg))


@dataclass(frozen=True)
class CoverClauses(CoverPart):
    """Answers on cover (A23.1 6.6.6)."""

    def minimum_for_bar(self, phi: Floats, aggregate: float) -> Array:
        return bar_cover(phi, aggregate)

    def required(self, wish: CoverWish) -> Cover:
        """Table 17 of stirrups, and of main bars inside them; no fire, which is NBCC appendix D."""
        if wish.fire is not None:
            raise CodeError("fire is not in this code; give 'top', 'bottom' and 'sides' for it")
        if wish.deviation is not None or wish.structural_class is not None:
            raise CodeError(
                "specified cover of this code has neither a deviation nor a structural class; leave them out"
            )
        tie, bar = (minimum_cover(wish.exposure, d, wish.aggregate) for d in (wish.ties[1], wish.bars[1]))
        result = math.ceil(max(tie, bar - wish.ties[0]) / 5.0 - 1e-9) * 5.0
        return Cover(result, result, result)
