"""The beam file and shared rules as typed models: unit, bounds, default and description of every key."""

# annotations are values here, not text: pydantic reads them, and reads values faster

from typing import Annotated, Any, Literal

from pydantic import (
    AfterValidator,
    BeforeValidator,
    Discriminator,
    Field,
    Tag,
    ValidationInfo,
)
from pydantic_core import PydanticCustomError

from upright_bramble import beam as described
from upright_bramble.files.amounts import (
    AggregateSize,
    AreaIntensity,
    BarDistance,
    BarSize,
    ColumnHeight,
    ColumnSize,
    CoupleValue,
    CoverLength,
    CrackWidth,
    DensityValue,
    Eccentricity,
    Entry,
    ForceValue,
    Grade,
    LineIntensity,
    Mark,
    Outline,
    PieceLength,
    Position,
    RotationSpring,
    SectionLength,
    Settlement,
    SmallForce,
    SmallMoment,
    SpanLength,
    SteelPerLength,
    StirrupSpacing,
    StockLength,
    StressValue,
    TimeValue,
    VerticalSpring,
    VibratorGap,
    Word,
)


class ConcreteIn(Entry):
    grade: Grade | None = Field(None, description="such as C30/37, M25, C35")
    strength: StressValue | None = Field(
        None, description="characteristic strength (cylinders; IS 456, BS 8110: cubes), instead of a grade"
    )
    aggregate: AggregateSize = Field(described.Concrete.aggregate, description="largest aggregate size")
    diagram: Word | None = Field(
        None, description="stress diagram: block or parabola; by default the code's usual one"
    )


class ReinforcementIn(Entry):
    bars: Grade | None = Field(None, description="such as B500B, Fe500, 500")
    stirrups: Grade | None = None
    yield_: StressValue | None = Field(None, alias="yield", description="yield strength, instead of grades")


def _fire(value: object) -> object:
    """R60, or 60."""
    text = str(value).strip().upper().removeprefix("R")
    if isinstance(value, bool) or not text.isdigit() or len(text) > 3:
        raise PydanticCustomError(
            "fire", "{text}", {"text": f"'{str(value)[:20]}' is no fire resistance; such as R60"}
        )
    return int(text)


def _structural(value: object) -> object:
    text = str(value).strip().upper().removeprefix("S")
    if isinstance(value, bool) or text not in ("1", "2", "3", "4", "5", "6"):
        raise PydanticCustomError(
            "structural", "{text}", {"text": f"'{str(value)[:20]}' is no structural class; S1 to S6"}
        )
    return int(text)


class CoverIn(Entry):
    """Nominal cover to the stirrup: given, or worked out from exposure and fire."""

    top: CoverLength | None = None
    bottom: CoverLength | None = None
    sides: CoverLength | None = None
    exposure: Word | None = Field(
        None, description="class of exposure, such as XC3, or inside, weather, earth"
    )
    fire: Annotated[int, BeforeValidator(_fire)] | None = Field(
        None, description="fire resistance, such as R60"
    )
    structural_class: Annotated[int, BeforeValidator(_structural)] | None = Field(
        None, description="S1 to S6; S4, and S3 for strong concrete, when left out"
    )
    deviation: CoverLength | None = Field(None, description="allowance for deviation")


class SlabBarsIn(Entry):
    """Bars of the slab along the beam, continuous over its supports."""

    top: SteelPerLength = Field(description="near the top of the slab, per length of its width")
    size: BarSize
    depth: SectionLength | None = Field(
        None, description="of their axes from the top; level with the beam's own bars when left out"
    )


class FlangeIn(Entry):
    """A flange along the top."""

    thickness: SectionLength
    width: SectionLength | Literal["auto"] = Field(
        "auto", description="of the full flange; auto: from the gaps to the next webs"
    )
    gap_left: SpanLength | None = Field(None, description="clear distance to the next web on the left")
    gap_right: SpanLength | None = None
    side: Literal["left", "right"] | None = Field(None, description="side of the web with the flange of an L")
    cross_steel: SteelPerLength | None = Field(
        None, description="bars across the web, both faces of the slab together"
    )
    slab_bars: SlabBarsIn | None = Field(
        None, description="the slab's own bars along the beam, that count beside the web over supports"
    )


