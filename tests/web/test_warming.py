"""A process that begins works out what was worked on last, before it is asked for it."""

import logging

from voltaje.path import document as reading
from web.workbench import warming


def test_jobs_at_work_are_read_before_they_are_asked_for(pottery, monkeypatch, caplog):
    worked = []
    monkeypatch.setattr(warming, "_worked", lambda document: worked.append(document["job"]["name"]))
    monkeypatch.setattr(warming.connection, "close", lambda: None)  # the test's own
    with caplog.at_level(logging.INFO, "voltaje.warming"):
        warming.warm()
    assert worked[0] == "Cinder Lane Pottery"
    assert set(worked) >= {"Cinder Lane Pottery", "Slipway Boatyard"}
    assert "warm after" in caplog.text


def test_every_sample_can_be_shown_to_nobody(db, monkeypatch, caplog):
    monkeypatch.setattr(warming.connection, "close", lambda: None)
    reading._node_of.cache_clear()
    warming.warm()
    assert "not everything" not in caplog.text
    assert reading._node_of.cache_info().currsize > 20
