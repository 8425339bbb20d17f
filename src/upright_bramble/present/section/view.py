"""One section on the terminal and as data: the verdict, its checks, what was not verified, and the numbers of
a hand calculation."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, replace
from itertools import groupby
from textwrap import wrap
from typing import TYPE_CHECKING, Any

import numpy as np

from upright_bramble.codes import DesignCode
from upright_bramble.core.bars import counted
from upright_bramble.core.quantities import (
    QUANTITIES,
    SYSTEMS,
    UnitSystem,
    in_si,
    ratio_text,
    significant,
    worded,
)
from upright_bramble.core.topics import TOPICS
from upright_bramble.present.palette import BERRY, STRAW, THORN, WORDS
from upright_bramble.present.terminal import plain
from upright_bramble.verify.result import Check
from upright_bramble.verify.sections.by_hand import Line
from upright_bramble.verify.sections.judge import Verdict
from upright_bramble.verify.sections.model import CrossSection, ForceSet
from upright_bramble.verify.sections.values import gross_lines, service_lines, set_lines

if TYPE_CHECKING:
    from rich.console import Console

WIDE = 80


def shown(line: Line, system: UnitSystem) -> tuple[float, str]:
    """Number and unit in the file's units."""
    section, span = system.factor("section"), system.factor("span")
    name = system.unit("section")
    fourth = (1e6 * section**4, f"10⁶ {name}⁴") if name == "mm" else (section**4, f"{name}⁴")
    kinds = {
        "length": (section, name),
        "crack": (section, name),
        "area": (section**2, f"{name}²"),
        "fourth": fourth,
        "moment": (system.factor("moment"), system.unit("moment")),
        "force": (system.factor("force"), system.unit("force")),
        "stress": (system.factor("stress"), system.unit("stress")),
        "steel stress": (system.factor("steel stress"), system.unit("steel stress")),
        "percent": (1.0, "%"),
        "degrees": (1.0, "°"),
        "steel per length": (section**2 / span, f"{name}²/{system.unit('span')}"),
        "strain": (1e-3, "‰"),
    }
    size, unit = kinds.get(line.quantity, (1.0, ""))
    return line.value / size, unit


def word_of(check: Check) -> str:
    """'pass', 'warning', 'waived' or 'fail'."""
    return "pass" if check.ok else {"must": "fail", "waived": "waived"}.get(check.severity, "warning")


def said(check: Check, system: UnitSystem) -> tuple[str, str, str]:
    """Demand, limit and unit in the file's units."""
    quantity = check.quantity or "number"
    factor, unit = system.factor(quantity), system.unit(quantity)
    limit = (
        "no limit"
        if check.resistance / factor > 1e5 and quantity == "length"
        else significant(check.resistance / factor)
    )
    return significant(check.demand / factor), limit, unit


def name_of(check: Check) -> str:
    """What a check is about, in words."""
    across = ", across" if check.id.endswith("-across") else ""
    both = ", crushing" if check.id == "shear.both-crushing" else ""
    return (check.kind.sought or check.id) + across + both


def ordered(verdict: Verdict) -> list[Check]:
    """Failing ones first, then by ratio; what is told beside others last."""
    return sorted(verdict.checks, key=lambda c: (c.ok or c.severity != "must", c.ok, c.beside, -c.ratio))


def worst_of_each(checks: Sequence[Check]) -> list[Check]:
    """Of every check the set that comes nearest to its limit, in their order."""
    worst: dict[str, Check] = {}
    for c in checks:
        if c.id not in worst or (not c.ok, c.ratio) > (not worst[c.id].ok, worst[c.id].ratio):
            worst[c.id] = c
    return [c for c in checks if worst[c.id] is c]


def governing_set(section: CrossSection, verdict: Verdict) -> ForceSet | None:
    """The set behind the governing check of bending, shear or torsion; the first where none is."""
    sets = {s.name: s for s in section.forces}
    for check in sorted(verdict.checks, key=lambda c: (c.ok, -c.ratio)):
        if check.by in sets and check.severity == "must":
            return sets[check.by]
    return section.forces[0] if section.forces else None