def _sized(value: object, info: ValidationInfo) -> object:
    """Depth and width: a polygon has them from its outline, every other shape needs them."""
    shape = info.data.get("shape")
    if value is None and shape not in (None, "polygon"):
        raise PydanticCustomError("size", "missing")
    if value is not None and shape == "polygon":
        raise PydanticCustomError("size", "a polygon has it from its 'outline'; leave it out")
    return value


class ProfileIn(Entry):
    shape: Literal["rectangle", "T", "L", "inverted T", "trapezoid", "polygon"]
    foot: SectionLength | None = Field(None, description="width of a sloping web at its bottom")
    depth: Annotated[SectionLength | Literal["auto"] | None, AfterValidator(_sized)] = Field(
        None, validate_default=True, description="auto: proposed from spans and moments; not for a polygon"
    )
    width: Annotated[SectionLength | Literal["auto"] | None, AfterValidator(_sized)] = Field(
        None, validate_default=True, description="of the web; auto: half of the depth; not for a polygon"
    )
    flange: FlangeIn | None = None
    outline: Outline | None = Field(
        None, description="corners of a polygon, [x, y] in order around it, y downwards"
    )


class SpringIn(Entry):
    vertical: VerticalSpring | None = None
    rotation: RotationSpring | None = None


class ColumnIn(Entry):
    """A column that is one with the beam."""

    height: ColumnHeight
    size: Annotated[list[ColumnSize], Field(min_length=2, max_length=2)] = Field(
        description="[along the beam, across]"
    )
    far_end: Literal["fixed", "pinned"] = "fixed"
    stiffness: Annotated[float, Field(gt=0.0, le=1.0)] = Field(
        1.0, description="share of the gross section that works"
    )


class ColumnsIn(Entry):
    below: ColumnIn | None = None
    above: ColumnIn | None = None


class SupportIn(Entry):
    support: Word
    width: SectionLength
    fixed: bool = False
    spring: SpringIn | None = None
    column: ColumnsIn | None = None
    settles: Settlement = 0.0
    framing: Literal["direct", "indirect"] = Field(
        "direct", description="on a column or wall, or hung on another beam"
    )
    torsion: Literal["held", "free"] = Field(
        "held", description="whether the support holds the beam against torque"
    )
    hinge: bool = Field(False, description="no moment passes over the support")


class TaperIn(Entry):
    """Profiles at both ends of a span that tapers."""

    from_: Word = Field(alias="from")
    to: Word


class SpanIn(Entry):
    span: SpanLength
    profile: Word | TaperIn
    hinges: Annotated[list[Position], Field(max_length=2)] = Field(
        default_factory=list, description="places along it without moment"
    )


def _line_kind(value: Any) -> str | None:
    if isinstance(value, dict):
        for key in ("support", "span"):
            if key in value:
                return key
    return None


LineEntry = Annotated[
    Annotated[SupportIn, Tag("support")] | Annotated[SpanIn, Tag("span")],
    Discriminator(
        _line_kind,
        custom_error_type="line_entry",
        custom_error_message="is neither {support: NAME, width: ...} nor {span: LENGTH, profile: ...}",
    ),
]

Place = int | Word
Places = Place | Annotated[list[Place], Field(min_length=1, max_length=500)]


class LineLoadIn(Entry):
    line: LineIntensity | Annotated[list[LineIntensity], Field(min_length=2, max_length=2)] = Field(
        description="downward, or [first, last] for a linearly varying load"
    )
    on: Places | None = Field(None, description="spans by number or supports (A-B); all when left out")
    from_: Position | None = Field(None, alias="from")
    to: Position | None = None
    eccentricity: Eccentricity = 0.0


