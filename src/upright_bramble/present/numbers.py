"""Numbers for people: the beam's units, three significant digits unless it is a length to build."""

from __future__ import annotations

from dataclasses import dataclass

from upright_bramble.beam import Beam
from upright_bramble.core.quantities import SYSTEMS, UnitSystem, significant

__all__ = ["Shown", "mass", "mass_per_volume", "shown_for", "significant", "volume"]


@dataclass(frozen=True)
class Shown:
    """Converts to the units that the beam's file speaks."""

    system: UnitSystem

    def value(self, number: float, quantity: str) -> float:
        return self.system.value(number, quantity)

    def unit(self, quantity: str) -> str:
        return self.system.unit(quantity)

    def text(self, number: float, quantity: str, digits: int = 3) -> str:
        return self.system.text(number, quantity, digits)

    def place(self, x: float) -> str:
        """A position along the beam."""
        return f"{self.value(x, 'span'):.2f} {self.unit('span')}"


def mass(kg: float, units: Shown) -> str:
    return f"{units.value(kg, 'mass'):.0f} {units.unit('mass')}"


def volume(m3: float, units: Shown) -> str:
    return f"{units.value(m3, 'volume'):.2f} {units.unit('volume')}"


def mass_per_volume(kg_per_m3: float, units: Shown) -> str:
    return f"{units.value(kg_per_m3, 'mass per volume'):.0f} {units.unit('mass per volume')}"


def shown_for(beam: Beam) -> Shown:
    return Shown(SYSTEMS[beam.units])
