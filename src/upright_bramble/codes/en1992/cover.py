"""EN 1992-1-1 section 4 and EN 1992-1-2 section 5: cover for durability, bond and fire. mm."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Cover
from upright_bramble.codes.en1992.symbols import clause
from upright_bramble.codes.parts import (
    CoverPart,
    CoverWish,
)
from upright_bramble.errors import CodeError
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.text import amount

EXPOSURES = ("X0", "XC1", "XC2", "XC3", "XC4", "XD1", "XD2", "XD3", "XS1", "XS2", "XS3")


# Table 4.4N: rows S1 to S6, columns X0, XC1, XC2/XC3, XC4, XD1/XS1, XD2/XS2, XD3/XS3
_DURABILITY = (
    (10.0, 10.0, 10.0, 15.0, 20.0, 25.0, 30.0), (10.0, 10.0, 15.0, 20.0, 25.0, 30.0, 35.0), (10.0, 10.0, 20.0,
    25.0, 30.0, 35.0, 40.0),
    (10.0, 15.0, 25.0, 30.0, 35.0, 40.0, 45.0), (15.0, 20.0, 30.0, 35.0, 40.0, 45.0, 50.0), (20.0, 25.0, 35.0,
    40.0, 45.0, 50.0, 55.0),
)  # fmt: skip


_COLUMN = {
    "X0": 0,
    "XC1": 1,
    "XC2": 2,
    "XC3": 2,
    "XC4": 3,
    "XD1": 4,
    "XS1": 4,
    "XD2": 5,
    "XS2": 5,
    "XD3": 6,
    "XS3": 6,
}


# EN 1992-1-2 Tables 5.5 and 5.6: by minutes, (least width, axis distance) from the narrowest on
_SIMPLE = {
    30: ((80.0, 25.0), (120.0, 20.0), (160.0, 15.0)), 60: ((120.0, 40.0), (160.0, 35.0), (200.0, 30.0),
    (300.0, 25.0)),
    90: ((150.0, 55.0), (200.0, 45.0), (300.0, 40.0), (400.0, 35.0)), 120: ((200.0, 65.0), (240.0, 60.0),
    (300.0, 55.0), (500.0, 50.0)),
    180: ((240.0, 80.0), (300.0, 70.0), (400.0, 65.0), (600.0, 60.0)), 240: ((280.0, 90.0), (350.0, 80.0),
    (500.0, 75.0), (700.0, 70.0)),
}  # fmt: skip


_CONTINUOUS = {
    30: ((80.0, 15.0), (160.0, 12.0)), 60: ((120.0, 25.0), (200.0, 12.0)), 90: ((150.0, 35.0), (250.0, 25.0)),
    120: ((200.0, 45.0), (300.0, 35.0), (500.0, 30.0)), 180: ((240.0, 60.0), (400.0, 50.0), (600.0, 40.0)),
    240: ((280.0, 75.0), (500.0, 60.0), (700.0, 50.0)),
}  # fmt: skip


CORNER = (
    10.0  # more axis distance of corner bars to the sides of beams with one layer (Tables 5.5, 5.6: a_sd)
)


@clause("EN 1992-1-1", "Table 4.4N", "c_min,dur", "by exposure and structural class", "mm")
def durability_cover(exposure: str, structural_class: int) -> float:
    """Least cover against corrosion. Raises CodeError for a class of exposure that the table does not have.

    exposure : text
    structural_class : whole number; 1 to 6

    >>> round(float(durability_cover('XC3', 4)), 2)
    25.0
    """
    if exposure not in _COLUMN:
        raise CodeError(f"'{exposure}' is not a valid exposure class (valid: {', '.join(EXPOSURES)})")
    return _DURABILITY[structural_class - 1][_COLUMN[exposure]]


@clause("EN 1992-1-2", "Tables 5.5, 5.6", "a", "by fire resistance and width", "mm")
def fire_axis_distance(minutes: int, width: float, continuous: bool) -> float:
    """Axis distance of bars from the soffit. Raises CodeError where the beam is too narrow or the time is not
    in the tables.

    minutes : whole number; one of 30, 60, 90, 120, 180, 240
    width : number, mm (t); above 0
    continuous : true or false

    >>> round(float(fire_axis_distance(60, 300.0, 1.0)), 2)
    12.0
    """
    table = _CONTINUOUS if continuous else _SIMPLE
    if minutes not in table:
        raise CodeError(f"R{minutes} is not in the tables; times: {', '.join(f'R{m}' for m in table)}")
    result = [a for minimum, a in table[minutes] if width >= minimum - 1e-6]
    if not result:
        raise CodeError(f"R{minutes} requires a width of at least {amount(table[minutes][0][0], 'length')}")
    return result[-1]


@clause("EN 1992-1-1", "4.4.1.1(2)", "c_nom", "max(durability; phi; 10) + deviation", "mm")
def nominal_cover(durability: float, phi: float, deviation: float) -> float:
    """4.4.1.1(2), 4.4.1.2(2): c_nom of a bar `phi`.

    durability : number, mm; 0 or more
    phi : number, mm; 0 or more
    deviation : number, mm; 0 or more

    >>> round(float(nominal_cover(25.0, 20.0, 10.0)), 2)
    35.0
    """
    return max(durability, phi, 10.0) + deviation


# Table 4.3N: cylinder strength from which the structural class falls by one
_STRONG = {
    "X0": 30.0, "XC1": 30.0, "XC2": 35.0, "XC3": 35.0, "XC4": 40.0, "XD1": 40.0, "XD2": 40.0, "XD3": 45.0,
    "XS1": 40.0, "XS2": 45.0,
    "XS3": 45.0,
}  # fmt: skip


# Table E.1N: least cylinder strength by class of exposure
_LEAST = {
    "X0": 12.0, "XC1": 20.0, "XC2": 25.0, "XC3": 30.0, "XC4": 30.0, "XD1": 30.0, "XD2": 30.0, "XD3": 35.0,
    "XS1": 30.0, "XS2": 35.0,
    "XS3": 35.0,
}  # fmt: skip


@clause("EN 1992-1-1", "Table 4.3N", "class", "4, one less for strong concrete", "")
def structural_class(exposure: str, f_ck: float) -> int:
    """For a working life of 50 years and beams: the strength of the concrete alone changes it.

    exposure : text
    f_ck : number, MPa; 12 to 90

    >>> structural_class('XC3', 30.0)
    4
    """
    return 3 if f_ck >= _STRONG.get(exposure, 1e9) - 1e-9 else 4


@clause("EN 1992-1-1", "Table E.1N", "f_ck", "by class of exposure", "MPa")
def indicative_strength(exposure: str) -> float:
    """Indicative least strength of the concrete; 0 for classes that the table does not have.

    exposure : text

    >>> round(float(indicative_strength('XC3')), 2)
    30.0
    """
    return _LEAST.get(exposure, 0.0)


LARGE_AGGREGATE, MORE_COVER = 32.0, 5.0  # Table 4.2: mm


@clause(
    "EN 1992-1-1",
    "4.4.1.2(3)",
    "c_nom,b",
    "phi + more + deviation",
    "mm",
    names={"phi": ("phi", "mm"), "more": ("more", "mm"), "deviation": ("deviation", "mm")},
)
def bond_cover(phi: Floats, more: float = 0.0, deviation: float = 10.0) -> Array:
    """Nominal cover of a bar for bond, mm: its diameter, `more` for large aggregate, and the allowance for
    deviation.

    phi : number or array, mm; 6 to 40
    more : number, mm; 0 or more
    deviation : number, mm; 0 or more

    >>> round(float(bond_cover(20.0, 0.0, 10.0)), 2)
    30.0
    """
    return np.asarray(np.asarray(phi) + more + deviation)


@dataclass(frozen=True)
class CoverClauses(CoverPart):
    """Answers on cover (4.4.1, EN 1992-1-2); `assumed` says whose cover for durability Table 4.4N stands for
    ('': its own)."""

    assumed: str = ""

    def minimum_for_bar(self, phi: Floats, aggregate: float) -> Array:
        """4.4.1.2(3), 4.4.1.3(1): of a bar itself for bond, its diameter (5 mm more for large aggregate) and
        10 mm of deviation."""
        return bond_cover(phi, MORE_COVER if aggregate > LARGE_AGGREGATE else 0.0)

    def unverified(self) -> str:
        """In the UK annex cover for durability is that of BS 8500-1, which is not in this program."""
        return self.assumed

    def required(self, wish: CoverWish) -> Cover:
        """Table 4.4N in both annexes (`cover_unverified`): 4.4.1 all round, of stirrups and of main bars
        inside them; EN 1992-1-2, 5.6 at soffit and, 10 mm more, at the sides, for the thinnest bars."""
        deviation = 10.0 if wish.deviation is None else wish.deviation
        stated = wish.structural_class
        durable = durability_cover(
            wish.exposure, structural_class(wish.exposure, wish.strength) if stated is None else stated
        )
        coarse = MORE_COVER if wish.aggregate > LARGE_AGGREGATE else 0.0
        tie = nominal_cover(durable, wish.ties[1] + coarse, deviation)
        minimum = max(tie, nominal_cover(durable, wish.bars[1] + coarse, deviation) - wish.ties[0])
        soffit = sides = minimum
        if wish.fire is not None:
            # from 90 minutes on Table 5.6 counts on longer top bars (5.6.3(3)), which nothing here verifies
            a = fire_axis_distance(wish.fire, wish.width, wish.continuous and wish.fire < 90)
            soffit = max(minimum, a - 0.5 * wish.bars[0] - wish.ties[0])
            sides = max(minimum, a + CORNER - 0.5 * wish.bars[0] - wish.ties[0])
        return Cover(*(math.ceil(v / 5.0 - 1e-9) * 5.0 for v in (minimum, soffit, sides)))
