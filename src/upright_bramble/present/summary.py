"""A result on the terminal: first the verdict, then the beam from left to right, then what governs, then
messages."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from upright_bramble.core.quantities import SYSTEMS, UnitSystem, ratio_text, worded
from upright_bramble.files.result_file import CheckOut, ResultFile
from upright_bramble.present.checks import against, failing, governing, grouped_gaps, place, word_of
from upright_bramble.present.in_spans import bottom_bars, shear_models, side_bars, stirrups_of, top_bars
from upright_bramble.present.levels import levels_list
from upright_bramble.present.numbers import Shown, mass, mass_per_volume, volume
from upright_bramble.present.palette import BERRY, STRAW, THORN, WORDS
from upright_bramble.present.terminal import plain

if TYPE_CHECKING:
    from rich.console import Console

    from upright_bramble.suggesting import Sought

_CHECKS, _MESSAGES = 8, 14  # that are listed


def summary(console: Console, r: ResultFile) -> None:
    """What an engineer wants first of a designed or checked beam."""
    from rich.text import Text

    units = Shown(SYSTEMS[r.beam.units])
    word, colour = WORDS[r.verdict.status]
    line = Text()
    line.append(f"{word}  ", style=f"bold {colour}")
    line.append(plain(console, f"{r.beam.mark}  {r.beam.title}"), style="bold")
    console.print(line)
    console.print(plain(console, f"     {r.beam.code_title}; {r.beam.concrete}, {r.beam.steel}"), style="dim")
    console.print()
    console.print(_table(console, r))
    q = r.quantities
    console.print(
        plain(
            console,
            f"steel {mass(q['steel_kg'], units)}, {mass_per_volume(q['steel_kg_per_m3'], units)}, at most "
            f"{q['percent_most']:.2f} % at a face; concrete {volume(q['concrete_m3'], units)}\nreinforcement "
            f"provided / required {q['main_bars_over_least']:.2f}; " + shear_models(r.stirrups),
        )
    )
    console.print()
    first = governing(r)
    _check_lines(console, units.system, "governs", first, "" if first.ok else f"bold {THORN}")
    more = [c for c in failing(r) if c is not first]
    for check in more[:_CHECKS]:
        word = {"fail": "fails"}.get(word_of(check), word_of(check))
        _check_lines(console, units.system, word, check, THORN if word == "fails" else STRAW)
    if len(more) > _CHECKS:
        console.print(f"         and {len(more) - _CHECKS} more failing checks; all are in the result file")
    if r.levels:
        console.print()
        levels_list(console, r)
    _covered(console, r)
    _messages(console, r)


def _covered(console: Console, r: ResultFile) -> None:
    """What was verified, what was not, what was waived, what is outside the scope."""
    v = r.verdict
    rows = [
        ("not verified", f"{topic} ({where}): {reason}", f"bold {STRAW}")
        for reason, topic, where in grouped_gaps(v.not_verified)
    ]
    rows += [("waived", f"{w.topic}: {w.reason}", STRAW) for w in v.waived]
    rows.append(("verified", ", ".join(v.verified) or "nothing", ""))
    rows.append(("not covered", "; ".join(v.out_of_scope), "dim"))
    console.print()
    for word, text, style in rows:
        _hanging(console, f"{word:<13}", text, style)


def _hanging(console: Console, head: str, text: str, style: str = "") -> None:
    """A text behind its head; further lines stand below its first."""
    from textwrap import wrap

    lines = wrap(plain(console, text), max(console.width - len(head), 40), break_on_hyphens=False) or [""]
    for k, line in enumerate(lines):
        console.print((head if k == 0 else " " * len(head)) + line, style=style)


def _check_lines(console: Console, system: UnitSystem, word: str, check: CheckOut, style: str) -> None:
    console.print(plain(console, f"{word:<8} {ratio_text(check.ratio)}  {check.id}"), style=style)
    clause = f", {check.clause}" if check.clause else ""
    head = " " * 15
    _hanging(console, head, f"{against(check, system)} at x = {place(check, system)}{clause}")
    if check.combination:
        level = f"{check.level}: " if check.level else ""
        _hanging(console, head, f"{level}{check.combination}", "dim")
    if check.note and not check.ok:
        _hanging(console, head, check.note)


def _messages(console: Console, r: ResultFile) -> None:
    notes = {f"{c.id}: {c.note}" for c in r.checks}
    shown = [m for m in r.messages if m.text not in notes]
    if not shown:
        return
    console.print()
    for message in shown[:_MESSAGES]:
        where = f" [{message.where}]" if message.where else ""
        style = {"fail": THORN, "warning": STRAW}.get(message.severity, "")
        _hanging(console, f"{message.severity:<8}", f"{message.text}{where}", style)
    if len(shown) > _MESSAGES:
        console.print(f"     and {len(shown) - _MESSAGES} more messages; all are in the result file")


def _table(console: Console, r: ResultFile) -> Any:
    from rich.table import Table

    table = Table(box=None, padding=(0, 1, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for name, kind in (("span", "left"), ("face", "left"), ("bars", "left")):
        table.add_column(name, justify=kind, no_wrap=name != "bars", overflow="fold")  # type: ignore[arg-type]
    for name in ("bending", "shear", "defl.", "crack"):
        table.add_column(name, justify="right", no_wrap=True)
    for cells in summary_rows(r):
        table.add_row(*(plain(console, c) for c in cells))
    return table


def summary_rows(r: ResultFile) -> list[tuple[str, ...]]:
    """span, face, bars, and the ratios of bending, shear, deflection and cracking."""
    rows: list[tuple[str, ...]] = []
    names = {s.x_mm: s.name for s in r.beam.supports}
    for number, span in enumerate(r.beam.spans, start=1):
        left, right = names.get(span.start_mm, "tip"), names.get(span.end_mm, "tip")
        ends = [n for n in (left, right) if n != "tip"]
        deflection = [f"deflection.total.{number}", f"deflection.after-finishes.{number}"]
        rows.append(
            (
                str(number),
                "bottom",
                bottom_bars(r, span),
                _ratio(r, [f"bending.sagging.{number}"]),
                "",
                _ratio(r, deflection),
                _ratio(r, [f"cracking.bottom.{number}"]),
            )
        )
        rows.append(
            (
                f"{left}-{right}",
                "top",
                top_bars(r, span),
                _ratio(r, [f"bending.hogging.{n}" for n in ends]),
                "",
                "",
                _ratio(r, [f"cracking.top.{n}" for n in ends]),
            )
        )
        beside = side_bars(r, span)
        if beside:
            rows.append(("", "sides", beside, "", "", "", ""))
        sides = [f"{left}-right"] * (left != "tip") + [f"{right}-left"] * (right != "tip")
        shear = [f"shear.{kind}.{n}" for kind in ("stirrups", "crushing") for n in sides]
        shear += [f"torsion.{kind}.{number}" for kind in ("stirrups", "crushing")]
        rows.append(("", "stirrups", stirrups_of(r, span), "", _ratio(r, shear), "", ""))
    return rows


def _ratio(r: ResultFile, ids: Sequence[str]) -> str:
    worst = max((c.ratio for c in r.checks if c.id in ids), default=0.0)
    return "–" if worst == 0.0 else ratio_text(worst) + "!" * (worst > 1.0 + 1e-9)


def suggestions_list(console: Console, units: str, sought: Sought) -> None:
    """What would cure a beam that fails."""
    system = SYSTEMS[units]
    console.print()
    for text in sought.texts:
        console.print(plain(console, worded(f"suggestion: {text}", system)))
    if not sought.texts:
        console.print("suggestions: none within half a second; --suggest searches all")
    elif not sought.complete:
        console.print("a smaller change may do; --suggest finds the least", style="dim")


def runners_up(console: Console, r: ResultFile, maximum: int) -> None:
    """The groups of bars that came next, face by face, and what their extra cost is due to."""
    from rich.table import Table

    console.print()
    console.print(
        f"alternatives; the bars are the cheapest of {r.weighed:,} arrangements".replace(",", " "),
        style=f"bold {BERRY}",
    )
    table = Table(box=None, padding=(0, 1, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for name, justify in (
        ("face", "left"),
        ("spans", "left"),
        ("through", "left"),
        ("extra, by zone", "left"),
        ("extra cost", "right"),
        ("because", "left"),
    ):
        table.add_column(name, justify=justify, no_wrap=name != "because")  # type: ignore[arg-type]
    shown: dict[tuple[str, int], int] = {}
    for other in r.alternatives:
        key = (other.face, other.spans[0])
        shown[key] = shown.get(key, 0) + 1
        if shown[key] > maximum:
            continue
        spans = "-".join(str(s) for s in dict.fromkeys(other.spans))
        because = ", ".join(f"{name} {value:+.0f}" for name, value in other.because.items())
        table.add_row(
            *(
                plain(console, v)
                for v in (other.face, spans, other.through, other.extra, f"{other.extra_cost:.1f}", because)
            )
        )
    console.print(table)
