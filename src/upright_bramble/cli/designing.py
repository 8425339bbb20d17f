"""`design` and `check`: read everything, try every folder, then work beam by beam; each beam's files appear
together.

A beam is made (a pure function of what was read, wherever it runs) and then written; of many beams only a row
each is kept.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
import re
import time
from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from upright_bramble.beam import Beam
from upright_bramble.cli.finding import beam_files, shard_of
from upright_bramble.cli.making import OUTPUTS, PLAIN, Job, Outcome, Read, Wishes, outputs
from upright_bramble.cli.many import read_all, run
from upright_bramble.cli.output import Call, echo_json, printed, say
from upright_bramble.errors import BrambleError, FromOutside, KeptLayout
from upright_bramble.files.beam_file import read_beam
from upright_bramble.files.layout_file import designed_for, edited_by_hand, held_part, read_layout
from upright_bramble.files.result_data import Origin
from upright_bramble.files.result_reader import beam_file_of, file_digest, input_digest
from upright_bramble.files.writing import (
    CannotWrite,
    digest,
    ready,
    settle,
    unfinished,
    write_set,
    written_digests,
)
from upright_bramble.version import __version__

if TYPE_CHECKING:
    from upright_bramble.present.floor import Row

ENDINGS = (
    "result.json",
    "bars.csv",
    "drawing.dxf",
    "report.html",
    "report.pdf",
    "diagrams.svg",
    "diagrams.png",
    "manifest.json",
)
QUICK = 0.5  # seconds that suggestions may take unasked
FEW_ROUNDS = 3  # that a beam takes which passes


class WorkBrokenOff(FromOutside):
    """Some beams could not be written."""


def design_all(
    paths: Sequence[Path],
    into: Path | None,
    wishes: Wishes,
    mark: str | None = None,
    shard: str | None = None,
) -> int:
    """0 when every beam passes, 1 when a check fails or something was not verified.

    Faults of any input, and folders that cannot be written, stop all before anything is written. Raises
    WorkBrokenOff when writing fails later, saying what is written and what is not.
    """
    if wishes.fresh and wishes.mend:
        raise Call("--fresh starts afresh and --mend keeps the layout: give one of them")
    began = time.monotonic()
    if wishes.summary is not None:
        _summary_usable(wishes.summary, wishes.force)
    files = beam_files(paths, mark, shard_of(shard))
    if not files:
        if wishes.as_json:
            echo_json([])
        return 0  # a part of few beams may be empty
    work = prepared(files, into, wishes)
    outcomes: list[tuple[Job, Outcome]] = []
    late: list[tuple[Job, Outcome]] = []
    several = len(work) > 1
    stamps = [_stamp(job) for job in work]
    try:
        for job, outcome in run(work, wishes, late):
            outcomes.append((job, outcome))
            if not several and not wishes.as_json and not wishes.quiet and not outcome.error:
                printed(partial(_print_result, job, outcome, wishes))
                if not wishes.suggest:
                    printed(partial(_print_suggestions, job, outcome, wishes))
    finally:
        failure = _failure_of(work, _with_unnoted(work, [*outcomes, *late], stamps))
    rows = [
        o.row
        for _, o in outcomes
        if o.row is not None and not o.error and (not wishes.only or o.row.status in wishes.only)
    ]
    if several and not wishes.as_json and not wishes.quiet:
        printed(partial(_print_rows, rows, wishes, time.monotonic() - began, len(work)))
    if wishes.summary is not None and rows:
        _write_summary(rows, wishes)
    if wishes.as_json:
        data = [o.data or _no_bars(job, o) for job, o in outcomes if not o.error]
        echo_json(data[0] if len(work) == 1 and data else data)
    if failure:
        raise failure
    return 0 if all(o.row is not None and o.row.status == "pass" for _, o in outcomes) else 1


def _summary_usable(path: Path, force: bool) -> None:
    """Raises Call for a summary that cannot be written."""
    from upright_bramble.present.floor import FORMATS

    if path.suffix.lower().lstrip(".") not in FORMATS:
        raise Call(f"{path}: a summary is {', '.join('.' + k for k in FORMATS)}")
    ready(path.parent, [path.name])
    if digest(path) and not force:
        raise Call(f"{path} already exists; choose another name, or --force to overwrite it")


def _write_summary(rows: Sequence[Row], wishes: Wishes) -> None:
    from upright_bramble.files.writing import write_one
    from upright_bramble.present.floor import floor_file, sorted_rows

    assert wishes.summary is not None
    kind = wishes.summary.suffix.lower().lstrip(".")
    by = wishes.sort if wishes.sort != "time" else "file"  # a time is of this run alone
    write_one(
        wishes.summary,
        floor_file(sorted_rows(rows, by), kind, f"Upright Bramble {__version__}"),
        force=wishes.force,
    )


def _print_rows(rows: Sequence[Row], wishes: Wishes, seconds: float, of: int) -> None:
    from upright_bramble.present.floor import floor_table, sorted_rows
    from upright_bramble.present.terminal import make_console

    floor_table(make_console(colour=wishes.colour), sorted_rows(rows, wishes.sort), seconds, of)


def _stamp(job: Job) -> tuple[int, int]:
    """What a result file is known again by: one that was written since has another; zeros where there is
    none."""
    with contextlib.suppress(OSError):
        seen = (job.folder / f"{job.beam.mark}.result.json").stat()
        return seen.st_ino, seen.st_mtime_ns
    return 0, 0


def _with_unnoted(
    work: Sequence[Job], known: Sequence[tuple[Job, Outcome]], stamps: Sequence[tuple[int, int]]
) -> list[tuple[Job, Outcome]]:
    """Outcomes in the order of the work, with the beams whose files an interruption met between the last of
    them and the note of it: these are whole."""
    noted = {id(job): outcome for job, outcome in known}
    for job, before in zip(work, stamps, strict=True):
        if _stamp(job) not in (before, (0, 0)) and not unfinished(job.folder, job.beam.mark):
            noted.setdefault(id(job), Outcome())
    return [(job, noted[id(job)]) for job in work if id(job) in noted]


def _failure_of(work: Sequence[Job], outcomes: Sequence[tuple[Job, Outcome]]) -> BrambleError | None:
    """What was written and what was not, where not all was."""
    errors = [(job, o) for job, o in outcomes if o.error]
    if not errors and len(outcomes) == len(work):
        return None
    written = [job.beam.mark for job, o in outcomes if not o.error and not o.why]
    without_bars = [job.beam.mark for job, o in outcomes if not o.error and o.why]
    missing = [job.beam.mark for job in work if job.beam.mark not in (*written, *without_bars)]
    lines = [o.error for _, o in errors]
    lines.append(
        f"written and complete: {', '.join(written) or 'none'}; not written: {', '.join(missing) or 'none'}"
    )
    kind = WorkBrokenOff if written or any(o.outside for _, o in errors) else Call
    failure = kind("\n".join(lines))
    if not errors:  # interrupted: said at once, while the interrupt goes on its way
        say(lines[-1])
        return None
    return failure


def prepared(paths: Sequence[Path], into: Path | None, wishes: Wishes) -> list[Job]:
    """Read everything and try every folder; all faults of all files are told at once, and nothing is
    written."""
    faults: list[str] = []
    read: list[tuple[Read, Path, Beam]] = []
    folders: dict[Path, Path] = {}
    replaced: list[str] = []
    for one in read_all(paths, wishes):
        if one.beam is None:
            faults.append(one.fault)
            continue
        try:
            folder, warnings = _folder_of(one, one.beam, into, folders)
            replaced += warnings
            read.append((one, folder, one.beam))
        except BrambleError as error:
            faults.append(str(error))
    if faults:
        raise Call("\n".join(faults))
    if replaced and not wishes.quiet:
        say("\n".join(replaced))
    jobs: list[Job] = []
    for one, folder, beam in read:
        try:
            settle(folder, beam.mark)
            full = len(read) == 1
            job = Job(
                one.path,
                folder,
                beam,
                one.origin,
                {},
                mode=wishes.mode,
                outputs=_outputs(wishes, folder, beam.mark),
                suggest=wishes.suggest,
                as_json=wishes.as_json,
                full=full,
                thumbnail=wishes.summary is not None and wishes.summary.suffix.lower() == ".html",
            )
            jobs.append((_to_check if wishes.mode == "check" else _to_design)(job, wishes))
        except BrambleError as error:
            faults.append(str(error))
    if faults:
        raise Call("\n".join(faults))
    return jobs


def _folder_of(one: Read, beam: Beam, into: Path | None, folders: dict[Path, Path]) -> tuple[Path, list[str]]:
    """The folder of a beam's results, tried, and a warning where they are those of another file. Raises
    BrambleError."""
    path, notes = one.path, []
    folder = (into if into is not None else path.parent) / beam.mark
    if folder in folders:
        raise Call(
            f"{path}: the mark '{beam.mark}' is also that of {folders[folder]}; both would write {folder}"
        )
    folders[folder] = path
    other = beam_file_of(folder / f"{beam.mark}.result.json")
    if other not in ("", path.name) and (path.parent / other).is_file():
        notes.append(
            f"warning: {path}: the mark '{beam.mark}' is also that of {other}, whose results in {folder} are "
            "replaced"
        )
    if folder.is_symlink():
        raise CannotWrite(f"{folder}: is a link; results are written into a folder of their own")
    ready(folder, [f"{beam.mark}.{ending}" for ending in ENDINGS])
    return folder, notes


def _outputs(wishes: Wishes, folder: Path, mark: str) -> tuple[str, ...]:
    """What is written of a beam: of a checked one what there is already."""
    wanted = wishes.outputs if wishes.figures else tuple(o for o in wishes.outputs if o in PLAIN)
    if wishes.mode == "check":
        wanted = tuple(
            o for o, endings in OUTPUTS.items() if endings and (folder / f"{mark}.{endings[0]}").is_file()
        )
        wanted += ("derivations",) * _has_derivations(folder / f"{mark}.result.json")
    return tuple(dict.fromkeys((*("json", "layout"), *wanted)))


def _to_check(job: Job, wishes: Wishes) -> Job:
    """With the layout in the beam's result folder. Raises Call where there is none."""
    file = job.folder / job.layout_name
    seen = digest(file)
    if not seen:
        raise Call(
            f"{job.path}: there is no {file} to check; `bramble design {job.path}` makes one, or name the "
            "layout"
        )
    job = replace(job, seen={file.name: seen})
    if not wishes.again and _current(job, seen):
        return replace(job, current=True)
    return replace(job, before=read_layout(file, job.beam))


