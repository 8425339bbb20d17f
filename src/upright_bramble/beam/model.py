"""The beam as its user describes it. All in N, mm, MPa, rad, days; x = 0 at the first support's centreline
(or at the tip of a leading cantilever), to the right."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
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


def _weight(index: int, span: Span, density: float, web_only: bool) -> list[Load]:
    """Self weight of a span as a line load; where width and depth both taper, in eight straight pieces."""
    both = (
        span.becomes is not None
        and span.becomes.width != span.profile.width
        and span.becomes.depth != span.profile.depth
    )
    cuts = [k * span.length / 8.0 for k in range(9)] if both else [0.0, span.length]
    weights = [density * span.area(x, web_only) for x in cuts]
    return [
        Load("line", index, weights[k], weights[k + 1], cuts[k], cuts[k + 1]) for k in range(len(cuts) - 1)
    ]


@dataclass(frozen=True)
class Load:
    """One load on one span, downward (or clockwise) positive; positions from the span's left end.

    shape 'line': `first` to `last` intensity (N/mm) between `start` and `end`; shape 'point': force `first`
    (N) at `start`; shape 'couple': moment `first` (N mm) at `start`; shape 'twist': torque `first` to `last`
    (N mm/mm) between `start` and `end`; 'torque': torque `first` (N mm) at `start`, clockwise positive as
    seen along the beam from its left end. `hung`: a point load that comes in below the top, from a beam that
    this one carries: stirrups hang it up. `side`: -1 or 1 where it stands left or right of the web (or twists
    that way), seen along the beam; 0 over it.
    """

    shape: str
    span: int
    first: float
    last: float
    start: float
    end: float
    hung: bool = False
    side: int = 0


@dataclass(frozen=True, eq=False)
class ForceLine:
    """One moment line with its shear, from elsewhere: by span, places from its left end (mm), N mm and N.

    `torsion` and `axial` force (compression positive) where there are any.

    `together`: moment and shear belong to one set of forces; the two lines of an envelope do not.
    """

    label: str
    x: tuple[Any, ...]
    moment: tuple[Any, ...]
    shear: tuple[Any, ...]
    together: bool
    torsion: tuple[Any, ...] = ()
    axial: tuple[Any, ...] = ()


@dataclass(frozen=True)
class Action:
    """Loads that come and go together. `self_weight` is the density (N/mm3) of profiles that it weighs, 0 for
    none; `web_only` leaves out the flange, whose weight comes with the slab's.

    `psi` (psi_0, psi_1, psi_2) are factors of one's own, for the kind 'other'. A permanent action is there
    from the age `acts_from` of the concrete on (days; 0: from the first). One that acts `either_way` (wind,
    earthquake) is tried with both signs. `tables` that its forces come from, instead of loads, and the
    `lines` in them.
    """

    name: str
    kind: str
    category: str | None
    loads: tuple[Load, ...]
    self_weight: float = 0.0
    web_only: bool = False
    psi: tuple[float, float, float] | None = None
    acts_from: float = 0.0
    either_way: bool = False
    tables: tuple[str, ...] = ()
    lines: tuple[ForceLine, ...] = ()

    @property
    def acts_as_one(self) -> bool:
        """Whether it acts on all spans or on none; the rest may be arranged by span."""
        return self.kind in ("wind", "earthquake", "settlement")


@dataclass(frozen=True)
class UserCombination:
    """A combination of one's own: factors by 'permanent', category, or action name."""

    level: str
    name: str
    factors: Mapping[str, float]


@dataclass(frozen=True)
class Combining:
    """`rule` of the code ('' for its first), combinations `added`, and whether these stand alone for their
    level."""

    rule: str = ""
    added: tuple[UserCombination, ...] = ()
    replace: bool = False


@dataclass(frozen=True)
class Redistribution:
    """Hogging peaks over `supports` (indices) lowered to `delta` times their elastic value; None: the maximum
    permitted, but no further than the `floors` (support, delta) that bars as they are have shown."""

    delta: float | None = 1.0
    supports: tuple[int, ...] = ()
    floors: tuple[tuple[int, float], ...] = ()


