"""The circuits of a path, one file a kind: each gives its list of links, and who draws them knows no kind.

`links_of` asks the file of a node's kind; `link` is the shape of what comes out, `common` what kinds share.
"""

from voltaje.design.circuits.of_kind import links_of

__all__ = ["links_of"]
