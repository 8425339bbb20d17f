"""What a save changed: in words, and as a part of the page that is watched."""

from __future__ import annotations

from upright_bramble.core.quantities import SYSTEMS, ratio_text
from upright_bramble.files.result_file import ResultFile
from upright_bramble.present.comparison import compared
from upright_bramble.present.numbers import Shown, mass
from upright_bramble.present.pages import page

MOST = 5  # entries of bars, and ratios, that are listed


def since_last_save(before: ResultFile | None, now: ResultFile) -> list[str]:
    """Lines: verdict and steel where they changed, entries of bars, the ratios that moved most; nothing
    before the first save."""
    if before is None:
        return []
    c, units = compared(before, now), Shown(SYSTEMS[now.beam.units])
    steel = [mass(r.quantities["steel_kg"], units) for r in (before, now)]
    first = [f"{before.verdict.status} to {now.verdict.status}"] * (
        before.verdict.status != now.verdict.status
    )
    first += [f"steel {steel[0]} to {steel[1]}"] * (steel[0] != steel[1])
    lines = [f"since the last save: {'; '.join(first) or 'verdict and steel are the same'}"]
    lines += [
        f"  {v.kind} {v.mark}: {v.before or v.after}" + (f"; now {v.after}" if v.kind == "changed" else "")
        for v in c.changes[:MOST]
    ]
    if len(c.changes) > MOST:
        lines.append(f"  and {len(c.changes) - MOST} more entries")
    both = [
        (r.id, ratio_text(r.before), ratio_text(r.after))
        for r in c.ratios
        if r.before is not None and r.after is not None
    ]
    lines += [f"  {name} {was} to {is_}" for name, was, is_ in both if was != is_][:MOST]
    return lines


def page_part(now: ResultFile, before: ResultFile | None, how: str) -> str:
    """Verdict, changes, diagrams and the checks that matter, as HTML."""
    from markupsafe import Markup

    from upright_bramble.present.checks import against, failing, governing, place, word_of
    from upright_bramble.present.diagrams import chart
    from upright_bramble.present.painters import svg
    from upright_bramble.present.scene import NAMES

    system = SYSTEMS[now.beam.units]
    drawn = Markup(svg(chart(now), {name: f"var(--{name})" for name in NAMES}, alone=False))
    first = governing(now)
    shown = [first, *(c for c in failing(now)[:12] if c.id != first.id)]
    rows = [
        {
            "word": word_of(c),
            "id": c.id,
            "ratio": ratio_text(c.ratio),
            "against": against(c, system),
            "at": place(c, system),
            "clause": c.clause,
            "note": "" if c.ok else c.note,
        }
        for c in shown
    ]
    q, units = now.quantities, Shown(system)
    steel = f"{mass(q['steel_kg'], units)} of steel, {q['percent_most']:.2f} % at most"
    return page(
        "watch_part.html.j2",
        beam=now.beam,
        verdict=now.verdict,
        ratio=ratio_text(now.verdict.ratio),
        how=how,
        steel=steel,
        chart=drawn,
        changes=since_last_save(before, now),
        checks=rows,
    )
