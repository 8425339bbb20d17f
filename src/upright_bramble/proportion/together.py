"""The bars of the whole beam at once: of every run one group, such that all together cost least, every
further size counted once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Beam
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.core.bars import counted
from upright_bramble.proportion.choice import Choice, Weighed
from upright_bramble.section.arrays import Array, Index

RUNNERS = 12  # kept of each run
SIZES = (2, 3)  # of a face, of the beam
TOO_MANY = 1000.0  # what each further one costs, in money


@dataclass(frozen=True)
class Runner:
    """A group of bars that would do as well but was not taken: its extra cost, and what that is due to
    (money)."""

    face: str
    first_span: int
    last_span: int
    through: str
    extra: str
    cost: float
    extra_cost: float
    because: tuple[tuple[str, float], ...]


@dataclass(frozen=True)
class Taken:
    """A group for every run, in their order; how many arrangements of the whole beam that can be built they
    are the cheapest of; and what came next."""

    choices: tuple[Choice, ...]
    weighed: int
    runners: tuple[Runner, ...]


@dataclass(frozen=True)
class _Partial:
    """The cheapest arrangements of the runs so far, one for each set of sizes used: (s,) sets as bits, costs,
    and the groups taken."""

    used: Index
    cost: Array
    picks: list[tuple[int, ...]]


def together(beam: Beam, code: DesignCode, weighed: Sequence[Weighed], held: frozenset[str]) -> Taken:
    """The cheapest arrangement of all runs, those of the `held` sizes costing nothing more.

    Exact, though not every arrangement is written out: runs meet only in the sizes that they share, so that
    of all arrangements of the runs before which use one set of sizes only the cheapest can be part of the
    best.
    """
    every = sorted(set().union(held, *(used for w in weighed for used in w.sizes)))
    bit = {size: 1 << n for n, size in enumerate(every)}
    shift = {"bottom": len(every), "top": 2 * len(every)}  # beside the sizes of the beam those of each face
    rate, count = beam.detailing.rates.variety, 1
    so_far = _Partial(np.array([sum(bit[s] for s in held)]), np.zeros(1), [()])
    for w in weighed:
        sizes = np.array([sum(bit[s] | bit[s] << shift[w.run.face] for s in used) for used in w.sizes])
        own = np.flatnonzero(w.feasible)
        used = so_far.used[:, None] | sizes[own]
        further = _price(used, len(every), rate) - _price(so_far.used, len(every), rate)[:, None]
        cost = so_far.cost[:, None] + w.cost[own] + further
        count *= _arrangements(w)
        so_far = _cheapest(so_far, used, cost, own)
    best = int(so_far.cost.argmin())
    picks = so_far.picks[best]
    runners = [r for k, w in enumerate(weighed) for r in _runners(code, weighed, picks, k, held, rate)]
    return Taken(tuple(w.choice(i) for w, i in zip(weighed, picks, strict=True)), count, tuple(runners))


def _arrangements(w: Weighed) -> int:
    """Of a run that can be built: the groups, in every zone with its first row stopping at once or in two
    steps."""
    double = (w.total - w.second >= 2.0).sum(axis=1)
    return sum(2 ** int(n) for n in double[w.feasible])


def _cheapest(before: _Partial, used: Index, cost: Array, own: Index) -> _Partial:
    """Of every set of sizes the cheapest."""
    sets, where = np.unique(used.ravel(), return_inverse=True)
    order = np.argsort(cost.ravel(), kind="stable")
    _, first = np.unique(where.ravel()[order], return_index=True)
    place = order[first]
    rows, columns = np.unravel_index(place, cost.shape)
    picks = [(*before.picks[r], int(own[c])) for r, c in zip(rows.tolist(), columns.tolist(), strict=True)]
    return _Partial(sets, cost.ravel()[place], picks)


def _price(sets: Index, n: int, rate: float) -> Array:
    """What the sizes of a set cost: each by its rate, those beyond two a face or three in the beam as much as
    only need makes one pay."""
    beam = _count(sets & ((1 << n) - 1))
    over = np.maximum(beam - SIZES[1], 0)
    for face in (n, 2 * n):
        over = over + np.maximum(_count(sets >> face & ((1 << n) - 1)) - SIZES[0], 0)
    return np.asarray(rate * beam + TOO_MANY * over)


def _count(sets: Index) -> Index:
    """Sizes in each set."""
    result = np.zeros_like(sets)
    left = sets.copy()
    while left.any():
        result += left & 1
        left >>= 1
    return result


def _runners(
    code: DesignCode,
    weighed: Sequence[Weighed],
    picks: tuple[int, ...],
    k: int,
    held: frozenset[str],
    rate: float,
) -> list[Runner]:
    """The cheapest other groups of one run beside what was taken of the others, each once, with what their
    extra cost is due to."""
    w, best = weighed[k], picks[k]
    others = held.union(*(weighed[j].sizes[i] for j, i in enumerate(picks) if j != k))
    sizes = rate * np.array([len(used | others) for used in w.sizes])
    cost = w.cost + sizes
    parts = {**w.parts, "sizes": sizes}
    result: list[Runner] = []
    seen = {_words(code, w, best)}
    for i in np.argsort(cost, kind="stable").tolist():
        if not np.isfinite(cost[i]) or len(result) >= RUNNERS:
            break
        words = _words(code, w, i)
        if words in seen:
            continue
        seen.add(words)
        because = tuple(
            (name, float(part[i] - part[best]))
            for name, part in parts.items()
            if abs(part[i] - part[best]) > 0.005
        )
        result.append(
            Runner(w.run.face, *w.spans, *words, float(cost[i]), float(cost[i] - cost[best]), because)
        )
    return result


def _words(code: DesignCode, w: Weighed, i: int) -> tuple[str, str]:
    """Bars that run through, and extra bars zone by zone."""
    c, extra = w.candidates, [int(v) for v in w.total[i]]
    stepped = (w.two_steps[i] & (w.total[i] - w.second[i] >= 2.0)).any()
    local = "|".join(str(v) for v in extra) + f" {code.sizes.label(c.extra[i])}" if any(extra) else ""
    local += ", in two steps" if stepped else ""
    return counted(int(c.number[i]), code.sizes.label(c.size[i])), local
