"""Concrete and steels as beam and section files give them."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeAlias

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes import DesignCode
from upright_bramble.core.quantities import UnitSystem
from upright_bramble.errors import CodeError
from upright_bramble.files import models as m
from upright_bramble.files.yaml_source import Path_

Wrong: TypeAlias = Callable[[Path_, str], None]
"""Notes a fault at a key."""


def concrete_of(c: m.ConcreteIn, code: DesignCode, units: UnitSystem, wrong: Wrong) -> Concrete:
    """Strength by grade or as given, inside what the code covers."""
    diagram = c.diagram or code.materials.diagrams[0]
    if diagram not in code.materials.diagrams:
        wrong(
            ("concrete", "diagram"),
            f"'{diagram[:30]}' is no diagram of this code; diagrams: {', '.join(code.materials.diagrams)}",
        )
    strength, grade = 30.0, c.grade or ""
    if (c.grade is None) == (c.strength is None):
        wrong(("concrete",), "give either 'grade' or 'strength'")
    elif c.grade is not None:
        try:
            strength = code.materials.concrete_strength(c.grade)
        except CodeError as error:
            wrong(("concrete", "grade"), str(error))
    else:
        strength = c.strength or 0.0
        low, high = code.materials.strength_range()
        if not low <= strength <= high:
            wrong(
                ("concrete", "strength"),
                f"{strength:.4g} MPa is outside what the code covers, {low:g} to {high:g} MPa",
            )
        grade = f"strength {parsed(strength, units)}"
    return Concrete(strength, c.aggregate, grade, diagram)


def steels_of(r: m.ReinforcementIn, code: DesignCode, units: UnitSystem, wrong: Wrong) -> tuple[Steel, Steel]:
    """Of bars and of stirrups."""
    result = []
    for key, grade in (("bars", r.bars), ("stirrups", r.stirrups or r.bars)):
        if grade is not None:
            try:
                result.append(code.materials.steel(grade))
            except CodeError as error:
                wrong(("reinforcement", key), str(error))
                result.append(Steel(500.0))
        elif r.yield_ is not None:
            if not 200.0 <= r.yield_ <= 700.0:
                wrong(("reinforcement", "yield"), f"{r.yield_:.4g} MPa is no yield strength of bars")
            result.append(Steel(r.yield_, "B", f"yield {parsed(r.yield_, units)}"))
        else:
            wrong(("reinforcement",), "give 'bars', such as B500B, or 'yield'")
            return Steel(500.0), Steel(500.0)
    return result[0], result[1]


def parsed(stress: float, units: UnitSystem) -> str:
    """A stress in the file's units."""
    return f"{stress / units.factor('stress'):.5g} {units.unit('stress')}"
