"""Alike beams that share one design: every set of forces of every one of them, as lines along the beam that
is designed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Protocol

import numpy as np

from upright_bramble.analysis.envelope import Row
from upright_bramble.analysis.line import Responses
from upright_bramble.analysis.stations import Stations
from upright_bramble.beam import Beam, ForceLine
from upright_bramble.section.arrays import Array


class Analysed(Protocol):
    """What is taken from the forces of a level."""

    @property
    def stations(self) -> Stations: ...
    @property
    def responses(self) -> Responses: ...
    @property
    def rows(self) -> dict[str, tuple[Row, ...]]: ...
    @property
    def factors(self) -> dict[str, Array]: ...


def under_all_levels(beam: Beam, analysed: Callable[[Beam], Analysed]) -> Beam:
    """The beam under the sets of forces of all its levels, each line named by its level; `analysed` gives the
    Forces of one.

    What only loads can tell (forces near supports, what builds up in phases) is left out here, which is safe;
    each level is verified with its own loads afterwards.
    """
    given: dict[str, tuple[ForceLine, ...]] = {}
    for name, level in beam.levels:
        f = analysed(level)
        at, r = f.stations, f.responses
        scale = [own.length / other.length for own, other in zip(beam.spans, level.spans, strict=True)]
        x = tuple(np.round(at.local[at.of(k)] * scale[k], 6) for k in range(len(beam.spans)))
        for key, factors in f.factors.items():
            rows = f.rows[key]
            effects = {"moment": factors @ r.moment, "shear": factors @ r.shear}
            effects |= {"torsion": factors @ r.torsion} if r.twisted else {}
            effects |= {"axial": factors @ r.axial} if r.axial is not None else {}
            given[key] = (
                *given.get(key, ()),
                *(_line(f"{row.label}; {name}", x, at, k, effects) for k, row in enumerate(rows)),
            )
    return replace(beam, given=given, actions=())


def _line(label: str, x: tuple[Array, ...], at: Stations, row: int, effects: dict[str, Array]) -> ForceLine:
    parts = {kind: tuple(values[row, at.of(k)] for k in range(len(x))) for kind, values in effects.items()}
    return ForceLine(
        label, x, parts["moment"], parts["shear"], True, parts.get("torsion", ()), parts.get("axial", ())
    )
