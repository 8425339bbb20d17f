"""The terminal: first the verdict, then the beam from left to right, then what governs, then messages."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import numpy as np

from upright_bramble.beam import Beam
from upright_bramble.core.bars import counted
from upright_bramble.core.quantities import ratio_text, worded
from upright_bramble.present.numbers import Shown, mass, mass_per_volume, shown_for, significant, volume
from upright_bramble.present.palette import BERRY, STRAW, THORN, WORDS
from upright_bramble.working.formula import GREEK

if TYPE_CHECKING:
    from rich.console import Console

    from upright_bramble.analysis import Envelope, Forces
    from upright_bramble.codes import DesignCode
    from upright_bramble.section.arrays import Array
    from upright_bramble.suggesting import Sought
    from upright_bramble.verify import Check, Result

_PLAIN = str.maketrans({
    "ø": "d", "²": "2", "³": "3", "·": ".", "×": "x", "–": "-", "—": "-", "→": "->",
    "−": "-", "≤": "<=", "≥": ">=", "√": "sqrt", "∛": "cbrt",
    "∞": "inf", "⁰": "^0", "¹": "^1", "⁴": "^4", "⁵": "^5", "⁶": "^6", "⁷": "^7", "⁸": "^8", "⁹": "^9", "⁻": "^-",
    **{sign: name for name, sign in GREEK.items()},
})  # fmt: skip


def make_console(*, colour: bool = True, stderr: bool = False, width: int | None = None) -> Console:
    """A console that is at least 80 columns wide, without colour when asked, plain ASCII when it must be."""
    from rich.console import Console

    class Patient(Console):
        def on_broken_pipe(self) -> None:
            """The reader went away (`| head`): nothing is wrong, the rest is not wanted."""
            self.quiet = True
            raise BrokenPipeError

    console = Patient(no_color=not colour, stderr=stderr, highlight=False, emoji=False, markup=False, width=width)
    if not console.is_terminal:
        console = Patient(no_color=True, stderr=stderr, highlight=False, emoji=False, markup=False, width=width or 80, color_system=None)
    return console


def plain(console: Console, text: str) -> str:
    """Text that the console's encoding can show."""
    try:
        text.encode(console.encoding)
        return text
    except (UnicodeEncodeError, LookupError):
        said = re.sub(r"(?:\^[-0-9])+", lambda m: "^" + m.group().replace("^", ""), text.translate(_PLAIN))  # ^1^0 is ^10
        return said.encode(console.encoding or "ascii", "replace").decode(console.encoding or "ascii")


def summary(console: Console, result: Result) -> None:
    """What an engineer wants first of a designed or checked beam."""
    from rich.text import Text

    beam, units = result.beam, shown_for(result.beam)
    word, colour = WORDS[result.status]
    governing = result.governing
    line = Text()
    line.append(f"{word}  ", style=f"bold {colour}")
    line.append(plain(console, f"{beam.mark}  {beam.title}"), style="bold")
    console.print(line)
    console.print(plain(console, f"     {result.code_title}; {beam.concrete.grade}, {beam.bars.grade}"), style="dim")
    console.print()
    console.print(_table(console, result))
    q = result.quantities
    console.print(
        plain(
            console,
            f"steel {mass(q['steel_kg'], units)}, {mass_per_volume(q['steel_kg_per_m3'], units)}, at most {q['percent_most']:.2f} % "
            f"at a face; concrete {volume(q['concrete_m3'], units)}\n"
            f"reinforcement provided / required {q['main_bars_over_least']:.2f}; " + _struts(result),
        )
    )
    console.print()
    _told(console, units, "governs", governing, "" if governing.ok else f"bold {THORN}")
    more = [c for c in result.failing if c is not governing]
    for check in more[:8]:
        word = {"must": "fails", "waived": "waived"}.get(check.severity, "warning")
        _told(console, units, word, check, THORN if word == "fails" else STRAW)
    if len(more) > 8:
        console.print(f"         and {len(more) - 8} more failing checks; all are in the result file")
    _covered(console, result)
    _messages(console, result)


