"""What every form begins with: texts cleaned as everything that comes in is."""

from typing import Any

from django import forms
from django.http import QueryDict

from voltaje.path.intake import clean_text


class CleanedForm(forms.Form):
    """A form whose texts are cleaned as everything that comes in is, before anything else is asked of them."""

    def __init__(self, data: Any = None, *args: Any, **kwargs: Any) -> None:
        super().__init__(_cleaned(data), *args, **kwargs)


def _cleaned(data: Any) -> Any:
    """Return what was posted with its texts cleaned."""
    if not isinstance(data, QueryDict):
        return data
    cleaned = data.copy()
    for key, values in data.lists():
        cleaned.setlist(key, [_text(value) for value in values])
    return cleaned


def _text(typed: str) -> str:
    """Return a text cleaned; one of many lines keeps them, and the tabs that part the cells of a table."""
    lines = typed.splitlines()
    if len(lines) < _MANY:
        return clean_text(typed)
    return "\n".join("\t".join(clean_text(cell) for cell in line.split("\t")) for line in lines)


_MANY = 2
