"""Depths and widths proposed from spans and moments, for profiles that leave them to the program."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from upright_bramble.analysis.forces import analyse
from upright_bramble.beam import Beam, Profile
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.text import amount

USED = 0.16  # of b d2 f: a section that is neither lean nor crowded
SLENDER = 18.0  # span over effective depth, at most; a cantilever 7
ROUNDS = 4


def rounded_up(length: float, step: float) -> float:
    return math.ceil(length / step - 1e-9) * step


def sized(beam: Beam, code: DesignCode, auto: Mapping[str, tuple[bool, bool]]) -> Beam:
    """The beam with depths (and widths) of the profiles in `auto` (name: depth, width left open) such that
    the greatest moment uses a fair share of the section and no span is slender. A proposal: the design shows
    whether it does."""
    step = beam.detailing.step
    for _ in range(ROUNDS):
        forces = analyse(beam, code)
        at, e = forces.stations, forces.envelopes[code.actions.levels[0]]
        highest = np.maximum(e.moment_max, -e.moment_min)
        new: dict[str, Profile] = {}
        for index, span in enumerate(beam.spans):
            for profile in (span.profile, span.becomes):
                if profile is None or profile.name not in auto:
                    continue
                deep, wide = auto[profile.name]
                depth = (
                    _depth(
                        beam, code, profile, float(highest[at.of(index)].max()), span.length, span.cantilever
                    )
                    if deep
                    else profile.depth
                )
                depth = max(depth, new[profile.name].depth if profile.name in new else 0.0)
                width = max(rounded_up(0.5 * depth, step), 8.0 * step) if wide else profile.width
                new[profile.name] = replace(profile, depth=depth, width=width)
        before = beam
        beam = _with(beam, new)
        if beam == before:
            break
    sizes = {p.name: (amount(p.depth, "length"), amount(p.width, "length")) for p in new.values()}
    words = tuple(
        f"profile {name}: {depth} deep and {width} wide were proposed"
        for name, (depth, width) in sizes.items()
    )
    return replace(beam, proposed=(*beam.proposed, *words))


def _depth(
    beam: Beam, code: DesignCode, profile: Profile, moment: float, length: float, cantilever: bool
) -> float:
    law = code.materials.concrete_law(beam.concrete)
    around = max(beam.cover.top, beam.cover.bottom) + 25.0
    strong = math.sqrt(moment / (USED * code.bending.usual_factor * law.stress * profile.width)) + around
    stiff = length / (7.0 if cantilever else SLENDER) + around
    return rounded_up(max(strong, stiff, 10.0 * beam.detailing.step), beam.detailing.step)


def _with(beam: Beam, new: Mapping[str, Profile]) -> Beam:
    spans = tuple(
        replace(
            s,
            profile=new.get(s.profile.name, s.profile),
            becomes=None if s.becomes is None else new.get(s.becomes.name, s.becomes),
            reach=None,
        )
        for s in beam.spans
    )
    return replace(beam, spans=spans)
