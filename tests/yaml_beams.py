"""Beam files as text, and beams built without files."""

from __future__ import annotations

from upright_bramble.beam import (
    Action,
    Beam,
    Concrete,
    Cover,
    Detailing,
    Load,
    Profile,
    Service,
    Span,
    Steel,
    Support,
)
from upright_bramble.demo import demo_files
from upright_bramble.errors import InputFaults
from upright_bramble.files.beam_file import beam_from
from upright_bramble.files.yaml_source import parse_yaml

SIMPLE = """bramble: 1
beam: One span
mark: S1
code: en1992-1-1
units: si
concrete: {grade: C30/37}
reinforcement: {bars: B500B}
cover: {top: 30, bottom: 30, sides: 30}
profiles:
  p: {shape: rectangle, depth: 500, width: 300}
line:
  - {support: A, width: 300}
  - {span: 6, profile: p}
  - {support: B, width: 300}
actions:
  - {name: dead, kind: permanent, self_weight: true, loads: [{line: 12}]}
  - {name: live, kind: imposed, category: B, loads: [{line: 10}]}
"""

TABLES = (  # the same beam under forces found elsewhere
    SIMPLE[: SIMPLE.index("actions:")].replace("One span", "From tables").replace("S1", "F1")
    + "forces:\n  strength: {table: st.csv, level: factored}\n  service: {characteristic: st.csv, quasi_permanent: st.csv}\n"
)


def faults(text: str) -> list[str]:
    """Every fault of a beam file, as it is told."""
    try:
        beam_from(parse_yaml(text, "x.beam.yaml"))
    except InputFaults as error:
        return [str(f) for f in error.faults]
    return []


def demo(name: str) -> str:
    return demo_files()[f"{name}.beam.yaml"]


def line(
    lengths: list[float],
    loads: list[Load],
    *,
    live: list[Load] | None = None,
    width: float = 300.0,
    depth: float = 500.0,
    fixed: tuple[int, ...] = (),
    left_free: bool = False,
    right_free: bool = False,
    annex: str | None = None,
    arrangements: str = "code",
    springs: dict[int, float] | None = None,
    **more: object,
) -> Beam:
    """Spans of one profile; with `left_free` / `right_free` the first / last is a cantilever."""
    profile = Profile("p", width, depth)
    supports: list[Support] = []
    spans: list[Span] = []
    x = 0.0

    def add_support() -> int:
        k = len(supports)
        supports.append(
            Support("ABCDEFGHIJ"[k] if k < 10 else f"S{k}", x, 300.0, k in fixed, (springs or {}).get(k))
        )
        return k

    left = None if left_free else add_support()
    for i, length in enumerate(lengths):
        x += length
        right = None if right_free and i == len(lengths) - 1 else add_support()
        spans.append(Span(str(i + 1), x - length, length, profile, left, right))
        left = right
    actions = [Action("dead", "permanent", None, tuple(loads))]
    if live:
        actions.append(Action("live", "imposed", "B", tuple(live)))
    detailing = Detailing(("12", "16", "20", "25", "32"), ("8", "10", "12"))
    given = {
        "title": "test", "mark": "T1", "code": "en1992-1-1", "annex": annex, "code_values": {}, "units": "si",
        "concrete": Concrete(30.0, 20.0, "C30/37"), "bars": Steel(500.0), "stirrups": Steel(500.0),
        "cover": Cover(30.0, 30.0, 30.0), "supports": tuple(supports), "spans": tuple(spans), "actions": tuple(actions),
        "service": Service(), "detailing": detailing, "arrangements": arrangements,
    }  # fmt: skip
    return Beam(**{**given, **more})  # type: ignore[arg-type]


def uniform(spans: int, lengths: list[float], w: float) -> list[Load]:
    return [Load("line", i, w, w, 0.0, lengths[i]) for i in range(spans)]
