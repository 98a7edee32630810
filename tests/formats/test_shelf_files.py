"""Products, woods and agents as files: out and in again alike, and every fault by line, column and reason."""

from __future__ import annotations

import csv
import io
import json
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nublet.core.errors import ShelfError
from nublet.core.materials.families import FAMILIES
from nublet.core.materials.product_records import check_product
from nublet.core.materials.products import Container, Found, Label, Part, Product
from nublet.core.materials.species import SPECIES
from nublet.core.plain import tidy
from nublet.core.protocols.agents import AGENTS
from nublet.formats.products_file import PRODUCT_TABLE
from nublet.formats.woods_and_agents_file import AGENT_TABLE, SPECIES_TABLE
from tests.core.finishes import HARDOIL, SATIN, TUNG

TEXT = st.text(st.characters(codec="utf-8", exclude_categories=("Cc", "Cs", "Zl", "Zp")), max_size=30).map(
    tidy
)
AMOUNTS = st.integers(1, 10_000).map(lambda n: n / 4)
PRODUCTS = st.builds(
    Product,
    name=TEXT.filter(bool),
    maker=TEXT,
    family=st.sampled_from(sorted(FAMILIES)),
    containers=st.lists(st.builds(Container, amounts=st.tuples(AMOUNTS), price=AMOUNTS), max_size=3).map(tuple),
    label=st.builds(
        Label,
        pot_life_min=st.none() | AMOUNTS,
        wipe_off_from_min=st.none() | st.integers(0, 9).map(float),
        wipe_off_to_min=st.none() | st.integers(10, 99).map(float),
        dissolves_wax=st.booleans(),
        hazards=TEXT,
    ),
    found=st.builds(Found, smell=TEXT, spread_m2_per_l=st.none() | st.floats(1, 100).map(lambda x: round(x, 3))),
    tint=TEXT,
    note=TEXT,
)  # fmt: skip


@settings(max_examples=150, deadline=None)
@given(st.lists(PRODUCTS, max_size=4, unique_by=lambda p: (p.name.casefold(), p.maker.casefold())))
def test_products_come_back_alike(products: list[Product]) -> None:
    for product in products:
        check_product(product)
    for text in (PRODUCT_TABLE.write_csv(products), PRODUCT_TABLE.write_json(products)):
        read = PRODUCT_TABLE.read(text.encode())
        assert read.faults == ()
        assert [product for _, product in read.things] == products


def test_two_part_products_come_back_alike() -> None:
    made = replace(HARDOIL, id=None)
    (row,) = csv.DictReader(io.StringIO(PRODUCT_TABLE.write_csv([made])))
    assert row["parts"] == "Base 9 : Hardener 1"
    assert row["containers"] == "Base 450 + Hardener 50 = 29; Base 900 + Hardener 100 = 52; Hardener 100 = 12"
    assert PRODUCT_TABLE.read(PRODUCT_TABLE.write_csv([made]).encode()).things == ((2, made),)


def test_woods_and_agents_come_back_alike() -> None:
    woods = [replace(wood, id="") for wood in SPECIES.values()]
    agents = [replace(agent, id="") for agent in AGENTS.values()]
    assert [w for _, w in SPECIES_TABLE.read(SPECIES_TABLE.write_csv(woods).encode()).things] == woods
    assert [w for _, w in SPECIES_TABLE.read(SPECIES_TABLE.write_json(woods).encode()).things] == woods
    assert [a for _, a in AGENT_TABLE.read(AGENT_TABLE.write_csv(agents).encode()).things] == agents
    assert [a for _, a in AGENT_TABLE.read(AGENT_TABLE.write_json(agents).encode()).things] == agents


def test_only_the_needed_columns_are_needed() -> None:
    read = PRODUCT_TABLE.read("﻿family,name\nwax,Bellwether Soft Wax\n".encode())
    assert [(line, p.name, p.parts) for line, p in read.things] == [
        (2, "Bellwether Soft Wax", (Part(name="Finish"),))
    ]


def test_a_cell_that_a_spreadsheet_would_compute() -> None:
    risky = replace(TUNG, id=None, note="=1+1")
    text = PRODUCT_TABLE.write_csv([risky])
    assert "'=1+1" in text
    assert PRODUCT_TABLE.read(text.encode()).things[0][1].note == "=1+1"


