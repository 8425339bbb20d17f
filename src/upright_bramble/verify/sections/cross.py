"""The section turned by a right angle: what lies to its right is on top."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from upright_bramble.beam import Profile
from upright_bramble.section.shape import Shape
from upright_bramble.verify.sections.model import CrossSection


def turned(section: CrossSection) -> CrossSection:
    """x becomes y: a moment about the vertical axis bends it as a beam. Its stirrups have the two legs that
    lie across."""
    right = float(section.shape.rings[0][:, 0].max())
    rings = tuple(np.stack([-ring[:, 1], ring[:, 0] - right], axis=1) for ring in section.shape.rings)
    low, high = rings[0][:, 0].min(), rings[0][:, 0].max()
    middle = 0.5 * (low + high)
    shape = Shape(tuple(ring - [middle, 0.0] for ring in rings))
    bars = tuple(replace(b, x=-b.y - middle, y=b.x - right) for b in section.bars)
    depth = float(-rings[0][:, 1].min())
    corners = tuple((float(x), float(-y)) for x, y in shape.rings[0])
    width = narrowest(shape)
    plain = (
        len(corners) == 4
        and len(rings) == 1
        and section.profile.foot is None
        and section.profile.flange is None
    )
    profile = Profile("turned", width, depth, outline=() if plain else corners, rooms=(width, width))
    stirrups = None if section.stirrups is None else replace(section.stirrups, legs=2)
    return replace(section, shape=shape, profile=profile, bars=bars, stirrups=stirrups)


def narrowest(shape: Shape) -> float:
    """Least width between the levels at a tenth of the depth from both faces, holes left out, mm."""
    from upright_bramble.section.outline import narrowest_between, polygon

    rings = [[(float(x), float(-y)) for x, y in ring] for ring in shape.rings]
    strips = polygon(rings[0], rings[1:])
    depth = float(strips.height[0])
    return narrowest_between(strips, 0.1 * depth, 0.9 * depth)
