"""Many beams: read and designed one by one, side by side in processes of this machine, or by the workers of a
cluster.

Only a row of each is kept. Outcomes come in the order of the beams, whoever made them and however many at a
time, so that every output is the same on one machine and on many.
"""

from __future__ import annotations

import contextlib
from collections import deque
from collections.abc import Callable, Generator, Iterable, Iterator, Sequence
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

from upright_bramble.cli import interrupts
from upright_bramble.cli.making import Job, Made, Outcome, Read, Wishes, make, put, read_one, work_on
from upright_bramble.cli.output import Call
from upright_bramble.cli.process import prepare_worker

if TYPE_CHECKING:
    from concurrent.futures import Future, ProcessPoolExecutor

AHEAD = 4  # beams a worker that are handed out at a time
FEW = 8  # beams that are read faster by one process than by several
CONNECTED_WITHIN = "10s"  # a scheduler that is busy answers late
RETRIES = 3  # times that a beam is tried again on a cluster whose worker was lost
In = TypeVar("In")
Out = TypeVar("Out")


def read_all(paths: Sequence[Path], wishes: Wishes) -> Iterator[Read]:
    """Every beam file read, in order."""
    if wishes.jobs == 1 or len(paths) <= FEW or wishes.cluster:
        yield from (read_one(path, wishes.root) for path in paths)
        return
    with contextlib.closing(_pool(min(wishes.jobs, len(paths)))) as pool:
        for _, future in _windowed(pool, partial(read_one, root=wishes.root), paths, AHEAD * wishes.jobs):
            yield future.result()


def mapped(function: Callable[[In], Out], values: Sequence[In], jobs: int, what: str = "") -> list[Out]:
    """A function of every value, in order, in several processes where there are many; with a progress bar
    where it is `what`."""
    if jobs == 1 or len(values) < 2:
        results: Iterator[Out] = (function(value) for value in values)
        return list(_with_bar(results, len(values), what))
    with contextlib.closing(_pool(min(jobs, len(values)))) as pool:
        done = (future.result() for _, future in _windowed(pool, function, values, AHEAD * jobs))
        return list(_with_bar(done, len(values), what))


def run(
    work: list[Job], wishes: Wishes, late: list[tuple[Job, Outcome]]
) -> Generator[tuple[Job, Outcome], None, None]:
    """Jobs in order with their outcomes, with a progress bar for many. Where it is broken off, `late` gets
    what was finished all the same."""
    silent = wishes.quiet or wishes.as_json or len(work) == 1
    what = "" if silent else "checking" if wishes.mode == "check" else "designing"
    if wishes.cluster:
        outcomes: Generator[tuple[Job, Outcome], None, None] = _on_cluster(work, wishes.cluster)
    elif len(work) == 1 or wishes.jobs == 1:
        outcomes = ((job, work_on(job)) for job in work)
    else:
        outcomes = _side_by_side(work, wishes.jobs, late)
    with contextlib.closing(outcomes):
        yield from _with_bar(outcomes, len(work), what)


def _with_bar(values: Iterator[Out], number: int, what: str) -> Iterator[Out]:
    """With a bar on a terminal that shows how many are done and the time left; none where it is nothing."""
    if not what:
        for value in values:
            yield value
            interrupts.look()
        return
    from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn, TimeRemainingColumn

    from upright_bramble.present.palette import BERRY
    from upright_bramble.present.terminal import make_console

    bar_column = BarColumn(complete_style=BERRY, finished_style=BERRY)
    columns = (
        TextColumn("{task.description}"),
        bar_column,
        MofNCompleteColumn(),
        TextColumn("time left"),
        TimeRemainingColumn(),
    )
    with Progress(*columns, console=make_console(stderr=True), transient=True) as bar:
        task = bar.add_task(what, total=number)
        for value in values:
            bar.advance(task)
            yield value
            interrupts.look()


class _Closing:
    """A pool whose running work is finished, and whose waiting work is dropped, when it is closed."""

    def __init__(self, pool: ProcessPoolExecutor) -> None:
        self.pool = pool

    def submit(self, function: Callable[[In], Out], value: In) -> Future[Out]:
        return self.pool.submit(function, value)

    def close(self) -> None:
        self.pool.shutdown(cancel_futures=True)


def _pool(jobs: int) -> _Closing:
    from concurrent.futures import ProcessPoolExecutor
    from multiprocessing import get_context

    return _Closing(ProcessPoolExecutor(jobs, mp_context=get_context("spawn"), initializer=prepare_worker))