def values_of(section: CrossSection, code: DesignCode, verdict: Verdict) -> list[Line]:
    """Gross section, the governing set, and every set in service."""
    result = gross_lines(section)
    forces = governing_set(section, verdict)
    if forces is not None:
        result += set_lines(section, code, forces, verdict)
    for acting in section.service:
        if acting.name in verdict.service:
            result += service_lines(section, code, acting, verdict.service[acting.name])
    return [replace(v, symbol=code.words.symbols.get(v.symbol, v.symbol)) for v in result]


def beyond(section: CrossSection, code: DesignCode, verdict: Verdict) -> list[str]:
    """Without bars: the sets of forces for which no amount of reinforcement suffices."""
    if section.bars:
        return []
    return [
        s.name
        for s in section.forces
        if any(np.isposinf(v.value) for v in set_lines(section, code, s, verdict))
    ]


def verdict_of(section: CrossSection, verdict: Verdict) -> str:
    """The verdict on one line."""
    first = verdict.governing
    if not section.bars:
        return "no bars given: what is required is below"
    text = "nothing was verified" if first is None else f"ratio {ratio_text(first.ratio)}, {name_of(first)}"
    if first is not None and first.by and len(section.forces) + len(section.service) > 1:
        text += f" ({first.by})"
    topics = list(dict.fromkeys(TOPICS.get(g.topic, g.topic).lower() for g in verdict.gaps))
    return text + (f"; not verified: {', '.join(topics)}" if topics else "")


def axis_of(section: CrossSection) -> str:
    """Which axis was used, in words."""
    if (
        section.symmetric
        and not any(s.moment_y for s in section.forces)
        and not any(s.moment_y for s in section.service)
    ):
        return "symmetric about the vertical: the neutral axis stays level"
    return (
        "the neutral axis turns freely"
        if section.axis == "free"
        else "the neutral axis is held level (restrained against turning)"
    )


def section_summary(
    console: Console,
    section: CrossSection,
    verdict: Verdict,
    code: DesignCode,
    units: str,
    *,
    chosen: str = "",
) -> None:
    """First the verdict, then what was chosen, checks and gaps, then every value with its symbol, unit and
    clause."""
    from rich.text import Text

    system = SYSTEMS[units]
    word, colour = WORDS[verdict.status] if section.bars else ("", BERRY)
    line = Text()
    line.append(f"{word}  " if word else "", style=f"bold {colour}")
    line.append(plain(console, section.title), style="bold")
    console.print(line)
    for text in wrap(f"{code.title}; {axis_of(section)}", WIDE - 5):
        console.print(plain(console, f"     {text}"), style="dim")
    for text in wrap(verdict_of(section, verdict), WIDE - 5):
        console.print(plain(console, f"     {text}"))
    for name in beyond(section, code, verdict):
        _wrapped(
            console,
            "fail",
            "no amount of reinforcement suffices: a deeper or wider section, or stronger concrete",
            name,
        )
    for text in wrap(chosen, WIDE - 5):
        console.print(plain(console, f"     {text}"), style=f"bold {BERRY}")
    _checks(console, section, verdict, system)
    for gap in verdict.gaps:
        _wrapped(
            console,
            "not verified",
            f"{TOPICS.get(gap.topic, gap.topic).lower()}: {worded(gap.reason, system)}",
            gap.by,
        )
    for topic, reason in section.waive.items():
        _wrapped(console, "waived", f"{TOPICS.get(topic, topic).lower()}: {reason}", "")
    _sets(console, section, verdict, system)
    forces = governing_set(section, verdict)
    if forces is not None and len(section.forces) > 1:
        console.print(plain(console, f"\nunder {forces.name}"), style="bold")
    print_lines(console, values_of(section, code, verdict), system)


