"""What becomes of the pinned beams when their bars are changed as a hand might change them: of every kind of check what
comes out otherwise than for the bars as designed, and what is said to the user.

`python tests/pinned_changes.py NAME...` writes the pins of some (or all) anew; a person reads what changed before it is committed.
"""

from __future__ import annotations

import sys
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

import pinned_designs
import upright_bramble as ub
from pinned_beams import BEAMS, described, stored_layout
from upright_bramble.beam import Bar, Beam, Layout, StirrupZone
from upright_bramble.core.bars import BarSizes
from upright_bramble.files.layout_file import read_layout
from upright_bramble.pipeline import code_of
from upright_bramble.verify import Check, Result

PINS = Path(__file__).parent / "pins" / "changes.txt"


def _of(layout: Layout, change: Callable[[Bar, int], Bar]) -> Layout:
    return replace(layout, bars=tuple(change(b, k) for k, b in enumerate(layout.bars)))


def _zones(layout: Layout, change: Callable[[StirrupZone, int], StirrupZone]) -> Layout:
    return replace(layout, stirrups=tuple(change(z, k) for k, z in enumerate(layout.stirrups)))


def _whole(b: Bar, low: float, high: float) -> bool:
    return b.start < low + 60.0 or b.end > high - 60.0


def _moved(layout: Layout, by: float) -> Layout:
    """Bars that reach no end of the beam."""
    low, high = min(b.start for b in layout.bars), max(b.end for b in layout.bars)
    return _of(
        layout, lambda b, _: b if _whole(b, low, high) else replace(b, start=b.start + by, end=b.end + by)
    )


def _other_size(sizes: BarSizes, size: str, step: int) -> str:
    """The next thicker or thinner one."""
    known = sorted(sizes, key=lambda s: sizes[s].diameter)
    return known[min(max(known.index(size) + step, 0), len(known) - 1)]


def _turned(beam: Beam, layout: Layout) -> Layout:
    """The other way round, as if the fixers had read the drawing from the right."""
    low, high = beam.ends

    def bar(b: Bar, _: int) -> Bar:
        return replace(
            b, start=low + high - b.end, end=low + high - b.start, ends=b.ends[::-1], legs=b.legs[::-1]
        )

    mirrored = _of(layout, bar)
    zones = tuple(
        replace(z, start=low + high - z.start - (z.count - 1) * z.spacing, end=low + high - z.start)
        for z in layout.stirrups
    )
    return replace(mirrored, stirrups=tuple(sorted(zones, key=lambda z: z.start)))


def _cut(bars: Sequence[Bar], sizes: BarSizes) -> tuple[Bar, ...]:
    """The longest bar of each face in two pieces, with a short lap."""
    result = list(bars)
    for face in ("bottom", "top"):
        longest = max(
            (b for b in bars if b.face == face and b.ends == ("straight", "straight") and b.bent_up is None),
            key=lambda b: b.end - b.start, default=None,
        )  # fmt: skip
        if longest is None:
            continue
        middle, lap = 0.45 * longest.start + 0.55 * longest.end, 24.0 * sizes[longest.size].diameter
        k = result.index(longest)
        result[k : k + 1] = [
            replace(longest, mark="L", end=middle + lap, ends=("straight", "lap")),
            replace(longest, mark="R", start=middle, ends=("lap", "straight")),
        ]
    return tuple(result)


