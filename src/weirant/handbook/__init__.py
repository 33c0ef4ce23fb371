"""The handbook: short pages in Markdown, and pages made from what the program knows: findings and methods."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources

from weirant.language import ENGLISH, here, tr
from weirant.methods.catalogue import REGISTRY
from weirant.methods.registry import Method
from weirant.records import dataclass
from weirant.sources import citation
from weirant.words.findings import titles

WRITTEN = ("window", "worked-job", "step-water", "step-levels", "step-map", "step-soil", "step-line", "step-trench", "step-materials", "step-storm", "step-order", "step-dig")
LAST = ("glossary",)
FINDINGS, METHODS = "findings", "methods"


@dataclass(frozen=True)
class Page:
    """A page: its key, by which it is linked and asked for, its title, and its Markdown."""

    key: str
    title: str
    text: str


@cache
def pages() -> dict[str, Page]:
    """All pages in the order in which they are read."""
    found = [*map(_written, WRITTEN), _findings(), _methods(), *map(_written, LAST)]
    return {page.key: page for page in found}


@cache
def explained() -> dict[str, str]:
    """What each finding means and what to do, by its code."""
    return {code: tr(text) for code, text in tomllib.loads(_file("findings.toml"))["explained"].items()}


def search(words: str) -> list[tuple[Page, str]]:
    """The pages that hold all of some words, each with the line that holds most of them; those that have them in the title first."""
    wanted = words.lower().split()
    if not wanted:
        return [(page, "") for page in pages().values()]
    found: list[tuple[int, Page, str]] = []
    for page in pages().values():
        whole = page.text.lower()
        if all(word in whole for word in wanted):
            line = max((text for text in page.text.splitlines() if "![" not in text), key=lambda text: sum(word in text.lower() for word in wanted))
            found.append((0 if all(word in page.title.lower() for word in wanted) else 1, page, line.strip("#-* ")))
    return [(page, line) for _, page, line in sorted(found, key=lambda hit: hit[0])]


def picture(name: str) -> bytes:
    """A picture of a page as PNG, in the reader's language or in English; empty where there is none."""
    for tongue in (here().code, ENGLISH.code):
        file = resources.files("weirant.handbook").joinpath("pictures", tongue, name)
        if file.is_file():
            return file.read_bytes()
    return b""


def _file(name: str) -> str:
    return resources.files("weirant.handbook").joinpath(name).read_text(encoding="utf-8")


def _page_file(key: str) -> str:
    """A written page in the reader's language, or in English where that has none."""
    translated = resources.files("weirant.handbook").joinpath("pages", here().code, f"{key}.md")
    return translated.read_text(encoding="utf-8") if translated.is_file() else _file(f"pages/{key}.md")


def _written(key: str) -> Page:
    text = _page_file(key)
    return Page(key, text.splitlines()[0].lstrip("# "), text)


def _findings() -> Page:
    """Every finding by its title: what it means, and what to do."""
    lines = [tr("# Findings: what they mean, what to do"), "",
             tr("*fails*: a limit is passed. *tight*: within a tenth of it, or it could go either way. "
             "*unknown*: something has to be measured or asked first. *holds*: worked out, and within the limit.")]  # fmt: skip
    for code, title in titles().items():
        lines += ["", f"## {title}", "", explained()[code]]
    return Page(FINDINGS, tr("Findings: what they mean, what to do"), "\n".join(lines) + "\n")


def _methods() -> Page:
    """Every method with its formula, keys, range and source, from the registry."""
    lines = [tr("# Methods"), "", tr("On the command line: `weirant calc NAME`, which also shows an example that runs.")]
    for method in sorted(REGISTRY.values(), key=lambda m: m.name):
        keys = ", ".join(_key(method, key) for key in method.keys)
        lines += ["", f"## {method.name}", "", method.summary, "", f"    {method.formula}", "", tr("- Keys: {keys}", keys=keys), tr("- Valid: {valid}", valid=method.valid),
                  *(tr("- Source: {source}", source=citation(source)) for source in method.sources)]  # fmt: skip
    return Page(METHODS, tr("Methods"), "\n".join(lines) + "\n")


def _key(method: Method, key: str) -> str:
    reader = method.keys[key]
    return f"{key.replace('_', ' ')} ({tr(getattr(reader, 'name', 'text'))})"
