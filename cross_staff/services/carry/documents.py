"""The bytes of a file: a JSON document, or a zip of it with photos; read strictly, written always alike."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
import zlib
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, fields, is_dataclass
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter, ValidationError

from cross_staff import __version__
from cross_staff.core.carry.faults import Fault, instrument_faults, rig_faults, sight_faults
from cross_staff.core.carry.records import CarriedInstrument, CarriedRig, CarriedSight
from cross_staff.core.errors import NotKept

FORMAT_VERSION = 1
RIG, SIGHT, INSTRUMENTS = "cross-staff rig", "cross-staff sight model", "cross-staff instruments"
MOST_FILE_BYTES = 512 * 1024 * 1024
MOST_JSON_BYTES, MOST_PHOTO_BYTES, MOST_PHOTOS = 32 * 1024 * 1024, 16 * 1024 * 1024, 2000
MOST_UNPACKED_BYTES = 600 * 1024 * 1024
MOST_FAULTS = 40
DOCUMENT, PHOTOS = "rig.json", "photos/"
_FIRST_DAY = (1980, 1, 1, 0, 0, 0)  # the same rig gives the same bytes
_ADAPTERS: dict[str, TypeAdapter[Any]] = {
    RIG: TypeAdapter(CarriedRig),
    SIGHT: TypeAdapter(CarriedSight),
    INSTRUMENTS: TypeAdapter(tuple[CarriedInstrument, ...]),
}
_CONTENT = {RIG: "rig", SIGHT: "sight_model", INSTRUMENTS: "instruments"}
_FAULTS: dict[str, Callable[[Any], tuple[Fault, ...]]] = {
    RIG: rig_faults,
    SIGHT: sight_faults,
    INSTRUMENTS: instrument_faults,
}
_HEAD = ("format", "format_version", "program_version", "sha256")


class Unreadable(Exception):
    """A file that is not taken in: where, and what is wrong there, line by line."""

    def __init__(self, *faults: Fault) -> None:
        super().__init__("; ".join(map(str, faults)))
        self.faults = faults


@dataclass(frozen=True)
class Document:
    """What a file holds: its format, the content as records, photos by their sums, whether somebody edited it since it
    was written."""

    format: str
    content: Any
    photos: Mapping[str, bytes] = field(default_factory=dict)
    edited: bool = False


def schema(kind: str) -> dict[str, Any]:
    """The JSON schema of a file of a format."""
    content = _ADAPTERS[kind].json_schema(ref_template="#/$defs/{model}")
    definitions = content.pop("$defs", {})
    head = {
        "format": {"const": kind},
        "format_version": {"const": FORMAT_VERSION},
        "program_version": {"type": "string", "description": "the version of Cross Staff that wrote it"},
        "sha256": {"type": "string", "description": "of the content as compact JSON with sorted keys: shows an edit"},
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": kind,
        "type": "object",
        "properties": {**head, _CONTENT[kind]: content},
        "required": [*_HEAD, _CONTENT[kind]],
        "additionalProperties": False,
        "$defs": definitions,
    }


def written(kind: str, content: Any) -> bytes:
    """A document as bytes, the same ones for the same content."""
    plain = _in_order(content, _ADAPTERS[kind].dump_python(content, mode="json"))
    head = {
        "format": kind,
        "format_version": FORMAT_VERSION,
        "program_version": __version__,
        "sha256": _sum(plain),
    }
    text = json.dumps(head | {_CONTENT[kind]: plain}, ensure_ascii=False, indent=1, allow_nan=False)
    return f"{text}\n".encode()


def _in_order(value: Any, plain: Any) -> Any:
    """What was made of records, every set in order: by itself a set has none, and could be written otherwise."""
    if is_dataclass(value):
        return {each.name: _in_order(getattr(value, each.name), plain[each.name]) for each in fields(value)}
    if isinstance(value, tuple):
        return [_in_order(*pair) for pair in zip(value, plain)]
    return sorted(plain) if isinstance(value, frozenset) else plain


def _sum(plain: Any) -> str:
    compact = json.dumps(plain, ensure_ascii=True, sort_keys=True, separators=(",", ":"), allow_nan=False)
    return hashlib.sha256(compact.encode()).hexdigest()


def archived(rig: CarriedRig, pictures: Mapping[str, bytes]) -> bytes:
    """A rig and its photos as a zip, the same bytes for the same rig."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        put(archive, DOCUMENT, written(RIG, rig))
        for name in dict.fromkeys(photo.sha256 for photo in rig.photos):
            if name in pictures:
                put(archive, f"{PHOTOS}{name}.jpg", pictures[name])
    return out.getvalue()


