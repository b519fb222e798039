"""Figures of speed, as medians and ratios: ``./run bench [NAME ...]``. Nothing here is asserted."""

import os
import random
import subprocess
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path
from statistics import median

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).parent))

import board_scores
import corpus
from attrs import evolve
from builders import chain_study
from evaluation import HERE, scores

from oddbolt.core.narration import Cue, Memory, draft, read, shipped
from oddbolt.core.narration.assembly.settle import DOUBTFUL
from oddbolt.core.reach import parts
from oddbolt.core.reach.order_search import Job, Ordering
from oddbolt.core.study import Study
from oddbolt.demo import tide_logger
from oddbolt.files.captions import read_cues
from oddbolt.files.store import Store
from oddbolt.listening import load

TOOL_S, TURN_S = 3.0, 4.0


def row(name, seconds, goal="", note=""):
    low, mid, high = min(seconds), median(seconds), max(seconds)
    print(f"{name:<46} {mid * 1000:9.1f} ms  ({low * 1000:.1f} to {high * 1000:.1f})  {goal:<12} {note}", flush=True)


def timed(work, times=5):
    out = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        out.append(time.perf_counter() - start)
    return out


BARE = """
import os; os.environ["QT_QPA_PLATFORM"] = "offscreen"
from PySide6.QtWidgets import QApplication, QMainWindow
app = QApplication([]); w = QMainWindow(); w.resize(1280, 800); w.show(); app.processEvents(); w.grab(); os._exit(0)
"""


def bench_start():
    """From starting Python to the window on the demo study painted."""
    code = (
        "import os, sys; os.environ['QT_QPA_PLATFORM'] = 'offscreen'\n"
        "from PySide6.QtWidgets import QApplication\napp = QApplication([])\nfrom pathlib import Path\n"
        "from oddbolt.desk.shell.window import open_window\nfrom oddbolt.desk.state.settings import Settings\n"
        "w = open_window(Settings(Path(sys.argv[1])), Path(sys.argv[2]))\n"
        "app.processEvents(); w.grab(); w.close(); os._exit(0)"
    )
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "demo.oddbolt"
        Store.create(path, tide_logger.study(), tide_logger.pictures()).close()
        command = [sys.executable, "-c", code, folder, str(path)]
        environment = {**os.environ, "PYTHONDONTWRITEBYTECODE": ""}
        subprocess.run(command, check=True, env=environment)
        bare = [sys.executable, "-c", BARE]
        starts, empty = [], []
        for _ in range(7):  # in turn, so that both meet the same machine
            empty += timed(lambda: subprocess.run(bare, check=True, env=environment), 1)
            starts += timed(lambda: subprocess.run(command, check=True, env=environment), 1)
        row("window on the demo, whole process", starts, "goal 1.5 s")
        times = median(a / b for a, b in zip(starts, empty, strict=True))
        row("a bare window of the toolkit", empty, "", f"the demo takes {times:.1f} times as long; goal 5")


def bench_log():
    """A sentence logged: saved and in sight, and with the figures worked out beside it."""
    from PySide6.QtWidgets import QApplication

    from oddbolt.desk.shell.window import open_window
    from oddbolt.desk.state.settings import Settings

    app = QApplication.instance() or QApplication([])
    for steps, goal in ((62, ""), (500, "goal 50 ms"), (5000, "goal 150 ms")):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "a.oddbolt"
            Store.create(path, tide_logger.study() if steps == 62 else chain_study(steps, fork=9)).close()
            window = open_window(Settings(Path(folder)), path)
            app.processEvents()
            seen, hand, whole = [], [], []
            for n in range(15):
                window.take_apart.say.edit.setPlainText(f"undo four PH00 screws on fan {n}")
                start, work = time.perf_counter(), time.thread_time()
                window.take_apart.say.log()
                app.processEvents()
                seen.append(time.perf_counter() - start)
                hand.append(time.thread_time() - work)
                while window.figures.working:
                    app.processEvents()
                whole.append(time.perf_counter() - start)
            row(f"sentence logged and in sight, {steps} steps", seen, goal)
            row("  of that the processor's time", hand)
            row("  with reach and verdict worked out", whole)
            window.close()


def bench_reach():
    """The reach of every part: once, and again after an edit at the end."""
    for n in (500, 2000, 5000):

        def once(n=n):
            parts._Memory.recorded = None
            parts.reach_of_all.__wrapped__(chain_study(n, fork=12))

        building = median(timed(lambda n=n: chain_study(n, fork=12), 3))
        seconds = [s - building for s in timed(once)]
        row(f"reach of all parts, {n} steps", seconds, "goal 200 ms" if n == 2000 else "")


