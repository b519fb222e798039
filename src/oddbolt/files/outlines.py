"""An outline from a plain drawing: the largest closed path of an SVG or DXF file, in millimetres."""

from __future__ import annotations

from io import StringIO
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import shapely

from oddbolt.core.errors import BenchError, FileError
from oddbolt.core.opening.outline import Outline, from_points
from oddbolt.files.text import read_text

#: how far a drawn curve may lie from the points taken of it, in mm
FLAT_MM = 0.02
LARGEST_TEXT = 20_000_000
XLINK = "{http://www.w3.org/1999/xlink}"
MOST_DRAWN, MOST_NESTED = 20_000, 50
#: user units of an SVG without a size in real units, and DXF units ($INSUNITS), in mm
SVG_PX_MM = 25.4 / 96
DXF_UNIT_MM = {0: 1.0, 1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0, 8: 25.4e-6, 9: 0.0254, 10: 914.4, 13: 0.001}


def read_outline(path: Path) -> Outline:
    """The outline in a drawing. Raises FileError where there is none that can be read."""
    text = read_text(path)
    if len(text) > LARGEST_TEXT:
        raise FileError(f"{path.name} is larger than {LARGEST_TEXT / 1e6:.0f} MB; an outline is small.")
    ending = path.suffix.lower()
    if ending not in (".svg", ".dxf"):
        raise FileError(f"{path.name} ends in neither .svg nor .dxf.")
    try:
        rings = _svg_rings(text) if ending == ".svg" else _dxf_rings(text)
    except FileError:
        raise
    except Exception as error:  # noqa: BLE001 - a foreign file may raise anything in the library  # the readers raise what they like on a broken drawing
        raise FileError(f"{path.name} cannot be read as a drawing: {error}.") from None
    if not rings:
        raise FileError(f"{path.name} holds no closed path.")
    largest = max(rings, key=lambda ring: abs(shapely.Polygon(ring).area))
    try:
        simple = shapely.simplify(shapely.LinearRing(largest), FLAT_MM / 2)
        low = min(x for x, _ in simple.coords), min(y for _, y in simple.coords)
        return from_points([(round(x - low[0], 3), round(y - low[1], 3)) for x, y in simple.coords])
    except BenchError as error:
        raise FileError(f"{path.name}: {error}") from None


Ring = list[tuple[float, float]]


def _svg_rings(text: str) -> list[Ring]:
    from svgelements import SVG, Path, Shape

    if "<!ENTITY" in text:
        raise FileError("The drawing defines entities; save it as a plain SVG.")
    if _drawn(ElementTree.fromstring(text)) > MOST_DRAWN:
        raise FileError(f"The drawing repeats its pieces into more than {MOST_DRAWN} elements; an outline is simple.")
    drawing: Any = SVG.parse(StringIO(text), ppi=96.0)
    out: list[Ring] = []
    for element in drawing.elements():
        if not isinstance(element, Shape):
            continue
        for part in Path(element).as_subpaths():
            piece = Path(part)
            ring = _flat(piece)
            closed = len(ring) > 2 and (ring[0] == ring[-1] or abs(complex(*ring[0]) - complex(*ring[-1])) < 0.05)
            if closed:
                out.append(ring)
    return out


def _drawn(root: ElementTree.Element) -> int:
    """How many elements are drawn once every ``use`` is followed; stops a little above :data:`MOST_DRAWN`."""
    named = {e.get("id"): e for e in root.iter() if e.get("id")}
    known: dict[str, int] = {}

    def of(element: ElementTree.Element, within: tuple[str, ...]) -> int:
        count = 1
        for child in element.iter():
            if child is element or not child.tag.endswith("}use"):
                count += child is not element
                continue
            target = (child.get(f"{XLINK}href") or child.get("href") or "").removeprefix("#")
            if target in within or len(within) > MOST_NESTED:
                raise FileError("The drawing repeats a piece within itself; save it as a plain SVG.")
            if target in named and target not in known:
                known[target] = of(named[target], (*within, target))
            count += 1 + known.get(target, 0)
            if count > MOST_DRAWN:
                break
        return count

    return of(root, ())


def _flat(piece: Any) -> Ring:
    """Points along a path, as close as FLAT_MM to it, in mm."""
    from svgelements import Close, Line, Move

    ring: Ring = []
    for segment in piece:
        if isinstance(segment, Move | Line | Close):
            steps = 1
        else:
            steps = max(2, min(96, int(segment.length(error=1e-3) * SVG_PX_MM / 0.5) + 2))
        for n in range(1, steps + 1):
            point = segment.point(n / steps) if segment.start is not None else segment.end
            if point is not None:
                ring.append((float(point.x) * SVG_PX_MM, float(point.y) * SVG_PX_MM))
        if len(ring) > MOST_DRAWN:
            raise FileError("The drawing is too fine; simplify the path to an outline of some hundred points.")
    return ring


def _dxf_rings(text: str) -> list[Ring]:
    from ezdxf import filemanagement
    from ezdxf import path as paths

    document: Any = filemanagement.read(StringIO(text))
    scale = DXF_UNIT_MM.get(int(document.header.get("$INSUNITS", 4)), 1.0)
    out: list[Ring] = []
    loose: list[Ring] = []
    for entity in document.modelspace():
        if entity.dxftype() not in ("LWPOLYLINE", "POLYLINE", "CIRCLE", "ELLIPSE", "SPLINE", "LINE", "ARC"):
            continue
        drawn = paths.make_path(entity)
        ring = [(p.x * scale, -p.y * scale) for p in drawn.flattening(FLAT_MM / scale)]
        if drawn.is_closed and len(ring) > 2:
            out.append(ring)
        elif len(ring) > 1:
            loose.append(ring)
    if loose:
        joined = shapely.polygonize([shapely.LineString(_snapped(ring)) for ring in loose])
        out += [[(float(x), float(y)) for x, y in piece.exterior.coords] for piece in joined.geoms]
    return out


def _snapped(ring: Ring) -> Ring:
    """Ends that meet on paper meet in numbers."""
    return [(round(x, 2), round(y, 2)) for x, y in ring]
