"""Photographs as they are taken in: checked, turned upright, freed of place and camera, and copied in three sizes.

Only pixels pass: what is written is encoded anew as JPEG in sRGB, so nothing of the file that came in is ever given out. What is
more than a picture (a page, a program or an archive in its clothes) is refused all the same, and so is what would need more memory
than a picture may.

Phones' pictures (HEIC) are read by pillow-heif, which carries its decoder with it.
"""

from __future__ import annotations

import io
import struct
import warnings
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from threading import Lock
from typing import Any

from PIL import Image, ImageCms, ImageFile, ImageOps, UnidentifiedImageError

from nublet.core.errors import PhotographError

MOST_BYTES = 25 * 1024 * 1024
# A pixel takes up to 4 bytes, and there are two copies while it is turned: this bounds what one photograph needs.
MOST_PIXELS = 50_000_000
LEAST_SIDE_PX = 16
# By the longer side: to be kept, to be looked at, to be chosen from.
SIDES_PX = {"full": 4096, "view": 1600, "thumb": 320}
_QUALITY = {"full": 90, "view": 85, "thumb": 80}
_KINDS = ("JPEG", "PNG", "WEBP", "HEIF")
_SAY_KINDS = "a JPEG, PNG, WebP or HEIC"
_OTHER_THINGS = (b"<script", b"<html", b"<!doctype", b"<svg", b"<?php", b"%pdf-", b"javascript:")
# What begins like this is a program or an archive. Behind a phone's picture stand a second one, the moment that it moves in, or
# notes of the maker's in a form of his own: these are no reason to refuse it, and are left out with all else that is no pixel.
_NO_PICTURES = (
    b"PK",
    b"MZ",
    b"\x7fELF",
    b"#!",
    b"Rar!",
    b"7z\xbc\xaf",
    b"\xca\xfe\xba\xbe",
    b"GIF8",
    b"\x1f\x8b",
)
# One picture is unpacked at a time in a process: the memory of one is the memory of all.
_ONE_AT_A_TIME = Lock()


@dataclass(frozen=True, kw_only=True)
class PreparedPhotograph:
    """A photograph as it is kept: its size upright, in pixels, and JPEG files by the names of :data:`SIDES_PX`."""

    width_px: int
    height_px: int
    files: dict[str, bytes]


def prepare_photograph(data: bytes) -> PreparedPhotograph:
    """Check a file and make what is kept of it.

    Parameters
    ----------
    data : bytes

    Raises
    ------
    PhotographError
        If it is too large, no picture of a known kind, damaged, or something else beside a picture.

    Notes
    -----
    Orientation: Exif 2.32 (JEITA CP-3451), tag 0x0112. A colour profile is applied and left out. Of what moves it is the first
    picture.
    """
    if not data:
        raise PhotographError("The file is empty. Choose the photograph again.", field="file")
    if len(data) > MOST_BYTES:
        raise PhotographError(
            f"The file has {len(data) / 1e6:.0f} MB; a photograph may have {MOST_BYTES / 1e6:.0f}. Save it smaller, or as a JPEG.",
            field="file",
        )
    with _ONE_AT_A_TIME, _to_their_end():
        image = _opened(data)
        _check_alone(data, str(image.format))
        return _written(_upright(image))


@contextmanager
def _to_their_end() -> Iterator[None]:
    """What is broken off is refused, whoever else in this process has told Pillow to make do with it (WeasyPrint does)."""
    before = ImageFile.LOAD_TRUNCATED_IMAGES
    ImageFile.LOAD_TRUNCATED_IMAGES = False
    try:
        yield
    finally:
        ImageFile.LOAD_TRUNCATED_IMAGES = before


def _opened(data: bytes) -> Image.Image:
    """The picture with its pixels still packed."""
    _know_heif()
    try:
        with warnings.catch_warnings():
            # How large it may be is judged below, before a pixel is unpacked.
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            image = Image.open(io.BytesIO(data), formats=_KINDS)
    except Image.DecompressionBombError as error:
        raise PhotographError(_TOO_LARGE, field="file") from error
    except UnidentifiedImageError as error:
        raise PhotographError(
            f"This is no photograph that can be read, whatever its name says. Choose {_SAY_KINDS} file.",
            field="file",
        ) from error
    except (OSError, ValueError, SyntaxError, struct.error, EOFError) as error:
        raise PhotographError(_DAMAGED, field="file") from error
    if image.width * image.height > MOST_PIXELS:
        raise PhotographError(_TOO_LARGE, field="file")
    if min(image.size) < LEAST_SIDE_PX:
        raise PhotographError(
            f"The picture is {image.width} × {image.height} pixels: nothing can be seen on it.", field="file"
        )
    return image


_TOO_LARGE = f"The picture has more than {MOST_PIXELS // 1_000_000} million pixels. Save it smaller: 12 million show any mark."
_DAMAGED = "The file is damaged: the picture in it cannot be read to its end. Take or save it once more."
_TWO_THINGS = (
    "The file holds something else beside a picture ({}). Save the photograph anew and choose that file."
)


def _know_heif() -> None:
    # Loaded here: what reads no photographs should not wait for it.
    import pillow_heif

    if "HEIF" not in Image.OPEN:
        pillow_heif.register_heif_opener(thumbnails=False)


