"""Accounts: tries that are counted, names that look alike, sign-ins that are seen and ended."""

import pytest
from django.test import Client, override_settings
from django.urls import reverse

from tests.conftest import PASSWORD
from web.accounts.models import Session
from web.accounts.throttle import SIGN_UPS, WRONG_OLD_PASSWORDS, WRONG_PASSWORDS, address_of

NEW_PASSWORD = "oxide-and-amber"
SIGN_IN, SIGN_UP = reverse("sign-in"), reverse("sign-up")


def new(name, password=NEW_PASSWORD):
    return {"username": name, "password1": password, "password2": password}


def test_passwords_sprayed_over_many_accounts_are_counted_by_address(client, ann):
    for at in range(WRONG_PASSWORDS.most):
        assert client.post(SIGN_IN, {"username": f"nobody{at}", "password": "x"}).status_code == 200
    assert client.post(SIGN_IN, {"username": "ann", "password": PASSWORD}).status_code == 429
    elsewhere = Client(REMOTE_ADDR="192.0.2.7")
    assert elsewhere.post(SIGN_IN, {"username": "ann", "password": PASSWORD}).status_code == 302


def test_new_accounts_are_counted_by_address(client, db, django_user_model):
    for at in range(SIGN_UPS.most):
        assert Client().post(SIGN_UP, new(f"person{at}")).status_code == 302
    assert Client().post(SIGN_UP, new("onemore")).status_code == 429
    assert Client(HTTP_X_FORWARDED_FOR="192.0.2.9").post(SIGN_UP, new("onemore")).status_code == 429  # its own word
    assert not django_user_model.objects.filter(username="onemore").exists()


def test_guesses_of_the_old_password_are_counted(page):
    guess = {"old_password": "x", "new_password1": NEW_PASSWORD, "new_password2": NEW_PASSWORD}
    for _ in range(WRONG_OLD_PASSWORDS.most):
        assert page.post(reverse("password"), guess).status_code == 200
    assert page.post(reverse("password"), {**guess, "old_password": PASSWORD}).status_code == 429


@pytest.mark.parametrize(
    ("name", "taken"),
    [("d\u0435mo", False), ("αnn", False), ("anna_1", True), ("жанна", True), ("渡辺さん", True), ("ann\u00e9", True)],
)
def test_names_with_letters_of_several_scripts_are_refused(client, db, name, taken, django_user_model):
    assert (client.post(SIGN_UP, new(name)).status_code == 302) == taken
    assert django_user_model.objects.filter(username=name).exists() == taken


@pytest.mark.parametrize("password", ["8305927461", "password1", "short1", "annannann"])
def test_weak_passwords_are_refused(client, db, password):
    assert client.post(SIGN_UP, new("annannann", password)).status_code == 200


@override_settings(BEHIND_TLS=True)
@pytest.mark.parametrize(
    ("forwarded", "address"),
    [
        ("203.0.113.9, 192.0.2.1", "192.0.2.1"),
        ("2001:db8:1:2:3::4", "2001:db8:1:2::/64"),
        ("<script>", ""),
        ("", "127.0.0.1"),
    ],
)
def test_behind_a_proxy_the_address_is_the_one_that_the_proxy_put_last(rf, forwarded, address):
    assert address_of(rf.get("/", HTTP_X_FORWARDED_FOR=forwarded)) == address


def test_a_person_sees_where_they_are_signed_in_and_ends_one(client, ann):
    browser = "Mozilla/5.0 (X11; Linux x86_64) Gecko/20100101 Firefox/140.0"
    here, there = Client(headers={"User-Agent": browser}), Client()
    for each in (here, there):
        each.post(SIGN_IN, {"username": "ann", "password": PASSWORD})
    shown = here.get(reverse("sessions")).content.decode()
    assert "Firefox · Linux" in shown
    assert "this one" in shown
    other = Session.objects.exclude(pk=here.session.session_key).get(user=ann)
    here.post(reverse("sessions"), {"key": here.session.session_key})  # not the one that one is in
    here.post(reverse("sessions"), {"key": other.pk})
    assert there.get(reverse("jobs")).status_code == 302
    assert here.get(reverse("jobs")).status_code == 200


def test_anothers_sign_in_cannot_be_ended(page, ben):
    theirs = Client()
    theirs.force_login(ben)
    assert page.post(reverse("sessions"), {"key": theirs.session.session_key}).status_code == 404
    assert theirs.get(reverse("jobs")).status_code == 200


def test_a_changed_password_ends_the_other_sign_ins(page, ann):
    other = Client()
    other.force_login(ann)
    new_one = {"old_password": PASSWORD, "new_password1": NEW_PASSWORD, "new_password2": NEW_PASSWORD}
    assert page.post(reverse("password"), new_one).status_code == 302
    assert other.get(reverse("jobs")).status_code == 302


def test_signing_in_again_over_a_page(client, ann):
    answer = client.post(reverse("sign-in-again"), {"username": "ann", "password": "wrong"}).json()
    assert "not the password" in answer["problem"]
    assert client.post(reverse("sign-in-again"), {"username": "ann", "password": PASSWORD}).json()["token"]
    assert client.get(reverse("jobs")).status_code == 200