def instance(seed, n, tools=6):
    """Jobs with random tools, faces and needs, as in a teardown of n steps."""
    r = random.Random(seed)
    jobs = []
    for i in range(n):
        needs = tuple(1 << j for j in r.sample(range(max(0, i - 8), i), min(i, r.randint(0, 2))))
        jobs.append(Job(float(r.randint(4, 60)), r.randint(0, tools), r.randint(0, 1), needs))
    return jobs


def general_solver(jobs, budget_s):
    """The same instance as a circuit in OR-tools CP-SAT: (seconds of the order found or None, proved, time taken)."""
    from ortools.sat.python import cp_model

    model = cp_model.CpModel()
    n = len(jobs)
    # Work by hand changes no tool: the tool in hand is carried along as a state of each position.
    tools = sorted({j.tool for j in jobs})
    hand = [model.new_int_var_from_domain(cp_model.Domain.from_values([j.tool] if j.tool else tools), "") for j in jobs]
    place = [model.new_int_var(0, n - 1, "") for _ in jobs]
    arcs, cost = [], []
    for i in range(n):
        arcs += [(n, i, (first := model.new_bool_var(""))), (i, n, model.new_bool_var(""))]
        model.add(place[i] == 0).only_enforce_if(first)
        if jobs[i].tool:
            cost.append(TOOL_S * first)
        else:
            model.add(hand[i] == 0).only_enforce_if(first)
        cost.append(TURN_S * first * (jobs[i].face != 0))
        for k in range(n):
            if k == i:
                continue
            follows = model.new_bool_var("")
            arcs.append((i, k, follows))
            model.add(place[k] == place[i] + 1).only_enforce_if(follows)
            if not jobs[k].tool:
                model.add(hand[k] == hand[i]).only_enforce_if(follows)
            else:
                change, same = model.new_bool_var(""), model.new_bool_var("")
                model.add(hand[i] != jobs[k].tool).only_enforce_if(change)
                model.add(hand[i] == jobs[k].tool).only_enforce_if(same)
                model.add_bool_or([change, same, follows.negated()])
                pays = model.new_bool_var("")
                model.add_bool_or([pays, follows.negated(), same])
                cost.append(TOOL_S * pays)
            if jobs[i].face != jobs[k].face:
                cost.append(TURN_S * follows)
    model.add_circuit(arcs)
    for i, job in enumerate(jobs):
        for need in job.needs:
            model.add(place[need.bit_length() - 1] < place[i])
    model.minimize(sum(cost))
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = budget_s
    solver.parameters.num_workers = 2
    start = time.perf_counter()
    status = solver.solve(model)
    found = status in (cp_model.OPTIMAL, cp_model.FEASIBLE)
    work = sum(j.seconds for j in jobs) + solver.objective_value if found else None
    return work, status == cp_model.OPTIMAL, time.perf_counter() - start


def bench_whatif():
    """Every change weighed, and the open questions ranked; the record's own figures are known beforehand."""
    from attrs import evolve

    from oddbolt.core.reach import open_questions, reach_of_all
    from oddbolt.core.reach.what_if import changes, ranked

    study = tide_logger.study()
    row(
        "every change of the demo weighed",
        timed(lambda: ranked(study), 3),
        "goal 2 s",
        f"{len(changes(study))} changes",
    )
    large = chain_study(500, fork=25)
    some = {id: evolve(part, priority=n % 50 == 0) for n, (id, part) in enumerate(large.parts.items())}
    large = evolve(large, parts=some)
    row(
        "every change of 500 parts weighed",
        timed(lambda: ranked(large), 1),
        "goal 30 s",
        f"{len(changes(large))} changes",
    )
    facts = {id: evolve(f, state="assumed" if n % 4 == 0 else "seen") for n, (id, f) in enumerate(large.facts.items())}
    asked = evolve(large, facts=facts)
    reach_of_all(asked)
    took = timed(lambda: open_questions(asked), 3)
    row("questions at 500 steps ranked", took, "goal 0.3 s", f"{len(open_questions(asked))} questions")


