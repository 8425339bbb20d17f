"""`design` and `check`: read everything, try every folder, then work beam by beam; each beam's files appear together."""

from __future__ import annotations

import contextlib
import hashlib
import os
import time
from collections.abc import Generator, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from upright_bramble.beam import Beam, Layout
from upright_bramble.cli import interrupts
from upright_bramble.cli.output import Call, echo_json, printed, say
from upright_bramble.errors import BrambleError, FromOutside, KeptLayout
from upright_bramble.files.beam_file import read_beam
from upright_bramble.files.layout_file import edited_by_hand, held_part, layout_text, merged_text, read_layout
from upright_bramble.files.result_data import Origin
from upright_bramble.files.result_reader import beam_file_of, file_digest, input_digest
from upright_bramble.files.writing import BrokenOff, CannotWrite, digest, numbered, ready, settle, write_set
from upright_bramble.text import hidden
from upright_bramble.version import __version__

if TYPE_CHECKING:
    from concurrent.futures import Future

    from upright_bramble.files.result_file import ResultFile

SUFFIX = ".beam.yaml"
ENDINGS = ("result.json", "bars.csv", "drawing.dxf", "report.html", "report.pdf", "diagrams.svg", "diagrams.png", "manifest.json")
QUICK = 0.5  # seconds that suggestions may take unasked
FEW_ROUNDS = 3  # that a beam takes which passes


class WorkBrokenOff(FromOutside):
    """Some beams could not be written."""


@dataclass(frozen=True)
class Wishes:
    """How beams are to be designed and what is to be shown of it."""

    fresh: bool = False
    mend: bool = False
    figures: bool = True
    suggest: bool = False
    jobs: int = 1
    as_json: bool = False
    quiet: bool = False
    colour: bool = True
    alternatives: int = 0


@dataclass(frozen=True)
class _Job:
    """One beam to design: where from, where to, around what.

    `seen`: digest of its layout file when the run began, which it must still have when it is written. `raw`: that file, where a hand has
    edited it. `before`: the layout that was there, to be mended, or to be compared with.
    """

    path: Path
    folder: Path
    beam: Beam
    input_sha256: str
    seen: Mapping[str, str]
    held: Layout | None = None
    raw: bytes | None = None
    before: Layout | None = None
    mend: bool = False
    figures: bool = True
    suggest: bool = False
    as_json: bool = False

    @property
    def layout_name(self) -> str:
        return f"{self.beam.mark}.layout.yaml"


@dataclass(frozen=True)
class _Outcome:
    """What came of a beam: its result (or why there are no bars), its bars, names of files kept under a number, and why it was not
    written."""

    result: ResultFile | None
    why: str = ""
    layout: Layout | None = None
    kept: tuple[str, ...] = ()
    error: str = ""
    outside: bool = True
    seconds: float = 0.0
    """That a round of its design took."""
    data: dict[str, Any] | None = None
    """As result.json has it, where it is to be printed."""


def design_all(paths: Sequence[Path], into: Path | None, wishes: Wishes) -> int:
    """0 when every beam passes, 1 when a check fails or something was not verified.

    Faults of any input, and folders that cannot be written, stop all before anything is written. Raises WorkBrokenOff when writing fails
    later, saying what is written and what is not.
    """
    if wishes.fresh and wishes.mend:
        raise Call("--fresh starts over and --mend keeps what there is: give one of them")
    work = _prepared(beam_files(paths), into, wishes)
    outcomes: list[tuple[_Job, _Outcome]] = []
    late: list[tuple[_Job, _Outcome]] = []
    try:
        with contextlib.closing(_run(work, wishes, late)) as designed:
            for number, (job, outcome) in enumerate(designed):
                outcomes.append((job, outcome))
                if not wishes.as_json and not wishes.quiet and not outcome.error:
                    printed(partial(_print_result, job, outcome, wishes, first=number == 0))
                    if len(work) == 1 and not wishes.suggest:
                        printed(partial(_print_suggestions, job, outcome, wishes))
    finally:
        said = _said_of(work, [*outcomes, *late])
    if wishes.as_json:
        data = [o.data or _no_bars(job, o) for job, o in outcomes if not o.error]
        echo_json(data[0] if len(work) == 1 and data else data)
    if said:
        raise said
    return 0 if all(o.result is not None and o.result.verdict.status == "pass" for _, o in outcomes) else 1


