"""A photo of a board as a map: its scale, outlines accepted and named, areas, and how much of it is named."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from attrs import evolve, frozen
from shapely.geometry import Polygon
from shapely.ops import unary_union

from oddbolt.core.components.kinds import kind_of
from oddbolt.core.components.layout import outline_mm
from oddbolt.core.errors import BenchError
from oddbolt.core.study import BoardMap, Part, Region, Study, change, new_id, put, put_all, remove
from oddbolt.core.study.board_map import REGION_KINDS, corners_in, corners_typed
from oddbolt.core.study.naming import resolve_name

Corners = Sequence[tuple[float, float]]
#: an outline that covers so much of another is the same one
SAME = 0.6
#: what an accepted proposal becomes, by what it looks like; all else is a body
KIND_OF_PROPOSAL = {"hole": "hole"}
#: how far a scale that somebody measured by eye or ruler may be off, as a share
BY_HAND_OFF = 0.02


@frozen
class Progress:
    """How much of a face is named: bodies named of all, and the share of the outlined area that is named (0 to 1, None
    where nothing is outlined). ``to_do`` are the outlines without a part, the largest first."""

    named: int
    bodies: int
    covered: float | None
    to_do: tuple[str, ...]

    @property
    def sentence(self) -> str:
        """ "9 of 12 bodies named, 71 % of their area" """
        if not self.bodies:
            return "nothing outlined yet"
        bodies = "1 body" if self.bodies == 1 else f"{self.bodies} bodies"
        return f"{self.named} of {bodies} named, {self.covered or 0:.0%} of their area"


def map_of(study: Study, photo: str) -> BoardMap | None:
    """The map that a photo is, if it is one."""
    return next((m for m in study.board_maps.values() if m.photo == photo), None)


def regions_of(study: Study, photo: str) -> list[Region]:
    """The outlines on a photo, areas first, then the largest."""
    found = [r for r in study.regions.values() if r.photo == photo]
    return sorted(found, key=lambda r: (r.kind not in ("edge", "area"), -_shape(r).area))


def mapped(study: Study, photo: str, part: str = "", face: str = "") -> tuple[Study, BoardMap]:
    """The study with this photo a map of a board's face; one that it is already is changed. Raises BenchError."""
    if photo not in study.photos:
        raise BenchError("Select a photo first.")
    known = map_of(study, photo)
    if known is None:
        other = any(m.part == part and part and m.face == "front" for m in study.board_maps.values())
        known = BoardMap(new_id(study, "M"), photo, part, face or ("back" if other else "front"))
    else:
        known = evolve(known, part=part or known.part, face=face or known.face)
    return put(study, known), known


def scaled(study: Study, photo: str, wide_mm: float, basis: str, off: float = BY_HAND_OFF) -> Study:
    """The study with the scale of a map: how many mm the width of the photo comes to."""
    study, board = mapped(study, photo)
    if not 1 <= wide_mm <= 5000:
        raise BenchError(f"A photo of a board shows 1 to 5000 mm across, not {wide_mm:g}.")
    return put(study, evolve(board, wide_mm=round(wide_mm, 3), off=round(off, 4), scale=basis))


def scaled_by(study: Study, region_id: str, length_mm: float) -> Study:
    """The study with the scale of a map taken from an outline whose longest edge is so long. Raises BenchError."""
    region = study.regions.get(region_id)
    if region is None:
        raise BenchError("Select an outline whose length you know.")
    if not 0.2 <= length_mm <= 2000:
        raise BenchError(f"The longest edge of an outline is 0.2 to 2000 mm, not {length_mm:g}.")
    photo = study.photos[region.photo]
    trial, board = mapped(study, region.photo)
    seen = outline_mm(put(trial, evolve(board, wide_mm=100.0)), region)
    if seen is None or seen[0] <= 0 or not photo.width:
        raise BenchError("This outline gives no scale.")
    share = seen[0] / 100.0  # of the photo's width
    return scaled(study, region.photo, length_mm / share, "part", max(BY_HAND_OFF, 1.5 / (share * photo.width)))


def outlined(study: Study, photo: str, corners: Corners, kind: str = "part", name: str = "") -> tuple[Study, str]:
    """The study with an outline drawn on a photo, and its id. Raises BenchError or StudyError."""
    if kind not in REGION_KINDS:
        raise BenchError(f"An outline is of a {', '.join(REGION_KINDS)}, not “{kind}”.")
    study, _ = mapped(study, photo)
    made = Region(new_id(study, "G"), photo, corners_typed(corners), kind, "", name)
    return put(study, made), made.id