def _covered(console: Console, result: Result) -> None:
    """What was verified, what was not, what was waived, what is outside the scope."""
    from textwrap import wrap

    system = shown_for(result.beam).system
    rows: list[tuple[str, str, str]] = []
    for reason, topic, where in grouped_gaps(result.not_verified):
        rows.append(("not verified", f"{topic} ({where}): {worded(reason, system)}", f"bold {STRAW}"))
    rows += [("waived", f"{topic}: {reason}", STRAW) for topic, reason in result.waived]
    rows.append(("verified", ", ".join(result.verified) or "nothing", ""))
    rows.append(("not covered", "; ".join(result.out_of_scope), "dim"))
    console.print()
    for word, text, style in rows:
        head, width = f"{word:<13}", max(console.width - 13, 40)
        for k, line in enumerate(wrap(plain(console, text), width) or [""]):
            console.print((head if k == 0 else " " * 13) + line, style=style)


def grouped_gaps(gaps: Sequence[Any]) -> list[tuple[str, str, str]]:
    """Reason, topic and places with their clause, the places of one reason together."""
    groups: dict[tuple[str, str], list[Any]] = {}
    for gap in gaps:
        groups.setdefault((gap.reason, gap.topic), []).append(gap)
    found = []
    for (reason, topic), mine in groups.items():
        spans = sorted({g.span for g in mine})
        clauses = ", ".join(dict.fromkeys(g.clause for g in mine if g.clause))
        where = "span " + str(spans[0]) if len(spans) == 1 else "spans " + ", ".join(str(s) for s in spans)
        found.append((reason, topic, where + (f"; {clauses}" if clauses else "")))
    return found


def _struts(result: Result) -> str:
    """How shear is resisted, over all zones: strut angles, or expressions."""
    found = list(dict.fromkeys(i.model for i in result.stirrups))
    if not found:
        return "no stirrups"
    low, high = (f(i.strut for i in result.stirrups) for f in (min, max))
    if len(found) > 1 and high > low:
        return f"{found[0].rsplit(' ', 1)[0]} {low:.2f} to {high:.2f}"
    return ", ".join(found)


def _told(console: Console, units: Shown, word: str, check: Check, style: str) -> None:
    console.print(plain(console, f"{word:<8} {ratio_text(check.ratio)}  {check.id}"), style=style)
    clause = f", {check.clause}" if check.clause else ""
    console.print(plain(console, f"{'':<14} {units.both(check)} at x = {units.place(check.x)}{clause}"))
    if check.by:
        console.print(plain(console, f"{'':<14} {check.by}"), style="dim")
    if check.note and not check.ok:
        console.print(plain(console, f"{'':<14} {worded(check.note, units.system)}"))


def _messages(console: Console, result: Result) -> None:
    told = {f"{c.id}: {c.note}" for c in result.checks}
    shown = [m for m in result.messages if m.text not in told]
    if not shown:
        return
    console.print()
    for message in shown[:14]:
        where = f" [{message.where}]" if message.where else ""
        style = {"fail": THORN, "warning": STRAW}.get(message.severity, "")
        console.print(plain(console, worded(f"{message.severity:<8}{message.text}{where}", shown_for(result.beam).system)), style=style)
    if len(shown) > 14:
        console.print(f"     and {len(shown) - 14} more messages; all are in the result file")


