"""Lists of loads pasted or uploaded: each line read or its error told, other people's columns understood."""

from voltaje.books.registry import find_book
from voltaje.speech.said import Where
from voltaje.systems import SYSTEMS
from web.workbench.files.csvlist import read_list


def test_a_list_is_read_line_by_line():
    head = "name,kind,rating,phases,length,board"
    text = "\n".join([head, "Kiln,heating,11.5 kW,3,60 ft,", "X,heating,lots,3,,", "Y,magic,5 kW,,,", "Z,,5 kW"])
    terms = find_book("NEC 2023").terms
    found = read_list(text, terms)
    assert [line.number for line in found.good] == [2, 5]
    assert [line.error.split(":")[0] for line in found.bad] == ["Rating each", "Kind"]
    assert read_list("", terms).error
    assert "rating among them" in read_list("name,colour\nKiln,red", terms).error


def test_a_schedule_pasted_from_a_sheet_is_read_as_the_trade_writes_it():
    text = (
        "Ckt\tDescription\tBreaker\tVA\n1\tKitchen recepts\t20/1\t1500\n3\tRange\t50/2P\t8000\n"
        "7\tLights\t15/1\tabc\n9\tAir compressor\t\t7.5 hp"
    )
    where = Where("nec", SYSTEMS["208Y/120"])
    found = read_list(text, find_book("NEC 2023").terms, lambda _board: where)
    recepts, range_, compressor = (line.node for line in found.good)
    for node, kind, poles, device in ((recepts, "sockets", "1", "20"), (range_, "range", "2", "50")):
        assert (node["load"]["kind"], node["load"]["poles"], node["run"]["pins"]["device_a"]) == (kind, poles, device)
    assert [compressor["load"][key] for key in ("kind", "phases", "poles")] == ["motor", "3", "3"]
    assert compressor["assumed"] == ["load.poles"]  # as the walk-through line understands it, and as amber
    (left,) = found.bad
    assert left.text == "7\tLights\t15/1\tabc"
    assert left.error.startswith("Rating each:")
    assert [each.called for each in found.headings][2:] == ["Set breaker or fuse by hand", "Rating each"]


def test_other_peoples_columns_are_understood_and_what_is_not_is_said():
    text = (
        "Ckt No,Description,Load (VA),Breaker,Wire Size,Length ft,Qty,Notes\n"
        '1,"Kiln, old",9000,50 A,#6,60,1,hot\n3,Lamps,100,,,,12,\n5,Saw,2 kW,20,,,,'
    )
    found = read_list(text, find_book("NEC 2023").terms)
    assert [each.column for each in found.headings] == [
        "way",
        "name",
        "rating",
        "device_a",
        "size",
        "length",
        "count",
        "",
    ]
    kiln, lamps, saw = (line.node for line in found.good)
    assert kiln["load"] == {"rating": "9000 VA", "count": "1", "way": "1"}
    assert kiln["run"] == {"length": "60 ft", "pins": {"device_a": "50 A", "size": "#6", "reason": "as listed"}}
    assert (lamps["load"]["rating"], lamps["load"]["count"]) == ("100 VA", "12")
    assert saw["load"]["rating"] == "2 kW"
    bare = read_list("name,rating\nKiln,40", find_book("NEC 2023").terms)
    assert "40 what? Write its unit" in bare.bad[0].error
