"""Many beams for notebooks and scripts: designed one by one or side by side, a row of each kept."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from upright_bramble.beam import Beam
from upright_bramble.present.floor import Row, row_of


def summaries(beams: Sequence[Beam], jobs: int = 1) -> Iterator[Row]:
    """A row a beam, in order."""
    if jobs == 1 or len(beams) < 2:
        yield from map(_row, beams)
        return
    from concurrent.futures import ProcessPoolExecutor
    from multiprocessing import get_context

    with ProcessPoolExecutor(min(jobs, len(beams)), mp_context=get_context("spawn")) as pool:
        yield from pool.map(_row, beams, chunksize=1)


def _row(beam: Beam) -> Row:
    from upright_bramble.core.quantities import SYSTEMS, worded
    from upright_bramble.files.result_data import result_model
    from upright_bramble.pipeline import run_design

    designed = run_design(beam)
    if designed.result is None:
        reason = worded(designed.reason, SYSTEMS[beam.units])
        return Row(beam.mark, beam.title, "", "fail", reason=reason, quantity=beam.quantity, units=beam.units)
    return replace(row_of(result_model(designed.result)), file="")
