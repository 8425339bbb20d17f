"""What a sheet is made of. All in mm on paper, x to the right, y upwards from the lower left corner."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import TypeAlias

Point: TypeAlias = tuple[float, float]

# layer -> (line weight in mm, dashes)
LAYERS: dict[str, tuple[float, tuple[float, ...]]] = {
    "concrete": (0.35, ()),
    "hidden": (0.18, (3.0, 1.5)),
    "axes": (0.18, (8.0, 1.5, 1.0, 1.5)),
    "stirrups": (0.50, ()),
    "bars": (0.70, ()),
    "dimensions": (0.25, ()),
    "text": (0.25, ()),
    "table": (0.25, ()),
    "frame": (0.50, ()),
}
SMALL, LARGE = 2.5, 3.5  # text heights


@dataclass(frozen=True)
class Stroke:
    """A broken line, or a closed and perhaps filled shape."""

    points: tuple[Point, ...]
    layer: str
    closed: bool = False
    filled: bool = False


@dataclass(frozen=True)
class Dot:
    """A circle, filled for a bar seen from its end."""

    centre: Point
    radius: float
    layer: str
    filled: bool = True


@dataclass(frozen=True)
class Label:
    """Text at a point; `anchor` is the side of the text that stands there: left, middle or right; `level` is
    its bottom or its middle."""

    at: Point
    text: str
    height: float = SMALL
    anchor: str = "left"
    level: str = "bottom"
    layer: str = "text"


@dataclass(frozen=True)
class Dimension:
    """A length between two points, its line at `offset` (mm on paper, to the left of the direction), with its
    text as it reads.

    `beside`: the text stands beyond the second point, where the length is too short for it.
    """

    first: Point
    second: Point
    offset: float
    text: str
    beside: bool = False

    @property
    def upright(self) -> bool:
        return abs(self.second[0] - self.first[0]) < abs(self.second[1] - self.first[1])


@dataclass
class Sheet:
    """A sheet of `width` by `height` with what is drawn on it."""

    name: str
    width: float
    height: float
    strokes: list[Stroke] = field(default_factory=list)
    dots: list[Dot] = field(default_factory=list)
    labels: list[Label] = field(default_factory=list)
    dimensions: list[Dimension] = field(default_factory=list)

    def line(
        self, points: Sequence[Point], layer: str, *, closed: bool = False, filled: bool = False
    ) -> None:
        self.strokes.append(Stroke(tuple(points), layer, closed, filled))

    def box(self, x: float, y: float, width: float, height: float, layer: str) -> None:
        self.line([(x, y), (x + width, y), (x + width, y + height), (x, y + height)], layer, closed=True)

    def text(
        self,
        x: float,
        y: float,
        text: str,
        height: float = SMALL,
        anchor: str = "left",
        level: str = "bottom",
        layer: str = "text",
    ) -> None:
        if text:
            self.labels.append(Label((x, y), text, height, anchor, level, layer))


def text_width(text: str, height: float = SMALL) -> float:
    """About what a text takes, mm."""
    return 0.86 * height * len(text)
