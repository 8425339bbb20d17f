"""Designs against plain office-rule layouts of the same beams, and what a detailer would hold against either.

    python benchmarks/practice.py [--beams 200] [--seed 1] [--codes en1992-1-1,aci318-19,aci318m-19] [--jobs 2] [--worst 5]

The plain layout of a beam: two corner bars through at both faces, support bars to 0.3 of the span to either side, span bars to 0.1 of it
from either end, three stirrup zones. It is verified by the program itself; numbers grow, and bars lengthen, until it passes. Beams whose
plain layout does not pass are left out of the comparison, and counted.
"""

from __future__ import annotations

import argparse
import itertools
import math
import os
import random
import statistics
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, replace

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

from upright_bramble.beam import Bar, Beam, Layout, StirrupZone
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.errors import BrambleError
from upright_bramble.files.beam_file import beam_from
from upright_bramble.files.yaml_source import parse_yaml
from upright_bramble.pipeline import code_of, run_check, run_design
from upright_bramble.proportion import curtail
from upright_bramble.verify import Check, Result

CODES = ("en1992-1-1", "aci318-19", "aci318m-19")
HEADS = {
    "en1992-1-1": "units: si\nconcrete: {grade: C30/37}\nreinforcement: {bars: B500B}\ncover: {top: 30, bottom: 30, sides: 30}\n",
    "aci318-19": "units: us\nconcrete: {strength: 4000 psi, aggregate: 0.75 in}\nreinforcement: {yield: 60 ksi}\n"
    "cover: {top: 1.5, bottom: 1.5, sides: 1.5}\nbracing: continuous\n",
    "aci318m-19": "units: si\nconcrete: {strength: 28}\nreinforcement: {yield: 420}\ncover: {top: 40, bottom: 40, sides: 40}\n"
    "bracing: continuous\n",
}
LIST = {True: [76.2, 101.6, 127.0, 152.4, 177.8, 203.2, 228.6, 254.0, 304.8, 355.6, 406.4, 457.2],
        False: [75.0, 100.0, 125.0, 150.0, 175.0, 200.0, 225.0, 250.0, 275.0, 300.0, 350.0, 400.0]}  # fmt: skip
ROUNDS = 14
STRESSED = 4.0  # MPa, M / (b d^2): more is no ordinary section


def ordinary(code: str, seed: int) -> Beam:
    """An ordinary beam of a building: one to five spans of 4 to 9 m, as deep as the rule of thumb has it, some with a slab, a point load
    or a cantilever."""
    r = random.Random(f"{code} {seed}")
    spans = r.choices([1, 2, 3, 4, 5], [2, 3, 4, 2, 1])[0]
    usual = r.uniform(4.5, 8.5)
    lengths = [round(usual * r.uniform(0.85, 1.15) * 10) / 10 for _ in range(spans)]
    depth = 50 * round(max(lengths) * 1000 / r.uniform(11.0, 14.0) / 50)
    depth = max(depth, 350)
    width = max(50 * round(depth * r.uniform(0.45, 0.65) / 50), 250)
    support, area = r.choice([250, 300, 400]), r.uniform(2.0, 4.5)
    dead, live = area * r.uniform(4.0, 6.5), area * r.choice([2.0, 3.0, 4.0, 5.0])
    while 1.4 * (dead + live) * max(lengths) ** 2 / 10.0 * 1e6 > STRESSED * width * (depth - 60) ** 2:
        depth, width = depth + 50, width + 50 * (depth > 2.2 * width)
    profile = f"shape: rectangle, depth: {depth} mm, width: {width} mm"
    if r.random() < 0.5:
        out = 50 * round(area * 1000 / 3 / 50)
        thick = r.choice([150, 180, 200])
        gaps = f"gap_left: {2 * out} mm, gap_right: {2 * out} mm"
        profile = f"shape: T, depth: {depth} mm, width: {width} mm, flange: {{thickness: {thick} mm, {gaps}}}"
    line = []
    for k, length in enumerate(lengths):
        line += [f"  - {{support: S{k}, width: {support} mm}}", f"  - {{span: {length} m, profile: p}}"]
    line.append(f"  - {{support: S{spans}, width: {support} mm}}")
    if r.random() < 0.15:
        line.append(f"  - {{span: {round(min(lengths) * r.uniform(0.2, 0.3), 1)} m, profile: p}}")
    points = ""
    if r.random() < 0.2:
        k = r.randrange(spans)
        points = f", {{point: {r.uniform(20, 80):.0f} kN, at: {lengths[k] * r.uniform(0.3, 0.7):.1f} m, on: [{k + 1}]}}"
    category = "B" if code.startswith("en") else "occupied"
    text = (
        f"bramble: 1\nbeam: Ordinary {seed}\nmark: O{seed}\ncode: {code}\n{HEADS[code]}profiles:\n  p: {{{profile}}}\nline:\n"
        + "\n".join(line)
        + f"\nactions:\n  - {{name: dead, kind: permanent, self_weight: true, loads: [{{line: {dead:.1f} kN/m}}{points}]}}\n"
        + f"  - {{name: live, kind: imposed, category: {category}, loads: [{{line: {live:.1f} kN/m}}]}}\n"
    )
    return beam_from(parse_yaml(text, f"O{seed}.beam.yaml"))