def arrangement(section: CrossSection, code: DesignCode, system: UnitSystem) -> str:
    """Bars by rows and stirrups in words: 'bottom 4ø20 at 547 mm; top 2ø16 at 51.0 mm; ø8, 2 legs at 200
    mm'."""
    k, unit = system.factor("section"), system.unit("section")
    parts = []
    for bottom in (True, False):
        own = [b for b in section.bars if (b.y < -0.5 * section.depth) == bottom]
        rows: dict[tuple[float, str], int] = {}
        for b in own:
            key = (round(-b.y, 2), b.size)
            rows[key] = rows.get(key, 0) + 1
        lines = [
            f"{counted(n, code.sizes.label(size))} at {significant(depth / k)} {unit}"
            for (depth, size), n in sorted(rows.items(), reverse=bottom)
        ]
        if lines:
            parts.append(f"{'bottom' if bottom else 'top'} {', '.join(lines)}")
    s = section.stirrups
    if s is not None:
        parts.append(
            f"stirrups {code.sizes.label(s.size)}, {s.legs} legs at {significant(s.spacing / k)} {unit}"
        )
    return "; ".join(parts)


def _wrapped(console: Console, word: str, text: str, by: str) -> None:
    lines = wrap(text + (f" ({by})" if by else ""), WIDE - 14)
    for k, part in enumerate(lines):
        console.print(plain(console, f"{word if k == 0 else '':<13} {part}"), style=STRAW)


def _checks(console: Console, section: CrossSection, verdict: Verdict, system: UnitSystem) -> None:
    from rich.table import Table

    if not verdict.checks:
        return
    named = {s.name for sets in (section.forces, section.service) if len(sets) > 1 for s in sets}
    table = Table(box=None, padding=(0, 1, 0, 0), show_edge=False, show_header=False, pad_edge=False)
    for justify in ("left", "left", "right", "right", "left", "right", "left"):
        table.add_column(justify=justify, overflow="fold", no_wrap=justify == "right")
    notes: list[tuple[str, str]] = []
    for c in worst_of_each(ordered(verdict)):
        word = word_of(c)
        demand, limit, unit = said(c, system)
        style = {"fail": THORN, "warning": STRAW, "waived": STRAW}.get(word, "")
        name = name_of(c) + (f" ({c.by})" if c.by in named else "")
        table.add_row(
            *(plain(console, v) for v in (word, name, demand, limit, unit, ratio_text(c.ratio), c.clause)),
            style=style,
        )
        if not c.ok and c.note:
            notes.append((word, f"{name_of(c)}: {worded(c.note, system)}"))
    console.print()
    console.print(table)
    for word, text in notes:
        _wrapped(console, word, text, "")


def _sets(console: Console, section: CrossSection, verdict: Verdict, system: UnitSystem) -> None:
    """Of several sets the forces and the ratio of bending of each."""
    from rich.table import Table

    if len(section.forces) < 2:
        return
    head, rows = set_table(section, verdict, system)
    table = Table(box=None, padding=(0, 2, 0, 0), show_edge=False, pad_edge=False)
    for k, text in enumerate(head):
        table.add_column(plain(console, text), justify="left" if k in (0, len(head) - 1) else "right")
    for row in rows:
        table.add_row(*(plain(console, v) for v in row))
    console.print()
    console.print(table)


def set_table(
    section: CrossSection, verdict: Verdict, system: UnitSystem
) -> tuple[list[str], list[list[str]]]:
    """Head and rows: each set, its forces, its highest ratio and what that is."""
    used = [
        ("axial", "N", "force"),
        ("moment", "M", "moment"),
        ("moment_y", "M_y", "moment"),
        ("shear", "V", "force"),
        ("shear_y", "V_y", "force"),
        ("torque", "T", "moment"),
    ]
    used = [u for u in used if any(getattr(s, u[0]) for s in section.forces)]
    rows = []
    for s in section.forces:
        own = [c for c in verdict.checks if c.by == s.name and c.severity == "must"]
        worst = max(own, key=lambda c: (not c.ok, c.ratio), default=None)
        cells = [
            significant(getattr(s, key) / system.factor(q)) if getattr(s, key) else "-" for key, _, q in used
        ]
        rows.append(
            [s.name, *cells, ratio_text(worst.ratio) if worst else "-", name_of(worst) if worst else ""]
        )
    return ["set", *(f"{symbol} {system.unit(q)}" for _, symbol, q in used), "ratio", "governs"], rows


