"""The bars: what `design` proposes, an engineer edits, and `check` judges."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from upright_bramble.core.bars import BarSize

FACES = ("bottom", "top")


CRANKED = "cranked"
"""The end of a part of a bent-up bar where it turns towards the other face; no end of a whole bar."""


@dataclass(frozen=True)
class BentUp:
    """Where a bottom bar is bent up at an `angle` (degrees to the beam's axis) and goes on at the top in row
    `layer`: it leaves the bottom at `left` and at `right` (x, mm; None: not bent up at that side)."""

    left: float | None = None
    right: float | None = None
    angle: float = 45.0
    layer: int = 1


@dataclass(frozen=True)
class Bar:
    """`count` alike bars of one face and layer.

    `start` and `end` are the outer limits of the bar along the beam; `legs` the length of bar beyond the
    limit where an end is bent (0: the code's least). An end is 'straight', 'bend', 'hook', or 'lap':
    straight, and carried on by the next bar beside it. `size` is the designation in the code's catalogue.
    `axis`: distance of its axis from its face, mm, where it does not follow from the layer. `bent_up`: where
    a bottom bar goes to the top; `start` and `end` are those of all of it.
    """

    mark: str
    face: str
    layer: int
    count: int
    size: str
    start: float
    end: float
    ends: tuple[str, str] = ("straight", "straight")
    legs: tuple[float, float] = (0.0, 0.0)
    held: bool = False
    axis: float | None = None
    bent_up: BentUp | None = None


@dataclass(frozen=True)
class StirrupZone:
    """Closed stirrups of `legs` legs at `spacing`, the first at `start`, none beyond `end`."""

    mark: str
    size: str
    legs: int
    start: float
    end: float
    spacing: float
    held: bool = False

    @property
    def count(self) -> int:
        return int((self.end - self.start) / self.spacing + 1e-6) + 1


@dataclass(frozen=True)
class SideBars:
    """Bars along both sides of the web: `rows` at each side, evenly between the corner bars. An end is
    'straight', or a level 'bend' in the support with a leg of outer length `legs` (0: the code's minimum)."""

    mark: str
    rows: int
    size: str
    start: float
    end: float
    held: bool = False
    ends: tuple[str, str] = ("straight", "straight")
    legs: tuple[float, float] = (0.0, 0.0)


Entry = Bar | StirrupZone | SideBars


@dataclass(frozen=True)
class Layout:
    """Pieces that are alike have one mark, wherever they lie: a mark names a piece, and may stand at several
    entries."""

    bars: tuple[Bar, ...]
    stirrups: tuple[StirrupZone, ...]
    sides: tuple[SideBars, ...] = ()

    @property
    def entries(self) -> tuple[Entry, ...]:
        return (*self.bars, *self.stirrups, *self.sides)

    @cached_property
    def names(self) -> Mapping[Entry, str]:
        """Of every entry a name of its own: its mark, and from the second one of the same mark on its number
        from the left.

        >>> a, b = (Bar("04", "top", 1, 2, "16", x, x + 3000.0) for x in (5000.0, 0.0))
        >>> Layout((a, b), ()).names[a], Layout((a, b), ()).names[b]
        ('04/2', '04')
        """
        result: dict[Entry, str] = {}
        seen: dict[str, int] = {}
        for entry in sorted(self.entries, key=lambda e: e.start):
            seen[entry.mark] = number = seen.get(entry.mark, 0) + 1
            result[entry] = entry.mark if number == 1 else f"{entry.mark}/{number}"
        return result


def lapped_pairs(bars: Sequence[Bar]) -> list[tuple[int, int]]:
    """Indices of groups that carry each other on at ends marked 'lap': the like group that begins last before
    the first one ends, each for one other alone; of laps side by side those that leave the shortest the
    longest."""
    result: list[tuple[int, int]] = []
    beginning: dict[tuple[object, ...], list[int]] = {}
    for j, b in enumerate(bars):
        if b.ends[0] == "lap":
            beginning.setdefault(_kind(b), []).append(j)
    ending = [i for i, a in enumerate(bars) if a.ends[1] == "lap"]
    for i in sorted(ending, key=lambda k: (bars[k].end, k)):
        a, like = bars[i], beginning.get(_kind(bars[i]), [])
        beside = [j for j in like if j != i and a.start < bars[j].start <= a.end < bars[j].end]
        if beside:
            j = max(beside, key=lambda k: (bars[k].start, -k))
            like.remove(j)
            result.append((i, j))
    return sorted(_evened(bars, result))


def _evened(bars: Sequence[Bar], pairs: list[tuple[int, int]]) -> list[tuple[int, int]]:
    """Pairs of one kind whose second groups change places where the shorter of both laps grows by it."""
    result = list(pairs)
    for m, n in itertools.combinations(range(len(result)), 2):
        (i, j), (k, other) = result[m], result[n]
        if _kind(bars[i]) != _kind(bars[k]):
            continue
        now = min(bars[i].end - bars[j].start, bars[k].end - bars[other].start)
        swapped = [(i, other), (k, j)]
        fits = all(bars[a].start < bars[b].start <= bars[a].end < bars[b].end for a, b in swapped)
        if fits and min(bars[a].end - bars[b].start for a, b in swapped) > now + 1e-6:
            result[m], result[n] = swapped
    return result


def lapped_share(
    bars: Sequence[Bar],
    pairs: Sequence[tuple[int, int]],
    pair: tuple[int, int],
    reach: float,
    sizes: Mapping[str, BarSize],
) -> float:
    """Of the area of a face's bars at a lap, that lapped at one place: laps whose middles lie within `reach`
    of it count together."""
    face, middle = bars[pair[0]].face, _middle(bars, pair)
    area = [b.count * sizes[b.size].area for b in bars]
    lapped = sum(
        area[i] for i, j in pairs if bars[i].face == face and abs(_middle(bars, (i, j)) - middle) < reach
    )
    doubles = {j for _, j in pairs}
    local = sum(
        area[k]
        for k, b in enumerate(bars)
        if b.face == face and b.start <= middle <= b.end and k not in doubles
    )
    alone = [j for i, j in pairs if bars[i].face == face and bars[i].end < middle]  # past their own laps
    local += sum(area[j] for j in alone if bars[j].start <= middle <= bars[j].end)
    return min(lapped / max(local, 1e-9), 1.0)


def _middle(bars: Sequence[Bar], pair: tuple[int, int]) -> float:
    return 0.5 * (bars[pair[1]].start + bars[pair[0]].end)


def _kind(b: Bar) -> tuple[object, ...]:
    """What groups must have in common to carry each other on."""
    return b.face, b.layer, b.size, b.count