@dataclass
class _Plain:
    """What a person would change of a plain layout that does not pass: numbers of bars by span and by support, how far they reach (shares
    of the span), how near stirrups stand at both ends and in the middle, their size and legs."""

    beam: Beam
    code: DesignCode
    bottom: str
    top: str
    tie: str
    legs: int
    spans: list[int]
    supports: list[int]
    corner: int = 2
    short: float = 0.1
    long: float = 0.3
    spacing: dict[tuple[int, str], float] = field(default_factory=dict)
    full: set[int] = field(default_factory=set)

    def layout(self) -> Layout:
        return Layout(tuple(self._bottom_bars() + self._top_bars()), tuple(self._stirrups()))

    def _through(self, face: str, size: str) -> list[Bar]:
        """Corner bars from end to end, lapped over supports or in the middle of spans."""
        beam, code, step = self.beam, self.code, self.beam.detailing.step
        phi, c = code.sizes[size].diameter, beam.cover.sides
        low, high = math.ceil(beam.ends[0] + c), math.floor(beam.ends[1] - c)
        lap = math.ceil(curtail.lap_of(beam, code, phi, face) / step) * step
        if face == "bottom":
            cuts = [s.x for s in beam.supports if low + lap < s.x < high - lap]
        else:
            cuts = [
                0.5 * (s.start + s.end)
                for s in beam.spans
                if low + lap < 0.5 * (s.start + s.end) < high - lap
            ]
        legs = [self._leg(face, size, side) for side in (0, 1)]
        pieces, start, taken = [], float(low), 0.0
        room = beam.detailing.stock_length - max(legs)
        for x, after in itertools.pairwise([*cuts, float(high)]):
            if after + 0.5 * lap - start > room and x > taken:
                pieces.append((start, x + 0.5 * lap))
                start, taken = x - 0.5 * lap, x
        pieces.append((start, float(high)))
        bars = []
        for k, (a, b) in enumerate(pieces):
            first, last = k == 0, k == len(pieces) - 1
            kinds = (
                "bend" if first and legs[0] else "straight" if first else "lap",
                "bend" if last and legs[1] else "straight" if last else "lap",
            )
            bars.append(
                Bar(
                    "",
                    face,
                    1,
                    self.corner,
                    size,
                    a,
                    b,
                    kinds,
                    (legs[0] if first else 0.0, legs[1] if last else 0.0),
                )
            )
        return bars

    def _leg(self, face: str, size: str, side: int) -> float:
        beam, code, phi = self.beam, self.code, self.code.sizes[size].diameter
        span = beam.spans[-side]
        if (span.left if side == 0 else span.right) is None:
            return 0.0
        depth = float(span.depths(0.0 if side == 0 else span.length))
        lacking = curtail.anchorage_of(beam, code, phi, face) - beam.supports[-side].width + beam.cover.sides
        return curtail.end_for(beam, code, phi, max(lacking, 0.0), depth)[1]

    def _whole(self, x: float, up: bool) -> float:
        step = self.beam.detailing.step
        return (math.ceil if up else math.floor)(x / step) * step

    def _bottom_bars(self) -> list[Bar]:
        beam = self.beam
        bars = self._through("bottom", self.bottom)
        for i, span in enumerate(beam.spans):
            n = self.spans[i] - self.corner
            if n <= 0:
                continue
            low, high = beam.clear(i)
            a, b = span.start + self.short * span.length, span.end - self.short * span.length
            ends, legs = ["straight", "straight"], [0.0, 0.0]
            if i in self.full:
                a, b = low - 0.4 * beam.supports[0].width, high + 0.4 * beam.supports[0].width
                for side, index in ((0, 0), (1, len(beam.spans) - 1)):
                    if i == index:
                        legs[side] = self._leg("bottom", self.bottom, side)
                        ends[side] = "bend" if legs[side] else "straight"
                        if side == 0:
                            a = math.ceil(beam.ends[0] + beam.cover.sides)
                        else:
                            b = math.floor(beam.ends[1] - beam.cover.sides)
            a = a if ends[0] == "bend" else self._whole(a, False)
            b = b if ends[1] == "bend" else self._whole(b, True)
            bars.append(Bar("", "bottom", 1, n, self.bottom, a, b, (ends[0], ends[1]), (legs[0], legs[1])))
        return bars

    def _top_bars(self) -> list[Bar]:
        beam = self.beam
        bars = self._through("top", self.top)
        c = beam.cover.sides
        for k, s in enumerate(beam.supports):
            n = self.supports[k] - self.corner
            if n <= 0:
                continue
            left = next((v for v in beam.spans if v.right == k), None)
            right = next((v for v in beam.spans if v.left == k), None)
            reach = self.long * max(v.length for v in (left, right) if v is not None and not v.cantilever)
            a, b = self._whole(s.x - reach, False), self._whole(s.x + reach, True)
            ends, legs = ["straight", "straight"], [0.0, 0.0]
            for side, span in ((0, left), (1, right)):
                if span is None:  # the end of the beam
                    legs[side], ends[side] = self._leg("top", self.top, side), "bend"
                if span is None or span.cantilever:
                    a, b = (
                        (math.ceil(beam.ends[0] + c), b) if side == 0 else (a, math.floor(beam.ends[1] - c))
                    )
            bars.append(Bar("", "top", 1, n, self.top, a, b, (ends[0], ends[1]), (legs[0], legs[1])))
        return bars

    def _stirrups(self) -> list[StirrupZone]:
        beam, zones = self.beam, []
        first = 50.8 if beam.units == "us" else 50.0
        for i, _ in enumerate(beam.spans):
            low, high = beam.clear(i)
            low, high = (
                low + first,
                high - (first if beam.spans[i].right is not None else beam.cover.sides + 20.0),
            )
            end, middle = self.spacing[i, "end"], self.spacing[i, "middle"]
            count = math.ceil(0.25 * (high - low) / end)
            if end >= middle or high - low - 2 * count * end < 2 * middle:
                s = min(end, middle)
                zones.append(
                    StirrupZone(
                        "", self.tie, self.legs, low, high, (high - low) / math.ceil((high - low) / s)
                    )
                )
                continue
            a, b = low + count * end, high - count * end
            number = math.ceil((b - a) / middle)
            zones.append(StirrupZone("", self.tie, self.legs, low, a, end))
            inner = (b - a) / number
            if number > 1:
                zones.append(StirrupZone("", self.tie, self.legs, a + inner, b - inner, inner))
            zones.append(StirrupZone("", self.tie, self.legs, b, high, end))
        return zones

    def closer(self, i: int, where: str, ratio: float) -> bool:
        """The next spacing that will do, or thicker stirrups where they would stand too near to each other."""
        us = self.beam.units == "us"
        wish = self.spacing[i, where] / max(ratio, 1.001)
        smaller = [s for s in LIST[us] if s <= wish]
        if smaller and smaller[-1] >= LIST[us][1]:
            self.spacing[i, where] = smaller[-1]
            return True
        sizes = sorted(self.beam.detailing.stirrup_bars, key=lambda s: self.code.sizes[s].diameter)
        at = sizes.index(self.tie)
        if at + 1 < len(sizes):
            self.tie = sizes[at + 1]
            return True
        if smaller:
            self.spacing[i, where] = smaller[-1]
        return bool(smaller)

    def mend(self, checks: list[Check]) -> bool:
        """What the failing checks ask for, once for every zone. Returns whether that is anything."""
        beam, names = self.beam, [s.name for s in self.beam.supports]
        more: dict[tuple[str, int], int] = {}
        nearer: dict[tuple[int, str], float] = {}
        shorter, longer, changed = False, False, False
        for c in checks:
            i, bottom = c.span - 1, (c.kind.face or "bottom") == "bottom"
            near = min(range(len(names)), key=lambda k: abs(beam.supports[k].x - c.x))
            zone = i if bottom else names.index(c.place.support) if c.place.support in names else near
            number = (self.spans if bottom else self.supports)[zone]
            key = ("bottom" if bottom else "top", zone)
            if c.topic in ("shear", "torsion", "stirrups") or c.kind.id.startswith(("lap-st", "lap-sp")):
                low, high = beam.clear(i)
                where = "middle" if low + 0.28 * (high - low) < c.x < high - 0.28 * (high - low) else "end"
                if c.kind.id == "spacing.legs":
                    self.legs, changed = max(self.legs, 4), True
                    self.corner = max(self.corner, self.legs)
                else:
                    for place in (where,) if c.topic == "shear" else ("end", "middle"):
                        nearer[i, place] = max(nearer.get((i, place), 1.0), c.ratio)
            elif c.kind.id.startswith("curtailment"):
                shorter, longer = shorter or bottom, longer or not bottom
            elif c.topic == "anchorage" or c.kind.id.startswith(("integrity", "continuity")):
                if bottom and i not in self.full:
                    self.full.add(i)
                    changed = True
                else:
                    more[key] = max(more.get(key, 0), 1)
            elif c.topic in ("bending", "minimum", "cracking", "deflection"):
                if bottom and i not in self.full and self._outside(c, i):
                    shorter, changed = True, changed or self.short > 0.04 or not self.full.add(i)
                elif (
                    not bottom
                    and abs(c.x - beam.supports[zone].x) > 0.15 * beam.spans[i].length
                    and self.long < 0.45
                ):
                    longer = True
                else:
                    wish = max(1, math.ceil((min(c.ratio, 2.5) - 1.0) * number - 0.05))
                    more[key] = max(more.get(key, 0), wish)
        if shorter:
            self.short, changed = max(self.short - 0.03, 0.01), changed or self.short > 0.02
        if longer:
            self.long, changed = self.long + 0.04, changed or self.long < 0.45
        for (face, zone), number in more.items():
            (self.spans if face == "bottom" else self.supports)[zone] += number
        for (i, where), ratio in nearer.items():
            changed = self.closer(i, where, ratio) or changed
        return changed or bool(more)

    def _outside(self, c: Check, i: int) -> bool:
        span = self.beam.spans[i]
        return (
            not span.start + 0.25 * span.length < c.x < span.end - 0.25 * span.length and i not in self.full
        )


