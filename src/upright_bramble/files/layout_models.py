"""The layout file as typed models."""

# annotations are values here, not text: pydantic reads them, and reads values faster

from typing import Annotated, Literal

from pydantic import (
    Field,
)

from upright_bramble.files.amounts import BarSize, CoverLength, Entry, Mark, Position, SectionLength, Word

EndKind = Literal["straight", "bend", "hook", "lap"]


class BentUpIn(Entry):
    """Where a bottom bar is bent up, and goes on at the top."""

    left: Position | None = Field(None, description="it leaves the bottom here, towards its 'from' end")
    right: Position | None = Field(None, description="it leaves the bottom here, towards its 'to' end")
    angle: Annotated[float, Field(ge=30.0, le=60.0)] = Field(45.0, description="degrees to the beam's axis")
    layer: Annotated[int, Field(ge=1, le=4)] = Field(1, description="row of the top that it lies in")


class BarIn(Entry):
    mark: Word
    face: Literal["bottom", "top"]
    layer: Annotated[int, Field(ge=1, le=4)]
    count: Annotated[int, Field(ge=1, le=60)]
    size: BarSize
    from_: Position = Field(alias="from")
    to: Position
    ends: tuple[EndKind, EndKind] = ("straight", "straight")
    legs: tuple[CoverLength, CoverLength] = Field(
        (0.0, 0.0), description="outer length of each bent leg; 0: the least"
    )
    bent_up: BentUpIn | None = Field(
        None, description="of a bottom bar: where it goes to the top; 'from' and 'to' are those of all of it"
    )
    held: bool = False


class StirrupIn(Entry):
    mark: Word
    size: BarSize
    legs: Annotated[int, Field(ge=2, le=12)]
    from_: Position = Field(alias="from")
    to: Position
    spacing: SectionLength
    held: bool = False


class SideBarsIn(Entry):
    """Bars along both sides of the web."""

    mark: Word
    rows: Annotated[int, Field(ge=1, le=12)] = Field(
        description="at each side, evenly between the corner bars"
    )
    size: BarSize
    from_: Position = Field(alias="from")
    to: Position
    ends: tuple[Literal["straight", "bend"], Literal["straight", "bend"]] = ("straight", "straight")
    legs: tuple[CoverLength, CoverLength] = Field(
        (0.0, 0.0), description="outer length of each bent leg, level in the support; 0: the least"
    )
    held: bool = False


class LayoutFile(Entry):
    """A layout file (NAME.layout.yaml): the bars."""

    bramble_layout: Literal[1]
    beam: Mark
    bars: Annotated[list[BarIn], Field(max_length=5000)] = Field(default_factory=list)
    stirrups: Annotated[list[StirrupIn], Field(max_length=5000)] = Field(default_factory=list)
    side_bars: Annotated[list[SideBarsIn], Field(max_length=200)] = Field(default_factory=list)
