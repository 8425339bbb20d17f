"""The line as prismatic elements: a span is one, a hinge cuts it in two, a taper into many."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.analysis.flanges import line_sections, torsion_constant
from upright_bramble.beam import Beam, Load
from upright_bramble.section.arrays import Array, Index, Mask

PIECES = 32  # of a tapering span: moments right to about 1e-6

# Three Gauss points: exact for a linear load over cubic influence lines, and close for 1/I along a piece of
# taper.
GAUSS_X = np.array([-np.sqrt(0.6), 0.0, np.sqrt(0.6)])
GAUSS_W = np.array([5.0, 8.0, 5.0]) / 9.0


@dataclass(frozen=True)
class Elements:
    """Elements from left to right, (e,) each: their span, start along it, length, mean second moment and
    torsion constant.

    `flexibility` (e, 3): means along the element of (1-s)²/I, s(1-s)/I and s²/I, s from 0 to 1: what its ends
    turn by. `support` (nodes,) is the index of the support at each node, -1 for none; `hinge` (nodes,) marks
    nodes that no moment passes; `first` (spans + 1,) the first element of each span.
    """

    span: Index
    start: Array
    length: Array
    second_moment: Array
    flexibility: Array
    torsion: Array
    support: Index
    hinge: Mask
    first: Index

    def __len__(self) -> int:
        return len(self.span)

    def split(self, load: Load) -> list[tuple[int, Load]]:
        """A load as loads on elements, with places along these."""
        low, high = int(self.first[load.span]), int(self.first[load.span + 1])
        if high == low + 1:
            return [(low, load)]
        starts = self.start[low:high]
        if load.start == load.end:
            e = low + max(int(np.searchsorted(starts, load.start, side="right")) - 1, 0)
            place = load.start - float(self.start[e])
            return [(e, replace(load, start=place, end=place))]
        result = []
        slope = (load.last - load.first) / (load.end - load.start)
        for e in range(low, high):
            begin, length = float(self.start[e]), float(self.length[e])
            a, b = max(load.start, begin), min(load.end, begin + length)
            if b > a:
                first, last = (load.first + slope * (x - load.start) for x in (a, b))
                result.append((e, replace(load, first=first, last=last, start=a - begin, end=b - begin)))
        return result


def elements_of(beam: Beam) -> Elements:
    """Cut the line at hinges and along tapers."""
    span: list[int] = []
    start: list[float] = []
    length: list[float] = []
    support: list[int] = []
    hinge: list[bool] = []
    first: list[int] = []
    for index, s in enumerate(beam.spans):
        first.append(len(span))
        cuts = np.linspace(0.0, s.length, PIECES + 1) if s.tapers else np.array([0.0, s.length])
        if s.hinges:
            cuts = np.unique(
                np.concatenate([cuts[np.abs(cuts[:, None] - np.array(s.hinges)).min(axis=1) > 1.0], s.hinges])
            )
        for a, b in zip(cuts[:-1].tolist(), cuts[1:].tolist(), strict=True):
            at_start = a == 0.0
            support.append(s.left if at_start and s.left is not None else -1)
            hinge.append(a in s.hinges or (at_start and s.left is not None and beam.supports[s.left].hinge))
            span.append(index)
            start.append(a)
            length.append(b - a)
    last = beam.spans[-1].right
    support.append(-1 if last is None else last)
    hinge.append(False)
    first.append(len(span))
    spans, starts, lengths = np.array(span), np.array(start), np.array(length)
    flexibility, torsion = _softness(beam, spans, starts, lengths)
    mean = 1.0 / (flexibility @ [1.0, 2.0, 1.0])
    return Elements(
        span=spans,
        start=starts,
        length=lengths,
        second_moment=mean,
        flexibility=flexibility,
        torsion=torsion,
        support=np.array(support),
        hinge=np.array(hinge),
        first=np.array(first),
    )


def _softness(beam: Beam, span: Index, start: Array, length: Array) -> tuple[Array, Array]:
    """Bending flexibilities (e, 3) and torsion constants, as the inverse of the mean flexibility along each
    element."""
    flexible, twist = np.zeros((len(span), 3)), np.zeros(len(span))
    for x, weight in zip(GAUSS_X.tolist(), GAUSS_W.tolist(), strict=True):
        if x < 0.0 or any(s.tapers for s in beam.spans):  # the same all along, otherwise
            sections = line_sections(beam, span, start + 0.5 * length * (1.0 + x))
            soft, twisted = 0.5 / sections.strips.gross()[2], 0.5 / torsion_constant(sections)
        s = 0.5 * (1.0 + x)
        flexible += weight * soft[:, None] * np.array([(1.0 - s) ** 2, s * (1.0 - s), s**2])
        twist += weight * twisted
    return flexible, 1.0 / twist