def bench_strata():
    """Strata of 2,000 parts in twelve modules: laid out and drawn, and drawn again while they are moved about."""
    from attrs import evolve
    from PySide6.QtCore import QPointF
    from PySide6.QtGui import QPixmap
    from PySide6.QtWidgets import QApplication

    from oddbolt.core.reach import reach_of_all
    from oddbolt.core.study import Part
    from oddbolt.desk.painters.strata import Strata

    QApplication.instance() or QApplication([])
    study = chain_study(2000, fork=40)
    modules = {f"P{3000 + m}": Part(f"P{3000 + m}", f"unit {m}") for m in range(12)}
    inside = {
        p.id: evolve(p, inside=f"P{3000 + n % 12}", priority=n % 90 == 0) for n, p in enumerate(study.parts.values())
    }
    study = evolve(study, parts=modules | inside)
    reach = reach_of_all(study)
    strata = Strata()
    strata.resize(850, 430)
    picture = QPixmap(strata.size())

    def shown():
        strata.show_ground(study, reach, False, ["P1039"], None)
        strata.render(picture)

    def moved():
        strata._pan(QPointF(23, 9))
        strata.render(picture)

    row("strata of 2,000 parts laid out and drawn", timed(shown, 9))
    row("  of that drawing", timed(lambda: strata.render(picture), 15), "goal 50 ms")
    for closer in (3, 12, 40):
        strata.whole()
        strata.closer(closer)
        row(f"  moved about, {closer} times as close", timed(moved, 30), "goal 16 ms")


def bench_routes():
    """The best order of 40 and 60 steps, proved; a general solver on the same instances in the same run."""
    for n, seeds, goal in ((12, range(3), ""), (40, range(7), "goal 500 ms"), (60, range(5), "goal 5 s")):
        ours, orders = [], []
        for seed in seeds:
            start = time.perf_counter()
            orders.append(Ordering(instance(seed, n), TOOL_S, TURN_S, 0).solve(budget_s=60))
            ours.append(time.perf_counter() - start)
        row(
            f"order of {n} steps, 6 tools, 2 faces",
            ours,
            goal,
            f"proved {sum(o.proved for o in orders)} of {len(orders)}",
        )
        other = [general_solver(instance(seed, n), 20.0) for seed in list(seeds)[:3]]
        told = f"proved {sum(p for _, p, _ in other)} of {len(other)}"
        pairs = zip([w for w, _, _ in other], orders, strict=False)
        worse = ["none found" if w is None else f"{w - o.seconds:+.0f} s" for w, o in pairs]
        row(
            "  general solver (CP-SAT, 20 s at most)",
            [t for _, _, t in other],
            "",
            f"{told}; against ours {', '.join(worse)}",
        )


def bench_narration():
    """An hour of narration: our samples one after another until the hour is full; and how well it is read."""
    cues, at = [], 0.0
    files = [p for p in sorted(HERE.iterdir()) if p.suffix in (".vtt", ".srt", ".txt")]
    while at < 3600:
        for path in files:
            these = read_cues(path)
            cues += [Cue(at + c.start_s, at + c.end_s, c.text) for c in these]
            at += max(c.end_s for c in these) + 5
    words = sum(len(c.text.split()) for c in cues)
    steps = len(draft(cues).steps)
    row(f"an hour by rules ({words} words)", timed(lambda: draft(cues), 3), "", f"{steps} steps")
    begin, before = time.perf_counter(), resident_mb()
    tagger = load()
    hears = evolve(shipped(), tagger=tagger)
    read("lid off", Memory(), hears)
    row(
        "the network loaded, one sentence read",
        [time.perf_counter() - begin],
        "",
        f"{resident_mb() - before:.0f} MB more",
    )
    each = [line[0] for *_, lines in corpus.stories(measure=True) for line in lines]
    shares = []
    for text in each:
        begin = time.perf_counter()
        read(text, Memory(), hears)
        shares.append(time.perf_counter() - begin)
    row("one sentence, rules and network", shares, "goal 15 ms", f"{len(each)} sentences")
    begin = time.perf_counter()
    steps = len(draft(cues, hears).steps)
    row("an hour of narration, rules and network", [time.perf_counter() - begin], "goal 10 s", f"{steps} steps")
    n, _ = scores()
    print(f"narration by hand, rules: {n['groups right']} of {n['groups']} screw groups with right count and drive,")
    print(f"  {n['out right']} of {n['out']} parts taken out, {n['false']} false of {n['steps']} steps drafted,")
    print(f"  {n['right']} of {n['wanted']} steps right in every field compared")
    for name, words_ in (("rules", shipped()), ("rules and network", hears)):
        for half in (True, False):
            total, _, _, curve = corpus.scored(half, () if half else ("fresh-8",), words_)
            n = sum(total.values(), Counter())
            what = "stories kept for measuring" if half else "a story set written before its first reading"
            print(f"{what}, {name}: {n['clean']} of {n['sentences']} sentences right in every detail,")
            print(f"  {n['found']} of {n['acts']} acts, {n['false']} of {n['drafted']} drafts false,")
            print(f"  counts {n['counts right']} of {n['counts']}, sizes {n['sizes right']} of {n['sizes']}")
            for low, high in ((0.0, 0.6), (0.6, 0.75), (0.75, 0.85), (0.85, 1.01)) if words_ is hears else ():
                here = [right for sure, right in curve if low <= sure < high]
                print(f"  confidence {low:.2f} to {min(high, 1):.2f}: {sum(here)} of {len(here)} right")
            if words_ is hears:
                doubted = [
                    sum(1 for sure, right in curve if right == is_right and sure < DOUBTFUL) for is_right in (0, 1)
                ]
                wrong, good = (sum(1 for _, right in curve if right == is_right) for is_right in (0, 1))
                print(f"  in doubt {doubted[0]} of {wrong} wrong and {doubted[1]} of {good} right drafts")


