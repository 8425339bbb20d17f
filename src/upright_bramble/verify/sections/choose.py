"""Bars and stirrups that would do for every set of forces."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.codes.design_code import DesignCode
from upright_bramble.verify.sections.along import SECOND_ROW, judged
from upright_bramble.verify.sections.bending import bent
from upright_bramble.verify.sections.judge import (
    Verdict,
    across,
    ductility,
    judge,
    lying_piece,
    of_piece,
    strength,
)
from upright_bramble.verify.sections.model import BarAt, ClosedStirrups, CrossSection

SPACINGS = (400.0, 350.0, 300.0, 275.0, 250.0, 225.0, 200.0, 175.0, 150.0, 125.0, 100.0, 75.0, 50.0)
INCHES = (16.0, 14.0, 12.0, 10.0, 9.0, 8.0, 7.0, 6.0, 5.0, 4.0, 3.0, 2.0)
ROWS = 3  # of a face, at most
MAXIMUM_JUDGED = 10  # arrangements of bars that are judged in full
APART = (300.0, 250.0, 200.0, 150.0, 100.0)  # mm, of bars at the sides, for torsion and in deep sections
SIDES = ("torsion.sides", "skin.area")  # their area: thicker ones
LEAST = ("minimum.bottom", "minimum.top", "minimum.cracks")
CLOSER = ("torsion.side-spacing", "skin.spacing")
HANGER = 12.0  # mm: the thinnest bars of a face that nothing pulls
BESIDE = 90  # row of the first bars at the sides


@dataclass(frozen=True)
class Chosen:
    """The section with what was chosen and its verdict; None where nothing allowed does, with the nearest
    miss."""

    section: CrossSection | None
    verdict: Verdict | None
    miss: str = ""


@dataclass(frozen=True)
class Beside:
    """Bars at both sides: their size, and no farther apart than `apart` (mm)."""

    size: str
    apart: float


def choose(section: CrossSection, code: DesignCode, inches: bool = False) -> Chosen:
    """The least steel of the sizes allowed with which every check passes; with bars at the sides under
    torsion, and where they lack."""
    wanted = section.choice
    assert wanted is not None
    allowed = wanted.main_bars or _usual(code, 16.0, 25.0)
    sizes = tuple(sorted(allowed, key=lambda v: code.sizes[v].diameter))
    ties = wanted.stirrup_bars or (() if section.stirrups is not None else _usual(code, 8.0, 10.0))
    beside = Beside(sizes[0], APART[0]) if any(s.torque for s in section.forces) else None
    tried = Chosen(None, None, "no arrangement of these sizes fits the width and resists the forces")
    while True:
        tried, lacking = _chosen(section, code, (sizes, ties), beside, inches) or (tried, set())
        further = _further(beside, lacking, sizes)
        if tried.section is not None or further is None:
            return tried
        beside = further


def _chosen(
    section: CrossSection,
    code: DesignCode,
    allowed: tuple[tuple[str, ...], tuple[str, ...]],
    beside: Beside | None,
    inches: bool,
) -> tuple[Chosen, set[str]] | None:
    """The first arrangement of these sizes of bars and stirrups that passes, or the nearest miss; and what
    bars at the sides lack. None where none resists bending."""
    miss, hint, judged = "", None, 0
    for candidate in _arrangements(section, code, *allowed, beside):
        with_ties = _stirrups(candidate, code, allowed[1], inches, hint)
        if with_ties is None:
            miss = "no stirrups of these sizes resist the shear and torsion"
            continue
        verdict, hint = judge(with_ties, code), with_ties.stirrups
        if not verdict.failing:
            return Chosen(with_ties, verdict), set()
        worst = max(verdict.failing, key=lambda c: c.ratio)
        miss = f"the nearest arrangement fails {worst.kind.sought or worst.id} by {worst.ratio:.2f}"
        lacking = {c.kind.id for c in verdict.failing} & {*SIDES, *CLOSER}
        if lacking:  # whatever bars the faces have
            return Chosen(None, None, miss), lacking
        judged += 1
        if judged >= MAXIMUM_JUDGED:
            break
    return (Chosen(None, None, miss), set()) if miss else None


def _further(beside: Beside | None, lacking: set[str], sizes: tuple[str, ...]) -> Beside | None:
    """More bars at the sides: closer, or thicker where their area lacks; None where nothing of these
    `sizes`, the thinnest first, is left to try."""
    if not lacking:
        return None
    if beside is None:
        return Beside(sizes[0], APART[0])
    thicker = sizes[sizes.index(beside.size) + 1 :]
    closer = APART[APART.index(beside.apart) + 1 :]
    if lacking & {*SIDES} and thicker:
        return replace(beside, size=thicker[0])
    return replace(beside, apart=closer[0]) if closer else None


def _usual(code: DesignCode, low: float, high: float) -> tuple[str, ...]:
    return tuple(n for n, s in code.sizes.items() if low - 1.0 <= s.diameter <= high + 1.0)


def _arrangements(
    section: CrossSection,
    code: DesignCode,
    sizes: tuple[str, ...],
    ties: tuple[str, ...],
    beside: Beside | None,
) -> Iterator[CrossSection]:
    """By total area of bars: of each size the fewest that resist bending, and a few more."""
    assert section.choice is not None
    kept = section.bars if section.choice.keep else ()
    tie = (
        section.stirrups.diameter
        if section.stirrups is not None
        else max(code.sizes[t].diameter for t in ties)
    )
    base = replace(section, bars=kept, tie=tie, stirrups=section.stirrups or _placeholder(code, ties[0]))
    if beside is not None:
        base = replace(base, bars=(*base.bars, *_beside(base, code, beside)))
    hanger = next((s for s in sizes if code.sizes[s].diameter >= HANGER - 0.5), sizes[-1])
    down = sum(max(s.moment, 0.0) for s in section.forces) >= sum(max(-s.moment, 0.0) for s in section.forces)
    two_sided = (
        any(s.moment_y for s in section.forces)
        or len({s.moment > 0.0 for s in section.forces if s.moment}) > 1
    )
    candidates: list[CrossSection] = []
    for size in sizes:
        most = ROWS * _in_row(base, code, size)
        if two_sided or beside is not None:  # as many at both faces
            candidates += _more(
                code,
                (max(_lacking(base, True), _lacking(base, False)), most),
                lambda n, size=size: _with(base, code, (size, n), (size, n), down),  # type: ignore[misc]
            )
        if two_sided:
            continue
        for number in (n for n in (0, 2, 3, 4, 6) if n >= _lacking(base, not down)):
            other = hanger if number <= 2 else size
            own = _more(
                code,
                (_lacking(base, down), most),
                lambda n, s=size, o=(other, number): _with(base, code, (s, n), o, down),  # type: ignore[misc]
            )
            candidates += own
            if own:  # compression bars only where the fewest at that face do not do
                break
    yield from sorted(candidates, key=lambda s: float(s.points[2].sum()))


def _beside(base: CrossSection, code: DesignCode, wanted: Beside) -> list[BarAt]:
    """Bars at both sides, in rows between those of both faces; none beside bars that are there."""
    s = code.sizes[wanted.size]
    reach = 0.5 * base.profile.narrowest - base.cover.sides - base.tie - 0.5 * s.diameter
    low, high = base.cover.top + base.tie + 10.0, base.depth - base.cover.bottom - base.tie - 10.0
    rows = max(math.ceil((high - low) / wanted.apart) - 1, 0)
    depths = np.linspace(low, high, rows + 2)[1:-1]
    gap = float(code.detailing.clear_spacing(s.diameter, base.concrete.aggregate))
    return [
        BarAt(x, -float(d), wanted.size, s.diameter, s.area, BESIDE + k)
        for k, d in enumerate(depths)
        if all(abs(d + b.y) >= gap + 0.5 * (s.diameter + b.diameter) for b in base.bars)
        for x in (-reach, reach)
    ]


Made = Callable[[int], CrossSection | None]


def _more(code: DesignCode, numbers: tuple[int, int], made: Made) -> list[CrossSection]:
    """The fewest bars, from the least to the most `numbers`, with which every set is resisted, and one and
    two more of them (for cracks); none where no number does."""
    low, high = numbers
    while high >= low and made(high) is None:  # rows that do not fit
        high -= 1
    least = _fewest(code, (low, high), made, resists)
    if least is not None and not _does(made(least), code, _enough):  # which takes longer to say
        least = _fewest(code, (least, high), made, _enough)
    if least is None:
        return []
    return [s for s in (made(least + k) for k in range(3)) if s is not None and _ductile(s, code)]


def _fewest(
    code: DesignCode, numbers: tuple[int, int], made: Made, enough: Callable[[CrossSection, DesignCode], bool]
) -> int | None:
    """By bisection: more bars do where some do. None where the most do not."""
    low, high = numbers
    if high < low or not _does(made(high), code, enough):
        return None
    while low < high:
        middle = (low + high) // 2
        low, high = (low, middle) if _does(made(middle), code, enough) else (middle + 1, high)
    return high


def _does(
    section: CrossSection | None, code: DesignCode, enough: Callable[[CrossSection, DesignCode], bool]
) -> bool:
    return section is not None and enough(section, code)


def _placeholder(code: DesignCode, size: str) -> ClosedStirrups:
    s = code.sizes[size]
    return ClosedStirrups(size, s.diameter, s.area, 2, 100.0)


def _in_row(section: CrossSection, code: DesignCode, size: str) -> int:
    phi = code.sizes[size].diameter
    gap = float(code.detailing.clear_spacing(phi, section.concrete.aggregate))
    room = section.profile.narrowest - 2.0 * (section.cover.sides + section.tie)
    return max(int((room + gap) / (phi + gap) + 1e-6), 0)


def resists(section: CrossSection, code: DesignCode) -> bool:
    """Whether bars and concrete bear bending and axial force of every set."""
    return all(bent(section, code, forces).ratio <= 1.0 for forces in section.forces)


def _enough(section: CrossSection, code: DesignCode) -> bool:
    """Whether the bars resist bending and axial force of every set, with what torsion pulls in them, and are
    not fewer than the code's least."""
    if not resists(section, code):
        return False
    for forces in section.forces:
        for c in strength(section, code, forces)[0]:
            main = c.topic == "bending" or c.kind.id.startswith(LEAST)
            if main and not c.ok and c.severity == "must" and not c.kind.id.startswith("ductility"):
                return False
    return True