def changes(beam: Beam, layout: Layout) -> dict[str, Layout]:
    """By name; each is of the layout as designed."""
    sizes = code_of(beam).sizes
    legs = _of(layout, lambda b, _: replace(b, legs=(round(0.55 * b.legs[0]), round(0.7 * b.legs[1]))))
    straight = _of(
        layout,
        lambda b, _: replace(
            b, legs=(0.0, 0.0), ends=tuple("straight" if e in ("bend", "hook") else e for e in b.ends)
        ),
    )
    hooked = _of(
        layout,
        lambda b, _: replace(
            b, legs=(0.0, 0.0), ends=tuple("hook" if e in ("bend", "straight") else e for e in b.ends)
        ),
    )
    lifted = _of(layout, lambda b, k: replace(b, layer=b.layer + (k % 3 == 1)))
    other_face = _of(
        layout,
        lambda b, k: (
            b if b.bent_up or k % 4 != 1 else replace(b, face="top" if b.face == "bottom" else "bottom")
        ),
    )
    laps = _of(
        layout,
        lambda b, _: replace(
            b, start=b.start + 180.0 * (b.ends[0] == "lap"), end=b.end - 240.0 * (b.ends[1] == "lap")
        ),
    )
    first = _of(layout, lambda b, k: replace(b, start=b.start + 1400.0) if k == 0 else b)
    last = _of(layout, lambda b, k: replace(b, end=b.end - 1400.0) if k == len(layout.bars) - 1 else b)
    close = _zones(layout, lambda z, k: replace(z, spacing=round(0.28 * z.spacing)) if k % 2 == 0 else z)
    legged = _zones(layout, lambda z, k: replace(z, legs=(2, 4, 3)[k % 3]))
    thin = _zones(layout, lambda z, k: replace(z, size=_other_size(sizes, z.size, -1 if k % 2 else 1)))
    few = replace(layout, stirrups=tuple(z for k, z in enumerate(layout.stirrups) if k % 3 != 1))
    tie = max(sizes[z.size].diameter for z in layout.stirrups)
    own_axis = _of(
        layout,
        lambda b, k: (
            b if b.bent_up or k % 3 != 2 else replace(b, axis=beam.cover.bottom + tie + 35.0 + 7.0 * k)
        ),
    )
    sides = tuple(
        replace(
            s, rows=s.rows + 1, start=s.start + 500.0, ends=("straight", s.ends[1]), legs=(0.0, s.legs[1])
        )
        for s in layout.sides
    )
    return {
        "bars to the right": _moved(layout, 280.0),
        "bars to the left": _moved(layout, -340.0),
        "short legs": legs,
        "no bends": straight,
        "hooks everywhere": hooked,
        "thicker bars": _of(layout, lambda b, _: replace(b, size=_other_size(sizes, b.size, 2))),
        "thinner bars": _of(layout, lambda b, k: replace(b, size=_other_size(sizes, b.size, -1 - k % 2))),
        "rows up": lifted,
        "the other face": other_face,
        "short laps": laps,
        "the first bar late": first,
        "the last bar early": last,
        "two pieces": replace(layout, bars=_cut(layout.bars, sizes)),
        "other axes": own_axis,
        "the other way round": _turned(beam, layout),
        "stirrups close": close,
        "other legs": legged,
        "other stirrups": thin,
        "stirrups left out": few,
        "side bars short": replace(layout, sides=sides),
    }  # fmt: skip


def _kinds(result: Result) -> dict[str, str]:
    """Of every kind of check the worst: how many, how many fail, where, demand and resistance, and what is noted."""
    groups: dict[str, list[Check]] = {}
    for c in result.checks:
        groups.setdefault(f"{c.kind.id or c.id} {c.kind.face}".strip(), []).append(c)
    lines = {}
    for name, checks in groups.items():
        w = max(checks, key=lambda c: c.ratio)
        failing = sum(not c.ok for c in checks)
        note = f", {w.note}" if w.note and not w.ok else ""
        lines[name] = (
            f"{failing} of {len(checks)} fail; {w.ratio:.3g} at {w.x:.0f}, {w.demand:.4g} of {w.resistance:.4g}{note}"
        )
    for g in result.gaps:
        lines[f"{g.id} not verified"] = g.reason
    return lines  # fmt: skip


def _said(result: Result) -> list[str]:
    """Messages but those of failing checks, which tell the notes."""
    return [
        f"{m.severity}: {m.where} {m.text}".replace("\n", " ")
        for m in result.messages
        if m.severity != "fail"
    ]


def changed(name: str) -> list[str]:
    """Under every second change (the next beam has the others) what is otherwise than as designed."""
    given = described(name)
    layout = read_layout(stored_layout(name), given)
    own = ub.check(given, layout)
    kinds, said, lines = _kinds(own), set(_said(own)), [f"== {name}: {own.status}"]
    second = slice(list(BEAMS).index(name) % 2, None, 2)
    for change, other in list(changes(given, layout).items())[second]:
        if other == layout:
            continue
        result = ub.check(given, other)
        lines.append(f"{change}: {result.status}, {result.quantities['steel_kg']:.1f} kg")
        lines += [f"  {kind}: {line}" for kind, line in _kinds(result).items() if kinds.get(kind) != line]
        lines += [f"  {line}" for line in _said(result) if line not in said]
    return lines


def write(names: list[str]) -> None:
    pins = {**pinned_designs.stored(PINS), **{name: changed(name) for name in names}}
    PINS.write_text("".join("\n".join(pins[name]) + "\n\n" for name in BEAMS), "utf-8")


if __name__ == "__main__":
    write(sys.argv[1:] or list(BEAMS))
