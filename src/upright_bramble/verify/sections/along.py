"""A section as a piece of beam under forces that are the same all along: the rules of beams judge it, and no
others."""

from __future__ import annotations

import itertools
from collections import Counter

import numpy as np

from upright_bramble.analysis import analyse
from upright_bramble.beam import (
    Bar,
    Beam,
    Cover,
    Detailing,
    ForceLine,
    Layout,
    SideBars,
    Span,
    StirrupZone,
    Support,
)
from upright_bramble.beam.parts import Reach
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.verify.result import Result
from upright_bramble.verify.sections.model import CrossSection, ForceSet, ServiceSet
from upright_bramble.verify.verification import verify

STIRRUPS = 40  # spacings of the piece
FAR = 1e5  # mm: how far bars go on beyond it
UNEVEN = 0.15  # of a gap that rows of side bars may be off even ones; the gap itself is verified as it is
SECOND_ROW = 5.0  # diameters between axes from which a row belongs to no face


def as_beam(
    section: CrossSection, code: DesignCode, forces: ForceSet, service: tuple[ServiceSet, ...]
) -> tuple[Beam, Layout]:
    """The piece, held at both ends, and its bars."""
    spacing = section.stirrups.spacing if section.stirrups is not None else 100.0
    length = max(STIRRUPS * spacing, 20.0 * section.depth)
    length = spacing * round(length / spacing)
    width = 2.0
    spans = (Span("1", 0.0, length + width, section.profile, 0, 1, reach=_reach(section)),)
    supports = (Support("A", 0.0, width, fixed=True), Support("B", length + width, width, fixed=True))
    ends = np.array([0.0, 0.5 * (length + width), length + width])

    def line(
        label: str, moment: float, shear: float = 0.0, torque: float = 0.0, axial: float = 0.0
    ) -> ForceLine:
        moments, shears, torques, forces = ((np.full(3, v),) for v in (moment, shear, torque, axial))
        return ForceLine(label, (ends,), moments, shears, True, torques, forces)

    acting = line(forces.name, forces.moment, abs(forces.shear), forces.torque, forces.axial)
    given: dict[str, tuple[ForceLine, ...]] = {code.actions.levels[0]: (acting,)}
    for level in code.actions.levels[1:]:
        own = [line(s.name, s.moment, axial=s.axial) for s in service if s.level in ("", level)]
        if own:
            given[level] = tuple(own)
    sizes = tuple(dict.fromkeys(b.size for b in section.bars)) or tuple(code.sizes)[:1]
    ties = (section.stirrups.size,) if section.stirrups is not None else tuple(code.sizes)[:1]
    beam = Beam(
        title=section.title,
        mark="S",
        code=code.name,
        annex=None,
        code_values={},
        units="si",
        concrete=section.concrete,
        bars=section.bars_steel,
        stirrups=section.stirrups_steel,
        cover=_cover(section),
        supports=supports,
        spans=spans,
        actions=(),
        service=section.wanted,
        detailing=Detailing(sizes, ties, layers=4),
        given=given,
        bracing=0.0,
    )
    return beam, Layout(
        _bars(section, length), _stirrups(section, length, width), _side_bars(section, length)
    )


def _cover(section: CrossSection) -> Cover:
    """No more than the bars leave: those that lie farther out are judged where they are, and their cover by
    itself."""
    c, tie = section.cover, section.tie
    if not section.bars:
        return c
    bottom = min(section.depth + b.y - 0.5 * b.diameter for b in section.bars) - tie
    top = min(-b.y - 0.5 * b.diameter for b in section.bars) - tie
    return Cover(max(min(c.top, top), 1.0), max(min(c.bottom, bottom), 1.0), c.sides)


def _reach(section: CrossSection) -> tuple[Reach, Reach, Reach] | None:
    flange = section.profile.flange
    if flange is None:
        return None
    reach = (flange.left, flange.right)
    return reach, reach, reach


def side_levels(section: CrossSection) -> list[float]:
    """Depths of the rows that are side bars: two bars between those of both faces, farther from these than
    rows of one face would be."""
    depths = sorted({round(-b.y, 3) for b in section.bars})
    own = {d: [b for b in section.bars if round(-b.y, 3) == d] for d in depths}

    def apart(d: float, e: float) -> bool:
        return abs(d - e) > SECOND_ROW * max(b.diameter for b in (*own[d], *own[e]))

    return [
        d
        for i, d in enumerate(depths)
        if 0 < i < len(depths) - 1 and len(own[d]) == 2 and apart(d, depths[0]) and apart(d, depths[-1])
    ]


def largest_gap(section: CrossSection) -> float:
    """Between rows of side bars and those of both faces, mm; without side bars the whole way."""
    depths = [-b.y for b in section.bars]
    return max(b - a for a, b in itertools.pairwise([min(depths), *side_levels(section), max(depths)]))


def _side_bars(section: CrossSection, length: float) -> tuple[SideBars, ...]:
    """As many even rows as keep about the largest gap there is."""
    levels = side_levels(section)
    if not levels:
        return ()
    depths = [-b.y for b in section.bars]
    height = max(depths) - min(depths)
    rows = max(int(height / largest_gap(section) - 1.0 + UNEVEN), 0)
    thinnest = min((b for b in section.bars if round(-b.y, 3) in levels), key=lambda b: b.area)
    return (SideBars("L", rows, thinnest.size, -FAR, length + FAR),) if rows else ()


def _bars(section: CrossSection, length: float) -> tuple[Bar, ...]:
    """Bars of one depth and size together, each row by its own depth; side bars left out."""
    sides = set(side_levels(section))
    rows = Counter((round(-b.y, 3), b.size) for b in section.bars if round(-b.y, 3) not in sides)
    half = 0.5 * section.depth
    result: list[Bar] = []
    for face in ("bottom", "top"):
        own = {key: n for key, n in rows.items() if (key[0] > half) == (face == "bottom")}
        outside_in = sorted({d for d, _ in own}, reverse=face == "bottom")
        thickest = {d: max(b.diameter for b in section.bars if round(-b.y, 3) == d) for d in outside_in}
        layers: dict[float, int] = {}
        for k, d in enumerate(outside_in):  # rows whose bars overlap in height are one
            before = outside_in[k - 1] if k else d
            apart = k > 0 and abs(d - before) >= 0.5 * (thickest[d] + thickest[before])
            layers[d] = layers[before] + apart if k else 1
        for (depth, size), number in sorted(own.items()):
            axis = section.depth - depth if face == "bottom" else depth
            result.append(
                Bar(
                    f"{len(result) + 1:02d}", face, layers[depth], number, size, -FAR, length + FAR, axis=axis
                )
            )
    return tuple(result)


def _stirrups(section: CrossSection, length: float, width: float) -> tuple[StirrupZone, ...]:
    s = section.stirrups
    return (
        () if s is None else (StirrupZone("S", s.size, s.legs, 0.5 * width, 0.5 * width + length, s.spacing),)
    )


def judged(
    section: CrossSection, code: DesignCode, forces: ForceSet, service: tuple[ServiceSet, ...]
) -> Result:
    """What the rules of beams say of the piece."""
    beam, layout = as_beam(section, code, forces, service)
    return verify(beam, code, analyse(beam, code), layout)
