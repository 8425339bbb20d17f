"""What a detailer would say of the bars of a layout: remarks, which decide nothing."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator

import numpy as np

from upright_bramble.beam import StirrupZone
from upright_bramble.text import amount
from upright_bramble.verify.facts import Facts
from upright_bramble.verify.result import BarItem, Message, StirrupItem

APART = 100.0  # mm: ends of bars nearer to each other are one place to a fixer
SHORT = 1000.0  # mm, of a straight piece
STIRRUPS = 3  # of a zone
ZONES, MORE_ZONES = 3, 5  # of a span; with heavy point loads


def practice(f: Facts, bars: list[BarItem], stirrups: list[StirrupItem]) -> list[Message]:
    """One remark of each sort."""
    sorts: list[Callable[[], Iterator[str]]] = [
        lambda: _one_mark(bars, stirrups), lambda: _alike(bars), lambda: _short(bars), lambda: _ends(f), lambda: _rows(f),
        lambda: _zones(f), lambda: _held_legs(f), lambda: _sizes(f),
    ]  # fmt: skip
    result = []
    for sort in sorts:
        said = list(sort())
        if said:
            more = f" (and {len(said) - 1} more)" if len(said) > 1 else ""
            result.append(Message("note", f"practice: {said[0]}{more}"))
    return result


def _piece(item: BarItem | StirrupItem) -> tuple[object, ...]:
    entry = item.bar if isinstance(item, BarItem) else item.zone
    legs = entry.legs if isinstance(entry, StirrupZone) else 0
    return entry.size, legs, item.shape, tuple((k, round(v)) for k, v in item.dimensions)


def _one_mark(bars: list[BarItem], stirrups: list[StirrupItem]) -> Iterator[str]:
    """A mark that stands for different pieces."""
    pieces: dict[str, set[tuple[object, ...]]] = {}
    for bar in bars:
        pieces.setdefault(bar.bar.mark, set()).add(_piece(bar))
    for tie in stirrups:
        pieces.setdefault(tie.zone.mark, set()).add(_piece(tie))
    for mark, different in pieces.items():
        if len(different) > 1:
            yield f"mark {mark} stands for {len(different)} different pieces; give each its own mark"


def _alike(bars: list[BarItem]) -> Iterator[str]:
    """Pieces that are alike under several marks."""
    marks: dict[tuple[object, ...], list[str]] = {}
    for item in bars:
        marks.setdefault(_piece(item), []).append(item.bar.mark)
    for own in marks.values():
        different = list(dict.fromkeys(own))
        if len(different) > 1:
            yield f"bars {', '.join(different)} are alike; one mark would do"


def _short(bars: list[BarItem]) -> Iterator[str]:
    for item in bars:
        if item.cut_length < SHORT and "lap" not in item.bar.ends:
            yield f"bar {item.bar.mark} is {amount(item.cut_length, 'length')} long"


def _ends(f: Facts) -> Iterator[str]:
    """Straight ends of a face that nearly coincide, in one clear span."""
    for face, index in itertools.product(("bottom", "top"), range(len(f.beam.spans))):
        low, high = f.beam.clear(index)
        own = sorted(
            (x, b.mark) for b in f.layout.bars if b.face == face for x, kind in zip((b.start, b.end), b.ends, strict=True)
            if kind == "straight" and low + 20.0 < x < high - 20.0
        )  # fmt: skip
        for (x, a), (y, b) in itertools.pairwise(own):
            if 1.0 < y - x < APART:
                yield f"{face} bars {a} and {b} end {amount(y - x, 'length')} from each other at {amount(x, 'place')}"


def _rows(f: Facts) -> Iterator[str]:
    """Rows that are not symmetrical about the web, or hold more bars than the one nearer to the face."""
    for face in ("bottom", "top"):
        own = sorted((b for b in f.layout.bars if b.face == face), key=lambda b: b.start)
        start, end, layer, count = (np.array([getattr(b, name) for b in own], dtype=float) for name in ("start", "end", "layer", "count"))
        for k, a in enumerate(own):
            beside = (layer == a.layer) & (count % 2.0 == 1.0) & (start < a.end - 1.0) & (start >= a.start)
            beside[: k + 1] = False
            for b in (own[j] for j in np.flatnonzero(beside) if a.count % 2 and "lap" not in (*a.ends, *own[j].ends)):
                yield f"{face} bars {a.mark} and {b.mark} are odd in number together: their row is not symmetrical"
            below = (layer == a.layer - 1.0) & (start <= a.start + 1.0) & (end >= a.end - 1.0)
            if a.layer > 1 and below.any() and count[below].sum() < a.count:
                yield f"{face} row {a.layer} holds more bars ({a.mark}) than the row below it"


def _zones(f: Facts) -> Iterator[str]:
    """Zones of one or two stirrups, and many zones in a span."""
    for index in range(len(f.beam.spans)):
        low, high = f.beam.clear(index)
        own = [z for z in f.layout.stirrups if z.start >= low - 1.0 and z.end <= high + 1.0]
        yield from (f"zone {z.mark} has {z.count} stirrups" for z in own if z.count < STIRRUPS and len(own) > 1)
        most = MORE_ZONES if any(p.span == index and p.shape == "point" for a in f.beam.actions for p in a.loads) else ZONES
        if len(own) > most:
            yield f"span {index + 1} has {len(own)} zones of stirrups"


def _held_legs(f: Facts) -> Iterator[str]:
    """Legs of stirrups with no bar to hold them."""
    for face in ("bottom", "top"):
        row = [b for b in f.layout.bars if b.face == face and b.layer == 1]
        start, end, count = (np.array([getattr(b, name) for b in row], dtype=float) for name in ("start", "end", "count"))
        for z in f.layout.stirrups:
            near = (start <= z.end + 1.0) & (end >= z.start - 1.0)
            places = (z.start + z.spacing * np.arange(z.count))[:, None]
            number = (((places >= start[near] - 1.0) & (places <= end[near] + 1.0)) * count[near]).sum(axis=1).min(initial=np.inf)
            if 2 <= number < z.legs:
                yield f"stirrups {z.mark} have {z.legs} legs where the {face} row has {number:.0f} bars"


def _sizes(f: Facts) -> Iterator[str]:
    """More than two sizes a face, or three of main bars in the beam."""
    for face in ("bottom", "top"):
        sizes = {b.size for b in f.layout.bars if b.face == face}
        if len(sizes) > 2:
            yield f"the {face} bars have {len(sizes)} sizes"
    every: set[str] = {b.size for b in f.layout.bars} | {b.size for b in f.layout.sides}
    if len(every) > 3:
        yield f"the bars have {len(every)} sizes"