def bench_warmup():
    """A warm-up of 30 min with six layers, its band of 200 samples, and the correction by a reading."""
    from oddbolt.core.opening.warmup import Heating, Slab, band, corrected, warm

    stack = [Slab(0.0005 * (n + 1), 0.1 + 0.3 * n, 2e6, 0.1, "glue" if n == 1 else "", "") for n in range(5)]
    stack.append(Slab(0.006, 0.6, 2.3e6, 0.2, "guarded", ""))
    faces = Heating(85.0, 100.0, 0.0, 10.0, 22.0)
    row("warm-up, 30 min, 6 layers", timed(lambda: warm(stack, faces, 1800.0), 15), "goal 20 ms")
    row("  its band of 200 samples", timed(lambda: band(stack, faces, 1800.0, 60, 60), 3), "goal 1 s")
    read = float(warm(stack, faces, 300.0).surface_c[-1]) - 4
    row("  corrected by a reading", timed(lambda: corrected(stack, faces, 300.0, read)))


def bench_edge():
    """An edge plan of 40 stretches and 30 keep-outs: worked out and painted while a keep-out is dragged."""
    from PySide6.QtWidgets import QApplication

    from oddbolt.core.opening.edge import round_of
    from oddbolt.core.study import EdgePlan, Keepout, Stretch, change, put_all
    from oddbolt.desk.painters.edge import EdgeDrawing

    QApplication.instance() or QApplication([])
    r = random.Random(4)
    things = [EdgePlan("O1", "Cover", "rounded 300 x 200 r 20")]
    step = (2 * (300 + 200) - 8 * 20 + 2 * 3.14159 * 20) / 40
    things += [
        Stretch(f"E{n + 1}", "O1", f"stretch {n}", n * step, (n + 1) * step, "glue", width_mm=2.0, depth_mm=4.0)
        for n in range(40)
    ]
    kinds = ("sensor", "cell", "lens", "antenna")
    things += [
        Keepout(f"Z{n + 1}", "O1", r.choice(kinds), r.uniform(5, 295), r.uniform(4, 196), 12, 8) for n in range(30)
    ]
    study = put_all(Study(), things)
    drawing = EdgeDrawing()
    drawing.resize(620, 480)
    seconds, sums = [], []
    for n in range(30):
        study = change(study, "Z1", x_mm=20.0 + n, y_mm=6.0)
        start = time.perf_counter()
        found = round_of(study, "O1")
        sums.append(time.perf_counter() - start)
        drawing.show_plan(study, found, "", "Z1")
        drawing.grab()
        seconds.append(time.perf_counter() - start)
    row("edge plan, 40 stretches and 30 keep-outs, redrawn", seconds, "goal 16 ms")
    row("  of that working it out", sums)


