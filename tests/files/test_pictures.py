"""Pictures: what may be kept, how it lies, what is refused and why."""

import random
import struct
import zlib
from io import BytesIO

import pytest
from PIL import Image

from oddbolt.core.errors import FileError
from oddbolt.core.study import Photo, put
from oddbolt.core.study.photos import cut, turned
from oddbolt.demo import tide_logger
from oddbolt.files.contact_sheet import contact_sheet
from oddbolt.files.pictures import look_at, look_at_file, small
from oddbolt.instruments.camera import shoot


def encoded(kind, size=(60, 40), mode="RGB", **how):
    out = BytesIO()
    Image.new(mode, size).save(out, kind, **how)
    return out.getvalue()


def with_exif(orientation, taken):
    image = Image.new("RGB", (60, 40), "white")
    image.paste("red", (0, 0, 20, 20))
    exif = image.getexif()
    exif[0x0112] = orientation
    exif.get_ifd(0x8769)[0x9003] = taken
    out = BytesIO()
    image.save(out, "JPEG", exif=exif, quality=95)
    return out.getvalue()


def huge_png(side):
    """A PNG of few bytes that says it is side by side px."""
    head = struct.pack(">IIBBBBB", side, side, 8, 0, 0, 0, 0)
    chunks = [(b"IHDR", head), (b"IDAT", zlib.compress(bytes(1000))), (b"IEND", b"")]
    made = b"".join(struct.pack(">I", len(d)) + k + d + struct.pack(">I", zlib.crc32(k + d)) for k, d in chunks)
    return b"\x89PNG\r\n\x1a\n" + made


def frames(kind):
    out = BytesIO()
    first, *rest = (Image.new("RGB", (20, 20), c) for c in ("red", "blue", "green"))
    first.save(out, kind, save_all=True, append_images=rest)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "not a JPEG or PNG picture"),
        (b"<svg onload='x'/>", "not a JPEG or PNG picture"),
        (b"\xff\xd8\xff" + b"nonsense" * 40, "JPEG or PNG|damaged"),
        (encoded("JPEG", (900, 700))[:3000], "damaged or cut short"),
        (encoded("PNG", (900, 700))[:-30], "damaged or cut short"),
        (huge_png(60_000), "unpacks to 60000"),
        (huge_png(9_000), "unpacks to 9000"),
        (frames("PNG"), "several pictures"),
        (frames("WEBP"), "several pictures"),
        (frames("GIF"), "not a JPEG or PNG picture"),
        (b"\xff\xd8\xff" + bytes(41_000_000), "41 MB"),
    ],
)
def test_what_is_no_picture_to_keep_is_refused_by_name(data, words):
    with pytest.raises(FileError, match=words) as told:
        look_at(data, "shot 7")
    assert "shot 7" in str(told.value)


def test_any_damage_is_refused_in_a_sentence_or_harmless():
    r = random.Random(3)
    whole = encoded("PNG", (90, 70)), with_exif(6, "2026:03:01 10:00:00"), encoded("TIFF"), encoded("WEBP")
    for n in range(200):
        data = bytearray(whole[n % 4])
        for _ in range(r.randint(1, 8)):
            data[r.randrange(len(data))] = r.randrange(256)
        try:
            look_at(bytes(data), "x")
        except FileError:
            continue


@pytest.mark.parametrize("orientation", range(1, 9))
def test_a_picture_lies_as_its_camera_says(orientation):
    data = with_exif(orientation, "2026:03:01 10:20:30")
    found = look_at(data, "x")
    assert (found.width, found.height) == ((60, 40) if orientation < 5 else (40, 60))
    assert found.taken == "2026-03-01T10:20:30"
    assert found.data == data
    photo = Photo("H1", "", width=found.width, height=found.height)
    shown = Image.open(BytesIO(small(data, photo, 500)))
    assert shown.size == (found.width, found.height)
    corner = {1: (0, 0), 2: (1, 0), 3: (1, 1), 4: (0, 1), 5: (0, 0), 6: (1, 0), 7: (1, 1), 8: (0, 1)}[orientation]
    red = shown.getpixel((2 + corner[0] * (shown.width - 5), 2 + corner[1] * (shown.height - 5)))
    assert red[0] > 200 > 80 > red[1]  # the orientations of EXIF 2.3, table of tag 0112 (from memory, unverified)


@pytest.mark.parametrize(("kind", "mode"), [("TIFF", "CMYK"), ("TIFF", "I;16"), ("WEBP", "RGB"), ("BMP", "RGB")])
def test_other_still_pictures_become_png(kind, mode):
    found = look_at(encoded(kind, mode=mode), "x")
    assert Image.open(BytesIO(found.data)).format == "PNG"
    assert look_at(encoded("JPEG", mode="CMYK"), "x").width == 60
    assert look_at(encoded("PNG", mode="I;16"), "x").width == 60


def test_a_time_that_is_none_is_left_out_and_a_file_that_is_none_is_told(tmp_path):
    assert look_at(with_exif(1, "0000:00:00 00:00:00"), "x").taken == ""
    assert look_at(with_exif(1, "yesterday"), "x").taken == ""
    with pytest.raises(FileError, match="cannot be read"):
        look_at_file(tmp_path / "none.jpg")


def test_the_practice_camera_drops_pictures_under_free_names(tmp_path):
    sizes = []
    for _ in range(2):
        path = shoot(tmp_path, tide_logger.photo_bytes(1), wait=lambda _: sizes.append(1))
        assert look_at_file(path).taken.startswith("20")
    assert [p.name for p in sorted(tmp_path.iterdir())] == ["SHOT0001.JPG", "SHOT0002.JPG"]
    assert len(sizes) > 4  # they grow piece by piece
    with pytest.raises(FileError, match="cannot write"):
        shoot(tmp_path / "none", tide_logger.photo_bytes(1))


def test_the_contact_sheet_shows_every_photo_as_it_is_cut():
    study = cut(turned(tide_logger.study(), "H1", 90), "H1", (0, 0, 1, 0.5))
    data = dict(zip((p.sha256 for p in study.photos.values()), tide_logger.pictures(), strict=True))
    sheet = contact_sheet(study, data.get)
    assert sheet.count("<svg") == len(study.photos)
    assert 'viewBox="0 0 900 600"' in sheet
    missing = put(study, Photo("H99", "f" * 64, "S1", "<b>lost</b>"))
    sheet = contact_sheet(missing, data.get)
    assert "does not hold this picture" in sheet
    assert "<b>lost" not in sheet