def print_lines(console: Console, lines: Sequence[Line], system: UnitSystem) -> None:
    """Values under their headings."""
    from rich.table import Table

    for heading, own in groupby(lines, key=lambda v: v.heading):
        console.print()
        console.print(plain(console, heading), style=f"bold {BERRY}")
        table = Table(box=None, padding=(0, 1, 0, 0), show_edge=False, show_header=False)
        for justify in ("left", "left", "right", "left", "left"):
            table.add_column(justify=justify, no_wrap=justify != "left" or None)  # type: ignore[arg-type]
        for line in own:
            value, unit = shown(line, system)
            number = "none suffices" if not np.isfinite(value) else significant(value, 4)
            table.add_row(
                *(
                    plain(console, v)
                    for v in (f"  {worded(line.what, system)}", line.symbol, number, unit, line.clause)
                )
            )
        console.print(table)


def section_data(section: CrossSection, code: DesignCode, verdict: Verdict) -> dict[str, Any]:
    """As plain data: values in N, mm, MPa; checks with their unit."""
    values = [
        {
            "heading": v.heading,
            "what": in_si(v.what),
            "symbol": v.symbol,
            "quantity": v.quantity,
            "clause": v.clause,
            "value": float(f"{v.value:.9g}") if np.isfinite(v.value) else None,
        }
        for v in values_of(section, code, verdict)
    ]
    first = verdict.governing
    return {
        "section": section.title,
        "code": code.name,
        "axis": "level" if axis_of(section).endswith("level") or "held level" in axis_of(section) else "free",
        "verdict": {
            "status": verdict.status,
            "governing": first.id if first else None,
            "set": first.by if first else "",
            "ratio": round(first.ratio, 6) if first else None,
            "not_verified": [
                {"topic": g.topic, "set": g.by, "reason": in_si(g.reason)} for g in verdict.gaps
            ],
            "waived": [{"topic": k, "reason": v} for k, v in section.waive.items()],
        },
        "checks": [_check_data(c) for c in ordered(verdict)],
        "sets": [asdict(s) for s in section.forces],
        "service": [asdict(s) for s in section.service],
        "resistance": {
            name: {
                "moment_x_Nmm": b.resisted.moment_x if b.resisted else None,
                "moment_y_Nmm": b.resisted.moment_y if b.resisted else None,
                "theta_degrees": b.resisted.theta % 360.0 if b.resisted else None,
                "axial_limits_N": list(b.limits),
                "lateral_moment_Nmm": b.lateral,
                "ratio": round(b.ratio, 6) if np.isfinite(b.ratio) else None,
            }
            for name, b in verdict.bending.items()
        },
        "stresses": {
            name: {
                "bars_MPa": [round(float(v), 6) for v in s.plane.bars],
                "corners_MPa": _corners(section, s),
            }
            for name, s in verdict.service.items()
            if s.plane is not None
        },
        "values": values,
    }


def _corners(section: CrossSection, state: Any) -> list[float]:
    return [round(float(v), 6) for v in state.plane.at(*section.shape.corners.T)]


def _check_data(c: Check) -> dict[str, Any]:
    quantity = QUANTITIES[c.quantity or "number"]
    return {
        "id": c.id,
        "topic": c.topic,
        "set": c.by,
        "demand": float(f"{c.demand / quantity.size:.9g}"),
        "resistance": float(f"{c.resistance / quantity.size:.9g}"),
        "unit": quantity.key,
        "ratio": round(c.ratio, 6),
        "ok": c.ok,
        "severity": c.severity,
        "clause": c.clause,
        "note": in_si(c.note),
    }
