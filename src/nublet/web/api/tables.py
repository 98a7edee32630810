"""Tables that change their room: as migrations say it, and as a release does before its migrations are read."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.db import connection, migrations, transaction
from django.db.backends.base.schema import BaseDatabaseSchemaEditor


# The rooms of the first twelve issues: their tables and histories go by other names now. A history is read before any
# migration is carried out, so it is renamed before that.
@dataclass(frozen=True, kw_only=True)
class _Room:
    """A room's name once and now, its tables without it, and the migrations that it had."""

    was: str
    now: str
    tables: tuple[str, ...]
    history: tuple[str, ...]


_RENAMED = (
    _Room(
        was="bench",
        now="readings",
        tables=("reading", "readingentry"),
        history=("0001_initial", "0002_started"),
    ),
    _Room(
        was="days",
        now="bench",
        tables=(
            "shopbench", "hands", "instrumentaddress", "benchplan", "plannedoperation", "mix", "pour", "panelwork", "workentry",
        ),
        history=("0001_bench_days", "0002_plans_wait", "0003_cups"),
    ),
)  # fmt: skip
_MOVED_TASKS = {
    "nublet.web.days.planner.make_plan": "nublet.web.bench.planner.make_plan",
    "nublet.web.days.sheets.": "nublet.web.bench.sheets.",
    "nublet.web.trials.sheet_tasks.": "nublet.web.designs.sheet_tasks.",
}


def move_table(before: str, after: str) -> migrations.RunPython:
    """The operation that gives a table another name; done twice, after a kill, it does nothing the second time."""

    def forward(_apps: Any, editor: BaseDatabaseSchemaEditor) -> None:
        _rename(editor, {before: after})

    def back(_apps: Any, editor: BaseDatabaseSchemaEditor) -> None:
        _rename(editor, {after: before})

    return migrations.RunPython(forward, back)


def rename_rooms() -> None:
    """Bring tables, histories, content types and waiting tasks of earlier releases to the rooms' names of today.

    Broken off, it goes on where it was. On an empty database, and on one of today, it does nothing.
    """
    known = set(connection.introspection.table_names())
    if "django_migrations" not in known:
        return
    with connection.schema_editor() as editor:
        for room in _RENAMED:
            _rename(editor, {f"{room.was}_{table}": f"{room.now}_{table}" for table in room.tables})
    with transaction.atomic(), connection.cursor() as cursor:
        for room in _RENAMED:
            for name in room.history:
                cursor.execute(
                    "UPDATE django_migrations SET app = %s WHERE app = %s AND name = %s",
                    [room.now, room.was, name],
                )
            if "django_content_type" in known:
                for table in room.tables:
                    cursor.execute(
                        "UPDATE IGNORE django_content_type SET app_label = %s WHERE app_label = %s AND model = %s",
                        [room.now, room.was, table],
                    )
        if "django_tasks_database_dbtaskresult" in known:
            for before, after in _MOVED_TASKS.items():
                cursor.execute(
                    "UPDATE django_tasks_database_dbtaskresult SET task_path = REPLACE(task_path, %s, %s)",
                    [before, after],
                )


def _rename(editor: BaseDatabaseSchemaEditor, names: Mapping[str, str]) -> None:
    known = set(connection.introspection.table_names())
    for before, after in names.items():
        if before in known and after not in known:
            editor.execute(f"RENAME TABLE `{before}` TO `{after}`")
