"""The colours of a theme. One water blue, kept for water; every sign that colour makes is made by shape or word too."""

from __future__ import annotations

from weirant.records import dataclass


@dataclass(frozen=True)
class Palette:
    """Colours as #rrggbb. Text on paper and panel has a contrast of at least 4.5 to 1, ``edge`` of what is pressed or
    typed into 3 to 1; ``rule`` only parts what words part too."""

    name: str
    paper: str
    panel: str
    field: str
    ink: str
    muted: str
    rule: str
    edge: str
    water: str
    water_pale: str
    soil: str
    subsoil: str
    hard: str
    backfill: str
    stone: str
    stone_edge: str
    pipe: str
    fabric: str
    grass: str
    building: str
    rust: str
    ochre: str
    leaf: str
    accent: str


DAYLIGHT = Palette(
    "daylight", paper="#F7F2E8", panel="#EEE6D6", field="#FFFDF8", ink="#25211C", muted="#5F564A", rule="#CDC1AC", edge="#8C806C",
    water="#1B66A0", water_pale="#CBDFEA", soil="#E3D2B4", subsoil="#D6BF9A", hard="#B59A78", backfill="#D9C5A3",
    stone="#EDEAE2", stone_edge="#7D766B", pipe="#3B3733", fabric="#25211C", grass="#C9CFA4", building="#CFC8BC",
    rust="#A2381B", ochre="#7A5200", leaf="#3C6237", accent="#4A3B2A",
)  # fmt: skip

DIM = Palette(
    "dim", paper="#1F1C19", panel="#2A2622", field="#15130F", ink="#EFE8DA", muted="#B9AE9E", rule="#4B443B", edge="#8A7F70",
    water="#6DB3E2", water_pale="#22394A", soil="#4A4030", subsoil="#3F3526", hard="#5D4C36", backfill="#55482F",
    stone="#6A665E", stone_edge="#B7B0A2", pipe="#D8D2C6", fabric="#EFE8DA", grass="#3D4429", building="#4E4840",
    rust="#F08A68", ochre="#E2B04A", leaf="#9CC48F", accent="#E9DcC4",
)  # fmt: skip

PRINT = Palette(
    "print", paper="#FFFFFF", panel="#FFFFFF", field="#FFFFFF", ink="#000000", muted="#3A3A3A", rule="#B5B5B5", edge="#555555",
    water="#1B5A8C", water_pale="#DCE9F1", soil="#EFEAE0", subsoil="#E4DCCB", hard="#CFC4B0", backfill="#E9E2D2",
    stone="#FFFFFF", stone_edge="#555555", pipe="#222222", fabric="#000000", grass="#E4E7D2", building="#DDDAD4",
    rust="#8C2D12", ochre="#5F4000", leaf="#2C4A28", accent="#000000",
)  # fmt: skip

THEMES = {p.name: p for p in (DAYLIGHT, DIM)}
