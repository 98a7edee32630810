"""The shelf's list and search with 2,000 products, as ratios to a shelf of 50, on a real MariaDB.

The report's medians in milliseconds are what docs/operations.md quotes; nothing is asserted of a time.
"""

from __future__ import annotations

from typing import Any

import pytest
from rest_framework.test import APIClient

from nublet.core.materials.families import FAMILIES
from nublet.web.people.actions import open_shop
from nublet.web.shelf.actions import import_items
from nublet.web.shelf.adapters import PRODUCTS


def client_of_a_shelf(n: int) -> APIClient:
    owner = open_shop(
        shop_name=f"Shop of {n}", username=f"owner{n}", display_name="O", password="long-enough-1"
    )
    families = sorted(FAMILIES)
    lines = ["name,maker,family,label.cure_d,containers"] + [
        f"Finish {k},Maker {k % 40},{families[k % len(families)]},{k % 30},1000 = {10 + k % 50}; 250 = {4 + k % 9}"
        for k in range(n)
    ]
    assert import_items(owner, PRODUCTS, "\n".join(lines).encode(), keep="all").n_written == n
    client = APIClient()
    client.force_login(owner)
    return client


@pytest.mark.django_db
@pytest.mark.parametrize("n", [50, 2000])
@pytest.mark.benchmark(group="shelf: list")
def test_list(benchmark: Any, n: int) -> None:
    client = client_of_a_shelf(n)
    found = benchmark(lambda: client.get("/api/shelf/products").json())
    assert (found["n_found"], len(found["rows"])) == (n, 50)


@pytest.mark.django_db
@pytest.mark.parametrize("n", [50, 2000])
@pytest.mark.benchmark(group="shelf: search")
def test_search(benchmark: Any, n: int) -> None:
    client = client_of_a_shelf(n)
    found = benchmark(lambda: client.get("/api/shelf/products", {"search": "maker 7 oil"}).json())
    assert 0 < found["n_found"] < n / 4
    assert all("7" in row["maker"] + row["name"] for row in found["rows"])


@pytest.mark.django_db
@pytest.mark.benchmark(group="shelf: look 5,000 rows over")
def test_import_of_5000_rows(benchmark: Any) -> None:
    owner = open_shop(shop_name="Importer", username="importer", display_name="I", password="long-enough-1")
    lines = ["name,family"] + [f"Finish {k},{'wax' if k % 250 else 'paint'}" for k in range(5000)]
    content = "\n".join(lines).encode()
    found = benchmark.pedantic(
        import_items, args=(owner, PRODUCTS, content), kwargs={"keep": "nothing"}, rounds=3
    )
    assert (found.n_good, len(found.faults)) == (4980, 20)
