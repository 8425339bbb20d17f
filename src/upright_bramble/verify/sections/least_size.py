"""The least depth or width of a section with which the bars given would do for every set of forces."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from upright_bramble.codes.design_code import DesignCode
from upright_bramble.section.shape import Shape
from upright_bramble.verify.sections.choose import resists
from upright_bramble.verify.sections.judge import Verdict, judge
from upright_bramble.verify.sections.model import CrossSection

MOST = 2.5  # times the size given
FURTHER = 8  # steps beyond what bending asks for


def resized(section: CrossSection, which: str, by: float) -> CrossSection:
    """Deeper or wider by so much: what lies below mid-depth moves down, what lies beside the middle outwards;
    bars with the edges."""
    p = section.profile
    if which == "depth":
        half = 0.5 * p.depth
        rings = tuple(
            ring - np.stack([0.0 * ring[:, 0], by * (ring[:, 1] < -half)], axis=1)
            for ring in section.shape.rings
        )
        bars = tuple(replace(b, y=b.y - by * (b.y < -half)) for b in section.bars)
        profile = replace(p, depth=p.depth + by)
    else:
        rings = tuple(
            ring + np.stack([0.5 * by * np.sign(ring[:, 0]), 0.0 * ring[:, 0]], axis=1)
            for ring in section.shape.rings
        )
        inner = 0.5 * p.narrowest - section.cover.sides - section.tied
        bars = tuple(replace(b, x=b.x * (1.0 + 0.5 * by / max(inner, 1.0))) for b in section.bars)
        profile = replace(p, width=p.width + by, foot=None if p.foot is None else p.foot + by)
    corners = tuple((float(x), float(-y)) for x, y in rings[0])
    profile = replace(profile, outline=corners if p.outline else ())
    return replace(section, shape=Shape(rings), profile=profile, bars=bars)


def least_size(
    section: CrossSection, code: DesignCode, which: str, step: float
) -> tuple[float, CrossSection, Verdict] | None:
    """The least depth or width, in whole steps, with which the bars given pass every check; None where none
    up to 2.5 times does."""
    now = section.profile.depth if which == "depth" else section.profile.width
    first = math.ceil(0.4 * now / step)
    last = math.floor(MOST * now / step)

    def at(k: int) -> CrossSection:
        return resized(section, which, k * step - now)

    low, high = first, last
    if not (_fits(at(high)) and resists(at(high), code)):
        return None
    while low < high:  # bending alone asks for no more the larger the section is
        middle = (low + high) // 2
        low, high = (low, middle) if _fits(at(middle)) and resists(at(middle), code) else (middle + 1, high)
    for k in range(low, min(low + FURTHER, last) + 1):  # what else there is may ask for a little more
        verdict = judge(at(k), code)
        if not verdict.failing:
            return k * step, at(k), verdict
    return None


def _fits(section: CrossSection) -> bool:
    """Both faces' bars apart, and all of them inside."""
    ys = [-b.y for b in section.bars]
    inside = section.tied + min(section.cover.top, section.cover.bottom)
    return min(ys) >= inside and max(ys) <= section.depth - inside
