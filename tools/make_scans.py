"""Makes ray-traced pictures of screws on the gauge mat with ground truth, for the tests of the screw scan.

    python tools/make_scans.py FOLDER --count 6 --seed 1 --width 2400 [--shapes plain|flange|pointed|mixed] [--light day|tungsten|hard] [--finish nickel|…]

``flange`` are wide thin heads on short shanks, ``pointed`` screws for plastics and sheet metal with a cone for a tip.

Needs POV-Ray (Debian: povray). Every picture FOLDER/NNN.jpg has its truth beside it, NNN.json: the screws with their place
on the mat, length under the head, whole length, head and shank diameter in mm, and what lies there that is no screw.
"""

from __future__ import annotations

import argparse
import json
import subprocess
from pathlib import Path

import numpy as np
from PIL import Image

from oddbolt.core.vision.mat import drawn, mat

#: thread diameter, pitch, pan head diameter and height, countersunk head diameter (ISO 7045, ISO 7046; small ones usual)
SIZES = {
    "M1.4": (1.4, 0.3, 2.5, 0.7, 2.6),
    "M1.6": (1.6, 0.35, 3.2, 1.3, 3.0),
    "M2": (2.0, 0.4, 4.0, 1.6, 3.8),
    "M2.5": (2.5, 0.45, 5.0, 2.1, 4.7),
    "M3": (3.0, 0.5, 5.6, 2.4, 5.5),
}
#: thread -> diameter and height of a wafer or flange head
FLANGES = {"M1.4": (3.4, 0.5), "M1.6": (4.0, 0.6), "M2": (4.8, 0.7), "M2.5": (6.0, 0.9), "M3": (7.0, 1.1)}
KINDS = {
    "plain": ["pan", "pan", "countersunk"],
    "flange": ["flange"],
    "pointed": ["pointed"],
    "mixed": ["pan", "countersunk", "flange", "pointed"],
}
#: the colour of the lamp and of the fill from all sides; ``hard`` is a small warm lamp against a blue window
LIGHTS = {
    "day": ((1.0, 1.0, 1.0), (1.0, 1.0, 1.0)),
    "tungsten": ((1.0, 0.72, 0.42), (1.0, 0.72, 0.42)),
    "hard": ((1.0, 0.84, 0.62), (0.72, 0.86, 1.0)),
}
FINISHES = {
    "zinc": "pigment { rgb <0.62,0.63,0.64> } finish { ambient 0.05 diffuse 0.45 specular 0.6 roughness 0.02 reflection 0.25 metallic }",
    "dull": "pigment { rgb <0.50,0.50,0.51> } finish { ambient 0.08 diffuse 0.65 specular 0.2 roughness 0.08 reflection 0.05 metallic }",
    "black": "pigment { rgb <0.035,0.035,0.037> } finish { ambient 0.05 diffuse 0.7 specular 0.35 roughness 0.03 reflection 0.04 }",
    "nickel": "pigment { rgb <0.70,0.70,0.68> } finish { ambient 0.03 diffuse 0.2 specular 0.9 roughness 0.005 reflection 0.6 metallic }",
    "brass": "pigment { rgb <0.72,0.55,0.22> } finish { ambient 0.05 diffuse 0.5 specular 0.5 roughness 0.02 reflection 0.2 metallic }",
}


