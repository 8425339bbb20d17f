"""A beam made and written: what was read of it, what is to come of it, and its files as bytes. Every way of
working on many ends here."""

from __future__ import annotations

import hashlib
import time
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from upright_bramble.beam import Beam, Layout
from upright_bramble.errors import BrambleError
from upright_bramble.files.beam_file import read_beam
from upright_bramble.files.layout_file import layout_text, merged_text
from upright_bramble.files.result_data import Origin
from upright_bramble.files.result_reader import input_digest
from upright_bramble.files.writing import BrokenOff, CannotWrite, digest, numbered, write_set
from upright_bramble.version import __version__

if TYPE_CHECKING:
    from upright_bramble.files.result_file import ResultFile
    from upright_bramble.present.floor import Row

OUTPUTS = {
    "json": ("result.json",), "layout": ("layout.yaml",), "csv": ("bars.csv",), "diagrams": ("diagrams.svg",
    "diagrams.png"),
    "drawing": ("drawing.dxf",), "report": ("report.html", "report.pdf"), "derivations": (),
}  # fmt: skip
"""Files of each output by their endings; result and layout are always written: all other commands read them.
Derivations stand in the result, where they are wanted; without them a beam takes a third less time, and `why`
works out its one again."""
PLAIN = ("json", "layout", "csv", "derivations")


@dataclass(frozen=True)
class Wishes:
    """How beams are to be designed and what is to be shown of it. `mode`: 'design' or 'check'."""

    fresh: bool = False
    mend: bool = False
    figures: bool = True
    suggest: bool = False
    jobs: int = 1
    as_json: bool = False
    quiet: bool = False
    colour: bool = True
    alternatives: int = 0
    mode: str = "design"
    outputs: tuple[str, ...] = tuple(OUTPUTS)
    again: bool = False
    only: tuple[str, ...] = ()
    sort: str = "file"
    summary: Path | None = None
    cluster: str = ""
    root: Path | None = None
    force: bool = False
    """Whether a summary that is there is overwritten."""


@dataclass(frozen=True)
class Job:
    """One beam to design or check: where from, where to, around what.

    `seen`: digest of its layout file when the run began, which it must still have when it is written. `raw`:
    that file, where a hand has edited it. `before`: the layout that was there, to be mended, checked, or
    compared with. `outputs` by name. `full`: its whole result is to be shown, not a row. `current`: its files
    are of this very input, and are not made again.
    """

    path: Path
    folder: Path
    beam: Beam
    input_sha256: str
    seen: Mapping[str, str]
    held: Layout | None = None
    raw: bytes | None = None
    before: Layout | None = None
    mode: str = "design"
    outputs: tuple[str, ...] = tuple(OUTPUTS)
    suggest: bool = False
    as_json: bool = False
    full: bool = True
    thumbnail: bool = False
    current: bool = False

    @property
    def layout_name(self) -> str:
        return f"{self.beam.mark}.layout.yaml"


@dataclass(frozen=True)
class Made:
    """What was made of a beam and is not yet written: `contents` by name, the row, and what is shown of
    it."""

    row: Row
    contents: Mapping[str, bytes] = field(default_factory=dict)
    result: ResultFile | None = None
    why: str = ""
    layout: Layout | None = None
    seconds: float = 0.0
    """That a round of its design took."""
    data: dict[str, Any] | None = None
    """As result.json has it, where it is to be printed."""


@dataclass(frozen=True)
class Outcome:
    """What came of a beam: its row, its result where it is to be shown (or why there are no bars), its bars,
    names of files kept under a number, and why it was not written."""

    row: Row | None = None
    result: ResultFile | None = None
    why: str = ""
    layout: Layout | None = None
    kept: tuple[str, ...] = ()
    error: str = ""
    outside: bool = True
    seconds: float = 0.0
    data: dict[str, Any] | None = None


@dataclass(frozen=True)
class Read:
    """A beam file read, or what is wrong with it."""

    path: Path
    origin: str = ""
    beam: Beam | None = None
    fault: str = ""


def read_one(path: Path, root: Path | None) -> Read:
    """Read a beam file; its digest is taken before, so that one that changes in between is known as
    changed."""
    try:
        origin = input_digest(path)
        return Read(path, origin, read_beam(path, root))
    except BrambleError as error:
        return Read(path, fault=str(error))


def work_on(job: Job) -> Outcome:
    """Make and write a beam; of one that is up to date only its row is read."""
    if job.current:
        return _as_it_is(job)
    return put(job, make(job))


def _as_it_is(job: Job) -> Outcome:
    from upright_bramble.files.result_reader import find_result
    from upright_bramble.present.floor import row_of

    try:
        result = find_result(job.folder / f"{job.beam.mark}.result.json").data
    except BrambleError as error:  # it went away, or was changed, since it was looked at
        return Outcome(error=str(error))
    data = None
    if job.as_json:
        import json

        data = json.loads((job.folder / f"{job.beam.mark}.result.json").read_text("utf-8"))
    row = replace(row_of(result, str(job.path), thumbnail=job.thumbnail), current=True)
    return Outcome(row, result if job.full else None, data=data)


