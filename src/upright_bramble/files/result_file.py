"""result.json: the contract's names, SI with the unit in the key; this model is the JSON Schema, and what
drawings and reports read."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", defer_build=True, allow_inf_nan=False)


Mm = Annotated[float, Field(ge=-1e7, le=1e7)]  # 10 km: nothing of a beam is longer


class SectionOut(_Part):
    """A section: its corners (x from the web's axis, y downwards), the width of its web, its depth."""

    depth_mm: Mm
    web_mm: Mm
    outline_mm: Annotated[list[tuple[Mm, Mm]], Field(min_length=3)]
    flanged: bool


class CoverOut(_Part):
    top: float
    bottom: float
    sides: float


class SpanOut(_Part):
    name: str
    start_mm: Mm
    end_mm: Mm
    clear_start_mm: Mm
    clear_end_mm: Mm
    profile: str
    section_start: SectionOut
    section_end: SectionOut
    hinges_mm: list[Mm] = Field(
        default_factory=list, description="places of hinges, from the left end of the beam"
    )


class SupportOut(_Part):
    name: str
    x_mm: Mm
    width_mm: Mm


class BeamOut(_Part):
    title: str
    mark: str = Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9_-]{0,31}$")  # it names files
    code: str
    annex: str
    code_title: str
    units: Literal["si", "us", "technical"]
    concrete: str
    steel: str
    labels: dict[str, str]
    about: dict[str, str]
    remarks: dict[str, str] = Field(default_factory=dict)
    cover_mm: CoverOut
    ends_mm: tuple[Mm, Mm]
    length_mm: Mm
    vibrator_gap_mm: Mm = Field(75.0, description="left in top rows of more than four bars")
    quantity: int = Field(
        1,
        ge=1,
        description="alike beams that are built of this one; numbers and masses here are those of one",
    )
    stock_length_mm: Mm = Field(12000.0, description="of bars as they are delivered")
    spans: Annotated[list[SpanOut], Field(min_length=1)]
    supports: Annotated[list[SupportOut], Field(min_length=1)]

    def label(self, size: str) -> str:
        """Of a bar size, as every output has it."""
        return self.labels.get(size, size)

    @property
    def full_title(self) -> str:
        """With the number of beams, where several are built."""
        return f"{self.title} ({self.quantity} beams)" if self.quantity > 1 else self.title


class UnverifiedOut(_Part):
    """Something that applies and was not verified, and why."""

    id: str
    topic: str
    span: int
    x_mm: float
    reason: str
    clause: str


class WaivedOut(_Part):
    """A topic that the user waived, with the reason."""

    topic: str
    reason: str


class VerdictOut(_Part):
    """pass: everything that applies was verified (or waived) and passes; incomplete: something was not
    verified; fail."""

    status: Literal["pass", "incomplete", "fail"]
    governing: str
    ratio: float
    verified: list[str]
    not_verified: list[UnverifiedOut]
    waived: list[WaivedOut]
    out_of_scope: list[str]


class ReactionOut(_Part):
    support: str
    level: str
    max_kN: float
    min_kN: float
    moment_max_kNm: float
    moment_min_kNm: float


class EnvelopeOut(_Part):
    moment_max_kNm: list[float]
    moment_min_kNm: list[float]
    shear_max_kN: list[float]
    shear_min_kN: list[float]
    torsion_kNm: list[float]


class DesignOut(_Part):
    moment_max_kNm: list[float]
    moment_min_kNm: list[float]
    shear_kN: list[float]


class SteelOut(_Part):
    top_required_mm2: list[float]
    top_provided_mm2: list[float]
    bottom_required_mm2: list[float]
    bottom_provided_mm2: list[float]
    top_percent: list[float] | None = Field(None, description="provided steel in percent of b d of the web")
    bottom_percent: list[float] | None = Field(
        None, description="provided steel in percent of b d of the web"
    )


class ResistanceOut(_Part):
    moment_positive_kNm: list[float]
    moment_negative_kNm: list[float]
    shear_kN: list[float]
    shear_concrete_kN: list[float]


