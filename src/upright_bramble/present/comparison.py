"""Two results side by side: what changed in bars and stirrups, in ratios, in mass and cost."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from upright_bramble.core.bars import counted
from upright_bramble.core.quantities import ratio_text
from upright_bramble.files.result_file import BarOut, CheckOut, ResultFile, StirrupOut
from upright_bramble.present.palette import BERRY, LEAF, THORN
from upright_bramble.present.schedule import KG
from upright_bramble.present.terminal import plain

if TYPE_CHECKING:
    from rich.console import Console

MOST = 14  # ratios shown on a terminal
FIGURES = (
    ("steel_kg", "steel"),
    ("steel_cost", "cost of steel"),
    ("cost", "cost"),
    ("concrete_m3", "concrete"),
    ("carbon_kg", "carbon"),
)


@dataclass(frozen=True)
class Change:
    """An entry by its mark (that of `b` where it has one): 'added', 'dropped' or 'changed', and what it was
    and is in words."""

    mark: str
    kind: str
    before: str
    after: str


@dataclass(frozen=True)
class Ratio:
    """A check in both results; None where one does not have it."""

    id: str
    before: float | None
    after: float | None

    @property
    def moved(self) -> float:
        """By how much; a check that only one has counts with its ratio."""
        if self.before is None or self.after is None:
            return (self.before or 0.0) + (self.after or 0.0)
        return abs(self.after - self.before)


@dataclass(frozen=True)
class Comparison:
    a: ResultFile
    b: ResultFile
    changes: tuple[Change, ...]
    ratios: tuple[Ratio, ...]
    figures: tuple[tuple[str, float, float], ...]


def compared(a: ResultFile, b: ResultFile) -> Comparison:
    """From `a` to `b`. Entries alike in all but their mark are no change; ratios by how far they moved."""
    result = _changes(_entries(a), _entries(b))
    before, after = ({c.id: _shown(c) for c in r.checks} for r in (a, b))
    ratios = [
        Ratio(i, before.get(i), after.get(i)) for i in [*before, *(k for k in after if k not in before)]
    ]
    ratios = sorted((r for r in ratios if r.moved > 0.0005), key=lambda r: (-r.moved, r.id))
    figures = tuple((name, a.quantities.get(key, 0.0), b.quantities.get(key, 0.0)) for key, name in FIGURES)
    return Comparison(a, b, tuple(result), tuple(ratios), figures)


def _shown(check: CheckOut) -> float:
    return round(check.ratio, 4)


@dataclass(frozen=True)
class _Entry:
    """Bars or stirrups of one line: what they are there for (`role`), from where to where, and in words."""

    name: str
    role: tuple[str, int]
    start: float
    end: float
    words: str

    def shared(self, other: _Entry) -> float:
        """Share of the longer one's length that lies where the other does; 0 for another role."""
        if self.role != other.role:
            return 0.0
        both = min(self.end, other.end) - max(self.start, other.start)
        return max(both, 0.0) / max(self.end - self.start, other.end - other.start, 1.0)


def _changes(old: list[_Entry], new: list[_Entry]) -> list[Change]:
    """Paired by place and role, whatever their marks: the pairs that share most of their length first."""
    same = {e.words for e in old} & {e.words for e in new}
    old, new = ([e for e in entries if e.words not in same] for entries in (old, new))
    pairs = sorted(
        ((a.shared(b), -i, -j) for i, a in enumerate(old) for j, b in enumerate(new) if a.shared(b) > 0.0),
        reverse=True,
    )
    after: dict[int, int] = {}
    for _, i, j in pairs:
        if -i not in after and -j not in after.values():
            after[-i] = -j
    result = []
    for i, e in enumerate(old):
        now = new[after[i]] if i in after else None
        was = "" if now is None or now.name == e.name else f"{e.name}, "
        result.append(
            Change(now.name, "changed", was + e.words, now.words)
            if now
            else Change(e.name, "dropped", e.words, "")
        )
    return result + [
        Change(e.name, "added", "", e.words) for j, e in enumerate(new) if j not in after.values()
    ]


def _entries(r: ResultFile) -> list[_Entry]:
    """By mark, from the second entry of a mark on with its number."""
    entries: list[tuple[str, tuple[str, int], float, float, str]] = [
        (b.mark, (b.face, b.layer), b.start_mm, b.end_mm, _bar(b, r))
        for b in sorted(r.bars, key=lambda b: b.start_mm)
    ]
    entries += [
        (z.mark, ("stirrups", 0), z.start_mm, z.end_mm, _zone(z, r))
        for z in sorted(r.stirrups, key=lambda z: z.start_mm)
    ]
    seen: dict[str, int] = {}
    result = []
    for mark, role, start, end, words in entries:
        seen[mark] = number = seen.get(mark, 0) + 1
        result.append(_Entry(mark if number == 1 else f"{mark}/{number}", role, start, end, words))
    return result


