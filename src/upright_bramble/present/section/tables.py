"""Curves of a section as a table."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from upright_bramble.codes import DesignCode
from upright_bramble.core.quantities import SYSTEMS
from upright_bramble.present.section.view import governing_set
from upright_bramble.verify.sections.curves import curves_of
from upright_bramble.verify.sections.judge import Verdict
from upright_bramble.verify.sections.model import CrossSection, ForceSet


def curve_table(section: CrossSection, code: DesignCode, units: str, verdict: Verdict) -> str:
    """CSV: name of the curve, axial force, both moments, curvature; in the file's units, curvature in
    1/km."""
    system = SYSTEMS[units]
    force, moment = system.factor("force"), system.factor("moment")
    forces = governing_set(section, verdict) or ForceSet("none")
    c = curves_of(section, code, forces)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(
        [
            "curve",
            f"N [{system.unit('force')}]",
            f"Mx [{system.unit('moment')}]",
            f"My [{system.unit('moment')}]",
            "curvature [1/km]",
        ]
    )

    def rows(name: str, values: Iterable[tuple[object, ...]]) -> None:
        for row in values:
            writer.writerow([name, *("" if v is None else f"{v:.6g}" for v in row)])

    rows("N-Mx", ((n / force, m / moment, None, None) for n, m in zip(c.axial, c.moment, strict=True)))
    rows("N-My", ((n / force, None, m / moment, None) for n, m in zip(c.axial_y, c.moment_y, strict=True)))
    if c.both is not None:
        rows(
            "Mx-My",
            ((forces.axial / force, x / moment, y / moment, None) for x, y in zip(*c.both, strict=True)),
        )
    for line in c.bent:
        pairs = zip(line.curvature, line.moment, strict=True)
        rows("M-curvature", ((line.axial / force, m / moment, None, 1e6 * k) for k, m in pairs))
    if c.stiffened is not None:
        pairs = zip(*c.stiffened, strict=True)
        rows(
            "M-curvature, tension stiffening",
            ((forces.axial / force, m / moment, None, 1e6 * k) for k, m in pairs),
        )
    return out.getvalue()