def bench_photos():
    """A study of a thousand photos opened and painted, and its contact sheet with the first thumbnails."""
    from io import BytesIO

    from PIL import Image
    from PySide6.QtWidgets import QApplication

    from oddbolt.core.study import Photo, put_all
    from oddbolt.desk.shell.window import open_window
    from oddbolt.desk.state.settings import Settings

    app = QApplication.instance() or QApplication([])
    pictures = []
    for n in range(1000):
        out = BytesIO()
        Image.effect_noise((320, 240), 40 + n % 50).resize((1600, 1200)).save(out, "JPEG", quality=60)
        pictures.append(out.getvalue())
    study = chain_study(300)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.oddbolt"
        store = Store.create(path, study)
        photos = [
            Photo(f"H{n}", store.add_picture(data), f"S{n % 300 + 1}", "", 1600, 1200)
            for n, data in enumerate(pictures, 1)
        ]
        store.save(study, put_all(study, photos))
        store.close()
        note = f"{path.stat().st_size / 1e6:.0f} MB"
        window = open_window(Settings(Path(folder)), None)
        app.processEvents()

        def once():
            window.session.open(path)
            app.processEvents()
            window.grab()

        took = []
        for _ in range(5):
            window.session.close()
            took += timed(once, 1)
        row("open and paint a study of 1,000 photos", took, "goal 500 ms", note)

        def sheet():
            window.importer._forget()
            window.show_aside(window.photos)
            window.grab()

        row("its contact sheet in sight, frames empty", timed(sheet, 5))
        start = time.perf_counter()
        while window.importer._wanted or window.importer._making:
            app.processEvents()
        row(
            "the frames in sight filled",
            [time.perf_counter() - start],
            "",
            "thumbnails made beside the work",
        )
        window.figures.finish()
        window.close()


def bench_identify():
    """Screws identified from simulated measurements: how long it takes, and how often the right one comes first."""
    import numpy as np

    from oddbolt.core.fasteners.identify import identify
    from oddbolt.core.fasteners.parse_measurements import measured
    from oddbolt.core.reference.limits import outer_limits_mm
    from oddbolt.core.reference.tables import heads, threads

    r = np.random.default_rng(3)
    rows = [
        (threads()[name], head, figures)
        for head in heads().values()
        for name, figures in head.rows.items()
        if figures[0] and head.drive in ("cross", "hexalobular", "hex-socket") and threads()[name].diameter_mm <= 6
    ]
    told = {"od": [], "od, pitch": [], "od, driver": [], "od, pitch, driver, head": []}
    seconds = []
    for _ in range(200):
        thread, head, (wide, _high, size) = rows[r.integers(len(rows))]
        figures = {
            "od": f"od {r.uniform(*outer_limits_mm(thread)) + r.normal(0, 0.02):.2f}",
            "pitch": f"pitch {max(0.06, thread.pitch_mm + r.normal(0, 0.02)):.2f}",
            "driver": f"driver {size if head.drive != 'hex-socket' else size + ' hex'}",
            "head": f"head {wide * r.uniform(0.94, 1.0) + r.normal(0, 0.03):.2f}",
        }
        for keys, right in told.items():
            seen = measured(", ".join(figures[k] for k in keys.split(", ")))
            start = time.perf_counter()
            best = identify(seen).candidates[0]
            seconds.append(time.perf_counter() - start)
            right.append(best.thread == thread.name and (best.size in ("", size)))
    row("identify a screw", seconds, "goal 5 ms")
    for keys, right in told.items():
        print(f"  {keys + ':':<28} right one first {sum(right) / len(right):.0%} of {len(right)}")


def bench_scan():
    """Screws counted and measured on ray-traced pictures; more are made by tools/make_scans.py and read from $SCANS."""
    import json

    import numpy as np
    from scipy.optimize import linear_sum_assignment

    from oddbolt.core.vision.scan import scan
    from oddbolt.files.pictures import pixels

    folder = Path(os.environ.get("SCANS", Path(__file__).parent / "scans"))
    off, seconds, wanted_, found_ = [], [], 0, 0
    for truth in sorted(folder.glob("*.json")):
        wanted = json.loads(truth.read_text())["screws"]
        picture = pixels(truth.with_suffix(".jpg"))
        scan(picture)
        start = time.perf_counter()
        found = scan(picture).screws
        seconds.append(time.perf_counter() - start)
        gap = np.array([[np.hypot(t.x_mm - w["x_mm"], t.y_mm - w["y_mm"]) for w in wanted] for t in found])
        pairs = [(i, j) for i, j in zip(*linear_sum_assignment(gap), strict=True) if gap[i, j] < 4]
        off += [abs(found[i].screw.length_mm - wanted[j]["length_mm"]) for i, j in pairs]
        wanted_, found_ = wanted_ + len(wanted), found_ + len(found)
    row("a photo scanned", seconds, "goal 1.5 s")
    print(f"  {found_} counted of {wanted_}, {len(off)} of them where one lies")
    near = np.mean(np.array(off) <= 0.15)
    print(f"  length within 0.15 mm: {near:.0%} (goal 95 %), half within {np.median(off):.2f} mm")


