"""Diagrams along the beam laid out on a sheet: its elevation with the bars drawn out below it, then the
panels, all on one x axis."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from upright_bramble.beam import CRANKED
from upright_bramble.core.bars import counted
from upright_bramble.core.quantities import ratio_text
from upright_bramble.files.result_file import BarOut, ResultFile
from upright_bramble.present.along import depth_at, in_faces
from upright_bramble.present.panels import Curve, Fill, Ground, Mark, Panel, ground_of, panels_of
from upright_bramble.present.scene import MAXIMUM_POINTS, Scene, Words, runs, text_width, thinned
from upright_bramble.section.arrays import Array

LEFT, RIGHT, GAP = 64.0, 16.0, 20.0
WIDTH, HEIGHT = 1280.0, 800.0
_DEPTH, _ROW = 58.0, 12.0  # px of the deepest section, of a line of bars
_SMALL, MEDIUM, LARGE = 10.5, 12.0, 18.0
_STATES = {"pass": "leaf", "incomplete": "straw", "fail": "thorn"}
_LABELLED = 80  # bars at most that each have a label, whether it is longer than the bar or not


@dataclass(frozen=True)
class Sheet:
    """A scene being laid out, with the x axis that all of it shares."""

    scene: Scene
    ground: Ground

    @property
    def right(self) -> float:
        return self.scene.width - RIGHT

    def at(self, x: Any) -> Any:
        """Place (mm) on the sheet, px."""
        low, high = self.ground.beam.ends_mm
        return LEFT + (np.asarray(x) - low) * (self.right - LEFT) / (high - low)


def chart(r: ResultFile, *, width: float = 1040.0, few: bool = False) -> Scene:
    """For a page: as high as it needs to be. `few`: moment and shear only."""
    sheet = Sheet(Scene(width, title=f"diagrams along {r.beam.mark}"), ground_of(r))
    y = _elevation(sheet, r, 16.0) + GAP
    for panel in panels_of(r, few=few):
        y = _panel(sheet, panel, y) + GAP
    sheet.scene.height = _axis(sheet, y - GAP + 6.0)
    return sheet.scene


def diagrams(r: ResultFile) -> Scene:
    """On a sheet of its own with title and verdict, panels as high as the sheet has room for."""
    sheet = Sheet(Scene(WIDTH, title=f"{r.beam.mark}: {r.beam.title}"), ground_of(r))
    _title(sheet, r)
    y = _elevation(sheet, r, 84.0) + GAP
    sheet.scene.height = filled(sheet, panels_of(r), y)
    return sheet.scene


def filled(sheet: Sheet, panels: Sequence[Panel], y: float, *, spans: bool = False) -> float:
    """Panels from y on and the axis, as high as the standard sheet where that leaves each room enough."""
    fixed = y + len(panels) * (_HEAD + GAP) + _FOOT
    share = max((HEIGHT - fixed) / sum(p.height for p in panels), 0.6)
    for panel in panels:
        y = _panel(sheet, replace(panel, height=panel.height * share), y) + GAP
    return _axis(sheet, y - GAP + 6.0, spans=spans)


def _title(sheet: Sheet, r: ResultFile) -> None:
    scene, v = sheet.scene, r.verdict
    governing = next(c for c in r.checks if c.id == v.governing)
    scene.add(Words(16.0, 42.0, f"{r.beam.mark}  {r.beam.title}", LARGE, bold=True))
    scene.add(Words(sheet.right, 34.0, v.status, LARGE, _STATES[v.status], "end", bold=True))
    clause = f" ({governing.clause})" if governing.clause else ""
    scene.add(Words(sheet.right, 56.0, f"{governing.id} {ratio_text(v.ratio)}{clause}", MEDIUM, anchor="end"))
    topics = list(dict.fromkeys(g.topic for g in v.not_verified))
    parts = [f"not verified: {', '.join(topics)}"] * bool(topics) + [f"waived: {w.topic}" for w in v.waived]
    scene.add(Words(16.0, 62.0, "; ".join([r.beam.code_title, *parts]), MEDIUM))


# ---------------------------------------------------------------- elevation


def _elevation(sheet: Sheet, r: ResultFile, y: float) -> float:
    """Outline, stirrups, supports and spans by name, its depth drawn larger than its length; then the
    bars."""
    scene, spans, (low, high) = sheet.scene, r.beam.spans, r.beam.ends_mm
    k = _DEPTH / max(max(s.section_start.depth_mm, s.section_end.depth_mm) for s in spans)
    edges = [
        (low if n == 0 else s.start_mm, high if n == len(spans) - 1 else s.end_mm)
        for n, s in enumerate(spans)
    ]
    soffit = [
        (float(sheet.at(x)), y + depth * k)
        for (a, b), s in zip(edges, spans, strict=True)
        for x, depth in ((a, s.section_start.depth_mm), (b, s.section_end.depth_mm))
    ]
    scene.area([(float(sheet.at(low)), y), (float(sheet.at(high)), y), *reversed(soffit)], "mist", "ink", 1.0)
    for (a, b), s in zip(edges, spans, strict=True):
        for first, last in zip(
            flange_edges(s.section_start.outline_mm), flange_edges(s.section_end.outline_mm), strict=False
        ):
            scene.line(
                [(float(sheet.at(a)), y + first * k), (float(sheet.at(b)), y + last * k)],
                "ink",
                0.6,
                (5.0, 3.0),
            )
        scene.add_clear(
            Words(
                float(sheet.at(0.5 * (s.start_mm + s.end_mm))),
                y - 5.0,
                f"span {s.name}",
                MEDIUM,
                anchor="middle",
            )
        )
    _stirrups(sheet, r, y, k)
    for s in spans:
        for hinge in s.hinges_mm:
            _ring(scene, float(sheet.at(hinge)), y + 0.5 * depth_at(spans, hinge, s) * k)
    bottom = y + _DEPTH
    for p in r.beam.supports:
        level = y + max(depth_at(spans, p.x_mm, s) for s in spans if p.x_mm in (s.start_mm, s.end_mm)) * k
        left, right = float(sheet.at(p.x_mm - 0.5 * p.width_mm)), float(sheet.at(p.x_mm + 0.5 * p.width_mm))
        scene.box(left, level, max(right, left + 1.0), bottom + 8.0, "ink")
        scene.add_clear(
            Words(0.5 * (left + right), bottom + 20.0, p.name, MEDIUM, anchor="middle", bold=True)
        )
    return _drawn_out(sheet, r, bottom + 36.0)


def flange_edges(outline: Sequence[tuple[float, float]]) -> list[float]:
    """Levels of a section at which its width steps, between top and soffit."""
    levels = {round(y, 1) for _, y in outline}
    return sorted(levels - {min(levels), max(levels)})


def _ring(scene: Scene, x: float, y: float) -> None:
    turn = np.linspace(0.0, 2.0 * np.pi, 25)
    scene.area(np.column_stack([x + 4.0 * np.cos(turn), y + 4.0 * np.sin(turn)]), "paper", "ink", 1.0)


def _stirrups(sheet: Sheet, r: ResultFile, y: float, k: float) -> None:
    """Each as a line; of those that are closer than can be seen, one a tenth of a px."""
    places = [z.start_mm + number * z.spacing_mm for z in r.stirrups for number in range(z.count)]
    seen = (
        {round(float(sheet.at(p)), 1): p for p in places}
        if len(places) > MAXIMUM_POINTS
        else {float(sheet.at(p)): p for p in places}
    )
    cover = r.beam.cover_mm
    sheet.scene.lines(
        [
            [(x, y + cover.top * k), (x, y + (depth_at(r.beam.spans, p) - cover.bottom) * k)]
            for x, p in seen.items()
        ],
        "berry",
        0.6,
    )


def _drawn_out(sheet: Sheet, r: ResultFile, y: float) -> float:
    """Each group of bars on a line of its own where it would meet another; bottom bars first, then side and
    top."""
    every = len(r.bars) <= _LABELLED
    for face in ("bottom", "side", "top"):
        bars = sorted(
            (b for b in in_faces(r.bars) if b.face == face),
            key=lambda b: (b.layer, -(b.end_mm - b.start_mm), b.start_mm),
        )
        if not bars:
            continue
        sheet.scene.add(Words(LEFT - 8.0, y + 3.5, face, _SMALL, anchor="end"))
        lines: list[list[tuple[float, float]]] = []
        for bar in bars:
            low, high = _reach(sheet, r, bar, every)
            row = next(
                (i for i, line in enumerate(lines) if all(high < a or low > b for a, b in line)), len(lines)
            )
            lines += [[]] * (row == len(lines))
            lines[row] = [*lines[row], (low, high)]
            _bar(sheet, r, bar, y + _ROW * row)
        y += _ROW * len(lines) + 4.0
    return y - _ROW


def _label(r: ResultFile, bar: BarOut) -> str:
    return f"{bar.mark}: {counted(bar.count, r.beam.label(bar.size))}"


def _reach(sheet: Sheet, r: ResultFile, bar: BarOut, every: bool) -> tuple[float, float]:
    """Room that a bar takes on its line, px: its own, or that of its label."""
    low, high = float(sheet.at(bar.start_mm)), float(sheet.at(bar.end_mm))
    half = 0.5 * max(high - low, text_width(_label(r, bar), _SMALL) if every else 0.0) + 4.0
    return 0.5 * (low + high) - half, 0.5 * (low + high) + half


def _bar(sheet: Sheet, r: ResultFile, bar: BarOut, y: float) -> None:
    low, high = float(sheet.at(bar.start_mm)), float(sheet.at(bar.end_mm))
    sheet.scene.line([(low, y), (high, y)], "ink", 2.2)
    turn = 5.0 if bar.face == "top" else -5.0
    for x, kind in ((low, bar.ends[0]), (high, bar.ends[1])):
        if kind in ("bend", "hook"):
            sheet.scene.line([(x, y - np.sign(turn) * 1.1), (x, y + turn)], "ink", 2.2)
        elif kind == CRANKED:  # towards the other face, away from the bar
            sheet.scene.line([(x, y), (x + (5.0 if x == high else -5.0), y + turn)], "ink", 2.2)
        else:
            sheet.scene.line([(x, y - 2.5), (x, y + 2.5)], "ink", 1.0)
    words = Words(0.5 * (low + high), y + 3.6, _label(r, bar), 9.5, anchor="middle")
    half = 0.5 * text_width(words.text, words.size)
    words = replace(words, x=min(max(words.x, half), sheet.scene.width - half))
    if sheet.scene.has_room(words):
        sheet.scene.box(words.x - half, y - 5.0, words.x + half, y + 5.0, "paper")
        sheet.scene.add(words)


# ---------------------------------------------------------------- panels

_HEAD, _FOOT = 18.0, 42.0 - GAP
_MARGIN = 0.12  # of what is drawn, above and below it


def _panel(sheet: Sheet, p: Panel, y: float) -> float:
    """Its head with the key, then the curves; returns its lower edge."""
    scene, top = sheet.scene, y + _HEAD
    minimum, maximum = p.extent
    room = max(maximum - minimum, 1e-9) * (1.0 + 2.0 * _MARGIN)
    sign, upper = (-1.0, -minimum) if p.down else (1.0, maximum)

    def level(values: Any) -> Any:
        return (
            top
            + _MARGIN / (1.0 + 2.0 * _MARGIN) * p.height
            + (upper - sign * np.asarray(values)) / room * p.height
        )

    for s in sheet.ground.beam.supports:
        left, right = float(sheet.at(s.x_mm - 0.5 * s.width_mm)), float(sheet.at(s.x_mm + 0.5 * s.width_mm))
        scene.box(left, top, max(right, left + 0.5), top + p.height, "mist")
    x = sheet.at(sheet.ground.x)
    for fill in p.fills:
        _fill(scene, x, fill, level)
    zero = float(level(0.0))
    scene.line([(LEFT, zero), (sheet.right, zero)], "ink", 0.8)
    for limit in p.limits:
        scene.line(
            [(LEFT, float(level(limit))), (sheet.right, float(level(limit)))], "thorn", 1.0, (2.0, 2.0)
        )
    for curve in reversed(p.curves):
        _curve(scene, x, level(curve.values), curve)
    _ticks(scene, p, level, minimum, maximum)
    _head(sheet, p, y + 12.0)
    for mark in p.marks:
        _mark(sheet, p, mark, level)
    return top + p.height


def _fill(scene: Scene, x: Array, fill: Fill, level: Any) -> None:
    for part in runs(fill.low + fill.high):
        if part.stop - part.start > 1:
            local, back = (
                np.column_stack(thinned(x[part], level(edge[part]))) for edge in (fill.high, fill.low)
            )
            scene.area(np.concatenate([local, back[::-1]]), fill.colour)


def _curve(scene: Scene, x: Array, y: Array, curve: Curve) -> None:
    for part in runs(y):
        if part.stop - part.start > 1:
            scene.line(np.column_stack(thinned(x[part], y[part])), curve.colour, curve.width, curve.dash)


def _head(sheet: Sheet, p: Panel, y: float) -> None:
    """What the panel shows, and the names of its lines where no curve lies."""
    scene = sheet.scene
    head = f"{p.title} {p.unit}".strip()
    scene.add(Words(LEFT - 8.0, y, head, MEDIUM, bold=True))
    x = max(LEFT - 8.0 + 1.08 * text_width(head, MEDIUM) + 18.0, LEFT + 120.0)
    entries = [(c.name, c.colour, c.dash, c.width) for c in p.curves if c.name]
    if p.remark:
        entries.append((p.remark, "thorn", (2.0, 2.0), 1.0) if p.limits else (p.remark, "", (), 0.0))
    for name, colour, dash, width in entries:
        sample = 29.0 if colour else 0.0
        if not scene.add_clear(Words(x + sample, y, name, _SMALL)):
            break
        if colour:
            scene.line([(x, y - 4.0), (x + 24.0, y - 4.0)], colour, width, dash)
        x += sample + text_width(name, _SMALL) + 16.0


def _ticks(scene: Scene, p: Panel, level: Any, minimum: float, maximum: float) -> None:
    step = 10.0 ** np.floor(np.log10(max(maximum - minimum, 1e-9) / 2.5))
    step = next(s * step for s in (1.0, 2.0, 5.0, 10.0) if (maximum - minimum) / (s * step) <= 5.0)
    for n in range(int(np.ceil(minimum / step - 1e-9)), int(np.floor(maximum / step + 1e-9)) + 1):
        value, y = n * step, float(level(n * step))
        text = f"{abs(value) if p.unsigned else value:.6g}".replace("-", "−")
        if scene.add_clear(Words(LEFT - 7.0, y + 3.8, text, _SMALL, anchor="end")):
            scene.line([(LEFT - 4.0, y), (LEFT, y)], "ink", 0.8)


def _mark(sheet: Sheet, p: Panel, mark: Mark, level: Any) -> None:
    """Beyond the curve, or inside its fill where no resistance lies; where a text is in the way on the other
    side, or not at all."""
    drawn_down = (mark.value > 0.0) == p.down
    x = float(sheet.at(mark.x)) + {"start": 4.0, "middle": 0.0, "end": -4.0}[mark.anchor]
    words = Words(x, 0.0, mark.text.replace("-", "−"), _SMALL, anchor=mark.anchor, halo=True)
    left, _, right, _ = words.box
    x += max(LEFT + 2.0 - left, 0.0) - max(right - sheet.right, 0.0)
    y = float(level(mark.value))
    within = mark.within and abs(y - float(level(0.0))) > 1.6 * _SMALL
    below, above = y + 12.5, y - 4.5
    for place in (below, above) if drawn_down != within else (above, below):
        if sheet.scene.add_clear(replace(words, x=x, y=place)):
            return


# ---------------------------------------------------------------- axis


def _axis(sheet: Sheet, y: float, *, spans: bool = False) -> float:
    """Supports and their places in the unit of spans; returns the lower edge of the sheet."""
    scene, beam, system = sheet.scene, sheet.ground.beam, sheet.ground.system
    scene.line([(LEFT, y), (sheet.right, y)], "ink", 0.8)
    if spans:
        for s in beam.spans:
            scene.add_clear(
                Words(
                    float(sheet.at(0.5 * (s.start_mm + s.end_mm))),
                    y + 15.0,
                    f"span {s.name}",
                    MEDIUM,
                    anchor="middle",
                )
            )
    places = [(p.x_mm, p.name) for p in beam.supports]
    for x, name in places:
        here = float(sheet.at(x))
        scene.line([(here, y - 4.0), (here, y + 4.0)], "ink", 0.8)
        scene.add_clear(Words(here, y + 16.0, name, MEDIUM, anchor="middle", bold=True))
        text = f"{x / system.factor('span'):.4g} {system.unit('span')}"
        half = 0.5 * text_width(text, _SMALL)
        scene.add_clear(
            Words(min(max(here, half), scene.width - half), y + 30.0, text, _SMALL, anchor="middle")
        )
    return y + 36.0
