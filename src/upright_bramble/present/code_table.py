"""One beam by several codes, a row each: materials, steel, ratios, what governs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from upright_bramble.core.quantities import ratio_text
from upright_bramble.files.result_file import ResultFile
from upright_bramble.present.palette import BERRY, LEAF, THORN
from upright_bramble.present.terminal import plain

if TYPE_CHECKING:
    from rich.console import Console

SIZES = (9, 7, 12, 10)  # of the columns of ratios, characters
TOPICS = ("bending", "shear", "deflection", "cracking")


@dataclass(frozen=True)
class Entry:
    """A code's design, or the reason for none; what of the file it has no use for."""

    code: str
    result: ResultFile | None
    reason: str = ""
    left_out: tuple[str, ...] = ()


def code_rows(entries: Sequence[Entry]) -> list[dict[str, Any]]:
    """As data, one a code."""
    return [_row(e) for e in entries]


def _row(entry: Entry) -> dict[str, Any]:
    r = entry.result
    if r is None:
        return {
            "code": entry.code,
            "status": "none",
            "reason": entry.reason,
            "left_out": list(entry.left_out),
        }
    judged = [c for c in r.checks if c.severity == "must" and not c.beside]
    governing = next(c for c in r.checks if c.id == r.verdict.governing)
    return {
        "code": entry.code,
        "title": r.beam.code_title,
        "status": r.verdict.status,
        "concrete": r.beam.concrete,
        "steel": r.beam.steel,
        "steel_kg": r.quantities["steel_kg"],
        "steel_per_volume": r.quantities["steel_kg"] / r.quantities["concrete_m3"],
        "ratios": {
            topic: max((c.ratio for c in judged if c.topic == topic), default=None) for topic in TOPICS
        },
        "governs": governing.id,
        "ratio": governing.ratio,
        "clause": governing.clause,
        "left_out": list(entry.left_out),
    }


def code_table(console: Console, title: str, entries: Sequence[Entry]) -> None:
    """On a terminal: a line of numbers for each code, materials and what governs below it."""
    from rich.text import Text

    rows = code_rows(entries)
    wide = max(len(row["code"]) for row in rows)
    console.print(Text(plain(console, title)))
    heads = "".join(
        head.rjust(size)
        for head, size in zip(("bending", "shear", "deflection", "cracking"), SIZES, strict=True)
    )
    console.print()
    console.print(Text(plain(console, f"{'code':{wide}}  {'steel':>8}{'kg/m³':>7}{heads}"), style="bold"))
    for row in rows:
        colour = {"pass": LEAF, "incomplete": BERRY}.get(row["status"], THORN)
        line = Text(f"{row['code']:{wide}}", style=colour)
        if row["status"] == "none":
            console.print(line.append("  no design", style=THORN))
            console.print(Text(plain(console, f"  {row['reason']}"), style=THORN))
            continue
        ratios = ["–" if v is None else ratio_text(v) for v in row["ratios"].values()]
        numbers = "".join(text.rjust(size) for text, size in zip(ratios, SIZES, strict=True))
        verdict = "" if row["status"] == "pass" else f"  {row['status']}"
        line.append(
            plain(console, f"  {row['steel_kg']:>5.0f} kg{row['steel_per_volume']:>7.0f}{numbers}{verdict}"),
            style="default",
        )
        console.print(line)
        materials = f"{row['concrete'].removeprefix('strength ')}, {row['steel'].removeprefix('Grade ')}"
        governs = f"{ratio_text(row['ratio'])} {row['governs']}, {row['clause']}"
        console.print(Text(plain(console, f"  {materials}; {governs}"), style="dim"))
    for entry in entries:
        if entry.left_out:
            text = f"{entry.code}: without {', '.join(dict.fromkeys(entry.left_out))} of the file"
            console.print(Text(plain(console, text), style="dim"))
