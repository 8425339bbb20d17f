"""Writing under bad luck: edits meanwhile, two runs at once, full disks, every signal at every step."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest

import yaml_beams
from upright_bramble.errors import FromOutside
from upright_bramble.files import writing
from upright_bramble.files.result_reader import NoResult, find_result
from upright_bramble.files.writing import (
    BrokenOff,
    CannotWrite,
    ChangedMeanwhile,
    Unfinished,
    digest,
    settle,
    whole,
    write_one,
    write_set,
)

posix = pytest.mark.skipif(os.name != "posix", reason="needs signals, locks and processes of POSIX")
OLD = {"S1.a": b"old a" * 100, "S1.b": b"old b", "S1.c": b"old c"}
NEW = {"S1.a": b"new a" * 100, "S1.b": b"new b", "S1.d": b"new d"}


def contents(folder: Path) -> dict[str, bytes]:
    return {p.name: p.read_bytes() for p in folder.iterdir() if p.is_file() and "manifest" not in p.name}


def test_a_set_is_written_with_its_manifest(tmp_path):
    folder = tmp_path / "S1"
    assert write_set(folder, "S1", OLD, manifest=True) == ()
    assert contents(folder) == OLD
    listed = json.loads((folder / "S1.manifest.json").read_text("utf-8"))
    assert set(listed["files"]) == set(OLD)
    assert sorted(p.name for p in folder.iterdir()) == ["S1.a", "S1.b", "S1.c", "S1.manifest.json"]
    before = (folder / "S1.a").stat().st_ino
    assert write_set(folder, "S1", OLD, manifest=True) == ()
    assert (folder / "S1.a").stat().st_ino == before  # nothing to write, nothing written


def test_a_file_that_a_hand_has_changed_is_kept_under_a_number(tmp_path):
    write_set(tmp_path, "S1", OLD, manifest=True)
    (tmp_path / "S1.b").write_bytes(b"mine")
    assert write_set(tmp_path, "S1", NEW, manifest=True) == ("S1.1.b",)
    assert (tmp_path / "S1.1.b").read_bytes() == b"mine"
    assert (tmp_path / "S1.b").read_bytes() == b"new b"
    assert write_set(tmp_path, "S1", OLD, manifest=True) == ()  # as the program wrote it: nothing to keep
    assert not (tmp_path / "S1.2.b").exists()


def test_what_changes_meanwhile_is_never_overwritten(tmp_path):
    write_set(tmp_path, "S1", OLD)
    seen = {"S1.b": digest(tmp_path / "S1.b"), "S1.d": ""}
    same = (tmp_path / "S1.b").stat()
    (tmp_path / "S1.b").write_bytes(b"OLD B")  # of the same length, at the same time
    os.utime(tmp_path / "S1.b", ns=(same.st_atime_ns, same.st_mtime_ns))
    with pytest.raises(ChangedMeanwhile, match=r"S1\.b: was changed while this ran"):
        write_set(tmp_path, "S1", NEW, seen=seen)
    assert contents(tmp_path) == OLD | {"S1.b": b"OLD B"}
    (tmp_path / "S1.d").write_bytes(b"somebody's")
    with pytest.raises(ChangedMeanwhile, match=r"S1\.d: has appeared"):
        write_set(tmp_path, "S1", NEW, seen={"S1.d": ""})
    (tmp_path / "S1.b").unlink()
    with pytest.raises(ChangedMeanwhile, match=r"S1\.b: was taken away"):
        write_set(tmp_path, "S1", {"S1.b": b"new b"}, seen=seen)
    assert not list(tmp_path.glob("*.unfinished"))


def test_a_change_at_the_very_last_moment_is_seen(tmp_path, monkeypatch):
    """After everything is written aside, right before the files are moved."""
    write_set(tmp_path, "S1", OLD)
    seen = {name: digest(tmp_path / name) for name in OLD}
    real = writing.put

    def late(path, data):
        real(path, data)
        if "SET" in path.name:
            (tmp_path / "S1.a").write_bytes(b"saved by an editor")

    monkeypatch.setattr(writing, "put", late)
    with pytest.raises(ChangedMeanwhile):
        write_set(tmp_path, "S1", NEW, seen=seen)
    assert contents(tmp_path) == OLD | {"S1.a": b"saved by an editor"}
    assert not list(tmp_path.glob("*.unfinished"))


def test_failing_moves_leave_the_old_set(tmp_path, monkeypatch):
    write_set(tmp_path, "S1", OLD)

    def failing(source, target):
        if "unfinished" not in str(target):
            raise OSError(28, "No space left on device")
        return real(source, target)

    real = os.replace
    monkeypatch.setattr(os, "replace", failing)
    with pytest.raises(BrokenOff, match=r"No space left.*as they were"):
        write_set(tmp_path, "S1", NEW)
    monkeypatch.setattr(os, "replace", real)
    assert contents(tmp_path) == OLD
    assert not list(tmp_path.glob("*.unfinished"))
    with pytest.raises(CannotWrite):
        write_set(tmp_path / "S1.a" / "under-a-file", "x", {"x": b""})


def test_a_failed_write_leaves_no_empty_folder(tmp_path, monkeypatch):
    def full(path, data):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(writing, "put", full)
    with pytest.raises(FromOutside):
        write_set(tmp_path / "deep" / "er", "S1", NEW)
    assert list(tmp_path.iterdir()) == []


@posix
def test_links_devices_and_pipes_are_not_written_through(tmp_path, bramble):
    outside = tmp_path / "outside.txt"
    outside.write_bytes(b"precious")
    (tmp_path / "link.csv").symlink_to(outside)
    os.mkfifo(tmp_path / "pipe.csv")
    for name, words in (("link.csv", "is a link"), ("pipe.csv", "is no plain file")):
        with pytest.raises(CannotWrite, match=words):
            write_one(tmp_path / name, b"x")
    bramble.write("one.beam.yaml", yaml_beams.SIMPLE)
    for target, words in (
        ("link.csv", "is a link"),
        ("pipe.csv", "no plain file"),
        ("/dev/full", "no plain file"),
        ("/dev/null", "no plain file"),
    ):
        ran = bramble("forces", "one.beam.yaml", "--csv", target, "--force", "--quiet")
        assert ran.status == 2
        assert words in ran.err
    assert outside.read_bytes() == b"precious"
    assert (tmp_path / "link.csv").is_symlink()
    (tmp_path / "S1").symlink_to(tmp_path, target_is_directory=True)
    ran = bramble("design", "one.beam.yaml", "--no-figures")
    assert ran.status == 2
    assert "is a link" in ran.err
    ran = bramble("design", "pipe.csv")
    assert ran.status == 2
    assert "is a pipe" in ran.err


@posix
def test_two_writers_wait_for_each_other(tmp_path, monkeypatch):
    """Threads as two runs: each set is whole, whoever comes last."""
    sets = [{f"S1.{k}": f"{number}".encode() * 2000 for k in "abcdef"} for number in range(6)]
    threads = [threading.Thread(target=write_set, args=(tmp_path, "S1", s)) for s in sets]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert contents(tmp_path) in sets
    monkeypatch.setattr(writing, "PATIENCE", 0.1)
    with writing.locked(tmp_path), pytest.raises(CannotWrite, match="another run is writing to this folder"):
        write_set(tmp_path, "S1", NEW)


class Dying:
    """`os` as the writer knows it, until the step at which a signal strikes: before, or in the middle of, what it does."""

    CALLS = ("open", "fsync", "replace", "unlink", "mkdir", "rmdir", "scandir", "close")

    def __init__(self, step: int, number: int) -> None:
        self.step, self.number, self.count = step, number, 0

    def __getattr__(self, name: str):
        real = getattr(os, name)
        if name not in self.CALLS:
            return real

        return self.counted(real)

    def counted(self, real):
        def called(*args, **kwargs):
            self.count += 1
            if self.count == self.step:
                os.kill(os.getpid(), self.number)
            return real(*args, **kwargs)

        return called


def killed_at(
    folder: Path, step: int, number: int, new: dict[str, bytes], seen: dict[str, str] | None
) -> int | None:
    """Write in a child that is struck at a step; None where it came to its end before that."""
    child = os.fork()
    if child == 0:
        try:
            for n in (signal.SIGINT, signal.SIGTERM):
                signal.signal(n, signal.default_int_handler)
            dying = Dying(step, number)
            writing.os, writing.open = dying, dying.counted(open)
            write_set(folder, "S1", new, seen=seen, manifest=True)
            os._exit(0 if dying.count < step else 5)
        except KeyboardInterrupt:
            os._exit(130)
        except BaseException:
            os._exit(9)
    _, status = os.waitpid(child, 0)
    code = os.waitstatus_to_exitcode(status)
    assert code in (0, 5, 130, -signal.SIGKILL), code
    return None if code == 0 else code


@pytest.mark.slow
@posix
@pytest.mark.filterwarnings("ignore:This process.*is multi-threaded:DeprecationWarning")
@pytest.mark.parametrize("number", [signal.SIGKILL, signal.SIGTERM, signal.SIGINT])
def test_killed_at_every_step(tmp_path, number):
    """The folder has the old set, or the new one, or says that it is mixed; the next run makes it whole; a hand's file is never lost."""
    mixed = steps = 0
    for step in range(1, 200):
        folder = tmp_path / f"{step}"
        write_set(folder, "S1", OLD, manifest=True)
        (folder / "S1.c").write_bytes(b"a hand's")  # which the new set keeps under a number
        new = NEW | {"S1.c": b"new c"}
        if killed_at(folder, step, number, new, {"S1.a": digest(folder / "S1.a")}) is None:
            break
        steps += 1
        result = contents(folder)
        old_whole = (
            all(result.get(n) == d for n, d in {**OLD, "S1.c": b"a hand's"}.items()) and "S1.d" not in result
        )
        new_whole = all(result.get(n) == d for n, d in new.items())
        try:
            whole(folder, "S1")
            assert old_whole or new_whole, (step, result)
        except Unfinished as error:
            mixed += 1
            assert number == signal.SIGKILL  # what can be caught waits for the end
            assert "bramble design" in str(error)
        settle(folder, "S1")
        result = contents(folder)
        assert b"a hand's" in result.values(), step
        assert all(result.get(n) == d for n, d in new.items()) or result == OLD | {"S1.c": b"a hand's"}, (
            step,
            result,
        )
        assert not list(folder.glob("*.unfinished"))
        whole(folder, "S1")
        write_set(folder, "S1", new, manifest=True)
        assert all(contents(folder)[n] == d for n, d in new.items())
    assert steps >= 25
    assert (mixed > 0) == (number == signal.SIGKILL)