def screw_pov(kind: str, thread: str, length: float, finish: str) -> str:
    """One screw with its axis along x, the underside of its head (outer face of a countersunk one) at 0, tip at ``length``."""
    d, pitch, pan, high, sunk = SIZES[thread]
    point = 0.0
    if kind == "flange":
        pan, high = FLANGES[thread]
    if kind == "pointed":
        pitch, point = 0.45 * d, 0.9 * d
    r, core = d / 2, d / 2 - (0.19 * d if kind == "pointed" else 0.6 * pitch)
    parts = []
    if kind == "flange":
        parts.append(
            f"difference {{ union {{ cylinder {{ <{-0.7 * high},0,0>,<0,0,0>,{pan / 2} }} cone {{ <{-high},0,0>,{0.42 * pan},<{-0.7 * high},0,0>,{pan / 2} }} }} "
            f"box {{ <{-high - 1},{-0.06 * pan},{-0.2 * pan}>,<{-0.4 * high},{0.06 * pan},{0.2 * pan}> }} "
            f"box {{ <{-high - 1},{-0.2 * pan},{-0.06 * pan}>,<{-0.4 * high},{0.2 * pan},{0.06 * pan}> }} }}"
        )
        begin = 0.0
    elif kind in ("pan", "pointed"):
        parts.append(
            f"difference {{ intersection {{ cylinder {{ <{-high},0,0>,<0,0,0>,{pan / 2} }} sphere {{ <{pan * 0.55 - high},0,0>,{pan * 0.62} }} }} "
            f"box {{ <{-high - 1},{-0.08 * pan},{-0.28 * pan}>,<{-0.45 * high},{0.08 * pan},{0.28 * pan}> }} "
            f"box {{ <{-high - 1},{-0.28 * pan},{-0.08 * pan}>,<{-0.45 * high},{0.28 * pan},{0.08 * pan}> }} }}"
        )
        begin = 0.0
    else:
        depth = (sunk - d) / 2
        parts.append(
            f"difference {{ union {{ cylinder {{ <0,0,0>,<0.15,0,0>,{sunk / 2} }} cone {{ <0.15,0,0>,{sunk / 2},<{depth + 0.15},0,0>,{r} }} }} "
            f"box {{ <-1,{-0.08 * sunk},{-0.28 * sunk}>,<{0.6 * depth},{0.08 * sunk},{0.28 * sunk}> }} "
            f"box {{ <-1,{-0.28 * sunk},{-0.08 * sunk}>,<{0.6 * depth},{0.28 * sunk},{0.08 * sunk}> }} }}"
        )
        begin = depth
    x, tip = begin, length - 0.4 * pitch
    if point:  # the thread runs out on the cone
        tip = length - point
        parts.append(f"cone {{ <{tip},0,0>,{core:.3f},<{length},0,0>,0.03 }}")
    while x < tip - pitch:
        parts.append(f"cone {{ <{x:.3f},0,0>,{core:.3f},<{x + 0.45 * pitch:.3f},0,0>,{r:.3f} }}")
        parts.append(f"cone {{ <{x + 0.45 * pitch:.3f},0,0>,{r:.3f},<{x + pitch:.3f},0,0>,{core:.3f} }}")
        x += pitch
    parts.append(f"cylinder {{ <{begin},0,0>,<{length - point},0,0>,{core:.3f} }}")
    return f"union {{ {' '.join(parts)} {FINISHES[finish]} }}"


def laid(pov: str, kind: str, thread: str, head_mm: float, length: float, x: float, y: float, turn: float) -> str:
    """The screw lying on the mat: on the rim of its head, and on its tip or on the thread that first meets the mat."""
    d, pitch = SIZES[thread][:2]
    end, core, tip = 0.4 * pitch, d / 2 - 0.6 * pitch, d / 2 - 0.6 * pitch
    if kind == "pointed":
        pitch, end, core, tip = 0.45 * d, 0.9 * d, d / 2 - 0.19 * d, 0.03
    begin = (head_mm - d) / 2 if kind == "countersunk" else 0.0
    crests = begin + pitch * (np.arange(max(0, int(np.ceil((length - end - pitch - begin) / pitch)))) + 0.45)
    meets = [(length, tip), (length - (end if kind == "pointed" else 0.0), core), *((c, d / 2) for c in crests)]
    sink = min(np.arctan2(head_mm / 2 - radius, at) for at, radius in meets)
    high = head_mm / 2 * np.cos(sink)
    return f"object {{ {pov} rotate <0,0,{-np.degrees(sink):.3f}> translate <0,{high:.3f},0> rotate <0,{turn:.2f},0> translate <{x:.3f},0,{-y:.3f}> }}"


