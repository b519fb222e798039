"""The report and the repair instructions: sound HTML and tagged PDF, what each reader gets, true scale on paper."""

import re
from io import BytesIO

import attrs
import numpy as np
import pypdfium2
import pytest
from builders import random_study
from hypothesis import given, settings
from hypothesis import strategies as st
from markdown_it import MarkdownIt
from paper import sound_html, sound_pdf
from PIL import Image

from oddbolt.core.errors import FileError
from oddbolt.core.handover.in_short import in_short
from oddbolt.core.reach.describe import step_text
from oddbolt.core.reassembly import repair_job
from oddbolt.core.study import Device, Finding, Joint, Part, Step, Study, change, put_all
from oddbolt.core.verdict import SCHEMES, counting
from oddbolt.demo import put_back
from oddbolt.files.pdf import write_pdf
from oddbolt.files.report import PRESETS, SECTIONS, choice, report_html, write_report
from oddbolt.files.report.instructions import write_instructions
from oddbolt.files.report.light_copy import light_copy
from oddbolt.files.store import Store
from oddbolt.files.true_scale import screw_svg

EVIL = "\"><script>alert(1)</script>'</style>\\"


@pytest.fixture(scope="module")
def repairer(logger, tmp_path_factory):
    """The repairer's report of the demo as a PDF, and its pages."""
    path = tmp_path_factory.mktemp("report") / "a.pdf"
    write_report(path, *logger, "2026-03-02", PRESETS["repairer"])
    return path, sound_pdf(path)


@pytest.mark.parametrize("preset", PRESETS)
def test_a_report_is_one_sound_file_that_fetches_nothing(logger, preset):
    html = report_html(*logger, "2026-03-02", PRESETS[preset])
    page = sound_html(html)
    assert all(link.startswith(("data:", "#")) for link in page.links)
    assert not re.search(r"https?://(?!www\.w3\.org/)", html)
    headings = re.findall(r"<h2>(.*?)</h2>", html)
    assert headings == [SECTIONS[s] for s in PRESETS[preset].sections if SECTIONS[s] in headings]
    assert len(headings) >= 6
    assert "2026-03-02" in html
    shown = page.tags.count("img")
    assert shown == (len(logger[0].photos) + 1 if "steps" in PRESETS[preset].sections else 1)


def test_each_reader_gets_what_they_asked_for(logger):
    study = logger[0]
    html = {preset: report_html(*logger, "", PRESETS[preset]) for preset in ("repairer", "designer", "judge")}
    assert "What would make it easier" in html["designer"]
    assert "without Lid screws" in html["designer"]
    for scheme in SCHEMES.values():
        assert f"<h3>{scheme.name}</h3>" in html["judge"]
    for count in counting(study):
        assert study.name(count.part) in html["repairer"]
    for id in study.steps:
        text = step_text(study, id)
        assert (text[:1].upper() + text[1:]).replace("&", "&amp;") in html["repairer"]
    back = report_html(put_back.study(), chosen=choice("repairer"))
    assert "Case closed" in back or "Open now" in back


def test_a_choice_is_checked():
    assert choice("judge", "steps, short", paper="LETTER").sections == ("short", "steps")
    for wrong in (("cook",), ("judge", "soup"), ("judge", "", "no school"), ("judge", "", "", "A5")):
        with pytest.raises(FileError, match="there are"):
            choice(*wrong)


@pytest.mark.parametrize("words", [EVIL, "<b>", "&amp;", "a\u202eb", "{{ 7*7 }}"])
def test_what_was_typed_is_shown_not_run(words):
    things = [
        Part("P1", words, priority=True, note=words), Joint("J1", "screw", words, holds=("P1",), place=words),
        Step("S1", words, said=words, releases=("J1",), takes_out=("P1",), tool=words, cautions=(words,), doubt=words),
        Finding("N1", "arrival", words), Finding("N2", "note", words),
    ]  # fmt: skip
    study = put_all(attrs.evolve(Study(), device=Device(words, maker=words, arrived=words)), things)
    html = report_html(study, chosen=choice("everything", "", "", "", said=True))
    sound_html(html)
    assert "<script>" not in html
    assert html.count("</style>") == 1
    assert ">49<" not in html


