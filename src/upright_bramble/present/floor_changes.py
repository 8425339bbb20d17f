"""Two folders of results side by side: what changed in each beam."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import TYPE_CHECKING, Any

from upright_bramble.core.quantities import SYSTEMS, ratio_text
from upright_bramble.present.comparison import Comparison
from upright_bramble.present.palette import BERRY, THORN
from upright_bramble.present.terminal import plain

if TYPE_CHECKING:
    from rich.console import Console


@dataclass(frozen=True)
class BeamChange:
    """A beam in both folders, or in one: verdicts ('' where it is not), ratios, steel in kg, cost, and how
    many entries of bars changed."""

    mark: str
    before: str
    after: str
    ratio_before: float = 0.0
    ratio_after: float = 0.0
    steel_before: float = 0.0
    steel_after: float = 0.0
    cost_before: float = 0.0
    cost_after: float = 0.0
    entries: int = 0
    units: str = "si"


def change_of(c: Comparison) -> BeamChange:
    """Of a beam that both folders have."""
    q, p = c.a.quantities, c.b.quantities
    return BeamChange(
        mark=c.b.beam.mark,
        before=c.a.verdict.status,
        after=c.b.verdict.status,
        ratio_before=round(c.a.verdict.ratio, 4),
        ratio_after=round(c.b.verdict.ratio, 4),
        steel_before=round(q["steel_kg"], 3),
        steel_after=round(p["steel_kg"], 3),
        cost_before=round(q["cost"], 2),
        cost_after=round(p["cost"], 2),
        entries=len(c.changes),
        units=c.b.beam.units,
    )


def changes_data(changes: Sequence[BeamChange]) -> list[dict[str, Any]]:
    return [{k: v for k, v in asdict(c).items() if k != "units"} for c in changes]


def changes_table(console: Console, changes: Sequence[BeamChange]) -> None:
    """On the terminal, with totals."""
    from rich.table import Table

    system = SYSTEMS["us" if changes and all(c.units == "us" for c in changes) else "si"]
    table = Table(box=None, padding=(0, 1, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    unit = system.unit("mass")
    for name in ("mark", "verdict", "ratio", f"steel {unit}", "change", "cost", "entries changed"):
        table.add_column(plain(console, name), justify="left" if name in ("mark", "verdict") else "right")
    for c in changes:
        words = c.before if c.before == c.after else f"{c.before or 'new'} to {c.after or 'gone'}"
        share = (
            f"{100 * (c.steel_after / c.steel_before - 1.0):+.1f} %"
            if c.steel_before and c.steel_after
            else ""
        )
        steel = [system.value(v, "mass") for v in (c.steel_before, c.steel_after)]
        cells = (
            c.mark,
            words,
            (f"{ratio_text(c.ratio_before)} to {ratio_text(c.ratio_after)}"),
            f"{steel[0]:.0f} to {steel[1]:.0f}",
            share,
            f"{c.cost_after - c.cost_before:+.0f}",
            str(c.entries),
        )
        table.add_row(*(plain(console, cell) for cell in cells), style=THORN if c.after == "fail" else "")
    console.print(table)
    console.print()
    both = [c for c in changes if c.before and c.after]
    before, after = (
        system.value(sum(getattr(c, key) for c in both), "mass") for key in ("steel_before", "steel_after")
    )
    money = sum(c.cost_after - c.cost_before for c in both)
    console.print(
        plain(
            console, f"{len(both)} beams in both: steel {before:.0f} to {after:.0f} {unit}, cost {money:+.0f}"
        )
    )
