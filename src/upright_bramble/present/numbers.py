"""Numbers for people: the beam's units, three significant digits unless it is a length to build."""

from __future__ import annotations

from dataclasses import dataclass

from upright_bramble.beam import Beam
from upright_bramble.files.amounts import significant
from upright_bramble.units import SYSTEMS, UnitSystem
from upright_bramble.verify import Check

__all__ = ["Shown", "mass", "mass_per_volume", "shown_for", "significant", "volume"]

BOUNDLESS = 1e5  # mm: a limit beyond is none
_QUANTITY = {"moment": "moment", "force": "force", "length": "section", "crack": "section", "stress": "stress"}


@dataclass(frozen=True)
class Shown:
    """Converts to the units that the beam's file speaks."""

    system: UnitSystem

    def value(self, number: float, quantity: str) -> float:
        return number / self.system.factor(quantity)

    def unit(self, quantity: str) -> str:
        return self.system.of[quantity]

    def text(self, number: float, quantity: str, digits: int = 3) -> str:
        return f"{significant(self.value(number, quantity), digits)} {self.unit(quantity)}"

    def place(self, x: float) -> str:
        """A position along the beam."""
        return f"{self.value(x, 'span'):.2f} {self.unit('span')}"

    def both(self, check: Check) -> str:
        """'demand against resistance', with their unit."""
        if check.quantity in _QUANTITY:
            name = _QUANTITY[check.quantity]
            factor, unit = self.system.factor(name), self.unit(name)
        elif check.quantity == "area":
            unit = self.unit("section") + "²"
            factor = self.system.factor("section") ** 2
        elif check.quantity == "steel per length":
            unit, factor = f"{self.unit('section')}²/{self.unit('span')}", self.system.factor("section") ** 2 / self.system.factor("span")
        else:
            return f"{significant(check.demand)} against {significant(check.resistance)}"
        if check.quantity in ("length", "crack") and check.resistance > BOUNDLESS:
            return f"{significant(check.demand / factor)} {unit}, no limit"
        return f"{significant(check.demand / factor)} against {significant(check.resistance / factor)} {unit}"


def mass(kg: float, units: Shown) -> str:
    return f"{kg / 0.45359237:.0f} lb" if units.system.name == "kip-ft" else f"{kg:.0f} kg"


def volume(m3: float, units: Shown) -> str:
    return f"{m3 * 1.30795062:.2f} yd³" if units.system.name == "kip-ft" else f"{m3:.2f} m³"


def mass_per_volume(kg_per_m3: float, units: Shown) -> str:
    return f"{kg_per_m3 * 1.68555:.0f} lb/yd³" if units.system.name == "kip-ft" else f"{kg_per_m3:.0f} kg/m³"


def shown_for(beam: Beam) -> Shown:
    return Shown(SYSTEMS[beam.units])
