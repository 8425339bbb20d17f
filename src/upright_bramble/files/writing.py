"""Sets of files that appear together, or not at all, whatever happens to the program while it writes.

A set named LABEL is written aside, into the folder ``LABEL.unfinished`` beside its files, with a list of what
it replaces. From the moment that the list is whole the set counts as written: its files are moved to their
places one by one, and a run that dies in between is finished by the next one that writes there (readers say
that it has to be). Before that moment nothing has changed.

A lock on the folder keeps two runs apart. Under it, right before the files are moved, their targets are
looked at again: contents that are not those that the caller has seen are never overwritten.
``LABEL.manifest.json`` keeps a checksum of every file as it was written, so that a file that a hand has
changed since is known.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import signal
import stat
import tempfile
import threading
import time
from collections.abc import Iterator, Mapping
from pathlib import Path

from upright_bramble.errors import BrambleError, FromOutside
from upright_bramble.files.reading import Unreadable, read_bytes
from upright_bramble.text import shown

# elsewhere two runs into one folder are kept apart by what they have seen alone
_HAS_LOCKS = os.name == "posix"
if _HAS_LOCKS:
    import fcntl

PATIENCE = 20.0  # seconds that a run waits for another one to finish writing
LARGEST = 1 << 30
_LIST = "SET.json"
_FORMAT = "upright-bramble/manifest"


class CannotWrite(BrambleError):
    """The folder or file cannot be written: known before anything was."""


class ChangedMeanwhile(CannotWrite):
    """A file is not as it was when the run began: it is not overwritten."""


class BrokenOff(CannotWrite, FromOutside):
    """Writing failed from outside (no space, folder gone). The files of the set are as they were, or all
    new."""


class Unfinished(BrambleError):
    """A run was killed while it moved a set to its place."""


def digest(path: Path) -> str:
    """SHA-256 of a file; empty where there is none. Raises CannotWrite for what is no plain file: nothing is
    written through it."""
    try:
        kind = path.lstat().st_mode
    except (FileNotFoundError, NotADirectoryError):
        return ""
    except (OSError, ValueError) as error:
        raise CannotWrite(f"{path}: {getattr(error, 'strerror', None) or error}") from None
    if stat.S_ISLNK(kind):
        raise CannotWrite(f"{path}: is a link; name the file itself, or another one")
    if not stat.S_ISREG(kind):
        raise CannotWrite(f"{path}: is no plain file; name another one")
    try:
        return _sha(read_bytes(path, LARGEST, "file"))
    except Unreadable as error:
        raise CannotWrite(f"{path}: {error}") from None


def ready(folder: Path, names: Mapping[str, object] | list[str] | tuple[str, ...]) -> None:
    """Try whether files can be written, without leaving anything. Raises CannotWrite."""
    if folder.is_symlink() and not folder.is_dir():
        raise CannotWrite(f"{folder}: is a link to nothing")
    nearest = folder
    while not nearest.exists() and nearest != nearest.parent:
        nearest = nearest.parent
    if not nearest.is_dir():
        raise CannotWrite(f"{folder}: cannot be written: {nearest} is a file, a folder is needed")
    try:
        with tempfile.TemporaryFile(dir=nearest) as trial:
            trial.write(b"trial")
    except OSError as error:
        raise CannotWrite(f"{folder}: cannot be written: {error.strerror or error}") from None
    for name in names:
        digest(folder / name)


def write_set(
    folder: Path,
    label: str,
    contents: Mapping[str, bytes],
    *,
    seen: Mapping[str, str] | None = None,
    manifest: bool = False,
) -> tuple[str, ...]:
    """Write several files of one folder together.

    `seen`: digests that files must still have (empty: must not be there). With `manifest` the set keeps one,
    and a file in the way that is not as the manifest has it is kept under a number first; names of these are
    returned. Raises CannotWrite or ChangedMeanwhile (nothing was changed), BrokenOff.
    """
    if any(Path(name).name != name or not name for name in (label, *contents)):
        raise CannotWrite(f"{folder}: a name of a file leads out of this folder")
    new = _made_folders(folder)
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with locked(folder):
            _finish(folder, label)
            kept = _write(folder, label, dict(contents), seen or {}, manifest)
        return kept
    except OSError as error:
        mixed = unfinished(folder, label)
        rest = (
            "; old and new files are mixed until another run in this folder completes it"
            if mixed
            else "; its files are as they were"
        )
        raise BrokenOff(f"{folder}: writing was interrupted: {error.strerror or error}{rest}") from None
    finally:
        for made in new:  # folders of a set that was not written
            with contextlib.suppress(OSError):
                made.rmdir()


def write_one(path: Path, data: bytes, *, force: bool = True) -> None:
    """One file, whole or not at all; over one that is there only when asked."""
    write_set(path.parent, path.name, {path.name: data}, seen=None if force else {path.name: ""})


def settle(folder: Path, label: str) -> bool:
    """Finish the writing of a set that a dead run had begun, and clear away what it left. Whether there was
    any. Raises CannotWrite."""
    if not (folder / f"{label}.unfinished").is_dir():
        return False
    try:
        with locked(folder):
            return _finish(folder, label)
    except OSError as error:
        raise BrokenOff(f"{folder}: writing was interrupted: {error.strerror or error}") from None


def unfinished(folder: Path, label: str) -> bool:
    """Whether old and new files of a set may stand side by side."""
    return (folder / f"{label}.unfinished" / _LIST).exists()


def whole(folder: Path, label: str) -> None:
    """Raises Unfinished where old and new files of a set may stand side by side. A run that writes just now
    is waited for."""
    if not unfinished(folder, label):
        return
    with contextlib.suppress(OSError, CannotWrite), locked(folder):
        pass
    if unfinished(folder, label):
        raise Unfinished(
            f"{folder}: a run was interrupted while it moved its files into place, old and new ones are "
            "mixed; `bramble design` or `bramble check` of this beam finishes that"
        )


def written_digests(folder: Path, label: str) -> dict[str, str] | None:
    """Checksums by name from the manifest of a set; None where there is none that can be read."""
    try:
        data = json.loads(read_bytes(folder / f"{label}.manifest.json", 2**20, "manifest"))
        files = data["files"] if data.get("format") == _FORMAT else None
        return {str(k): str(v) for k, v in files.items()} if files is not None else None
    except (Unreadable, ValueError, AttributeError, KeyError, TypeError, RecursionError):
        return None


def numbered(folder: Path, name: str) -> str:
    """MARK.layout.yaml -> MARK.layout.1.yaml, the first that is not there."""
    stem, _, ending = name.rpartition(".")
    number = 1
    while os.path.lexists(folder / f"{stem}.{number}.{ending}"):
        number += 1
    return f"{stem}.{number}.{ending}"


def _write(
    folder: Path, label: str, contents: dict[str, bytes], seen: Mapping[str, str], manifest: bool
) -> tuple[str, ...]:
    before = {name: digest(folder / name) for name in contents}
    kept = []
    old_manifest = written_digests(folder, label)
    if manifest:
        for name in [n for n in contents if before[n] and n not in seen]:
            if before[name] not in ((old_manifest or {}).get(name), _sha(contents[name])):
                kept.append(copy := numbered(folder, name))
                contents[copy], before[copy] = read_bytes(folder / name, LARGEST, "file"), ""
    if manifest or old_manifest is not None:
        others = {
            n: d for n, d in (old_manifest or {}).items() if n not in contents and os.path.lexists(folder / n)
        }
        files = others | {n: _sha(data) for n, data in contents.items() if n not in kept}
        name = f"{label}.manifest.json"
        text = (
            json.dumps({"format": _FORMAT, "version": 1, "files": dict(sorted(files.items()))}, indent=1)
            + "\n"
        )
        contents[name], before[name] = text.encode(), digest(folder / name)
    contents = {n: data for n, data in contents.items() if before[n] != _sha(data)}
    for name, now in before.items():
        if name in seen and now != seen[name] and name in contents:
            change = "has appeared" if not seen[name] else "was changed" if now else "was taken away"
            raise ChangedMeanwhile(
                f"{folder / name}: {change} while this ran; it is not overwritten, and nothing else was "
                "written"
            )
    if not contents:
        return tuple(kept)
    aside = folder / f"{label}.unfinished"
    os.mkdir(aside)
    try:
        for name, data in contents.items():
            put(aside / name, data)
        listed = {name: [before[name], _sha(data)] for name, data in contents.items()}
        put(aside / f"{_LIST}.part", json.dumps(listed).encode())
    except BaseException:
        _clear(aside)
        raise
    with _undisturbed():
        for name in seen:  # the last look: from here to the moves there is nothing but their list
            if name in contents and digest(folder / name) != seen[name]:
                _clear(aside)
                raise ChangedMeanwhile(
                    f"{folder / name}: was changed while this ran; it is not overwritten, and nothing else "
                    "was written"
                )
        os.replace(aside / f"{_LIST}.part", aside / _LIST)
        _sync(aside)
        try:
            _finish(folder, label)
        except OSError:
            _undo(aside, listed)
            raise
    return tuple(kept)


def put(path: Path, data: bytes) -> None:
    """A file in full, on the disk."""
    with open(path, "xb") as out:
        out.write(data)
        out.flush()
        os.fsync(out.fileno())


def _finish(folder: Path, label: str) -> bool:
    """Move the files of a set that was written aside in full; take away one that was not. Whether there was
    any."""
    aside = folder / f"{label}.unfinished"
    if not aside.is_dir() or aside.is_symlink():
        return False
    try:
        listed = json.loads(read_bytes(aside / _LIST, 2**20, "list"))
    except (Unreadable, ValueError):
        _clear(aside)
        return True
    for name, (old, new) in listed.items():
        if Path(name).name != name or not (aside / name).is_file() or (aside / name).is_symlink():
            continue
        if digest(folder / name) not in (
            old,
            new,
        ):  # changed by a hand since the run died: kept under a number
            os.replace(folder / name, folder / numbered(folder, name))
        os.replace(aside / name, folder / name)
    _sync(folder)
    os.unlink(aside / _LIST)
    _clear(aside)
    return True


def _undo(aside: Path, listed: Mapping[str, list[str]]) -> None:
    """A move failed: where no file was moved yet the set is given up; else it stays, to be finished."""
    if all((aside / name).is_file() for name in listed):
        with contextlib.suppress(OSError):
            os.unlink(aside / _LIST)
        _clear(aside)


def _clear(aside: Path) -> None:
    with contextlib.suppress(OSError):
        for entry in os.scandir(aside):
            with contextlib.suppress(OSError):
                os.unlink(entry.path)
        os.rmdir(aside)


def _made_folders(folder: Path) -> list[Path]:
    """The folders that have to be made for this one, the innermost first."""
    result = []
    while not folder.exists() and folder != folder.parent:
        result.append(folder)
        folder = folder.parent
    return result


@contextlib.contextmanager
def locked(folder: Path) -> Iterator[None]:
    """One writer at a time: the others wait, and give up after a while."""
    if not _HAS_LOCKS:
        yield
        return
    handle = os.open(folder, os.O_RDONLY)
    try:
        deadline = time.monotonic() + PATIENCE
        while True:
            try:
                fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
                break
            except BlockingIOError:
                if time.monotonic() > deadline:
                    raise CannotWrite(
                        f"{folder}: another run is writing to this folder; wait for it, then run again"
                    ) from None
                time.sleep(0.02)
            except OSError:  # no locks on this file system
                break
        yield
    finally:
        os.close(handle)


def _sync(folder: Path) -> None:
    """The names in a folder, on the disk. Not every system can."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


_SIGNALS = tuple(s for s in (signal.SIGINT, getattr(signal, "SIGTERM", None)) if s is not None)


@contextlib.contextmanager
def _undisturbed() -> Iterator[None]:
    """An interrupt waits until all files of a set have their names."""
    if threading.current_thread() is not threading.main_thread():
        yield
        return
    waiting: list[int] = []
    before = {number: signal.signal(number, lambda n, _frame: waiting.append(n)) for number in _SIGNALS}
    try:
        yield
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)
    for number in waiting:
        handler = before[number]
        if callable(handler):
            handler(number, None)
    if waiting:
        raise KeyboardInterrupt


def _sha(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def safe_name(name: str) -> bool:
    """Whether a word can name a file in a folder, and nothing else."""
    return (
        bool(name)
        and Path(name).name == name
        and shown(name) == name
        and not name.startswith(".")
        and len(name.encode()) <= 200
    )