class AreaLoadIn(Entry):
    area: AreaIntensity
    loaded_width: SpanLength = Field(description="width of the floor that the load acts on")
    on: Places | None = None
    from_: Position | None = Field(None, alias="from")
    to: Position | None = None
    eccentricity: Eccentricity = 0.0


class PointLoadIn(Entry):
    point: ForceValue
    at: Position
    on: Places | None = None
    hung: bool = Field(False, description="from a beam that this one carries: stirrups hang it up")
    eccentricity: Eccentricity = 0.0


class CoupleLoadIn(Entry):
    couple: CoupleValue = Field(description="clockwise positive")
    at: Position
    on: Places | None = None


class TorqueIn(Entry):
    """A torque, clockwise positive as seen along the beam from its left end."""

    torque: Any = Field(description="per unit length, or [first, last]; with 'at' a torque at one place")
    at: Position | None = None
    on: Places | None = None
    from_: Position | None = Field(None, alias="from")
    to: Position | None = None


def _load_kind(value: Any) -> str | None:
    if isinstance(value, dict):
        for key in ("line", "area", "point", "couple", "torque"):
            if key in value:
                return key
    return None


LoadIn = Annotated[
    Annotated[LineLoadIn, Tag("line")]
    | Annotated[AreaLoadIn, Tag("area")]
    | Annotated[PointLoadIn, Tag("point")]
    | Annotated[CoupleLoadIn, Tag("couple")]
    | Annotated[TorqueIn, Tag("torque")],
    Discriminator(
        _load_kind,
        custom_error_type="load_entry",
        custom_error_message="is not a valid load: needs one of line, area, point, couple, torque",
    ),
]


class ActionIn(Entry):
    name: Word
    kind: Word = Field(description="permanent, imposed, roof, snow, wind, earthquake, or other with psi")
    psi: (
        Annotated[list[Annotated[float, Field(ge=0.0, le=1.0)]], Field(min_length=3, max_length=3)] | None
    ) = Field(None, description="psi_0, psi_1, psi_2 of the kind other")
    category: Word | None = Field(None, description="category of an imposed action, such as A to H")
    self_weight: bool | Literal["web"] = Field(
        False, description="true: the full profile; web: only what is below the flange"
    )
    density: DensityValue = Field(25e-6, description="for self_weight; 25 kN/m3 when left out")
    acts_from: TimeValue | None = Field(
        None, description="age of the concrete from which a permanent action acts; its first loading"
    )
    either_way: bool = Field(
        False,
        description="a variable action that may act with the opposite sign too, such as wind or earthquake",
    )
    loads: list[LoadIn] = Field(default_factory=list, max_length=2000)
    table: Word | Annotated[list[Word], Field(min_length=1, max_length=20)] | None = Field(
        None,
        description=(
            "of its unfactored forces, CSV or XLSX, instead of loads; several analyses are laid over one "
            "another"
        ),
    )


class OwnCombinationIn(Entry):
    """Factors by 'permanent', category of imposed actions, or name of any other action."""

    level: Word
    name: Word
    factors: dict[Word, Annotated[float, Field(ge=-10.0, le=10.0)]]


def _rule(value: object) -> object:
    """6.10 without quotes is the number 6.1 to YAML."""
    return "6.10" if value == 6.1 else value


class CombinationsIn(Entry):
    rule: Annotated[Word, BeforeValidator(_rule)] | None = Field(
        None, description="rule of the code, such as 6.10 or 6.10ab"
    )
    add: Annotated[list[OwnCombinationIn], Field(max_length=200)] = Field(default_factory=list)
    replace: bool = Field(False, description="the added ones stand in for the code's at their level")


class RedistributionIn(Entry):
    percent: Annotated[float, Field(ge=0.0, le=60.0)] | Literal["maximum"] = Field(
        description="off the elastic hogging peaks"
    )
    supports: list[Word] | Literal["inner", "all"] = Field(
        "inner", description="inner supports, all (fixed ends too), or by name"
    )