@given(st.integers(0, 5000))
@settings(max_examples=8, deadline=None)
def test_random_studies_have_sound_reports(seed):
    sound_html(report_html(random_study(seed, steps=6)))


def test_an_empty_study_has_a_report_too():
    html = report_html(attrs.evolve(Study(), device=Device("A & B")))
    sound_html(html)
    assert "A &amp; B" in html


def test_the_report_follows_an_edit(logger):
    assert "Cell glue strip" in report_html(change(logger[0], "J20", name="Cell glue strip"))


def test_a_pdf_is_tagged_and_its_contents_tell_the_pages(repairer):
    path, pages = repairer
    first = " ".join(pages[0].split())
    for section in PRESETS["repairer"].sections:
        told = re.search(rf"{re.escape(SECTIONS[section])}[ .]+(\d+)", first)
        if told:
            assert SECTIONS[section] in pages[int(told[1]) - 1]
    assert first.count(" . . ") > 20
    for n, text in enumerate(pages, 1):
        assert f"{n} of {len(pages)}" in text
        assert n == 1 or "Tide logger" in text  # the running head
    titles = [b.get_title() for b in pypdfium2.PdfDocument(path).get_toc()]
    assert "Steps" in titles
    assert "Routes to the priority parts" in titles
    assert path.stat().st_size < 6e6


def test_no_heading_ends_a_page_and_no_photo_leaves_its_caption(repairer, logger):
    pages = repairer[1]
    heads = {*SECTIONS.values(), *(logger[0].name(p) for p in logger[0].parts)}
    for text in pages:
        lines = [line.strip() for line in text.splitlines() if line.strip()]
        body = [line for line in lines if not re.fullmatch(r"\d+ of \d+", line) and line not in ("Tide logger",)]
        assert body[-1] not in heads
    captions = [p.caption for p in logger[0].photos.values()]
    assert all(any(caption in " ".join(text.split()) for text in pages) for caption in captions)


def test_screws_are_drawn_at_true_scale_on_paper(tmp_path):
    """Measured on the rendered page: the length from under the head to the tip, and the width of the head."""
    joint = Joint("J1", "screw", drive="hexalobular", size="T20", thread="M5", length_mm=30.0, head="pan", head_mm=9.5)
    svg = screw_svg(joint)
    write_pdf(tmp_path / "a.pdf", f'<html lang="en"><title>t</title><style>@page {{ size: A5 }}</style>{svg}</html>')
    page = pypdfium2.PdfDocument(tmp_path / "a.pdf")[0]
    grey = np.asarray(page.render(scale=20 * 25.4 / 72).to_pil().convert("L"))
    dark = np.argwhere(grey < 245)
    top, bottom = dark[:, 0].min() / 20, dark[:, 0].max() / 20
    head = 9.5 * 0.42
    assert bottom - top == pytest.approx(30 + head, abs=0.3)
    left, right = dark[:, 1].min() / 20, dark[:, 1].max() / 20
    assert right - left == pytest.approx(2 * 9.5 + 1.2, abs=0.3)


def test_a_report_that_is_stopped_leaves_what_was_there(logger, tmp_path):
    path = tmp_path / "a.pdf"
    path.write_bytes(b"before")

    def stop(what, _share):
        if what == "page 3":
            raise FileError("stopped")

    with pytest.raises(FileError, match="stopped"):
        write_report(path, *logger, "", PRESETS["judge"], stop)
    assert path.read_bytes() == b"before"
    assert list(tmp_path.iterdir()) == [path]
    seen = []
    write_report(tmp_path / "b.html", *logger, "", PRESETS["judge"], lambda what, share: seen.append(share))
    assert seen == sorted(seen)
    assert seen[-1] == 1


def test_a_photo_that_cannot_be_read_is_said(logger):
    html = report_html(logger[0], lambda _: b"\xff\xd8\xff", "", PRESETS["repairer"])
    sound_html(html)
    assert html.count("This photo cannot be read.") == len(logger[0].photos)


