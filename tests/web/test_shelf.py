"""The shelf: the effect, the refusal, one audit entry, nothing changed on failure; files; a fixed number of queries."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import Any

import pytest
from django.core.exceptions import PermissionDenied
from rest_framework.test import APIClient

from nublet.core.errors import ShelfError
from nublet.core.materials.species import SPECIES
from nublet.core.protocols.agents import AGENTS
from nublet.formats.products_file import PRODUCT_TABLE
from nublet.web.build_ups.actions import add_build_up
from nublet.web.people.models import AuditEntry, Person
from nublet.web.shelf import actions, selectors
from nublet.web.shelf.adapters import OWN_AGENTS, PRODUCTS, WOODS, to_product
from nublet.web.shelf.models import ProductBatch, ShelfAgent, ShelfProduct, ShelfSpecies
from nublet.web.trials.models import Trial

Client = Callable[[Person | None], APIClient]
SOFT_WAX = {
    "name": "Bellwether Soft Wax",
    "maker": "Bellwether",
    "family": "wax",
    "containers": [{"amounts": [400], "price": 18}],
    "label": {"keeps_opened_d": 30, "dissolves_wax": True},
    "found": {"smell": "orange peel"},
    "sheen": "satin",
}
CORDIAL = {"name": "Buffet cordial", "group": "stain", "natures": ["acid"], "durations_min": [10, 60]}
BOG_ELM = {"name": "Bog elm", "pores": "ring-porous", "density_kg_m3": 640, "janka_n": 4000}


def audit() -> list[str]:
    return list(AuditEntry.objects.order_by("pk").values_list("action", flat=True))


@pytest.fixture
def wax(owner: Person) -> ShelfProduct:
    return actions.add_item(owner, PRODUCTS, SOFT_WAX)


def test_a_product_is_kept_whole(client_of: Client, owner: Person) -> None:
    response = client_of(owner).post("/api/shelf/products", SOFT_WAX, format="json")
    assert response.status_code == 201
    made = response.json()
    assert made["price_per_l"] == pytest.approx(45)
    assert made["product"]["label"]["keeps_opened_d"] == 30
    assert made["product"]["label"]["pot_life_min"] is None
    assert made["product"]["found"]["smell"] == "orange peel"
    assert made["product"]["parts"] == [{"name": "Finish", "share": 1.0}]
    again = client_of(owner).put(f"/api/shelf/products/{made['id']}", made["product"], format="json")
    assert again.json() == made
    assert audit()[-2:] == ["add_product", "change_product"]


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"name": ""}, "name", "Give the product a name"),
        ({"family": "paint"}, "family", "not a finish family"),
        ({"family": None}, "family", "null"),
        ({"voc_g_per_l": 9000}, "voc_g_per_l", "0 to 1500"),
        ({"label": {"cure_d": "soon"}}, "label.cure_d", "valid number"),
        ({"containers": [{"amounts": [1, 2], "price": 1}]}, "containers.0", "the product has 1 parts"),
        ({"sheen": "shiny"}, "sheen", "not a valid choice"),
    ],
)
def test_a_product_that_cannot_be_leaves_the_shelf_as_it_was(
    client_of: Client, owner: Person, wax: ShelfProduct, change: dict[str, Any], field: str, says: str
) -> None:
    before = audit()
    for method, address in (("post", "/api/shelf/products"), ("put", f"/api/shelf/products/{wax.pk}")):
        response = getattr(client_of(owner), method)(address, {**SOFT_WAX, **change}, format="json")
        assert (response.status_code, response.json()["field"]) == (400, field)
        assert says in response.json()["detail"]
    assert ShelfProduct.objects.count() == 1
    assert to_product(ShelfProduct.objects.get()).name == "Bellwether Soft Wax"
    assert audit() == before


def test_a_name_is_taken_by_its_maker(owner: Person, wax: ShelfProduct) -> None:
    with pytest.raises(ShelfError, match="already a product called"):
        actions.add_item(owner, PRODUCTS, {**SOFT_WAX, "name": "bellwether  soft WAX"})
    other = actions.add_item(owner, PRODUCTS, {**SOFT_WAX, "maker": "Someone else"})
    assert other.pk != wax.pk


def test_search_finds_every_word_anywhere(client_of: Client, owner: Person, wax: ShelfProduct) -> None:
    actions.add_item(
        owner, PRODUCTS, {"name": "Marrowby Tung", "family": "pure-drying-oil", "tint": "Walnut"}
    )
    client = client_of(owner)

    def found(**query: Any) -> list[str]:
        page = client.get("/api/shelf/products", query).json()
        assert page["n_found"] == len(page["rows"])
        return [row["name"] for row in page["rows"]]

    assert found() == ["Bellwether Soft Wax", "Marrowby Tung"]
    assert found(search="wax BELL") == ["Bellwether Soft Wax"]
    assert found(search="drying oil") == ["Marrowby Tung"]
    assert found(search="walnut") == ["Marrowby Tung"]
    assert found(search="satin tung") == []
    assert found(search="%") == []
    assert found(family="wax") == ["Bellwether Soft Wax"]
    assert found(is_archived="true") == []


def test_an_archived_product_is_offered_no_more_and_stays(
    client_of: Client, owner: Person, draft: Trial, wax: ShelfProduct
) -> None:
    add_build_up(owner, draft.pk, product=wax.pk)
    client = client_of(owner)
    archived = client.post(f"/api/shelf/products/{wax.pk}/archive", {"is_archived": True}, format="json")
    assert archived.json() == {"id": wax.pk, "name": "Bellwether Soft Wax"}
    assert client.get("/api/shelf/products").json()["rows"] == []
    shown = client.get(f"/api/shelf/products/{wax.pk}").json()
    assert (shown["is_archived"], shown["used_in"]) == (True, ["Bellwether Soft Wax, version 1"])
    view = client.get(f"/api/trials/{draft.pk}/build-ups").json()
    assert view["build_ups"][-1]["recipe"]["layers"][0]["product"] == wax.pk
    refused = client.post(
        f"/api/trials/{draft.pk}/build-ups", {"product": wax.pk, "name": "B"}, format="json"
    )
    assert (refused.status_code, refused.json()["field"]) == (400, "product")
    assert "is archived" in refused.json()["detail"]
    client.post(f"/api/shelf/products/{wax.pk}/archive", {"is_archived": False}, format="json")
    assert audit()[-2:] == ["archive_product", "restore_product"]


def test_a_copy_takes_a_free_name(owner: Person, wax: ShelfProduct) -> None:
    names = [actions.duplicate_item(owner, PRODUCTS, wax.pk).name for _ in range(2)]
    assert names == ["Bellwether Soft Wax copy", "Bellwether Soft Wax copy 2"]
    copy = ShelfProduct.objects.get(name=names[0])
    assert to_product(copy).label == to_product(wax).label
    assert audit()[-1] == "duplicate_product"


def test_batches_know_their_last_good_day(owner: Person, wax: ShelfProduct) -> None:
    actions.keep_batch(owner, wax.pk, number="B1", opened_on=date(2026, 3, 1), best_before=date(2027, 1, 1))
    made = actions.keep_batch(owner, wax.pk, number="B2", best_before=date(2026, 1, 1))
    actions.keep_batch(owner, wax.pk, batch_id=made.pk, number="B2", best_before=date(2026, 12, 1))
    seen = selectors.find_product(owner, wax.pk, today=date(2026, 6, 1)).batches
    assert [(b.batch.number, b.use_by, b.is_past) for b in seen] == [
        ("B1", date(2026, 3, 31), True),
        ("B2", date(2026, 12, 1), False),
    ]
    with pytest.raises(ShelfError, match="already written down"):
        actions.keep_batch(owner, wax.pk, number="B1")
    with pytest.raises(ShelfError, match="1990"):
        actions.keep_batch(owner, wax.pk, number="B3", opened_on=date(1926, 1, 1))
    assert ProductBatch.objects.count() == 2


# Woods and agents


def test_a_wood_of_the_shops_own_can_be_chosen_for_a_trial(
    client_of: Client, owner: Person, draft: Trial
) -> None:
    client = client_of(owner)
    made = client.post("/api/shelf/species", BOG_ELM, format="json")
    assert made.status_code == 201
    shown = client.get("/api/shelf/species").json()
    assert shown[0]["id"] == "bog-elm"
    assert shown[0]["item_id"] == made.json()["id"]
    assert len(shown) == len(SPECIES) + 1
    assert "bog-elm" in {wood["id"] for wood in client.get("/api/reference").json()["species"]}
    assert client.patch(f"/api/trials/{draft.pk}", {"species": ["bog-elm"]}, format="json").status_code == 200
    design = client.post(f"/api/trials/{draft.pk}/design", {}, format="json").json()
    assert [board["name"] for board in design["boards"]] == ["Bog elm 1", "Bog elm 2", "Bog elm 3"]
    # A new name keeps the key by which the boards know it.
    client.put(f"/api/shelf/species/{made.json()['id']}", {**BOG_ELM, "name": "Old elm"}, format="json")
    assert ShelfSpecies.objects.get().key == "bog-elm"
    client.post(f"/api/shelf/species/{made.json()['id']}/archive", {"is_archived": True}, format="json")
    assert "bog-elm" not in {wood["id"] for wood in client.get("/api/reference").json()["species"]}
    assert client.post(f"/api/trials/{draft.pk}/design", {}, format="json").status_code == 201


def test_another_shops_wood_is_not_there(owner: Person, stranger: Person, draft: Trial) -> None:
    actions.add_item(stranger, WOODS, BOG_ELM)
    assert "bog-elm" not in {row.id for row in selectors.list_things(owner, WOODS)}


def test_what_was_kept_before_limits_narrowed_is_shown_and_can_be_corrected(
    client_of: Client, owner: Person
) -> None:
    row = actions.add_item(owner, OWN_AGENTS, CORDIAL)
    row.plain["durations_min"] = [1e9]
    row.save()
    client = client_of(owner)
    shown = client.get("/api/shelf/agents").json()[0]
    assert (shown["agent"]["name"], shown["agent"]["durations_min"]) == ("Buffet cordial", [1e9])
    assert client.get("/api/shelf/agents/file?form=json").status_code == 200
    refused = client.put(f"/api/shelf/agents/{row.pk}", shown["agent"], format="json")
    assert (refused.status_code, refused.json()["field"]) == (400, "durations_min")
    assert client.put(f"/api/shelf/agents/{row.pk}", CORDIAL, format="json").status_code == 200


def test_what_ships_keeps_its_name(owner: Person) -> None:
    with pytest.raises(ShelfError, match="ships with Nublet"):
        actions.add_item(owner, WOODS, {**BOG_ELM, "name": "beech"})
    assert not ShelfSpecies.objects.exists()


def test_agents_of_the_shops_own(client_of: Client, owner: Person) -> None:
    client = client_of(owner)
    made = client.post("/api/shelf/agents", CORDIAL, format="json").json()
    shown = client.get("/api/shelf/agents").json()
    assert len(shown) == len(AGENTS) + 1
    assert shown[0]["agent"]["natures"] == ["acid"]
    client.post(f"/api/shelf/agents/{made['id']}/duplicate", {}, format="json")
    assert set(ShelfAgent.objects.values_list("key", flat=True)) == {"buffet-cordial", "buffet-cordial-copy"}
    bad = client.put(f"/api/shelf/agents/{made['id']}", {**CORDIAL, "durations_min": [-1]}, format="json")
    assert (bad.status_code, bad.json()["field"]) == (400, "durations_min")


# Files


def rows_of(n: int, n_bad: int = 0) -> bytes:
    bad = {round((k + 0.5) * n / n_bad): k for k in range(n_bad)} if n_bad else {}
    lines = ["name,family,label.cure_d,containers"]
    for line in range(n):
        fault = bad.get(line)
        if fault is None:
            lines.append(f"Invented {line},oil-varnish,{line % 30},1000 = {10 + line % 7}")
        else:
            lines.append(
                (
                    f"Bad {line},paint,1,",
                    f"Bad {line},wax,soon,",
                    ",wax,1,",
                    f"Bad {line},wax,1,12",
                    f"Bad {line},wax,9999,",
                )[fault % 5]
            )
    return "\r\n".join(lines).encode()


def test_a_large_file_with_bad_rows_keeps_nothing_until_told(client_of: Client, owner: Person) -> None:
    client = client_of(owner)
    content = rows_of(5000, 20)

    def send(keep: str) -> dict[str, Any]:
        address = f"/api/shelf/products/file?keep={keep}"
        answer = client.post(address, content, content_type="application/octet-stream")
        assert answer.status_code == 200, answer.content
        found: dict[str, Any] = answer.json()
        return found

    looked, all_or_none = send("nothing"), send("all")
    for found in (looked, all_or_none):
        assert (found["n_good"], found["n_written"], len(found["faults"])) == (4980, 0, 20)
    first = looked["faults"][0]
    assert (first["line"], first["column"]) == (127, "family")
    assert "not a finish family" in first["reason"]
    columns = [fault["column"] for fault in looked["faults"]]
    assert columns == ["family", "label.cure_d", "name", "containers", "label.cure_d"] * 4
    assert not ShelfProduct.objects.exists()
    assert audit() == ["open_shop"]
    kept = send("good")
    assert (kept["n_written"], ShelfProduct.objects.count()) == (4980, 4980)
    assert audit() == ["open_shop", "import_products"]
    twice = send("good")
    assert (twice["n_good"], twice["n_written"], len(twice["faults"])) == (0, 0, 5000)
    assert "already on the shelf" in twice["faults"][1]["reason"]


def test_names_that_are_one_to_the_database_are_one_to_an_import(owner: Person) -> None:
    actions.add_item(owner, PRODUCTS, {"name": "Café Oil", "family": "wax"})
    rows = "name,family\nCAFE  oil,wax\nRésine,wax\nResine,wax\n".encode()
    found = actions.import_items(owner, PRODUCTS, rows, keep="good")
    assert [(fault.line, fault.column) for fault in found.faults] == [(2, "name"), (4, "name")]
    assert set(ShelfProduct.objects.values_list("name", flat=True)) == {"Café Oil", "Résine"}


def test_an_import_that_breaks_half_way_leaves_nothing(
    owner: Person, monkeypatch: pytest.MonkeyPatch
) -> None:
    def break_down(*_: object, **__: object) -> None:
        raise RuntimeError("the audit record cannot be written")

    monkeypatch.setattr(actions, "record", break_down)
    with pytest.raises(RuntimeError):
        actions.import_items(owner, PRODUCTS, rows_of(50), keep="all")
    assert not ShelfProduct.objects.exists()


@pytest.mark.parametrize("form", ["csv", "json"])
def test_what_is_taken_away_can_be_put_back(
    client_of: Client, owner: Person, stranger: Person, wax: ShelfProduct, form: str
) -> None:
    content = client_of(owner).get(f"/api/shelf/products/file?form={form}").content
    ((_, product),) = PRODUCT_TABLE.read(content).things
    assert product == PRODUCT_TABLE.from_dict(SOFT_WAX)
    found = actions.import_items(stranger, PRODUCTS, content, keep="all")
    assert (found.n_written, found.faults) == (1, ())


def test_woods_and_agents_come_from_files_too(owner: Person) -> None:
    woods = (
        b"name,pores,density_kg_m3,janka_n\n"
        b"Bog elm,ring-porous,640,4000\nBog-elm,ring-porous,640,4000\n"
        b"Beech,diffuse-porous,700,6000\n"
    )
    found = actions.import_items(owner, WOODS, woods, keep="good")
    assert [(f.line, f.column) for f in found.faults] == [(4, "name")]
    assert sorted(ShelfSpecies.objects.values_list("key", flat=True)) == ["bog-elm", "bog-elm-2"]
    agents = b"name,group,natures\nBuffet cordial,stain,acid\nSmoke,smell,\n"
    looked = actions.import_items(owner, OWN_AGENTS, agents, keep="all")
    assert (looked.n_good, looked.n_written, looked.faults[0].column) == (1, 0, "group")


@pytest.mark.parametrize(
    ("content", "says"),
    [(b"\xff\xfe", "not UTF-8"), (b"what,is,this\n", "lacks name, family"), (b"[1", "not JSON")],
)
def test_a_file_that_cannot_be_read_at_all(
    client_of: Client, owner: Person, content: bytes, says: str
) -> None:
    answer = client_of(owner).post(
        "/api/shelf/products/file?keep=good", content, content_type="application/octet-stream"
    )
    assert (answer.status_code, answer.json()["field"]) == (400, "file")
    assert says in answer.json()["detail"]


def test_what_a_product_was_stays_in_the_record(owner: Person, wax: ShelfProduct) -> None:
    actions.change_item(owner, PRODUCTS, wax.pk, {**SOFT_WAX, "note": "Another can"})
    entry = AuditEntry.objects.latest("pk")
    assert entry.details["before"]["note"] == ""
    assert entry.details["before"]["containers"] == [{"amounts": [400.0], "price": 18.0}]


def test_judges_keep_nothing(judge: Person, owner: Person, wax: ShelfProduct) -> None:
    for change in (
        lambda: actions.add_item(judge, PRODUCTS, SOFT_WAX),
        lambda: actions.change_item(judge, PRODUCTS, wax.pk, SOFT_WAX),
        lambda: actions.archive_item(judge, PRODUCTS, wax.pk, is_archived=True),
        lambda: actions.duplicate_item(judge, PRODUCTS, wax.pk),
        lambda: actions.import_items(judge, PRODUCTS, b"", keep="all"),
        lambda: actions.keep_batch(judge, wax.pk, number="1"),
    ):
        with pytest.raises(PermissionDenied):
            change()


def test_queries_do_not_grow_with_the_shelf(
    django_assert_num_queries: Any, owner: Person, wax: ShelfProduct
) -> None:
    for _ in range(2):
        with django_assert_num_queries(2):
            selectors.find_products(owner, search="soft")
        with django_assert_num_queries(3):
            selectors.find_product(owner, wax.pk, today=date(2026, 1, 1))
        with django_assert_num_queries(1):
            selectors.list_things(owner, WOODS)
        actions.import_items(owner, PRODUCTS, rows_of(200), keep="good")
        actions.add_item(owner, WOODS, {**BOG_ELM, "name": f"Wood {ShelfSpecies.objects.count()}"})
        actions.keep_batch(owner, wax.pk, number=str(ProductBatch.objects.count()))


def test_calculators_answer_over_http(client_of: Client, owner: Person) -> None:
    client = client_of(owner)
    listed = {one["id"]: one for one in client.get("/api/calculators").json()}
    assert len(listed) == 13
    assert listed["mix"]["inputs"][0]["columns"][1]["quantity"] == "number"
    answer = client.post("/api/calculators/thin", {"values": {"want_pct": 12}}, format="json").json()
    assert answer["figures"][0] == {"label": "Stock", "value": 62.5, "quantity": "millilitres", "says": ""}
    refused = client.post("/api/calculators/thin", {"values": {"want_pct": 60}}, format="json")
    assert (refused.status_code, refused.json()["field"]) == (400, "want_pct")
    assert client.post("/api/calculators/alchemy", {"values": {}}, format="json").status_code == 404
    units = {unit["quantity"]: unit for unit in client.get("/api/units").json()}
    assert units["celsius"] == {
        "quantity": "celsius", "metric": "°C", "us": "°F", "factor": 1.8, "offset": 32.0
    }  # fmt: skip