@pytest.mark.parametrize(
    ("row", "column", "says"),
    [
        (",wax,,,", "name", "Give the product a name"),
        ("A,paint,,,", "family", "not a finish family"),
        ("A,wax,lots,,", "label.cure_d", "'lots' is not a number"),
        ("A,wax,-1,,", "label.cure_d", "0 to 400 days"),
        ("A,wax,,maybe,", "label.dissolves_wax", "neither yes nor no"),
        ("A,wax,,,500", "containers", "has no price"),
        ("A,wax,,,500 = x", "containers", "'x' is not a number"),
        ("A,wax,,,Resin 500 = 3", "containers", "names no part"),
        ("A,wax,,", "", "4 cells, the header has 5"),
        ("Marrowby tung,pure-drying-oil,,,", "name", "already on line 2"),
    ],
)
def test_a_bad_row_says_line_column_and_reason(row: str, column: str, says: str) -> None:
    header = "name,family,label.cure_d,label.dissolves_wax,containers"
    text = f'{header}\n"Marrowby Tung",pure-drying-oil,25,no,"1000 = 24; 250 = 9,50"\n\n{row}\n'
    read = PRODUCT_TABLE.read(text.encode())
    assert [product.name for _, product in read.things] == ["Marrowby Tung"]
    assert read.things[0][1].containers[1] == Container(amounts=(250,), price=9.5)
    (fault,) = read.faults
    assert (fault.line, fault.column) == (4, column)
    assert says in fault.reason


def test_lines_are_counted_across_line_breaks_in_cells() -> None:
    text = 'name,family,note\nA,wax,"one\ntwo"\nB,paint,\n'
    assert [fault.line for fault in PRODUCT_TABLE.read(text.encode()).faults] == [4]


def test_faults_in_json_are_numbered() -> None:
    listed = [{"name": "A", "family": "wax"}, 3, {"name": "B", "family": "wax", "label": {"cure_d": "x"}}]
    read = PRODUCT_TABLE.read(json.dumps({"products": listed}).encode())
    assert [(f.line, f.column) for f in read.faults] == [(2, ""), (3, "label.cure_d")]
    assert [product.name for _, product in read.things] == ["A"]


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"name;family\n", "lacks name, family"),
        (b"", "lacks name, family"),
        (b"name,family,colour\n", "Unknown columns: colour"),
        (b"name,family,name\n", "name twice"),
        (b"name,family\n\xff", "not UTF-8 (byte 12"),
        (b'name,family\n"A,wax\n', "not readable as CSV"),
        (b'{"products": 3}', "list of products"),
        (b'[{"name": ]', "not JSON"),
        (b"name,family\n" + b"A,wax\n" * 20_001, "more than 20000"),
    ],
)
def test_a_file_that_cannot_be_read(content: bytes, says: str) -> None:
    with pytest.raises(ShelfError) as refused:
        PRODUCT_TABLE.read(content)
    assert says in refused.value.message
    assert refused.value.field == "file"


@pytest.mark.parametrize(
    ("row", "column"),
    [
        ("Cordial,stain,x,", "durations_min"),
        ("Cordial,drink,5,", "group"),
        ("Cordial,stain,5; 10,blue", "natures"),
    ],
)
def test_agents_with_faults(row: str, column: str) -> None:
    read = AGENT_TABLE.read(f"name,group,durations_min,natures\n{row}\n".encode())
    assert [fault.column for fault in read.faults] == [column]


def test_a_wood_with_a_gap() -> None:
    read = SPECIES_TABLE.read(b"name,pores,density_kg_m3,janka_n\nElm,ring-porous,,3700\n")
    assert [(fault.column, fault.reason) for fault in read.faults] == [
        ("density_kg_m3", "density kg m3 is missing. Fill it in.")
    ]


def test_many_products_are_read() -> None:
    many = [replace(SATIN, id=None, name=f"Satin {n}") for n in range(500)]
    assert len(PRODUCT_TABLE.read(PRODUCT_TABLE.write_csv(many).encode()).things) == 500