@dataclass(frozen=True)
class Service:
    """Service limits: deflection in `total`, `after_finishes` and `after_partitions` (which are built at the
    ages `finishes_at` and `partitions_at`, days), and by `live` load alone, as (divisor of span | None,
    absolute | None); None: no limit.

    `exposure` class that the crack width is limited for where `crack_width` says nothing. `precamber` upwards
    by span (none: none at all), at the middle of a span and at the tip of a cantilever; `cantilever` is the
    reference length of limits by span over a cantilever's own. `total_advised`: the limit of the total is a
    target, not a rule of the code. `stiffness` that service moments are found with: 'gross' or 'cracked'.
    """

    total: tuple[float | None, float | None] | None = (250.0, None)
    after_finishes: tuple[float | None, float | None] | None = (500.0, None)
    finishes_at: float = 60.0
    crack_width: float | None = None
    humidity: float = 50.0
    age_at_loading: float = 28.0
    cement: str = "N"
    precamber: tuple[float, ...] = ()
    cantilever: float = 1.0
    stiffness: str = "gross"
    after_partitions: tuple[float | None, float | None] | None = None
    partitions_at: float = 90.0
    live: tuple[float | None, float | None] | None = None
    exposure: str | None = None
    total_advised: bool = False

    def loaded_before(self, day: float) -> float:
        """Permanent actions that are there from before this age are there when something is built on a `day`:
        none before the striking."""
        return day if day > self.age_at_loading else 0.0


@dataclass(frozen=True)
class Rates:
    """What the choice of bars minimises: money per kg of steel, per bar fixed, per further size used, per
    mark, per lap."""

    steel: float = 1.2
    bar: float = 2.5
    stirrup: float = 1.0
    variety: float = 12.0
    mark: float = 3.0
    lap: float = 4.0
    concrete: float = 160.0
    formwork: float = 45.0


@dataclass(frozen=True)
class Detailing:
    """Wishes for the steel: designations allowed, most layers on a face, the share of resistance kept back,
    the `step` that places and spacings are rounded to; sizes allowed on one face alone, one size throughout a
    face, the least and most bars at a section of a face, and the highest stress of bars in service; whether
    bars that run through are lapped 'together', half of them elsewhere than the rest ('staggered'; of a pair
    where they do not fit together), or of more than two so where they do not fit together ('auto'); `laps_at`
    their middles along the beam, where the user says (none: where the face pulls least). Of stirrups the
    `spacings` to take (none: the usual ones), the most `zones` of a span (None: three, five where heavy point
    loads or laps are) and the fewest legs; the gap (mm) that a top row of more than four bars leaves for the
    vibrator.

    `style` 'plain' (few pieces, symmetrical, alike) or 'lean' (the least steel that can be built). Sizes of
    the `hangers`, the top bars that run through, and of `side_bars`, of which there are at least `side_rows`
    at each side. `end_shape` at the beam's ends: 'straight', 'bend', 'hook', or what 'fits'. `shortest` and
    `longest` piece (mm; None: 40 steps, stock), `lengths` at one place; `cut_off` 'none': every bar goes
    through its whole run. The clear distance of bars of a row that is kept (`clear`, mm) and the distance of
    their centres that is not exceeded (`centres`); `minimum_steel` of a face in tension, percent of b_w d.
    What shortens `anchorage` and laps: the 'concrete' around the bars alone, the 'stirrups' across them as
    well, or the 'pressure' of end supports too; and whether laps are long enough `laps_for` 'yield' or for
    the 'stress' there.
    """

    main_bars: tuple[str, ...] = ()
    stirrup_bars: tuple[str, ...] = ()
    layers: int = 2
    reserve: float = 0.03
    stock_length: float = 12000.0
    step: float = 25.0
    rates: Rates = field(default_factory=Rates)
    face_bars: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    one_size: bool = False
    least_bars: int = 2
    most_bars: int | None = None
    service_stress: float | None = None
    laps: str = "auto"
    laps_at: tuple[float, ...] = ()
    spacings: tuple[float, ...] = ()
    zones: int | None = None
    stirrup_legs: int = 2
    vibrator_gap: float = 75.0
    style: str = "plain"
    hangers: tuple[str, ...] = ()
    side_bars: tuple[str, ...] = ()
    side_rows: int = 0
    end_shape: str = "fits"
    shortest: float | None = None
    longest: float | None = None
    lengths: int = 2
    cut_off: str = "usual"
    clear: float = 0.0
    centres: float | None = None
    minimum_steel: float = 0.0
    anchorage: str = "concrete"
    laps_for: str = "yield"
    further_rows: int = 0
    """Beyond `layers`, where bars find no room in these: one where the user does not say how many."""

    @property
    def lean(self) -> bool:
        return self.style == "lean"

    @property
    def longest_piece(self) -> float:
        """That is delivered and handled, mm."""
        return self.stock_length if self.longest is None else min(self.longest, self.stock_length)

    @property
    def shortest_piece(self) -> float:
        """Of straight bars, mm: 1.0 m or 40 in when the user says nothing."""
        return 40.0 * self.step if self.shortest is None else self.shortest

    def minimum_area(self, width: Any, d: Any) -> Any:
        """Tension steel that the user wants at least, mm2, for webs `width` wide at effective depths `d` (mm,
        numbers or arrays)."""
        return 0.01 * self.minimum_steel * width * d

    def sizes(self, face: str) -> tuple[str, ...]:
        """Allowed on a face ('bottom' or 'top')."""
        return self.face_bars.get(face) or self.main_bars