def accepted(study: Study, photo: str, proposals: Iterable[tuple[Corners, str]]) -> tuple[Study, list[str]]:
    """The study with proposals taken as outlines; those of places that are outlined already are left out."""
    study, _ = mapped(study, photo)
    shapes = [_shape(r) for r in regions_of(study, photo) if r.kind in ("part", "hole")]
    made: list[Region] = []
    first = int(new_id(study, "G")[1:])
    for corners, looks in proposals:
        shape = Polygon(corners).buffer(0)
        if any(shape.intersection(s).area > SAME * min(shape.area, s.area) for s in shapes):
            continue
        shapes.append(shape)
        kind = KIND_OF_PROPOSAL.get(looks, "part")
        made.append(Region(f"G{first + len(made)}", photo, corners_typed(corners), kind))
    return put_all(study, made), [r.id for r in made]


def named(study: Study, region_id: str, said: str) -> Study:
    """The study with the part named that an outline is of: one that the record knows by this name, else a new part in
    the board, of the kind that its name tells. An area takes the words as its name. The size of the outline becomes the
    size of a part that has none. Raises BenchError or StudyError."""
    region = study.regions.get(region_id)
    words = " ".join(said.split())
    if region is None:
        raise BenchError("Select an outline first.")
    if region.kind in ("area", "hole") or not words:
        return change(study, region_id, name=words, part="")
    part, study = _part_named(study, region, words)
    taken = next((r for r in study.regions.values() if r.part == part and r.id != region_id and r.kind == "part"), None)
    if taken is not None and region.kind == "part":
        raise BenchError(
            f"{study.name(part)} is outlined already; name this one otherwise, or remove the other outline."
        )
    study = change(study, region_id, part=part)
    size = outline_mm(study, study.regions[region_id])
    if size is not None and study.parts[part].long_mm is None:
        study = change(study, part, long_mm=round(size[0], 1), wide_mm=round(size[1], 1))
    return study


def _part_named(study: Study, region: Region, words: str) -> tuple[str, Study]:
    board = map_of(study, region.photo)
    same = [id for id, part in study.parts.items() if part.name.casefold() == words.casefold()]
    inside = [id for id in same if board and study.parts[id].inside == board.part]
    if inside or len(same) == 1:
        return (inside or same)[0], study
    if len(same) > 1:
        raise BenchError(f"Several parts are called “{words}”; type the id of the one meant: {', '.join(same[:6])}.")
    if words in study.parts:
        return resolve_name(study, words, "P").id, study
    kind = kind_of(words)
    made = Part(new_id(study, "P"), words[:1].upper() + words[1:], board.part if board else "", kind.id if kind else "")
    return made.id, put(study, made)


def progress(study: Study, photo: str) -> Progress:
    """How much of a map is named."""
    bodies = [r for r in regions_of(study, photo) if r.kind == "part"]
    whole = unary_union([_shape(r) for r in bodies]).area if bodies else 0.0
    done = unary_union([_shape(r) for r in bodies if r.part]).area if bodies else 0.0
    to_do = tuple(r.id for r in bodies if not r.part)
    return Progress(len(bodies) - len(to_do), len(bodies), done / whole if whole else None, to_do)


def area_of(study: Study, region: Region) -> str:
    """The name of the area that an outline lies in, "" for none: that which holds most of it."""
    shape = _shape(region)
    best, most = "", 0.3 * shape.area
    for other in study.regions.values():
        if other.photo == region.photo and other.kind == "area" and other.id != region.id:
            both = shape.intersection(_shape(other)).area
            if both > most:
                best, most = other.name or other.id, both
    return best


def forgotten(study: Study, photo: str) -> Study:
    """The study with a photo that is no map any more: its outlines go, the parts stay."""
    for region in regions_of(study, photo):
        study = remove(study, region.id)
    board = map_of(study, photo)
    return remove(study, board.id) if board else study


def rows(study: Study) -> list[list[str]]:
    """All outlines as a table: board, face, what, part, kind, area, length and width in mm, corners as typed."""
    out = [["board", "face", "outline of", "name", "kind", "area", "length mm", "width mm", "may be off", "corners"]]
    for board in study.board_maps.values():
        for region in regions_of(study, board.photo):
            size = outline_mm(study, region)
            part = study.parts.get(region.part)
            out.append(
                [
                    study.name(board.part) if board.part else "",
                    board.face,
                    region.kind,
                    part.name if part else region.name,
                    part.kind if part else "",
                    area_of(study, region) if region.kind == "part" else "",
                    f"{size[0]:.2f}" if size else "",
                    f"{size[1]:.2f}" if size else "",
                    f"{size[2]:.1%}" if size else "",
                    region.outline,
                ]
            )
    return out


def _shape(region: Region) -> Polygon:
    return Polygon(corners_in(region.outline)).buffer(0)