def _to_design(job: Job, wishes: Wishes) -> Job:
    """With the layout that is there. Raises KeptLayout for one that a hand has edited, unless it is to be
    mended or replaced."""
    file = job.folder / job.layout_name
    seen = digest(file)
    job = replace(job, mode="mend" if wishes.mend else "design", seen={file.name: seen})
    if not seen:
        return job
    raw = file.read_bytes()
    edited = edited_by_hand(raw.decode("utf-8", "replace"))
    if edited and not (wishes.fresh or wishes.mend):
        raise KeptLayout(
            f"{file}: was edited by hand and is not overwritten; `bramble check` verifies it as it is, "
            "`bramble design --mend` adds only what it lacks, `bramble design --fresh` designs anew "
            "(entries held: true stay, this file is kept under a number)"
        )
    anew = wishes.again or wishes.fresh or wishes.suggest or bool(wishes.alternatives)
    own = not edited and designed_for(raw.decode("utf-8", "replace"), job.input_sha256)
    if own and not anew and _current(job, hashlib.sha256(raw).hexdigest()):
        return replace(job, current=True)
    job = replace(job, seen={file.name: hashlib.sha256(raw).hexdigest()})
    if (
        not edited and not wishes.mend and b"held: true}" not in raw
    ):  # as it was written, and nothing in it is to stay
        return job
    before = read_layout(file, job.beam)
    held = None if wishes.mend else held_part(before)
    explicit = edited or wishes.mend or (held is not None and bool(held.bars or held.stirrups or held.sides))
    return replace(job, held=held, raw=raw if edited else None, before=before if explicit else None)