def _said_of(work: Sequence[_Job], outcomes: Sequence[tuple[_Job, _Outcome]]) -> BrambleError | None:
    """What was written and what was not, where not all was."""
    errors = [(job, o) for job, o in outcomes if o.error]
    if not errors and len(outcomes) == len(work):
        return None
    written = [job.beam.mark for job, o in outcomes if not o.error and o.result is not None]
    without_bars = [job.beam.mark for job, o in outcomes if not o.error and o.result is None]
    missing = [job.beam.mark for job in work if job.beam.mark not in (*written, *without_bars)]
    lines = [o.error for _, o in errors]
    lines.append(f"written and whole: {', '.join(written) or 'none'}; not written: {', '.join(missing) or 'none'}")
    kind = WorkBrokenOff if written or any(o.outside for _, o in errors) else Call
    said = kind("\n".join(lines))
    if not errors:  # interrupted: said at once, while the interrupt goes on its way
        say(lines[-1])
        return None
    return said


def beam_files(paths: Sequence[Path]) -> list[Path]:
    """The beam files of a call, those of a folder in the order of their names. Raises Call."""
    result: list[Path] = []
    for path in paths:
        if path.is_dir():
            inside = sorted(path.glob(f"*{SUFFIX}"))
            if not inside:
                raise Call(f"{path}: there is no *{SUFFIX} file in this folder")
            result += inside
        elif not path.exists():
            raise Call(f"{path}: there is no such file")
        else:
            result.append(path)
    strange = [p for p in result if hidden(p.name)]
    if strange:
        raise Call(f"{strange[0]}: the name of the file holds the character {hidden(strange[0].name)}; rename it")
    return list(dict.fromkeys(result))


def _prepared(paths: Sequence[Path], into: Path | None, wishes: Wishes) -> list[_Job]:
    """Read everything and try every folder; all faults of all files are told at once, and nothing is written."""
    faults: list[str] = []
    read: list[tuple[Path, Path, Beam, str]] = []
    folders: dict[Path, Path] = {}
    replaced: list[str] = []
    for path in paths:
        try:
            origin = input_digest(
                path
            )  # before it is read: a file that changes in between is known as changed, never taken for the new one
            beam = read_beam(path)
            folder = (into if into is not None else path.parent) / beam.mark
            if folder in folders:
                raise Call(f"{path}: the mark '{beam.mark}' is also that of {folders[folder]}; both would write {folder}")
            folders[folder] = path
            other = beam_file_of(folder / f"{beam.mark}.result.json")
            if other not in ("", path.name) and (path.parent / other).is_file():
                replaced.append(f"warning: {path}: the mark '{beam.mark}' is also that of {other}, whose results in {folder} are replaced")
            if folder.is_symlink():
                raise CannotWrite(f"{folder}: is a link; results are written into a folder of their own")
            ready(folder, [f"{beam.mark}.{ending}" for ending in ENDINGS])
            read.append((path, folder, beam, origin))
        except BrambleError as error:
            faults.append(str(error))
    if faults:
        raise Call("\n".join(faults))
    if replaced and not wishes.quiet:
        say("\n".join(replaced))
    jobs: list[_Job] = []
    for path, folder, beam, origin in read:
        try:
            settle(folder, beam.mark)
            jobs.append(_job(path, folder, beam, origin, wishes))
        except BrambleError as error:
            faults.append(str(error))
    if faults:
        raise Call("\n".join(faults))
    return jobs


def _job(path: Path, folder: Path, beam: Beam, origin: str, wishes: Wishes) -> _Job:
    """With the layout that is there. Raises KeptLayout for one that a hand has edited, unless it is to be mended or replaced."""
    file = folder / f"{beam.mark}.layout.yaml"
    seen = digest(file)
    job = _Job(path, folder, beam, origin, {file.name: seen}, figures=wishes.figures, suggest=wishes.suggest, as_json=wishes.as_json)
    if not seen:
        return job
    raw = file.read_bytes()
    edited = edited_by_hand(raw.decode("utf-8", "replace"))
    if edited and not (wishes.fresh or wishes.mend):
        raise KeptLayout(
            f"{file}: was edited by hand and is not overwritten; `bramble check` verifies it as it is, `bramble design --mend` adds "
            "only what it lacks, `bramble design --fresh` designs anew (entries held: true stay, this file is kept under a number)"
        )
    if not edited and not wishes.mend and b"held: true}" not in raw:  # as it was written, and nothing in it is to stay
        return job
    before = read_layout(file, beam)
    held = None if wishes.mend else held_part(before)
    told = edited or wishes.mend or (held is not None and bool(held.bars or held.stirrups or held.sides))
    return _Job(
        path, folder, beam, origin, {file.name: hashlib.sha256(raw).hexdigest()}, held, raw if edited else None,
        before if told else None, wishes.mend, wishes.figures, wishes.suggest, wishes.as_json,
    )  # fmt: skip


