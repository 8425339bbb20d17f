"""Materials, cover, profiles, supports and spans."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any, TypeAlias

KINK = 0.02  # change of slope of a soffit that a straight bar does not follow


@dataclass(frozen=True)
class Concrete:
    """Characteristic cylinder strength `strength`, largest aggregate size, the grade's name as given, and the
    stress diagram that resistances are found with."""

    strength: float
    aggregate: float = 20.0
    grade: str = ""
    diagram: str = "block"


@dataclass(frozen=True)
class Steel:
    """Characteristic yield strength, the ductility class where the code has one, and the upper branch of its
    diagram: 'horizontal', or 'inclined' where the code has such a one."""

    strength: float
    ductility: str = "B"
    grade: str = ""
    branch: str = "horizontal"


@dataclass(frozen=True)
class Cover:
    """Nominal cover to the stirrup."""

    top: float
    bottom: float
    sides: float


@dataclass(frozen=True)
class SlabBars:
    """Bars of a slab along the beam near its top: area `top` (mm2 per mm of width), their `size`, and the
    `depth` of their axes from the top (mm; None: level with the beam's own)."""

    top: float
    size: str
    depth: float | None = None


@dataclass(frozen=True)
class Flange:
    """A flange along the top (or `below`, along the bottom): its thickness, and how far it reaches beyond the
    web at each side (to its free edge, or half way to the next web); bars across the web in it (mm2/mm),
    where they are known, and the slab's bars along the beam that count in the flange."""

    thickness: float
    left: float
    right: float
    cross_steel: float | None = None
    below: bool = False
    slab_bars: SlabBars | None = None


@dataclass(frozen=True)
class Profile:
    """A cross-section: a web `width` at its top and `foot` at its bottom (None: the same), `depth` over all,
    with or without a flange.

    Or any `outline`: corners (x, y) in order around it, y downwards from the top; then `width` is the
    narrowest between the stirrup's upper and lower legs, and `rooms` the narrowest widths where the bars of
    the top and of the bottom face lie.
    """

    name: str
    width: float
    depth: float
    flange: Flange | None = None
    foot: float | None = None
    outline: tuple[tuple[float, float], ...] = ()
    rooms: tuple[float, float] = (0.0, 0.0)

    @property
    def narrowest(self) -> float:
        return self.width if self.foot is None else min(self.width, self.foot)

    def deeper(self, by: float) -> Profile:
        """The same with more depth; an outline is drawn out."""
        factor = 1.0 + by / self.depth
        return replace(self, depth=self.depth + by, outline=tuple((x, y * factor) for x, y in self.outline))

    def wider(self, by: float) -> Profile:
        """The same with a wider web."""
        factor = 1.0 + by / self.width
        foot = None if self.foot is None else self.foot + by
        rooms = (self.rooms[0] * factor, self.rooms[1] * factor)
        return replace(
            self,
            width=self.width + by,
            foot=foot,
            outline=tuple((x * factor, y) for x, y in self.outline),
            rooms=rooms,
        )

    def outline_size(self) -> tuple[float, float]:
        """Area inside the outline and the length around it (0 without one)."""
        corners = zip(self.outline, (*self.outline[1:], *self.outline[:1]), strict=True)
        doubled = around = 0.0
        for (x_1, y_1), (x_2, y_2) in corners:
            doubled += x_1 * y_2 - x_2 * y_1
            around += math.hypot(x_2 - x_1, y_2 - y_1)
        return 0.5 * abs(doubled), around


Reach: TypeAlias = tuple[float, float]
"""What of a flange works, left and right of the web."""


@dataclass(frozen=True)
class Column:
    """A column that is one with the beam: `height`, second moment about the beam's axis of bending, far end
    `fixed` or pinned, `stiffness` share of the gross section that works."""

    height: float
    second_moment: float
    fixed: bool = True
    stiffness: float = 1.0

    @property
    def turning(self) -> float:
        """Moment for a unit turn over the modulus: 4 I / h, or 3 I / h with a pinned far end."""
        return (4.0 if self.fixed else 3.0) * self.stiffness * self.second_moment / self.height


@dataclass(frozen=True)
class Support:
    """A support of real `width`. `spring_vertical` / `spring_rotation` None: rigid / free (or `fixed`: no
    turn).

    `columns` above and below turn with the beam. `settles` is a downward movement, an action of its own.
    `direct`: on a column or wall, not hung on another beam. `hinge`: no moment passes over it.
    """

    name: str
    x: float
    width: float
    fixed: bool = False
    spring_vertical: float | None = None
    spring_rotation: float | None = None
    columns: tuple[Column, ...] = ()
    settles: float = 0.0
    direct: bool = True
    holds_torsion: bool = True
    hinge: bool = False

    @property
    def restrains_rotation(self) -> bool:
        return self.fixed or self.spring_rotation is not None or bool(self.columns)

    def rotational_stiffness(self, modulus: float) -> float:
        """Of spring and columns together, N mm/rad."""
        return (self.spring_rotation or 0.0) + modulus * sum(c.turning for c in self.columns)


@dataclass(frozen=True)
class Span:
    """One span; `left` / `right` are indices into the supports, None at the free end of a cantilever.

    `becomes`: the profile at the right end of a span that tapers. `hinges` are places along it without
    moment. `reach` is what works of the flange: over the left support, in the span, over the right support
    (None: not worked out yet).
    """

    name: str
    start: float
    length: float
    profile: Profile
    left: int | None
    right: int | None
    becomes: Profile | None = None
    hinges: tuple[float, ...] = ()
    reach: tuple[Reach, Reach, Reach] | None = None

    @property
    def end(self) -> float:
        return self.start + self.length

    @property
    def cantilever(self) -> bool:
        return self.left is None or self.right is None

    @property
    def tapers(self) -> bool:
        return self.becomes is not None

    @property
    def slope(self) -> float:
        """Of the soffit: how much deeper the span becomes a mm."""
        return float(self.depths(self.length) - self.depths(0.0)) / self.length

    def depths(self, local: Any) -> Any:
        """Depth at places along the span (mm from its left end)."""
        last = self.becomes or self.profile
        return self.profile.depth + (last.depth - self.profile.depth) * local / self.length

    def widths(self, local: Any) -> Any:
        """Narrowest width of the web at places along the span: what shear, bars and stirrups have."""
        last = self.becomes or self.profile
        return self.profile.narrowest + (last.narrowest - self.profile.narrowest) * local / self.length

    def edges(self, local: Any) -> tuple[Any, Any]:
        """Widths of the web at its top and at its bottom, at places along the span."""
        last = self.becomes or self.profile
        pairs = (
            (self.profile.width, last.width),
            (self.profile.foot or self.profile.width, last.foot or last.width),
        )
        top, bottom = (a + (b - a) * local / self.length for a, b in pairs)
        return top, bottom

    @property
    def deepest(self) -> float:
        return max(self.profile.depth, (self.becomes or self.profile).depth)

    @property
    def shallowest(self) -> float:
        return min(self.profile.depth, (self.becomes or self.profile).depth)

    @property
    def narrowest(self) -> float:
        return min(self.profile.narrowest, (self.becomes or self.profile).narrowest)

    def outline(self, local: float) -> tuple[tuple[float, float], ...]:
        """Corners of the section at a place, flange as it stands; x from the web's axis, y downwards from the
        top."""
        if self.profile.outline:
            xs = [x for x, _ in self.profile.outline]
            middle = 0.5 * (min(xs) + max(xs))
            return tuple((x - middle, y) for x, y in self.profile.outline)
        h, (top, foot), flange = float(self.depths(local)), self.edges(local), self.profile.flange
        a, b = 0.5 * float(top), 0.5 * float(foot)
        if flange is None:
            return ((-a, 0.0), (a, 0.0), (b, h), (-b, h))
        left, right, t = flange.left, flange.right, flange.thickness
        if flange.below:
            return (
                (-a, 0.0),
                (a, 0.0),
                (b, h - t),
                (b + right, h - t),
                (b + right, h),
                (-b - left, h),
                (-b - left, h - t),
                (-b, h - t),
            )
        return (
            (-a - left, 0.0),
            (a + right, 0.0),
            (a + right, t),
            (a, t),
            (b, h),
            (-b, h),
            (-a, t),
            (-a - left, t),
        )

    def area(self, local: float, web_only: bool = False) -> float:
        """Area at a place along the span, with the flange that works in it; or of the web below the flange
        alone."""
        if self.profile.outline:
            return self.profile.outline_size()[0]
        flange, depth = self.profile.flange, self.depths(local)
        top, bottom = self.edges(local)
        web = 0.5 * (top + bottom) * depth
        if flange is None:
            return float(web)
        if web_only:  # the slab's load has the web's part within the flange too
            at = top + (bottom - top) * flange.thickness / depth
            return float(0.5 * (at + bottom) * (depth - flange.thickness))
        return float(web + sum(self._used(flange)) * flange.thickness)

    def _used(self, flange: Flange) -> Reach:
        return self.reach[1] if self.reach is not None else (flange.left, flange.right)
