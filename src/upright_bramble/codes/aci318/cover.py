"""ACI 318-19 20.5: cover. mm."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Cover
from upright_bramble.codes.aci318.expressions import INCH_POUND, Expressions
from upright_bramble.codes.aci318.symbols import ACI, clause
from upright_bramble.codes.parts import (
    CoverPart,
    CoverWish,
)
from upright_bramble.errors import CodeError
from upright_bramble.section.arrays import Array, Floats

EXPOSURES = ("inside", "weather", "earth")


@clause(
    ACI,
    "Table 20.5.1.3.1",
    "cover",
    "inside 1-1/2 in; weather 2 in from No. 6, else 1-1/2 in; cast against earth 3 in",
    "mm",
)
def minimum_cover(exposure: str, d_b: float, x: Expressions) -> float:
    """Specified cover of cast-in-place beams, mm. Raises CodeError for an exposure that the table does not
    have.

    exposure : text
    d_b : number, mm; 9.5 to 57.3
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(minimum_cover('weather', 19.1, METRIC)), 2)
    50.0
    """
    if exposure not in EXPOSURES:
        raise CodeError(f"'{exposure}' is not a valid exposure (valid: {', '.join(EXPOSURES)})")
    inch = x.length > 1.0
    small, large, earth = (1.5 * 25.4, 2.0 * 25.4, 3.0 * 25.4) if inch else (40.0, 50.0, 75.0)
    return earth if exposure == "earth" else large if exposure == "weather" and d_b >= 19.0 else small


@dataclass(frozen=True)
class CoverClauses(CoverPart):
    """Answers on cover (20.5)."""

    x: Expressions

    def minimum_for_bar(self, phi: Floats, aggregate: float) -> Array:
        """Clear cover of d_b: development lengths are for it (25.4.2.3)."""
        return np.asarray(phi) * 1.0

    def required(self, wish: CoverWish) -> Cover:
        """Table 20.5.1.3.1 of stirrups, and of main bars inside them; no fire, which is ACI 216.1."""
        if wish.fire is not None:
            raise CodeError("fire is not in this code; give 'top', 'bottom' and 'sides' for it")
        tie, bar = (minimum_cover(wish.exposure, d, self.x) for d in (wish.ties[1], wish.bars[1]))
        minimum = max(tie, bar - wish.ties[0])
        step = self.x.length / 4.0 if self.x is INCH_POUND else 5.0
        minimum = math.ceil(minimum / step - 1e-9) * step
        return Cover(minimum, minimum, minimum)