def put(archive: zipfile.ZipFile, name: str, content: bytes) -> None:
    """Add a member, always with the same bytes: text pressed, pictures as they are."""
    entry = zipfile.ZipInfo(name, _FIRST_DAY)
    entry.external_attr, entry.create_system = 0o600 << 16, 3
    entry.compress_type = zipfile.ZIP_STORED if name.endswith(".jpg") else zipfile.ZIP_DEFLATED
    archive.writestr(entry, content)


def read_file(file: Path) -> Document:
    """`read` of a file. Raises: Unreadable; NotKept where it cannot be opened."""
    try:
        with file.open("rb") as opened:
            content = opened.read(MOST_FILE_BYTES + 1)
    except OSError as error:
        raise NotKept(
            f"{file} cannot be read: {(error.strerror or str(error)).lower()}", "name another file"
        ) from error
    return read(content)


def read(content: bytes) -> Document:
    """A file as records, every rule of the core checked.

    Args:
        content: the bytes of a JSON document, or of a zip with photos.

    Returns:
        what it holds.

    Raises:
        Unreadable: with what is wrong, and where: damaged, foreign, of another version, or not by the rules.
    """
    if len(content) > MOST_FILE_BYTES:
        raise Unreadable(Fault("file", f"is larger than {MOST_FILE_BYTES // 1024 // 1024} MB"))
    if content.startswith(b"PK"):
        return _unpacked(content)
    return _document(content, {})


def _unpacked(content: bytes) -> Document:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            document, photos = _members(archive)
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError, ValueError, OSError) as error:
        raise Unreadable(Fault("zip", f"is damaged: {error}. Copy it again from where it came")) from error
    return _document(document, photos)


def _members(archive: zipfile.ZipFile) -> tuple[bytes, dict[str, bytes]]:
    entries = {entry.filename: entry for entry in archive.infolist()}
    if len(entries) != len(archive.infolist()):
        raise Unreadable(Fault("zip", "has two files of one name"))
    if DOCUMENT not in entries:
        raise Unreadable(Fault("zip", f"holds no {DOCUMENT}: it is no rig of this program"))
    if len(entries) > MOST_PHOTOS:
        raise Unreadable(Fault("zip", f"holds more than {MOST_PHOTOS} files"))
    if sum(entry.file_size for entry in entries.values()) > MOST_UNPACKED_BYTES:
        raise Unreadable(Fault("zip", f"unpacks to more than {MOST_UNPACKED_BYTES // 1024 // 1024} MB"))
    photos = {}
    for name, entry in entries.items():
        most = MOST_JSON_BYTES if name == DOCUMENT else MOST_PHOTO_BYTES
        own = name == DOCUMENT or (name.startswith(PHOTOS) and name.endswith(".jpg") and name.count("/") == 1)
        if not own or ".." in name or "\\" in name:
            raise Unreadable(Fault(f"zip, {name[:80]}", "does not belong in a rig's file: nothing of it was taken"))
        if entry.file_size > most:
            raise Unreadable(Fault(f"zip, {name[:80]}", f"is larger than {most // 1024 // 1024} MB"))
        if name != DOCUMENT:
            photos[name.removeprefix(PHOTOS).removesuffix(".jpg")] = _taken(archive, entry, most)
    return _taken(archive, entries[DOCUMENT], MOST_JSON_BYTES), photos


def _taken(archive: zipfile.ZipFile, entry: zipfile.ZipInfo, most: int) -> bytes:
    """A member, no larger than it says, whatever it unpacks to."""
    with archive.open(entry) as member:
        content = member.read(most + 1)
    if len(content) > most:
        raise Unreadable(Fault(f"zip, {entry.filename[:80]}", f"is larger than {most // 1024 // 1024} MB"))
    return content