def plain(beam: Beam) -> Result | None:
    """The cheapest passing plain layout over a few sizes; None where none passes."""
    code = code_of(beam)
    sizes = sorted(beam.detailing.main_bars, key=lambda s: code.sizes[s].diameter)
    usual = [s for s in sizes if 12.0 < code.sizes[s].diameter < 28.0]
    ties = [
        s
        for s in sorted(beam.detailing.stirrup_bars, key=lambda s: code.sizes[s].diameter)
        if code.sizes[s].diameter >= 8.0
    ]
    best: Result | None = None
    for bottom, top in itertools.product(usual[:3], usual[:3]):
        if abs(usual.index(bottom) - usual.index(top)) > 1:
            continue
        found = _plain(beam, code, bottom, top, ties[0])
        if found is not None and (
            best is None or found.quantities["steel_cost"] < best.quantities["steel_cost"]
        ):
            best = found
    return best


def _plain(beam: Beam, code: DesignCode, bottom: str, top: str, tie: str) -> Result | None:
    widest = LIST[beam.units == "us"]
    depth = min(s.shallowest for s in beam.spans) - 60.0
    start = (
        max(s for s in widest if s <= 0.75 * depth)
        if code.curtailment.continuity is None
        else max(s for s in widest if s <= 0.5 * depth)
    )
    made = _Plain(beam, code, bottom, top, tie, 2, [2] * len(beam.spans), [2] * len(beam.supports))
    made.spacing = {(i, w): start for i in range(len(beam.spans)) for w in ("end", "middle")}
    for _ in range(ROUNDS):
        result = run_check(beam, _named(made.layout()))
        failing = [c for c in result.checks if not c.ok and c.severity == "must"]
        if not failing:
            return result
        if any(c.topic == "fit" for c in failing) or not made.mend(failing):
            return None
    return None


