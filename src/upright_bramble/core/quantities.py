"""The one table of quantities and units, spoken by files, messages and outputs alike.

Inside the program everything is N, mm, MPa, rad and days (masses in kg, volumes in m3). A user's value may
carry its unit; a bare number takes the unit that the file's `units:` names for that quantity. Result files
are always SI, with the unit in the key.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from math import floor, isfinite, log10

from upright_bramble.errors import UnitError
from upright_bramble.text import CLOSE, OPEN, amount

_KIP = 4448.2216152605
_TF = 9806.65
_FT = 304.8
_IN = 25.4
_PSI = 6.894757293168361e-3
_LB = 0.45359237

# Spellings by kind of quantity; factor = size of the unit in N, mm, MPa, rad, days.
_LENGTH = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": _IN, '"': _IN, "ft": _FT, "'": _FT}
_FORCE = {
    "N": 1.0,
    "kN": 1e3,
    "MN": 1e6,
    "lb": _KIP / 1e3,
    "lbf": _KIP / 1e3,
    "kip": _KIP,
    "kgf": _TF / 1e3,
    "tf": _TF,
}
_KINDS: dict[str, dict[str, float]] = {
    "length": _LENGTH,
    "force": _FORCE,
    "line load": {
        **{f"{f}/{u}": _FORCE[f] / _LENGTH[u] for f in _FORCE for u in ("mm", "m", "ft", "in")},
        "plf": _KIP / 1e3 / _FT,
        "klf": _KIP / _FT,
    },
    "area load": {
        **{
            f"{f}/{u}": _FORCE[f] / _LENGTH[u[:-1]] ** 2
            for f in ("N", "kN", "kgf", "tf", "lb")
            for u in ("m2", "ft2")
        },
        "Pa": 1e-6,
        "kPa": 1e-3,
        "psf": _KIP / 1e3 / _FT**2,
        "ksf": _KIP / _FT**2,
    },
    "moment": {f"{f}.{u}": _FORCE[f] * _LENGTH[u] for f in _FORCE for u in ("mm", "cm", "m", "in", "ft")},
    "torque per length": {
        f"{f}.{u}/{v}": _FORCE[f] * _LENGTH[u] / _LENGTH[v]
        for f in _FORCE
        for u in ("mm", "m", "in", "ft")
        for v in ("mm", "m", "in", "ft")
    },
    "steel per length": {"mm2/m": 1e-3, "mm2/mm": 1.0, "cm2/m": 0.1, "in2/ft": _IN**2 / _FT, "in2/in": _IN},
    "stress": {
        "MPa": 1.0,
        "GPa": 1e3,
        "N/mm2": 1.0,
        "kN/m2": 1e-3,
        "psi": _PSI,
        "ksi": 1e3 * _PSI,
        "kgf/cm2": _TF / 1e3 / 100.0,
    },
    "density": {
        **{f"{f}/m3": _FORCE[f] / 1e9 for f in _FORCE},
        "lb/ft3": _KIP / 1e3 / _FT**3,
        "pcf": _KIP / 1e3 / _FT**3,
    },
    "translational stiffness": {
        f"{f}/{u}": _FORCE[f] / _LENGTH[u] for f in _FORCE for u in ("mm", "m", "in", "ft")
    },
    "rotational stiffness": {
        f"{f}.{u}/rad": _FORCE[f] * _LENGTH[u] for f in _FORCE for u in ("mm", "m", "in", "ft")
    },
    "area": {f"{u}2": size**2 for u, size in _LENGTH.items() if u.isalpha()},
    "mass": {"kg": 1.0, "t": 1e3, "lb": _LB},
    "volume": {"m3": 1.0, "ft3": (_FT / 1e3) ** 3, "yd3": (3.0 * _FT / 1e3) ** 3},
    "mass per volume": {"kg/m3": 1.0, "lb/yd3": _LB / (3.0 * _FT / 1e3) ** 3},
    "number": {"": 1.0},
    "time": {"days": 1.0, "day": 1.0, "d": 1.0, "years": 365.0, "year": 365.0, "months": 30.4, "month": 30.4},
}


@dataclass(frozen=True)
class Quantity:
    """A quantity: its `kind` (what its units measure), the `key` that SI result files have for its unit and
    the size of that unit in N, mm, MPa; its unit in each system of a file (`si`, `us`, `technical`); an
    `example` for messages."""

    name: str
    kind: str
    key: str
    si: str
    us: str
    technical: str
    example: str = ""

    @property
    def size(self) -> float:
        """Of the unit that result files have, in N, mm, MPa."""
        return _KINDS[self.kind][self.key.replace("kNm", "kN.m") if self.key != "-" else ""]


# a span and a cover are both lengths, but their bare numbers differ
_TABLE = (
    Quantity("span", "length", "mm", "m", "ft", "m", "'8.1 m'"),
    Quantity("section", "length", "mm", "mm", "in", "cm", "'350 mm'"),
    Quantity("force", "force", "kN", "kN", "kip", "tf", "'30 kN'"),
    Quantity("line load", "line load", "kN/m", "kN/m", "kip/ft", "tf/m", "'22 kN/m'"),
    Quantity("area load", "area load", "kN/m2", "kN/m²", "psf", "tf/m²", "'5 kN/m2'"),
    Quantity("moment", "moment", "kNm", "kN·m", "kip·ft", "tf·m", "'12 kN.m'"),
    Quantity("stress", "stress", "MPa", "MPa", "psi", "kgf/cm²", "'30 MPa'"),
    Quantity("steel stress", "stress", "MPa", "MPa", "ksi", "kgf/cm²", "'500 MPa'"),
    Quantity("density", "density", "kN/m3", "kN/m³", "pcf", "tf/m³", "'25 kN/m3'"),
    Quantity(
        "translational stiffness", "translational stiffness", "kN/m", "kN/m", "kip/ft", "tf/m", "'50000 kN/m'"
    ),
    Quantity(
        "rotational stiffness",
        "rotational stiffness",
        "kN.m/rad",
        "kN·m/rad",
        "kip·ft/rad",
        "tf·m/rad",
        "'20000 kN.m/rad'",
    ),
    Quantity("time", "time", "days", "days", "days", "days", "'60 days'"),
    Quantity(
        "torque per length", "torque per length", "kN.m/m", "kN·m/m", "kip·ft/ft", "tf·m/m", "'4 kN.m/m'"
    ),
    Quantity("steel per length", "steel per length", "mm2/m", "mm²/m", "in²/ft", "cm²/m", "'390 mm2/m'"),
    Quantity("area", "area", "mm2", "mm²", "in²", "cm²", "'1200 mm2'"),
    Quantity("length", "length", "mm", "mm", "in", "cm"),
    Quantity("crack", "length", "mm", "mm", "in", "cm"),
    Quantity("crack parameter", "line load", "N/mm", "N/mm", "kip/in", "kgf/cm"),
    Quantity("number", "number", "-", "", "", ""),
    Quantity("mass", "mass", "kg", "kg", "lb", "kg"),
    Quantity("volume", "volume", "m3", "m³", "yd³", "m³"),
    Quantity("mass per volume", "mass per volume", "kg/m3", "kg/m³", "lb/yd³", "kg/m³"),
)
QUANTITIES = {q.name: q for q in _TABLE}
OF_KEY = {q.key: q for q in reversed(_TABLE) if q.name not in ("span", "section", "crack", "steel stress")}
"""Quantity by the unit that result files have for it."""


@dataclass(frozen=True)
class UnitSystem:
    """The units of bare numbers and of outputs: 'si', 'us' or 'technical'."""

    name: str

    def unit(self, quantity: str) -> str:
        """As it is printed.

        >>> SYSTEMS["us"].unit("moment")
        'kip·ft'
        """
        unit: str = getattr(QUANTITIES[quantity], self.name)
        return unit

    def factor(self, quantity: str) -> float:
        """Size of this system's unit for `quantity` in N, mm, MPa, rad, days."""
        return _KINDS[QUANTITIES[quantity].kind][_plain(self.unit(quantity))]

    def value(self, number: float, quantity: str) -> float:
        """A number in N, mm, MPa in this system's unit."""
        return number / self.factor(quantity)

    def text(self, number: float, quantity: str, digits: int = 3) -> str:
        """With its unit, to so many significant digits.

        >>> SYSTEMS["si"].text(245_300_000.0, "moment")
        '245 kN·m'
        """
        return f"{significant(self.value(number, quantity), digits)} {self.unit(quantity)}".strip()

    @property
    def inches(self) -> bool:
        """Whether lengths are in inches and feet."""
        return self.unit("section") == "in"

    @property
    def step(self) -> float:
        """Of lengths and spacings that are built, mm: 25 mm, or an inch."""
        return _IN if self.inches else 25.0


