"""Reading the audit record."""

from __future__ import annotations

from dataclasses import dataclass

from nublet.web.people.audit import AUDITED
from nublet.web.people.models import AuditEntry, Person
from nublet.web.people.policies import within

PAGE = 50


@dataclass(frozen=True, kw_only=True)
class AuditLine:
    """One change, and what it is called."""

    entry: AuditEntry

    @property
    def says(self) -> str:
        """What was done, in words; an action of an earlier release by its name."""
        declared = AUDITED.get(self.entry.action)
        return self.entry.action.replace("_", " ") if declared is None else declared.says


@dataclass(frozen=True, kw_only=True)
class AuditPage:
    """Some of the record, newest first. ``before`` asks for what came before it; ``None`` when there is no more."""

    lines: tuple[AuditLine, ...]
    before: int | None


def read_audit(
    person: Person, *, subject_kind: str = "", subject_id: int | None = None, before: int | None = None
) -> AuditPage:
    """What was changed in the person's shop, of one subject or all. One query.

    Raises
    ------
    PermissionDenied
        If the person does not own the shop.
    """
    rows = within(person, "see_audit", AuditEntry.objects.select_related("person")).order_by("-pk")
    if subject_kind:
        rows = rows.filter(subject_kind=subject_kind)
    if subject_id is not None:
        rows = rows.filter(subject_id=subject_id)
    if before is not None:
        rows = rows.filter(pk__lt=before)
    found = list(rows[: PAGE + 1])
    shown = found[:PAGE]
    return AuditPage(
        lines=tuple(AuditLine(entry=entry) for entry in shown),
        before=shown[-1].pk if len(found) > PAGE else None,
    )
