"""The job file: UTF-8 JSON, versioned, read strictly, with every fault told by its path inside the file."""

from __future__ import annotations

import dataclasses
import json
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from weirant.errors import JobFileError
from weirant.formats.plain_files import digest_of, read_plain, shown_name, write_safely
from weirant.formats.strict_reader import compiled_core, reader_of
from weirant.job import Job
from weirant.job.faults import Fault, faults, faults_of
from weirant.language import tr
from weirant.library import shipped, with_own
from weirant.library.parts import is_counted
from weirant.records import dataclass

SUFFIX = ".weirant"
FORMAT, VERSION = "weirant-job", 19  # what the versions differ in is told in formats/earlier, which brings them up
FIRST_OF_SHAPE = 16  # versions before it are read in the shape they had; it lacks only what the later ones have defaults for
LARGEST = 20_000_000  # bytes; a job file is some kilobytes, one with a hundred thousand points some megabytes
SMALL = 1_000_000  # bytes up to which every fault is told, not only the first of each list
WIDEST = 200  # fields in one place; a job has some thirty

_WORDS = {
    "missing": tr("is missing"), "unexpected_keyword_argument": tr("is not known here"), "extra_forbidden": tr("is not known here"),
    "float_type": tr("must be a number"), "int_type": tr("must be a whole number"), "bool_type": tr("must be true or false"),
    "string_type": tr("must be text"), "finite_number": tr("must be a finite number"), "tuple_type": tr("must be a list"),
    "dataclass_type": tr("must be a group of fields"), "dataclass_exact_type": tr("must be a group of fields"),
}  # fmt: skip


def to_bytes(job: Job) -> bytes:
    """The file's bytes."""
    return to_text(job).encode("utf-8")


def to_text(job: Job) -> str:
    """The file's text: one field a line, in a fixed order, so that two versions compare well."""
    document = {"format": FORMAT, "version": VERSION, "job": dataclasses.asdict(job)}
    return json.dumps(document, indent=1, ensure_ascii=False, allow_nan=False) + "\n"


def from_text(text: str, name: str = tr("the file")) -> Job:
    """Read a job. Raises JobFileError with every fault and its path; never anything else."""
    document = _document(text, name)
    version = document.get("version")
    if document.get("format") != FORMAT:
        raise JobFileError(tr("{name} is not a Weirant job: its format is {format}.", name=name, format=_short(document.get("format"))))
    if isinstance(version, bool) or not isinstance(version, int):
        raise JobFileError(tr("{name} does not say which version of the job format it has.", name=name))
    if version > VERSION or version < 1:
        raise JobFileError(
            tr("{name} has job format version {version}; this Weirant reads version {version_2}. Update Weirant to open it.", name=name, version=_short(version), version_2=VERSION)
        )
    unknown = [(key, tr("is not known here")) for key in document if key not in ("format", "version", "job")]
    if unknown or "job" not in document:
        raise JobFileError(tr("{name} is damaged:", name=name), tuple(unknown) or (("job", tr("is missing")),))
    return _job(text, name) if version >= FIRST_OF_SHAPE else _brought_up(text, name, version)


def _short(value: object) -> str:
    text = repr(value) if value is not None else tr("not given")
    return text if len(text) <= 40 else text[:37] + "..."


def _document(text: str, name: str) -> dict[str, Any]:
    def refuse(word: str) -> None:
        raise JobFileError(tr("{name} holds {word}, which is not a number that a job can have.", name=name, word=word))

    try:
        document = json.loads(text, parse_constant=refuse, object_pairs_hook=_no_twins)
    except json.JSONDecodeError as fault:
        raise JobFileError(tr("{name} is damaged at line {lineno}, column {colno}: {msg}.", name=name, lineno=fault.lineno, colno=fault.colno, msg=fault.msg)) from fault
    except (RecursionError, ValueError) as fault:
        if isinstance(fault, JobFileError):
            raise
        raise JobFileError(tr("{name} is damaged: {fault}.", name=name, fault=fault)) from fault
    if not isinstance(document, dict):
        raise JobFileError(tr("{name} is not a Weirant job.", name=name))
    return document


