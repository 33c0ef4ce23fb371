"""Loading the simulator beside the interface: with its compiler it takes half a second, which nobody should feel as a frozen window."""

from __future__ import annotations

from collections.abc import Callable

from weirant.ui.work import in_background

_loaded: list[bool] = []


def is_loaded() -> bool:
    """Whether the pages of the simulator open at once."""
    return bool(_loaded)


def when_loaded(then: Callable[[], None], failed: Callable[[str], None] = lambda _: None) -> None:
    """Call on the interface thread once the simulator is loaded; or tell why it cannot be."""
    if _loaded:
        then()
    else:
        in_background(_load, lambda _: then(), failed)


def _load() -> None:
    import weirant.design.bench
    import weirant.design.ensemble
    import weirant.drawing.storm_chart
    import weirant.hydraulics.kernel.route  # noqa: F401

    _loaded.append(True)
