"""A made-up job: 120 beams of a boathouse quarter on four levels, their forces from tables as of a frame
analysis."""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass

LEVELS = ("ground", "first", "second", "roof")
LINES = 30  # beams of a level
STATIONS = 24  # of a span in the tables, between its ends

OFFICE = """# Rules of the office: every job begins with them.
bramble_rules: 1
code: en1992-1-1
units: si
reinforcement: {bars: B500B, stirrups: B500B}
service: {deflection: {total: span/250, after_finishes: span/500, finishes_at: 60 days}, crack_width: 0.3}
detailing: {main_bars: [12, 16, 20, 25], stirrup_bars: [8, 10], reserve: 0.03}
rates: {steel: 1.3, bar: 2.5, stirrup: 1.0}
about: {author: Bramble office}
"""
JOB = """# Rules of this job: they win over the office's.
bramble_rules: 1
units: si
concrete: {grade: C30/37, aggregate: 20}
cover: {exposure: XC1, fire: R60}
profiles:
  edge: {shape: L, depth: 550, width: 300, flange: {thickness: 160, gap_left: 2.8 m}}
  floor: {shape: T, depth: 550, width: 300, flange: {thickness: 160, gap_left: 2.8 m, gap_right: 2.8 m}}
  deep: {shape: T, depth: 650, width: 350, flange: {thickness: 160, gap_left: 2.8 m, gap_right: 2.8 m}}
about: {project: Boathouse quarter}
"""
USES = {
    "ground": ("boats", "E", 6.5),
    "first": ("workshop", "B", 5.0),
    "second": ("sail loft", "A", 2.5),
    "roof": ("roof", "H", 0.8),
}


@dataclass(frozen=True)
class _Line:
    """A beam of the job: profile, spans (m), and loads per metre: permanent, imposed, wind (kN/m)."""

    mark: str
    title: str
    profile: str
    spans: tuple[float, ...]
    dead: float
    live: float
    wind: float


def job_files() -> dict[str, str]:
    """Name and text of every file: two files of rules; a folder a level, with its beams and their forces."""
    result = {"office.rules.yaml": OFFICE, "job.rules.yaml": JOB}
    for number, level in enumerate(LEVELS):
        lines = _lines(level)
        comma = number % 2 == 1  # two of the levels come from a program that writes decimal commas
        result[f"{level}/frame.csv"] = _table(level, lines, ";" if comma else ",", comma)
        for line in lines:
            result[f"{level}/{line.mark.lower()}.beam.yaml"] = _beam(level, line, tabled=True)
    return result


def _lines(level: str) -> list[_Line]:
    r = random.Random(f"boathouse quarter {level}")
    result = []
    _, _, area = USES[level]
    for number in range(1, LINES + 1):
        kind = ("edge", "floor", "floor", "deep", "floor")[number % 5]
        longest = {"edge": 6.6, "floor": 6.9, "deep": 8.2}[kind]
        spans = tuple(
            round(longest * share, 1)
            for share in ((0.9, 1.0), (1.0, 0.85, 0.95), (1.0,), (0.8, 1.0, 1.0, 0.85))[number % 4]
        )
        width = {"edge": 1.7, "floor": 3.1, "deep": 3.1}[kind]
        dead = round(width * r.uniform(4.6, 5.4) + (3.5 if kind == "edge" and level != "roof" else 0.0), 1)
        live = round(width * area * r.uniform(0.9, 1.1), 1)
        mark = f"{level[0].upper()}{number:02d}"
        result.append(
            _Line(mark, f"{level} level, line {number}", kind, spans, dead, live, round(0.4 * width, 1))
        )
    return result


def _beam(level: str, line: _Line, *, tabled: bool) -> str:
    use, category, _ = USES[level]
    inner = ["  - {support: A, width: 300}"]
    for k, span in enumerate(line.spans):
        inner += [
            f"  - {{span: {span}, profile: {line.profile}}}",
            f"  - {{support: {chr(66 + k)}, width: 300}}",
        ]
    kind, group = "imposed", f", category: {category}"
    spans = range(1, len(line.spans) + 1)
    names = [use] if len(line.spans) == 1 else [f"{use} {k}" for k in spans]
    if tabled:  # an action for every span: the code's combinations then have every arrangement
        lines = ["  - {name: floor, kind: permanent, table: frame.csv}"]
        lines += [f"  - {{name: {name}, kind: {kind}{group}, table: frame.csv}}" for name in names]
        lines += ["  - {name: wind, kind: wind, either_way: true, table: frame.csv}"]
    else:
        lines = [f"  - {{name: floor, kind: permanent, self_weight: web, loads: [{{line: {line.dead}}}]}}"]
        lines += [
            f"  - {{name: {name}, kind: {kind}{group}, loads: [{{line: {line.live}, on: {k}}}]}}"
            for k, name in zip(spans, names, strict=True)
        ]
        lines.append(f"  - {{name: wind, kind: wind, loads: [{{line: {line.wind}}}]}}")
    head = [
        "bramble: 1",
        f"beam: {line.title}",
        f"mark: {line.mark}",
        "rules: [../office.rules.yaml, ../job.rules.yaml]",
        "line:",
    ]
    return "\n".join([*head, *inner, "actions:", *lines]) + "\n"


def _table(level: str, lines: Sequence[_Line], separator: str, comma: bool) -> str:
    """Unfactored forces by beam, action and station: what a frame analysis of the level would hand over."""
    rows = [separator.join(("beam", "action", "span", "x [m]", "M [kNm]", "V [kN]"))]
    for line in lines:
        for name, span, x, moment, shear in _forces(level, line):
            numbers = [f"{x:.4f}", f"{moment:.3f}", f"{shear:.3f}"]
            rows.append(
                separator.join(
                    [line.mark, name, span, *(n.replace(".", ",") if comma else n for n in numbers)]
                )
            )
    return "\n".join(rows) + "\n"


def _forces(level: str, line: _Line) -> list[tuple[str, str, float, float, float]]:
    """Action, span, x (m), M (kNm), V (kN) of the same beam under loads."""
    import numpy as np

    from upright_bramble.files.beam_file import beam_from
    from upright_bramble.files.rules import laid_over
    from upright_bramble.files.yaml_source import parse_yaml
    from upright_bramble.pipeline import code_of, only_action, run_forces

    layers = [parse_yaml(OFFICE, "office.rules.yaml"), parse_yaml(JOB, "job.rules.yaml")]
    beam = beam_from(
        laid_over(parse_yaml(_beam(level, line, tabled=False), f"{line.mark}.beam.yaml"), layers)
    )
    result = []
    for action in beam.actions:
        forces = run_forces(only_action(beam, action.name))
        e, at = forces.envelopes[code_of(beam).actions.rare_level], forces.stations
        for k, span in enumerate(beam.spans):
            rows = at.of(k)
            for x in np.linspace(0.0, span.length, STATIONS + 1):
                moment, shear = (
                    float(np.interp(x, at.local[rows], v[rows])) for v in (e.moment_max, e.shear_max)
                )
                result.append(
                    (action.name, str(k + 1), float(x) / 1e3, moment / 1e6 + 0.0, shear / 1e3 + 0.0)
                )
    return result
