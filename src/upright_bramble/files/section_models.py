"""The section file as typed models: they validate, and they are its JSON Schema."""

# annotations are values here, not text: pydantic reads them, and reads values faster

from typing import Annotated, Literal

from pydantic import Field

from upright_bramble import beam as described
from upright_bramble.files.amounts import (
    BarSize,
    CoupleValue,
    CoverLength,
    CrackWidth,
    Entry,
    ForceValue,
    Outline,
    OutlinePoint,
    SectionLength,
    SpanLength,
    TimeValue,
    Word,
)
from upright_bramble.files.models import AboutIn, ConcreteIn, ReinforcementIn

Point = Annotated[list[OutlinePoint], Field(min_length=2, max_length=2)]
SizeChoice = Annotated[list[BarSize], Field(min_length=1, max_length=12)]
Humidity = Annotated[float, Field(ge=20.0, le=100.0)]


class SectionFlangeIn(Entry):
    """A flange: its width given, or what works of it by the code's rule for a span between its neighbours."""

    thickness: SectionLength
    width: SectionLength | Literal["auto"] = Field(
        description="of the full flange; auto: by gaps, span and position"
    )
    gap_left: SpanLength | None = Field(None, description="clear distance to the next web on the left")
    gap_right: SpanLength | None = None
    span: SpanLength | None = Field(None, description="length between supports")
    position: Literal["span", "end span", "single span", "support", "cantilever"] = Field(
        "span",
        description=(
            "of the section: in an inner, an end or a single span, over an inner support, in a cantilever"
        ),
    )


class SectionShapeIn(Entry):
    """A shape with its sizes, or an outline with holes; y runs downwards from the top."""

    shape: Literal["rectangle", "T", "L", "inverted T", "trapezoid", "circle"] | None = None
    depth: SectionLength | None = None
    width: SectionLength | None = Field(None, description="of the web, at its top")
    foot: SectionLength | None = Field(None, description="width of a sloping web at its bottom")
    diameter: SectionLength | None = Field(None, description="of a circle")
    flange: SectionFlangeIn | None = None
    outline: Outline | None = Field(None, description="corners [x, y] in order around it")
    holes: Annotated[list[Outline], Field(max_length=10)] = Field(
        default_factory=list, description="corners of each hole"
    )


class SectionBarsIn(Entry):
    """Bars: one at a point, a row between the stirrup's legs, or a ring inside the stirrup of a circle."""

    size: BarSize
    at: Point | None = Field(None, description="[x, y] of one bar, in the coordinates of the outline")
    row: Annotated[int, Field(ge=1, le=60)] | None = Field(None, description="number of bars in a row")
    depth: CoverLength | None = Field(None, description="of the row's axis, from the top")
    spread: SectionLength | None = Field(
        None, description="width that the row is spread over, such as into a flange"
    )
    ring: Annotated[int, Field(ge=3, le=60)] | None = Field(
        None, description="number of bars around a circle"
    )


class SectionStirrupsIn(Entry):
    size: BarSize
    legs: Annotated[int, Field(ge=2, le=12)] = 2
    spacing: SectionLength


class SectionCoverIn(Entry):
    top: CoverLength
    bottom: CoverLength
    sides: CoverLength


class HardeningIn(Entry):
    """Of bars of one's own, in place of the code's upper branch."""

    ratio: Annotated[float, Field(ge=1.0, le=2.0)] = Field(
        description="stress at the ultimate strain over that at yield"
    )
    strain: Annotated[float, Field(gt=0.005, le=0.3)] = Field(
        description="ultimate strain, which no bar exceeds"
    )


class SectionReinforcementIn(ReinforcementIn):
    branch: Literal["horizontal", "inclined"] = Field(
        "horizontal", description="upper branch of the bars' diagram, where the code has both"
    )
    hardening: HardeningIn | None = None


class ActingIn(Entry):
    """Forces that act together, about the centroid of the gross concrete."""

    name: Word
    moment: CoupleValue = Field(0.0, description="positive: compresses the top")
    moment_y: CoupleValue = Field(0.0, description="positive: compresses the right")
    axial: ForceValue = Field(0.0, description="compression positive")


