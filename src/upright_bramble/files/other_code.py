"""A beam file as another design code would have it: width, depth and loads kept, materials by the nearest
grades."""

from __future__ import annotations

import copy
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from upright_bramble.beam import Beam
from upright_bramble.codes import get_code, known_codes
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.core.quantities import SYSTEMS
from upright_bramble.errors import InputFaults
from upright_bramble.files.beam_file import beam_from
from upright_bramble.files.yaml_source import Source

CUBE = 0.8  # of a cube's strength, that of a cylinder has
ROUNDS = 8
KEPT = (
    "bramble",
    "beam",
    "mark",
    "about",
    "units",
    "profiles",
    "line",
    "arrangements",
    "torsion",
    "bracing",
    "service",
    "detailing",
)


@dataclass(frozen=True)
class Translated:
    """A beam in another code, with what of its file that code has no use for."""

    beam: Beam
    left_out: tuple[str, ...]


def codes_for(units: str) -> tuple[str, ...]:
    """Codes whose formulas are printed in the units of a file: inch-pound ones for US files, the metric ones
    of the same code else.

    >>> codes_for("si")
    ('en1992-1-1', 'aci318m-19', 'aci318m-14', 'csa-a23.3-19', 'is456-2000', 'bs8110-97')
    """
    metric = SYSTEMS[units].name != "us"
    return tuple(
        name
        for name in known_codes()
        if bool(get_code(name).words.units.names) != metric or not _has_twin(name)
    )


def _has_twin(name: str) -> bool:
    """Whether a code is known in another set of expressions as well."""
    stem = name.replace("318m", "318")
    return sum(other.replace("318m", "318") == stem for other in known_codes()) > 1


def in_code(source: Source, beam: Beam, name: str, folder: Path | None = None) -> Translated:
    """The beam of a file by another code: concrete and bars of the nearest strength (cubes have 1.25 times
    that of cylinders), bar sizes of the nearest diameters, cover as it is, categories by how much of them
    lasts.

    `source` and `beam` as they were read. Raises InputFaults where the code cannot have it.
    """
    old, new = get_code(beam.code, beam.annex), get_code(name)
    if name == beam.code:
        return Translated(beam, ())
    if "forces" in source.data:
        raise InputFaults(
            [
                source.fault(
                    ("forces",),
                    f"are of the combinations of {beam.code}; give 'actions' to have them by {name}",
                )
            ]
        )
    data: dict[str, Any] = {key: copy.deepcopy(value) for key, value in source.data.items() if key in KEPT}
    data |= {
        "code": name,
        "concrete": _concrete(beam, old, new),
        "reinforcement": _steels(beam, new),
        "cover": _cover(beam),
    }
    data["actions"] = [_action(action, old, new) for action in copy.deepcopy(source.data.get("actions", []))]
    if isinstance(data.get("detailing"), dict):
        data["detailing"] = _sizes(data["detailing"], old, new)
    left_out = [key for key in source.data if key not in {*data, "annex", "code_values", "rules"}]
    for _ in range(ROUNDS):
        try:
            return Translated(
                beam_from(Source(source.name, data, source.lines, (), source.origins), folder),
                tuple(left_out),
            )
        except InputFaults as faults:
            dropped = [f.key for f in faults.faults if _drop(data, f.key)]
            if not dropped:
                raise
            left_out += dropped
    raise InputFaults([source.fault((), f"cannot be had by {name}")])


def _concrete(beam: Beam, old: DesignCode, new: DesignCode) -> dict[str, Any]:
    strength = (
        beam.concrete.strength
        * (CUBE if old.materials.cube_strengths else 1.0)
        / (CUBE if new.materials.cube_strengths else 1.0)
    )
    low, high = new.materials.strength_range()
    wanted = min(max(strength, low), high)
    result: dict[str, Any] = {"aggregate": f"{beam.concrete.aggregate:g} mm"}
    if not new.materials.grades:
        return {**result, "strength": f"{wanted:.7g} MPa"}
    return {
        **result,
        "grade": min(new.materials.grades, key=lambda g: abs(new.materials.concrete_strength(g) - wanted)),
    }


def _steels(beam: Beam, new: DesignCode) -> dict[str, str]:
    def nearest(strength: float) -> str:
        return min(
            new.materials.steels, key=lambda grade: abs(new.materials.steel(grade).strength - strength)
        )

    return {"bars": nearest(beam.bars.strength), "stirrups": nearest(beam.stirrups.strength)}


def _cover(beam: Beam) -> dict[str, str]:
    return {face: f"{getattr(beam.cover, face):g} mm" for face in ("top", "bottom", "sides")}


def _action(action: dict[str, Any], old: DesignCode, new: DesignCode) -> dict[str, Any]:
    """With a category that lasts about as much, and a kind that the code has."""
    kind = action.get("kind")
    if kind not in ("permanent", *new.actions.kinds):
        action["kind"] = kind = "roof" if "roof" in new.actions.kinds else "imposed"
    if kind != "imposed":
        action.pop("category", None)
        return action
    companions = old.actions.accompanying()
    category = action.get("category") or old.actions.default_category()
    wanted = companions.get(str(category), (1.0, 1.0, 0.3))
    table = {key: new.actions.accompanying()[key] for key in new.actions.categories}
    action["category"] = min(
        table, key=lambda key: (abs(table[key][2] - wanted[2]), abs(table[key][0] - wanted[0]))
    )
    return action


def _sizes(detailing: Mapping[str, Any], old: DesignCode, new: DesignCode) -> dict[str, Any]:
    result = dict(detailing)
    for key in ("main_bars", "stirrup_bars", "hangers", "side_bars"):
        if isinstance(result.get(key), list):
            result[key] = list(dict.fromkeys(_nearest(str(size), old, new) for size in result[key]))
        elif key in result:
            result[key] = _nearest(str(result[key]), old, new)
    return result


def _nearest(size: str, old: DesignCode, new: DesignCode) -> str:
    size = size.lstrip("#").removesuffix("M")
    if size not in old.sizes:
        return size
    return min(new.sizes, key=lambda other: abs(new.sizes[other].diameter - old.sizes[size].diameter))


def _drop(data: Any, key: str) -> bool:
    """Take out the entry of a fault; whether there was one that a beam can do without."""
    path = key.replace("[", ".").replace("]", "").split(".")
    if path[0] not in ("service", "detailing", "bracing", "torsion") or len(path) < 2:
        return False
    for part in path[:-1]:
        data = data.get(part) if isinstance(data, dict) else None
    return isinstance(data, dict) and data.pop(path[-1], None) is not None