def test_masses_and_counts_are_told_whole():
    many = [Part(f"P{n}", f"Piece {n}", mass_g=2345.0 if n == 1 else None) for n in range(1, 451)]
    steps = [Step("S1", "lift", takes_out=tuple(p.id for p in many))]
    html = report_html(put_all(Study(), [*many, *steps]), chosen=choice("designer", "depth, parts"))
    assert "2345 g" in html
    assert "e+0" not in html
    assert "and 50 more" in html


def test_in_short_says_only_what_every_reading_bears_out(logger):
    found = in_short(logger[0])
    assert "Every priority part is free within five steps." not in found.good
    assert "Nothing is soldered on the way to a priority part." in found.good
    assert found.change.startswith("Without Lid screws: ")
    assert in_short(Study(), with_change=False).good == ()


# -- instructions ------------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def job(logger):
    study = logger[0]
    battery = next(p.id for p in study.parts.values() if p.name == "Battery")
    return repair_job(study, [battery])


def test_instructions_tell_out_and_back_in_every_form(logger, job, tmp_path):
    study, picture = logger
    for ending in ("html", "md", "pdf"):
        write_instructions(tmp_path / f"a.{ending}", study, job, picture)
    html = (tmp_path / "a.html").read_text(encoding="utf-8")
    page = sound_html(html)
    photos = [p for p in study.photos.values() if p.step in job.route.steps]
    assert page.tags.count("img") == len(photos)
    steps = html.count('class="no"')
    assert steps == len(job.route.steps) + len(job.back.steps)
    text = (tmp_path / "a.md").read_text(encoding="utf-8")
    made = MarkdownIt().render(text)
    assert len(re.findall(r"^\d+\. ", text, re.MULTILINE)) == steps
    linked = re.findall(r'src="([^"]+)"', made)
    assert len(linked) == len(photos)
    assert all((tmp_path / link.replace("%20", " ")).is_file() for link in linked)
    pages = sound_pdf(tmp_path / "a.pdf")
    assert len(pages) <= 6
    whole = " ".join(" ".join(pages).split())
    for words in ("Replace Battery", "You need", "Not to be used again: Battery glue", "Before it is handed over"):
        assert words in whole
    for check in job.checks:
        assert check.what in whole


def test_markup_in_names_stays_words_in_markdown(tmp_path):
    name = "*Lid* [x](http://a) <b> # 1"
    things = [Part("P1", name, priority=True), Joint("J1", "clip", holds=("P1",))]
    study = put_all(Study(), [*things, Step("S1", "unclip", releases=("J1",), takes_out=("P1",))])
    write_instructions(tmp_path / "a.md", study, repair_job(study, ["P1"]))
    made = MarkdownIt().render((tmp_path / "a.md").read_text(encoding="utf-8"))
    assert "<em>" not in made
    assert "<a " not in made
    assert "<b>" not in made
    with pytest.raises(FileError, match="none of"):
        write_instructions(tmp_path / "a.doc", study, repair_job(study, ["P1"]))


def test_a_light_copy_is_the_same_study_with_photos_for_paper(logger, tmp_path):
    study, picture = logger
    large = BytesIO()
    noise = np.random.default_rng(3).integers(0, 255, (1500, 2400, 3), dtype=np.uint8)
    exif = Image.Exif()
    exif[0x0112] = 6
    Image.fromarray(noise).save(large, "JPEG", quality=90, exif=exif)
    first = next(iter(study.photos.values()))
    asked = []

    def held(digest):
        asked.append(digest)
        return large.getvalue() if digest == first.sha256 else picture(digest)

    for _ in range(2):
        light_copy(tmp_path / "a.oddbolt", study, held, tmp_path / "kept")
    assert asked.count(first.sha256) == 1, "what was made small is kept"
    store, again = Store.open(tmp_path / "a.oddbolt", read_only=True)
    with store:
        assert Image.open(BytesIO(store.picture(again.photos[first.id].sha256))).size == (1000, 1600)
        assert all(store.picture(photo.sha256) for photo in again.photos.values())
    assert again.steps == study.steps
    assert {p.id: p.caption for p in again.photos.values()} == {p.id: p.caption for p in study.photos.values()}
    with pytest.raises(FileError, match="stopped"):
        light_copy(tmp_path / "b.oddbolt", study, held, tmp_path / "kept", lambda: True)
    assert not (tmp_path / "b.oddbolt").exists()