def bench_putback():
    """The plan of putting back, its gap, the ledger, a screw left over; how often the right place comes first."""
    import numpy as np
    from core.test_after_putting_back import random_device

    from oddbolt.core.fasteners.parse_measurements import measured
    from oddbolt.core.reassembly import ledger, left_over, plan_back
    from oddbolt.core.reference.limits import outer_limits_mm
    from oddbolt.core.reference.tables import thread_of
    from oddbolt.core.study import Step, put

    study = tide_logger.study()
    battery = next(p.id for p in study.parts.values() if p.name == "Battery")
    plan = plan_back(study, [battery])
    row("plan back to the battery", timed(lambda: plan_back(study, [battery])), "at once", plan.sureness)
    plan = plan_back(study)
    row("plan of the whole demo, 65 steps", timed(lambda: plan_back(study), 1), "goal 10 s", plan.sureness)
    ledgers = timed(lambda: ledger.__wrapped__(study), 20)
    row("ledger", ledgers, "goal 20 ms")
    seen = measured("od 1.58, length 4.1")
    row("left over, first time", timed(lambda: left_over(evolve(study), seen), 5), "goal 20 ms")
    row("  again", timed(lambda: left_over(study, seen), 20), "goal 20 ms")
    r, first, three, total = np.random.default_rng(99), 0, 0, 1000
    sums = []
    for _ in range(total):
        device = random_device(r, int(r.integers(3, 13)))
        screws = [j for j in device.joints.values() for _ in range(j.count)]
        lost = screws[r.integers(len(screws))]
        for n, joint in enumerate(device.joints.values()):
            made = joint.count - (joint.id == lost.id and r.random() > 0.08)
            if made:
                count = None if made == joint.count else made
                device = put(device, Step(f"S{100 + n}", "fasten", phase="back", releases=(joint.id,), count=count))
        od = r.uniform(*outer_limits_mm(thread_of(lost.thread))) + r.normal(0, 0.02)
        text = f"od {od:.2f}, length {lost.length_mm + r.normal(0, 0.13):.2f}, driver {lost.size}"
        places = left_over(device, measured(text)).places
        rank = [p.joint for p in places].index(lost.id)
        first, three = first + (rank == 0), three + (rank < 3)
        sums += [(p.probability, p.joint == lost.id) for p in places]
    print(f"  right place first {first / total:.1%} (goal 90 %), in three {three / total:.1%} (goal 99 %)")
    for low, high in ((0.02, 0.2), (0.2, 0.5), (0.5, 0.8), (0.8, 0.95), (0.95, 1.01)):
        inside = [ok for p, ok in sums if low <= p < high]
        if inside:
            print(f"  given {low:.0%} to {min(high, 1):.0%}: right {np.mean(inside):.0%} of {len(inside)}")


def bench_components():
    """Kinds, packages and connectors found by simulated looks; outlines proposed on ray-traced boards; large tables."""
    sys.path.insert(0, str(HERE.parent / "core"))
    from test_looks import SEEN, simulated

    from oddbolt.core.components import balance, board_maps
    from oddbolt.core.components.connectors import connector_guide
    from oddbolt.core.components.kinds import part_guide, what_is_this
    from oddbolt.core.components.layout import fitting, laid_out
    from oddbolt.core.components.packages import package_guide
    from oddbolt.core.study import Part, put_all
    from oddbolt.core.vision.board import propose
    from oddbolt.files.pictures import pixels

    sets = (("kinds of parts", part_guide, 10), ("packages", package_guide, 3), ("connectors", connector_guide, 3))
    for name, guide, most in sets:
        made = guide()
        first, three = simulated(made, 300, 99, most)
        told = f"right first {first:.1%}, in three {three:.1%}, up to {most} looks, 3 % of them mistaken"
        row(
            f"{name}: one ranking",
            timed(
                lambda made=made: made.rank(made.read("size 12 mm") if "size" in made.looks else made.read("pitch 0.5"))
            ),
            "",
            told,
        )
    places = []
    for text, kind in SEEN.items():
        ids = [c.id for c in what_is_this(part_guide().read(text)).candidates]
        places.append(ids.index(kind) if kind in ids else 9)
    print(f"{'parts as people describe them':<46} {sum(p == 0 for p in places)} of {len(places)} first")
    found, there, right, proposed, _ = board_scores.scores()
    told = f"recall {found}/{there}, precision {right}/{proposed} on {len(board_scores.BOARDS)} boards"
    picture = pixels(board_scores.BOARDS[0])
    row("outlines of one board", timed(lambda: propose(picture)), "", told)
    for count in (53, 200, 2000, 10_000):
        study = (
            tide_logger.study()
            if count == 53
            else put_all(
                Study(),
                [Part(f"P{n}", f"thing {n}", "", ("gear", "main board", "")[n % 3]) for n in range(1, count + 1)],
            )
        )
        row(f"laid out, {count} parts", timed(lambda study=study: laid_out(study, 2.0, 840, (58, 15)), 3))
        row(f"to fit, {count} parts", timed(lambda study=study: fitting(study, 840, 620, (58, 15)), 3))
    demo = tide_logger.study()
    row("masses of the demo", timed(lambda: balance(demo)))
    row("progress of a map", timed(lambda: board_maps.progress(demo, "H3")))


