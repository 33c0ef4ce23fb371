"""Writes the man page and the completion of bash and zsh from the table of commands.

Run: ./weirant python tools/manual.py [--check]; with --check nothing is written, and what is not up to date is an error.
"""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from weirant import __version__
from weirant.cli.commands import COMMANDS
from weirant.cli.parser import Command, parser_of

SHARE = Path(__file__).resolve().parent.parent / "share"
FILES = "*.weirant"


def roff(text: str) -> str:
    """A text as the man page takes it."""
    return text.replace("\\", "\\e").replace("-", "\\-").replace("\n.", "\n\\&.")


def options_of(command: Command) -> list[argparse.Action]:
    """Everything a command takes, but its help."""
    return [action for action in parser_of(command)._actions if action.dest != "help"]


def manual() -> str:
    """The man page."""
    lines = [f'.TH WEIRANT 1 "" "Weirant {__version__}" "User commands"', ".SH NAME", "weirant \\- plan, check and record French drains and curtain drains", ".SH SYNOPSIS",
             ".B weirant\n[\\fIFILE\\fR | \\fBdemo\\fR]", ".br", ".B weirant\n\\fICOMMAND\\fR [\\fIoption\\fR ...]", ".SH DESCRIPTION",
             roff("Without a command the window opens: empty, on a job file, on the demo job or on a pattern. A command runs without a window. Results go to standard output, "
                  "everything else to standard error. Values carry units, such as 3/4 in or 1 in per 10 ft; a bare number is SI. "
                  "A job is a file, the word demo, or pattern:NAME."), ".SH COMMANDS"]  # fmt: skip
    for command in COMMANDS.values():
        lines += [f".SS {command.name}", roff(command.summary)]
        for action in options_of(command):
            name = ", ".join(action.option_strings) or str(action.metavar)
            value = f" \\fI{action.metavar}\\fR" if action.option_strings and action.metavar else ""
            lines += [".TP", f"\\fB{roff(name)}\\fR{value}", roff(action.help or "")]
        lines += [".PP", roff(f"Exit code: {command.exits}."), ".PP", roff("Example:"), ".PP", ".nf", roff(command.example), ".fi"]
    lines += [".SH LANGUAGE", roff("--lang CODE before or after a command, or the environment variable WEIRANT_LANG, or the settings, or the desktop choose the language of what is "
                                   "shown, in this order. JSON and CSV do not change with it."),
              ".SH FILES", ".TP", "\\fI$XDG_STATE_HOME/weirant/recovery\\fR", "Safety copies of work that is not saved.", ".TP", "\\fI$XDG_STATE_HOME/weirant/trouble.log\\fR",
              "What led to errors that nobody foresaw."]  # fmt: skip
    return "\n".join(lines) + "\n"


def for_bash() -> str:
    """Completion for bash."""
    cases = "\n".join(f'        {c.name}) words="{" ".join(o for a in options_of(c) for o in a.option_strings)} --help" ;;' for c in COMMANDS.values())
    return f"""# bash completion of weirant
_weirant() {{
    local word="${{COMP_WORDS[COMP_CWORD]}}" words="{" ".join(COMMANDS)} demo --help --version --lang"
    [ "$COMP_CWORD" -gt 1 ] && case "${{COMP_WORDS[1]}}" in
{cases}
        *) words="" ;;
    esac
    COMPREPLY=($(compgen -W "$words" -- "$word") $(compgen -f -X '!{FILES}' -- "$word") $(compgen -d -- "$word"))
}}
complete -o filenames -F _weirant weirant
"""


def for_zsh() -> str:
    """Completion for zsh."""

    def quoted(text: str) -> str:
        return text.replace("'", "").replace("[", "(").replace("]", ")").replace(":", ";")

    commands = "\n".join(f"        '{c.name}:{quoted(c.summary)}'" for c in COMMANDS.values())
    cases = "\n".join(f"        {c.name}) _arguments {' '.join(_zsh_option(a, quoted(a.help or '')) for a in options_of(c) if a.option_strings)} '*:job:_files -g \"{FILES}\"' ;;"
                      for c in COMMANDS.values())  # fmt: skip
    return f"""#compdef weirant
local -a commands
commands=(
{commands}
        'demo:The demo job.'
)
if (( CURRENT == 2 )); then
    _describe command commands
    _files -g "{FILES}"
else
    local command="$words[2]"
    shift words; (( CURRENT-- ))
    case "$command" in
{cases}
    esac
fi
"""


def _zsh_option(action: argparse.Action, words: str) -> str:
    value = f":{action.metavar}:" if action.metavar else ""
    return " ".join(f"'{name}[{words}]{value}'" for name in action.option_strings)


def main() -> int:
    """Write the files, or compare them."""
    stale = 0
    for name, text in (("weirant.1", manual()), ("weirant", for_bash()), ("_weirant", for_zsh())):
        if "--check" not in sys.argv:
            (SHARE / name).write_text(text, encoding="utf-8")
        elif not (SHARE / name).exists() or (SHARE / name).read_text(encoding="utf-8") != text:
            print(f"share/{name} is not up to date: run tools/manual.py", file=sys.stderr)
            stale = 1
    return stale


if __name__ == "__main__":
    sys.exit(main())
