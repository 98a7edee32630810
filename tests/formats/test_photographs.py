"""What is taken in as a photograph, what becomes of it, and what is refused."""

from __future__ import annotations

import io
import json
import struct
import subprocess
import sys
import zipfile
import zlib
from typing import Any

import numpy as np
import pytest
from PIL import Image, ImageCms, ImageFile
from PIL.PngImagePlugin import PngInfo

from nublet.core.errors import PhotographError
from nublet.formats.photographs import MOST_BYTES, MOST_PIXELS, SIDES_PX, prepare_photograph


def picture(width: int = 400, height: int = 300, mode: str = "RGB") -> Image.Image:
    """Red at the left, blue at the right, dark at the bottom."""
    across = np.linspace(255, 0, width)[None, :].repeat(height, 0)
    down = np.linspace(1, 0.2, height)[:, None]
    pixels = np.stack([across * down, np.full((height, width), 20.0), across[:, ::-1] * down], axis=-1)
    return Image.fromarray(pixels.astype(np.uint8), "RGB").convert(mode)


def saved(image: Image.Image, kind: str = "JPEG", **options: Any) -> bytes:
    out = io.BytesIO()
    image.save(out, kind, **options)
    return out.getvalue()


def corner(data: bytes, x: float, y: float) -> tuple[int, ...]:
    image = Image.open(io.BytesIO(data))
    found = image.getpixel((int(x * (image.width - 1)), int(y * (image.height - 1))))
    assert isinstance(found, tuple)
    return found


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP", "HEIF"])
def test_each_kind_becomes_three_jpegs_of_its_pixels(kind: str) -> None:
    if kind == "HEIF":
        import pillow_heif

        pillow_heif.register_heif_opener(thumbnails=False)
    found = prepare_photograph(saved(picture(2000, 1500), kind))
    assert (found.width_px, found.height_px) == (2000, 1500)
    sizes = {name: Image.open(io.BytesIO(data)).size for name, data in found.files.items()}
    assert sizes == {"full": (2000, 1500), "view": (1600, 1200), "thumb": (320, 240)}
    red, _, blue = corner(found.files["full"], 0.02, 0.02)
    assert red > 200 > 60 > blue


@pytest.mark.parametrize(
    ("turn", "is_upright", "red_at"),
    [(1, True, (0.02, 0.02)), (3, True, (0.98, 0.98)), (6, False, (0.98, 0.02)), (8, False, (0.02, 0.98))],
)
def test_it_is_turned_upright(turn: int, is_upright: bool, red_at: tuple[float, float]) -> None:
    exif = Image.Exif()
    exif[0x0112] = turn
    found = prepare_photograph(saved(picture(), exif=exif))
    assert (found.width_px > found.height_px) == is_upright
    red, _, blue = corner(found.files["full"], *red_at)
    assert red > 200 > 60 > blue


def test_place_camera_and_comments_are_gone() -> None:
    exif = Image.Exif()
    exif[0x010F], exif[0x0110], exif[0x0132] = "Maker of cameras", "Camera 7", "2026:11:30 09:00:00"
    exif.get_ifd(0x8825)[2] = (54.0, 27.0, 11.0)
    info = PngInfo()
    info.add_text("Comment", "taken at the yard")
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    for data in (
        saved(picture(), exif=exif, comment=b"taken at the yard", icc_profile=profile),
        saved(picture(), "PNG", pnginfo=info, exif=exif),
        saved(picture(), "WEBP", exif=exif, icc_profile=profile),
    ):
        assert b"Camera 7" in data
        for kept in prepare_photograph(data).files.values():
            image = Image.open(io.BytesIO(kept))
            assert dict(image.getexif()) == {}
            assert set(image.info) <= {
                "jfif",
                "jfif_version",
                "jfif_unit",
                "jfif_density",
                "progressive",
                "progression",
            }
            assert not [word for word in (b"Camera", b"Maker", b"yard", b"Exif", b"ICC") if word in kept]


