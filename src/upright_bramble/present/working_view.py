"""Derivations for people: on the terminal, as Markdown, as HTML, as data."""

from __future__ import annotations

import re
from collections.abc import Sequence
from difflib import get_close_matches
from html import escape
from typing import TYPE_CHECKING, Any

from upright_bramble.core.quantities import SYSTEMS, ratio_text
from upright_bramble.errors import BrambleError
from upright_bramble.files.result_file import CheckOut, LineOut, ResultFile, WorkingOut
from upright_bramble.present import mathematics as maths
from upright_bramble.present.checks import against, amounts, place, verdict_line, word_of
from upright_bramble.present.palette import BERRY, LEAF, STRAW, THORN
from upright_bramble.present.terminal import plain
from upright_bramble.working import number
from upright_bramble.working.formula import symbol_text

if TYPE_CHECKING:
    from rich.console import Console


class NoCheck(BrambleError):
    """A check that the result does not have."""


def check_called(result: ResultFile, name: str) -> CheckOut:
    """By its id, or the beginning of just one. Raises NoCheck, with the nearest ones."""
    for gap in result.verdict.not_verified:
        if gap.id == name:
            raise NoCheck(
                f"{name[:60]} is not verified: {gap.reason}" + (f" ({gap.clause})" if gap.clause else "")
            )
    collected = [c for c in result.checks if c.id == name] or [
        c for c in result.checks if c.id.startswith(name)
    ]
    if len(collected) == 1:
        return collected[0]
    if collected:
        first = ", ".join(c.id for c in collected[:8]) + " ..." * (len(collected) > 8)
        raise NoCheck(f"'{name[:60]}' begins {len(collected)} checks: {first}")
    near = get_close_matches(name, [c.id for c in result.checks], 4, 0.4)
    nearest = f"; near to it: {', '.join(near)}" if near else ""
    raise NoCheck(f"'{name[:60]}' is not a valid check{nearest}; without a check all are listed")


def working_of(result: ResultFile, check: CheckOut) -> WorkingOut:
    """Its derivation. Raises NoCheck where the result has none."""
    for working in result.workings:
        if working.check == check.id:
            return working
    raise NoCheck("this result was made without derivations; design or check the beam again")


def value_text(line: LineOut) -> str:
    """The value of a line with its unit, to four digits; forces in kN or kip."""
    if line.value is None:
        return "∞"
    value, unit = maths.shown(line.value, line.unit)
    text = number(abs(value))
    said = maths.plain_formula(text) if text[:1].isdigit() else text
    return f"{'−' if value < 0.0 and text != '0' else ''}{said} {unit}".strip()


def has_numbers(line: LineOut) -> bool:
    """Whether the formula is more than a number or the symbol itself."""
    return (
        bool(line.formula)
        and maths.plain_formula(line.formula) != symbol_text(line.symbol)
        and bool(line.numbers)
    )


# ---------------------------------------------------------------- terminal


