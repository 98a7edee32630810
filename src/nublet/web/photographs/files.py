"""Where photographs lie: outside the web root, each under the digest of its own content, so that none is ever written over."""

from __future__ import annotations

import hashlib
import os
import tempfile
from pathlib import Path
from typing import Literal

from django.conf import settings

from nublet.formats.photographs import SIDES_PX, PreparedPhotograph

Size = Literal["full", "view", "thumb"]


def file_of(sha256: str, size: str) -> Path:
    """The file of one size of a photograph.

    Parameters
    ----------
    sha256 : str
        64 hexadecimal digits.
    size : str
        One of :data:`nublet.formats.photographs.SIDES_PX`.
    """
    if size not in SIDES_PX or len(sha256) != 64 or not set(sha256) <= set("0123456789abcdef"):
        raise ValueError(f"{sha256!r} in {size!r} is no photograph")
    return Path(settings.PHOTOGRAPHS) / sha256[:2] / f"{sha256}.{size}.jpg"


def keep_files(prepared: PreparedPhotograph) -> str:
    """Write the files of a photograph, the whole of each or nothing, and give their digest.

    They are on the disk when this comes back: the row that names them is written afterwards.
    """
    sha256 = hashlib.sha256(prepared.files["full"]).hexdigest()
    folder = file_of(sha256, "full").parent
    folder.mkdir(parents=True, exist_ok=True)
    for size, data in prepared.files.items():
        target = file_of(sha256, size)
        if target.exists() and target.stat().st_size == len(data):
            continue
        with tempfile.NamedTemporaryFile(dir=folder, prefix=".", delete=False) as part:
            part.write(data)
            part.flush()
            os.fsync(part.fileno())
        os.replace(part.name, target)  # noqa: PTH105 - the one call that is atomic
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
    return sha256
