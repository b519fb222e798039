"""Photos of the record: which step one belongs to, how it is shown, its letters, the pair before and after."""

from __future__ import annotations

from collections.abc import Iterable

from attrs import evolve

from oddbolt.core.errors import StudyError
from oddbolt.core.study.edits import new_id, put, put_all
from oddbolt.core.study.model import LEAST_SHOWN, Callout, Photo, Study

#: letters that cannot be taken for figures
LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ"
#: callouts whose heights differ by less than this share of the picture stand in one row
ROW = 0.08
Point = tuple[float, float]
Box = tuple[float, float, float, float]


def step_when(study: Study, taken: str) -> str:
    """The step that was logged last when a picture was taken (local time, ISO 8601); "" if none was or no run tells."""
    told = [(lap.ended, lap.step) for run in study.runs.values() for lap in run.laps if lap.ended]
    started = min((run.started for run in study.runs.values() if run.started and run.laps), default="9")
    if not taken or not told or not min(started, min(told)[0]) <= taken[:19] or taken[:10] > max(told)[0][:10]:
        return ""
    return max((one for one in told if one[0] <= taken[:19]), default=("", ""))[1]


def photos_of(study: Study, step: str) -> list[Photo]:
    """The photos of a step, in order."""
    return [p for p in study.photos.values() if p.step == step]


def pair(study: Study, step: str) -> tuple[Photo, Photo] | None:
    """What the device looked like before and after a step: as marked, else the last photo of an earlier step and its
    own last one; None where either is missing."""
    order = {id: n for n, id in enumerate(study.steps)}
    own = photos_of(study, step)
    after = next((p for p in reversed(own) if p.role == "after"), None)
    after = after or next((p for p in reversed(own) if p.role != "before"), None)
    before = next((p for p in own if p.role == "before"), None)
    if before is None and step in order:
        earlier = [p for p in study.photos.values() if p.role != "before" and order.get(p.step, 10**9) < order[step]]
        before = max(earlier, key=lambda p: order[p.step], default=None)
    return (before, after) if before is not None and after is not None else None


# -- how a photo is shown ---------------------------------------------------------------------------------


def shown_size(photo: Photo) -> tuple[float, float]:
    """Width and height of what is shown, in px of the picture."""
    wide, high = (photo.right - photo.left) * photo.width, (photo.bottom - photo.top) * photo.height
    return (high, wide) if photo.turn in (90, 270) else (wide, high)


def to_shown(photo: Photo, point: Point) -> Point:
    """A point of the upright picture as seen in what is shown, both from 0 to 1; outside them if it was cut off."""
    x = (point[0] - photo.left) / (photo.right - photo.left)
    y = (point[1] - photo.top) / (photo.bottom - photo.top)
    return {0: (x, y), 90: (1 - y, x), 180: (1 - x, 1 - y), 270: (y, 1 - x)}[photo.turn]


def from_shown(photo: Photo, point: Point) -> Point:
    """A point of what is shown as one of the upright picture."""
    u, v = point
    x, y = {0: (u, v), 90: (v, 1 - u), 180: (1 - u, 1 - v), 270: (1 - v, u)}[photo.turn]
    return photo.left + x * (photo.right - photo.left), photo.top + y * (photo.bottom - photo.top)


def turned(study: Study, id: str, degrees: int) -> Study:
    """Show a photo turned clockwise by so many degrees more, a multiple of 90."""
    photo = _photo(study, id)
    return put(study, evolve(photo, turn=(photo.turn + degrees) % 360))


def cut(study: Study, id: str, box: Box) -> Study:
    """Show only a rectangle of what is shown now: left, top, right, bottom, from 0 to 1. The picture stays whole.

    Raises StudyError where too little would be left.
    """
    photo = _photo(study, id)
    a, b = from_shown(photo, (box[0], box[1])), from_shown(photo, (box[2], box[3]))
    left, right = (min(max(v, 0.0), 1.0) for v in sorted((a[0], b[0])))
    top, bottom = (min(max(v, 0.0), 1.0) for v in sorted((a[1], b[1])))
    if right - left < LEAST_SHOWN or bottom - top < LEAST_SHOWN:
        raise StudyError("Too little would be left of the photo; crop less.")
    return put(study, evolve(photo, left=left, top=top, right=right, bottom=bottom))


