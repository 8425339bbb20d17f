"""Shear between a web and its flange."""

from __future__ import annotations

import itertools

import numpy as np

from upright_bramble.beam import Beam
from upright_bramble.beam.geometry import maximum_in_row
from upright_bramble.codes.parts import FlangeShear
from upright_bramble.codes.rules import Place
from upright_bramble.section.arrays import Array, Mask
from upright_bramble.text import amount
from upright_bramble.verify.facts import Facts, if_fails
from upright_bramble.verify.result import Judged, Message
from upright_bramble.working import dropped


def flanges(f: Facts) -> Judged:
    """Compressed by sagging (or hogging below), and in tension where bars lie beside the web."""
    result: Judged = []
    design = f.forces.design
    sagging, hogging = np.maximum(design.moment_max, 0.0), np.maximum(-design.moment_min, 0.0)
    for s, support in enumerate(
        f.beam.supports
    ):  # what a simple end is given of hogging is no moment that grows along the span
        if design.end_hogging[s] > 0.0:
            hogging = np.where(np.abs(f.at.x - support.x) <= 0.5 * support.width + 1e-6, 0.0, hogging)
    for index, span in enumerate(f.beam.spans):
        flange = span.profile.flange
        if flange is None or span.reach is None:
            continue
        squeezed, pulled = (hogging, sagging) if flange.below else (sagging, hogging)
        result += _of_span(f, index, squeezed, False)
        result += _of_span(f, index, pulled, True)
    return result


def _of_span(f: Facts, index: int, moments: Array, pulled: bool) -> Judged:
    """The part of a span where the shear between its web and flange is greatest."""
    flange = f.beam.spans[index].profile.flange
    assert flange is not None
    worst: tuple[FlangeShear, int, tuple[float, float, float]] | None = None
    for i, force, length in _handed_over(f, index, moments, pulled):
        governing = (force, flange.thickness, length)
        judged = f.code.shear.flange(f.beam.concrete, f.beam.stirrups, *governing, pulled)
        if judged is not None and (worst is None or judged.stress > worst[0].stress) and judged.stress > 0.0:
            worst = judged, i, governing
    dropped()
    if worst is None:
        return []
    judged, i, governing = worst
    f.code.shear.flange(f.beam.concrete, f.beam.stirrups, *governing, pulled)
    place, kind = Place(span=index), "-tension" if pulled else ""
    note = if_fails("a thicker flange, or stronger concrete", judged.stress > judged.limit)
    crushing = f.check(f"flange.crushing{kind}", place, i, judged.stress, judged.limit, note=note)
    if not judged.steel:
        return [crushing]
    if flange.cross_steel is None:
        clause = f.code.words.clauses.get(f"flange.steel{kind}", "")
        text = (
            f"{amount(judged.steel, 'steel per length')} of bars across the web are required in the flange "
            f"of span {index + 1}"
        )
        text += f" ({clause})" if clause else ""
        warning = Message(
            "warning", f"{text}: the slab must have them; give its 'cross_steel' to have them verified"
        )
        return [crushing, warning]
    f.code.shear.flange(f.beam.concrete, f.beam.stirrups, *governing, pulled)
    local = float(flange.cross_steel)
    note = if_fails("more bars across the web in the slab", local < judged.steel)
    return [crushing, f.check(f"flange.steel{kind}", place, i, judged.steel, local, note=note)]