def _run(work: list[_Job], wishes: Wishes, late: list[tuple[_Job, _Outcome]]) -> Generator[tuple[_Job, _Outcome], None, None]:
    """Jobs in order with their outcomes, designed one by one or side by side, with a progress bar for many. Where it is broken off,
    `late` gets what was finished all the same."""
    silent = wishes.quiet or wishes.as_json or len(work) == 1
    one_by_one = len(work) == 1 or wishes.jobs == 1
    outcomes = ((job, _designed(job)) for job in work) if one_by_one else _side_by_side(work, wishes.jobs, late)
    with contextlib.closing(outcomes):
        yield from _shown(outcomes, len(work), silent)


def _shown(outcomes: Iterator[tuple[_Job, _Outcome]], number: int, silent: bool) -> Iterator[tuple[_Job, _Outcome]]:
    if silent:
        for pair in outcomes:
            yield pair
            interrupts.look()
        return
    from rich.progress import Progress

    from upright_bramble.present.terminal import make_console

    with Progress(console=make_console(stderr=True), transient=True) as bar:
        task = bar.add_task("designing", total=number)
        for pair in outcomes:
            bar.advance(task)
            yield pair
            interrupts.look()


def _side_by_side(work: list[_Job], jobs: int, late: list[tuple[_Job, _Outcome]]) -> Generator[tuple[_Job, _Outcome], None, None]:
    from concurrent.futures import ProcessPoolExecutor
    from concurrent.futures.process import BrokenProcessPool
    from multiprocessing import get_context

    futures: list[tuple[_Job, Future[_Outcome]]] = []
    pool = ProcessPoolExecutor(min(jobs, len(work)), mp_context=get_context("spawn"), initializer=interrupts.leave_to_parent)
    try:
        futures += [(job, pool.submit(_designed, job)) for job in work]
        while futures:
            job, future = futures[0]
            try:
                outcome = future.result()
            except BrokenProcessPool:
                outcome = _Outcome(None, error=f"{job.path.name}: the process that designed it was ended from outside")
            futures.pop(0)
            yield job, outcome
    finally:
        pool.shutdown(cancel_futures=True)  # beams that are being designed are finished, and written
        late += [(job, f.result()) for job, f in futures if f.done() and not f.cancelled() and f.exception() is None]


def _designed(job: _Job) -> _Outcome:
    """Design and write."""
    from upright_bramble.core.quantities import SYSTEMS, worded
    from upright_bramble.files.result_data import result_data
    from upright_bramble.files.result_file import ResultFile
    from upright_bramble.mending import run_mend
    from upright_bramble.pipeline import run_design
    from upright_bramble.suggesting import with_suggestions

    began = time.monotonic()
    if job.mend and job.before is not None:
        designed = run_mend(job.beam, job.before)
    else:
        designed = run_design(job.beam, job.held)
    seconds = (time.monotonic() - began) / max(designed.rounds, 1)
    if job.suggest:
        designed = with_suggestions(designed, job.beam, job.held)
    if designed.result is None:
        words = "; ".join([designed.reason, *(f"suggestion: {c}" for c in designed.cures)])
        return _Outcome(None, worded(words, SYSTEMS[job.beam.units]), seconds=seconds)
    result, tool = designed.result, f"Upright Bramble {__version__}"
    layout = layout_text(job.beam, result.layout, tool).encode()
    backup: dict[str, bytes] = {}
    if job.raw is not None and job.before is not None:
        if job.mend:
            layout = merged_text(job.raw.decode("utf-8-sig"), job.before, job.beam, result.layout, tool).encode()
        backup = {numbered(job.folder, job.layout_name): job.raw}
    sha = hashlib.sha256(layout).hexdigest()
    data = result_data(result, Origin(job.path.name, job.input_sha256, sha))
    collected = result.layout
    del designed, result  # what checks read is as large as all the rest, and no longer needed
    issued = ResultFile.model_validate(data)
    contents = outputs(issued, data, figures=job.figures)
    kept_data = data if job.as_json else None
    del data
    said = issued.model_copy(update={"workings": []})  # the summary has no derivations
    del issued
    try:
        kept = write_set(job.folder, job.beam.mark, {**backup, **contents, job.layout_name: layout}, seen=job.seen, manifest=True)
    except CannotWrite as error:
        return _Outcome(said, layout=collected, error=str(error), outside=isinstance(error, BrokenOff))
    except KeyboardInterrupt:
        name = f"{job.beam.mark}.result.json"
        if digest(job.folder / name) != hashlib.sha256(contents[name]).hexdigest():
            raise
        kept = ()  # it came when all was written: the beam is done, and the interrupt is answered after it
    return _Outcome(said, layout=collected, kept=kept, seconds=seconds, data=kept_data)