SYSTEMS: dict[str, UnitSystem] = {name: UnitSystem(name) for name in ("si", "us", "technical")}
RENAMED = {"si": "si", "us": "us", "technical": "technical"}
"""What systems were called before."""

_NEVER_MEANT = ("mass", "volume", "mass per volume", "number")  # no value of a file is one
_NUMBER = re.compile(r"^\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d{1,3})?)\s*(.*?)\s*$")


def _plain(unit: str) -> str:
    """One spelling for kN·m, kN.m, si, kN*m and kNm; m² and m^2 become m2."""
    text = unit.replace("²", "2").replace("³", "3").replace("^", "").replace(" ", "")
    text = re.sub(r"[·*⋅-]", ".", text)
    return re.sub(r"^(N|kN|MN|kip|lb|lbf|tf|kgf)(mm|cm|m|in|ft)(?=$|/)", r"\1.\2", text)


class BareInt(int):
    """A whole number without a unit, of a file whose units are not those of the file that it is read into."""

    system: UnitSystem


class BareFloat(float):
    """The same of a number with decimals."""

    system: UnitSystem


def bare(number: int | float, system: UnitSystem) -> BareInt | BareFloat:
    """A number that takes its unit from `system`, wherever it is read.

    >>> parse(bare(2, SYSTEMS["us"]), "section", SYSTEMS["si"])
    50.8
    """
    result: BareInt | BareFloat = BareInt(number) if isinstance(number, int) else BareFloat(number)
    result.system = system
    return result