def bench_report():
    """The documents of 60 steps and 40 photos: the three reports, the instructions, the workbook, the web folder."""
    from attrs import evolve

    from oddbolt.core.study import Photo

    demo = tide_logger.study()
    pictures = tide_logger.pictures()
    steps = list(demo.steps)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.oddbolt"
        first = list(demo.photos.values())
        more = {
            f"H{900 + n}": evolve(first[n % len(first)], id=f"H{900 + n}", step=steps[(n * 7) % len(steps)])
            for n in range(40 - len(first))
        }
        study = evolve(demo, photos={**demo.photos, **more})
        assert all(isinstance(p, Photo) for p in study.photos.values())
        Store.create(path, study, pictures).close()
        for name in ("repairer", "designer", "judge"):
            for ending in ("pdf", "html"):
                out = Path(folder) / f"{name}.{ending}"
                took = timed(lambda o=out, n=name: on_command("report", path, "--for", n, "-o", o, "--replace"), 3)
                goal = "goal 3 s" if ending == "pdf" else ""
                row(f"report for a {name}, {ending}", took, goal, f"{out.stat().st_size / 1e6:.2f} MB, goal 6 MB")
        for words in (["instructions", "--target", "battery"], ["export"], ["web"]):
            ending = {"instructions": ".pdf", "export": ".xlsx", "web": ""}[words[0]]
            out = Path(folder) / f"{words[0]}{ending}"
            took = timed(lambda o=out, w=words: on_command(w[0], path, *w[1:], "-o", o, "--replace"), 3)
            row(f"{words[0]}{ending}", took, "", "" if out.is_dir() else f"{out.stat().st_size / 1e6:.2f} MB")


def bench_tray():
    """Forty groups of screws laid out, with their look-alikes."""
    import numpy as np

    from oddbolt.core.fasteners.tray import plan, tray
    from oddbolt.core.study import Joint, Step, put

    r, study = np.random.default_rng(4), Study()
    for n in range(1, 41):
        size = ("M1.6", "PH00") if r.random() < 0.5 else ("M2", "PH0")
        length = float(r.choice([3, 4, 5, 6, 8, 10, 12]))
        study = put(
            study, Joint(f"J{n}", "screw", drive="cross", size=size[1], thread=size[0], length_mm=length, finish="zinc")
        )
        study = put(study, Step(f"S{n}", "unscrew", releases=(f"J{n}",)))
    took = timed(lambda: plan(study, tray("7x7")), 3)
    row("a tray for 40 groups", took, "goal 1 s", plan(study, tray("7x7")).sentence)


