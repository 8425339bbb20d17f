"""The beam as its user describes it. All in N, mm, MPa, rad, days; x = 0 at the first support's centreline
(or at the tip of a leading cantilever), to the right."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from upright_bramble.beam.actions import Action, Combining, ForceLine, Load
from upright_bramble.beam.parts import Concrete, Cover, Span, Steel, Support
from upright_bramble.beam.wishes import Detailing, Redistribution, Service


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
