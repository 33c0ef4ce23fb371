"""How a figure that is only assumed can be measured, by the end of its path, and where a limit comes from: in the words of the trade."""

from __future__ import annotations

from weirant.language import tr
from weirant.rules import told_rules
from weirant.sources import citation

BY = {
    "hard_layer_depth": tr("auger down beside the line until it stops"),
    "water_table_depth": tr("leave a hole open overnight in the wet season"),
    "water_table_slope": tr("read the water in two holes, one uphill of the other"),
    "conductivity": tr("test a hole (this step), in the wet season"),
    "texture": tr("feel a handful wet (this step), or send it to be sieved"),
    "sideways": tr("test holes at two depths; 1 is usual where nothing shows"),
    "drainage_rate": tr("catch what an old drain runs in the wet season, by bucket and watch"),
    "storm_depth": tr("take it from the rainfall table of the place (Job menu)"),
    "storm_duration": tr("take it from the rainfall table of the place (Job menu)"),
    "water_level": tr("level the highest mark that the water leaves"),
    "invert": tr("shoot it with the level"),
    "slope": tr("shoot both ends with the level"),
    "length": tr("tape it, or pace it and tape later"),
    "solid_length": tr("tape it"),
    "distance": tr("tape it at right angles to the drain"),
    "contributing_area": tr("measure it on the plan (step 3)"),
    "reach": tr("look how far back the ground stays wet"),
    "footing_depth": tr("dig down beside the wall, or ask for the drawings"),
    "dry_depth": tr("ask what is to stand on it, or how deep it floods"),
    "source": tr("answer the questions under “Which water is it?”"),
}
OTHERWISE = tr("look on the site, then type it")


def measured_by(path: str) -> str:
    """What settles a field that is assumed."""
    return BY.get(path.rpartition(".")[2], OTHERWISE)


def limit_words(path: str) -> str:
    """What the trade usually takes for a limit of the job, and by whom; empty for a field that is none."""
    owner, _, key = path.partition(".")
    rule = next((rule for rule in told_rules() if rule.key == key), None) if owner == "limits" else None
    return tr("Usual: {spoken}. Source: {source}. Your code may ask for another.", spoken=rule.spoken, source=citation(rule.source)) if rule is not None else ""
