"""Makes ray-traced pictures of circuit boards with ground truth, for the tests of the board map.

    python tools/make_boards.py FOLDER --count 6 --seed 1 --width 1400

Needs POV-Ray (Debian: povray). Every picture FOLDER/NNN.jpg has its truth beside it, NNN.json: the board's size in mm, its edge
and the outlines of all bodies of 3 mm and more, in fractions of the picture, each with what it is.
"""

from __future__ import annotations

import argparse
import json
import subprocess
from pathlib import Path

import numpy as np
from PIL import Image

MASKS = {
    "green": "<0.05,0.24,0.12>",
    "blue": "<0.04,0.10,0.30>",
    "black": "<0.035,0.04,0.045>",
    "red": "<0.34,0.04,0.05>",
    "white": "<0.75,0.76,0.74>",
}
GROUNDS = ("<0.55,0.53,0.5>", "<0.42,0.30,0.2>", "<0.8,0.8,0.78>", "<0.16,0.17,0.18>", "<0.42,0.5,0.47>")
BLACK = "pigment { srgb <0.10,0.10,0.11> } finish { diffuse 0.7 specular 0.15 roughness 0.05 ambient 0.06 }"
STEEL = (
    "pigment { srgb <0.68,0.69,0.70> } finish { diffuse 0.5 specular 0.5 roughness 0.03 ambient 0.1 reflection 0.05 }"
)
TIN = "pigment { srgb <0.72,0.72,0.70> } finish { diffuse 0.5 specular 0.6 roughness 0.02 ambient 0.1 }"
CREAM = "pigment { srgb <0.85,0.80,0.66> } finish { diffuse 0.7 specular 0.1 ambient 0.08 }"
TAN = "pigment { srgb <0.62,0.50,0.36> } finish { diffuse 0.7 ambient 0.08 }"
GOLD = "pigment { srgb <0.80,0.62,0.28> } finish { diffuse 0.5 specular 0.5 roughness 0.02 ambient 0.1 }"
PRINT = "pigment { srgb <0.92,0.92,0.90> } finish { diffuse 0.7 ambient 0.1 }"


def box(x: float, y: float, w: float, h: float, z0: float, z1: float, texture: str, turn: float = 0.0) -> str:
    return f"box {{ <{-w / 2},{-h / 2},{z0}>,<{w / 2},{h / 2},{z1}> rotate z*{turn} translate <{x},{y},0> texture {{ {texture} }} }}"


def legs(x: float, y: float, w: float, h: float, pitch: float, four: bool, turn: float) -> str:
    out = []
    for n in range(int((w - pitch) / pitch)):
        at = -w / 2 + pitch * (n + 1)
        for side in (-1, 1):
            out.append(
                f"box {{ <{at - pitch / 4},{side * h / 2 - 0.6},0>,<{at + pitch / 4},{side * h / 2 + 0.6},0.3> rotate z*{turn} "
                f"translate <{x},{y},0> texture {{ {TIN} }} }}"
            )
    if four:
        for n in range(int((h - pitch) / pitch)):
            at = -h / 2 + pitch * (n + 1)
            for side in (-1, 1):
                out.append(
                    f"box {{ <{side * w / 2 - 0.6},{at - pitch / 4},0>,<{side * w / 2 + 0.6},{at + pitch / 4},0.3> rotate z*{turn} "
                    f"translate <{x},{y},0> texture {{ {TIN} }} }}"
                )
    return "\n".join(out)


