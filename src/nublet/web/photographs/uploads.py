"""How much of a file is taken in: one that is too large is refused before anything of it is kept."""

from __future__ import annotations

from typing import Any

from django.core.files.uploadhandler import FileUploadHandler

from nublet.core.errors import PhotographError
from nublet.formats.photographs import MOST_BYTES

# Beside the file: its fields and the lines between them.
_BESIDE = 64 * 1024
_BLOCK = 64 * 1024


class BoundedUploads(FileUploadHandler):
    """Stands before the handlers that keep what comes in; nothing else is uploaded than photographs."""

    def handle_raw_input(self, input_data: Any, META: Any, content_length: int, *_: Any, **__: Any) -> None:  # noqa: ARG002, N803
        """Refuse what says that it is too large. It is read and forgotten first, so that the browser hears the reason."""
        if content_length <= MOST_BYTES + _BESIDE:
            return
        left = min(content_length, 8 * MOST_BYTES)
        while left > 0 and (block := input_data.read(min(_BLOCK, left))):
            left -= len(block)
        raise PhotographError(
            f"The file has {content_length / 1e6:.0f} MB; a photograph may have {MOST_BYTES / 1e6:.0f}. Save it smaller.",
            field="file",
        )

    def receive_data_chunk(self, raw_data: bytes, start: int) -> bytes:  # noqa: ARG002
        """On to the next handler."""
        return raw_data

    def file_complete(self, file_size: int) -> None:
        """The next handler has it."""