def _named(layout: Layout) -> Layout:
    """A mark for every piece that differs."""
    marks: dict[tuple[object, ...], str] = {}

    def mark(*piece: object) -> str:
        return marks.setdefault(piece, f"{len(marks) + 1:02d}")

    bars = [
        replace(
            b,
            mark=mark(
                b.size,
                round(b.end - b.start),
                *sorted(zip((k if k == "bend" else "" for k in b.ends), b.legs, strict=True)),
            ),
        )
        for b in layout.bars
    ]
    return Layout(tuple(bars), tuple(replace(z, mark=mark("tie", z.size, z.legs)) for z in layout.stirrups))


def faults(result: Result) -> Counter[str]:
    """Everything that the office would send back, counted from the bars alone."""
    beam, layout, found = result.beam, result.layout, Counter[str]()
    us = beam.units == "us"
    for i in range(len(beam.spans)):
        low, high = beam.clear(i)
        own = sorted(
            (z for z in layout.stirrups if low - 1 <= z.start and z.end <= high + 1), key=lambda z: z.start
        )
        places = [z.start + k * z.spacing for z in own for k in range(z.count)]
        found["stirrups nearer than 50 mm"] += sum(b - a < 49.9 for a, b in itertools.pairwise(places))
        found["zones of fewer than three"] += sum(z.count < 3 for z in own) if len(own) > 1 else 0
        if places and not beam.spans[i].cantilever:
            found["first stirrup off 50 mm"] += abs(places[0] - low - 50.0) > 2.0
            found["first stirrup off 50 mm"] += abs(high - places[-1] - 50.0) > 2.0
        point = any(p.span == i and p.shape == "point" for a in beam.actions for p in a.loads)
        found["too many zones"] += len(own) > (5 if point else 3)
    for z in layout.stirrups:
        for face in ("bottom", "top"):
            for x in (z.start, z.end):
                here = sum(
                    b.count for b in layout.bars if b.face == face and b.layer == 1 and b.start <= x <= b.end
                )
                found["legs without bars"] += here < z.legs
    for face, (a, b) in itertools.product(("bottom", "top"), itertools.pairwise(sorted(_ends(result)))):
        if a[1] == b[1] == face and 1.0 < b[0] - a[0] < (101.0 if us else 99.0):
            found["ends nearer than 100 mm"] += 1
    for b in layout.bars:
        if b.ends == ("straight", "straight") and b.count % 2:
            beside = sum(
                o.count
                for o in layout.bars
                if o.face == b.face
                and o.layer == b.layer
                and o is not b
                and o.start < b.end
                and b.start < o.end
            )
            found["a bar that stops alone beside an odd row"] += beside % 2 == 1
        if b.layer == 2:
            below = (  # pieces that are lapped carry each other on
                sum(
                    o.count
                    for o in layout.bars
                    if o.face == b.face and o.layer == 1 and o.start <= x <= o.end
                )
                for x in (b.start + 1, 0.5 * (b.start + b.end), b.end - 1)
            )
            found["more in the second row"] += b.count > min(below)
    for s in beam.supports:
        lengths = {
            round(b.end - b.start)
            for b in layout.bars
            if b.face == "top" and b.start < s.x < b.end and b.ends == ("straight", "straight")
        }
        found["three lengths at a support"] += len(lengths) > 2
    for mandrels in _by(
        (item.bar.size, round(item.mandrel)) for item in result.bars if item.mandrel
    ).values():
        found["mandrels of one size differ"] += len(mandrels) - 1
    for item in result.bars:
        found["pieces shorter than 1 m"] += (
            item.cut_length < (914.0 if us else 1000.0) and "lap" not in item.bar.ends
        )
        found["pieces longer than stock"] += item.cut_length > beam.detailing.stock_length + 1.0
    for face in ("bottom", "top"):
        found["three sizes a face"] += len({b.size for b in layout.bars if b.face == face}) > 2
    found["four sizes"] += len({b.size for b in layout.bars} | {s.size for s in layout.sides}) > 3
    return found


