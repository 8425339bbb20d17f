"""What a detailer would say of the bars of a layout: remarks, which decide nothing."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator

import numpy as np

from upright_bramble.beam import StirrupZone
from upright_bramble.text import amount
from upright_bramble.verify.facts import Facts, ratio_of
from upright_bramble.verify.result import BarItem, Message, StirrupItem
from upright_bramble.verify.rules.bending import demand_and_resistance

APART = 100.0  # mm: ends of bars nearer to each other are one place to a fixer
SHORT = 1000.0  # mm, of a straight piece
STIRRUPS = 3  # of a zone
LEGS_APART = 610.0  # mm (24 in), of stirrups across the beam: no code that limits them permits more
LENGTHS = 2  # of bars at one place
STRESSED = 0.5  # of its resistance: a face that pulls more should not have all its bars lapped in one place
ZONES, MORE_ZONES = 3, 5  # of a span; with heavy point loads


MOST = 3  # remarks of one sort; of more their number is told
Remarks = Iterator[tuple[str, str]]
"""Where, and what with its cure."""


def practice(f: Facts, bars: list[BarItem], stirrups: list[StirrupItem]) -> list[Message]:
    """Remarks with their places and cures, of each sort the first few."""
    sorts: list[Callable[[], Remarks]] = [
        lambda: _one_mark(bars, stirrups),
        lambda: _alike(bars),
        lambda: _short(f, bars),
        lambda: _ends(f),
        lambda: _rows(f),
        lambda: _zones(f),
        lambda: _held_legs(f),
        lambda: _wide_legs(f),
        lambda: _sizes(f),
        lambda: _distances(f),
        lambda: _lengths(f),
        lambda: _laps(f),
    ]
    result = []
    for sort in sorts:
        remarks = list(dict.fromkeys(sort()))
        for k, (where, text) in enumerate(remarks[:MOST]):
            more = (
                f" ({len(remarks) - MOST} more of this sort)" if k == MOST - 1 and len(remarks) > MOST else ""
            )
            result.append(Message("remark", text + more, where, "practice"))
    return result


def _piece(item: BarItem | StirrupItem) -> tuple[object, ...]:
    entry = item.bar if isinstance(item, BarItem) else item.zone
    legs = entry.legs if isinstance(entry, StirrupZone) else 0
    return entry.size, legs, item.shape, tuple((k, round(v)) for k, v in item.dimensions)


def _one_mark(bars: list[BarItem], stirrups: list[StirrupItem]) -> Remarks:
    """A mark that stands for different pieces."""
    pieces: dict[str, set[tuple[object, ...]]] = {}
    for bar in bars:
        pieces.setdefault(bar.bar.mark, set()).add(_piece(bar))
    for tie in stirrups:
        pieces.setdefault(tie.zone.mark, set()).add(_piece(tie))
    for mark, different in pieces.items():
        if len(different) > 1:
            yield f"mark {mark}", f"one mark for {len(different)} different pieces: give each its own"


def _alike(bars: list[BarItem]) -> Remarks:
    """Pieces that are alike under several marks."""
    marks: dict[tuple[object, ...], list[str]] = {}
    for item in bars:
        marks.setdefault(_piece(item), []).append(item.bar.mark)
    for own in marks.values():
        different = list(dict.fromkeys(own))
        if len(different) > 1:
            yield f"marks {', '.join(different)}", "alike pieces under several marks: one mark would do"


def _short(f: Facts, bars: list[BarItem]) -> Remarks:
    for item in bars:
        if item.cut_length < min(SHORT, f.beam.detailing.shortest_piece) and "lap" not in item.bar.ends:
            yield (
                f"mark {item.bar.mark}",
                f"a piece of {amount(item.cut_length, 'length')}: longer ones are placed with less work",
            )


def _ends(f: Facts) -> Remarks:
    """Straight ends of a face that nearly coincide, in one clear span."""
    for face, index in itertools.product(("bottom", "top"), range(len(f.beam.spans))):
        low, high = f.beam.clear(index)
        own = sorted(
            (x, b.mark)
            for b in f.placed.bars
            if b.face == face
            for x, kind in zip((b.start, b.end), b.ends, strict=True)
            if kind == "straight" and low + 20.0 < x < high - 20.0
        )
        for (x, a), (y, b) in itertools.pairwise(own):
            if 1.0 < y - x < APART:
                apart = amount(y - x, "length")
                yield (
                    f"{face}, {amount(x, 'place')}",
                    f"bars {a} and {b} end {apart} from each other: let them end at one place",
                )


def _rows(f: Facts) -> Remarks:
    """Rows that are not symmetrical about the web, or hold more bars than the one nearer to the face."""
    for face in ("bottom", "top"):
        own = sorted((b for b in f.placed.bars if b.face == face), key=lambda b: b.start)
        start, end, layer, count = (
            np.array([getattr(b, name) for b in own], dtype=float)
            for name in ("start", "end", "layer", "count")
        )
        for k, a in enumerate(own):
            beside = (layer == a.layer) & (count % 2.0 == 1.0) & (start < a.end - 1.0) & (start >= a.start)
            beside[: k + 1] = False
            for b in (
                own[j] for j in np.flatnonzero(beside) if a.count % 2 and "lap" not in (*a.ends, *own[j].ends)
            ):
                where = f"{face}, {amount(b.start, 'place')}"
                yield (
                    where,
                    f"bars {a.mark} and {b.mark} are both odd in number, their row is not symmetrical: stop "
                    "pairs",
                )
            below = (layer == a.layer - 1.0) & (start <= a.start + 1.0) & (end >= a.end - 1.0)
            if a.layer > 1 and below.any() and count[below].sum() < a.count:
                text = (
                    f"row {a.layer} holds more bars ({a.mark}) than the row below it: fill the lower one "
                    "first"
                )
                yield f"{face}, {amount(a.start, 'place')}", text


def _zones(f: Facts) -> Remarks:
    """Zones of one or two stirrups, and many zones in a span."""
    for index in range(len(f.beam.spans)):
        low, high = f.beam.clear(index)
        own = [z for z in f.layout.stirrups if z.start >= low - 1.0 and z.end <= high + 1.0]
        for z in own:
            if z.count < STIRRUPS and len(own) > 1:
                yield (
                    f"span {index + 1}, {amount(z.start, 'place')}",
                    f"a zone of {z.count} stirrups ({z.mark}): join it to its neighbour",
                )
        most = (
            MORE_ZONES
            if any(p.span == index and p.shape == "point" for a in f.beam.actions for p in a.loads)
            else ZONES
        )
        if len(own) > most:
            yield f"span {index + 1}", f"{len(own)} zones of stirrups: {most} are set out with less work"


def _held_legs(f: Facts) -> Remarks:
    """Legs of stirrups with no bar to hold them."""
    for face in ("bottom", "top"):
        row = [b for b in f.placed.bars if b.face == face and b.layer == 1]
        start, end, count = (
            np.array([getattr(b, name) for b in row], dtype=float) for name in ("start", "end", "count")
        )
        for z in f.layout.stirrups:
            near = (start <= z.end + 1.0) & (end >= z.start - 1.0)
            places = (z.start + z.spacing * np.arange(z.count))[:, None]
            number = (
                (((places >= start[near] - 1.0) & (places <= end[near] + 1.0)) * count[near])
                .sum(axis=1)
                .min(initial=np.inf)
            )
            if 2 <= number < z.legs:
                text = (
                    f"{z.legs} legs ({z.mark}) where the {face} row has {number:.0f} bars: add carrier bars, "
                    "or take fewer legs"
                )
                yield f"{face}, {amount(z.start, 'place')}", text


def _wide_legs(f: Facts) -> Remarks:
    """Stirrups of wide beams with two legs far apart, which not every code limits."""
    for z in f.layout.stirrups:
        at = (f.at.x >= z.start - 1.0) & (f.at.x <= z.end + 1.0)
        width = float(f.at.width[at].max(initial=0.0)) - 2.0 * f.beam.cover.sides
        apart = (width - f.code.sizes[z.size].diameter) / (z.legs - 1.0)
        if apart > LEGS_APART + 1.0:
            text = (
                f"{z.legs} legs ({z.mark}) stand {amount(apart, 'length')} apart across the beam: take more"
            )
            yield amount(z.start, "place"), text


def _sizes(f: Facts) -> Remarks:
    """More than two sizes a face, or three of main bars in the beam."""
    for face in ("bottom", "top"):
        sizes = {b.size for b in f.placed.bars if b.face == face}
        if len(sizes) > 2:
            yield face, f"{len(sizes)} sizes of bars: two would do"
    every: set[str] = {b.size for b in f.placed.bars} | {b.size for b in f.layout.sides}
    if len(every) > 3:
        yield "", f"{len(every)} sizes of bars in the beam: three would do"


def _distances(f: Facts) -> Remarks:
    """Bars of rows that run on nearer to each other, or farther apart, than the user wants."""
    d, p = f.beam.detailing, f.placed
    if not d.clear and d.centres is None:
        return
    for face, index in itertools.product(("bottom", "top"), range(len(f.beam.spans))):
        span = f.beam.spans[index]
        i = f.nearest_of(index, span.start + 0.5 * span.length)
        row = (p.bottom == (face == "bottom")) & (p.layer == 1.0) & (p.present[i] > 0.0)
        number = float(
            (
                p.present[i, row]
                / np.maximum(p.area[row], 1e-9)
                * np.array([b.count for b in p.bars], dtype=float)[row]
            ).sum()
        )
        if number < 2.0:
            continue
        phi = float(p.diameter[row].max())
        centres = (float(f.at.width[i]) - 2.0 * (f.beam.cover.sides + p.tie) - phi) / (number - 1.0)
        where = f"span {index + 1}, {face}"
        if centres - phi < d.clear - 1.0:
            yield (
                where,
                f"{amount(centres - phi, 'length')} between bars where {amount(d.clear, 'length')} are "
                "wished for: fewer in the row",
            )
        if d.centres is not None and centres > d.centres + 1.0:
            yield (
                where,
                f"bars {amount(centres, 'length')} apart where {amount(d.centres, 'length')} are wished for "
                "at most: more in the row",
            )


def _lengths(f: Facts) -> Remarks:
    """More than two lengths of support bars at a support, or of span bars in a span."""
    straight = [b for b in f.placed.bars if b.ends == ("straight", "straight")]
    for s in f.beam.supports:
        over = {round(b.end - b.start) for b in straight if b.face == "top" and b.start < s.x < b.end}
        if len(over) > LENGTHS:
            yield f"support {s.name}", f"{len(over)} lengths of support bars: two would do"
    for index in range(len(f.beam.spans)):
        low, high = f.beam.clear(index)
        inside = {
            round(b.end - b.start)
            for b in straight
            if b.face == "bottom" and b.start >= low and b.end <= high
        }
        if len(inside) > LENGTHS:
            yield f"span {index + 1}", f"{len(inside)} lengths of bottom bars: two would do"


def _laps(f: Facts) -> Remarks:
    """All bars of a face, more than the two in the corners, lapped in one place where it pulls more than half
    of what it resists."""
    for face in ("bottom", "top"):
        demand, resistance = demand_and_resistance(f, face == "bottom")
        ratio = ratio_of(demand, resistance.moment, f.at.span)
        for lap in f.placed.laps:
            bar = f.placed.bars[lap.first]
            few = bar.count <= 2 or lap.share < 1.0 - 1e-9
            if bar.face != face or lap.first == lap.second or few:
                continue
            middle = f.nearest(0.5 * (lap.start + lap.end))
            pulled = float(ratio[middle])
            if pulled > STRESSED:
                text = (
                    f"all {face} bars are lapped in one place, where the face is used to {pulled:.2f}: "
                    "staggered laps, or a place where it pulls less"
                )
                yield f"span {f.beam.spans[int(f.at.span[middle])].name}", text
