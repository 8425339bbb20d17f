"""A result found again: by its file, its folder, or the beam file beside it."""

from __future__ import annotations

import contextlib
import hashlib
import json
import re
from dataclasses import dataclass
from pathlib import Path

from pydantic import ValidationError

from upright_bramble.errors import BrambleError
from upright_bramble.files.force_table import MAXIMUM_BYTES as MAXIMUM_TABLE
from upright_bramble.files.reading import Unreadable, read_bytes, utf8
from upright_bramble.files.result_file import ResultFile
from upright_bramble.files.writing import safe_name, whole, written_digests
from upright_bramble.files.yaml_source import MAXIMUM_BYTES, load_yaml
from upright_bramble.text import hidden

LARGEST = 200 * 2**20  # bytes of a result file
_BEAM_FILE = re.compile(r'"beam_file": ("(?:[^"\\]|\\.)*")')
_HIDDEN_IN_JSON = re.compile(
    r"[^\n -~\u00a0-\u00ac\u00ae-\u024f\u0391-\u03c9]|\\[^\"\\]"
)  # texts worth a closer look
FORMAT = "upright-bramble/result"
VERSION = 2


class NoResult(BrambleError):
    """There is no result there, or none that can be read."""


@dataclass(frozen=True)
class ReadResult:
    """A result, the file it was read from, and the files that have changed since it was made."""

    data: ResultFile
    path: Path
    changed: tuple[Path, ...] = ()


def find_result(path: str | Path) -> ReadResult:
    """RESULT as commands take it. Raises NoResult, saying what was looked for."""
    path = Path(path)
    if not path.exists():
        raise NoResult(f"{path}: there is no such file or folder")
    if path.is_dir():
        return _with_changes(_only_result(path))
    if path.name.endswith(".result.json"):
        return _with_changes(path)
    if path.name.endswith((".yaml", ".yml")):
        data = load_yaml(path).data
        mark = data.get("mark") if isinstance(data, dict) else None
        beside = path.parent / str(mark) / f"{mark}.result.json"
        if not isinstance(mark, (str, int)) or Path(str(mark)).name != str(mark) or not beside.exists():
            raise NoResult(f"{path}: has no result beside it; `bramble design {path}` makes one")
        return _with_changes(beside, path)
    return _with_changes(path)


def _with_changes(path: Path, beam: Path | None = None) -> ReadResult:
    """Held against the layout beside it, and against the beam file beside its folder (or the one that was
    named)."""
    mark = path.name.removesuffix(".result.json")
    whole(path.parent, mark)
    data = _read(path)
    changed: list[Path] = []
    as_written = written_digests(path.parent, mark)
    if as_written is not None and path.name in as_written and as_written[path.name] != file_digest(path):
        changed.append(path)
    if beam is None and safe_name(data.beam_file):
        beam = path.parent.parent / data.beam_file
    if beam is not None and beam.is_file() and input_digest(beam) != data.input_sha256:
        changed.append(beam)
    layout = path.parent / f"{data.beam.mark}.layout.yaml"
    if data.layout_sha256 and layout.is_file() and file_digest(layout) != data.layout_sha256:
        changed.append(layout)
    return ReadResult(data, path, tuple(changed))


def file_digest(path: Path) -> str:
    """Of a file's contents; empty where it cannot be read."""
    try:
        return hashlib.sha256(read_bytes(path, LARGEST, "file")).hexdigest()
    except Unreadable:
        return ""


def input_digest(path: Path, *, shared: bool = True) -> str:
    """Of a beam file; of one that names others (rules, tables, alike beams), of these too, in their order."""
    try:
        raw = read_bytes(path, MAXIMUM_BYTES, "beam file")
        data = load_yaml(path).data  # a key can be spelled in more ways than a search for its letters finds
    except (Unreadable, BrambleError):
        return file_digest(path)
    entire = hashlib.sha256(raw)
    for name in named_files(data):
        with contextlib.suppress(Unreadable):
            entire.update(read_bytes(path.parent / name, MAXIMUM_TABLE, "file"))
    for name in named_beams(data) if shared else []:  # what shares a design holds no file that does
        entire.update(input_digest(path.parent / name, shared=False).encode())
    return entire.hexdigest()


def named_files(data: object) -> list[str]:
    """Rules and tables that a beam file names."""
    if not isinstance(data, dict):
        return []
    actions = data.get("actions")
    by_action = [a.get("table") for a in actions if isinstance(a, dict)] if isinstance(actions, list) else []
    return list(
        dict.fromkeys(
            [*_table_names(data.get("rules")), *_table_names(data.get("forces")), *_table_names(by_action)]
        )
    )


def named_beams(data: object) -> list[str]:
    """Alike beams that share the design of a file."""
    named = data.get("envelope_of") if isinstance(data, dict) else None
    return [name for name in named if isinstance(name, str)] if isinstance(named, list) else []


def _table_names(given: object) -> list[str]:
    """Names of files, wherever they stand."""
    if isinstance(given, str):
        return [given]
    if isinstance(given, list):
        return [name for v in given for name in _table_names(v)]
    if isinstance(given, dict):
        return [name for key, v in given.items() if key != "level" for name in _table_names(v)]
    return []


def beam_file_of(result: Path) -> str:
    """Name of the beam file that a result was made of; empty where there is no result that says so. Reads no
    more than its beginning."""
    try:
        with open(result, "rb") as file:
            match = _BEAM_FILE.search(file.read(2000).decode("utf-8", "replace"))
        name = json.loads(match.group(1)) if match else ""
    except (OSError, ValueError):
        return ""
    return name if isinstance(name, str) and safe_name(name) else ""


def _only_result(folder: Path) -> Path:
    result = sorted(folder.glob("*.result.json"))
    if len(result) != 1:
        reason = (
            "there is no result in it" if not result else f"there are {len(result)} results in it; name one"
        )
        raise NoResult(f"{folder}: {reason}")
    return result[0]


def _no_number(text: str) -> float:
    raise ValueError(f"{text} is no number of JSON")


def _read(path: Path) -> ResultFile:
    try:
        text = utf8(read_bytes(path, LARGEST, "result file"))
        data = json.loads(text, parse_constant=_no_number)
    except Unreadable as error:
        raise NoResult(f"{path}: {error}") from None
    except (ValueError, RecursionError):
        raise NoResult(f"{path}: is no JSON; a result is made by `bramble design`") from None
    if _HIDDEN_IN_JSON.search(text) and (strange := _strange(data)) is not None:
        raise NoResult(
            f"{path}: holds the character {strange}, which is not text; design or check the beam again"
        )
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise NoResult(f"{path}: is not a result of this program")
    if data.get("version") != VERSION:
        reason = f"is of version {str(data.get('version'))[:20]}; this program reads version {VERSION}"
        raise NoResult(f"{path}: {reason}: design or check the beam again")
    try:
        return ResultFile.model_validate(data)
    except ValidationError as error:
        place = "".join(f"{p}: " for p in [".".join(str(p) for p in error.errors()[0]["loc"])[:80]] if p)
        raise NoResult(
            f"{path}: {place}is not as this program writes it; design or check the beam again"
        ) from None


def _strange(data: object) -> str | None:
    """The first character that is no text, in any key or text of plain data."""
    if isinstance(data, str):
        return hidden(data)
    if isinstance(data, dict):
        return next(filter(None, (_strange(v) for pair in data.items() for v in pair)), None)
    if isinstance(data, list):
        return next(filter(None, (_strange(v) for v in data if isinstance(v, (str, dict, list)))), None)
    return None