def _no_bars(job: _Job, outcome: _Outcome) -> dict[str, Any]:
    return {"mark": job.beam.mark, "verdict": {"status": "fail"}, "reason": outcome.why}


def outputs(issued: ResultFile, data: dict[str, Any], *, figures: bool) -> dict[str, bytes]:
    """Every file of a result folder but the layout, by name; `data` as result.json has it."""
    from upright_bramble.files.result_data import to_json
    from upright_bramble.present.schedule import schedule_csv, schedule_of

    mark = issued.beam.mark
    schedule = schedule_of(issued)
    result = {f"{mark}.result.json": to_json(data).encode(), f"{mark}.bars.csv": schedule_csv(schedule).encode()}
    if figures:
        from upright_bramble.present.diagrams import diagrams
        from upright_bramble.present.drawing import sheets_of
        from upright_bramble.present.drawing.writers import dxf
        from upright_bramble.present.painters import png, svg_file
        from upright_bramble.present.report import report_of
        from upright_bramble.present.report import written as report_bytes

        result[f"{mark}.drawing.dxf"] = dxf(sheets_of(issued, __version__))
        report = report_of([issued], "normal")
        result |= {f"{mark}.report.{kind}": report_bytes(report, kind) for kind in ("html", "pdf")}
        scene = diagrams(issued)
        result[f"{mark}.diagrams.svg"] = svg_file(scene)
        result[f"{mark}.diagrams.png"] = png(scene)
    return result


def _print_result(job: _Job, outcome: _Outcome, wishes: Wishes, *, first: bool) -> None:
    from upright_bramble.present.summary import runners_up, summary
    from upright_bramble.present.terminal import make_console, plain

    console, result = make_console(colour=wishes.colour), outcome.result
    if not first:
        console.rule(style="dim", characters="-")
    if result is None:
        console.print(plain(console, f"fail  {job.beam.mark}  {job.beam.title}"), style="bold")
        console.print(plain(console, f"     {outcome.why}"))
        return
    summary(console, result)
    if job.before is not None and outcome.layout is not None:
        from upright_bramble.mending import changes

        console.print(plain(console, f"\nbars {changes(job.before, outcome.layout).words}"))
    if wishes.alternatives:
        runners_up(console, result, wishes.alternatives)
    for name in outcome.kept:
        console.print(plain(console, f"\n     a file that was edited by hand is kept as {name}"))
    console.print(plain(console, f"\n     written to {job.folder}{os.sep}"), style="dim")


def _print_suggestions(job: _Job, outcome: _Outcome, wishes: Wishes) -> None:
    """After verdict and files: what would cure a beam that fails, as far as it can be found in a moment."""
    from upright_bramble.present.summary import suggestions_list
    from upright_bramble.present.terminal import make_console
    from upright_bramble.suggesting import Sought, suggest

    if wishes.mend or (outcome.result is not None and outcome.result.verdict.status != "fail"):
        return
    slow = FEW_ROUNDS * outcome.seconds > QUICK  # not even one other beam would be designed in time
    collected = Sought((), False) if slow else suggest(job.beam, job.held, seconds=QUICK)
    suggestions_list(make_console(colour=wishes.colour), job.beam.units, collected)


def check_layout(path: Path, layout_path: Path, into: Path | None, as_json: bool, quiet: bool, colour: bool) -> int:
    """Verify a layout; where it stands in the folder of a result, renew that result."""
    from upright_bramble.files.result_data import result_data
    from upright_bramble.files.result_file import ResultFile
    from upright_bramble.pipeline import run_check

    for file in (path, layout_path):
        if not file.exists():
            raise Call(f"{file}: there is no such file")
    origin = input_digest(path)  # before it is read: one that changes in between is known as changed
    beam = read_beam(path)
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
        write_set(folder, mark, outputs(issued, data, figures=True), manifest=True)
    elif renewed:
        # the layout of a result: what stands beside it is renewed, and no file more than there was
        files = outputs(issued, data, figures=(home / f"{mark}.diagrams.svg").is_file())
        files = {name: data for name, data in files.items() if (home / name).is_file()}
        write_set(home, mark, files, manifest=True)
    if as_json:
        echo_json(data)
    elif not quiet:
        from upright_bramble.present.summary import summary
        from upright_bramble.present.terminal import make_console

        printed(partial(summary, make_console(colour=colour), issued))
    return 0 if issued.verdict.status == "pass" else 1
