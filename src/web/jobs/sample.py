"""The sample world: the three jobs that the demo begins with."""

from voltaje.samples import NAMES, sample
from web.jobs.document import Document
from web.jobs.files.openfile import from_open


def sample_document(name: str) -> Document:
    """Return a sample job's document."""
    return from_open(sample(name))


def sample_documents() -> list[Document]:
    """Return the sample jobs, in the order the list will show them from the bottom."""
    return [sample_document(name) for name in reversed(NAMES)]


MARROW_CREEK = sample_document("marrow-creek")
