"""Collects the texts for translators and packs what they wrote.

    ./weirant python tools/messages.py          updates src/weirant/language/catalogues/*.po with the texts of today, and packs each into its .mo
    ./weirant python tools/messages.py --check  says whether anything is missing, stale or not packed, and changes nothing

Texts stand in the source as ``tr("…")`` and ``ntr("one", "many", n)``, in labels of fields and in the tables that ship with the application.
"""

from __future__ import annotations

import ast
import csv
import dataclasses
import importlib
import io
import pkgutil
import string
import sys
import tomllib
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from babel.messages.catalog import Catalog, Message
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

from weirant import __version__
from weirant import job as job_package
from weirant.methods.catalogue import REGISTRY
from weirant.units import dimension

PACKAGE = Path(__file__).parents[1] / "src" / "weirant"
CATALOGUES = PACKAGE / "language" / "catalogues"
# Functions whose text is looked up by themselves, with the position of that text.
LOOKED_UP = {"quantity": 0, "plain": 0, "choice": 0, "several": 0, "Spec": 0, "InputError": 0, "Kind": 4}
COLUMNS = {"pipes.csv": ("name", "note"), "aggregates.csv": ("name", "note"), "geotextiles.csv": ("name", "note"), "textures.csv": ("name", "note"),
           "diagnosis.csv": ("text", "answer"), "waters.csv": ("name", "drain", "test"),
           "autopsy.csv": ("text", "answer"), "failures.csv": ("name", "look", "measure", "keep"), "rules.csv": ("words", "note"), "parts.csv": ("name", "note"),
           "rates.csv": ("name", "note"), "machines.csv": ("name", "note")}  # fmt: skip
# Codes that are shown as the language says them, besides the words that fields of a job hold.
SHOWN_CODES = (("weirant.outcome.finding", "State"), ("weirant.ground.grade.demands", "Aim"), ("weirant.design.hand_methods", "QUESTIONS"), ("weirant.design.snapping", "WORDS"),
               ("weirant.ground.places", "WORDS"), ("weirant.formats.points_csv", "ROLES"), ("weirant.formats.points_csv", "UNITS"), ("weirant.design.storms", "SHOWN"),
               ("weirant.methods.usda_texture", "ANSWERS"), ("weirant.job.soils", "SHOWN"), ("weirant.units.display", "NAMED_UNITS"))  # fmt: skip
OWN_WORDS = ("cp", "user", "geometry")  # sources that are no published work, whose titles stay as they are

Text = str | tuple[str, str]


def _literal(node: ast.expr) -> str | None:
    return node.value if isinstance(node, ast.Constant) and isinstance(node.value, str) else None


def in_source() -> Iterator[tuple[Text, str]]:
    """Texts in the source, each with its file."""
    for path in sorted(PACKAGE.rglob("*.py")):
        where = path.relative_to(PACKAGE).as_posix()
        if where.startswith(("language/", "formats/earlier/")):
            continue
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if not isinstance(node, ast.Call):
                continue
            name = node.func.id if isinstance(node.func, ast.Name) else node.func.attr if isinstance(node.func, ast.Attribute) else ""
            literals = [_literal(argument) for argument in node.args]
            if name == "tr" and literals and literals[0]:
                yield literals[0], where
            elif name == "ntr" and literals[0] and literals[1]:
                yield (literals[0], literals[1]), where
            elif name in LOOKED_UP:
                text = literals[LOOKED_UP[name]] if len(literals) > LOOKED_UP[name] else None
                if text and any(c.isalpha() for c in text):
                    yield text, where


def in_job() -> Iterator[tuple[Text, str]]:
    """The words that fields of a job hold, shown in the reader's language."""
    for name, attribute in SHOWN_CODES:
        yield from ((str(code), f"{name.removeprefix('weirant.').replace('.', '/')}.py") for code in getattr(importlib.import_module(name), attribute))
    for module in pkgutil.iter_modules(job_package.__path__):
        for thing in vars(importlib.import_module(f"{job_package.__name__}.{module.name}")).values():
            if isinstance(thing, type) and dataclasses.is_dataclass(thing):
                for field in dataclasses.fields(thing):
                    yield from ((word, f"job/{module.name}.py") for word in field.metadata.get("words", ()) if word)