def test_pixels_of_every_mode_stand_on_white() -> None:
    clear = picture(mode="RGBA")
    clear.putalpha(0)
    for image, wanted in (
        (clear, 255),
        (Image.new("L", (40, 40), 77), 77),
        (Image.new("1", (40, 40), 1), 255),
        (Image.new("I;16", (40, 40), 77 * 256), 77),
        (Image.new("RGB", (40, 40), (77, 77, 77)).quantize(4), 77),
        (Image.new("LA", (40, 40), (77, 255)), 77),
    ):
        kept = prepare_photograph(saved(image, "PNG")).files["full"]
        assert corner(kept, 0.5, 0.5) == pytest.approx((wanted,) * 3, abs=3)
    assert corner(prepare_photograph(saved(Image.new("CMYK", (40, 40)))).files["full"], 0.5, 0.5)[0] > 240


def test_a_colour_profile_is_applied() -> None:
    srgb = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    same = prepare_photograph(saved(picture(), icc_profile=srgb)).files["full"]
    assert corner(same, 0.5, 0.1) == pytest.approx(corner(saved(picture()), 0.5, 0.1), abs=6)
    broken = prepare_photograph(saved(picture(), icc_profile=b"no profile at all" * 20)).files["full"]
    assert corner(broken, 0.5, 0.1) == pytest.approx(corner(saved(picture()), 0.5, 0.1), abs=6)


def test_taking_in_what_was_taken_in_changes_no_size() -> None:
    once = prepare_photograph(saved(picture(5000, 3000)))
    assert max(once.width_px, once.height_px) == SIDES_PX["full"]
    twice = prepare_photograph(once.files["full"])
    assert (twice.width_px, twice.height_px) == (once.width_px, once.height_px)