def _place(r: ResultFile, mm: float) -> str:
    return f"{mm / 304.8:.2f}" if r.beam.units == "us" else f"{mm / 1e3:.3f}"


def _unit(r: ResultFile) -> str:
    return "ft" if r.beam.units == "us" else "m"


def _bar(b: BarOut, r: ResultFile) -> str:
    ends = "" if b.ends == ("straight", "straight") else f", {b.ends[0]}-{b.ends[1]}"
    where = f"{_place(r, b.start_mm)} to {_place(r, b.end_mm)} {_unit(r)}"
    turns = [] if b.bent_up is None else [_place(r, x) for pair in b.bent_up.inclined_mm for x in pair]
    bent = f", bent up {' to '.join(turns[:2])}" + (f" and {' to '.join(turns[2:])}" if turns[2:] else "")
    where += bent if turns else ""
    return f"{b.face} row {b.layer}: {counted(b.count, r.beam.label(b.size))}, {where}{ends}"


def _zone(z: StirrupOut, r: ResultFile) -> str:
    spacing = f"{z.spacing_mm / 25.4:g} in" if r.beam.units == "us" else f"{z.spacing_mm:g} mm"
    where = f"{_place(r, z.start_mm)} to {_place(r, z.end_mm)} {_unit(r)}"
    return f"stirrups: {counted(z.count, r.beam.label(z.size))} at {spacing}, {z.legs} legs, {where}"


def comparison_data(c: Comparison) -> dict[str, Any]:
    return {
        "a": _head(c.a),
        "b": _head(c.b),
        "bars": [{"mark": v.mark, "change": v.kind, "a": v.before, "b": v.after} for v in c.changes],
        "ratios": [{"id": v.id, "a": v.before, "b": v.after} for v in c.ratios],
        "quantities": {name: {"a": x, "b": y} for name, x, y in c.figures},
    }


def _head(r: ResultFile) -> dict[str, Any]:
    v, beam = r.verdict, r.beam
    verdict = {"status": v.status, "governing": v.governing, "ratio": v.ratio}
    return {"mark": beam.mark, "title": beam.title, "code": beam.code_title, **verdict}


def comparison_table(console: Console, c: Comparison) -> None:
    """On the terminal: the two verdicts, figures, bars, ratios that moved most."""
    from rich.table import Table

    for letter, r in (("A", c.a), ("B", c.b)):
        verdict = r.verdict
        console.print(plain(console, f"{letter}  {r.beam.mark}  {r.beam.title}"), style="bold")
        console.print(
            plain(
                console,
                f"   {r.beam.code_title}: {verdict.status}, {ratio_text(verdict.ratio)} {verdict.governing}",
            ),
            style="dim",
        )
    console.print()
    table = Table(box=None, padding=(0, 2, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for name in ("", "A", "B", "B less A"):
        table.add_column(name, justify="right" if name else "left", no_wrap=True)
    pounds = c.a.beam.units == c.b.beam.units == "us"
    for name, x, y in c.figures:
        unit = {"steel": "lb" if pounds else "kg", "concrete": "m³", "carbon": "kg"}.get(name, "")
        if name == "steel" and pounds:
            x, y = x / KG, y / KG
        share = f" ({100.0 * (y - x) / x:+.0f} %)" if x else ""
        table.add_row(
            *(
                plain(console, t)
                for t in (f"{name} {unit}".strip(), f"{x:.2f}", f"{y:.2f}", f"{y - x:+.2f}{share}")
            )
        )
    console.print(table)
    console.print()
    if not c.changes:
        console.print("the bars are the same")
    for v in c.changes:
        style = {"added": LEAF, "dropped": THORN}.get(v.kind, "")
        console.print(plain(console, f"{v.kind:<8} {v.mark:<4} {v.before or v.after}"), style=style)
        if v.kind == "changed":
            console.print(plain(console, f"{'':<8} {'now':<4} {v.after}"))
    console.print()
    if not c.ratios:
        console.print("every ratio is the same")
        return
    table = Table(box=None, padding=(0, 2, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for name, side in (("ratio", "left"), ("A", "right"), ("B", "right")):
        table.add_column(name, justify=side, no_wrap=True)  # type: ignore[arg-type]
    for q in c.ratios[:MOST]:
        cells = ["-" if v is None else f"{v:.2f}" + ("!" if v > 1.0 else " ") for v in (q.before, q.after)]
        table.add_row(plain(console, q.id), *cells)
    console.print(table)
    if len(c.ratios) > MOST:
        console.print(f"and {len(c.ratios) - MOST} more; --json has all")
