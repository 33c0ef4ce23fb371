"""The project's own exceptions: each says what is wrong, where, and what to do."""

from __future__ import annotations

from weirant.language import tr

TOLD = 30  # faults of a file that a message tells one by one


def short(text: str, longest: int = 80) -> str:
    """A text cut to a length fit for a message."""
    return text if len(text) <= longest else text[: longest - 1] + "…"


class WeirantError(Exception):
    """Base of every error that Weirant raises on purpose; its text is fit to be shown to the user."""


class InputError(WeirantError, ValueError):
    """A value that cannot be used. Carries the field, the rule it breaks and the value given."""

    def __init__(self, field: str, rule: str, value: object = None) -> None:
        self.field, self.rule, self.value = field, rule, value
        shown = "" if value is None else f": {value}"
        super().__init__(f"{tr(field)} {rule}{shown}" if field else f"{rule}{shown}")


class NoSuchRunError(InputError):
    """A run was asked for by an identity that no run has."""

    def __init__(self, identity: str) -> None:
        super().__init__("run", tr("is not on this site"), identity)


class NoJobError(InputError):
    """Something was asked of a job, and none is open."""

    def __init__(self) -> None:
        super().__init__("", tr("no job is open"))


class SolverError(WeirantError, ArithmeticError):
    """A solver that did not converge. Carries the residual that was left."""

    def __init__(self, what: str, residual: float) -> None:
        self.residual = residual
        super().__init__(tr("{what} did not converge (residual {residual:.3g})", what=what, residual=residual))


class JobFileError(WeirantError, ValueError):
    """A file that cannot be read. Carries every fault found, each with its path inside the file."""

    def __init__(self, message: str, faults: tuple[tuple[str, str], ...] = ()) -> None:
        self.faults = faults
        lines = [f"  {path}: {text}" for path, text in faults[:TOLD]]
        if len(faults) > TOLD:
            lines.append(tr("  and {faults:,} more", faults=len(faults) - TOLD))
        super().__init__("\n".join([message, *lines]))
