"""Forms of accounts."""

import unicodedata

from django import forms
from django.contrib.auth.forms import UserCreationForm
from django.contrib.auth.models import User
from django.db import transaction
from django.utils.translation import gettext_lazy as _

from web.accounts.guests import PREFIX
from web.words.forms import CleanedForm

# Scripts that one word is written in together; every other name is in one.
_TOGETHER = ({"CJK", "HIRAGANA", "KATAKANA"}, {"CJK", "HANGUL"}, {"CJK", "BOPOMOFO"})


def scripts(name: str) -> set[str]:
    """Return the scripts of a name's letters.

    >>> sorted(scripts("demo_1")), sorted(scripts("d\\u0435mo"))
    (['LATIN'], ['CYRILLIC', 'LATIN'])
    """
    return {unicodedata.name(letter, "?").split()[0] for letter in name if letter.isalpha()}


class SignUpForm(UserCreationForm[User]):
    """A new account; its name must not look like another's."""

    def clean_username(self) -> str:
        """Refuse a name whose letters are of several scripts: with look-alike letters one could pass for another."""
        name = super().clean_username()
        if name is None:  # taken: that is noted already
            return ""
        if name.lower().startswith(PREFIX):
            raise forms.ValidationError(_("Names that begin so are for visitors: take another."))
        found = scripts(name)
        if len(found) > 1 and not any(found <= together for together in _TOGETHER):
            raise forms.ValidationError(_("Use letters of one script: look-alike letters of several are not taken."))
        return name

    def save(self, commit: bool = True) -> User:
        """Keep the account. Raises IntegrityError where another took its name since it was looked up."""
        with transaction.atomic():
            return super().save(commit)


class AgainForm(CleanedForm):
    """The password again, over a page whose sign-in has ended."""

    username = forms.CharField(max_length=150)
    password = forms.CharField(max_length=4096, strip=False)
