"""Bends in one plane: those of both faces and of rows above each other stand side by side there, or one
behind another."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.flanges import bar_width
from upright_bramble.codes.rules import Place, if_fails
from upright_bramble.section.arrays import Array, Mask
from upright_bramble.verify.facts import Facts
from upright_bramble.verify.result import Check
from upright_bramble.working import dropped, record

TOUCH = 1.0  # mm by which bars may seem to overlap

Rows = dict[tuple[str, int], list[int]]
"""Groups of bars by face and row."""


@dataclass(frozen=True)
class _Meeting:
    """What is in a plane at one level: rows of legs, which stand beside each other, and all rows with those
    whose bars only cross them; the `width` (mm) that they take, and the `room` (mm) for it."""

    legs: Rows
    rows: Rows
    width: float
    room: float

    @property
    def share(self) -> float:
        return self.width / self.room


def bends_in_one_plane(f: Facts) -> list[Check]:
    """Where the legs of a row are met by those of other rows, or by their bars. Legs of two rows may touch,
    pairs of them stand apart as bars of one row do; what only crosses them passes between. The worst of each
    span and side."""
    result = []
    for side, name in enumerate(("left", "right")):
        worst: dict[int, tuple[int, int, _Meeting]] = {}
        for g, bar in enumerate(f.placed.bars):
            if bar.ends[side] not in ("bend", "hook"):
                continue
            i = f.nearest((bar.start, bar.end)[side])
            met, span = _met(f, g, side, i), int(f.at.span[i])
            if met is not None and (span not in worst or met.share > worst[span][-1].share + 1e-9):
                worst[span] = g, i, met
        for span, (g, i, met) in sorted(worst.items()):
            dropped()
            _record(f, g, i, met)
            note = if_fails(
                f"bars {_marks(f, met.rows)} meet at their bends, where they have no room side by side",
                met.share > 1.0 + 1e-9,
            )
            place = Place(span=span, side=name)
            result.append(f.check("fit.bends", place, i, met.width, met.room, note=note))
    return result


def _met(f: Facts, g: int, side: int, i: int) -> _Meeting | None:
    """At the fullest level of the plane in which the legs of group `g` stand at one end; None where no other
    row comes there."""
    p = f.placed
    outer = np.array([(b.start, b.end)[side] for b in p.bars])
    inner = np.array([(b.start, b.end)[1 - side] for b in p.bars])
    inward = 1.0 if side == 0 else -1.0
    begins, goes_on = inward * (outer - outer[g]), inward * (inner - outer[g])
    in_plane = (begins < p.diameter[g] - TOUCH) & (goes_on > TOUCH)
    low, high = _extents(f, side, i)
    legs = in_plane & (begins + p.diameter > TOUCH)  # not those that stand farther out
    levels = np.unique(np.concatenate([p.y[i][in_plane], (low + TOUCH)[legs], (high - TOUCH)[legs]]))
    fullest: _Meeting | None = None
    for level in levels[(levels > low[g]) & (levels < high[g])].tolist():
        upright = legs & (low < level) & (level < high)
        met = _meeting(f, i, upright, upright | (in_plane & (np.abs(p.y[i] - level) < 0.5 * p.diameter)))
        if len(met.rows) > 1 and (fullest is None or met.share > fullest.share):
            fullest = met
    return fullest


def _meeting(f: Facts, i: int, legs: Mask, bars: Mask) -> _Meeting:
    """The tighter of two: what stands inside the stirrup, the legs with the clear distance of the code
    between their pairs, or they and bars that cross them, which need none, as those of stirrups; and all
    bars, where those of a first row that crosses legs may lie beside them in a flange, but for the two in
    the corners of the stirrup."""
    beside, every = _rows(f, legs), _rows(f, bars)
    clear = float(f.code.detailing.clear_spacing(_thickest(f, beside), f.beam.concrete.aggregate))
    gaps = (max(_numbers(f, beside)) - 1) * clear if len(beside) > 1 else 0.0
    web = _room(f, float(f.at.width[i]))
    wide = {
        key: room
        for key in every.keys() - beside.keys()
        if key[1] == 1 and (room := _room(f, float(bar_width(f.at, key[0])[i]))) > web
    }
    inside = sum(_in_corners(f, row) if key in wide else _sum(f, {key: row}) for key, row in every.items())
    upright = _Meeting(beside, every, max(_sum(f, beside) + gaps, inside), web)
    spread = _Meeting(beside, every, _sum(f, every), max(wide.values(), default=web))
    return max(upright, spread, key=lambda met: met.share)


def _in_corners(f: Facts, row: list[int]) -> float:
    """Diameters of the two thinnest bars of a row, mm: the others may lie beside the web."""
    phi = sorted(float(f.placed.diameter[q]) for q in row for _ in range(f.placed.bars[q].count))
    return sum(phi[:2])


def _rows(f: Facts, groups: Mask) -> Rows:
    result: Rows = {}
    for q in np.flatnonzero(groups).tolist():
        bar = f.placed.bars[q]
        result.setdefault((bar.face, bar.layer), []).append(q)
    return result


def _extents(f: Facts, side: int, i: int) -> tuple[Array, Array]:
    """From where to where the legs of each group stand at their left (0) or right end, mm below the top; the
    same place for straight ends."""
    p = f.placed
    leg = np.zeros(len(p.bars))
    for g, bar in enumerate(p.bars):
        if bar.ends[side] in ("bend", "hook"):
            phi, kind = float(p.diameter[g]), bar.ends[side]
            back = 2.0 * (f.code.detailing.bend_radius(phi) + phi)  # a hook turns back in so much
            least = f.code.detailing.minimum_leg(phi, kind)
            leg[g] = back if kind == "hook" else max(bar.legs[side], least)
    half = 0.5 * p.diameter
    low = np.where(p.bottom, p.y[i] + half - leg, p.y[i] - half)
    high = np.where(p.bottom, p.y[i] + half, p.y[i] - half + leg)
    return np.where(leg > 0.0, low, 0.0), np.where(leg > 0.0, high, 0.0)


def _numbers(f: Facts, rows: Rows) -> list[int]:
    return [sum(f.placed.bars[q].count for q in row) for row in rows.values()]


def _thickest(f: Facts, rows: Rows) -> float:
    return max(float(f.placed.diameter[q]) for row in rows.values() for q in row)


def _sum(f: Facts, rows: Rows) -> float:
    """Of the diameters, mm."""
    return sum(f.placed.bars[q].count * float(f.placed.diameter[q]) for row in rows.values() for q in row)


def _room(f: Facts, width: float) -> float:
    return width - 2.0 * (f.beam.cover.sides + f.placed.tie)


def _marks(f: Facts, rows: Rows) -> str:
    names = [f.placed.bars[q].mark for row in rows.values() for q in row]
    return ", ".join(dict.fromkeys(names))


def _record(f: Facts, g: int, i: int, met: _Meeting) -> None:
    """What meets at the legs of group `g`, and the width that it takes."""
    p = f.placed
    record("b", float(f.at.width[i]), "mm", "width of the web")
    record("phi", float(p.diameter[g]), "mm", f"thickness of the plane, of bar {p.bars[g].mark}")
    record("sum n", sum(_numbers(f, met.rows)), "", f"bars that meet there: {_marks(f, met.rows)}")
    record("sum n_l", sum(_numbers(f, met.legs)), "", "of these with legs there")
    record("n_l", max(_numbers(f, met.legs)), "", "legs of the fullest row")
    if len(met.legs) > 1:
        f.code.detailing.clear_spacing(_thickest(f, met.legs), f.beam.concrete.aggregate)
    record(
        "taken", met.width, "mm", "of the legs and the gaps between their pairs, or of the bars in the way"
    )
    record("room", met.room, "mm", "width inside the stirrup, or of the flange for bars that cross legs")
