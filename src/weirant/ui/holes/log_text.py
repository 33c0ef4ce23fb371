"""A soil log as one typed line, such as ``loam 10 in; silt loam 30 in spots``."""

from __future__ import annotations

from weirant.errors import InputError
from weirant.job.holes import Horizon
from weirant.language import first_small, regrouped, tr
from weirant.library import shipped
from weirant.units import parse
from weirant.units.dimension import LENGTH
from weirant.units.display import DEPTH, System, shown, unit_of

SPOTS = tr("spots")


def log_text(log: tuple[Horizon, ...], system: System) -> str:
    """The log as it is typed."""
    depths = (regrouped(shown(h.to_depth, DEPTH, system), "") for h in log)
    return "; ".join(f"{_name(h.texture)} {depth}" + (f" {SPOTS}" if h.mottled else "") for h, depth in zip(log, depths, strict=True))


def read_log(text: str, system: System) -> tuple[Horizon, ...]:
    """Layers parted by semicolons: texture, depth down to, and ``spots`` where there are grey and rust spots.

    Raises InputError that quotes the layer that cannot be understood.
    """
    names = sorted(((_name(key), key) for key in shipped().textures), key=lambda item: -len(item[0]))
    out: list[Horizon] = []
    for part in (p.strip() for p in text.split(";") if p.strip()):
        words = part.lower()
        spotted = words.endswith(SPOTS.lower())
        words = words.removesuffix(SPOTS.lower()).strip()
        found = next(((name, key) for name, key in names if words.startswith(name.lower() + " ")), None)
        if found is None:
            raise InputError(tr("soil log"), tr("needs a texture and the depth it goes down to, such as silt loam 30 in"), part)
        depth = parse(words[len(found[0]) :].strip(), LENGTH, tr("depth of {found}", found=found[0]), unit_of(DEPTH, system))
        if out and depth <= out[-1].to_depth:
            raise InputError(tr("soil log"), tr("must go deeper with every layer"), part)
        out.append(Horizon(found[1], depth, spotted))
    return tuple(out)


def _name(key: str) -> str:
    texture = shipped().textures.get(key)
    return first_small(texture.name if texture else key)
