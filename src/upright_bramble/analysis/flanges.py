"""What works of each flange, by the code; and the sections at stations that follow from it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from upright_bramble.beam import Beam, Span
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Surroundings, TensionFace, TensionZone
from upright_bramble.section.arrays import Array, Index, Mask
from upright_bramble.section.outline import polygon
from upright_bramble.section.strength import Block, OutlineBlock
from upright_bramble.section.strips import Strips

if TYPE_CHECKING:
    from upright_bramble.analysis.stations import Stations

NEAR_SUPPORT = 0.15  # share of a span next to a support that goes on over it, which has the support's flange


def with_flanges(beam: Beam, code: DesignCode) -> Beam:
    """The beam with the working reach of every flange; the same beam where there is nothing to work out."""
    if all(s.profile.flange is None or s.reach is not None for s in beam.spans):
        return beam
    spans = []
    for index, span in enumerate(beam.spans):
        if span.profile.flange is None:
            spans.append(span)
            continue
        reach = code.analysis.flange_reach(span.profile.flange, span.profile.width, surroundings(beam, index))
        spans.append(replace(span, reach=reach))
    return replace(beam, spans=tuple(spans))


def surroundings(beam: Beam, index: int) -> Surroundings:
    """A span between its neighbours."""
    span, last = beam.spans[index], len(beam.spans) - 1
    low, high = beam.clear(index)

    def held(support: int | None, outermost: bool) -> str:
        if support is None:
            return "free"
        if beam.supports[support].hinge:
            return "simple"
        if not outermost:
            return "continuous"
        return "fixed" if beam.supports[support].restrains_rotation else "simple"

    return Surroundings(
        span.length,
        high - low,
        beam.spans[index - 1].length if index else None,
        beam.spans[index + 1].length if index < last else None,
        held(span.left, index == 0),
        held(span.right, index == last),
    )


@dataclass(frozen=True)
class Sections:
    """Sections at places, (n,) each: narrowest web width, depth, and the flange that works (`flange_width`
    whole, `flange_depth`; the web's width and 0 where there is none; `below` where it is along the bottom);
    widths of the web at its `upper` and `lower` edge, and the length `around` all of it. `outlined` sections
    (`outlines`, zeros elsewhere) are of any shape; their upper and lower widths are those where bars lie."""

    width: Array
    depth: Array
    flange_width: Array
    flange_depth: Array
    below: Mask
    upper: Array
    lower: Array
    around: Array
    outlined: Mask
    outlines: Strips | None = None

    @cached_property
    def strips(self) -> Strips:
        """The compressed face on top: a flange above, the web, a flange below; or the strips of an
        outline."""
        usual = self._webs()
        if self.outlines is None:
            return usual
        more = self.outlines.upper.shape[1] - 3
        here = self.outlined[:, None]

        def wider(own: Array, filled: Array) -> Array:
            return np.concatenate([own, np.repeat(filled[:, None], more, axis=1)], axis=1)

        h = self.depth
        parts = (
            wider(usual.upper, 0.0 * h),
            wider(usual.lower, 0.0 * h),
            wider(usual.top, h),
            wider(usual.bottom, h),
        )
        names = ("upper", "lower", "top", "bottom")
        return Strips(
            *(np.where(here, getattr(self.outlines, k), part) for k, part in zip(names, parts, strict=True))
        )

    def _webs(self) -> Strips:
        h, b_f = self.depth, self.flange_width
        above, under = (
            np.where(self.below, 0.0, self.flange_depth),
            np.where(self.below, self.flange_depth, 0.0),
        )
        slope = (self.lower - self.upper) / h
        top, bottom = self.upper + slope * above, self.lower - slope * under
        return Strips(
            np.stack([b_f, top, b_f], axis=1),
            np.stack([b_f, bottom, b_f], axis=1),
            np.stack([np.zeros_like(h), above, h - under], axis=1),
            np.stack([above, h - under, h], axis=1),
        )


def sections_at(beam: Beam, span: Index, local: Array) -> Sections:
    """Sections of spans `span` (n,) at `local` (n,) places along them, the flange as it works there."""
    n = len(local)
    width, depth, flange_width, flange_depth, upper, lower, around = (np.zeros(n) for _ in range(7))
    below, outlined = np.zeros(n, dtype=bool), np.zeros(n, dtype=bool)
    for index in np.unique(span):
        here, s = span == index, beam.spans[int(index)]
        x, flange = local[here], s.profile.flange
        width[here], depth[here] = s.widths(x), s.depths(x)
        upper[here], lower[here] = s.edges(x)
        flange_width[here] = width[here]
        around[here] = 2.0 * (width[here] + depth[here])
        if s.profile.outline:
            outlined[here] = True
            upper[here], lower[here] = s.profile.rooms
            around[here] = s.profile.outline_size()[1]
        if flange is None:
            continue
        out = _reach(s, x)
        flange_width[here] = np.where(
            out > 0.0, out + (lower[here] if flange.below else upper[here]), width[here]
        )
        flange_depth[here] = np.where(out > 0.0, flange.thickness, 0.0)
        below[here] = flange.below
        around[here] = 2.0 * (flange_width[here] + depth[here])
    outlines = _outlines(beam, span) if outlined.any() else None
    return Sections(
        width=width,
        depth=depth,
        flange_width=flange_width,
        flange_depth=flange_depth,
        below=below,
        upper=upper,
        lower=lower,
        around=around,
        outlined=outlined,
        outlines=outlines,
    )


def _outlines(beam: Beam, span: Index) -> Strips:
    """Strips of outlined profiles at stations of `span`, all of as many strips, at least three; zeros
    elsewhere."""
    known = {
        int(i): polygon(beam.spans[int(i)].profile.outline)
        for i in np.unique(span)
        if beam.spans[int(i)].profile.outline
    }
    maximum = max(3, *(strips.upper.shape[1] for strips in known.values()))
    parts = [np.zeros((len(span), maximum)) for _ in range(4)]
    for index, strips in known.items():
        here, k = span == index, strips.upper.shape[1]
        parts[2][here], parts[3][here] = strips.height[0], strips.height[0]
        for part, name in zip(parts, ("upper", "lower", "top", "bottom"), strict=True):
            part[np.ix_(here, np.arange(k))] = getattr(strips, name)[0]
    return Strips(*parts)


def _reach(span: Span, local: Array) -> Array:
    """Both sides of the working flange together, along a span."""
    assert span.reach is not None, "flanges are worked out before sections"
    left, inside, right = (sum(r) for r in span.reach)
    result = np.full(len(local), inside)
    result = np.where(
        local < NEAR_SUPPORT * span.length, min(left, inside) if span.left is not None else inside, result
    )
    return np.where(
        local > (1.0 - NEAR_SUPPORT) * span.length,
        min(right, inside) if span.right is not None else inside,
        result,
    )


def line_sections(beam: Beam, span: Index, local: Array) -> Sections:
    """Sections for the stiffness of the line: one flange width over the whole span (EN 1992-1-1,
    5.3.2.1(4))."""
    spans = tuple(s if s.reach is None else replace(s, reach=(s.reach[1],) * 3) for s in beam.spans)
    return sections_at(replace(beam, spans=spans), span, local)


def torsion_constant(s: Sections) -> Array:
    """St Venant constant of rectangles: the web over the whole depth, and what the flange has beyond it."""
    return _rectangle_torsion(s.width, s.depth) + _rectangle_torsion(s.flange_width - s.width, s.flange_depth)


def _rectangle_torsion(a: Array, b: Array) -> Array:
    """J of rectangles a x b, to 0.5 %."""
    thin, long = np.minimum(a, b), np.maximum(np.maximum(a, b), 1e-9)
    ratio = thin / long
    return np.asarray(long * thin**3 * (1.0 / 3.0 - 0.21 * ratio * (1.0 - ratio**4 / 12.0)))


def compressed(at: Stations, face: str) -> Block | OutlineBlock:
    """The compressed part of sections whose `face` is in tension; the web as narrow as it is anywhere, an
    outline as it is."""
    s = at.sections
    if s.outlines is not None:
        return OutlineBlock(s.strips if face == "bottom" else s.strips.turned())
    own = s.below if face == "top" else ~s.below
    return Block(s.width, np.where(own, s.flange_width, s.width), np.where(own, s.flange_depth, 0.0))


def tension_width(at: Stations, face: str) -> Array:
    """b_t: the web's width where the flange is compressed, else the mean width of the tension zone (EN
    1992-1-1, 9.2.1.1(1))."""
    s = at.sections
    own = (s.below if face == "bottom" else ~s.below) & (s.flange_depth > 0.0)
    sloping = (s.upper != s.lower) | s.outlined
    if not (own | sloping).any():
        return at.width
    strips = s.strips if face == "bottom" else s.strips.turned()
    return np.where(own | sloping, strips.tension_width(), at.width)


def minimum_width(beam: Beam, code: DesignCode, at: Stations, face: str) -> Array:
    """Width of the web for the minimum steel of a face, (n,): more where a flange is in tension and moments
    cannot go elsewhere, in cantilevers and in lines that statics alone determine."""
    s = at.sections
    own = (s.below if face == "bottom" else ~s.below) & (s.flange_depth > 0.0)
    if not own.any():
        return at.width
    inner = [span for span in beam.spans if not span.cantilever]
    determined = len(inner) <= 1 and not any(v.restrains_rotation for v in beam.supports)
    free = np.array([determined or span.cantilever for span in beam.spans])[at.span]
    return np.where(own, code.bending.minimum_steel_width(at.width, s.flange_width, free), at.width)


def tension_face(beam: Beam, code: DesignCode, at: Stations, face: str, d: Array) -> TensionFace:
    """What the minimum steel of a face depends on; `d` effective depth (n,)."""
    s = at.sections
    own = (s.below if face == "bottom" else ~s.below) & (s.flange_depth > 0.0)
    compressed_width = np.where(own, at.width, np.where(s.flange_depth > 0.0, s.flange_width, at.width))
    flanges = [span.profile.flange for span in beam.spans]
    both = np.array([v is not None and v.left > 0.0 and v.right > 0.0 for v in flanges])[at.span]
    b_t = tension_width(at, face)
    modulus = b_t * at.depth**2 / 6.0
    if own.any():
        strips = s.strips if face == "bottom" else s.strips.turned()
        modulus = np.where(own & ~s.outlined, strips.tension_modulus(), modulus)
    return TensionFace(
        h=at.depth,
        d=d,
        b_w=at.width,
        b_own=minimum_width(beam, code, at, face),
        b_t=b_t,
        b_c=compressed_width,
        both=own & both,
        w_t=modulus,
    )


def tension_zone(at: Stations, face: str) -> TensionZone:
    """Concrete of a face in tension before it cracks: half of the depth of the web, and the flange on that
    face apart from it."""
    s = at.sections
    own = (s.below if face == "bottom" else ~s.below) & (s.flange_depth > 0.0) & ~s.outlined
    web = 0.5 * tension_width(at, face) * at.depth
    if not own.any():
        return TensionZone(web, np.zeros(len(at)), np.ones(len(at)))
    _, centroid, _ = s.strips.gross()
    reach = np.maximum(
        centroid if face == "top" else at.depth - centroid, s.flange_depth
    )  # of the tension before it cracks
    out = np.where(own, s.flange_width * s.flange_depth, 0.0)
    stem = at.width * np.maximum(reach - s.flange_depth, 0.0)
    return TensionZone(np.where(own, stem, web), out, np.where(own, 1.0 - 0.5 * s.flange_depth / reach, 1.0))


def bar_width(at: Stations, face: str) -> Array:
    """Width that the bars of a face may take, (n,): the web's, or with a flange on their side as much of it
    as works (EN 1992-1-1, 9.2.1.2(2); ACI 318-19, 24.3.4): corner bars stand in the stirrups, others may
    stand beside the web."""
    s = at.sections
    own = (s.flange_depth > 0.0) & (s.below if face == "bottom" else ~s.below)
    wide = np.where(own, s.flange_width, s.width)
    return np.where(s.outlined, s.lower if face == "bottom" else s.upper, wide)