def scene(
    r: np.random.Generator,
    count: int,
    odd: bool,
    touching: bool,
    shapes: str = "plain",
    light: str = "day",
    finish: str = "",
    disc: str = "",
) -> tuple[str, dict]:
    sheet = mat()
    left, top, right, bottom = sheet.field
    kinds = []
    for _ in range(int(r.integers(1, 5))):
        thread = str(r.choice(list(SIZES)))
        length = float(r.choice([3, 4, 5, 6, 8, 10, 12, 16]))
        length = max(length, 2.2 * SIZES[thread][0])
        shape = str(r.choice(KINDS[shapes]))
        if shape == "flange":
            steep = (FLANGES[thread][0] - SIZES[thread][0]) / 2 / 0.8  # a shorter one stands on its head
            length = max(float(r.choice([1.5, 2, 2.5, 3, 4, 5])), round(steep, 1))
        kinds.append((shape, thread, round(length, 2), finish or str(r.choice(list(FINISHES)))))
    if r.random() < 0.5:  # a look-alike
        k = kinds[0]
        kinds.append((k[0], k[1], round(k[2] + float(r.choice([0.5, 1.0])), 2), k[3]))
    placed: list[tuple[float, float, float]] = []
    screws, bodies = [], []

    def free_place(radius: float) -> tuple[float, float] | None:
        for _ in range(400):
            x, y = r.uniform(left + radius + 1, right - radius - 1), r.uniform(top + radius + 1, bottom - radius - 1)
            if all(np.hypot(x - a, y - b) > radius + c + 0.8 for a, b, c in placed):
                placed.append((x, y, radius))
                return x, y
        return None

    def put(kind: str, thread: str, length: float, finish: str, x: float, y: float, turn: float) -> None:
        d, _p, pan, high, sunk = SIZES[thread]
        if kind == "flange":
            pan, high = FLANGES[thread]
        head = sunk if kind == "countersunk" else pan
        lead = 0.0 if kind == "countersunk" else -high
        middle = (lead + length) / 2
        a = np.radians(turn)
        at_x, at_y = x - middle * np.cos(a), y - middle * np.sin(a)
        bodies.append(laid(screw_pov(kind, thread, length, finish), kind, thread, head, length, at_x, at_y, turn))
        screws.append(
            {
                "kind": kind,
                "thread": thread,
                "finish": finish,
                "length_mm": length,
                "overall_mm": round(length - lead, 3),
                "head_mm": head,
                "shank_mm": d,
                "x_mm": round(x, 2),
                "y_mm": round(y, 2),
                "turn_deg": round(turn, 1),
                "head_x_mm": round(x - middle * np.cos(a), 2),
                "head_y_mm": round(y - middle * np.sin(a), 2),
            }
        )

    for n in range(count):
        kind = kinds[n % len(kinds)]
        whole = kind[2] + 3.0
        place = free_place(whole / 2 + 0.6)
        if place is None:
            break
        put(*kind, *place, float(r.uniform(0, 360)))
    if touching and screws:
        kind, place = kinds[0], free_place(kinds[0][2] / 2 + 5)
        if place is not None:
            turn = float(r.uniform(0, 360))
            gap = SIZES[kind[1]][2 if kind[0] == "pan" else 4] * 0.98
            a = np.radians(turn + 90)
            for side in (-0.5, 0.5):
                put(*kind, place[0] + side * gap * np.cos(a), place[1] + side * gap * np.sin(a), turn)
    others = []
    if odd:
        for what in ("washer", "nut"):
            place = free_place(4.0)
            if place is None:
                continue
            x, y = place
            if what == "washer":
                bodies.append(
                    f"difference {{ cylinder {{ <{x},0,{-y}>,<{x},0.5,{-y}>,3.5 }} cylinder {{ <{x},-1,{-y}>,<{x},1,{-y}>,1.6 }} {FINISHES['zinc']} }}"
                )
            else:
                sides = " ".join(
                    f"plane {{ <{np.cos(a):.4f},0,{np.sin(a):.4f}>,2.75 }}" for a in np.radians(np.arange(0, 360, 60))
                )
                bodies.append(
                    f"difference {{ intersection {{ {sides} plane {{ y,2.4 }} plane {{ -y,0 }} }} cylinder {{ <0,-1,0>,<0,3,0>,1.25 }} {FINISHES['dull']} translate <{x},0,{-y}> }}"
                )
            others.append({"what": what, "x_mm": round(x, 2), "y_mm": round(y, 2)})
    if disc:
        place = free_place(float(disc.split("x")[0]) / 2 + 1)
        if place is not None:
            (x, y), (wide, thick) = place, (float(v) for v in disc.split("x"))
            bodies.append(f"cylinder {{ <{x},0,{-y}>,<{x},{thick},{-y}>,{wide / 2} {FINISHES['zinc']} }}")
            others.append({"what": "disc", "x_mm": round(x, 2), "y_mm": round(y, 2)})
    tilt, around = float(r.uniform(0, 35)), float(r.uniform(0, 360))
    view, sideways = float(r.uniform(50, 68)), float(r.uniform(-15, 15))
    centre = np.array([sheet.width_mm / 2, 0.0, -sheet.height_mm / 2])
    distance = sheet.width_mm / 2 / np.tan(np.radians(view / 2)) * (1.1 + 0.012 * tilt)
    t, a = np.radians(tilt), np.radians(around)
    eye = centre + distance * np.array([np.sin(t) * np.cos(a), np.cos(t), np.sin(t) * np.sin(a)])
    roll = np.radians(sideways)
    lamp = centre + np.array([r.uniform(-250, 250), r.uniform(250, 500), r.uniform(-250, 250)])
    warm = r.uniform(0.85, 1.0)
    tint, around_it = LIGHTS[light]
    lamp_mm, spots = (12, 3) if light == "hard" else (70, 5)
    strong, fill = r.uniform(0.65, 1.0), r.uniform(0.25, 0.5)
    matte = r.uniform(0.0, 0.12)
    text = f"""#version 3.7;
global_settings {{ assumed_gamma 1.0 ambient_light rgb <{fill * around_it[0]:.3f},{fill * around_it[1]:.3f},{fill * around_it[2]:.3f}> }}
camera {{ location <{eye[0]:.3f},{eye[1]:.3f},{eye[2]:.3f}> right x*4/3 up y sky <{np.sin(roll):.4f},0.0001,{np.cos(roll):.4f}> angle {view:.2f} look_at <{centre[0]},0,{centre[2]}> }}
light_source {{ <{lamp[0]:.1f},{lamp[1]:.1f},{lamp[2]:.1f}> rgb <{strong * tint[0]:.3f},{strong * (1 + warm) / 2 * tint[1]:.3f},{strong * warm * tint[2]:.3f}> area_light <{lamp_mm},0,0>,<0,0,{lamp_mm}>,{spots},{spots} adaptive 1 jitter circular orient }}
light_source {{ <{-lamp[0]:.1f},600,{-lamp[2]:.1f}> rgb <{fill * 0.5 * around_it[0]:.3f},{fill * 0.5 * around_it[1]:.3f},{fill * 0.5 * around_it[2]:.3f}> shadowless }}
sky_sphere {{ pigment {{ gradient y color_map {{ [0 rgb 0.35] [0.5 rgb 0.6] [1 rgb 0.85] }} }} }}
plane {{ y, -0.4 pigment {{ rgb <0.36,0.30,0.25> }} finish {{ diffuse 0.7 ambient 0.4 }} }}
box {{ <0,-0.3,{-sheet.height_mm}>,<{sheet.width_mm},0,0>
  pigment {{ image_map {{ png "mat.png" map_type 0 once interpolate 2 }} rotate x*90 scale <{sheet.width_mm},1,{sheet.height_mm}> translate <0,0,{-sheet.height_mm}> }}
  finish {{ ambient 0.55 diffuse 0.75 specular {matte:.3f} roughness 0.08 }} }}
{chr(10).join(bodies)}
"""
    truth = {"screws": screws, "others": others, "tilt_deg": round(tilt, 1), "view_deg": round(view, 1)}
    return text, truth


