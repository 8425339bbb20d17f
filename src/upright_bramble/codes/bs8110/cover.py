"""BS 8110-1 3.3: cover for durability and fire. mm."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Cover
from upright_bramble.codes.bs8110.symbols import clause
from upright_bramble.codes.parts import CoverPart, CoverWish
from upright_bramble.errors import CodeError
from upright_bramble.section.arrays import Array, Floats

GRADES = (30.0, 35.0, 40.0, 45.0, 50.0)
DURABILITY: dict[str, tuple[float | None, ...]] = {  # Table 3.3, by grade; None: not permitted
    "mild": (25.0, 20.0, 20.0, 20.0, 20.0),
    "moderate": (None, 35.0, 30.0, 25.0, 20.0),
    "severe": (None, None, 40.0, 30.0, 25.0),
    "very severe": (None, None, 50.0, 40.0, 30.0),
    "most severe": (None, None, None, None, 50.0),
}
FIRE = {  # Table 3.4 (simply supported, continuous) and Figure 3.2 (least width), by hours
    0.5: (20.0, 20.0, 200.0), 1.0: (20.0, 20.0, 200.0), 1.5: (20.0, 20.0, 200.0), 2.0: (40.0, 30.0, 200.0),
    3.0: (60.0, 40.0, 240.0),
    4.0: (70.0, 50.0, 280.0),
}  # fmt: skip


@clause("Table 3.3", "c_nom", "by exposure and grade", "mm")
def durability_cover(exposure: str, f_cu: float) -> float:
    """Nominal cover to all reinforcement, mm. Raises CodeError where the table has none.

    exposure : text
    f_cu : number, MPa; 20 to 60

    >>> round(float(durability_cover('moderate', 37.0)), 2)
    35.0
    """
    exposure = exposure.replace("_", " ").replace("-", " ")
    if exposure not in DURABILITY:
        raise CodeError(f"'{exposure}' is not a valid exposure (valid: {', '.join(DURABILITY)})")
    column = max((k for k, grade in enumerate(GRADES) if f_cu >= grade - 1e-9), default=-1)
    values = DURABILITY[exposure]
    if column < 0 or values[column] is None:
        lowest = next(grade for grade, value in zip(GRADES, values, strict=True) if value is not None)
        raise CodeError(f"exposure '{exposure}' requires concrete of at least C{lowest:g} (Table 3.3)")
    return float(values[column] or 0.0)


@clause("Table 3.4", "c_nom", "by hours of fire resistance", "mm")
def fire_cover(hours: float, continuous: bool = False) -> float:
    """Nominal cover of beams, mm. Raises CodeError beyond four hours.

    hours : number; 0.5 to 4
    continuous : true or false

    >>> round(float(fire_cover(2.0, True)), 2)
    30.0
    """
    key = next((h for h in FIRE if h >= hours - 1e-9), None)
    if key is None:
        raise CodeError(f"fire resistance of {hours:g} h is not in Table 3.4: no more than 4 h")
    return FIRE[key][1 if continuous else 0]


@clause("Figure 3.2", "b_min", "by hours of fire resistance", "mm")
def fire_width(hours: float) -> float:
    """Least width of beams, mm. Raises CodeError beyond four hours.

    hours : number; 0.5 to 4

    >>> round(float(fire_width(3.0)), 2)
    240.0
    """
    key = next((h for h in FIRE if h >= hours - 1e-9), None)
    if key is None:
        raise CodeError(f"fire resistance of {hours:g} h is not in Figure 3.2: no more than 4 h")
    return FIRE[key][2]


@clause("3.3.1.2, 3.3.1.3", "c_bar", "max(phi; h_agg)", "mm")
def bar_cover(phi: Floats, h_agg: float) -> Array:
    """Least nominal cover of a main bar, mm.

    phi : number or array, mm; 6 to 40
    h_agg : number, mm; 10 to 40

    >>> round(float(bar_cover(32.0, 20.0)), 2)
    32.0
    """
    return np.asarray(np.maximum(np.asarray(phi, dtype=float), h_agg))


@dataclass(frozen=True)
class CoverClauses(CoverPart):
    """Answers on cover (3.3)."""

    def minimum_for_bar(self, phi: Floats, aggregate: float) -> Array:
        return bar_cover(phi, aggregate)

    def required(self, wish: CoverWish) -> Cover:
        """To the links: Table 3.3, Table 3.4; main bars inside them 3.3.1.2. The nominal values have their
        allowance of 5 mm within."""
        if wish.deviation is not None or wish.structural_class is not None:
            raise CodeError(
                "nominal cover of this code has its deviation within, and no structural class; leave them out"
            )
        values = [
            durability_cover(wish.exposure, wish.strength),
            float(bar_cover(wish.bars[1], wish.aggregate)) - wish.ties[0],
        ]
        if wish.fire is not None:
            hours = wish.fire / 60.0
            if wish.width < fire_width(hours) - 1e-6:
                raise CodeError(
                    f"fire resistance of {hours:g} h requires beams {fire_width(hours):g} mm wide, not "
                    f"{wish.width:g} (Figure 3.2)"
                )
            values.append(fire_cover(hours, wish.continuous))
        result = math.ceil(max(values) / 5.0 - 1e-9) * 5.0
        return Cover(result, result, result)
