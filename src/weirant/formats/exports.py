"""What a job can be written as for other programs, by the ending of the file: one list for the menu and the command line."""

from __future__ import annotations

from importlib import import_module
from pathlib import Path

from weirant.errors import InputError
from weirant.formats.plain_files import write_safely
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.records import dataclass


@dataclass(frozen=True)
class Export:
    """A kind of file: what it is called, and what makes it of an outcome, loaded when it is first written."""

    name: str
    room: str
    maker: str

    def write(self, outcome: Outcome) -> bytes:
        """The job as such a file."""
        made: bytes = getattr(import_module(f"weirant.formats.{self.room}"), self.maker)(outcome)
        return made


EXPORTS = {".dxf": Export("DXF", "dxf", "dxf"), ".xml": Export(tr("LandXML alignments"), "network_out", "write_alignments"),
           ".csv": Export(tr("grades for a machine"), "grade_csv", "every_grade"), ".geojson": Export("GeoJSON", "network_out", "write_network_geojson"),
           ".kml": Export("KML", "network_out", "write_kml")}  # fmt: skip


def write_export(outcome: Outcome, path: Path) -> None:
    """Write a job by the ending of a file. Raises InputError where there is none of it, or it cannot be written so."""
    kind = EXPORTS.get(path.suffix.lower())
    if kind is None:
        raise InputError(path.name, tr("must end in {endings}", endings=", ".join(EXPORTS)))
    write_safely(path, kind.write(outcome))