def _table(console: Console, result: Result) -> Any:
    from rich.table import Table

    table = Table(box=None, padding=(0, 1, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for name, kind in (("span", "left"), ("face", "left"), ("bars", "left")):
        table.add_column(name, justify=kind, no_wrap=name != "bars", overflow="fold")  # type: ignore[arg-type]
    for name in ("bending", "shear", "defl.", "crack"):
        table.add_column(name, justify="right", no_wrap=True)
    for cells in summary_rows(result):
        table.add_row(*(plain(console, c) for c in cells))
    return table


def summary_rows(result: Result) -> list[tuple[str, ...]]:
    """span, face, bars, and the ratios of bending, shear, deflection and cracking."""
    beam = result.beam
    rows: list[tuple[str, ...]] = []
    for i, span in enumerate(beam.spans):
        left = "tip" if span.left is None else beam.supports[span.left].name
        right = "tip" if span.right is None else beam.supports[span.right].name
        rows.append((
            str(i + 1), "bottom", _bars(result, i, "bottom"), _ratio(result, [f"bending.sagging.{i + 1}"]), "",
            _ratio(result, [f"deflection.total.{i + 1}", f"deflection.after-finishes.{i + 1}"]),
            _ratio(result, [f"cracking.bottom.{i + 1}"]),
        ))  # fmt: skip
        ends = [n for n in (left, right) if n != "tip"]
        rows.append((
            f"{left}-{right}", "top", _bars(result, i, "top"), _ratio(result, [f"bending.hogging.{n}" for n in ends]), "", "",
            _ratio(result, [f"cracking.top.{n}" for n in ends]),
        ))  # fmt: skip
        sides = [f"shear.{kind}.{n}" for kind in ("stirrups", "crushing") for n in _sides(left, right)]
        beside = [s for s in result.layout.sides if s.start < span.end and s.end > span.start]
        if beside:
            rows.append(("", "sides", counted(2 * beside[0].rows, result.label(beside[0].size)), "", "", "", ""))
        sides += [f"torsion.{kind}.{i + 1}" for kind in ("stirrups", "crushing")]
        rows.append(("", "stirrups", _ties(result, i), "", _ratio(result, sides), "", ""))
    return rows


def _sides(left: str, right: str) -> list[str]:
    return [f"{left}-right"] * (left != "tip") + [f"{right}-left"] * (right != "tip")


def _ratio(result: Result, ids: Sequence[str]) -> str:
    found = [c.ratio for c in result.checks if c.id in ids]
    if not found:
        return "–"
    worst = max(found)
    if worst == 0.0:
        return "–"
    return ratio_text(worst) + ("!" if worst > 1.0 + 1e-9 else "")


def _bars(result: Result, index: int, face: str) -> str:
    """Groups of the span from left to right, those of the same place joined by +."""
    beam = result.beam
    low, high = beam.clear(index)
    mine = [b for b in result.layout.bars if b.face == face and b.start < high - 1.0 and b.end > low + 1.0]
    thirds = [low + (high - low) * s for s in (0.02, 0.5, 0.98)] if face == "top" else [0.5 * (low + high)]
    parts = []
    for x in thirds:
        here: dict[str, int] = {}
        for b in mine:
            if b.start <= x <= b.end and not _is_lap_double(mine, b, x):
                here[b.size] = here.get(b.size, 0) + b.count
        parts.append("+".join(counted(n, result.label(s)) for s, n in here.items()) or "none")
    unique = parts if len(set(parts)) > 1 else parts[:1]
    return " | ".join(unique)


def _is_lap_double(bars: Sequence[Any], bar: Any, x: float) -> bool:
    """The second of two lapped pieces is not counted again."""
    return any(
        o.face == bar.face and o.layer == bar.layer and o.size == bar.size and o.count == bar.count
        and o.start < bar.start <= x <= o.end < bar.end
        for o in bars
    )  # fmt: skip


def _ties(result: Result, index: int) -> str:
    low, high = result.beam.clear(index)
    zones = [i for i in result.stirrups if i.zone.start >= low - 1.0 and i.zone.end <= high + 1.0]
    if not zones:
        return "none"
    first = zones[0].zone
    units = shown_for(result.beam)
    parts = [f"{i.zone.count}×{units.value(i.zone.spacing, 'section'):.4g}" for i in zones]
    same = all((i.zone.size, i.zone.legs) == (first.size, first.legs) for i in zones)
    head = f"{result.label(first.size)}, {first.legs} legs: " if same else ""
    return head + " | ".join(parts)


def suggestions_list(console: Console, beam: Beam, sought: Sought) -> None:
    """What would cure a beam that fails."""
    system = shown_for(beam).system
    console.print()
    for text in sought.found:
        console.print(plain(console, worded(f"suggestion: {text}", system)))
    if not sought.found:
        console.print("suggestions: none was found in a moment; --suggest looks through all")
    elif not sought.complete:
        console.print("a smaller change may do; --suggest finds the least", style="dim")


def runners_up(console: Console, result: Result, most: int) -> None:
    """The groups of bars that came next, face by face, and what their extra cost is due to."""
    from rich.table import Table

    console.print()
    console.print(f"alternatives; the bars are the cheapest of {result.weighed:,} arrangements".replace(",", " "), style=f"bold {BERRY}")
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
    for r in result.runners:
        key = (r.face, r.first_span)
        shown[key] = shown.get(key, 0) + 1
        if shown[key] > most:
            continue
        spans = str(r.first_span + 1) if r.first_span == r.last_span else f"{r.first_span + 1}-{r.last_span + 1}"
        because = ", ".join(f"{name} {value:+.0f}" for name, value in r.because)
        table.add_row(*(plain(console, v) for v in (r.face, spans, r.through, r.extra, f"{r.extra_cost:.1f}", because)))
    console.print(table)


def forces_summary(console: Console, beam: Beam, forces: Forces, level: str, action: str | None = None) -> None:
    """Reactions, peaks with what makes them, and a sketch of the envelopes."""
    from rich.table import Table

    units, e, at = shown_for(beam), forces.envelopes[level], forces.stations
    console.print(plain(console, f"{beam.mark}  {beam.title}"), style="bold")
    both = forces.redistributed is not None and level == "strength" and action is None
    what = f"{level.replace('_', '-')} level, {len(e.labels)} sets of forces" + (
        ", elastic; after redistribution below" if both else ", elastic"
    )
    console.print(plain(console, f"     {what if action is None else f'{action} alone, unfactored'}"), style="dim")
    for key, value in beam.code_values.items():
        console.print(plain(console, f"     {key} = {value:g} is yours, not the code's"), style="dim")
    console.print()
    table = Table(box=None, padding=(0, 2, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for i, name in enumerate(("support", f"reaction max {units.unit('force')}", "min", f"moment min {units.unit('moment')}")):
        table.add_column(plain(console, name), justify="right" if i else "left")
    for s, support in enumerate(beam.supports):
        near = np.abs(at.x - support.x) < 1e-6
        values = (e.reaction_max[s], e.reaction_min[s])
        table.add_row(
            support.name, *(significant(units.value(float(v), "force")) for v in values),
            significant(units.value(float(e.moment_min[near].min()), "moment")),
        )  # fmt: skip
    console.print(table)
    if beam.given:
        console.print("forces from tables: loads are not known, so reactions cannot be held against them")
    balance = float(np.abs(forces.responses.reaction.sum(axis=1) - forces.responses.load).max())
    total = float(np.abs(forces.responses.load).sum())
    word = "balance" if balance <= 1e-9 * max(total, 1.0) + 1e-6 else "DO NOT balance"
    if not beam.given:
        console.print(f"reactions and loads {word}: {units.text(total, 'force')} of load over all cases")
    console.print()
    _peaks(console, beam, forces, e, units, "elastic peaks" if both else "")
    if both and forces.redistributed is not None:
        console.print()
        _peaks(console, beam, forces, forces.redistributed, units, "peaks after redistribution")
    if action is None:
        _governing_sets(console, beam, forces, level)
    console.print()
    twisted = [(f"torsion {units.unit('moment')}", e.torsion_.high, e.torsion_.low)] if forces.responses.twisted else []
    for title, high_, low_ in (
        (f"moment {units.unit('moment')}, sagging below", -e.moment_min, -e.moment_max),
        (f"shear {units.unit('force')}", e.shear_max, e.shear_min),
        *twisted,
    ):
        console.print(plain(console, title), style=BERRY)
        scale = units.system.factor("force" if title.startswith("shear") else "moment")
        for line in sketch(at.x, high_ / scale, low_ / scale, min(console.width, 100), -1.0 if title.startswith("moment") else 1.0):
            console.print(line)
        console.print(_supports_line(beam, at.x, min(console.width, 100)))
        console.print()


def _peaks(console: Console, beam: Beam, forces: Forces, e: Envelope, units: Shown, title: str) -> None:
    """Greatest moments, shear and torsion of each span."""
    from rich.table import Table

    at = forces.stations
    if title:
        console.print(title, style=f"bold {BERRY}")
    table = Table(box=None, padding=(0, 2, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for i, name in enumerate(
        (
            "span",
            f"M max {units.unit('moment')}",
            f"at {units.unit('span')}",
            f"M min {units.unit('moment')}",
            f"at {units.unit('span')}",
            f"V max {units.unit('force')}",
            *([f"T max {units.unit('moment')}"] if forces.responses.twisted else []),
        )
    ):
        table.add_column(plain(console, name), justify="right" if i else "left")
    for index in range(len(beam.spans)):
        rows = at.of(index)
        high, low = int(e.moment_max[rows].argmax()), int(e.moment_min[rows].argmin())
        table.add_row(
            str(index + 1),
            significant(units.value(float(e.moment_max[rows][high]), "moment")), f"{units.value(float(at.local[rows][high]), 'span'):.2f}",
            significant(units.value(float(e.moment_min[rows][low]), "moment")), f"{units.value(float(at.local[rows][low]), 'span'):.2f}",
            significant(units.value(float(e.shear[rows].max()), "force")),
            *([significant(units.value(float(e.torsion[rows].max()), "moment"))] if forces.responses.twisted else []),
        )  # fmt: skip
    console.print(table)


def _governing_sets(console: Console, beam: Beam, forces: Forces, level: str) -> None:
    """Which combination and arrangement makes each peak."""
    e, at = forces.envelopes[level], forces.stations
    console.print()
    for index in range(len(beam.spans)):
        rows = at.of(index)
        if e.moment_max[rows].max() > 1e3:
            i = rows.start + int(e.moment_max[rows].argmax())
            console.print(plain(console, f"M max span {index + 1}: {e.labels[e.moment.high_by[i]]}"))
    for support in beam.supports:
        near = np.flatnonzero(np.abs(at.x - support.x) < 1e-6)
        i = int(near[e.moment_min[near].argmin()])
        if e.moment_min[i] < -1e3:
            console.print(plain(console, f"M min {support.name}: {e.labels[e.moment.low_by[i]]}"))


def combinations_list(console: Console, beam: Beam, forces: Forces, code: DesignCode) -> None:
    """Every combination by level, and the arrangements that each is tried under."""
    console.print(plain(console, f"{beam.mark}  {beam.title}; {code.title}"), style="bold")
    for level in forces.envelopes:
        rows = forces.rows[level]
        names = list(dict.fromkeys(row.combination.name for row in rows))
        console.print()
        console.print(f"{level.replace('_', '-')}: {len(names)} combinations, {len(rows)} sets of forces", style=f"bold {BERRY}")
        for name in names:
            console.print(plain(console, f"  {name}"))
    arrangements = ", ".join(dict.fromkeys(row.arrangement for level in forces.envelopes for row in forces.rows[level]))
    console.print()
    worst = beam.arrangements == "every"
    console.print(plain(console, "each span loaded wherever that is worse" if worst else f"arrangements: {arrangements}"))


def code_values(console: Console, code: DesignCode) -> None:
    """Values in force with their clauses, and the factors of accompanying actions."""
    from rich.table import Table

    console.print(plain(console, code.title), style="bold")
    console.print(f"rules of combination: {', '.join(code.actions.rules)}; kinds of action: permanent, {', '.join(code.actions.kinds)}")
    console.print()
    table = Table(box=None, padding=(0, 2, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for name, justify in (("value of", "left"), ("", "right"), ("clause", "left")):
        table.add_column(name, justify=justify, no_wrap=True)  # type: ignore[arg-type]
    for key, value in code.values.items():
        table.add_row(key, f"{value.value:g}", value.clause)
    console.print(table)
    console.print()
    table = Table(box=None, padding=(0, 2, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for name in ("action", "psi_0", "psi_1", "psi_2"):
        table.add_column(name, justify="left" if name == "action" else "right")
    for key, psi in code.actions.accompanying().items():
        table.add_row(key, *(f"{v:g}" for v in psi))
    console.print(table)


def sketch(x: Array, high: Array, low: Array, width: int, sign: float = 1.0, rows: int = 11) -> list[str]:
    """An envelope in plain characters: ':' between its two lines, '-' the axis, largest values at the left,
    with `sign` where the picture stands upside down."""
    left = 9
    columns = width - left
    places = np.linspace(x[0], x[-1], columns)
    order = np.argsort(x, kind="stable")
    top = np.maximum(_column_extreme(x[order], high[order], places, np.maximum), 0.0)
    bottom = np.minimum(_column_extreme(x[order], low[order], places, np.minimum), 0.0)
    most, least = float(top.max()), float(bottom.min())
    span = max(most - least, 1e-12)
    edges = most - span * (np.arange(rows) + 0.5) / rows
    zero = int(np.abs(edges).argmin())
    lines = []
    for r, level in enumerate(edges):
        cells = np.where((level <= top) & (level >= bottom), ":", " ")
        if r == zero:
            cells = np.where(cells == " ", "-", "+")
        label = most if r == 0 else least if r == rows - 1 else 0.0 if r == zero else None
        text = "" if label is None else significant(sign * label)
        lines.append(f"{text:>{left - 1}} " + "".join(cells))
    return lines


def _column_extreme(x: Array, values: Array, places: Array, best: Any) -> Array:
    half = 0.5 * (places[1] - places[0])
    found = np.interp(places, x, values)
    for i, place in enumerate(places):
        inside = values[(x >= place - half) & (x <= place + half)]
        if len(inside):
            found[i] = best(found[i], best.reduce(inside))
    return found


def _supports_line(beam: Beam, x: Array, width: int) -> str:
    columns = width - 9
    cells = [" "] * (columns + 1)
    for s in beam.supports:
        i = round(float((s.x - x[0]) / (x[-1] - x[0])) * (columns - 1))
        for k, letter in enumerate(s.name[:6]):
            if i + k < columns:
                cells[i + k] = letter
    return " " * 9 + "".join(cells).rstrip()