@posix
@pytest.mark.slow
def test_an_edit_after_a_kill_is_kept_too(tmp_path):
    """A run dies between two moves, a hand then edits a file that was still to be moved: both are there in the end."""
    write_set(tmp_path, "S1", OLD, manifest=True)
    for step in range(1, 200):
        assert killed_at(tmp_path, step, signal.SIGKILL, NEW, None) is not None
        if (tmp_path / "S1.unfinished" / "SET.json").exists() and (
            tmp_path / "S1.unfinished" / "S1.b"
        ).exists():
            break
        settle(tmp_path, "S1")
    (tmp_path / "S1.b").write_bytes(b"edited since")
    settle(tmp_path, "S1")
    result = contents(tmp_path)
    assert result["S1.b"] == b"new b"
    assert result["S1.1.b"] == b"edited since"


# ---------------------------------------------------------------- through the program


@pytest.fixture
def shop(tmp_path):
    from mutations import Workshop

    return Workshop(tmp_path)


def test_a_hand_edit_while_design_runs_is_not_lost(shop, monkeypatch):
    from upright_bramble.cli import making

    real, file = making.outputs, shop.folder / "S1" / "S1.layout.yaml"

    def edited(*args, **kwargs):
        file.write_text(shop.layout.replace("count: 2", "count: 3", 1), "utf-8")
        return real(*args, **kwargs)

    monkeypatch.setattr(making, "outputs", edited)
    (shop.folder / "one.beam.yaml").write_text(yaml_beams.SIMPLE.replace("line: 12", "line: 14"), "utf-8")
    before = (shop.folder / "S1" / "S1.result.json").read_bytes()
    seen = shop.run(("design", "one.beam.yaml", "--no-figures", "--quiet"))
    assert seen.status == 2
    assert "was changed while this ran" in seen.err
    assert "count: 3" in file.read_text("utf-8")
    assert (shop.folder / "S1" / "S1.result.json").read_bytes() == before