def _handed_over(f: Facts, index: int, moments: Array, pulled: bool) -> list[tuple[int, float, float]]:
    """From where no moment is half way to where it is greatest, on both sides of every peak of a span
    (6.2.4(3)): station, force handed over to one side of the flange (N), the length that it takes (mm)."""
    at, span = f.at, f.beam.spans[index]
    flange, rows = span.profile.flange, at.of(index)
    assert flange is not None
    assert span.reach is not None
    x, moment = at.local[rows], moments[rows]
    result = []
    for peak, part in _from_peaks(moment):
        i = rows.start + peak
        share = (
            _beside_web(f, i, flange.below)
            if pulled
            else max(span.reach[1]) / float(at.sections.flange_width[i])
        )
        d = f.strength.d_bottom if pulled == flange.below else f.strength.d_top
        zero = x[part][moment[part] <= 1e3]
        outwards = part.start < peak
        start = float(zero[-1 if outwards else 0]) if len(zero) else float(x[part][0 if outwards else -1])
        half = 0.5 * (float(x[peak]) - start)
        if abs(half) < 1.0 or share <= 0.0:
            continue
        length = min([abs(half), *_between_loads(f.beam, index)])
        rise = float(np.max(np.abs(np.interp(x[part] + np.sign(half) * length, x, moment) - moment[part])))
        rise = max(
            rise, _largest_area(x[part], f.forces.design.shear[rows][part], moment[part] > 0.0, length)
        )
        result.append((i, rise / (0.9 * float(d[i])) * share, length))
    return result


def _from_peaks(moment: Array) -> list[tuple[int, slice]]:
    """Stations from where no moment is to each peak, and on: of an arch one peak, of hogging one at each
    end. Of an even peak both its ends, from where the moment falls; of several equal ones each."""
    if float(moment.max(initial=0.0)) <= 1e3:
        return []
    highest, end = np.flatnonzero(moment >= (1.0 - 1e-9) * moment.max()), len(moment) - 1
    result: list[tuple[int, slice]] = []
    for even in np.split(highest, np.flatnonzero(np.diff(highest) > 1) + 1):
        first, last = int(even[0]), int(even[-1])
        result += [(first, slice(0, first + 1)), (last, slice(last, end + 1))]
    for k in (0, end):
        if moment[k] > 1e3 and k not in highest:
            result.append((k, slice(0, end + 1)))
    return [(k, p) for k, p in result if p.stop - p.start > 1]


def _beside_web(f: Facts, i: int, below: bool) -> float:
    """Of the tension force in a flange, the share of the bars that lie on one side of the web beside it: its
    own that do not fit into the web, and the slab's, on the wider side."""
    p, at = f.placed, f.at
    slab = 0.0 if below or p.slab is None else float(p.slab.present[i])
    profile = f.beam.spans[int(at.span[i])].profile.flange
    sides = (0.0, 0.0) if profile is None else (profile.left, profile.right)
    wider = max(sides) / max(sum(sides), 1e-9)
    here = (p.bottom == below) & (p.present[i] > 0.0)
    row = here & (p.layer == 1.0)
    if not row.any():
        return wider if slab else 0.0
    phi = float(p.diameter[row].max())
    gap = float(f.code.detailing.clear_spacing(phi, f.beam.concrete.aggregate))
    inside = maximum_in_row(float(at.width[i]), f.beam.cover.sides, p.tie, phi, gap)
    number = float(
        (p.present[i, row] / (p.area[row] / np.array([p.bars[g].count for g in np.flatnonzero(row)]))).sum()
    )
    out = max(number - inside, 0.0) / number
    both = min(sides) > 0.0
    own = float(p.present[i, here].sum())
    beside = float(out * p.present[i, row].sum()) * (0.5 if both else 1.0)
    return (beside + wider * slab) / (own + slab)


def _largest_area(x: Array, shear: Array, where: Mask, length: float) -> float:
    """The most that the moment of any one set of forces can rise over `length` of the sagging part: the
    envelope of shear there."""
    rise = np.concatenate(
        [[0.0], np.cumsum(0.5 * (shear[1:] * where[1:] + shear[:-1] * where[:-1]) * np.diff(x))]
    )
    return float(
        max((np.interp(x + length, x, rise) - rise).max(), (rise - np.interp(x - length, x, rise)).max())
    )


def _between_loads(beam: Beam, index: int) -> list[float]:
    """Distances of forces that stand on a span."""
    places = sorted(
        {p.start for a in beam.actions for p in a.loads if p.span == index and p.shape == "point"}
    )
    return [b - a for a, b in itertools.pairwise(places) if b - a > 1.0]