def bench_file():
    """Opening the demo study."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.oddbolt"
        Store.create(path, tide_logger.study(), tide_logger.pictures()).close()

        def once():
            store, study = Store.open(path)
            assert isinstance(study, Study)
            store.close()

        row("open and close the demo study", timed(once))


def large_study(folder, steps, photos):
    """A study of this size in a file, with pictures as a camera gives them."""
    from io import BytesIO

    from PIL import Image

    from oddbolt.core.study import Photo, put_all

    study = chain_study(steps, fork=12)
    path = Path(folder) / f"{steps}.oddbolt"
    store = Store.create(path, study)
    made = []
    views = [Image.open(BytesIO(p)).convert("RGB").resize((3000, 2250)) for p in tide_logger.pictures()]
    for n in range(photos):
        out = BytesIO()
        grain = Image.effect_noise((3000, 2250), 12 + n % 7).convert("RGB")
        Image.blend(views[n % len(views)], grain, 0.08).save(out, "JPEG", quality=85)
        digest = store.add_picture(out.getvalue())
        made.append(Photo(f"H{n + 1}", digest, f"S{n * steps // photos + 1}", "", 3000, 2250))
    study_with = put_all(study, made)
    store.save(study, study_with)
    store.close()
    return path, study_with


def resident_mb():
    return int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1e6


def longest_stall(app, act, window):
    """The longest time that the window took no event while an act and what follows it were worked through, in s."""
    from PySide6.QtCore import QTimer

    beats = [time.perf_counter()]
    timer = QTimer(window)
    timer.timeout.connect(lambda: beats.append(time.perf_counter()))
    timer.start(2)
    app.processEvents()
    QTimer.singleShot(0, act)
    quiet, until = 0, time.perf_counter() + 30
    while quiet < 20 and time.perf_counter() < until:
        app.processEvents()
        time.sleep(0.001)
        quiet = 0 if window.figures.working else quiet + 1
    timer.stop()
    return max(b - a for a, b in zip(beats, [*beats[1:], time.perf_counter()], strict=True))


def on_command(*words):
    subprocess.run([sys.executable, "-m", "oddbolt", *map(str, words)], stdout=subprocess.DEVNULL, check=False)


def large_window(app, folder, path, study, photos, goal):
    """The longest stall of each act in one window."""
    from oddbolt.desk.shell.window import open_window
    from oddbolt.desk.state.settings import Settings

    window = open_window(Settings(Path(folder)), None)
    window.show()
    app.processEvents()
    before = resident_mb()
    opened = longest_stall(app, lambda: window.filing.open_path(path), window)
    row(f"{len(study.steps)} steps: opened", [opened], goal)
    print(f"  {resident_mb() - before:.0f} MB more in memory, {photos} photos", flush=True)

    def say(n):
        window.show_stage(window.take_apart)
        window.take_apart.say.edit.setPlainText(f"undo four PH00 screws on fan {n}")
        window.take_apart.say.log()

    def show(page):
        (window.show_stage if page in window.pages else window.show_aside)(page)

    for page in (*window.pages, window.runs, window.photos, window.review):
        shown = [longest_stall(app, lambda p=page: show(p), window) for _ in range(3)]
        row(f"  {type(page).__name__} shown", shown, goal)
        logged = [longest_stall(app, lambda n=n: say(n), window) for n in range(3)]
        row("  a sentence logged after it", logged, goal)
    ids = list(study.joints)
    picked = [longest_stall(app, lambda n=n: window.session.select(ids[n * 7]), window) for n in range(8)]
    row("  a joint selected", picked, goal)
    window.close()


def bench_large():
    """A window on 500 and on 5,000 steps: the longest stall of each act; check, reach and report of large studies."""
    from PySide6.QtWidgets import QApplication

    from oddbolt.core.study import Part, put_all

    app = QApplication.instance() or QApplication([])
    for steps, photos, goal in ((500, 100, "goal 100 ms"), (5000, 1000, "goal 250 ms")):
        with tempfile.TemporaryDirectory() as folder:
            path, study = large_study(folder, steps, photos)
            large_window(app, folder, path, study, photos, goal)
            row("  check", timed(lambda p=path: on_command("check", p), 1), "goal 10 s")
            row("  reach", timed(lambda p=path: on_command("reach", p), 1), "goal 10 s")
            for ending in ("html", "pdf") if steps == 500 else ():
                out = Path(folder) / f"r.{ending}"
                took = timed(lambda p=path, o=out: on_command("report", p, "-o", o), 1)
                row(f"  report as {ending}", took, "goal 5 s", f"{out.stat().st_size / 1e6:.1f} MB, goal 10 MB")
    deep = [Part(f"P{9000 + n}", f"box {n}", inside=f"P{8999 + n}" if n else "") for n in range(2000)]
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "deep.oddbolt"
        Store.create(path, put_all(chain_study(100), deep)).close()
        row("2,000 parts in one another: check", timed(lambda: on_command("check", path), 1), "goal 10 s")


ALL = {name.removeprefix("bench_"): f for name, f in list(globals().items()) if name.startswith("bench_")}

if __name__ == "__main__":
    for name in sys.argv[1:] or ALL:
        print(f"-- {name}: {ALL[name].__doc__}")
        ALL[name]()