def parse(value: object, quantity: str, system: UnitSystem) -> float:
    """A user's value as a number in N, mm, MPa, rad, days.

    Parameters
    ----------
    value : number (in the unit of `system`) or text such as ``'6.4 m'``
    quantity : a key of `QUANTITIES`

    Raises
    ------
    UnitError : not a finite number, an unknown unit, or a unit of another kind.
    """
    kind = QUANTITIES[quantity].kind
    example = next(q.example for q in _TABLE if q.kind == kind)
    wanted = f"{_a(kind)} is needed, such as {example}"
    if isinstance(value, bool) or not isinstance(value, (int, float, str)):
        raise UnitError(f"{_shown(value)} is not a quantity; {wanted}")
    if isinstance(value, (BareInt, BareFloat)):
        system = value.system
    if isinstance(value, (int, float)):
        return _finite(float(value), value, wanted) * system.factor(quantity)
    match = _NUMBER.match(value)
    if not match:
        raise UnitError(f"{_shown(value)} is not a number with a unit; {wanted}")
    number = _finite(float(match.group(1)), value, wanted)
    unit = _plain(match.group(2))
    if not unit:
        return number * system.factor(quantity)
    if unit in _KINDS[kind]:
        return number * _KINDS[kind][unit]
    for other, spellings in _KINDS.items():
        if unit in spellings and other not in _NEVER_MEANT:
            raise UnitError(f"{_shown(value)} is {_a(other)}; {wanted}")
    raise UnitError(f"{_shown(value)}: '{match.group(2)[:20]}' is not a valid unit; {wanted}")


def _finite(number: float, value: object, wanted: str) -> float:
    if not math.isfinite(number) or abs(number) > 1e15:
        raise UnitError(f"{_shown(value)} is not a usable number; {wanted}")
    return number


def _a(kind: str) -> str:
    return ("an " if kind[0] in "aeiou" else "a ") + kind


def _shown(value: object) -> str:
    text = str(value)
    return f"'{text[:40]}…'" if len(text) > 40 else f"'{text}'"


# ---------------------------------------------------------------- numbers for people

_AMOUNT = re.compile(rf"{OPEN}([a-z ]+)\|([^{CLOSE}]+){CLOSE}")


def significant(value: float, digits: int = 3) -> str:
    """12.3, 1230, 0.0123: never an exponent, never fewer whole digits than there are. Halves are rounded away
    from zero, whatever the last bits of the number are."""
    if value == 0.0 or abs(value) < 1e-9:
        return "0"
    places = max(digits - 1 - floor(log10(abs(value))), 0)
    return f"{value * (1.0 + 1e-11):.{places}f}"


def ratio_text(value: float, digits: int = 2) -> str:
    """A ratio of demand to resistance, such that it shows on which side of 1 it is: 1.003, 0.998; '>99' where
    nothing resists."""
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
        if not isfinite(value):
            return "no finite amount"
        if quantity == "place":
            return f"{system.value(value, 'span'):.2f} {system.unit('span')}"
        if quantity in ("size", "span"):  # as it was given
            name = "section" if quantity == "size" else "span"
            return f"{system.value(value, name):.6g} {system.unit(name)}"
        return system.text(value, quantity)

    return _AMOUNT.sub(put, text)


def in_si(text: str) -> str:
    """As result files have it: kN, m, mm."""
    return worded(text, SYSTEMS["si"])
