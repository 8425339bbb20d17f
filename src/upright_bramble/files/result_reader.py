"""A result found again: by its file, its folder, or the beam file beside it."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from pathlib import Path

from pydantic import ValidationError

from upright_bramble.errors import BrambleError
from upright_bramble.files.result_file import ResultFile
from upright_bramble.files.yaml_source import load_yaml

LARGEST = 200_000_000  # bytes of a result file
FORMAT = "upright-bramble/result"
VERSION = 2


class NoResult(BrambleError):
    """There is no result there, or none that can be read."""


@dataclass(frozen=True)
class Found:
    """A result, the file it was read from, and the files that have changed since it was made."""

    data: ResultFile
    path: Path
    changed: tuple[Path, ...] = ()


def find_result(path: str | Path) -> Found:
    """RESULT as commands take it. Raises NoResult, saying what was looked for."""
    path = Path(path)
    if not path.exists():
        raise NoResult(f"{path}: there is no such file or folder")
    if path.is_dir():
        return _with_changes(_only_result(path))
    if path.name.endswith(".result.json"):
        return _with_changes(path)
    if path.name.endswith((".yaml", ".yml")):
        mark = load_yaml(path).data.get("mark")
        beside = path.parent / str(mark) / f"{mark}.result.json"
        if not isinstance(mark, (str, int)) or Path(str(mark)).name != str(mark) or not beside.exists():
            raise NoResult(f"{path}: has no result beside it; `bramble design {path}` makes one")
        return _with_changes(beside, path)
    return _with_changes(path)


def _with_changes(path: Path, beam: Path | None = None) -> Found:
    """Held against the layout beside it, and against the beam file beside its folder (or the one that was named)."""
    data = _read(path)
    changed: list[Path] = []
    if beam is None and data.beam_file and Path(data.beam_file).name == data.beam_file:
        beam = path.parent.parent / data.beam_file
    if beam is not None and beam.is_file() and input_digest(beam) != data.input_sha256:
        changed.append(beam)
    layout = path.parent / f"{data.beam.mark}.layout.yaml"
    if data.layout_sha256 and layout.is_file() and _digest(layout) != data.layout_sha256:
        changed.append(layout)
    return Found(data, path, tuple(changed))


def _digest(path: Path) -> str:
    return hashlib.sha256(path.read_bytes()).hexdigest()


def input_digest(path: Path) -> str:
    """Of a beam file; of one that names tables, of these too, in their order."""
    whole = hashlib.sha256(path.read_bytes())
    try:
        given = load_yaml(path).data.get("forces")
    except (BrambleError, AttributeError):
        return whole.hexdigest()
    for name in _table_names(given):
        table = path.parent / name
        whole.update(table.read_bytes() if table.is_file() else b"")
    return whole.hexdigest()


def _table_names(given: object) -> list[str]:
    """Tables under `forces`, wherever they stand."""
    if isinstance(given, str):
        return [given]
    if isinstance(given, list):
        return [name for v in given for name in _table_names(v)]
    if isinstance(given, dict):
        return [name for key, v in given.items() if key != "level" for name in _table_names(v)]
    return []


def _only_result(folder: Path) -> Path:
    found = sorted(folder.glob("*.result.json"))
    if len(found) != 1:
        said = "there is no result in it" if not found else f"there are {len(found)} results in it; name one"
        raise NoResult(f"{folder}: {said}")
    return found[0]


def _read(path: Path) -> ResultFile:
    if path.stat().st_size > LARGEST:
        raise NoResult(f"{path}: is larger than {LARGEST // 1_000_000} MB, which no result is")
    try:
        data = json.loads(path.read_text("utf-8"))
    except (ValueError, RecursionError):
        raise NoResult(f"{path}: is no JSON; a result is made by `bramble design`") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise NoResult(f"{path}: is not a result of this program")
    if data.get("version") != VERSION:
        said = f"is of version {str(data.get('version'))[:20]}; this program reads version {VERSION}"
        raise NoResult(f"{path}: {said}: design or check the beam again")
    try:
        return ResultFile.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(p) for p in first["loc"])[:80]
        raise NoResult(f"{path}: {place}: {first['msg']}; design or check the beam again") from None
