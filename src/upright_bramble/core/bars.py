"""Sizes of reinforcing bars: what a designation means, written once."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

STEEL_DENSITY = 7.85e-6  # kg/mm3


@dataclass(frozen=True)
class BarSize:
    """A bar of a catalogue: `designation` as it is written in a file, `diameter` (mm), nominal `area` (mm2),
    and what stands before (`sign`) or after (`suffix`) its designation on a drawing.

    >>> BarSize("20", 20.0, 314.16, "ø").label
    'ø20'
    >>> BarSize("25", 25.2, 500.0, suffix="M").label
    '25M'
    """

    designation: str
    diameter: float
    area: float
    sign: str = ""
    suffix: str = ""

    @property
    def label(self) -> str:
        """As drawings and messages have it."""
        return f"{self.sign}{self.designation}{self.suffix}"

    @property
    def mass(self) -> float:
        """Per length, kg/mm."""
        return self.area * STEEL_DENSITY


@dataclass(frozen=True)
class BarSizes(Mapping[str, BarSize]):
    """The catalogue of a code: sizes by designation, thinnest first, and those usual for main bars and for
    stirrups.

    >>> sizes = round_bars((8, 10, 16, 20), "ø", main=("16", "20"), stirrups=("8", "10"))
    >>> sizes["20"].diameter, round(sizes["20"].area, 1), sizes.label("20")
    (20.0, 314.2, 'ø20')
    """

    table: Mapping[str, BarSize]
    main: tuple[str, ...]
    stirrups: tuple[str, ...]

    def __getitem__(self, designation: str) -> BarSize:
        return self.table[designation]

    def __iter__(self) -> Iterator[str]:
        return iter(self.table)

    def __len__(self) -> int:
        return len(self.table)

    def label(self, designation: str) -> str:
        """Of a size that the catalogue may not have any more (an old result): the bare designation then."""
        result = self.table.get(designation)
        return result.label if result else designation

    def diameters(self) -> dict[str, float]:
        """By designation, mm."""
        return {size: bar.diameter for size, bar in self.table.items()}


def counted(number: int, label: str) -> str:
    """So many bars, as every output has it.

    >>> counted(3, "ø20"), counted(2, "#7"), counted(4, "25M")
    ('3ø20', '(2) #7', '4-25M')
    """
    if label.startswith("#"):
        return f"({number}) {label}"
    return f"{number}{label}" if not label[:1].isdigit() else f"{number}-{label}"


def round_bars(
    diameters: tuple[int, ...], sign: str, *, main: tuple[str, ...], stirrups: tuple[str, ...]
) -> BarSizes:
    """Bars named by their diameter in mm, with the area of a circle (ISO 6935-2)."""
    table = {str(d): BarSize(str(d), float(d), math.pi * float(d) ** 2 / 4.0, sign) for d in diameters}
    return BarSizes(table, main, stirrups)


def tabulated_bars(
    rows: Mapping[str, tuple[float, float]],
    scale: float,
    sign: str,
    *,
    main: tuple[str, ...],
    stirrups: tuple[str, ...],
    suffix: str = "",
) -> BarSizes:
    """Bars whose diameter and nominal area stand in a table of their standard, in units of `scale` mm."""
    table = {size: BarSize(size, d * scale, a * scale**2, sign, suffix) for size, (d, a) in rows.items()}
    return BarSizes(table, main, stirrups)