class DeflectionOut(_Part):
    immediate_mm: list[float]
    long_term_mm: list[float]
    after_finishes_mm: list[float]
    striking_mm: list[float] | None = None
    live_mm: list[float] | None = None
    after_partitions_mm: list[float] | None = None


class CrackOut(_Part):
    top_mm: list[float]
    bottom_mm: list[float]


class StressOut(_Part):
    """Of the bars of a face in tension, at the level that cracking is judged at."""

    top_MPa: list[float]
    bottom_MPa: list[float]


class ShearOut(_Part):
    strut_cot: list[float] | None


class StationsOut(_Part):
    x_mm: list[float]
    span: list[int]
    strength: EnvelopeOut = Field(description="elastic")
    redistributed: EnvelopeOut | None = Field(None, description="after redistribution, where there is any")
    design: DesignOut
    service: dict[str, EnvelopeOut]
    steel: SteelOut
    resistance: ResistanceOut
    deflection: DeflectionOut
    crack: CrackOut
    stress: StressOut | None = None
    shear: ShearOut | None = None

    @model_validator(mode="after")
    def _together(self) -> Self:
        """One value a station in every list, spans from left to right."""
        if len(set(_lengths(self))) != 1 or len(self.x_mm) < 2 or sorted(self.span) != self.span:
            raise ValueError("the lists of stations differ in length or order")
        return self


def _lengths(part: BaseModel) -> Iterator[int]:
    """Of every list in it."""
    for name in type(part).model_fields:
        value = getattr(part, name)
        if isinstance(value, list):
            yield len(value)
        elif isinstance(value, BaseModel):
            yield from _lengths(value)
        elif isinstance(value, dict):
            for inner in value.values():
                yield from _lengths(inner)


class PlaceOut(_Part):
    """Where a check is made, as far as it has a place of that sort."""

    span: int | None = None
    support: str = ""
    side: str = ""
    bar: str = ""
    other: str = ""
    row: int | None = None
    part: str = ""
    number: int | None = None
    face: str = ""


class CheckOut(_Part):
    id: str
    kind: str = ""
    place: PlaceOut = PlaceOut()
    beside: bool = False
    topic: str
    span: int
    x_mm: float
    demand: float
    resistance: float
    unit: str
    quantity: str = ""
    ratio: float
    ok: bool
    severity: Literal["must", "advice", "waived"]
    clause: str
    note: str
    combination: str = ""
    level: str = Field("", description="of alike beams the one that it is worst in")


class LevelOut(_Part):
    """One of several alike beams that share a design: its verdict and the greatest ratio of each topic."""

    name: str
    mark: str
    status: Literal["pass", "incomplete", "fail"]
    governing: str
    ratio: float
    x_mm: float
    combination: str = ""
    ratios: dict[str, float]


class BentUpOut(_Part):
    """Of a bottom bar: the stretches along which it goes between bottom and top, from left to right."""

    inclined_mm: Annotated[list[tuple[Mm, Mm]], Field(min_length=1, max_length=2)]
    left: bool = Field(description="whether it lies at the top left of the first")
    height_mm: Mm = Field(description="between its axes in the two faces")
    layer: Annotated[int, Field(ge=0, le=100)]
    axis_mm: Mm


class BarOut(_Part):
    mark: str
    face: Literal["bottom", "top", "side"]
    layer: Annotated[int, Field(ge=0, le=100)]
    count: Annotated[int, Field(ge=0, le=100_000)]
    size: str
    diameter_mm: Mm
    start_mm: Mm
    end_mm: Mm
    ends: tuple[str, str]
    legs_mm: tuple[float, float]
    held: bool
    shape_code: str
    cut_length_mm: Mm
    mass_kg: float
    axis_mm: Mm
    dimensions_mm: dict[str, float]
    mandrel_mm: Mm = Field(0.0, description="diameter that the bar is bent on; 0: straight")
    bent_up: BentUpOut | None = None