def checks_by_ratio(console: Console, result: ResultFile) -> None:
    """All ids, the highest ratios first."""
    from rich.table import Table

    system = SYSTEMS[result.beam.units]
    console.print(
        plain(console, f"{result.beam.mark}  {result.beam.title}: {len(result.checks)} checks, by ratio"),
        style="bold",
    )
    console.print(plain(console, f"     {verdict_line(result.verdict)}"), style="dim")
    table = Table(box=None, padding=(0, 1, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    wide = console.width >= 110
    for name in ("", "ratio", "check", "demand", "resistance", "", "at", *(["clause"] if wide else [])):
        table.add_column(
            name, justify="right" if name in ("ratio", "demand", "resistance") else "left", no_wrap=True
        )
    for check in sorted(result.checks, key=lambda c: -c.ratio):
        style = {"fail": THORN, "pass": ""}.get(word_of(check), STRAW)
        cells = [
            word_of(check),
            ratio_text(check.ratio),
            check.id,
            *amounts(check, system),
            place(check, system),
        ]
        table.add_row(*(plain(console, c) for c in [*cells, *([check.clause] if wide else [])]), style=style)
    console.print(table)


def working_text(console: Console, result: ResultFile, check: CheckOut) -> None:
    """One derivation, line by line."""
    from textwrap import wrap

    from rich.text import Text

    system, working = SYSTEMS[result.beam.units], working_of(result, check)
    console.print(plain(console, f"{check.id}: {working.sought}"), style="bold")
    console.print(
        plain(
            console,
            f"{result.beam.mark}  {result.beam.title}, x = {place(check, system)}; {result.beam.code_title}",
        ),
        style="dim",
    )
    console.print()
    wide = max((len(plain(console, symbol_text(line.symbol))) for line in working.lines), default=0)
    wide = min(wide, 14)
    for line in working.lines:
        parts = []
        if has_numbers(line):
            parts = [maths.plain_formula(line.formula), maths.plain_formula(line.numbers)]
        parts.append(value_text(line))
        for k, part in enumerate(parts):
            head = f"{plain(console, symbol_text(line.symbol)):<{wide}} = " if k == 0 else " " * wide + " = "
            room, indent = min(console.width, 110) - 2, " " * (wide + 5)
            folded = wrap(plain(console, part), room - len(indent)) or [""]
            shown = [
                Text(plain(console, ("  " + head if n == 0 else indent) + row))
                for n, row in enumerate(folded)
            ]
            if k == len(parts) - 1:
                notes = "; ".join(
                    v
                    for v in (
                        line.text,
                        line.condition and f"as {maths.condition_text(line.condition)}",
                        line.clause,
                    )
                    if v
                )
                first = room - len(shown[-1]) - 3
                rest = (
                    wrap(
                        notes,
                        room - len(indent) - 2,
                        initial_indent=" " * max(room - len(indent) - 2 - first, 0),
                    )
                    if notes
                    else []
                )
                if rest and first > 20:
                    shown[-1].append(plain(console, "   " + rest.pop(0).strip()), style="dim")
                shown += [Text(plain(console, indent + "  " + row.strip()), style="dim") for row in rest]
            for row in shown:
                console.print(row)
    if working.lines:
        console.print()
    colour = {"pass": LEAF, "fail": THORN}.get(word_of(check), STRAW)
    console.print(
        plain(
            console,
            f"{word_of(check):<8}{against(check, system)}: ratio {ratio_text(check.ratio, 3)}   "
            f"{check.clause}",
        ),
        style=f"bold {colour}",
    )
    if check.combination:
        console.print(plain(console, f"        {check.combination}"), style="dim")
    if check.note:
        console.print(plain(console, f"        {check.note}"))


# ---------------------------------------------------------------- other forms


def as_before(symbols: Sequence[str]) -> str:
    """What is said of lines that stand in an earlier derivation."""
    return f"; {', '.join(symbol_text(s) for s in symbols)} as before" if symbols else ""


def working_data(result: ResultFile, check: CheckOut) -> dict[str, Any]:
    """As plain data, the numbers of the check in SI."""
    return {**working_of(result, check).model_dump(), "result": check.model_dump()}


def md(text: str) -> str:
    """Text of a user inside Markdown: nothing in it is markup."""
    for sign in "\\`*_{}[]<>#|~$&":
        text = text.replace(sign, "&lt;" if sign == "<" else "&gt;" if sign == ">" else f"\\{sign}")
    text = " ".join(text.split())
    return re.sub(
        r"^(\d+)([.)])(?=\s)|^([-+=])(?=\s)", lambda m: f"{m[1]}\\{m[2]}" if m[1] else f"\\{m[3]}", text
    )


def working_md(
    result: ResultFile,
    check: CheckOut,
    level: int = 1,
    show: Sequence[int] | None = None,
    before: Sequence[str] = (),
) -> str:
    """As Markdown, formulas in LaTeX. Lines to `show` (None: all), and symbols that stand `before`."""
    system, working = SYSTEMS[result.beam.units], working_of(result, check)
    out = [
        f"{'#' * level} {md(check.id)}",
        "",
        f"{md(working.sought[:1].upper() + working.sought[1:])}; x = "
        f"{md(place(check, system))}{md(as_before(before))}.",
        "",
    ]
    for line in working.lines if show is None else [working.lines[k] for k in show]:
        parts = [maths.latex_symbol(line.symbol)]
        if has_numbers(line):
            parts += [maths.latex(line.formula), maths.latex(line.numbers)]
        notes = "; ".join(
            v
            for v in (line.text, line.condition and f"as {maths.condition_text(line.condition)}", line.clause)
            if v
        )
        out.append(
            f"- $`{' = '.join(parts)}`$ = {md(value_text(line))}" + (f" ({md(notes)})" if notes else "")
        )
    out += [
        "",
        f"**{word_of(check)}**: {md(against(check, system))}, ratio {ratio_text(check.ratio, 3)}, "
        f"{md(check.clause)}" + (f"; {md(check.note)}" if check.note else ""),
        "",
    ]
    return "\n".join(out)


def working_html(
    result: ResultFile,
    check: CheckOut,
    anchor: str = "why",
    show: Sequence[int] | None = None,
    before: Sequence[str] = (),
) -> str:
    """As an HTML fragment, formulas in MathML; its id begins with `anchor`. Lines to `show` (None: all),
    symbols that stand `before`."""
    system, working = SYSTEMS[result.beam.units], working_of(result, check)
    rows = []
    for line in working.lines if show is None else [working.lines[k] for k in show]:
        notes = "; ".join(
            v for v in (line.text, line.condition and f"as {maths.condition_text(line.condition)}") if v
        )
        parts = [maths.mathml(line.formula), maths.mathml(line.numbers)] if has_numbers(line) else []
        parts.append(f"<mtext>{escape(value_text(line))}</mtext>")
        first, *more = parts  # a formula may be broken before each sign of equality
        rest = "".join(f" <math><mo>=</mo>{p}</math>" for p in more)
        rows.append(
            f'<tr><td class="m"><math>{maths.mathml_symbol(line.symbol)}<mo>=</mo>{first}</math>{rest}</td>'
            f'<td class="s">{escape(notes)}</td><td class="c">{escape(line.clause)}</td></tr>'
        )
    end = f"{word_of(check)}: {against(check, system)}, ratio {ratio_text(check.ratio, 3)}"
    name, at = escape(check.id), escape(place(check, system))
    return (
        f'<section class="working" id="{anchor}-{name}"><h4>{name} <small>x = {at}</small></h4>'
        f"<p>{escape(working.sought)}{escape(as_before(before))}</p><table>{''.join(rows)}</table>"
        f'<p class="end {word_of(check)}"><b>{escape(end)}</b> <span class="c">{escape(check.clause)}</span>'
        + (f"<br>{escape(check.note)}" if check.note else "")
        + "</p></section>"
    )