def test_finished_beams_stay_and_are_named(shop, monkeypatch):
    """The second of three folders is blocked while the first is designed."""
    for k in (1, 2, 3):
        (shop.folder / f"b{k}.beam.yaml").write_text(
            yaml_beams.SIMPLE.replace("mark: S1", f"mark: B{k}"), "utf-8"
        )
    real = writing.put

    def full(path, data):
        if path.name.startswith("B2"):
            raise OSError(28, "No space left on device")
        real(path, data)

    monkeypatch.setattr(writing, "put", full)
    seen = shop.run(("design", "b1.beam.yaml", "b2.beam.yaml", "b3.beam.yaml", "--no-figures", "--quiet"))
    assert seen.status == 3
    assert "B2: writing was interrupted: No space left on device" in seen.err
    assert "written and complete: B1, B3; not written: B2" in seen.err
    assert not (shop.folder / "B2").exists()
    for mark in ("B1", "B3"):
        assert find_result(shop.folder / mark).data.beam.mark == mark


def test_nothing_is_written_where_one_input_is_bad_or_one_folder_blocked(shop):
    (shop.folder / "b1.beam.yaml").write_text(yaml_beams.SIMPLE.replace("mark: S1", "mark: B1"), "utf-8")
    (shop.folder / "b2.beam.yaml").write_text(yaml_beams.SIMPLE.replace("mark: S1", "mark: B2"), "utf-8")
    (shop.folder / "B2").write_text("a file where the folder should be", "utf-8")
    seen = shop.run(("design", "b1.beam.yaml", "b2.beam.yaml", "--no-figures"))
    assert seen.status == 2
    assert "B2: cannot be written" in seen.err
    assert not (shop.folder / "B1").exists()


