"""One piece of a beam on a sheet: where its places lie, what has been written, the legs of its bars."""

from __future__ import annotations

from dataclasses import dataclass

from upright_bramble.core.bars import counted
from upright_bramble.core.quantities import SYSTEMS
from upright_bramble.files.result_file import BarOut, BeamOut
from upright_bramble.present.along import face_at_end

LEFT, EDGE = 20.0, 10.0  # margins of a sheet


@dataclass(frozen=True)
class Piece:
    """A stretch of the beam that one sheet shows, mm along the beam, and where its left end stands on the
    paper."""

    start: float
    end: float
    scale: float
    left: float

    def x(self, place: float) -> float:
        return self.left + (place - self.start) / self.scale

    def shows(self, start: float, end: float) -> bool:
        return end > self.start + 1.0 and start < self.end - 1.0

    def clipped(self, start: float, end: float) -> tuple[float, float]:
        return self.x(max(start, self.start)), self.x(min(end, self.end))


class Written:
    """Lengths as the drawing says them: whole mm, or feet and inches."""

    def __init__(self, beam: BeamOut) -> None:
        self.inch, self.label = SYSTEMS[beam.units].inches, beam.label

    def length(self, mm: float) -> str:
        if not self.inch:
            return f"{mm:.0f}"
        quarters = round(mm / 25.4 * 4.0)
        feet, rest = divmod(quarters, 48)
        integer, part = divmod(rest, 4)
        fraction = ("", " 1/4", " 1/2", " 3/4")[part]
        return (f"{feet}'-" if feet else "") + f'{integer}{fraction}"'

    def bars(self, count: int, size: str) -> str:
        return counted(count, self.label(size))

    def spaced(self, count: int, size: str, spacing: float) -> str:
        """Stirrups at their spacing: 8ø10/200, or with @ where a size is no diameter: (8) #3 @ 10"."""
        sign = "/" if self.label(size).startswith("ø") else " @ "
        return f"{self.bars(count, size)}{sign}{self.length(spacing)}"


def inwards(bar: BarOut, side: int) -> float:
    """From the face that an end lies in into the beam: 1 upwards, -1 downwards."""
    return 1.0 if face_at_end(bar, side) == "bottom" else -1.0


def leg_of(bar: BarOut, side: int) -> float:
    """What of an end stands out across the bar, mm: its leg, or the diameter of its hook."""
    d = bar.dimensions_mm
    if bar.ends[side] == "hook":
        return bar.mandrel_mm + 2.0 * bar.diameter_mm if bar.mandrel_mm else 8.0 * bar.diameter_mm
    if bar.shape_code == "21":
        return d["A"] if side == 0 else d["C"]
    if bar.shape_code == "11":
        return d.get("B", bar.legs_mm[side])
    return bar.legs_mm[side] or 8.0 * bar.diameter_mm