def in_tables() -> Iterator[tuple[Text, str]]:
    """Texts in the tables that ship with the application."""
    for name, columns in COLUMNS.items():
        path = next(PACKAGE.rglob(name))
        for row in csv.DictReader(path.read_text(encoding="utf-8").splitlines()):
            yield from ((row[column], path.relative_to(PACKAGE).as_posix()) for column in columns if row[column])
    for row in csv.DictReader((PACKAGE / "sources" / "bibliography.csv").read_text(encoding="utf-8").splitlines()):
        if row["key"] in OWN_WORDS:
            yield row["citation"], "sources/bibliography.csv"
    for name in ("words/findings.toml", "words/phrases.toml", "handbook/findings.toml"):
        yield from ((text, name) for text in _strings(tomllib.loads((PACKAGE / name).read_text(encoding="utf-8"))))
    for method in REGISTRY.values():
        yield from ((text, "methods") for text in (method.summary, method.formula))
    yield from ((thing.name, "units/dimension.py") for thing in vars(dimension).values() if isinstance(thing, dimension.Dimension))


def _strings(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for one in value.values():
            yield from _strings(one)


def collected() -> Catalog:
    """All texts of today, without translations."""
    texts: dict[Text, set[str]] = {}
    for text, where in (*in_source(), *in_job(), *in_tables()):
        texts.setdefault(text, set()).add(where)
    several = {text[0] for text in texts if isinstance(text, tuple)}
    catalogue = Catalog(project="Weirant", version=__version__, charset="utf-8")
    for text, places in sorted(texts.items(), key=lambda item: (min(item[1]), str(item[0]))):
        if isinstance(text, tuple) or text not in several:
            catalogue.add(text, locations=[(place, 0) for place in sorted(places)])
    return catalogue


def translated(path: Path) -> Catalog:
    """What translators wrote."""
    with path.open("rb") as file:
        return read_po(file, locale=path.stem)


def gaps(text: str) -> set[str]:
    """The names of the gaps of a text, and of what its clauses in brackets ask for."""
    return {name for _, name, _, _ in string.Formatter().parse(text) if name}


def faults(catalogue: Catalog, today: Catalog) -> list[str]:
    """What a translation lacks, what of it is said no more, and where its gaps are not those of the text."""
    found = []
    for message in today:
        if not message.id:
            continue
        own = catalogue.get(message.id)
        said = _forms(own.string) if own is not None else ()
        if not said or not all(said):
            found.append(f"not translated: {message.id}")
        elif any(not gaps(form) <= _asked(message) for form in said):
            found.append(f"gaps differ: {message.id} / {said}")
    return found + [f"said no more: {message.id}" for message in catalogue if message.id and today.get(message.id) is None]


def _forms(text: Any) -> tuple[str, ...]:
    return text if isinstance(text, tuple) else (text,)


def _asked(message: Message) -> set[str]:
    return set().union(*(gaps(form) for form in _forms(message.id)))


def packed(catalogue: Catalog) -> bytes:
    """The catalogue as the application reads it."""
    out = io.BytesIO()
    write_mo(out, catalogue)
    return out.getvalue()


def main() -> int:
    """Update, or check."""
    today, bad = collected(), 0
    for path in sorted(CATALOGUES.glob("*.po")):
        old = translated(path)
        if "--check" not in sys.argv:
            new = Catalog(locale=path.stem, project="Weirant", version=__version__, charset="utf-8", fuzzy=False)
            for message in today:
                if message.id:
                    known = old.get(message.id)
                    new.add(message.id, known.string if known is not None else "", locations=message.locations)
            new.revision_date = old.revision_date  # the file changes where texts do
            with path.open("wb") as file:
                write_po(file, new, width=150, include_lineno=False, omit_header=False)
            old = translated(path)
            path.with_suffix(".mo").write_bytes(packed(old))
        found = faults(old, today)
        if path.with_suffix(".mo").read_bytes() != packed(old):
            found.append("not packed: run this without --check")
        print("\n".join((*found[:30], f"{path.name}: {len(today)} texts, {len(found)} faults")))
        bad += len(found)
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())