@dataclass(frozen=True)
class Beam:
    """Everything a beam file says. `given` forces by level stand in for actions. `compatible_torsion`: torque
    comes from compatibility alone, equilibrium does not need it. `proposed`: what was left to the program, in
    words. `about`: project, author, revision and date, as the user gives them; `remarks` of the user on
    checks, by id or its beginning; `waive`: topics that are not to decide, each with the user's reason.
    `bracing` distance of lateral supports (mm; 0: all along; None: not said); `perimeter` (None: not said)
    and `lateral`: whether the beam stands on the perimeter, and belongs to the lateral system."""

    title: str
    mark: str
    code: str
    annex: str | None
    code_values: Mapping[str, float]
    units: str
    concrete: Concrete
    bars: Steel
    stirrups: Steel
    cover: Cover
    supports: tuple[Support, ...]
    spans: tuple[Span, ...]
    actions: tuple[Action, ...]
    service: Service
    detailing: Detailing
    arrangements: str = "code"
    combining: Combining = field(default_factory=Combining)
    redistribution: Redistribution = field(default_factory=Redistribution)
    given: Mapping[str, tuple[ForceLine, ...]] = field(default_factory=dict)
    compatible_torsion: bool = False
    proposed: tuple[str, ...] = ()
    about: Mapping[str, str] = field(default_factory=dict)
    remarks: Mapping[str, str] = field(default_factory=dict)
    waive: Mapping[str, str] = field(default_factory=dict)
    bracing: float | None = None
    perimeter: bool | None = None
    lateral: bool | None = None
    origins: Mapping[str, str] = field(default_factory=dict)
    """Of keys that came from shared rules, such as 'concrete.grade', the name of their file."""
    neglect: Mapping[str, float] = field(default_factory=dict)
    """Limits below which a 'moment', 'torsion' or 'axial' force is left out along a span (N mm, N)."""
    accept: float = 1.0
    """Ratio up to which a check of strength or service is taken as passed."""
    quantity: int = 1
    """Alike beams that are built of this one."""
    levels: tuple[tuple[str, Beam], ...] = ()
    """Alike beams that share this design, by name, each with its own loads."""
    cautions: tuple[str, ...] = ()
    """Of the input, in words: what a reader may have meant otherwise."""

    @property
    def on_perimeter(self) -> bool:
        """As the user says; else a beam with a slab on one side alone is taken to stand on the perimeter."""
        if self.perimeter is not None:
            return self.perimeter
        return any(
            p is not None and (p.left > 0.0) != (p.right > 0.0)
            for p in (s.profile.flange for s in self.spans)
        )

    @property
    def length(self) -> float:
        """From the first to the last centreline (or cantilever tip)."""
        return self.spans[-1].end

    def loads(self, action: Action) -> tuple[Load, ...]:
        """The loads of an action, with the weight of the profiles as they are."""
        if not action.self_weight:
            return action.loads
        own: list[Load] = []
        for i, span in enumerate(self.spans):
            own += _weight(i, span, action.self_weight, action.web_only)
        return (*action.loads, *own)

    @property
    def ends(self) -> tuple[float, float]:
        """Outer faces of the concrete: half a support's width beyond an end support's centreline."""
        left = 0.0 if self.spans[0].left is None else -0.5 * self.supports[0].width
        right = self.length + (0.0 if self.spans[-1].right is None else 0.5 * self.supports[-1].width)
        return left, right

    def clear(self, index: int) -> tuple[float, float]:
        """The span between the faces of its supports (or the cantilever's tip)."""
        span = self.spans[index]
        left = span.start + (0.0 if span.left is None else 0.5 * self.supports[span.left].width)
        right = span.end - (0.0 if span.right is None else 0.5 * self.supports[span.right].width)
        return left, right

    @property
    def design_range(self) -> tuple[float, float]:
        """Where sections are designed and verified: between the inner faces of the end supports, and up to
        the cover of a free tip."""
        left, right = self.clear(0)[0], self.clear(len(self.spans) - 1)[1]
        # bars end at whole millimetres: one more than the cover
        left += self.cover.sides + 1.0 if self.spans[0].left is None else 0.0
        right -= self.cover.sides + 1.0 if self.spans[-1].right is None else 0.0
        return left, right
