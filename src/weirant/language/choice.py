"""Which language is asked for: by the command line, the environment, the settings or the desktop, in this order."""

from __future__ import annotations

import re
from collections.abc import Mapping
from pathlib import Path

from weirant.language.tongue import ENGLISH, TONGUES, Tongue

OPTION, VARIABLE, SETTING = "--lang", "WEIRANT_LANG", "language"


def without_option(arguments: list[str]) -> tuple[list[str], str]:
    """The arguments without the language asked for among them, and its code; empty where none is. Raises ValueError where that is missing
    or no language of the program.
    """
    rest, code = list(arguments), ""
    for index, word in enumerate(arguments):
        if word == OPTION:
            if index + 1 == len(arguments):
                raise ValueError(f"{OPTION} needs a language after it: {', '.join(sorted(TONGUES))}")
            code, rest = arguments[index + 1], arguments[:index] + arguments[index + 2 :]
            break
        if word.startswith(f"{OPTION}="):
            code, rest = word.partition("=")[2], arguments[:index] + arguments[index + 1 :]
            break
    if code and code not in TONGUES:
        raise ValueError(f"{OPTION} must be one of {', '.join(sorted(TONGUES))}: {code}")
    return rest, code


def wanted(option: str, environment: Mapping[str, str]) -> Tongue:
    """The language: what is no language of the program's own is passed over."""
    return TONGUES.get(option) or TONGUES.get(environment.get(VARIABLE, "")) or TONGUES.get(_chosen(environment)) or TONGUES.get(_desktop(environment)) or ENGLISH


def _chosen(environment: Mapping[str, str]) -> str:
    """The language chosen in the settings, read before there is anything that could ask for them properly."""
    folder = environment.get("XDG_CONFIG_HOME") or str(Path(environment.get("HOME", "/")) / ".config")
    try:
        text = (Path(folder) / "weirant" / "weirant.conf").read_text(encoding="utf-8", errors="replace")
    except OSError:
        return ""
    found = re.search(rf"^{SETTING}=([\w-]+)$", text, re.MULTILINE)
    return found[1] if found else ""


def _desktop(environment: Mapping[str, str]) -> str:
    locale = next((environment[name] for name in ("LC_ALL", "LC_MESSAGES", "LANG") if environment.get(name)), "")
    return re.split(r"[_.@]", locale)[0]
