"""Who changed what: every change of an object is declared here, and written down by :func:`record` in its own transaction."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Protocol

from nublet.web.people.models import AuditEntry, Person, Shop, SubjectKind


@dataclass(frozen=True, kw_only=True)
class Audited:
    """A change: what kind of thing it is done to, and what it is called."""

    subject: SubjectKind
    says: str


def _on(subject: SubjectKind, **says: str) -> dict[str, Audited]:
    return {action: Audited(subject=subject, says=words) for action, words in says.items()}


_SHELF = {
    "product": SubjectKind.PRODUCT,
    "wood": SubjectKind.WOOD,
    "agent": SubjectKind.AGENT,
    "use": SubjectKind.USE,
    "protocol": SubjectKind.PROTOCOL,
}

AUDITED: Mapping[str, Audited] = {
    **_on(SubjectKind.SHOP, open_shop="opened the shop", set_bench="set up the bench"),
    **_on(
        SubjectKind.PERSON,
        add_person="added somebody",
        change_person="changed what somebody may do",
        show_practice="said whether evidence tells of own practice",
        change_own_password="took another password",  # noqa: S106 - words, no password
    ),
    **_on(
        SubjectKind.TRIAL,
        create_trial="made the trial",
        update_trial="changed the trial",
        add_build_up="added a build-up",
        add_bare_control="added a bare control",
        change_build_up="changed a build-up",
        remove_build_up="removed a build-up",
        set_sections="set what the sections carry",
        set_crossing="crossed the factors",
        draw_design="drew lots",
        compose_protocol="put the protocol together",
        discard_design="discarded the design",
        measure_board="measured a board",
        start_trial="started the trial",
        unblind="told the judges what the panels carry",
        start_unmeasured="started with boards that were not measured",
        panel_spoiled="spoiled a panel",
        panel_replaced="replaced a panel",
        board_swapped="swapped a board",
        board_added="added a board beyond the plan",
        window_missed="missed a window",
        spot_left_out="left a spot out",
        spot_repeated="repeated a test on a spare spot",
        leave_reading_out="left a reading out",
        count_reading="let a reading count again",
        withdraw_deviation="withdrew a deviation",
        noted="noted a deviation",
        ask_for_plan="asked for a plan",
        stop_plan="stopped a plan",
        empty_mix="emptied a mix",
        take_photograph="took a photograph",
        withdraw_photograph="took a photograph back",
        **{"mix": "made a mix", "pour": "poured for a test"},
    ),
    **_on(
        SubjectKind.BUILD_UP,
        make_version="made a version of a build-up",
        set_benchmark="said whether a build-up is a benchmark",
    ),
    **_on(SubjectKind.PRODUCT, keep_batch="wrote down a batch"),
    **{
        f"{verb}_{noun}": Audited(subject=kind, says=says.format(noun))
        for noun, kind in _SHELF.items()
        for verb, says in {
            "add": "put a {} on the shelf",
            "change": "changed a {}",
            "duplicate": "copied a {}",
            "archive": "took a {} off the shelf",
            "restore": "put a {} back on the shelf",
        }.items()
    },
    **{
        f"import_{noun}s": Audited(subject=SubjectKind.SHOP, says=f"read {noun}s from a file")
        for noun in _SHELF
    },
}


class OfShop(Protocol):
    """A row that belongs to a shop."""

    pk: Any
    shop_id: int


def record(actor: Person | None, action: str, subject: Shop | OfShop, **details: Any) -> None:
    """Write one audit entry; call it inside the change's transaction.

    Parameters
    ----------
    actor : Person or None
        ``None`` for what the application did by itself.
    action : str
        One of :data:`AUDITED`.
    subject : Shop or OfShop
        The object that was changed, of the declared kind: a row with a shop, or a shop.

    Raises
    ------
    KeyError
        If the change is not declared.
    """
    shop_id = subject.pk if isinstance(subject, Shop) else subject.shop_id
    AuditEntry.objects.create(
        shop_id=shop_id,
        person=actor,
        action=action,
        subject_kind=AUDITED[action].subject,
        subject_id=subject.pk,
        details=details,
    )