def _upright(image: Image.Image) -> Image.Image:
    """The pixels, upright, in sRGB, at most as large as the largest that is kept."""
    largest = SIDES_PX["full"]
    try:
        if image.format == "JPEG":
            # A JPEG can be unpacked at a half or a quarter at once.
            image.draft("RGB", (largest, largest))
        profile = image.info.get("icc_profile")
        image.load()
        turn = image.getexif().get(0x0112, 1)
        if image.mode == "P":
            image = image.convert("RGBA" if "transparency" in image.info else "RGB")
        elif image.mode.startswith("I"):
            # 16 bits of grey.
            image = image.convert("I").point(lambda grey: grey / 256).convert("L")
        image.thumbnail((largest, largest), Image.Resampling.LANCZOS)
    except (OSError, ValueError, SyntaxError, struct.error, EOFError, MemoryError) as error:
        raise PhotographError(_DAMAGED, field="file") from error
    flat = _in_srgb(image, profile)
    flat.getexif().clear()
    if turn != 1:
        flat.getexif()[0x0112] = turn
        flat = ImageOps.exif_transpose(flat)
    return flat


def _in_srgb(image: Image.Image, profile: Any) -> Image.Image:
    if image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info:
        clear = image.convert("RGBA")
        ground = Image.new("RGB", clear.size, "white")
        ground.paste(clear, mask=clear.getchannel("A"))
        image = ground
    if profile and image.mode in ("RGB", "L", "CMYK"):
        try:
            made: Any = ImageCms.profileToProfile(
                image,
                ImageCms.ImageCmsProfile(io.BytesIO(profile)),
                ImageCms.createProfile("sRGB"),
                outputMode="RGB",
            )
            return made.convert("RGB") if made is not None else image.convert("RGB")
        except (ImageCms.PyCMSError, OSError, ValueError):
            # A profile that cannot be read: the colours stand as they are.
            pass
    return image.convert("RGB")


def _written(image: Image.Image) -> PreparedPhotograph:
    files = {}
    for name, side in SIDES_PX.items():
        copy = image.copy()
        copy.thumbnail((side, side), Image.Resampling.LANCZOS)
        out = io.BytesIO()
        # A bare picture: neither Exif nor profile nor comment comes along.
        Image.frombytes("RGB", copy.size, copy.tobytes()).save(
            out, "JPEG", quality=_QUALITY[name], optimize=True, progressive=name != "thumb"
        )
        files[name] = out.getvalue()
    return PreparedPhotograph(width_px=image.width, height_px=image.height, files=files)


def _check_alone(data: bytes, kind: str) -> None:
    """Refuse what is more than a picture. Raises ``PhotographError``."""
    try:
        beside, behind = _around_the_pixels(data, kind)
    except (struct.error, IndexError) as error:
        raise PhotographError(_DAMAGED, field="file") from error
    if zipfile.is_zipfile(io.BytesIO(data)):
        raise PhotographError(_TWO_THINGS.format("an archive"), field="file")
    small = (beside + behind[:65536]).lower()
    found = next((mark for mark in _OTHER_THINGS if mark in small), None)
    if found is not None:
        raise PhotographError(_TWO_THINGS.format(f"“{found.decode()}” is written in it"), field="file")
    if behind.lstrip(b"\x00 \r\n").startswith(_NO_PICTURES):
        raise PhotographError(_TWO_THINGS.format("a program or an archive behind its end"), field="file")


def _around_the_pixels(data: bytes, kind: str) -> tuple[bytes, bytes]:
    """What stands beside the pixels of a file, and what behind its end."""
    if kind in ("JPEG", "MPO"):
        return _around_jpeg(data)
    if kind == "PNG":
        parts = list(_png_chunks(data))
        end = parts[-1][1] if parts else len(data)
        beside = b"".join(data[start : stop - 4] for start, stop, name in parts if name not in _PIXELS)
        return beside, data[end:]
    if kind == "WEBP":
        end = 8 + struct.unpack_from("<I", data, 4)[0]
        end += end % 2
        return b"".join(_riff_chunks(data, end)), data[end:]
    return b"".join(_boxes(data)), b""


def _around_jpeg(data: bytes) -> tuple[bytes, bytes]:
    """Walk its segments (ITU-T T.81, annex B), over the pixels of each pass, to the mark of its end."""
    at = 2
    beside: list[bytes] = []
    while (mark := data.find(b"\xff", at)) >= 0 and mark + 1 < len(data):
        kind, at = data[mark + 1], mark + 2
        if kind == 0xD9:
            return b"".join(beside), data[at:]
        if kind == 0xFF:
            at -= 1
        # Within the pixels a byte that looks like a mark is followed by 0; others stand alone.
        elif kind not in _ALONE:
            length = struct.unpack_from(">H", data, at)[0]
            beside.append(data[at + 2 : at + length])
            at += length
    return b"".join(beside), b""


_ALONE = {0x00, 0x01, *range(0xD0, 0xD9)}
_PIXELS = (b"IDAT", b"fdAT")


def _png_chunks(data: bytes) -> Iterator[tuple[int, int, bytes]]:
    """Where each chunk's content begins, where the chunk ends with its check, and its name."""
    at = 8
    while at + 8 <= len(data):
        length, name = struct.unpack_from(">I4s", data, at)
        yield at + 8, at + 12 + length, name
        at += 12 + length
        if name == b"IEND":
            return


def _riff_chunks(data: bytes, end: int) -> Iterator[bytes]:
    at = 12
    while at + 8 <= min(end, len(data)):
        name, length = struct.unpack_from("<4sI", data, at)
        if name not in (b"VP8 ", b"VP8L", b"ALPH", b"ANMF"):
            yield data[at + 8 : at + 8 + length]
        at += 8 + length + length % 2


def _boxes(data: bytes) -> Iterator[bytes]:
    """What stands in the boxes of a HEIC file, its pixels left out."""
    at = 0
    while at + 8 <= len(data):
        length, name = struct.unpack_from(">I4s", data, at)
        if length < 8:
            return
        if name != b"mdat":
            yield data[at + 8 : at + length]
        at += length