class StirrupOut(_Part):
    mark: str
    size: str
    diameter_mm: Mm
    legs: Annotated[int, Field(ge=0, le=100)]
    start_mm: Mm
    end_mm: Mm
    spacing_mm: Mm
    count: Annotated[int, Field(ge=0, le=100_000)]
    held: bool
    shape_code: str
    cut_length_mm: Mm
    mass_kg: float
    dimensions_mm: dict[str, float] = Field(
        description="outer; in a taper of pieces that vary from A to A_last"
    )
    links: int
    link_length_mm: Mm
    strut_cot: float
    shear_model: str
    mandrel_mm: Mm = 0.0


class AlternativeOut(_Part):
    """A group of bars that would do as well: its extra cost, and what that is due to."""

    face: Literal["bottom", "top"]
    spans: tuple[int, int]
    through: str
    extra: str
    cost: float
    extra_cost: float
    because: dict[str, float]


class StageOut(_Part):
    """What a stage of service assumed: age of the concrete (none: at the end), creep coefficient, modulus
    with it, tensile strength, shrinkage so far."""

    name: str
    age_days: float | None = None
    creep: float | None = None
    modulus_MPa: float
    tensile_strength_MPa: float
    shrinkage: float


class MessageOut(_Part):
    severity: Literal["note", "remark", "warning", "fail"]
    text: str
    where: str
    topic: str = Field("", description="practice, or empty")


class LineOut(_Part):
    """A line of a derivation: symbol = formula = numbers put in = value unit; or a value that is given, and
    what it is. In the units of the code's expressions (N, mm, MPa; lb, in, psi)."""

    symbol: str = Field(pattern=r"^[A-Za-z0-9_,'/ ]{1,40}$")  # it is set as mathematics
    value: float | None
    unit: str
    text: str = ""
    formula: str = ""
    numbers: str = ""
    clause: str = ""
    condition: str = ""


class WorkingOut(_Part):
    """How the number of a check was found."""

    check: str
    sought: str
    lines: list[LineOut]


class InputOut(_Part):
    """An input said back; `usual`: it is the default."""

    topic: str
    name: str
    value: str
    usual: bool
    source: str = ""
    """Name of the file of shared rules that it came from."""


class ResultFile(_Part):
    """A result file (MARK.result.json)."""

    format: Literal["upright-bramble/result"]
    version: Literal[2]
    tool_version: str
    derived: bool = Field(
        True,
        description="whether the derivations are in this file; they are worked out again where they are not",
    )
    beam_file: str = Field("", description="name of the beam file, without its folder")
    input_sha256: str = Field(description="of the beam file, and of the tables that it names")
    layout_sha256: str = Field(
        "", description="of the layout file that was judged; empty: the bars came from no file"
    )
    beam: BeamOut
    verdict: VerdictOut
    levels: list[LevelOut] = Field(default_factory=list)
    reactions: list[ReactionOut]
    stations: StationsOut
    checks: list[CheckOut]
    bars: list[BarOut]
    stirrups: list[StirrupOut]
    alternatives: list[AlternativeOut]
    stages: list[StageOut]
    inputs: list[InputOut] = Field(default_factory=list)
    workings: list[WorkingOut] = Field(default_factory=list)
    weighed: int
    quantities: dict[str, float]
    messages: list[MessageOut]

    @model_validator(mode="after")
    def _complete(self) -> Self:
        """Every span has stations, every support its reactions at every level, and what governs is a
        check."""
        if sorted(set(self.stations.span)) != list(range(1, len(self.beam.spans) + 1)):
            raise ValueError("spans without stations, or stations of no span")
        levels, names = {"strength", *self.stations.service}, {s.name for s in self.beam.supports}
        if {(r.support, r.level) for r in self.reactions} != {
            (name, level) for name in names for level in levels
        }:
            raise ValueError("reactions are missing")
        if self.verdict.governing not in {c.id for c in self.checks} or not set(_QUANTITIES) <= set(
            self.quantities
        ):
            raise ValueError("what governs, or a quantity, is missing")
        return self


_QUANTITIES = (
    "concrete_m3", "formwork_m2", "steel_kg", "steel_kg_per_m3", "cost", "steel_cost", "carbon_kg",
    "main_bars_over_least", "percent_most",
)  # fmt: skip
