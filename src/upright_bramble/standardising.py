"""Which beams of a floor could share one design, and what that costs: alike in line, profile and steel, with
forces that are near."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Beam
from upright_bramble.beam.alike import TOLERANCE, differences, unable
from upright_bramble.pipeline import code_of, run_design, run_forces
from upright_bramble.section.arrays import Array

SMALL = 0.1  # of the greatest force of its kind: a smaller one does not keep beams apart


@dataclass(frozen=True)
class Designs:
    """What a beam's design takes: one beam's steel (kg), its money, the marks of its bars, whether it
    passes."""

    steel_kg: float
    cost: float
    marks: int
    status: str


def peaks(beam: Beam) -> Array:
    """The strength level in few numbers (k,): of each span the greatest sagging and hogging moment, shear at
    both ends, and torsion; in N mm and N."""
    forces = run_forces(beam)
    e, at = forces.envelopes[code_of(beam).actions.levels[0]], forces.stations
    result = []
    for k in range(len(beam.spans)):
        rows = at.of(k)
        half = (rows.start + rows.stop) // 2
        result += [
            float(np.maximum(e.moment_max[rows], 0.0).max()),
            float(np.maximum(-e.moment_min[rows.start : half], 0.0).max()),
            float(np.maximum(-e.moment_min[half : rows.stop], 0.0).max()),
            float(e.shear[rows.start : half].max()),
            float(e.shear[half : rows.stop].max()),
            float(e.torsion[rows].max()),
        ]
    return np.array(result)


def spread(of: Sequence[Array]) -> float:
    """How much smaller the forces of one beam are than the greatest of all, at the place where that is most;
    0: all alike.

    >>> round(spread([np.array([100.0] * 6), np.array([90.0] * 6)]), 3)
    0.1
    """
    table = np.array(of)
    greatest = table.max(axis=0)
    kinds = table.shape[1] // 6
    by_kind = greatest.reshape(kinds, 6)
    size = np.array([by_kind[:, :3].max()] * 3 + [by_kind[:, 3:5].max()] * 2 + [by_kind[:, 5].max()])
    counts = (by_kind > SMALL * size) & (by_kind > 0.0)
    if not counts.any():
        return 0.0
    return float((1.0 - table / np.where(greatest > 0.0, greatest, 1.0))[:, counts.reshape(-1)].max())


def groups(beams: Sequence[Beam], of: Sequence[Array], within: float) -> list[list[int]]:
    """Indices of beams that could share a design: the strongest first, joined by those whose forces are
    `within` (a share) of its own everywhere. Beams that nothing joins are left out."""
    order = sorted(range(len(beams)), key=lambda i: (-float(of[i].max()), i))
    result: list[list[int]] = []
    for i in order:
        for group in result:
            if (
                not differences(beams[group[0]], beams[i], TOLERANCE)
                and spread([of[k] for k in (*group, i)]) <= within + 1e-9
            ):
                group.append(i)
                break
        else:
            if not unable(beams[i]):
                result.append([i])
    return sorted(sorted(group) for group in result if len(group) > 1)


def designed(beam: Beam) -> Designs:
    """What a design takes; one that finds no bars has none."""
    result = run_design(beam).result
    if result is None:
        return Designs(0.0, 0.0, 0, "fail")
    marks = {result.layout.names[b].split("/")[0] for b in result.layout.entries}
    return Designs(result.quantities["steel_kg"], result.quantities["cost"], len(marks), result.status)
