"""Walls that the import linter does not see: circles of files, and names that reach up across tables."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

import django
import pytest
from django.apps import apps

SRC = Path(__file__).parents[1] / "src"
# Lowest first: the order of the linter's contract.
ROOMS = [
    "people", "jobs", "shelf", "trials", "build_ups", "designs", "bench", "readings", "evidence", "outlook", "stages",
]  # fmt: skip


def modules() -> dict[str, Path]:
    """Every file of ours by its module's name."""
    return {
        ".".join(path.relative_to(SRC).with_suffix("").parts).removesuffix(".__init__"): path
        for path in SRC.rglob("*.py")
        if "migrations" not in path.parts
    }


def imports(path: Path, known: set[str]) -> Iterator[str]:
    """The files that a file imports, wherever in it: what is put into a function to hide a circle is found too."""
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            yield from (name.name for name in node.names if name.name in known)
        elif isinstance(node, ast.ImportFrom) and node.module is not None:
            inner = [f"{node.module}.{name.name}" for name in node.names]
            files = [name for name in inner if name in known]
            yield from files
            if len(files) < len(inner) and node.module in known:
                yield node.module


def test_no_circle_of_files() -> None:
    known = modules()
    graph = {name: set(imports(path, set(known))) - {name} for name, path in known.items()}
    assert sum(map(len, graph.values())) > 500
    try:
        TopologicalSorter(graph).prepare()
    except CycleError as error:
        pytest.fail(f"a circle: {' ← '.join(error.args[1])}")


def test_the_test_of_circles_finds_one(tmp_path: Path) -> None:
    (tmp_path / "a.py").write_text("def f():\n    from b import g\n")
    assert list(imports(tmp_path / "a.py", {"a", "b"})) == ["b"]


def names_from_above() -> dict[str, tuple[str, str]]:
    """Names by which a table reaches one that refers to it from a higher room: the room below, and the one above."""
    django.setup()
    found = {}
    for model in apps.get_models():
        for field in model._meta.get_fields():
            if not (field.is_relation and field.auto_created and not field.concrete):
                continue
            below, above = model._meta.app_label, field.related_model._meta.app_label  # type: ignore[union-attr]
            if below in ROOMS and above in ROOMS and ROOMS.index(above) > ROOMS.index(below):
                found[field.name] = (below, above)
                accessor = field.get_accessor_name()  # type: ignore[union-attr]
                if accessor:
                    found[accessor] = (below, above)
    return found


def words(path: Path) -> Iterator[tuple[int, str]]:
    """Attributes, keywords and the parts of lookups in a file, with their lines."""
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Attribute):
            yield node.lineno, node.attr
        elif isinstance(node, ast.keyword) and node.arg is not None:
            yield from ((node.value.lineno, part) for part in node.arg.split("__"))
        elif isinstance(node, ast.Call):
            texts = (each.value for each in node.args if isinstance(each, ast.Constant))
            yield from (
                (node.lineno, part) for text in texts if isinstance(text, str) for part in text.split("__")
            )


def test_no_room_reaches_up_by_a_reverse_name() -> None:
    """``trial.panels`` is a query of the room that has panels: rooms below it know neither the table nor the name."""
    above = names_from_above()
    assert above["panels"][1] == "designs"
    reaching = [
        f"{path.relative_to(SRC)}:{line} {word}"
        for room in ROOMS
        for path in (SRC / "nublet" / "web" / room).rglob("*.py")
        if "migrations" not in path.parts
        for line, word in words(path)
        if word in above and ROOMS.index(above[word][1]) > ROOMS.index(room)
    ]
    assert not reaching, "\n".join(reaching)


def long_functions(tree: ast.Module, lines: list[str]) -> Iterator[tuple[str, int]]:
    """Functions with their lines of code: without blank lines, comments and docstring."""
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            own = [line for line in lines[node.lineno - 1 : node.end_lineno] if line.strip()]
            code = [line for line in own if not line.strip().startswith("#")]
            says = (ast.get_docstring(node, clean=False) or "").splitlines()
            yield node.name, len(code) - sum(bool(line.strip()) for line in says)


def test_a_file_tells_one_story_and_a_function_fits_on_a_screen() -> None:
    too_long = []
    for name, path in modules().items():
        lines = path.read_text().splitlines()
        if len(lines) > 400:
            too_long.append(f"{name}: {len(lines)} lines")
        too_long += [
            f"{name}.{function}: {n} lines"
            for function, n in long_functions(ast.parse(path.read_text()), lines)
            if n > 60
        ]
    assert not too_long, "\n".join(too_long)
