"""The shipped tables, read once."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Mapping
from functools import cache
from importlib.resources import files
from typing import Any

from attrs import frozen


@cache
def table(name: str) -> Mapping[str, Any]:
    """A shipped TOML table by its file name without ending."""
    return tomllib.loads(files(__package__).joinpath(name + ".toml").read_text(encoding="utf-8"))


@frozen
class Thread:
    """A thread: outer diameter and pitch in mm, least breaking torque (class 8.8) in N·cm or None. ``kind`` is
    "coarse", "fine", "miniature", "plastic", "sheet metal", "inch coarse" or "inch fine"; a ``seldom`` one is met
    seldom. ``confirmed`` names independent tables that have the same diameter and pitch."""

    name: str
    diameter_mm: float
    pitch_mm: float
    kind: str
    breaking_ncm: float | None
    seldom: bool
    source: str
    verified: bool
    confirmed: str


@frozen
class Head:
    """A head of a standard: for each thread its diameter (across flats of a hexagon) and height at the most, mm, and
    the size of its recess. Diameter 0: no head. What is made lies within ``span`` times that diameter and ``tall``
    times that height. ``confirmed`` names independent tables with the same rows."""

    id: str
    shape: str
    drive: str
    source: str
    verified: bool
    rows: Mapping[str, tuple[float, float, str]]
    span: tuple[float, float] = (0.92, 1.005)
    tall: tuple[float, float] = (0.85, 1.02)
    confirmed: str = ""


@frozen
class Recess:
    """How wide the sizes of a drive are, mm, measured ``across`` what; ``spread`` is the relative variation,
    ``spreads`` that of single sizes."""

    drive: str
    across: str
    spread: float
    source: str
    verified: bool
    sizes: Mapping[str, float]
    spreads: Mapping[str, float] = {}
    confirmed: str = ""

    def spread_of(self, size: str) -> float:
        """The relative variation of a size."""
        return self.spreads.get(size, self.spread)


@frozen
class Drive:
    """A recess or head shape that a driver fits. ``prefix`` begins its size designations ("PH" in "PH00")."""

    id: str
    label: str
    prefix: str
    sizes: tuple[str, ...]
    largest_thread: Mapping[str, str]
    source: str
    verified: bool


@frozen
class Material:
    """Thermal figures of a material: W/m K, kg/m³, J/kg K; ``spread`` is their relative standard deviation."""

    id: str
    conductivity_w_mk: float
    density_kg_m3: float
    heat_j_kgk: float
    spread: float
    source: str
    verified: bool


@cache
def materials() -> Mapping[str, Material]:
    """Materials by id ("soda-lime glass")."""
    return {row["id"]: Material(**row) for row in table("materials")["material"]}


@cache
def tool_words(sort: str) -> re.Pattern[str]:
    """The words that tell a sort of tool ("heat", "solvent", "blade", "prying") in what was said."""
    words = "|".join(map(re.escape, table("contents")["tools"][sort]))
    return re.compile(rf"\b(?:{words})\b", re.IGNORECASE)


@cache
def threads() -> Mapping[str, Thread]:
    """Threads by name ("M1.6", "M3x0.35", "S0.8", "ST2.9", "plastic 2.2")."""
    kinds = table("threads")["kind"]
    return {
        row["name"]: Thread(**{"breaking_ncm": None, "seldom": False, "confirmed": "", **kinds[row["kind"]], **row})
        for row in table("threads")["thread"]
    }


@cache
def heads() -> Mapping[str, Head]:
    """Heads by id ("pan cross", "socket cap")."""
    made = ({**row, "rows": {k: (v[0], v[1], v[2]) for k, v in row["rows"].items()}} for row in table("heads")["head"])
    pairs = ({**row, **{k: tuple(row[k]) for k in ("span", "tall") if k in row}} for row in made)
    return {row["id"]: Head(**row) for row in pairs}


@cache
def recesses() -> Mapping[str, Recess]:
    """Recesses by drive id."""
    return {row["drive"]: Recess(**row) for row in table("recesses")["recess"]}


@cache
def drives() -> Mapping[str, Drive]:
    """Drives by id ("cross", "hexalobular-plus")."""
    return {
        row["id"]: Drive(
            id=row["id"],
            label=row["label"],
            prefix=row["prefix"],
            sizes=tuple(row["sizes"]),
            largest_thread=row.get("largest_thread", {}),
            source=row["source"],
            verified=row["verified"],
        )
        for row in table("drives")["drive"]
    }


#: number or fraction and threads to the inch, with or without the series
INCH = re.compile(
    r"(?:UN[CF]\s*)?(?:#|no\.?\s*|nr\.?\s*)?(?P<size>\d{1,2}|1/4)\s*-\s*(?P<turns>\d\d)(?![\d.])", re.IGNORECASE
)


def thread_of(text: str) -> Thread | None:
    """The thread that a designation such as "M1.4 x 0.3 x 4", "M1,4", "#4-40" or "UNC 6-32" begins with."""
    inch = INCH.match(text.strip())
    if inch:
        number = inch["size"] if "/" in inch["size"] else f"#{int(inch['size'])}"
        return threads().get(f"{number}-{inch['turns']}")
    figures = [part.strip() for part in text.strip().upper().replace(",", ".").replace("×", "X").split("X")]
    return _by_name().get("X".join(figures[:2])) or _by_name().get(figures[0])


@cache
def _by_name() -> Mapping[str, Thread]:
    return {name.upper(): thread for name, thread in threads().items()}


def breaking_torque_ncm(drive: str, size: str, thread: str) -> float | None:
    """Least breaking torque in N·cm of the screw, or of the largest screw usual with this drive size.

    None where neither thread nor drive size is known. Source: the rows' own.
    """
    found = thread_of(thread) if thread else None
    if found is None and drive in drives():
        found = threads().get(drives()[drive].largest_thread.get(size, ""))
    return found.breaking_ncm if found else None


def screw_label(drive: str, size: str) -> str:
    """Drive and size in words, "cross PH00", "hex socket 2.5"."""
    if not drive:
        return size or "drive not named"
    known = drives().get(drive)
    label = known.label if known else drive
    return f"{label} {size}" if size else label