def make(job: Job) -> Made:
    """Design, mend or check a beam: its files as bytes, nothing written."""
    from upright_bramble.core.quantities import SYSTEMS, worded
    from upright_bramble.files.result_data import result_data
    from upright_bramble.files.result_file import ResultFile
    from upright_bramble.mending import changes, run_mend
    from upright_bramble.pipeline import Designed, run_check, run_design
    from upright_bramble.present.floor import Row, row_of
    from upright_bramble.suggesting import with_suggestions

    began = time.monotonic()
    if job.mode == "check":
        assert job.before is not None
        designed = Designed(run_check(job.beam, job.before), 1)
    elif job.mode == "mend" and job.before is not None:
        designed = run_mend(job.beam, job.before)
    else:
        designed = run_design(job.beam, job.held)
    seconds = (time.monotonic() - began) / max(designed.rounds, 1)
    if job.suggest:
        designed = with_suggestions(designed, job.beam, job.held)
    beam = job.beam
    if designed.result is None:
        words = worded(
            "; ".join([designed.reason, *(f"suggestion: {c}" for c in designed.cures)]), SYSTEMS[beam.units]
        )
        row = Row(
            beam.mark,
            beam.title,
            str(job.path),
            "fail",
            reason=words,
            quantity=beam.quantity,
            units=beam.units,
        )
        return Made(replace(row, seconds=time.monotonic() - began), why=words, seconds=seconds)
    result, tool = designed.result, f"Upright Bramble {__version__}"
    contents: dict[str, bytes] = {}
    sha = job.seen.get(job.layout_name, "")
    if job.mode != "check":
        layout = layout_text(
            beam, result.layout, tool, job.input_sha256 if job.mode == "design" else ""
        ).encode()
        if job.raw is not None and job.before is not None:
            if job.mode == "mend":
                layout = merged_text(
                    job.raw.decode("utf-8-sig"), job.before, beam, result.layout, tool
                ).encode()
            contents[numbered(job.folder, job.layout_name)] = job.raw
        contents[job.layout_name], sha = layout, hashlib.sha256(layout).hexdigest()
    data = result_data(
        result, Origin(job.path.name, job.input_sha256, sha), derived="derivations" in job.outputs
    )
    collected = result.layout
    del designed, result  # what checks read is as large as all the rest, and no longer needed
    issued = ResultFile.model_validate(data)
    contents |= outputs(issued, data, job.outputs)
    row = row_of(issued, str(job.path), thumbnail=job.thumbnail)
    if job.before is not None and job.mode != "check":
        row = replace(row, change=changes(job.before, collected).words)
    return Made(
        replace(row, seconds=time.monotonic() - began),
        contents,
        issued.model_copy(update={"workings": []}) if job.full else None,  # the summary has no derivations
        layout=collected if job.full else None,
        seconds=seconds,
        data=data if job.as_json else None,
    )


def put(job: Job, made: Made) -> Outcome:
    """Write what was made of a beam, whole or not at all."""
    shown = Outcome(made.row, made.result, made.why, made.layout, seconds=made.seconds, data=made.data)
    if not made.contents:
        return shown
    try:
        kept = write_set(job.folder, job.beam.mark, made.contents, seen=job.seen, manifest=True)
    except CannotWrite as error:
        return replace(shown, error=str(error), outside=isinstance(error, BrokenOff))
    except KeyboardInterrupt:
        name = f"{job.beam.mark}.result.json"
        if digest(job.folder / name) != hashlib.sha256(made.contents[name]).hexdigest():
            raise
        kept = ()  # it came when all was written: the beam is done, and the interrupt is answered after it
    return replace(shown, kept=kept)


def outputs(issued: ResultFile, data: dict[str, Any], wanted: Sequence[str]) -> dict[str, bytes]:
    """The files of a result folder that are wanted, but the layout, by name; `data` as result.json has it."""
    from upright_bramble.files.result_data import to_json

    mark = issued.beam.mark
    result = {f"{mark}.result.json": to_json(data).encode()}
    if "csv" in wanted:
        from upright_bramble.present.schedule import schedule_csv, schedule_of

        result[f"{mark}.bars.csv"] = schedule_csv(schedule_of(issued)).encode()
    if "drawing" in wanted:
        from upright_bramble.present.drawing import sheets_of
        from upright_bramble.present.drawing.writers import dxf

        result[f"{mark}.drawing.dxf"] = dxf(sheets_of(issued, __version__))
    if "report" in wanted:
        from upright_bramble.present.report import report_of
        from upright_bramble.present.report import written as report_bytes

        report = report_of([issued], "normal")
        result |= {f"{mark}.report.{kind}": report_bytes(report, kind) for kind in ("html", "pdf")}
    if "diagrams" in wanted:
        from upright_bramble.present.diagrams import diagrams
        from upright_bramble.present.painters import png, svg_file

        scene = diagrams(issued)
        result[f"{mark}.diagrams.svg"] = svg_file(scene)
        result[f"{mark}.diagrams.png"] = png(scene)
    return result