def _ductile(section: CrossSection, code: DesignCode) -> bool:
    for forces in section.forces:
        state = bent(section, code, forces)
        if any(not c.ok and c.severity == "must" for c in ductility(section, code, forces, state)):
            return False
    return True


def _with(
    base: CrossSection, code: DesignCode, pulled: tuple[str, int], other: tuple[str, int], down: bool
) -> CrossSection | None:
    """Rows of bars added at both faces; None where they do not fit."""
    bars = list(base.bars)
    for (size, number), bottom in ((pulled, down), (other, not down)):
        rows = _rows(base, code, size, number, bottom)
        if rows is None:
            return None
        bars += rows
    return replace(base, bars=tuple(bars))


def _face(base: CrossSection, bottom: bool) -> list[BarAt]:
    """The bars that are there in rows of a face: in its half, not far behind the stirrup."""
    near = (base.cover.bottom if bottom else base.cover.top) + base.tie
    return [
        b
        for b in base.bars
        if b.row < BESIDE
        and (b.y < -0.5 * base.depth) == bottom
        and (base.depth + b.y if bottom else -b.y) - near < SECOND_ROW * b.diameter
    ]


def _lacking(base: CrossSection, bottom: bool) -> int:
    """Bars that a face lacks for the two corners of its stirrups; a single one there fills neither."""
    return 0 if len(_face(base, bottom)) >= 2 else 2