def test_a_changed_or_mixed_result_is_not_reported_as_it_stands(shop):
    file = shop.folder / "S1" / "S1.result.json"
    file.write_text(file.read_text("utf-8").replace('"status": "pass"', '"status": "fail"', 1), "utf-8")
    seen = shop.run(("bars", "S1"))
    assert seen.status == 2
    assert "S1.result.json has changed since" in seen.err
    assert shop.run(("bars", "S1", "--as-was", "--quiet")).status == 0
    aside = shop.folder / "S1" / "S1.unfinished"
    aside.mkdir()
    (aside / "SET.json").write_text(json.dumps({"S1.bars.csv": ["", "0"]}), "utf-8")
    with pytest.raises(Unfinished):
        find_result(shop.folder / "S1")
    assert shop.run(("bars", "S1")).status == 2
    assert shop.run(("check", "one.beam.yaml", "S1/S1.layout.yaml", "--quiet")).status == 0
    assert shop.run(("bars", "S1", "--quiet")).status == 0


@pytest.mark.parametrize("mark", ["../../up", "/abs", "..", "", "a/b", "x" * 400, "nul\0"])
def test_a_forged_mark_leads_nowhere(shop, mark):
    """The mark of a result names the files that are made of it."""
    file = shop.folder / "x.result.json"
    data = json.loads(shop.result)
    data["beam"]["mark"] = mark
    file.write_text(json.dumps(data), "utf-8")
    before = sorted(str(p) for p in shop.folder.parent.rglob("*"))
    for call in (
        ("draw", str(file), "--format", "svg", "--into", "o"),
        ("bars", str(file), "--format", "csv", "--into", "o"),
    ):
        assert shop.run(call).status == 2
    assert sorted(str(p) for p in shop.folder.parent.rglob("*")) == before
    with pytest.raises(CannotWrite, match="leads out of this folder"):
        write_set(shop.folder / "o", "S1", {"../up.txt": b"x"})


