"""Forces from tables: each line of a table is a case, and a level is the lines given for it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from upright_bramble.analysis.line import Responses
from upright_bramble.analysis.stations import PER_SPAN, Stations, assemble, support_stations, with_jumps
from upright_bramble.beam import Beam, ForceLine
from upright_bramble.section.arrays import Array, Index


def stations_of(
    beam: Beam, lines: list[ForceLine], extra: Mapping[int, Sequence[float]] | None = None
) -> Stations:
    """All stations of the tables with the even grid, the faces, and `extra` local places by span; a place
    that a table has twice is there twice."""
    local: list[Array] = []
    side: list[Index] = []
    for index, span in enumerate(beam.spans):
        given = np.unique(np.round(np.concatenate([line.x[index] for line in lines]), 3))
        given = np.clip(given, 0.0, span.length)
        jumps = set()
        for line in lines:
            x = np.round(line.x[index], 3)
            jumps |= set(x[1:][np.diff(x) == 0.0].tolist())
        jumps = {j for j in jumps if 0.5 < j < span.length - 0.5}
        low, high = (f - span.start for f in beam.clear(index))
        others = np.concatenate(
            [
                np.linspace(0.0, span.length, PER_SPAN + 1),
                [low, high, *(s - span.start for s in beam.design_range), *(extra or {}).get(index, ())],
            ]
        )
        others = others[(others >= 0.0) & (others <= span.length)]
        places, sides = with_jumps(np.concatenate([given, others]), jumps)
        local.append(places)
        side.append(sides)
    return assemble(beam, local, side)


def responses_of(beam: Beam, lines: list[ForceLine], at: Stations) -> Responses:
    """The lines at the stations, straight between theirs. Reactions are the jumps of shear where moment and
    shear of a line belong together, 0 for envelopes, whose extremes do not."""
    moment, shear, torsion, axial = (np.zeros((len(lines), len(at))) for _ in range(4))
    reaction = np.zeros((len(lines), len(beam.supports)))
    for row, line in enumerate(lines):
        for index in range(len(beam.spans)):
            places = at.of(index)
            given = [(moment, line.moment[index]), (shear, line.shear[index])]
            given += [(torsion, line.torsion[index])] if line.torsion else []
            given += [(axial, line.axial[index])] if line.axial else []
            for target, values in given:
                target[row, places] = line_at(at.local[places], at.side[places], line.x[index], values)
        if line.together:
            for s in range(len(beam.supports)):
                over = support_stations(beam, at, s)
                left = [i for i in over if at.local[i] > 0.0]
                right = [i for i in over if at.local[i] == 0.0]
                reaction[row, s] = sum(shear[row, i] for i in right) - sum(shear[row, i] for i in left)
    nothing, felt = np.zeros((len(lines), len(at))), np.ones((len(lines), len(beam.spans)), dtype=bool)
    nowhere = np.zeros_like(reaction)
    return Responses(
        moment=moment,
        shear=shear,
        torsion=torsion,
        deflection=nothing,
        reaction=reaction,
        moment_reaction=nowhere,
        load=np.zeros(len(lines)),
        felt=felt,
        twisted=bool(torsion.any()),
        axial=axial if axial.any() else None,
    )


def line_at(x: Array, side: Index, given: Array, values: Array) -> Array:
    """Linear interpolation that takes the side asked for of a place given twice."""
    after = np.where(
        side < 0,
        np.searchsorted(given, x - 1e-3, side="right"),
        np.searchsorted(given, x + 1e-3, side="right"),
    )
    after = np.clip(after, 1, len(given) - 1)
    before = after - 1
    width = given[after] - given[before]
    share = np.clip((x - given[before]) / np.where(width > 1e-9, width, 1.0), 0.0, 1.0)
    return np.asarray(values[before] + share * (values[after] - values[before]))
