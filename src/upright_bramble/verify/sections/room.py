"""Bars against one another and against the edges of the concrete."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from upright_bramble.codes.design_code import DesignCode
from upright_bramble.section.shape import distance_to_edges
from upright_bramble.verify.result import Check
from upright_bramble.verify.sections.model import CrossSection

WITHIN = 1.0  # mm that bars may be placed inexactly


def room(section: CrossSection, code: DesignCode, check_of: Callable[..., Check]) -> list[Check]:
    """The nearest pair of bars, and the bar nearest to an edge."""
    x, y, _, phi = section.points
    result = []
    if len(x) > 1:
        apart = np.hypot(x[:, None] - x, y[:, None] - y) - 0.5 * (phi[:, None] + phi)
        thicker = np.maximum(phi[:, None], phi)
        required = np.vectorize(lambda p: float(code.detailing.clear_spacing(p, section.concrete.aggregate)))(
            thicker
        )
        np.fill_diagonal(apart, np.inf)
        i, j = np.unravel_index(int((required / np.maximum(apart, 1e-3)).argmax()), apart.shape)
        note = "fewer or thinner bars in this row, or bars in another row"
        clause = code.words.clauses["fit.bottom"]
        result.append(
            check_of(
                section, "fit.bars", float(required[i, j]), float(max(apart[i, j], 0.0)), clause, "", note
            )
        )
    away = distance_to_edges(section.shape, x, y) - 0.5 * phi
    required_cover = min(section.cover.top, section.cover.bottom, section.cover.sides) + section.tied
    k = int(away.argmin())
    note = "bars outside cover and stirrup: move them inwards"
    cover = check_of(section, "fit.cover", required_cover, float(max(away[k] + WITHIN, 0.0)), "", "", note)
    return result if cover.ok else [*result, cover]