@pytest.mark.parametrize(
    "formula",
    [
        "(" * 5000,
        "sqrt(" * 900 + "1" + ")" * 900,
        '#import "x"',
        "a_b^{c}",
        "min(;;)",
        "1/" * 6000,
        "x" * 100_000,
        "√∛",
    ],
)
def test_a_forged_formula_is_no_formula(shop, formula):
    """Formulas are read by a grammar before they are set: nothing else of a result reaches the typesetter as more than data."""
    file, data = shop.folder / "x.result.json", json.loads(shop.result)
    working = next(w for w in data["workings"] if any("formula" in line for line in w["lines"]))
    next(line for line in working["lines"] if "formula" in line)["formula"] = formula
    file.write_text(json.dumps(data), "utf-8")
    for call in (
        ("why", str(file), working["check"]),
        ("report", str(file), "--depth", "full", "--format", "pdf,html,md", "--into", "o"),
    ):
        seen = shop.run(call)
        assert seen.status == 2, seen.err[:300]
        assert "formula" in seen.err
        assert len(seen.err) < 400
    assert not (shop.folder / "o").exists()


def test_results_cut_anywhere_are_refused(shop):
    file = shop.folder / "S1" / "S1.result.json"
    raw = file.read_bytes()
    for cut in range(0, len(raw) - 2, max(len(raw) // 60, 1)):
        file.write_bytes(raw[:cut])
        with pytest.raises(NoResult):
            find_result(file)


@pytest.mark.slow
@posix
def test_output_that_cannot_be_written_has_a_status_of_its_own(bramble):
    bramble.write("one.beam.yaml", yaml_beams.SIMPLE)
    command = [sys.executable, "-m", "upright_bramble", "design", "one.beam.yaml", "--no-figures"]
    with open("/dev/full", "wb") as full:
        ran = subprocess.run(command, cwd=bramble.folder, stdout=full, stderr=subprocess.PIPE, check=False)
    assert ran.returncode == 3
    assert b"standard output could not be written: No space left on device" in ran.stderr
    assert find_result(bramble.folder / "S1").data.verdict.status == "pass"
    closed = subprocess.run(
        command, cwd=bramble.folder, stderr=subprocess.PIPE, preexec_fn=lambda: os.close(1), check=False
    )
    assert closed.returncode == 3
    assert b"it is closed" in closed.stderr
    quiet = subprocess.run(
        [*command, "--quiet"],
        cwd=bramble.folder,
        stderr=subprocess.PIPE,
        preexec_fn=lambda: os.close(1),
        check=False,
    )
    assert quiet.returncode == 0


@pytest.mark.slow
@posix
def test_a_file_that_grows_too_large_for_the_disk(bramble):
    """A true limit of the system, met while the files are written."""
    import resource

    bramble.write("one.beam.yaml", yaml_beams.SIMPLE)
    ran = subprocess.run(
        [sys.executable, "-m", "upright_bramble", "design", "one.beam.yaml", "--no-figures", "--quiet"], cwd=bramble.folder,
        stderr=subprocess.PIPE, preexec_fn=lambda: resource.setrlimit(resource.RLIMIT_FSIZE, (20_000, 20_000)), check=False,
    )  # fmt: skip
    assert ran.returncode == 3, ran.stderr
    assert b"File too large" in ran.stderr
    assert b"not written: S1" in ran.stderr
    assert sorted(p.name for p in bramble.folder.iterdir()) == ["one.beam.yaml"]


@pytest.mark.slow
@posix
def test_a_killed_worker_is_told(bramble):
    for k in range(6):
        bramble.write(f"b{k}.beam.yaml", yaml_beams.SIMPLE.replace("S1", f"W{k}"))
    command = [
        sys.executable,
        "-m",
        "upright_bramble",
        "design",
        ".",
        "--quiet",
        "--jobs",
        "2",
        "--no-figures",
    ]
    running = subprocess.Popen(command, cwd=bramble.folder, stderr=subprocess.PIPE)
    deadline = time.monotonic() + 60.0
    workers: list[int] = []
    while time.monotonic() < deadline and not workers:
        listed = subprocess.run(
            ["ps", "-ww", "--ppid", str(running.pid), "-o", "pid=,args="],
            capture_output=True,
            text=True,
            check=False,
        ).stdout
        workers = [int(line.split()[0]) for line in listed.splitlines() if "spawn_main" in line]
        time.sleep(0.02)
    os.kill(workers[-1], signal.SIGKILL)
    _, err = running.communicate(timeout=60)
    assert running.returncode == 3, err
    assert b"was ended from outside" in err
    assert b"written and complete:" in err
    assert b"Traceback" not in err
    for folder in (p for p in bramble.folder.iterdir() if p.is_dir()):
        assert find_result(folder).data.beam.mark == folder.name


@pytest.mark.slow
def test_jobs_and_order_change_no_byte(bramble):
    for k in range(2):
        bramble.write(
            f"b{k}.beam.yaml",
            yaml_beams.SIMPLE.replace("mark: S1", f"mark: J{k}").replace("line: 12", f"line: {10 + 2 * k}"),
        )
    names = [f"b{k}.beam.yaml" for k in range(2)]
    sets = []
    for number, (jobs, files) in enumerate((("1", names), ("2", names[::-1]))):
        into = f"out{number}"
        assert bramble("design", *files, "--jobs", jobs, "--into", into, "--quiet").status == 0
        sets.append(
            {
                str(p.relative_to(bramble.folder / into)): p.read_bytes()
                for p in (bramble.folder / into).rglob("*")
                if p.is_file()
            }
        )
    assert len(sets[0]) == 2 * 9
    assert sets[0] == sets[1]


def test_an_interrupt_after_the_last_file_of_a_beam_tells_it_as_written(shop, monkeypatch):
    """The files are in their places, but the run that is interrupted has not yet noted them."""
    from upright_bramble.cli import designing

    for k in (1, 2, 3):
        (shop.folder / f"b{k}.beam.yaml").write_text(
            yaml_beams.SIMPLE.replace("mark: S1", f"mark: B{k}"), "utf-8"
        )

    def interrupted(work, wishes, late):
        outcomes = real(work, wishes, late)
        yield next(outcomes)
        next(outcomes)
        raise KeyboardInterrupt

    real = designing.run
    monkeypatch.setattr(designing, "run", interrupted)
    command = (
        "design",
        "b1.beam.yaml",
        "b2.beam.yaml",
        "b3.beam.yaml",
        "--no-figures",
        "--quiet",
        "--jobs",
        "1",
    )
    seen = shop.run(command)
    assert seen.status == 130
    assert "written and complete: B1, B2; not written: B3" in seen.err
    seen = shop.run(command)  # nothing is written anew: what was there is not told as written
    assert seen.status == 130
    assert "written and complete: B1; not written: B2, B3" in seen.err
