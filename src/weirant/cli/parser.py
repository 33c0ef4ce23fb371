"""Takes the words after a command apart: argparse, whose errors become one line in plain words with a guess at what was meant."""

from __future__ import annotations

import argparse
from argparse import Namespace
from collections.abc import Callable, Iterable
from typing import NoReturn

from weirant.errors import InputError, WeirantError
from weirant.language import tr
from weirant.records import dataclass

OUT = "-"  # in the place of a file: what is printed


class UsageError(WeirantError, ValueError):
    """A command that was called in a way it does not know."""


class Parser(argparse.ArgumentParser):
    """A parser that raises UsageError instead of ending the process."""

    def error(self, message: str) -> NoReturn:  # noqa: D102
        words = message.removeprefix("argument ").replace("the following arguments are required:", tr("missing:")).replace("expected one argument", tr("needs a value after it"))
        raise UsageError(tr("{words}; {prog} --help tells more", words=words, prog=self.prog))

    def format_help(self) -> str:  # noqa: D102
        own = {"usage:": tr("usage:"), "positional arguments:": tr("arguments:"), "options:": tr("options:"), "show this help message and exit": tr("show this help and end")}
        text = super().format_help()
        for english, words in own.items():
            text = text.replace(english, words, 1)
        return text


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
                    epilog=tr("exit code:\n  {exits}\n\nexample:\n  {example}", exits=command.exits, example=command.example))  # fmt: skip
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
        raise InputError(left[0], tr("is not known to weirant {command}", command=command.name) + guess(left[0].partition("=")[0], known))
    return command.run(given)


def guess(word: str, known: Iterable[str]) -> str:
    """``; did you mean …?`` where something near is known, else nothing."""
    import difflib  # only a slip of the keys needs it

    near = difflib.get_close_matches(word, list(known), n=2, cutoff=0.55)
    return tr("; did you mean {near}?", near=tr(" or ").join(near)) if near else ""
