"""Lateral supports of the compressed face."""

from __future__ import annotations

from upright_bramble.codes.rules import Place
from upright_bramble.verify.facts import Facts, if_fails
from upright_bramble.verify.gaps import bracing_limit, unbraced
from upright_bramble.verify.result import Check
from upright_bramble.working import record


def bracing(f: Facts) -> list[Check]:
    """Distance of lateral supports: as given, or the span where it is short enough anyway."""
    result: list[Check] = []
    for index, span in enumerate(f.beam.spans):
        limit = bracing_limit(f, index)
        if limit is None:
            continue
        free = unbraced(f.beam, index)
        if free <= limit + 1e-6 or (f.beam.bracing is not None and limit > 0.0):
            record("b", span.narrowest, "mm", "width of the web")
            record("h", span.deepest, "mm", "depth")
            record("l_free", free, "mm", "without lateral support")
            note = if_fails("closer lateral supports, or a wider beam", free > limit)
            result.append(
                f.check("bracing.span", Place(span=index), f.at.of(index).start, free, limit, note=note)
            )
    return result
