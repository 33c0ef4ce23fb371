"""Points in LandXML 1.2: reader and writer of CgPoints. Source: LandXML-1.2 schema, elements Units and CgPoints."""

from __future__ import annotations

from lxml import etree

from weirant.errors import JobFileError, short
from weirant.formats.points_read import NO_SHIFT, PointsRead, Refused, Shift, fault_in, shift_for
from weirant.job.site import SitePoint
from weirant.language import tr

NAMESPACE = "http://www.landxml.org/schema/LandXML-1.2"
_LINEAR = {"meter": 1.0, "metre": 1.0, "millimeter": 1e-3, "centimeter": 1e-2, "kilometer": 1e3, "foot": 0.3048, "USSurveyFoot": 1200 / 3937,
           "inch": 0.0254, "mile": 1609.344}  # fmt: skip
_ELEVATION = {"meter": 1.0, "kilometer": 1e3, "feet": 0.3048, "foot": 0.3048, "miles": 1609.344, "USSurveyFoot": 1200 / 3937}
LARGEST = 200_000_000


def read_landxml(data: bytes, of_job: Shift = NO_SHIFT) -> PointsRead:
    """Read the CgPoints of a file; north stands before east in it.

    ``of_job`` in m is what the job takes off east and north of every file; where it has none and the points lie far from the origin, whole
    kilometres are taken off, and a note says so.

    Raises JobFileError where the file is no LandXML or names a unit that is not known. Entities and networks are never
    followed.
    """
    if len(data) > LARGEST:
        raise JobFileError(tr("The LandXML file is too large ({data:.0f} MB).", data=len(data) / 1000000.0))
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False, remove_comments=True, remove_pis=True)
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as fault:
        raise JobFileError(tr("The LandXML file is damaged: {fault}.", fault=short(str(fault), 120))) from fault
    if etree.QName(root).localname != "LandXML":
        raise JobFileError(tr("This is no LandXML file: it begins with {localname}.", localname=short(etree.QName(root).localname, 40)))
    plan, up, notes = _units(root)
    first = _first(root, plan)
    shift, said = shift_for(*first, of_job) if first is not None else (NO_SHIFT, "")
    notes += [said] if said else []
    points: list[SitePoint] = []
    refused: list[Refused] = []
    for number, element in enumerate(root.iter("{*}CgPoint"), 1):
        name = element.get("name") or element.get("oID") or tr("point {number}", number=number)
        if element.get("pntRef"):
            continue  # a second mention of a point that stands elsewhere
        found = _point(element, name, plan, up, shift)
        if isinstance(found, SitePoint):
            points.append(found)
        else:
            refused.append(found)
    if not points and not refused:
        notes.append(tr("The file holds no points (CgPoints)."))
    return PointsRead(tuple(points), tuple(refused), tuple(notes), shift=shift)


def _first(root: etree._Element, plan: float) -> tuple[float, float] | None:
    """East and north of the first point, m."""
    for element in root.iter("{*}CgPoint"):
        try:
            north, east, *_ = (float(cell) * plan for cell in (element.text or "").split())
        except ValueError:
            continue
        return east, north
    return None


def _units(root: etree._Element) -> tuple[float, float, list[str]]:
    units = root.find("{*}Units")
    system = None if units is None else next(units.iterchildren("{*}Metric", "{*}Imperial"), None)
    if system is None:
        return 1.0, 1.0, [tr("The file names no units; metres were taken.")]
    linear, elevation = system.get("linearUnit", "meter"), system.get("elevationUnit")
    if linear not in _LINEAR or (elevation is not None and elevation not in _ELEVATION):
        raise JobFileError(tr("The LandXML file has a unit that is not known: {linear}, {elevation}.", linear=short(linear, 30), elevation=short(elevation or "", 30)))
    return _LINEAR[linear], _ELEVATION[elevation] if elevation else _LINEAR[linear], []


def _point(element: etree._Element, name: str, plan: float, up: float, shift: Shift) -> SitePoint | Refused:
    text = (element.text or "").strip()
    cells = text.split()
    try:
        north, east, level = (float(cell) for cell in cells)
    except ValueError:
        why = tr("has no level") if len(cells) == 2 else tr("must hold north, east and elevation")
        return Refused(tr("point {name}", name=short(name, 30)), short(text), why)
    x, y, z = east * plan - shift[0], north * plan - shift[1], level * up
    why = fault_in(x, y, z)
    return Refused(tr("point {name}", name=short(name, 30)), short(text), why) if why else SitePoint(name, x, y, z, element.get("code") or element.get("desc") or "", "file")


def write_landxml(points: tuple[SitePoint, ...], unit: str, project: str, date: str, shift: Shift = NO_SHIFT) -> bytes:
    """The points as LandXML 1.2. unit is ``m`` or ``ft``; date as YYYY-MM-DD; ``shift`` in m is put back on east and north."""
    factor = 1.0 if unit == "m" else 0.3048
    root = etree.Element(f"{{{NAMESPACE}}}LandXML", nsmap={None: NAMESPACE}, version="1.2", date=date, time="00:00:00")
    units = etree.SubElement(root, f"{{{NAMESPACE}}}Units")
    if unit == "m":
        etree.SubElement(units, f"{{{NAMESPACE}}}Metric", areaUnit="squareMeter", linearUnit="meter", volumeUnit="cubicMeter",
                         temperatureUnit="celsius", pressureUnit="milliBars", elevationUnit="meter")  # fmt: skip
    else:
        etree.SubElement(units, f"{{{NAMESPACE}}}Imperial", areaUnit="squareFoot", linearUnit="foot", volumeUnit="cubicYard",
                         temperatureUnit="fahrenheit", pressureUnit="inHG", elevationUnit="feet")  # fmt: skip
    etree.SubElement(root, f"{{{NAMESPACE}}}Project", name=clean(project) or "site")
    group = etree.SubElement(root, f"{{{NAMESPACE}}}CgPoints")
    seen: dict[str, int] = {}
    for point in points:
        name = clean(point.name) or "point"
        seen[name] = seen.get(name, 0) + 1
        if seen[name] > 1:
            name = f"{name} ({seen[name]})"  # names are keys in this format
        attributes = {"name": name} | ({"code": clean(point.code)} if point.code else {})
        element = etree.SubElement(group, f"{{{NAMESPACE}}}CgPoint", attributes)
        element.text = " ".join(f"{v / factor:.4f}" for v in (point.y + shift[1], point.x + shift[0], point.level))
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", pretty_print=True))


def clean(text: str) -> str:
    """Without the characters that XML does not take."""
    return "".join(c for c in text if c in "\t" or (c >= " " and not 0xD800 <= ord(c) <= 0xDFFF and c not in "￾￿"))
