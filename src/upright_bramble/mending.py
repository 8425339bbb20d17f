"""A hand-edited layout kept as far as it suffices: bars are added where it does not, and only what is in the
way is taken out."""

from __future__ import annotations

from dataclasses import dataclass, replace

from upright_bramble.beam import Bar, Beam, Layout, StirrupZone
from upright_bramble.pipeline import Designed, run_check, run_design
from upright_bramble.verify import Check, Result
from upright_bramble.verify.messages import HELD

ROUNDS = 9

STIRRUPS = ("shear", "stirrups", "torsion", "cut-off")


@dataclass(frozen=True)
class Changes:
    """Marks of entries that stayed as they were, that are new, and that are gone."""

    kept: tuple[str, ...]
    added: tuple[str, ...]
    dropped: tuple[str, ...]

    @property
    def words(self) -> str:
        def listed(marks: tuple[str, ...]) -> str:
            return ", ".join(marks) if marks else "none"

        return f"kept {len(self.kept)}; added: {listed(self.added)}; dropped: {listed(self.dropped)}"


def changes(before: Layout, after: Layout) -> Changes:
    """By mark and contents; whether an entry is held makes no difference."""
    old, new = ([(v.names[e], replace(e, held=False)) for e in v.entries] for v in (before, after))
    was, now = {e for _, e in old}, {e for _, e in new}
    kept = tuple(name for name, e in old if e in now)
    return Changes(
        kept, tuple(name for name, e in new if e not in was), tuple(name for name, e in old if e not in now)
    )


def run_mend(beam: Beam, layout: Layout) -> Designed:
    """The layout as it is where it passes; else with what it lacks, and without what no addition can cure.

    What is in the way shows in a brief search; the whole one is for what is left when that passes, or when
    nothing more can be taken out.
    """
    as_it_is = run_check(beam, layout)
    if as_it_is.status != "fail":
        return Designed(as_it_is, 0)
    kept, best = layout, Designed(as_it_is, 0)
    for _ in range(ROUNDS):
        designed = run_design(beam, _held(kept), brief=True)
        result = designed.result
        if result is not None and result.status != "fail":
            break
        less = without_failing(beam, kept, result.failing if result is not None else as_it_is.failing)
        if less == kept:
            break
        best, kept = _better(best, designed, layout), less
    return _better(best, run_design(beam, _held(kept)), layout)


def _better(best: Designed, designed: Designed, original: Layout) -> Designed:
    """The one of which fewer checks fail."""
    result = designed.result
    if result is None or (best.result is not None and _failures(result) >= _failures(best.result)):
        return best
    messages = tuple(m for m in result.messages if m.text != HELD or any(e.held for e in original.entries))
    return replace(
        designed, result=replace(result, layout=_as_before(result.layout, original), messages=messages)
    )


def _failures(result: Result) -> int:
    return sum(not c.ok and c.severity == "must" for c in result.checks)


def _held(layout: Layout) -> Layout:
    return Layout(
        tuple(replace(b, held=True) for b in layout.bars),
        tuple(replace(z, held=True) for z in layout.stirrups),
        tuple(replace(s, held=True) for s in layout.sides),
    )


def _as_before(layout: Layout, original: Layout) -> Layout:
    """Entries of the user's are held where they were."""
    held = {replace(e, held=False) for e in original.entries if e.held}
    return Layout(
        tuple(replace(b, held=replace(b, held=False) in held) for b in layout.bars),
        tuple(replace(z, held=replace(z, held=False) in held) for z in layout.stirrups),
        tuple(replace(s, held=replace(s, held=False) in held) for s in layout.sides),
    )


def without_failing(beam: Beam, layout: Layout, failing: tuple[Check, ...]) -> Layout:
    """Less what is in the way, as little as helps, and nothing that the user holds: first stirrups where a
    check of theirs fails, then those of its whole span; then the bars that a check names; then those of its
    face in its span."""
    must = [c for c in failing if c.severity == "must"]
    for wide in (False, True):
        zones = tuple(
            z for z in layout.stirrups if z.held or not any(_ties_in_the_way(beam, z, c, wide) for c in must)
        )
        if zones != layout.stirrups:
            return replace(layout, stirrups=zones)
    for wide in (False, True):
        bars = tuple(
            b
            for b in layout.bars
            if b.held or not any(_bars_in_the_way(beam, layout, b, c, wide) for c in must)
        )
        if bars != layout.bars:
            return replace(layout, bars=bars)
    return layout


def _ties_in_the_way(beam: Beam, zone: StirrupZone, check: Check, wide: bool) -> bool:
    low, high = beam.clear(check.span - 1)
    if check.topic not in STIRRUPS or zone.end < low or zone.start > high:
        return False
    # the zone at the place of the check, which may stand before the first stirrup
    return wide or zone.start - zone.spacing <= check.x <= zone.end + zone.spacing


def _bars_in_the_way(beam: Beam, layout: Layout, bar: Bar, check: Check, wide: bool) -> bool:
    if check.topic in STIRRUPS:
        return False
    if layout.names[bar] in (check.place.bar, check.place.other):
        return True
    low, high = beam.clear(check.span - 1)
    of_face = bar.face == (check.kind.face or "bottom") and bar.start < high and bar.end > low
    return wide and of_face and check.topic in ("fit", "lap", "anchorage", "bending", "ductility")