def whole(study: Study, id: str) -> Study:
    """Show the whole picture again."""
    return put(study, evolve(_photo(study, id), left=0.0, top=0.0, right=1.0, bottom=1.0))


def marked(study: Study, id: str, role: str) -> Study:
    """Mark a photo as the one before or after its step, or as neither; another of that step gives the mark up."""
    photo = _photo(study, id)
    if role and not photo.step:
        raise StudyError("This photo has no step; set its step in the margin first.")
    others = [evolve(p, role="") for p in photos_of(study, photo.step) if p.role == role and role and p.id != id]
    return put_all(study, [*others, evolve(photo, role=role)])


# -- callouts ---------------------------------------------------------------------------------------------


def callouts_of(study: Study, photo: str) -> list[Callout]:
    """The callouts of a photo in order of their letters."""
    return sorted((c for c in study.callouts.values() if c.photo == photo), key=lambda c: (len(c.letter), c.letter))


def next_letter(taken: Iterable[str]) -> str:
    """The first letter that is free: A to Z without I and O, then AA, AB, …"""
    used = set(taken)
    pairs = [*LETTERS, *(a + b for a in LETTERS for b in LETTERS)]
    return next((letter for letter in pairs if letter not in used), "?")


def with_callout(study: Study, photo: str, at: Point, about: str = "") -> tuple[Study, str]:
    """A new callout at a point of what is shown, and its id."""
    x, y = (min(max(v, 0.0), 1.0) for v in from_shown(_photo(study, photo), at))
    letter = next_letter(c.letter for c in callouts_of(study, photo))
    made = Callout(new_id(study, "C"), photo, letter, x, y, about)
    return put(study, made), made.id


def moved(study: Study, id: str, by: Point) -> Study:
    """Move the point of a callout by shares of what is shown; it stays on the picture."""
    callout = study.callouts[id]
    photo = _photo(study, callout.photo)
    u, v = to_shown(photo, (callout.x, callout.y))
    x, y = from_shown(photo, (min(max(u + by[0], 0.0), 1.0), min(max(v + by[1], 0.0), 1.0)))
    return put(study, evolve(callout, x=min(max(x, 0.0), 1.0), y=min(max(y, 0.0), 1.0)))


def lettered(study: Study, id: str, letter: str) -> Study:
    """Give a callout another letter; the one that has it takes the old one. Raises StudyError for an empty one."""
    callout = study.callouts[id]
    letter = letter.strip().upper()
    if not letter:
        raise StudyError("A callout needs a letter.")
    other = next((c for c in callouts_of(study, callout.photo) if c.letter == letter and c.id != id), None)
    swapped = [evolve(other, letter=callout.letter)] if other else []
    return put_all(study, [*swapped, evolve(callout, letter=letter)])


def in_reading_order(study: Study, photo: str) -> Study:
    """Letter the callouts of a photo anew, as shown: row by row, left to right."""
    seen = _photo(study, photo)
    placed = [(to_shown(seen, (c.x, c.y)), c) for c in callouts_of(study, photo)]
    rows: list[list[tuple[Point, Callout]]] = []
    for at, callout in sorted(placed, key=lambda item: (item[0][1], item[0][0])):
        if rows and at[1] - rows[-1][0][0][1] < ROW:
            rows[-1].append((at, callout))
        else:
            rows.append([(at, callout)])
    ordered = [c for row in rows for _, c in sorted(row, key=lambda item: item[0][0])]
    used: list[str] = []
    for _ in ordered:
        used.append(next_letter(used))
    return put_all(study, [evolve(c, letter=letter) for c, letter in zip(ordered, used, strict=True)])


def _photo(study: Study, id: str) -> Photo:
    photo = study.photos.get(id)
    if photo is None:
        raise StudyError("No photo selected.")
    return photo
