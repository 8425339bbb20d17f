"""Stirrups of one span in few zones: from the widest spacing that each place permits to places that a fixer
sets out from both faces.

Spacings come from a list. A zone has three stirrups at least, the first stand as far from both faces, and
what a whole number of spacings leaves over goes into the middle.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.section.arrays import Array

ZONE = 3.0  # stirrups that a further zone has to save
FEWEST = 2  # spaces of a zone: three stirrups
ALIKE = 0.1  # of a span's stirrups: what equal ends may cost
MORE = 4.0  # stirrups that spacings from the list may take more than even ones
FEW = 0.04  # of a span's stirrups: what one spacing all along may cost
Zones = list[tuple[float, float, float]]
"""(from, to, spacing) of each zone, left to right."""


@dataclass(frozen=True)
class Permitted:
    """The widest spacing permitted over each stretch between neighbouring places `x` (n + 1,), mm: `most`
    (n,)."""

    x: Array
    most: Array

    def over(self, low: float, high: float) -> float:
        """Anywhere between two places."""
        first, last = (
            np.searchsorted(self.x, low + 1e-6, side="right") - 1,
            np.searchsorted(self.x, high - 1e-6, side="left"),
        )
        return float(self.most[max(int(first), 0) : max(int(last), int(first) + 1)].min(initial=math.inf))

    def at(self, x: Array) -> Array:
        """At places between those of `x`, (m,)."""
        return np.asarray(self.most[np.clip(np.searchsorted(self.x, x) - 1, 0, len(self.most) - 1)])

    def limited(self, low: float, high: float, most: float) -> Permitted:
        """With a limit of its own over one stretch."""
        x = np.unique(np.concatenate([self.x, [v for v in (low, high) if self.x[0] < v < self.x[-1]]]))
        middles = 0.5 * (x[1:] + x[:-1])
        old = self.at(middles)
        return Permitted(x, np.where((middles > low) & (middles < high), np.minimum(old, most), old))


def permitted_of(x: Array, most: Array) -> Permitted:
    """From values at stations `x` (n,), which may stand twice: between two of them the lesser counts.

    >>> permitted_of(np.array([0.0, 500.0, 1000.0]), np.array([150.0, 200.0, 300.0])).over(0.0, 800.0)
    150.0
    """
    places = np.unique(x)
    at = np.searchsorted(places, x)
    least = np.full(len(places), math.inf)
    np.minimum.at(least, at, most)
    return Permitted(places, np.minimum(least[1:], least[:-1]))


@dataclass(frozen=True)
class Group:
    """A stretch of the span with one spacing."""

    start: float
    end: float
    spacing: float


@dataclass(frozen=True)
class Room:
    """Places of the first and the last stirrup, the spacings to take (ascending), the nearest that two
    stirrups may stand, and what gaps beside a middle zone are whole numbers of."""

    first: float
    last: float
    spacings: tuple[float, ...]
    nearest: float
    step: float = 5.0

    def listed(self, spacing: float) -> float:
        """The widest of the list that is no more."""
        return float(self.all_listed(np.array([spacing]))[0])

    def all_listed(self, spacing: Array) -> Array:
        """The same for each of many, (m,)."""
        place = np.searchsorted(self.spacings, spacing + 1e-6, side="right") - 1
        return np.array(self.spacings)[np.maximum(place, 0)]


def zones_of(permitted: Permitted, room: Room, maximum: int) -> Zones:
    """At most so many zones (two of one spacing that meet in the middle count as one), with as few stirrups
    as that allows."""
    permitted = replace(
        permitted, most=np.maximum(permitted.most, room.nearest)
    )  # nearer ones cannot be built, whatever needs them
    groups = _equal_ends(_groups(permitted, room, maximum), room)
    while True:
        made = _set_out(groups, room)
        if made is not None and _valid(made, permitted, room):
            return made
        if len(groups) == 1:
            return made if made is not None else _closer(permitted, room)
        groups = _merged(groups)


def _closer(permitted: Permitted, room: Room) -> Zones:
    """One spacing where a whole number of the widest one leaves too little over: the next one, or that in the
    middle alone where it would take many more stirrups."""
    limit, length = permitted.over(room.first, room.last), room.last - room.first
    allowed = [v for v in reversed(room.spacings) if v <= limit + 1e-6] or list(room.spacings[:1])
    fewest = math.floor(length / allowed[0]) + 1.0
    for s in allowed[1:]:
        made = _uniform(room, s)
        if made is not None and length / s <= fewest + max(1.0, FEW * fewest):
            return made
    for s, less in itertools.pairwise(allowed):
        made = _with_closer_middle(room, s, less)
        if made is not None and length / s <= fewest + MORE:
            return made
    count = max(math.ceil(length / limit - 1e-9), 1)
    return [(room.first, room.last, length / count)] if length > 0.0 else [(room.first, room.first, limit)]


def _with_closer_middle(room: Room, spacing: float, less: float) -> Zones | None:
    """From both faces at a spacing, the middle at a lesser one: a stirrup more than without what was left
    over."""
    length = room.last - room.first
    for few in range(FEWEST + 1, int(length / spacing) - 2 * FEWEST + 1):
        side = 0.5 * (math.floor(length / spacing + 1e-6) - few)
        left, right = math.ceil(side), math.floor(side)
        made = _filled(
            [(room.first, room.first + left * spacing, spacing)],
            [(room.last - right * spacing, room.last, spacing)],
            less,
            room,
        )
        if (
            right >= FEWEST
            and made is not None
            and len(made) == 3
            and sum(round((b - a) / s) + 1 for a, b, s in made) <= length / spacing + 3
        ):
            return made
    return None


# ---------------------------------------------------------------- groups


def _groups(permitted: Permitted, room: Room, maximum: int) -> list[Group]:
    """Stretches of one permitted spacing each, joined until no more than `maximum` are left and each further
    one saves what it costs."""
    inside = np.unique(np.clip(permitted.x, room.first, room.last))
    spacing = room.all_listed(permitted.at(0.5 * (inside[1:] + inside[:-1])))
    changes = np.flatnonzero(np.diff(spacing) != 0.0) + 1
    first, last = np.append(0, changes), np.append(changes, len(spacing))
    limits = zip(inside[first].tolist(), inside[last].tolist(), strict=True)
    runs = (
        [Group(a, b, s) for (a, b), s in zip(limits, spacing[first].tolist(), strict=True)]
        if len(spacing)
        else []
    )
    return (
        _fewest(runs, maximum)
        if runs
        else [Group(room.first, room.last, room.listed(permitted.over(room.first, room.last)))]
    )


def _fewest(runs: Sequence[Group], maximum: int) -> list[Group]:
    """The cheapest way to join neighbouring runs, by dynamic programming over how many groups the first runs
    make."""
    n = len(runs)
    cost = np.full((maximum + 1, n + 1), np.inf)
    before = np.zeros((maximum + 1, n + 1), dtype=int)
    cost[0, 0] = 0.0
    for k in range(1, maximum + 1):
        for j in range(1, n + 1):
            spacing = math.inf
            for i in range(j - 1, -1, -1):
                spacing = min(spacing, runs[i].spacing)
                length = max(
                    runs[j - 1].end - runs[i].start, FEWEST * spacing
                )  # a short zone takes its three stirrups all the same
                value = cost[k - 1, i] + length / spacing + ZONE
                if value < cost[k, j] - 1e-9:
                    cost[k, j], before[k, j] = value, i
    k, j, result = int(cost[:, n].argmin()), n, []
    while j > 0:
        i = int(before[k, j])
        result.append(Group(runs[i].start, runs[j - 1].end, min(r.spacing for r in runs[i:j])))
        k, j = k - 1, i
    return result[::-1]


def _equal_ends(groups: list[Group], room: Room) -> list[Group]:
    """Both ends alike, where that costs little."""
    if len(groups) != 3 or max(groups[0].spacing, groups[2].spacing) > groups[1].spacing:
        return groups
    spacing = min(groups[0].spacing, groups[2].spacing)
    length = max(groups[0].end - groups[0].start, groups[2].end - groups[2].start)
    if 2.0 * length >= room.last - room.first:
        return groups
    alike = [
        Group(room.first, room.first + length, spacing),
        Group(room.first + length, room.last - length, groups[1].spacing),
        Group(room.last - length, room.last, spacing),
    ]
    old, new = (sum((g.end - g.start) / g.spacing for g in v) for v in (groups, alike))
    return alike if new <= (1.0 + ALIKE) * old + 1.0 else groups


def _merged(groups: list[Group]) -> list[Group]:
    """One group fewer: the two neighbours that lose least by sharing the lesser spacing."""

    def loss(i: int) -> float:
        a, b = groups[i], groups[i + 1]
        s = min(a.spacing, b.spacing)
        return (b.end - a.start) / s - (a.end - a.start) / a.spacing - (b.end - b.start) / b.spacing

    i = min(range(len(groups) - 1), key=loss)
    joined = Group(groups[i].start, groups[i + 1].end, min(groups[i].spacing, groups[i + 1].spacing))
    result = [*groups[:i], joined, *groups[i + 2 :]]
    return [Group(g.start, g.end, g.spacing) for g in result]


# ---------------------------------------------------------------- setting out


def _set_out(groups: Sequence[Group], room: Room) -> Zones | None:
    """From both faces towards the group with the widest spacing, which takes what is left over; None where
    zones do not fit so."""
    if room.last - room.first < room.spacings[0]:
        return [(room.first, room.first, room.spacings[0])]
    filler = max(range(len(groups)), key=lambda i: (groups[i].spacing, groups[i].end - groups[i].start))
    if len(groups) == 1:
        return _uniform(room, groups[0].spacing)
    left = _towards(groups[:filler], groups[filler].spacing, room.first)
    mirrored = [Group(-g.end, -g.start, g.spacing) for g in reversed(groups[filler + 1 :])]
    right = _towards(mirrored, groups[filler].spacing, -room.last)
    if left is None or right is None:
        return None
    return _filled(left, _turned(right), groups[filler].spacing, room)


def _turned(zones: Zones) -> Zones:
    return [(-b, -a, s) for a, b, s in reversed(zones)]


def _towards(groups: Sequence[Group], spacing: float, first: float) -> Zones | None:
    """Zones from a face towards a wider `spacing`, each as long as its group needs."""
    made: Zones = []
    place = first
    for i, g in enumerate(groups):
        ahead = groups[i + 1].spacing if i + 1 < len(groups) else spacing
        if g.spacing <= ahead:
            count = max(math.ceil((g.end - place) / g.spacing - 1e-9), FEWEST)
        else:
            count = math.floor((g.end - place) / g.spacing + 1e-9)
            if count < FEWEST:
                return None
        made.append((place, place + count * g.spacing, g.spacing))
        place = made[-1][1] + min(g.spacing if g.spacing > ahead else ahead, ahead)
    return made


def _uniform(room: Room, spacing: float) -> Zones | None:
    """One spacing from face to face: from both, with what is left over in the middle. None where stirrups
    would meet there."""
    length = room.last - room.first
    count = math.floor(length / spacing + 1e-6)
    over = length - count * spacing
    if over <= 1.0 and count >= 1:
        return [(room.first, room.first + count * spacing, spacing)]
    if over < room.nearest or count < 2 * FEWEST:
        return None
    left = math.ceil(0.5 * count)
    return [
        (room.first, room.first + left * spacing, spacing),
        (room.last - (count - left) * spacing, room.last, spacing),
    ]


def _filled(left: Zones, right: Zones, spacing: float, room: Room) -> Zones | None:
    """The middle between zones from either face (one of which may have none)."""
    for _ in range(60):
        if not left or not right:
            made = _one_sided(left, right, spacing, room)
            if made is not None:
                return made
            left, right = (_longer(left, 1), right) if left else (left, _turned(_longer(_turned(right), 1)))
            continue
        gap = right[0][0] - left[-1][1]
        count = math.ceil(gap / spacing - 1e-9)
        if gap < room.nearest:
            return None
        if count <= 1:
            return [*left, *right]
        if count >= FEWEST + 2:
            inner = (count - 2) * spacing
            before = math.floor(0.5 * (gap - inner) / room.step) * room.step
            before = (
                before if gap - inner - before <= spacing and before >= room.nearest else 0.5 * (gap - inner)
            )
            if before >= room.nearest - 1e-6:
                return [*left, (left[-1][1] + before, left[-1][1] + before + inner, spacing), *right]
        # too short for three stirrups: the zones beside go on
        if left[-1][2] >= right[0][2]:
            left = _longer(left, 1)
        else:
            right = _turned(_longer(_turned(right), 1))
    return None


def _one_sided(left: Zones, right: Zones, spacing: float, room: Room) -> Zones | None:
    """The widest zone goes to a face."""
    gap = room.last - left[-1][1] if left else right[0][0] - room.first
    count = math.ceil(gap / spacing - 1e-9) - 1
    over = gap - count * spacing
    if count < FEWEST or over < room.nearest:
        return None
    if left:
        return [*left, (room.last - count * spacing, room.last, spacing)]
    return [(room.first, room.first + count * spacing, spacing), *right]


def _longer(zones: Zones, more: int) -> Zones:
    """With so many more stirrups in the last zone."""
    a, b, s = zones[-1]
    return [*zones[:-1], (a, b + more * s, s)]


def _valid(zones: Zones, permitted: Permitted, room: Room) -> bool:
    """No two neighbours further apart than is permitted between them, none too near, all on the way from
    first to last."""
    if zones[0][0] < room.first - 1e-3 or zones[-1][1] > room.last + 1e-3:
        return False
    for a, b, s in zones:
        if s > permitted.over(a, b) + 1e-6 and b > a:
            return False
    for (_, end, _), (start, _, _) in itertools.pairwise(zones):
        if start - end < room.nearest - 1e-3 or start - end > permitted.over(end, start) + 1e-3:
            return False
    return True
