"""`watch`: a beam designed, or its layout checked, again each time a file is saved. Nothing is written; a
page is served to this machine alone, and only where it is wanted."""

from __future__ import annotations

import contextlib
import hashlib
import time
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from upright_bramble.beam import Beam
from upright_bramble.cli import interrupts
from upright_bramble.cli.output import Call, echo, printed, say
from upright_bramble.errors import BrambleError
from upright_bramble.files.beam_file import read_beam
from upright_bramble.files.layout_file import edited_by_hand, held_part, read_layout
from upright_bramble.files.result_reader import file_digest, named_beams, named_files
from upright_bramble.files.yaml_source import load_yaml

if TYPE_CHECKING:
    from upright_bramble.cli.page_server import Page
    from upright_bramble.files.result_file import ResultFile

QUIET = 0.08  # seconds without a change, after which files count as saved
LOOK = 1000  # milliseconds after which files are looked at in any case


@dataclass
class Watch:
    """What is watched and what was seen last: digests by file, and the last result to compare with."""

    path: Path
    layout: Path | None
    root: Path | None
    colour: bool
    page: Page | None = None
    digests: dict[Path, str] = field(default_factory=dict)
    last: ResultFile | None = None
    rounds: int = 0

    def files(self) -> list[Path]:
        """The beam file, what it names, and the layout: as they are named now."""
        result = [self.path]
        waiting = [self.path]
        while waiting:
            path = waiting.pop()
            try:
                data = load_yaml(path).data
            except BrambleError:
                continue
            result += [path.parent / name for name in named_files(data)]
            more = [path.parent / name for name in named_beams(data)]
            waiting += [m for m in more if m not in result]
            result += more
        layout = self._layout_file()
        return list(dict.fromkeys([*result, *([layout] if layout is not None else [])]))

    def _layout_file(self) -> Path | None:
        if self.layout is not None:
            return self.layout
        with contextlib.suppress(BrambleError):
            data = load_yaml(self.path).data
            mark = str(data.get("mark", "")) if isinstance(data, dict) else ""
            if mark and Path(mark).name == mark:
                return self.path.parent / mark / f"{mark}.layout.yaml"
        return None

    def changed(self) -> bool:
        """Whether the contents of a file are others than at the last look."""
        now = {path: file_digest(path) for path in self.files()}
        if now == self.digests:
            return False
        self.digests = now
        return True

    def look(self) -> None:
        """Read, design or check, show: verdict first, what changed, suggestions last."""
        self.rounds += 1
        began = time.monotonic()
        try:
            beam = read_beam(self.path, self.root)
            result, how = self._result(beam)
        except BrambleError as error:
            if self.page is not None:
                self.page.show_fault(str(error))
            say(str(error))
            return
        seconds = time.monotonic() - began
        if result is None:
            echo(f"fail  {beam.mark}  {how}")
            return
        before, self.last = self.last, result
        printed(partial(self._print, result, before, how, seconds))
        if self.page is not None:
            self.page.show(result, before, how)
        if result.verdict.status == "fail" and how == "designed":
            self._suggest(beam)

    def _result(self, beam: Beam) -> tuple[ResultFile | None, str]:
        """With the layout that was named, or one that a hand has edited, a check; else a design around what
        is held."""
        from upright_bramble.core.quantities import SYSTEMS, worded
        from upright_bramble.files.result_data import result_model
        from upright_bramble.pipeline import run_check, run_design

        file = self._layout_file()
        held = None
        if file is not None and file.is_file():
            text = file.read_text("utf-8", "replace")
            if self.layout is not None or edited_by_hand(text):
                return result_model(run_check(beam, read_layout(file, beam))), f"checked with {file.name}"
            if "held: true}" in text:
                held = held_part(read_layout(file, beam))
        designed = run_design(beam, held)
        if designed.result is None:
            return None, worded(designed.reason, SYSTEMS[beam.units])
        return result_model(designed.result), "designed"

    def _print(self, result: ResultFile, before: ResultFile | None, how: str, seconds: float) -> None:
        from upright_bramble.present.saved import since_last_save
        from upright_bramble.present.summary import summary
        from upright_bramble.present.terminal import make_console, plain

        console = make_console(colour=self.colour)
        console.rule(plain(console, f"{self.rounds}: {how} in {seconds:.1f} s"), style="dim", characters="-")
        summary(console, result)
        for line in since_last_save(before, result):
            console.print(plain(console, line))

    def _suggest(self, beam: Beam) -> None:
        """After the verdict: what would cure it, as far as it is found in a moment."""
        from upright_bramble.present.summary import suggestions_list
        from upright_bramble.present.terminal import make_console
        from upright_bramble.suggesting import suggest

        suggestions = suggest(beam, seconds=0.5)
        printed(partial(suggestions_list, make_console(colour=self.colour), beam.units, suggestions))
        if self.page is not None:
            self.page.show_suggestions(beam.units, suggestions.texts)


def watch(path: Path, layout: Path | None, page: bool, port: int, root: Path | None, colour: bool) -> int:
    """Until it is interrupted. Raises Call for a file that is not there."""
    for file in (path, layout):
        if file is not None and not file.is_file():
            raise Call(f"{file}: there is no such file")
    with contextlib.ExitStack() as stack:
        served = None
        if page:
            from upright_bramble.cli.page_server import Page

            served = stack.enter_context(Page.serving(port))
            say(f"page: {served.address}")
        state = Watch(path, layout, root, colour, served)
        state.changed()
        state.look()
        say("watching; Ctrl-C ends it")
        for _ in _saves(state):
            interrupts.look()
            if state.changed():
                state.look()
    return 0


def _saves(state: Watch) -> Iterator[None]:
    """Each time something in the folders of the watched files changes (editors replace a file as often as
    they write into it), and once a second in any case: what is saved before the watch has begun, or where
    folders tell nothing, is seen too."""
    from watchfiles import watch as changes

    while True:
        files = state.files()
        folders = sorted({f.parent.resolve() for f in files if f.parent.is_dir()})
        names = {f.name for f in files}
        again = _names_of(state)

        def wanted(_change: object, name: str, names: set[str] = names) -> bool:
            return Path(name).name in names

        for _ in changes(
            *folders,
            watch_filter=wanted,
            debounce=int(1000 * QUIET),
            step=40,
            rust_timeout=LOOK,
            yield_on_timeout=True,
            recursive=False,
        ):
            yield
            if _names_of(state) != again:
                break  # the file names others now: these are watched from here on


def _names_of(state: Watch) -> str:
    return hashlib.sha256("\n".join(str(f) for f in state.files()).encode()).hexdigest()