def _rows(base: CrossSection, code: DesignCode, size: str, number: int, bottom: bool) -> list[BarAt] | None:
    """Full rows from the stirrup inwards, what is left over in the last one, behind the bars that are
    there."""
    each = _in_row(base, code, size)
    if number and each < min(2, number):
        return None
    s = code.sizes[size]
    gap = float(code.detailing.clear_spacing(s.diameter, base.concrete.aggregate))
    cover = base.cover.bottom if bottom else base.cover.top
    axis = cover + base.tie + 0.5 * s.diameter
    own = _face(base, bottom)
    if own:
        last = max(base.depth + b.y if bottom else -b.y for b in own)
        axis = last + 0.5 * max(b.diameter for b in own) + gap + 0.5 * s.diameter
    reach = 0.5 * base.profile.narrowest - base.cover.sides - base.tie - 0.5 * s.diameter
    result: list[BarAt] = []
    left, rows = number, 0
    while left > 0:
        here = min(each, left)
        rows += 1
        if rows > ROWS or axis > 0.45 * base.depth:
            return None
        places = np.linspace(-reach, reach, here) if here > 1 else [0.0]
        y = -(base.depth - axis) if bottom else -axis
        result += [BarAt(float(x), y, size, s.diameter, s.area, len(base.bars) + rows) for x in places]
        left, axis = left - here, axis + s.diameter + gap
    return result


def _stirrups(
    section: CrossSection, code: DesignCode, ties: tuple[str, ...], inches: bool, hint: ClosedStirrups | None
) -> CrossSection | None:
    """The thinnest, then fewest legs, then widest spacing with which the checks of shear, torsion and
    stirrups pass; those of the arrangement before where they do."""
    if not ties:
        return section
    if hint is not None and _held(replace(section, stirrups=hint), code):
        return replace(section, stirrups=hint)
    spacings = tuple(25.4 * v for v in INCHES) if inches else SPACINGS
    for legs, size in itertools.product((2, 4, 6), sorted(ties, key=lambda t: code.sizes[t].diameter)):
        s = code.sizes[size]
        if s.diameter > section.tie + 1e-6:
            continue
        trials = [
            replace(section, stirrups=ClosedStirrups(size, s.diameter, s.area, legs, v)) for v in spacings
        ]
        low, high = 0, len(trials) - 1
        if not _held(trials[high], code):
            continue
        while low < high:
            middle = (low + high) // 2
            low, high = (low, middle) if _held(trials[middle], code) else (middle + 1, high)
        return trials[low]
    return None


def _held(section: CrossSection, code: DesignCode) -> bool:
    """Whether what stirrups decide passes for every set."""
    for forces in section.forces:
        checks = of_piece(section, forces, judged(section, code, forces, ()))
        checks += (
            across(section, code, forces, checks, lying_piece(section, code, forces)[2])
            if forces.shear_y
            else []
        )
        failing = (
            c for c in checks if not c.ok and c.severity == "must" and c.kind.id not in (*SIDES, *CLOSER)
        )
        if any(c.topic in ("shear", "torsion", "stirrups") for c in failing):
            return False
    return True
