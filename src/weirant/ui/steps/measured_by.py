"""How a figure that is only assumed can be measured, by the end of its path, and where a limit comes from: in the words of the trade."""

from __future__ import annotations

from weirant.rules import told_rules
from weirant.sources import citation

BY = {
    "hard_layer_depth": "auger down beside the line until it stops",
    "water_table_depth": "leave a hole open overnight in the wet season",
    "water_table_slope": "read the water in two holes, one uphill of the other",
    "conductivity": "test a hole (this step), in the wet season",
    "texture": "feel a handful wet (this step), or send it to be sieved",
    "sideways": "test holes at two depths; 1 is usual where nothing shows",
    "drainage_rate": "catch what an old drain runs in the wet season, by bucket and watch",
    "storm_depth": "take it from the rainfall table of the place (Job menu)",
    "storm_duration": "take it from the rainfall table of the place (Job menu)",
    "water_level": "level the highest mark that the water leaves",
    "invert": "shoot it with the level",
    "slope": "shoot both ends with the level",
    "length": "tape it, or pace it and tape later",
    "solid_length": "tape it",
    "distance": "tape it at right angles to the drain",
    "contributing_area": "measure it on the plan (step 3)",
    "reach": "look how far back the ground stays wet",
    "footing_depth": "dig down beside the wall, or ask for the drawings",
    "dry_depth": "ask what is to stand on it, or how deep it floods",
    "source": "answer the questions under “Which water is it?”",
}
OTHERWISE = "look on the site, then type it"


def measured_by(path: str) -> str:
    """What settles a field that is assumed."""
    return BY.get(path.rpartition(".")[2], OTHERWISE)


def limit_words(path: str) -> str:
    """What the trade usually takes for a limit of the job, and by whom; empty for a field that is none."""
    owner, _, key = path.partition(".")
    rule = next((rule for rule in told_rules() if rule.key == key), None) if owner == "limits" else None
    return f"Usual: {rule.spoken}. Source: {citation(rule.source)}. Your code may ask for another." if rule is not None else ""
