"""Clauses by edition, and what differs in substance."""

import pytest

from voltaje.books.nec.edition import editions, find_edition
from voltaje.books.registry import all_tables, books, find_book
from voltaje.errors import UnknownName
from voltaje.tools.quick import dwelling

# NEC 2017, 2020, 2023, as recalled; the same topic moved or kept its place.
CLAUSES = {
    "general_lighting": ("220.12", "220.14(J)", "220.41"),
    "floor_area": ("220.12", "220.11", "220.5(C)"),
    "small_appliance": ("220.52(A)", "220.52(A)", "220.52(A)"),
    "fastened": ("220.53", "220.53", "220.53"),
    "charger": ("625.42", "625.42", "220.57"),
    "noncoincident": ("220.60", "220.60", "220.60"),
    "neutral_cooking": ("220.61(B)(1)", "220.61(B)(1)", "220.61(B)(1)"),
    "service_83": ("310.15(B)(7)", "310.12(A)", "310.12(A)"),
    "adjustment": ("310.15(B)(3)(a)", "310.15(C)(1)", "310.15(C)(1)"),
    "receptacles": ("220.44", "220.44", "220.47"),
    "electrode_rod": ("250.66(A)", "250.66(A)", "250.66(A)"),
}
TABLES = {
    "ampacity": ("Table 310.15(B)(16)", "Table 310.16", "Table 310.16"),
    "lighting_demand": ("Table 220.42", "Table 220.42", "Table 220.45"),
    "ranges": ("Table 220.55", "Table 220.55", "Table 220.55"),
    "receptacles": ("Table 220.44", "Table 220.44", "Table 220.47"),
}


@pytest.mark.parametrize(("topic", "clauses"), CLAUSES.items())
def test_a_topic_is_cited_by_edition(topic, clauses):
    assert tuple(edition.cite(topic).clause for edition in editions().values()) == clauses


@pytest.mark.parametrize(("key", "numbers"), TABLES.items())
def test_a_table_is_numbered_by_edition(key, numbers):
    assert tuple(edition.cite_table(key).clause for edition in editions().values()) == numbers


@pytest.mark.parametrize("book", ["NEC 2017", "NEC 2020", "NEC 2023"])
def test_every_step_of_an_answer_cites_the_asked_edition(book):
    answer = dwelling.TOOL.run({"book": book, "floor_area": 2000, "cooking": [{"load": "12 kW"}]})
    assert answer["steps"]
    assert all(step["rule"].startswith(book) for step in answer["steps"])
    lighting = next(step for step in answer["steps"] if step["label"] == "General lighting")
    assert lighting["rule"] == str(find_edition(book).cite("general_lighting"))


def test_substance_is_a_named_field_of_the_edition():
    in_order = list(editions().values())
    assert [edition.fastened_least_rating for edition in in_order] == [False, True, True]
    assert [edition.charger_least_load for edition in in_order] == [False, False, True]
    assert [edition.noncoincident_motor_extra for edition in in_order] == [False, True, True]


def test_books_by_full_and_by_short_name():
    assert find_book("BS 7671") is find_book("IEC 60364 / BS 7671:2018+A2:2022")
    assert find_book("SANS 10142-1").name.endswith(":2020")
    assert len(books()) == 7
    with pytest.raises(UnknownName, match="this version has"):
        find_book("NEC 2014")


def test_every_table_says_where_its_figures_come_from():
    for name, table in all_tables():
        assert table.pedigree, name
        assert "recalled" in table.pedigree or "inferred" in table.pedigree, name
        assert table.rows, name
        assert all(column.meaning for column in table.columns), name


@pytest.mark.parametrize(("family", "prefix"), [("ampacity", "nec"), ("multicore_pvc70", "iec")])
def test_ampacity_never_falls_as_a_conductor_grows(family, prefix):
    table = dict(all_tables())[f"{prefix}-{family}"]
    for column in table.columns[1:]:
        figures = [row[column.name] for row in table.rows if row[column.name] is not None]
        assert figures == sorted(figures)
        assert len(set(figures)) == len(figures)


def test_hotter_insulation_carries_more():
    for row in find_edition("NEC 2023").table("ampacity").rows:
        assert row["cu60"] < row["cu75"] < row["cu90"]
        if row["al75"] is not None:
            assert row["al60"] < row["al75"] < row["al90"] < row["cu90"]


def test_resistance_falls_with_area():
    """Ohm's law across a published table: resistance times area is one figure for copper, within the table's digits."""
    rows = find_edition("NEC 2023").table("conductor_areas").rows
    products = [row["cu_uncoated"] * row["cmil"] / 1000 for row in rows]
    assert min(products) > 12.3
    assert max(products) < 13.2


def test_the_two_electrode_tables_agree_up_to_their_last_band():
    """Tables 250.66 and 250.102(C)(1) give the same size up to 1100 kcmil copper."""
    edition = find_edition("NEC 2023")
    electrode, grounded = (edition.table(key).rows for key in ("electrode_conductor", "grounded_conductor"))
    for first, second in zip(electrode[:-1], grounded[:-1], strict=True):
        assert (first["cu_to"], first["cu"], first["al"]) == (second["cu_to"], second["cu"], second["al"])
