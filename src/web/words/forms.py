"""What every form begins with: texts cleaned as everything that comes in is."""

from django import forms
from django.http import QueryDict

from voltaje.path.intake import clean_text


class CleanedForm(forms.Form):
    """A form whose texts are cleaned as everything that comes in is, before anything else is asked of them."""

    def __init__(self, data=None, *args, **kwargs):
        super().__init__(_cleaned(data), *args, **kwargs)


def _cleaned(data):
    """Return what was posted with its texts cleaned; line ends stay where there are many lines."""
    if not isinstance(data, QueryDict):
        return data
    cleaned = data.copy()
    for key, values in data.lists():
        cleaned.setlist(key, ["\n".join(clean_text(line) for line in value.splitlines()) for value in values])
    return cleaned