def _by(pairs: Iterator[tuple[str, int]]) -> dict[str, set[int]]:
    result: dict[str, set[int]] = {}
    for key, value in pairs:
        result.setdefault(key, set()).add(value)
    return result


def _ends(result: Result) -> Iterator[tuple[float, str]]:
    for b in result.layout.bars:
        for x, kind in zip((b.start, b.end), b.ends, strict=True):
            if kind == "straight" and any(
                low + 1 < x < high - 1
                for low, high in (result.beam.clear(i) for i in range(len(result.beam.spans)))
            ):
                yield x, b.face


def figures(result: Result) -> dict[str, float]:
    """Of a layout: marks and lengths in the span with the most, zones likewise, sizes, mass, money."""
    beam, layout = result.beam, result.layout
    marks, zones = [], []
    for i in range(len(beam.spans)):
        low, high = beam.clear(i)
        marks.append(len({b.mark for b in layout.bars if b.start < high - 1 and b.end > low + 1}))
        zones.append(len([z for z in layout.stirrups if z.start < high and z.end > low]))
    every = len({b.mark for b in layout.bars})
    return {
        "marks a span, most": max(marks), "marks a span": every / len(beam.spans), "zones": max(zones), "bar marks": every,
        "lengths": len({round(i.cut_length) for i in result.bars}), "sizes": len({b.size for b in layout.bars}),
        "stirrup marks": len({z.mark for z in layout.stirrups}),
        "pieces": len({(z.size, z.legs) for z in layout.stirrups}),
        "kg": result.quantities["steel_kg"], "money": result.quantities["steel_cost"],
    }  # fmt: skip