class FactoredTableIn(Entry):
    table: Word = Field(description="CSV file beside the beam file")
    level: Literal["factored"] = Field(description="says that the forces are factored: it has no default")


class GivenIn(Entry):
    """Forces found elsewhere, instead of actions."""

    strength: FactoredTableIn | Annotated[list[FactoredTableIn], Field(min_length=1, max_length=50)]
    service: dict[str, Word | Annotated[list[Word], Field(min_length=1, max_length=50)]] = Field(
        default_factory=dict
    )


class DeflectionIn(Entry):
    total: Any = Field(None, description="span/250, or a length; the code's usual limit when left out")
    after_finishes: Any = Field(
        None, description="span/500, a length, or none; the code's usual limit when left out"
    )
    finishes_at: TimeValue = described.Service.finishes_at
    after_partitions: Any = Field(None, description="as after_finishes; no limit when left out")
    partitions_at: TimeValue = Field(
        described.Service.partitions_at, description="age of the concrete when they are built"
    )
    live: Any = Field(
        None,
        description=(
            "by variable actions alone: span/360, a length, or none; the code's usual limit when left out"
        ),
    )
    precamber: CoverLength | Annotated[list[CoverLength], Field(min_length=1, max_length=250)] = Field(
        0.0, description="upwards, of every span, or a list span by span"
    )
    cantilever: Annotated[float, Field(ge=1.0, le=2.0)] = Field(
        described.Service.cantilever, description="reference length of a cantilever over its own"
    )


class ServiceIn(Entry):
    deflection: DeflectionIn = Field(default_factory=DeflectionIn.model_construct)
    crack_width: CrackWidth | None = None
    stiffness: Literal["gross", "cracked"] = Field(
        "gross", description="of the line, for the moments of deflections"
    )
    humidity: Annotated[float, Field(ge=20.0, le=100.0)] = Field(
        described.Service.humidity, description="of the air, percent"
    )
    age_at_loading: TimeValue = described.Service.age_at_loading
    cement: Literal["S", "N", "R"] = "N"


class RatesIn(Entry):
    """Money: per kg of steel, bar fixed, stirrup fixed, further bar size, further mark, lap, m3 of concrete,
    m2 of formwork."""

    steel: Annotated[float, Field(ge=0, le=1e6)] = described.Rates.steel
    bar: Annotated[float, Field(ge=0, le=1e6)] = described.Rates.bar
    stirrup: Annotated[float, Field(ge=0, le=1e6)] = described.Rates.stirrup
    variety: Annotated[float, Field(ge=0, le=1e6)] = described.Rates.variety
    mark: Annotated[float, Field(ge=0, le=1e6)] = described.Rates.mark
    lap: Annotated[float, Field(ge=0, le=1e6)] = described.Rates.lap
    concrete: Annotated[float, Field(ge=0, le=1e6)] = described.Rates.concrete
    formwork: Annotated[float, Field(ge=0, le=1e6)] = described.Rates.formwork


SizeList = Annotated[list[BarSize], Field(min_length=1, max_length=12)]


class PiecesIn(Entry):
    """Lengths of bars."""

    shortest: PieceLength | None = Field(None, description="straight piece; 1.0 m or 40 in when left out")
    longest: PieceLength | None = Field(
        None, description="piece, such as one that can be carried; stock_length when left out"
    )
    lengths: Annotated[int, Field(ge=1, le=2)] = Field(
        described.Detailing.lengths, description="of extra bars at one place, at most"
    )


class BarSpacingIn(Entry):
    """Of bars side by side in a row."""

    clear: BarDistance = Field(
        described.Detailing.clear, description="distance kept where the code asks for less"
    )
    centres: BarDistance | None = Field(
        None, description="distance of centres that is not exceeded in rows that run through"
    )