class ForcesIn(ActingIn):
    """Factored forces of one set."""

    shear: ForceValue = 0.0
    shear_y: ForceValue = Field(0.0, description="across the section")
    torque: CoupleValue = 0.0
    greatest_moment: CoupleValue | None = Field(
        None, description="of the beam near the section: bounds what shear adds to the moment"
    )
    greatest_other: CoupleValue | None = Field(
        None,
        description=(
            "likewise of the other sense; 0 where there is none: bounds what shear pulls in the other face"
        ),
    )


class ForceTableIn(Entry):
    """Sets in a CSV: name, level, N, Mx, My, V, Vy, T with units in the header."""

    table: Word


class SectionServiceIn(ActingIn):
    """Forces in service of one set."""

    level: Word | None = Field(
        None, description="level of the code; by default the name where it is one, else all levels"
    )


class SectionActionIn(Entry):
    """Unfactored forces of one action; the code's rules combine them."""

    name: Word
    kind: Word = Field(description="permanent, imposed, roof, snow, wind, earthquake")
    category: Word | None = Field(None, description="category of an imposed action")
    either_way: bool | None = Field(
        None, description="wind and earthquake act either way unless this is false"
    )
    moment: CoupleValue = 0.0
    moment_y: CoupleValue = 0.0
    axial: ForceValue = 0.0
    shear: ForceValue = 0.0
    shear_y: ForceValue = 0.0
    torque: CoupleValue = 0.0


class ChooseIn(Entry):
    """Bars and stirrups that would do are wanted."""

    main_bars: SizeChoice | None = Field(None, description="sizes to choose bars from")
    stirrup_bars: SizeChoice | None = Field(None, description="sizes to choose stirrups from")
    keep: bool = Field(True, description="bars given stay, and are added to")
    size: Literal["depth", "width"] | None = Field(
        None, description="least depth or width with which the bars would do"
    )


class LimitsIn(Entry):
    """What service is judged by."""

    crack_width: CrackWidth | None = None
    exposure: Word | None = None
    humidity: Humidity = described.Service.humidity
    age_at_loading: TimeValue = described.Service.age_at_loading
    cement: Literal["S", "N", "R"] = "N"


class SectionFile(Entry):
    """One cross-section (NAME.section.yaml)."""

    bramble_section: Literal[1]
    title: Word
    code: Word
    annex: Word | None = None
    code_values: Annotated[dict[str, float], Field(max_length=100)] = Field(default_factory=dict)
    units: Literal["si", "us", "technical"] = "si"
    about: AboutIn | None = None
    concrete: ConcreteIn
    reinforcement: SectionReinforcementIn
    cover: CoverLength | SectionCoverIn = Field(description="to the stirrup")
    form: SectionShapeIn
    bars: Annotated[list[SectionBarsIn], Field(max_length=200)] = Field(default_factory=list)
    stirrups: SectionStirrupsIn | None = None
    axis: Literal["free", "level"] | None = Field(
        None,
        description=(
            "the neutral axis turns freely, or is held level, as by a slab; needed where the section is not "
            "symmetric"
        ),
    )
    forces: Annotated[list[ForcesIn], Field(max_length=500)] | ForceTableIn = Field(default_factory=list)
    service: Annotated[list[SectionServiceIn], Field(max_length=500)] = Field(default_factory=list)
    actions: Annotated[list[SectionActionIn], Field(max_length=12)] = Field(default_factory=list)
    choose: ChooseIn | None = None
    limits: LimitsIn = Field(default_factory=LimitsIn.model_construct)
    redistributed: Annotated[float, Field(ge=0.5, le=1.0)] = Field(
        1.0, description="ratio of the moment after redistribution to the elastic one"
    )
    displaced: Literal["deducted", "counted"] = Field(
        "deducted", description="concrete that compressed bars displace"
    )
    ultimate_strain: Annotated[float, Field(gt=0.0005, le=0.02)] | None = Field(
        None, description="of the concrete, of one's own"
    )
    waive: dict[Word, Word] = Field(
        default_factory=dict, description="topics that are not to decide, each with the reason"
    )