_HEAD = re.compile(rb'"(tool_version|input_sha256|layout_sha256|derived)": "?([^",]*)"?')


def _has_derivations(result: Path) -> bool:
    """Whether a result holds them; one that is yet to come does."""
    try:
        with open(result, "rb") as file:
            return b'"derived": false' not in file.read(2000)
    except OSError:
        return True


def _current(job: Job, layout_sha256: str) -> bool:
    """Whether the files of a beam are of this very input, layout and version, all that are wanted, none
    changed since."""
    mark = job.beam.mark
    try:
        with open(job.folder / f"{mark}.result.json", "rb") as file:
            head = {k.decode(): v.decode() for k, v in _HEAD.findall(file.read(2000))}
    except (OSError, UnicodeDecodeError):
        return False
    derived = head.pop("derived", "") == "true"
    if head != {
        "tool_version": __version__,
        "input_sha256": job.input_sha256,
        "layout_sha256": layout_sha256,
    }:
        return False
    if "derivations" in job.outputs and not derived:
        return False
    names = [f"{mark}.{ending}" for output in job.outputs for ending in OUTPUTS[output] if output != "layout"]
    known = written_digests(job.folder, mark) or {}
    return all(known.get(name) and known[name] == digest(job.folder / name) for name in names)


def _no_bars(job: Job, outcome: Outcome) -> dict[str, Any]:
    return {"mark": job.beam.mark, "verdict": {"status": "fail"}, "reason": outcome.why}


