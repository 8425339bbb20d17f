"""What a section of any outline resists: by a level axis, turning freely, along a ray, and as curves. N, mm,
MPa; see `plane`.

Under one axial force several states may balance where a strength factor follows strain: of these the one with
the greatest moment counts.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.section.arrays import Array, Index, Mask
from upright_bramble.section.plane import Member, Seen, States, seen_along, states, states_along
from upright_bramble.section.strength import next_share

GRID = np.concatenate(
    [np.linspace(0.0, 0.1, 9)[1:], np.linspace(0.1, 1.0, 37)[1:], np.linspace(1.0, 2.0, 13)[1:]]
)
BELOW = np.linspace(-1.0, 0.0, 13)  # neutral axes above the section, where the strain of bars is limited
ROOTS = 60  # steps of a root
CLOSE = 1e-12  # between both sides of a root: places of the neutral axis
TURNS = 72  # directions of a first curve
OFF_GRID = 1.37  # degrees: no axis of symmetry lies on a direction of the grid
BALANCED = 1e-6  # of the greatest force of a section: what an axial force may be missed by


@dataclass(frozen=True)
class Resisted:
    """Balance found at one direction: moments about the reference (N mm), the state's direction (degrees) and
    place of its axis."""

    moment_x: float
    moment_y: float
    theta: float
    place: float

    @property
    def moment(self) -> float:
        return float(np.hypot(self.moment_x, self.moment_y))


def angle_grid(member: Member) -> Array:
    """Places of the neutral axis from the least compression to the greatest; few where forces only grow along
    them."""
    above = GRID if member.factor is not None else GRID[::4]
    if not np.isfinite(member.steel.limit_strain):
        return np.concatenate([[member.lowest], above[above < 2.0], [2.0]])
    below = BELOW if member.factor is not None else BELOW[::4]
    return np.concatenate([below, above[above < 2.0], [2.0]])


def axial_limits(member: Member) -> tuple[float, float]:
    """Axial forces that the section resists with even strain: tension (negative) and compression, N."""
    ends = states(member, 90.0, np.array([member.lowest, 2.0]))
    return float(ends.axial[0]), float(min(ends.axial[1], member.axial_cap))


def balanced(member: Member, theta: Array, axial: float) -> tuple[Array, Mask]:
    """Places of the neutral axis (m,) whose forces balance an `axial` force, by direction, the one with the
    greatest moment where there are several; and where there is any."""
    theta = np.asarray(theta, dtype=float)
    grid, seen = angle_grid(member), seen_along(member, theta)
    m, k = len(theta), len(grid)
    first = states_along(member, seen, np.repeat(np.arange(m), k), np.tile(grid, m))
    off = first.axial.reshape(m, k) - axial
    size = float(np.abs(first.axial).max(initial=1.0))
    change = (off[:, :-1] <= 0.0) != (off[:, 1:] <= 0.0)
    row, column = np.nonzero(change)
    ends = (grid[column], grid[column + 1], off[row, column], off[row, column + 1])
    low, high = _roots(member, axial, seen, row, ends, 1e-10 * size)
    place = np.full(m, np.nan)
    if len(row):
        near = [states_along(member, seen, row, p) for p in (low, high)]
        # a bar that enters the block makes a step: balance lies within it, and the lesser moment counts
        moments = np.minimum(near[0].moment, near[1].moment)
        exact = np.abs(near[0].axial - axial) <= BALANCED * size
        moments = np.where(exact, near[0].moment, moments)
        chosen = np.where(exact | (near[0].moment <= near[1].moment), low, high)
        order = np.lexsort(
            (moments, exact, row)
        )  # the last of each row: exact before steps, then the greatest
        place[row[order]] = chosen[order]
    return place, np.isfinite(place)


def _roots(
    member: Member,
    axial: float,
    seen: Seen,
    row: Index,
    ends: tuple[Array, Array, Array, Array],
    tiny: float,
) -> tuple[Array, Array]:
    """Both sides of every balance (r,), each along a direction by its `row`, between `ends`: places and what
    the forces there are off by. By Chandrupatla's method, as in `bracketed_root`; balances that are found
    drop out."""
    low, high, f_low, f_high = (v.copy() for v in ends)
    below = f_low <= 0.0
    x_1, x_2, f_1, f_2 = low, high, f_low, f_high
    t, open_ = np.full(len(row), 0.5), np.arange(len(row))
    for _ in range(ROOTS):
        if not len(open_):
            break
        x = x_1 + t * (x_2 - x_1)
        value = states_along(member, seen, row[open_], x).axial - axial
        done = np.abs(value) < tiny
        under = (value <= 0.0) == below[open_]
        low[open_], high[open_] = (
            np.where(under | done, x, low[open_]),
            np.where(~under | done, x, high[open_]),
        )
        same = (value <= 0.0) == (f_1 <= 0.0)
        x_3, f_3 = np.where(same, x_1, x_2), np.where(same, f_1, f_2)
        x_2, f_2 = np.where(same, x_2, x_1), np.where(same, f_2, f_1)
        x_1, f_1 = x, value
        width = np.abs(x_2 - x_1)
        going = ~done & (width > CLOSE)
        open_ = open_[going]
        x_1, x_2, x_3, f_1, f_2, f_3, width = (v[going] for v in (x_1, x_2, x_3, f_1, f_2, f_3, width))
        least = np.minimum(0.5 * CLOSE / width, 0.5)
        t = np.clip(next_share(x_1, x_2, x_3, f_1, f_2, f_3), least, 1.0 - least)
    return low, high


def curve(member: Member, axial: float, theta: Array) -> tuple[States, Mask]:
    """Moments resisted together under an axial force, by direction of the strain; and where there is
    balance."""
    place, balanced_at = balanced(member, theta, axial)
    if axial > member.axial_cap:
        balanced_at = np.zeros_like(balanced_at)
    return states(member, theta, np.where(balanced_at, place, 1.0)), balanced_at


def level(member: Member, axial: float, theta: float = 90.0) -> Resisted | None:
    """With the axis held square to a direction: 90, the top compressed. None where nothing balances."""
    result, valid = curve(member, axial, np.array([theta]))
    if not valid[0]:
        return None
    return Resisted(float(result.moment_x[0]), float(result.moment_y[0]), theta, float(result.place[0]))


def along(member: Member, axial: float, angle: float) -> Resisted | None:
    """The moment resisted along a ray, M_x over M_y as the cosine over the sine of `angle` (degrees), the
    axis turning freely. None where no state balances the axial force, or where the ray begins outside the
    curve."""
    cos, sin = np.cos(np.radians(angle)), np.sin(np.radians(angle))
    theta = 90.0 - angle + OFF_GRID + np.arange(TURNS + 1) * 360.0 / TURNS
    for _ in range(4):
        result, found = curve(member, axial, theta)
        if not found.any():
            return None
        cross = result.moment_x * sin - result.moment_y * cos
        dot = result.moment_x * cos + result.moment_y * sin
        k = np.flatnonzero(found[:-1] & found[1:] & ((cross[:-1] > 0.0) != (cross[1:] > 0.0)))
        share = cross[k] / (cross[k] - cross[k + 1])
        reach = dot[k] + share * (dot[k + 1] - dot[k])
        ahead = reach > 0.0
        if (
            len(theta) == TURNS + 1 and ahead.sum() % 2 == 0
        ):  # the ray leaves the curve as often as it enters it
            return None
        if not ahead.any():
            return None
        best = int(np.flatnonzero(ahead)[reach[ahead].argmax()])
        a, b = theta[k[best]], theta[k[best] + 1]
        if abs(b - a) < 1e-6:
            break
        theta = np.linspace(a, b, 13)
    at = float(a + share[best] * (b - a))
    place = float(result.place[k[best]] + share[best] * (result.place[k[best] + 1] - result.place[k[best]]))
    return Resisted(float(reach[best] * cos), float(reach[best] * sin), at, place)


def used(member: Member, axial: float, moment_x: float, moment_y: float) -> float | None:
    """Share of the resistance that forces use: the moment over that along its ray at the same axial force;
    the axial force alone over its limit. None where the section cannot carry the axial force, or no ray
    leaves its curve."""
    low, high = axial_limits(member)
    alone = axial / high if axial >= 0.0 else axial / low
    if np.hypot(moment_x, moment_y) < 1e-3:
        return alone if alone <= 1.0 else None
    resisted = along(member, axial, float(np.degrees(np.arctan2(moment_y, moment_x))))
    return None if resisted is None else float(np.hypot(moment_x, moment_y)) / max(resisted.moment, 1e-9)


def with_axial(member: Member, theta: float, points: int = 121) -> States:
    """States from even tension to even compression with the axis square to a direction: the curve of axial
    force and moment."""
    grid = angle_grid(member)
    place = np.interp(np.linspace(0.0, len(grid) - 1.0, points), np.arange(len(grid)), grid)
    return states(member, np.full(points, theta), place)