def made(rng: np.random.Generator) -> tuple[str, dict[str, object]]:
    """A board as POV-Ray text, and its truth in mm."""
    wide, high = float(rng.uniform(50, 110)), float(rng.uniform(35, 80))
    colour = str(rng.choice(list(MASKS), p=[0.42, 0.22, 0.18, 0.1, 0.08]))
    turn = float(rng.normal(0, 4))
    mask = f"pigment {{ srgb {MASKS[colour]} }} finish {{ diffuse 0.75 specular 0.2 roughness 0.05 ambient 0.08 }}"
    pov = [box(0, 0, wide, high, -1.6, 0, mask)]
    taken: list[tuple[float, float, float, float]] = []
    things: list[dict[str, object]] = []

    def place(w: float, h: float, edge: bool = False) -> tuple[float, float] | None:
        for _ in range(60):
            x = float(rng.uniform(-wide / 2 + w / 2 + 1.5, wide / 2 - w / 2 - 1.5))
            y = float(rng.uniform(-high / 2 + h / 2 + 1.5, high / 2 - h / 2 - 1.5))
            if edge:
                y = (high / 2 - h / 2 - 0.4) * (1 if rng.random() < 0.5 else -1)
            if all(abs(x - a) > (w + c) / 2 + 1.4 or abs(y - b) > (h + d) / 2 + 1.4 for a, b, c, d in taken):
                taken.append((x, y, w, h))
                return x, y
        return None

    def seen(kind: str, x: float, y: float, w: float, h: float, angle: float = 0.0) -> None:
        c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
        corners = [
            (x + c * a - s * b, y + s * a + c * b)
            for a, b in ((-w / 2, -h / 2), (w / 2, -h / 2), (w / 2, h / 2), (-w / 2, h / 2))
        ]
        things.append({"kind": kind, "corners": corners})

    for x, y in ((-1, -1), (1, -1), (1, 1), (-1, 1)):
        if rng.random() < 0.7:
            at = (x * (wide / 2 - 3.5), y * (high / 2 - 3.5))
            taken.append((*at, 6.0, 6.0))
            pov.append(f"cylinder {{ <{at[0]},{at[1]},-0.2>,<{at[0]},{at[1]},0.06>,2.6 texture {{ {GOLD} }} }}")
            pov.append(f"cylinder {{ <{at[0]},{at[1]},-0.1>,<{at[0]},{at[1]},0.08>,1.5 pigment {{ rgb 0.02 }} }}")
            seen("hole", at[0], at[1], 5.2, 5.2)
    for _ in range(int(rng.integers(0, 3))):
        w, h = float(rng.uniform(10, 28)), float(rng.uniform(8, 20))
        if (at := place(w, h)) is not None:
            pov.append(box(*at, w, h, 0, float(rng.uniform(1.5, 3)), STEEL))
            seen("shield", *at, w, h)
    for _ in range(int(rng.integers(3, 9))):
        sort = rng.random()
        w = float(rng.uniform(4, 18))
        h = w if sort < 0.6 else float(w * rng.uniform(0.4, 0.9))
        pitch = float(rng.choice([0.5, 0.65, 0.8, 1.27]))
        clear = 1.4 if sort > 0.3 else 0.0
        if (at := place(w + 2 * clear, h + 2 * clear)) is not None:
            pov.append(box(*at, w, h, 0.1, float(rng.uniform(0.8, 1.8)), BLACK))
            if clear:
                pov.append(legs(*at, w, h, pitch, sort < 0.6, 0.0))
            for line in range(int(rng.integers(0, 3))):
                pov.append(
                    box(at[0], at[1] + (line - 0.5) * h * 0.2, w * 0.5, h * 0.06, 1.79, 1.82, "pigment { srgb 0.4 }")
                )
            seen("body", *at, w, h)
    for _ in range(int(rng.integers(2, 6))):
        w, h = float(rng.uniform(6, 22)), float(rng.uniform(3, 5.5))
        if rng.random() < 0.4:
            w, h = h, w
        if (at := place(w, h, edge=w > h and rng.random() < 0.5)) is not None:
            texture = str(rng.choice([CREAM, CREAM, BLACK, TAN]))
            pov.append(box(*at, w, h, 0, 2.2, texture))
            seen("connector", *at, w, h)
    for _ in range(int(rng.integers(0, 5))):
        d = float(rng.uniform(4, 10))
        if (at := place(d, d)) is not None:
            pov.append(
                f"cylinder {{ <{at[0]},{at[1]},0>,<{at[0]},{at[1]},{d}>,{d / 2} texture {{ {STEEL if rng.random() < 0.6 else BLACK} }} }}"
            )
            seen("can", *at, d, d)
    for _ in range(int(rng.integers(60, 260))):
        x, y = float(rng.uniform(-wide / 2 + 2, wide / 2 - 2)), float(rng.uniform(-high / 2 + 2, high / 2 - 2))
        w, h = ((1.0, 0.5), (1.6, 0.8), (2.0, 1.25))[int(rng.integers(0, 3))]
        if any(abs(x - a) < (w + c) / 2 + 0.6 and abs(y - b) < (h + d) / 2 + 0.6 for a, b, c, d in taken):
            continue
        around = 90.0 * int(rng.integers(0, 2))
        pov.append(box(x, y, w, h, 0, 0.5, BLACK if rng.random() < 0.5 else TAN, around))
    for _ in range(int(rng.integers(10, 60))):
        x, y = float(rng.uniform(-wide / 2 + 3, wide / 2 - 3)), float(rng.uniform(-high / 2 + 3, high / 2 - 3))
        pov.append(box(x, y, float(rng.uniform(0.8, 3)), 0.22, 0, 0.02, PRINT, 90.0 * int(rng.integers(0, 2))))
    ground = str(rng.choice(GROUNDS))
    text = (
        "#version 3.7; global_settings { assumed_gamma 1.0 }\n"
        f"plane {{ z, -1.7 pigment {{ srgb {ground} }} finish {{ diffuse 0.8 ambient 0.06 }} }}\n"
        f"union {{ {' '.join(pov)} rotate z*{turn} }}\n"
        f"light_source {{ <{rng.uniform(-220, 220)},{rng.uniform(120, 300)},420> rgb <1,0.97,0.92>*1.15 area_light <80,0,0>,<0,80,0>,5,5 adaptive 1 jitter }}\n"
        "light_source { <120,-200,520> rgb 0.45 shadowless }\n"
    )
    return text, {"size": [wide, high], "turn": turn, "mask": colour, "things": things}


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--count", type=int, default=6)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--width", type=int, default=1400)
    options = parser.parse_args()
    options.folder.mkdir(parents=True, exist_ok=True)
    for n in range(options.seed * 100, options.seed * 100 + options.count):
        rng = np.random.default_rng(n)
        text, truth = made(rng)
        size = truth["size"]
        across = max(size[0] * 1.25, size[1] * 1.25 * 4 / 3)  # mm seen across at the board's plane
        high_px = options.width * 3 // 4
        far = 420.0
        camera = (
            f"camera {{ perspective location <0,0,{far}> look_at <0,0,0> right <{-across / far},0,0> up <0,{across * 0.75 / far},0> "
            "direction <0,0,1> sky <0,1,0> }\n"
        )
        scene = options.folder / f"{n:04d}.pov"
        scene.write_text(text.replace("global_settings", camera + "global_settings", 1))
        raw = options.folder / f"{n:04d}.png"
        subprocess.run(
            ["povray", f"+I{scene}", f"+O{raw}", f"+W{options.width}", f"+H{high_px}", "+A0.3", "-D", "-GA"],
            check=True,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        image = np.asarray(Image.open(raw).convert("RGB")).astype(np.float64)
        noisy = image + rng.normal(0, 2.5, image.shape)
        Image.fromarray(noisy.clip(0, 255).astype(np.uint8)).save(raw.with_suffix(".jpg"), quality=84)
        raw.unlink()
        scene.unlink()
        turn = np.radians(truth["turn"])
        way = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])

        def fractions(corners: object, way: np.ndarray = way, across: float = across) -> list[list[float]]:
            points = np.array(corners) @ way
            return [[round(0.5 + x / across, 5), round(0.5 - y / (across * 0.75), 5)] for x, y in points]

        half = [size[0] / 2, size[1] / 2]
        told = {
            "board_mm": [round(s, 2) for s in size],
            "across_mm": round(across, 2),
            "mask": truth["mask"],
            "edge": fractions([(-half[0], -half[1]), (half[0], -half[1]), (half[0], half[1]), (-half[0], half[1])]),
            "things": [{"kind": t["kind"], "corners": fractions(t["corners"])} for t in truth["things"]],
        }
        raw.with_suffix(".json").write_text(json.dumps(told))
        print(raw.with_suffix(".jpg"))


if __name__ == "__main__":
    main()
