"""What an edit sends to the page: of each region only the pieces that differ from those the page shows.

A region (the tree, the lens, the chain) stands in a frame: what must be alike for its pieces to be put in place one
by one. Every piece carries a digest of what it shows. The page says with each request which frames and digests it
shows, so nothing of it is kept on the server.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from hashlib import blake2b
from typing import Any, Self

from django.template.loader import get_template
from django.utils.safestring import SafeString, mark_safe

from web.words.same import Same

_DIGEST_BYTES = 6
# A row of a table and a group of a drawing are parsed only inside what may hold them.
_WITHIN = {"<tr": ("<table>", "</table>"), "<g ": ("<svg>", "</svg>")}


def digest(text: str) -> str:
    """Return a short digest of a text."""
    return blake2b(text.encode(), digest_size=_DIGEST_BYTES).hexdigest()


def markup(template: str, context: dict[str, Any]) -> str:
    """Return what one of the workbench's templates draws."""
    return get_template(f"workbench/{template}.html").render(context)


@dataclass(frozen=True)
class Piece:
    """An element with an id and a place for its digest, `data-is=""`; it is drawn once somebody needs its markup."""

    id: str
    digest: str
    make: Callable[[], str]

    @classmethod
    def of(cls, identity: str, template: str, context: dict[str, Any]) -> Self:
        """Return a piece that is known by its markup."""
        made = markup(template, context)
        return cls(identity, digest(made), lambda: made)

    @classmethod
    def showing(cls, identity: str, what: object, template: str, context: dict[str, Any]) -> Self:
        """Return a piece that is known by all that it shows: whether the page has it is told without drawing it."""
        return cls(identity, digest(repr(what)), lambda: markup(template, context))

    @cached_property
    def markup(self) -> SafeString:
        """The element, with its digest."""
        return mark_safe(self.make().replace('data-is=""', f'data-is="{self.digest}"', 1))  # noqa: S308

    @property
    def alone(self) -> SafeString:
        """Its markup where it is sent without its region."""
        before, after = _WITHIN.get(self.markup[:3], ("", ""))
        return mark_safe(f"{before}{self.markup}{after}")  # noqa: S308


_pieces = Same(12_000)


def kept_piece(shown: object, language: str, make: Callable[..., Piece]) -> Piece:
    """Return the piece of a row or a group; of the very same one as before it is at hand."""
    known: Piece | None = _pieces.get(shown, None, language)
    if known is None:
        known = make(shown, language)
        _pieces.keep(shown, None, language, known)
    return known


@dataclass
class Region:
    """A part of the page: its pieces in their order, and the frame they stand in.

    whole: whether the page shows it in another frame, so that it must be drawn anew
    news: of the pieces those that the page does not show as they are
    """

    name: str
    frame: str
    pieces: list[Piece]
    context: dict[str, Any] = field(default_factory=dict[str, Any])
    whole: bool = True
    news: list[Piece] = field(default_factory=list)

    @property
    def template(self) -> str:
        """Its template."""
        return f"workbench/_{self.name}.html"


@dataclass(frozen=True)
class Shown:
    """What the page shows: of each region its frame, and the digests of its pieces by id.

    at_rest: nothing was changed since, so that in the same frame every piece is as it was
    unfolded: of a large job the boards that the person opened
    off: regions that are not on the screen: they are not drawn
    folded: links of the chain of which only the first line is seen
    """

    frames: dict[str, str] = field(default_factory=dict)
    digests: dict[str, str] = field(default_factory=dict)
    at_rest: bool = False
    unfolded: tuple[str, ...] = ()
    off: tuple[str, ...] = ()
    folded: tuple[str, ...] = ()

    @classmethod
    def read(cls, text: str) -> Self:
        """Read what a page says it shows: `tree@frame chain@frame row-a:digest …`; what is not so is passed over."""
        frames, digests = {}, {}
        for word in text.split():
            name, at, frame = word.partition("@")
            if at:
                frames[name] = frame
            else:
                identity, _colon, made = word.rpartition(":")
                digests[identity] = made
        return cls(frames, digests)

    def settle(self, region: Region) -> Region:
        """Decide what of a region must be sent."""
        region.whole = region.name not in self.off and self.frames.get(region.name) != region.frame
        if not region.whole and (self.digests or not self.at_rest):
            region.news = [piece for piece in region.pieces if self.digests.get(piece.id) != piece.digest]
        return region
