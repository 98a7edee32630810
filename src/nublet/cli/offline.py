"""What the commands that need neither server nor database share: reading a file, printing an answer, refusing."""

from __future__ import annotations

import json
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

from nublet.core.errors import NubletError

Answer = TypeVar("Answer")
_LONG = 1_000_000


def answer_file(
    command: str,
    file: str,
    work: Callable[[], Answer],
    *,
    as_json: Callable[[Answer], dict[str, Any]],
    as_words: Callable[[Answer], str],
    json_wanted: bool,
    rc: Callable[[Answer], int] = lambda _: 0,
) -> int:
    """Work on a file and print the answer.

    Returns
    -------
    int
        What ``rc`` makes of the answer when it worked, by default 0; 2, with the reason on standard error, when the
        file or what it asks cannot be used.
    """
    try:
        answer = work()
    except NubletError as error:
        return refuse(command, f"{file}: {error.message}")
    except OSError as error:
        return refuse(command, f"{file} cannot be opened: {error.strerror}.")
    except UnicodeDecodeError:
        return refuse(command, f"{file} is not UTF-8 text. Save it as UTF-8.")
    print_text(_json_text(as_json(answer)) if json_wanted else as_words(answer))
    return rc(answer)


def print_text(text: str) -> None:
    """Print an answer, to a reader that may have seen enough before its end."""
    try:
        print(text)
        sys.stdout.flush()
    except BrokenPipeError:
        # The reader (head, less) has seen enough; stop Python from complaining once more at exit.
        sys.stderr.close()


def print_json(answer: dict[str, Any]) -> None:
    """Print it, as :func:`answer_file` does."""
    print_text(_json_text(answer))


def _json_text(answer: dict[str, Any]) -> str:
    """JSON, indented unless it is so long that nobody reads it: indenting takes several times as long."""
    text = json.dumps(answer, allow_nan=False, ensure_ascii=False)
    if len(text) > _LONG:
        return text
    return json.dumps(answer, indent=1, allow_nan=False, ensure_ascii=False)


def read_text(name: str) -> str:
    """What a file holds as UTF-8; ``-`` is standard input."""
    if name == "-":
        return sys.stdin.buffer.read().decode("utf-8-sig")
    return Path(name).read_text(encoding="utf-8-sig")


def refuse(command: str, says: str) -> int:
    """Say on standard error why not; the exit code of what cannot be used."""
    print(f"nublet {command}: {says}", file=sys.stderr)
    return 2
