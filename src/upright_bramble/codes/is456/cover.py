"""IS 456 26.4, Tables 5, 16 and 16A: cover for durability and fire. mm."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Cover
from upright_bramble.codes.is456.symbols import NAMES, clause
from upright_bramble.codes.parts import CoverPart, CoverWish
from upright_bramble.errors import CodeError
from upright_bramble.section.arrays import Array, Floats

DURABILITY = {
    "mild": 20.0,
    "moderate": 30.0,
    "severe": 45.0,
    "very severe": 50.0,
    "extreme": 75.0,
}  # Table 16
GRADES = {"mild": 20.0, "moderate": 25.0, "severe": 30.0, "very severe": 35.0, "extreme": 40.0}  # Table 5
FIRE = {  # Table 16A (simply supported, continuous) and Figure 1 (least width), by hours
    0.5: (20.0, 20.0, 200.0), 1.0: (20.0, 20.0, 200.0), 1.5: (20.0, 20.0, 200.0), 2.0: (40.0, 30.0, 200.0),
    3.0: (60.0, 40.0, 240.0),
    4.0: (70.0, 50.0, 280.0),
}  # fmt: skip


def _known(exposure: str) -> str:
    name = exposure.replace("_", " ").replace("-", " ")
    if name not in DURABILITY:
        raise CodeError(f"'{exposure}' is not a valid exposure (valid: {', '.join(DURABILITY)})")
    return name


def least_grade(exposure: str) -> float:
    """Lowest grade of reinforced concrete for an exposure (Table 5), MPa. Raises CodeError for an unknown
    one.

    exposure : text

    >>> least_grade("moderate")
    25.0
    """
    return GRADES[_known(exposure)]


@clause("Table 16", "c_nom", "by exposure", "mm")
def durability_cover(exposure: str, f_ck: float = 0.0, phi: float = 20.0) -> float:
    """Nominal cover, mm: 5 less for bars up to 12 mm in mild exposure, and in severe and very severe exposure
    from M35 on.


    exposure : text
    f_ck : number, MPa; 15 to 55
    phi : number, mm; 6 to 40

    >>> round(float(durability_cover('severe', 35.0)), 2)
    40.0
    """
    name = _known(exposure)
    less = (name == "mild" and phi <= 12.0) or (name in ("severe", "very severe") and f_ck >= 35.0)
    return DURABILITY[name] - (5.0 if less else 0.0)


def _row(hours: float) -> tuple[float, float, float]:
    key = next((h for h in FIRE if h >= hours - 1e-9), None)
    if key is None:
        raise CodeError(f"fire resistance of {hours:g} h is not in Table 16A: no more than 4 h")
    return FIRE[key]


@clause("Table 16A", "c_nom", "by hours of fire resistance", "mm")
def fire_cover(hours: float, continuous: bool = False) -> float:
    """Nominal cover of beams, mm. Raises CodeError beyond four hours.

    hours : number; 0.5 to 4
    continuous : true or false

    >>> round(float(fire_cover(2.0, True)), 2)
    30.0
    """
    return _row(hours)[1 if continuous else 0]


@clause("Figure 1", "b_min", "by hours of fire resistance", "mm")
def fire_width(hours: float) -> float:
    """Least width of beams, mm. Raises CodeError beyond four hours.

    hours : number; 0.5 to 4

    >>> round(float(fire_width(3.0)), 2)
    240.0
    """
    return _row(hours)[2]


@clause("26.4.1", "c_bar", "phi", "mm", names=NAMES)
def bar_cover(phi: Floats) -> Array:
    """Least nominal cover of a bar, mm.

    phi : number or array, mm; 6 to 40

    >>> round(float(bar_cover(25.0)), 2)
    25.0
    """
    return np.asarray(1.0 * np.asarray(phi, dtype=float))


@dataclass(frozen=True)
class CoverClauses(CoverPart):
    """Answers on cover (26.4)."""

    def minimum_for_bar(self, phi: Floats, aggregate: float) -> Array:
        return bar_cover(phi)

    def required(self, wish: CoverWish) -> Cover:
        """To the stirrups: Table 16, Table 16A; main bars inside them 26.4.1. Deviations of +10 and -0 mm are
        allowed for in the values."""
        if wish.deviation is not None or wish.structural_class is not None:
            raise CodeError(
                "nominal cover of this code has no deviation to add, and no structural class; leave them out"
            )
        lowest = least_grade(wish.exposure)
        if wish.strength < lowest - 1e-9:
            raise CodeError(f"exposure '{wish.exposure}' requires concrete of at least M{lowest:g} (Table 5)")
        values = [
            durability_cover(wish.exposure, wish.strength, wish.bars[1]),
            float(bar_cover(wish.bars[1])) - wish.ties[0],
        ]
        if wish.fire is not None:
            hours = wish.fire / 60.0
            if wish.width < fire_width(hours) - 1e-6:
                raise CodeError(
                    f"fire resistance of {hours:g} h requires beams {fire_width(hours):g} mm wide, not "
                    f"{wish.width:g} (Figure 1)"
                )
            values.append(fire_cover(hours, wish.continuous))
        result = math.ceil(max(values) / 5.0 - 1e-9) * 5.0
        return Cover(result, result, result)