def _no_twins(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    if len(pairs) > WIDEST:
        raise JobFileError(tr("The file is damaged: {pairs:,} fields stand in one place, where a job has some dozens.", pairs=len(pairs)))
    found = dict(pairs)
    if len(found) != len(pairs):
        seen: set[str] = set()
        twice = next(key for key, _ in pairs if key in seen or seen.add(key))  # type: ignore[func-returns-value]
        raise JobFileError(tr("The file is damaged: the field {twice} stands twice in one place.", twice=_short(twice)))
    return found


def _job(text: str, name: str) -> Job:
    job: Job = _read(text, name, Job)
    found = faults(job) or _unknown_products(job)
    if found:
        raise JobFileError(tr("{name} holds values that cannot be:", name=name), tuple((f"job.{path}", text) for path, text in found))
    return job


def _brought_up(text: str, name: str, version: int) -> Job:
    """A job of an earlier version: read as strictly in the shape it had, its faults told by the paths of its file, then brought up."""
    from weirant.formats.earlier import brought_up
    from weirant.formats.earlier.job_4 import Job4
    from weirant.formats.earlier.job_6 import Job6
    from weirant.formats.earlier.job_7 import Job7
    from weirant.formats.earlier.job_8 import Job8
    from weirant.formats.earlier.job_9 import Job9
    from weirant.formats.earlier.job_15 import Job15

    shapes: dict[int, type[Job4 | Job6 | Job7 | Job9 | Job15]] = {6: Job6, 7: Job7, 8: Job8, 9: Job9} | dict.fromkeys(range(10, 16), Job15)
    before: Job4 | Job6 | Job7 | Job9 | Job15 = _read(text, name, shapes.get(version, Job4))
    found = faults_of(before)
    if found:
        raise JobFileError(tr("{name} holds values that cannot be:", name=name), tuple((f"job.{path}", text) for path, text in found))
    fields = brought_up(dataclasses.asdict(before), version)
    return _job(json.dumps({"format": FORMAT, "version": VERSION, "job": fields}, ensure_ascii=False), name)


def _read(text: str, name: str, shape: Any) -> Any:
    refused = compiled_core().ValidationError
    try:
        try:
            return reader_of(shape, is_early=True).validate_json(text)["job"]
        except refused:
            if len(text) > SMALL:
                raise
            return reader_of(shape, is_early=False).validate_json(text)["job"]  # a small file has all its faults told
    except refused as fault:
        told = fault.errors(include_url=False, include_context=False, include_input=False)
        raise JobFileError(tr("{name} is damaged:", name=name), tuple(_told(error) for error in told)) from None  # what it carries is as large as the file
    except (RecursionError, ValueError) as fault:
        raise JobFileError(tr("{name} is damaged: {fault}.", name=name, fault=_short(str(fault)))) from fault


def _told(error: Any) -> Fault:
    path = "".join(f"[{step}]" if isinstance(step, int) else f".{step}" for step in error["loc"]).lstrip(".")
    return path, _WORDS.get(error["type"], str(error["msg"]))


def _unknown_products(job: Job) -> list[Fault]:
    library = with_own(shipped(), job.products)
    wanted: list[tuple[str, str, Mapping[str, Any]]] = []
    for i, section in enumerate(job.sections):
        wanted += [(f"sections[{i}].aggregate", section.aggregate, library.aggregates), (f"sections[{i}].geotextile", section.geotextile, library.geotextiles),
                   (f"sections[{i}].sand", section.sand, library.aggregates)]
    wanted += [(f"runs[{i}].stretches[{n}].pipe", stretch.pipe, library.pipes) for i, run in enumerate(job.runs) for n, stretch in enumerate(run.stretches)]
    found: list[Fault] = [(path, tr("'{key}' is not in the library", key=key)) for path, key, items in wanted if key not in items]
    sold = {*library.pipes, *library.geotextiles}
    found += [(f"products.sold_in[{n}].key", tr("'{key}' is not in the library", key=one.key)) for n, one in enumerate(job.products.sold_in) if one.key not in sold]
    found += [(f"parts.counts[{n}]", tr("'{key}' is not in the library", key=f"{rule.part} / {rule.wanted}")) for n, rule in enumerate(job.parts.counts) if not is_counted(rule)]
    return found + [(f"soils[{n}].layers[{i}].texture", tr("'{texture}' is not in the library", texture=layer.texture))
                    for n, soil in enumerate(job.soils) for i, layer in enumerate(soil.layers) if layer.texture not in library.textures]  # fmt: skip


@dataclass(frozen=True)
class Opened:
    """A job as it was read, and the digest of the file it came from."""

    job: Job
    digest: str


def load(path: Path) -> Job:
    """Read a job from a file. Raises JobFileError in the user's words."""
    return from_text(_text(path, read_plain(path, LARGEST, tr("a job file"))), shown_name(path))


def read_job(path: Path) -> Opened:
    """Like ``load``, with the digest that tells later whether somebody else has written the file."""
    content = read_plain(path, LARGEST, tr("a job file"))
    return Opened(from_text(_text(path, content), shown_name(path)), digest_of(content))


def _text(path: Path, content: bytes) -> str:
    try:
        return content.decode("utf-8")
    except UnicodeDecodeError as fault:
        raise JobFileError(
            tr("{path} is not UTF-8 text (byte {start}); it is damaged or no job file.", path=shown_name(path), start=fault.start)
        ) from fault


def save(job: Job, path: Path, expected: str | None = None) -> str:
    """Write a job; the file before it is kept beside it with a ~. Gives the digest of what was written.

    Raises JobFileError where it cannot be written, ChangedOnDiskError where the file no longer has the digest ``expected``.
    """
    content = to_bytes(job)
    write_safely(path, content, backup=True, expected=expected)
    return digest_of(content)