def packed_png(width: int, height: int) -> bytes:
    """A white PNG of one bit a pixel, packed row by row: some hundred kilobytes for any size."""

    def chunk(name: bytes, content: bytes) -> bytes:
        return (
            struct.pack(">I", len(content)) + name + content + struct.pack(">I", zlib.crc32(name + content))
        )

    packer, row = zlib.compressobj(9), b"\x00" + b"\xff" * (width // 8)
    pixels = b"".join(packer.compress(row) for _ in range(height)) + packer.flush()
    head = struct.pack(">IIBBBBB", width, height, 1, 0, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", pixels) + chunk(b"IEND", b"")


def zipped() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("run.txt", "anything")
    return out.getvalue()


def with_text(text: str) -> PngInfo:
    info = PngInfo()
    info.add_text("Comment", text)
    return info


BAD: dict[str, tuple[bytes, str]] = {
    "empty": (b"", "empty"),
    "text": (b"grade,panel\n4,K7\n" * 50, "no photograph that can be read"),
    "a page": (b"<html><script>alert(1)</script>", "no photograph that can be read"),
    "a GIF": (saved(picture(), "GIF"), "no photograph that can be read"),
    "a TIFF": (saved(picture(), "TIFF"), "no photograph that can be read"),
    "a drawing": (b'<svg xmlns="http://www.w3.org/2000/svg"/>', "no photograph that can be read"),
    "200 million pixels": (packed_png(20_000, 10_000), "50 million pixels"),
    "70 million pixels": (packed_png(10_000, 7_000), "50 million pixels"),
    "60 MB": (saved(picture()) + b"\x00" * 60_000_000, "60 MB"),
    "half": (saved(picture(2000, 1500))[:20_000], "damaged"),
    "half a PNG": (saved(picture(), "PNG")[:2000], "damaged"),
    "half a WebP": (saved(picture(), "WEBP", lossless=True)[:900], "damaged|no photograph"),
    "an archive behind it": (saved(picture()) + zipped(), "an archive"),
    "an archive behind a PNG": (saved(picture(), "PNG") + zipped(), "an archive"),
    "a page behind it": (saved(picture()) + b"<HTML><script>x</script>", "something else"),
    "a page in its comment": (saved(picture(), comment=b"<script>x</script>"), "something else"),
    "a page in a PNG's text": (saved(picture(), "PNG", pnginfo=with_text("<!DOCTYPE html>")), "something else"),
    "a program behind it": (saved(picture(), "WEBP") + b"MZ\x90 a program", "behind its end"),
    "a document behind it": (saved(picture(), "PNG") + b"%PDF-1.7", "something else"),
    "a speck": (saved(picture(4, 4)), "nothing can be seen"),
}  # fmt: skip


@pytest.mark.parametrize("makes_do", [False, True], ids=["", "elsewhere half a picture will do"])
@pytest.mark.parametrize("name", BAD)
def test_bad_files_are_refused_with_the_reason(name: str, makes_do: bool, monkeypatch: Any) -> None:
    monkeypatch.setattr(ImageFile, "LOAD_TRUNCATED_IMAGES", makes_do)
    data, says = BAD[name]
    with pytest.raises(PhotographError, match=says) as caught:
        prepare_photograph(data)
    assert caught.value.field == "file"
    assert makes_do == ImageFile.LOAD_TRUNCATED_IMAGES


def test_what_phones_put_behind_a_picture_is_no_reason_to_refuse_it() -> None:
    other = saved(picture(64, 48))
    for behind in (
        other,
        b"\x00\x00\x00\x18ftypmp42" + b"\x00" * 200,
        b"\x00" * 40,
        b"\r\n",
        b"\x01\x0a\x0e notes of a maker",
    ):
        for whole in (
            saved(picture()),
            saved(picture(), progressive=True),
            saved(picture(), restart_marker_rows=1),
        ):
            assert prepare_photograph(whole + behind).width_px == 400
            # And what does not belong there is found behind each of them.
            with pytest.raises(PhotographError, match="behind its end"):
                prepare_photograph(whole + b"\x7fELF" + behind)


def test_every_cut_of_a_file_is_refused_or_read_and_nothing_else() -> None:
    """Whatever is broken off or overwritten, there is one kind of error."""
    rng = np.random.default_rng(7)
    whole = [saved(picture(90, 60), kind) for kind in ("JPEG", "PNG", "WEBP")]
    for data in whole:
        for _ in range(60):
            broken = bytearray(data[: rng.integers(1, len(data) + 1)])
            for at in rng.integers(0, len(broken), 4):
                broken[at] = rng.integers(0, 256)
            try:
                assert prepare_photograph(bytes(broken)).files
            except PhotographError:
                continue


MEASURE = """
import json, re, sys
from nublet.core.errors import PhotographError
from nublet.formats.photographs import prepare_photograph
from PIL import Image, ImageCms
def peak_kb():
    # Of this program alone; what getrusage tells begins with the peak of whoever started it.
    return int(re.search(r"VmHWM:\\s+(\\d+)", open("/proc/self/status").read())[1])
data = open(sys.argv[1], "rb").read()
before = peak_kb()
try:
    prepare_photograph(data)
    says = "taken"
except PhotographError as error:
    says = str(error)
print(json.dumps({"mb": (peak_kb() - before) / 1024, "says": says}))
"""


@pytest.mark.parametrize(
    ("make", "says", "most_mb"),
    [
        (lambda: packed_png(20_000, 10_000), "50 million", 30),
        # The largest that is taken, in its dearest form: every pixel with its own clearness, and a JPEG in several passes.
        (lambda: saved(Image.new("RGBA", (8000, 6250), (9, 9, 9, 9)), "PNG", compress_level=1), "taken", 700),
        (lambda: saved(Image.new("RGB", (8000, 6250), (9, 9, 9)), progressive=True, subsampling=0), "taken", 700),
    ],
    ids=["200 million pixels", "the largest PNG", "the largest JPEG"],
)  # fmt: skip
def test_the_memory_of_one_photograph_is_bounded(tmp_path: Any, make: Any, says: str, most_mb: float) -> None:
    assert MOST_PIXELS == 8000 * 6250
    file = tmp_path / "photograph"
    file.write_bytes(make())
    assert file.stat().st_size <= MOST_BYTES
    ran = subprocess.run(
        [sys.executable, "-c", MEASURE, str(file)], capture_output=True, text=True, check=False
    )
    assert ran.returncode == 0, ran.stderr
    found = json.loads(ran.stdout)
    assert says in found["says"]
    assert found["mb"] < most_mb
