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
    """A result, the file it was read from, and whether the beam file has changed since (None: it is not known)."""

    data: ResultFile
    path: Path
    stale: bool | None = None


def find_result(path: str | Path) -> Found:
    """RESULT as commands take it. Raises NoResult, saying what was looked for."""
    path = Path(path)
    if not path.exists():
        raise NoResult(f"{path}: there is no such file or folder")
    if path.is_dir():
        return Found(_read(_only_result(path)), _only_result(path))
    if path.name.endswith(".result.json"):
        return Found(_read(path), path)
    if path.name.endswith((".yaml", ".yml")):
        mark = load_yaml(path).data.get("mark")
        beside = path.parent / str(mark) / f"{mark}.result.json"
        if not isinstance(mark, (str, int)) or Path(str(mark)).name != str(mark) or not beside.exists():
            raise NoResult(f"{path}: has no result beside it; `bramble design {path}` makes one")
        data = _read(beside)
        return Found(data, beside, data.input_sha256 != hashlib.sha256(path.read_bytes()).hexdigest())
    return Found(_read(path), path)


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