def _windowed(
    pool: _Closing, function: Callable[[In], Out], values: Iterable[In], ahead: int
) -> Iterator[tuple[In, Future[Out]]]:
    """Values in order with their futures, each finished when it is given, a few handed out ahead."""
    from concurrent.futures import wait

    waiting: deque[tuple[In, Future[Out]]] = deque()
    for value in values:
        waiting.append((value, pool.submit(function, value)))
        if len(waiting) >= ahead:
            wait([waiting[0][1]])
            yield waiting.popleft()
    while waiting:
        wait([waiting[0][1]])
        yield waiting.popleft()


def _side_by_side(
    work: list[Job], jobs: int, late: list[tuple[Job, Outcome]]
) -> Generator[tuple[Job, Outcome], None, None]:
    from concurrent.futures import wait
    from concurrent.futures.process import BrokenProcessPool

    waiting: deque[tuple[Job, Future[Outcome]]] = deque()
    rest = iter(work)
    pool = _pool(min(jobs, len(work)))
    try:
        failure = ""
        while True:
            while len(waiting) < AHEAD * jobs and (job := next(rest, None)) is not None:
                if failure:
                    yield job, Outcome(error=f"{job.path.name}: {failure}")
                    continue
                try:
                    waiting.append((job, pool.submit(work_on, job)))
                except BrokenProcessPool:
                    failure = "the process that designed it was ended from outside"
                    yield job, Outcome(error=f"{job.path.name}: {failure}")
            if not waiting:
                return
            job, future = waiting[0]
            wait([future])
            try:
                outcome = future.result()
            except BrokenProcessPool:
                outcome = Outcome(
                    error=f"{job.path.name}: the process that designed it was ended from outside"
                )
            waiting.popleft()
            yield job, outcome
    finally:
        pool.close()  # beams that are being designed are finished, and written
        late += [
            (job, f.result())
            for job, f in waiting
            if f.done() and not f.cancelled() and f.exception() is None
        ]


def _on_cluster(work: list[Job], address: str) -> Generator[tuple[Job, Outcome], None, None]:
    """Made by the workers of a cluster, written here: they need no folder of this machine."""
    client = _client(address)
    waiting: deque[tuple[Job, Any]] = deque()
    rest = iter(work)
    try:
        ahead = AHEAD * max(sum(client.nthreads().values()), 1)
        while True:
            while len(waiting) < ahead and (job := next(rest, None)) is not None:
                made = (
                    None if job.current else client.submit(_made_by_worker, job, pure=False, retries=RETRIES)
                )
                waiting.append((job, made))
            if not waiting:
                return
            job, future = waiting.popleft()
            if future is None:
                yield job, work_on(job)
                continue
            yield job, _from_cluster(job, future)
            future.release()
    finally:
        for _, future in waiting:
            if future is not None:
                future.cancel()
        client.close()


def _made_by_worker(job: Job) -> tuple[str, Made]:
    """On a worker: the version that it has, and what it made."""
    from upright_bramble.version import __version__

    return __version__, make(job)


def _from_cluster(job: Job, future: Any) -> Outcome:
    from upright_bramble.version import __version__

    try:
        version, made = future.result()
    except Exception as error:  # whatever a scheduler, a network or a worker fails with
        lines = str(error).strip().splitlines() or [type(error).__name__]
        return Outcome(error=f"{job.path.name}: the cluster failed: {lines[0][:200]}")
    if version != __version__:
        return Outcome(
            error=(
                f"{job.path.name}: a worker of the cluster has version {version}, here is {__version__}: not "
                "written"
            )
        )
    assert isinstance(made, Made)
    return put(job, made)


def _connected(address: str) -> Any:
    from distributed import Client

    make_client: Any = Client
    return make_client(address, timeout=CONNECTED_WITHIN, set_as_default=False)


def _client(address: str) -> Any:
    """A connection to a scheduler. Raises Call."""
    try:
        import distributed  # noqa: F401 - an optional extra
    except ImportError:
        raise Call("--cluster needs the extra: pip install 'upright-bramble[cluster]'") from None
    import logging

    logging.getLogger("distributed").setLevel(logging.CRITICAL)
    try:
        client = _connected(address)
    except (OSError, ValueError, TimeoutError) as error:
        reason = (str(error).strip().splitlines() or ["no answer"])[0][:160]
        raise Call(f"--cluster {address[:80]}: cannot be reached: {reason}") from None
    if not client.nthreads():
        client.close()
        raise Call(f"--cluster {address[:80]}: has no worker")
    return client