class DetailingIn(Entry):
    main_bars: SizeList | None = None
    stirrup_bars: Annotated[list[BarSize], Field(min_length=1, max_length=6)] | None = None
    bottom_bars: SizeList | None = Field(None, description="instead of main_bars there")
    top_bars: SizeList | None = None
    one_size: bool = Field(described.Detailing.one_size, description="one size throughout each face")
    least_bars: Annotated[int, Field(ge=2, le=20)] = Field(
        described.Detailing.least_bars, description="running through each face"
    )
    most_bars: Annotated[int, Field(ge=2, le=60)] | None = Field(None, description="at any section of a face")
    service_stress: StressValue | None = Field(None, description="highest stress of bars in service")
    style: Literal["plain", "lean"] = Field(
        "plain",
        description="plain: few pieces, symmetrical and alike; lean: the least steel that can be built",
    )
    hangers: SizeList | None = Field(
        None, description="sizes of the top bars that run through, instead of top_bars"
    )
    side_bars: SizeList | None = Field(None, description="sizes of side bars, instead of main_bars")
    side_rows: Annotated[int, Field(ge=0, le=20)] = Field(
        described.Detailing.side_rows,
        description="of side bars at each side, at least, whether required or not",
    )
    end_shape: Literal["fits", "straight", "bend", "hook"] = Field(
        "fits", description="of bars at the ends of the beam"
    )
    pieces: PiecesIn = Field(default_factory=PiecesIn.model_construct)
    cut_off: Literal["usual", "none"] = Field(
        "usual",
        description=(
            "none: bottom bars go from support to support, top bars past the middles of the spans beside "
            "theirs"
        ),
    )
    bar_spacing: BarSpacingIn = Field(default_factory=BarSpacingIn.model_construct)
    minimum_steel: Annotated[float, Field(ge=0.0, le=4.0)] = Field(
        described.Detailing.minimum_steel,
        description="of a face in tension beside the code's, percent of web width times effective depth",
    )
    layers: Annotated[int, Field(ge=1, le=4)] = Field(
        described.Detailing.layers,
        description="rows of a face, at most; when left out a third where bars find no room in two",
    )
    reserve: Annotated[float, Field(ge=0.0, le=0.5)] = described.Detailing.reserve
    stock_length: StockLength = described.Detailing.stock_length
    anchorage: Literal["concrete", "stirrups", "pressure"] = Field(
        "concrete",
        description=(
            "what shortens anchorages and laps: the concrete around bars, the stirrups across them as well, "
            "or the pressure of end supports too"
        ),
    )
    laps_for: Literal["yield", "stress"] = Field(
        "yield", description="what laps are long enough for: yield, or the stress there"
    )
    laps: Literal["auto", "staggered", "together"] = Field(
        "auto",
        description=(
            "whether half of the bars are lapped elsewhere than the rest; auto: of more than two, where they "
            "do not fit together"
        ),
    )
    laps_at: Annotated[list[Position], Field(max_length=100)] = Field(
        default_factory=list,
        description="middles of laps along the beam; where the face pulls least when left out",
    )
    spacings: Annotated[list[StirrupSpacing], Field(max_length=40)] = Field(
        default_factory=list, description="of stirrups, to choose from; the usual ones when left out"
    )
    zones: Annotated[int, Field(ge=1, le=5)] | None = Field(
        None,
        description=(
            "of stirrups in a span, at most; 1: uniform; when left out three, five where a heavy point load "
            "stands"
        ),
    )
    stirrup_legs: Annotated[int, Field(ge=2, le=20)] = Field(
        described.Detailing.stirrup_legs, description="at least"
    )
    vibrator_gap: VibratorGap = Field(
        described.Detailing.vibrator_gap,
        description="in top rows of more than four bars; 75 mm when left out",
    )
    rates: RatesIn = Field(default_factory=RatesIn.model_construct)


class NeglectIn(Entry):
    """Forces that are left out where they stay below these limits along a whole span, and every output says
    so."""

    moment: SmallMoment | None = Field(
        None, description="sagging or hogging design moment; nothing is neglected when left out"
    )
    torsion: SmallMoment | None = Field(None, description="design torsion")
    axial: SmallForce | None = Field(None, description="axial force from tables")


