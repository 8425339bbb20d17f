"""Beam files and results that a call names: files, folders with all that is under them, and patterns."""

from __future__ import annotations

import glob
from collections.abc import Iterator, Sequence
from fnmatch import fnmatchcase
from pathlib import Path

from upright_bramble.cli.output import Call
from upright_bramble.errors import BrambleError
from upright_bramble.text import hidden

BEAM, RESULT = ".beam.yaml", ".result.json"


def beam_files(
    paths: Sequence[Path], mark: str | None = None, shard: tuple[int, int] | None = None
) -> list[Path]:
    """The beam files of a call, those of a folder in the order of their names. Raises Call.

    A beam that an `envelope_of` beside it covers is designed with that one, unless it is named itself.
    `mark`: a pattern that the beam's mark must have. `shard` (k, n): the k-th of n parts of them.
    """
    collected: list[tuple[Path, bool]] = []  # with whether it was named itself
    for path in paths:
        if path.is_dir():
            inside = _inside(path, BEAM)
            if not inside:
                raise Call(_nothing(path, BEAM))
            collected += [(p, False) for p in inside]
        elif path.exists():
            collected.append((path, True))
        elif matching := _matching(path, BEAM):
            collected += [(p, False) for p in matching]
        else:
            raise Call(_nothing(path, BEAM))
    covered = {member for path, named in collected if not named for member in _covered(path)}
    result = [path for path, named in collected if named or path.resolve() not in covered]
    strange = [p for p in result if hidden(p.name)]
    if strange:
        raise Call(
            f"{strange[0]}: the name of the file holds the character {hidden(strange[0].name)}; rename it"
        )
    result = [p for p in dict.fromkeys(result) if mark is None or fnmatchcase(_mark(p), mark)]
    if not result:
        raise Call(f"no beam has a mark like '{mark}'")
    if shard is not None:
        result = result[shard[0] - 1 :: shard[1]]
    return result


def result_files(paths: Sequence[Path], mark: str | None = None) -> list[Path]:
    """The results of a call: as `find_result` takes each, or all results under a folder that holds several.
    Raises Call."""
    result: list[Path] = []
    for path in paths:
        if path.is_dir():
            own = _inside(path, RESULT)
            if not own:
                raise Call(_nothing(path, RESULT))
            result += [path] if len(own) == 1 and own[0].parent == path else own
        elif path.exists():
            result.append(path)
        elif matching := _matching(path, RESULT):
            result += matching
        else:
            raise Call(_nothing(path, RESULT))
    result = [p for p in dict.fromkeys(result) if mark is None or fnmatchcase(p.name.split(".")[0], mark)]
    if not result:
        raise Call(f"no result has a mark like '{mark}'")
    return result


def shard_of(text: str | None) -> tuple[int, int] | None:
    """'3/8' as (3, 8). Raises Call."""
    if text is None:
        return None
    first, _, last = text.partition("/")
    if not (first.isdigit() and last.isdigit() and 1 <= int(first) <= int(last) <= 100_000):
        raise Call(f"--shard '{text[:20]}' is not k/n, such as 3/8: the third of eight parts")
    return int(first), int(last)


def _inside(folder: Path, ending: str) -> list[Path]:
    """Files under a folder; what is hidden, or a link, is not gone into."""
    return sorted(_walk(folder, ending), key=lambda p: p.parts)


def _walk(folder: Path, ending: str) -> Iterator[Path]:
    for entry in folder.iterdir():
        if entry.name.startswith(".") or entry.name.endswith(".unfinished"):
            continue
        if entry.is_dir() and not entry.is_symlink():
            yield from _walk(entry, ending)
        elif entry.name.endswith(ending):
            yield entry


def _matching(path: Path, ending: str) -> list[Path]:
    """Files, and files under folders, that a pattern with * ? [ ] matches."""
    text = str(path)
    if not glob.has_magic(text):
        return []
    result: list[Path] = []
    for name in sorted(glob.glob(text, recursive=True)):
        path_of_name = Path(name)
        result += (
            _inside(path_of_name, ending)
            if path_of_name.is_dir()
            else [path_of_name]
            if name.endswith(ending)
            else []
        )
    return list(dict.fromkeys(result))


def _nothing(path: Path, ending: str) -> str:
    if path.is_dir():
        return (
            f"{path}: is a folder without a *{ending} file; there is no "
            f"{'result' if ending == RESULT else 'beam'} in it"
        )
    if glob.has_magic(str(path)):
        return f"{path}: no *{ending} file matches"
    return f"{path}: there is no such file" + (" or folder" if ending == RESULT else "")


def _data(path: Path) -> dict[str, object]:
    from upright_bramble.files.yaml_source import load_yaml

    try:
        data = load_yaml(path).data
    except BrambleError:
        return {}  # told when it is read
    return data if isinstance(data, dict) else {}


def _mark(path: Path) -> str:
    return str(_data(path).get("mark", ""))


def _covered(path: Path) -> list[Path]:
    from upright_bramble.files.result_reader import named_beams

    try:
        if b"envelope_of" not in path.read_bytes():
            return []
    except OSError:
        return []
    return [(path.parent / name).resolve() for name in named_beams(_data(path))]
