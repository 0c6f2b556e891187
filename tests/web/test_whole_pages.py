"""Whatever address is opened by itself, in a tab of its own, is a whole page, or leads to one."""

import pytest
from django.urls import reverse

from tests.web.addresses import named_addresses, parts_for


@pytest.mark.parametrize(("name", "parts"), named_addresses())
def test_an_address_opened_by_itself_is_a_whole_page(page, pottery, name, parts):
    answer = page.get(reverse(name, kwargs=parts_for(parts, pottery, "k2")))
    if answer.status_code == 200 and answer["Content-Type"].startswith("text/html"):
        assert b"<html" in answer.getvalue()
