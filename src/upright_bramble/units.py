"""Text with a unit <-> number.

Inside the program everything is N, mm, MPa, rad (and days). A user's value may carry its unit; a bare number
takes the unit that the file's `units:` names for that kind of quantity.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass

from upright_bramble.errors import UnitError

_KIP = 4448.2216152605
_TF = 9806.65
_FT = 304.8
_IN = 25.4
_PSI = 6.894757293168361e-3

# Spellings by kind of quantity; factor = size of the unit in N, mm, MPa, rad, days.
_LENGTH = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": _IN, '"': _IN, "ft": _FT, "'": _FT}
_FORCE = {"N": 1.0, "kN": 1e3, "MN": 1e6, "lb": _KIP / 1e3, "lbf": _KIP / 1e3, "kip": _KIP, "kgf": _TF / 1e3, "tf": _TF}
_KINDS: dict[str, dict[str, float]] = {
    "length": _LENGTH,
    "force": _FORCE,
    "line load": {
        **{f"{f}/{u}": _FORCE[f] / _LENGTH[u] for f in _FORCE for u in ("mm", "m", "ft", "in")},
        "plf": _KIP / 1e3 / _FT,
        "klf": _KIP / _FT,
    },
    "area load": {
        **{f"{f}/{u}": _FORCE[f] / _LENGTH[u[:-1]] ** 2 for f in ("N", "kN", "kgf", "tf", "lb") for u in ("m2", "ft2")},
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
    "translational stiffness": {f"{f}/{u}": _FORCE[f] / _LENGTH[u] for f in _FORCE for u in ("mm", "m", "in", "ft")},
    "rotational stiffness": {f"{f}.{u}/rad": _FORCE[f] * _LENGTH[u] for f in _FORCE for u in ("mm", "m", "in", "ft")},
    "time": {"days": 1.0, "day": 1.0, "d": 1.0, "years": 365.0, "year": 365.0, "months": 30.4, "month": 30.4},
}


@dataclass(frozen=True)
class UnitSystem:
    """The units of bare numbers and of outputs. Keys are quantities as the interface knows them."""

    name: str
    of: Mapping[str, str]

    def factor(self, quantity: str) -> float:
        """Size of this system's unit for `quantity` in N, mm, MPa, rad, days."""
        return _KINDS[QUANTITIES[quantity]][_plain(self.of[quantity])]


# quantity -> kind: a span and a cover are both lengths, but their bare numbers differ
QUANTITIES = {
    "span": "length",
    "section": "length",
    "force": "force",
    "line load": "line load",
    "area load": "area load",
    "moment": "moment",
    "stress": "stress",
    "density": "density",
    "translational stiffness": "translational stiffness",
    "rotational stiffness": "rotational stiffness",
    "time": "time",
    "torque per length": "torque per length",
    "steel per length": "steel per length",
}

_EXAMPLES = {
    "length": "'8.1 m'",
    "force": "'30 kN'",
    "line load": "'22 kN/m'",
    "area load": "'5 kN/m2'",
    "moment": "'12 kN.m'",
    "stress": "'30 MPa'",
    "density": "'25 kN/m3'",
    "translational stiffness": "'50000 kN/m'",
    "rotational stiffness": "'20000 kN.m/rad'",
    "time": "'60 days'",
    "torque per length": "'4 kN.m/m'",
    "steel per length": "'390 mm2/m'",
}

SYSTEMS: dict[str, UnitSystem] = {
    name: UnitSystem(name, dict(zip(QUANTITIES, units, strict=True)))
    for name, units in {
        "kN-m": ("m", "mm", "kN", "kN/m", "kN/m²", "kN·m", "MPa", "kN/m³", "kN/m", "kN·m/rad", "days", "kN·m/m", "mm²/m"),
        "kip-ft": ("ft", "in", "kip", "kip/ft", "psf", "kip·ft", "psi", "pcf", "kip/ft", "kip·ft/rad", "days", "kip·ft/ft", "in²/ft"),
        "tf-m": ("m", "cm", "tf", "tf/m", "tf/m²", "tf·m", "kgf/cm²", "tf/m³", "tf/m", "tf·m/rad", "days", "tf·m/m", "cm²/m"),
    }.items()
}

_NUMBER = re.compile(r"^\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d{1,3})?)\s*(.*?)\s*$")


def _plain(unit: str) -> str:
    """One spelling for kN·m, kN.m, kN-m, kN*m and kNm; m² and m^2 become m2."""
    text = unit.replace("²", "2").replace("³", "3").replace("^", "").replace(" ", "")
    text = re.sub(r"[·*⋅-]", ".", text)
    return re.sub(r"^(N|kN|MN|kip|lb|lbf|tf|kgf)(mm|cm|m|in|ft)(?=$|/)", r"\1.\2", text)


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
    kind = QUANTITIES[quantity]
    wanted = f"{_a(kind)} is needed, such as {_EXAMPLES[kind]}"
    if isinstance(value, bool) or not isinstance(value, (int, float, str)):
        raise UnitError(f"{_shown(value)} is not a quantity; {wanted}")
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
        if unit in spellings:
            raise UnitError(f"{_shown(value)} is {_a(other)}; {wanted}")
    raise UnitError(f"{_shown(value)}: the unit '{match.group(2)[:20]}' is not known; {wanted}")


def _finite(number: float, value: object, wanted: str) -> float:
    if not math.isfinite(number) or abs(number) > 1e15:
        raise UnitError(f"{_shown(value)} is not a usable number; {wanted}")
    return number


def _a(kind: str) -> str:
    return ("an " if kind[0] in "aeiou" else "a ") + kind


def _shown(value: object) -> str:
    text = str(value)
    return f"'{text[:40]}…'" if len(text) > 40 else f"'{text}'"