class AboutIn(Entry):
    """What title blocks say."""

    project: Word | None = None
    author: Word | None = None
    revision: BarSize | None = None
    date: Word | None = None


class BeamFile(Entry):
    """A beam file (NAME.beam.yaml)."""

    bramble: Literal[1]
    beam: Word
    mark: Mark
    rules: Annotated[list[Word], Field(max_length=20)] = Field(
        default_factory=list,
        description="files of shared rules, later ones win; the keys of this file win over all",
    )
    code: Word
    annex: Word | None = None
    code_values: Annotated[dict[str, float], Field(max_length=100)] = Field(default_factory=dict)
    units: Literal["si", "us", "technical"] = "si"
    concrete: ConcreteIn
    reinforcement: ReinforcementIn
    cover: CoverIn
    profiles: Annotated[dict[str, ProfileIn], Field(min_length=1, max_length=200)]
    line: Annotated[list[LineEntry], Field(min_length=2, max_length=401)]
    actions: Annotated[list[ActionIn], Field(max_length=200)] = Field(default_factory=list)
    forces: GivenIn | None = None
    arrangements: Literal["code", "every"] = "code"
    redistribution: RedistributionIn | None = None
    torsion: Literal["equilibrium", "compatibility", "none"] = Field(
        "equilibrium",
        description=(
            "what torsion is needed for; none: it is left out, where the code lets compatibility torsion be"
        ),
    )
    neglect: NeglectIn = Field(default_factory=NeglectIn.model_construct)
    accept: Annotated[float, Field(ge=1.0, le=1.05)] = Field(
        described.Beam.accept,
        description=(
            "ratio up to which checks of strength and service are taken as passed, and every output says so"
        ),
    )
    quantity: Annotated[int, Field(ge=1, le=10_000)] = Field(
        described.Beam.quantity, description="alike beams that are built of this one"
    )
    about: AboutIn = Field(default_factory=AboutIn.model_construct)
    remarks: Annotated[dict[Word, Word], Field(max_length=500)] = Field(
        default_factory=dict,
        description="remarks on checks, by id or its beginning; the report shows them beside the checks",
    )
    waive: dict[Word, Word] = Field(
        default_factory=dict,
        description="topics that are not to decide, each with the reason that every output shows",
    )
    bracing: SpanLength | Literal["continuous"] | None = Field(
        None,
        description=(
            "distance of what holds the compressed face against moving sideways; a slab in a flange does"
        ),
    )
    integrity: Literal["perimeter", "interior"] | None = Field(
        None, description="where the beam stands in its floor"
    )
    lateral: bool | None = Field(
        None, description="whether the beam belongs to the system that resists lateral loads"
    )
    combinations: CombinationsIn = Field(default_factory=CombinationsIn.model_construct)
    service: ServiceIn = Field(default_factory=ServiceIn.model_construct)
    detailing: DetailingIn = Field(default_factory=DetailingIn.model_construct)


class RulesFile(Entry):
    """A file of shared rules (NAME.rules.yaml): keys of a beam file that many beams have alike."""

    bramble_rules: Literal[1]
    code: Word | None = None
    annex: Word | None = None
    code_values: Annotated[dict[str, float], Field(max_length=100)] | None = None
    units: Literal["si", "us", "technical"] | None = Field(
        None,
        description="of the bare numbers here, and of beams that do not say; those of the beam when left out",
    )
    concrete: ConcreteIn | None = None
    reinforcement: ReinforcementIn | None = None
    cover: CoverIn | None = None
    profiles: Annotated[dict[str, ProfileIn], Field(min_length=1, max_length=200)] | None = None
    service: ServiceIn | None = None
    detailing: DetailingIn | None = None
    combinations: CombinationsIn | None = None
    rates: RatesIn | None = Field(None, description="as under detailing")
    about: AboutIn | None = None