def photographed(picture: np.ndarray, r: np.random.Generator) -> tuple[np.ndarray, int]:
    """The picture as a hand-held camera gives it: a little soft, noisy, darker to the corners; and the JPEG quality."""
    import cv2

    light = (picture.astype(np.float64) / 255) ** 2.2
    height, width = light.shape[:2]
    y, x = np.mgrid[-1 : 1 : height * 1j, -1 : 1 : width * 1j]
    light *= (1 - r.uniform(0, 0.25) * (x**2 + y**2) / 2)[:, :, None] * r.uniform(0.75, 1.1)
    light = cv2.GaussianBlur(light, (0, 0), r.uniform(0.4, 0.9))
    grain = r.uniform(0.002, 0.008)
    light += r.normal(0, 1, light.shape) * grain * np.sqrt(light + 0.02) * 3
    return (np.clip(light, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8), int(r.integers(78, 95))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--count", type=int, default=4)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--width", type=int, default=2400)
    parser.add_argument("--shapes", choices=sorted(KINDS), default="plain")
    parser.add_argument("--light", choices=sorted(LIGHTS), default="day")
    parser.add_argument("--finish", choices=sorted(FINISHES), default="", help="of all screws; left out: any")
    parser.add_argument("--disc", default="", help="also a disc, diameter x thickness in mm, like 23.2x2.3")
    parser.add_argument("--screws", type=int, default=0, help="how many a picture; 0: from 4 to 40")
    options = parser.parse_args()
    options.folder.mkdir(parents=True, exist_ok=True)
    Image.fromarray(drawn(mat(), 400)).save(options.folder / "mat.png")
    for n in range(options.count):
        r = np.random.default_rng(options.seed * 1000 + n)
        count = options.screws or int(r.integers(4, 41))
        text, truth = scene(
            r, count, n % 3 == 1, n % 3 == 2, options.shapes, options.light, options.finish, options.disc
        )
        name = f"{options.seed:02d}{n:02d}"
        source = options.folder / f"{name}.pov"
        source.write_text(text)
        height = options.width * 3 // 4
        command = [
            "povray",
            f"+I{source.name}",
            f"+O{name}.png",
            f"+W{options.width}",
            f"+H{height}",
            "+A0.3",
            "+R2",
            "-D",
            "-GA",
        ]
        subprocess.run(command, cwd=options.folder, check=True, capture_output=True)
        picture, quality = photographed(np.asarray(Image.open(options.folder / f"{name}.png").convert("RGB")), r)
        Image.fromarray(picture).save(options.folder / f"{name}.jpg", quality=quality)
        (options.folder / f"{name}.json").write_text(json.dumps(truth, indent=1))
        source.unlink()
        (options.folder / f"{name}.png").unlink()
        print(name, len(truth["screws"]), "screws, tilt", truth["tilt_deg"])


if __name__ == "__main__":
    main()
