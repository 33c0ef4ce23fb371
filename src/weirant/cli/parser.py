"""Takes the words after a command apart: argparse, whose errors become one line in plain words with a guess at what was meant."""

from __future__ import annotations

import argparse
import difflib
from argparse import Namespace
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import NoReturn

from weirant.errors import InputError, WeirantError


class UsageError(WeirantError, ValueError):
    """A command that was called in a way it does not know."""


class Parser(argparse.ArgumentParser):
    """A parser that raises UsageError instead of ending the process."""

    def error(self, message: str) -> NoReturn:  # noqa: D102
        words = message.removeprefix("argument ").replace("the following arguments are required:", "missing:").replace("expected one argument", "needs a value after it")
        raise UsageError(f"{words}; {self.prog} --help tells more")


@dataclass(frozen=True)
class Command:
    """A command: what it does in one line, what it takes, what it gives back as exit codes, an example, and the function that runs it."""

    name: str
    summary: str
    takes: Callable[[Parser], None]
    exits: str
    example: str
    run: Callable[[Namespace], int]


def parser_of(command: Command) -> Parser:
    """The parser of a command."""
    parser = Parser(prog=f"weirant {command.name}".strip(), description=command.summary, formatter_class=argparse.RawDescriptionHelpFormatter, allow_abbrev=False,
                    epilog=f"exit code:\n  {command.exits}\n\nexample:\n  {command.example}")  # fmt: skip
    command.takes(parser)
    return parser


def run(command: Command, words: list[str]) -> int:
    """Run a command on its words. UsageError and InputError name what is wrong with them."""
    parser = parser_of(command)
    try:
        given, left = parser.parse_known_intermixed_args(words)
    except SystemExit as asked:  # --help was printed
        return int(asked.code or 0)
    if left:
        known = [flag for action in parser._actions for flag in action.option_strings]
        raise InputError(left[0], f"is not known to weirant {command.name}{guess(left[0].partition('=')[0], known)}")
    return command.run(given)


def guess(word: str, known: Iterable[str]) -> str:
    """``; did you mean …?`` where something near is known, else nothing."""
    near = difflib.get_close_matches(word, list(known), n=2, cutoff=0.55)
    return f"; did you mean {' or '.join(near)}?" if near else ""