def _print_result(job: Job, outcome: Outcome, wishes: Wishes) -> None:
    from upright_bramble.present.summary import runners_up, summary
    from upright_bramble.present.terminal import make_console, plain

    console, result = make_console(colour=wishes.colour), outcome.result
    if result is None:
        console.print(plain(console, f"fail  {job.beam.mark}  {job.beam.title}"), style="bold")
        console.print(plain(console, f"     {outcome.why}"))
        return
    summary(console, result)
    if outcome.row is not None and outcome.row.change:
        console.print(plain(console, f"\nbars {outcome.row.change}"))
    if wishes.alternatives:
        runners_up(console, result, wishes.alternatives)
    for name in outcome.kept:
        console.print(plain(console, f"\n     a file that was edited by hand is kept as {name}"))
    if outcome.row is not None and outcome.row.current:
        console.print(
            plain(console, f"\n     up to date in {job.folder}{os.sep}; --again makes it anew"), style="dim"
        )
    else:
        console.print(plain(console, f"\n     written to {job.folder}{os.sep}"), style="dim")


def _print_suggestions(job: Job, outcome: Outcome, wishes: Wishes) -> None:
    """After verdict and files: what would cure a beam that fails, as far as it can be found in a moment."""
    from upright_bramble.present.summary import suggestions_list
    from upright_bramble.present.terminal import make_console
    from upright_bramble.suggesting import Sought, suggest

    current = outcome.row is not None and outcome.row.current
    failing = outcome.result is None or outcome.result.verdict.status == "fail"
    if (
        wishes.mode != "design" or wishes.mend or current or not failing or job.beam.levels
    ):  # levels are changed in their own files
        return
    slow = FEW_ROUNDS * outcome.seconds > QUICK  # not even one other beam would be designed in time
    collected = Sought((), False) if slow else suggest(job.beam, job.held, seconds=QUICK)
    suggestions_list(make_console(colour=wishes.colour), job.beam.units, collected)


def check_layout(
    path: Path,
    layout_path: Path,
    into: Path | None,
    as_json: bool,
    quiet: bool,
    colour: bool,
    root: Path | None,
) -> int:
    """Verify a layout; where it stands in the folder of a result, renew that result."""
    from upright_bramble.files.result_data import result_data
    from upright_bramble.files.result_file import ResultFile
    from upright_bramble.pipeline import run_check

    for file in (path, layout_path):
        if not file.exists():
            raise Call(f"{file}: there is no such file")
    origin = input_digest(path)  # before it is read: one that changes in between is known as changed
    beam = read_beam(path, root)
    home, mark = layout_path.parent, beam.mark
    own = layout_path.name == f"{mark}.layout.yaml"
    if own:
        settle(home, mark)
    renewed = own and (home / f"{mark}.result.json").is_file()
    folder = into / mark if into is not None else home
    if into is not None or renewed:
        ready(folder, [f"{mark}.{ending}" for ending in ENDINGS])
    layout_sha = file_digest(layout_path)
    result = run_check(beam, read_layout(layout_path, beam))
    derived = into is not None or renewed or as_json
    data = result_data(result, Origin(path.name, origin, layout_sha), derived=derived)
    issued = ResultFile.model_validate(data)
    if into is not None:
        write_set(folder, mark, outputs(issued, data, tuple(OUTPUTS)), manifest=True)
    elif renewed:
        # the layout of a result: what stands beside it is renewed, and no file more than there was
        existing = [
            name
            for name, endings in OUTPUTS.items()
            if any((home / f"{mark}.{e}").is_file() for e in endings)
        ]
        files = outputs(issued, data, existing)
        write_set(
            home, mark, {name: data for name, data in files.items() if (home / name).is_file()}, manifest=True
        )
    if as_json:
        echo_json(data)
    elif not quiet:
        from upright_bramble.present.summary import summary
        from upright_bramble.present.terminal import make_console

        printed(partial(summary, make_console(colour=colour), issued))
    return 0 if issued.verdict.status == "pass" else 1