@dataclass(frozen=True)
class Row:
    seed: int
    status: str
    worst: str
    ours: dict[str, float]
    plain: dict[str, float]
    ours_faults: Counter[str]
    plain_faults: Counter[str]


def row(job: tuple[str, int]) -> Row:
    code, seed = job
    beam = ordinary(code, seed)
    designed = run_design(beam).result
    ours = figures(designed) if designed is not None else {}
    failing = (
        [f"{c.id} {c.ratio:.2f}" for c in designed.checks if not c.ok and c.severity == "must"]
        if designed is not None
        else ["no bars"]
    )
    try:
        by_rule = plain(beam)
    except BrambleError:
        by_rule = None
    return Row(
        seed, "fail" if designed is None else designed.status, ", ".join(failing[:3]), ours, figures(by_rule) if by_rule else {},
        faults(designed) if designed else Counter(), faults(by_rule) if by_rule else Counter(),
    )  # fmt: skip


def told(code: str, rows: list[Row], worst: int) -> None:
    passing = [r for r in rows if r.status != "fail"]
    print(f"\n{code}: {len(rows)} beams, {len(rows) - len(passing)} fail")
    for r in rows:
        if r.status == "fail":
            print(f"  O{r.seed}: {r.worst}")
    both = [r for r in passing if r.plain]
    print(f"  plain layouts that pass: {len(both)}")
    print(f"  {'':<24}{'design':>8}{'plain':>8}   median (95 % have no more)")
    for name in (
        "marks a span",
        "marks a span, most",
        "zones",
        "bar marks",
        "lengths",
        "sizes",
        "stirrup marks",
    ):
        a, b = sorted(r.ours[name] for r in passing), sorted(r.plain[name] for r in both)
        print(f"  {name:<24}{_median(a)}{_median(b)}")
    for name in ("kg", "money"):
        ratios = sorted(r.ours[name] / r.plain[name] for r in both)
        if ratios:
            decile = ratios[int(0.9 * len(ratios))]
            print(
                f"  {name + ' to plain':<24}median {statistics.median(ratios):.3f}, worst decile {decile:.3f}, worst {ratios[-1]:.3f}"
            )
            heavy = sorted(both, key=lambda r: -r.ours[name] / r.plain[name])[:worst]
            print("    " + ", ".join(f"O{r.seed} {r.ours[name] / r.plain[name]:.2f}" for r in heavy))
    few = [r for r in passing if r.ours["marks a span"] <= 4 and r.ours["zones"] <= 5]
    print(f"  four marks a span and no more than five zones: {100 * len(few) / max(len(passing), 1):.1f} %")
    names = sorted({k for r in rows for k in (*r.ours_faults, *r.plain_faults)})
    for name in names:
        ours, theirs = sum(r.ours_faults[name] for r in passing), sum(r.plain_faults[name] for r in both)
        beams = sum(r.ours_faults[name] > 0 for r in passing), sum(r.plain_faults[name] > 0 for r in both)
        print(f"  {name:<44}{ours:>6}{theirs:>6}   in {beams[0]} and {beams[1]} beams")


def _median(values: list[float]) -> str:
    return (
        f"{statistics.median(values):>5.2g} ({values[int(0.95 * (len(values) - 1))]:.2g})"
        if values
        else f"{'-':>8}"
    )


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--beams", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--codes", default=",".join(CODES))
    parser.add_argument("--jobs", type=int, default=os.cpu_count() or 1)
    parser.add_argument("--worst", type=int, default=5)
    given = parser.parse_args()
    with ProcessPoolExecutor(given.jobs) as pool:
        for code in given.codes.split(","):
            told(
                code,
                list(pool.map(row, [(code, given.seed + k) for k in range(given.beams)], chunksize=4)),
                given.worst,
            )


if __name__ == "__main__":
    main()