def _document(content: bytes, photos: dict[str, bytes]) -> Document:
    plain = _plain(content)
    kind = plain.get("format")
    if not isinstance(kind, str) or kind not in _ADAPTERS:
        raise Unreadable(Fault("format", "is not one that this program writes: it is no file of a rig, sight or level"))
    version = plain.get("format_version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise Unreadable(Fault("format_version", "is missing, or none that there ever was"))
    if version > FORMAT_VERSION:
        by = str(plain.get("program_version", "a newer program"))[:20]
        newer = (
            f"is {version}, written by Cross Staff {by}: this program reads up to {FORMAT_VERSION}, bring it up first"
        )
        raise Unreadable(Fault("format_version", newer))
    wanted = {*_HEAD, _CONTENT[kind]}
    odd = [name for name in plain if name not in wanted] + [name for name in wanted if name not in plain]
    if odd:
        raise Unreadable(*(Fault(name[:80], "is missing" if name in wanted else "is not known") for name in odd))
    inner = plain[_CONTENT[kind]]
    records = _records(kind, inner)
    faults = _FAULTS[kind](records)
    if faults:
        raise Unreadable(*faults)
    if kind == RIG:
        _check_photos(records, photos)
    return Document(kind, records, photos, plain["sha256"] != _sum(inner))


def _plain(content: bytes) -> dict[str, Any]:
    """A JSON object, strictly: no name twice, no NaN, not deeper than anything that this program writes."""
    if len(content) > MOST_JSON_BYTES:
        raise Unreadable(Fault("file", f"is larger than {MOST_JSON_BYTES // 1024 // 1024} MB"))
    try:
        plain = json.loads(content.decode("utf-8-sig"), object_pairs_hook=_once, parse_constant=_no_number)
    except UnicodeDecodeError as error:
        raise Unreadable(
            Fault(f"byte {error.start + 1}", "is not UTF-8 text: this is no file of this program")
        ) from error
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}"
        raise Unreadable(Fault(where, f"is no JSON ({error.msg.lower()}): the file is damaged or cut off")) from error
    except RecursionError as error:
        raise Unreadable(Fault("file", "is nested deeper than anything that this program writes")) from error
    except ValueError as error:
        raise Unreadable(Fault("file", str(error))) from error
    if not isinstance(plain, dict):
        raise Unreadable(Fault("file", "is no file of a rig, sight or level"))
    return plain


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    plain = dict(pairs)
    if len(plain) != len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for name in names if names.count(name) > 1)
        raise ValueError(f"“{twice[:40]}” stands twice in one place")
    return plain


def _no_number(word: str) -> Any:
    raise ValueError(f"{word} is no number")


def _records(kind: str, inner: Any) -> Any:
    """The content as records. Raises Unreadable for what is missing, not known, or of another kind."""
    try:
        text = json.dumps(inner, allow_nan=False)
        records = _ADAPTERS[kind].validate_json(text, strict=True)
    except ValidationError as error:
        faults = [Fault(_where(each["loc"]), _words(each)) for each in error.errors(include_url=False)[:MOST_FAULTS]]
        raise Unreadable(*faults) from error
    except (ValueError, RecursionError) as error:
        raise Unreadable(Fault("file", "holds a number that is none")) from error
    unknown = list(_unknown(inner, _ADAPTERS[kind].dump_python(records, mode="json"), ()))[:MOST_FAULTS]
    if unknown:
        raise Unreadable(*(Fault(_where(path), "is not known") for path in unknown))
    return records


def _unknown(given: Any, kept: Any, path: tuple[Any, ...]) -> Any:
    """Places of what a document says and its records do not."""
    if isinstance(given, dict) and isinstance(kept, dict):
        for name, value in given.items():
            if name not in kept:
                yield (*path, name)
            else:
                yield from _unknown(value, kept[name], (*path, name))
    elif isinstance(given, list) and isinstance(kept, list):
        for place, (one, other) in enumerate(zip(given, kept)):
            yield from _unknown(one, other, (*path, place))


def _where(path: tuple[Any, ...]) -> str:
    """A place as it is counted by people: records from 1."""
    words = ""
    for part in path:
        words += f" {part + 1}" if isinstance(part, int) else f"{', ' if words else ''}{str(part)[:60]}"
    return words or "file"


_PLAIN_WORDS = {
    "missing": "is missing",
    "string_type": "must be text, in quotes",
    "float_type": "must be a number",
    "finite_number": "must be a number",
    "int_type": "must be a whole number",
    "int_from_float": "must be a whole number",
    "bool_type": "must be true or false",
    "tuple_type": "must be a list, in square brackets",
    "dict_type": "must be an object, in braces",
    "dataclass_type": "must be an object, in braces",
}


def _words(error: Any) -> str:
    return _PLAIN_WORDS.get(error["type"], error["msg"].lower())


def _check_photos(rig: CarriedRig, photos: dict[str, bytes]) -> None:
    """Photos that came along are those of the rig, whole, and pictures. Raises Unreadable."""
    from cross_staff.services.photos import size_of

    known = {photo.sha256: photo for photo in rig.photos}
    faults = []
    for name, content in photos.items():
        where = f"zip, {PHOTOS}{name[:64]}.jpg"
        if name not in known:
            faults.append(Fault(where, "is no photo of this rig"))
        elif hashlib.sha256(content).hexdigest() != name:
            faults.append(Fault(where, "is damaged: its sum is another. Copy the file again"))
        elif size_of(content) != (known[name].width, known[name].height):
            faults.append(Fault(where, "is not the picture that the rig has"))
    if faults:
        raise Unreadable(*faults[:MOST_FAULTS])
