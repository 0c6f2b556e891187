"""What can be changed of a node, link by link: each field with its place, words and choices."""

from dataclasses import dataclass, field

from django.utils.translation import gettext as _

from voltaje.books.registry import find_book
from voltaje.path.model import LoadKind
from voltaje.path.surroundings import EXEMPT
from voltaje.systems import SYSTEMS
from web.jobs.document import Document, read
from web.jobs.fields import Choice, Field
from web.workbench.chain import kind_words

_AUTO = "–"


@dataclass
class LinkFields:
    """The fields of each link."""

    load: list[Field] = field(default_factory=list)
    demand: list[Field] = field(default_factory=list)
    device: list[Field] = field(default_factory=list)
    conductor: list[Field] = field(default_factory=list)
    drop: list[Field] = field(default_factory=list)
    reason: Field | None = None

    def of(self, key: str) -> list[Field]:
        """Return the fields of a link."""
        return getattr(self, key, [])


class _Fields:
    """Makes the fields of one node."""

    def __init__(self, document: Document, key: str):
        self.document, self.key = document, key
        self.node = document["nodes"][key]
        self.book = find_book(document["job"]["book"])
        self.metric = self.book.terms.length_unit == "m"

    def at(self, path: str, label: str, choices=(), hint: str = "") -> Field:
        full = ("nodes", self.key, *path.split("."))
        value = read(self.document, full)
        if isinstance(value, list):
            value = "-".join(value)
        if isinstance(value, bool):
            value = "1" if value else "0"
        value = "" if value is None else value
        known = tuple(choices)
        if known and str(value) not in {each for each, _words in known}:
            known = (*known, (str(value), str(value)))
        return Field(full, label, str(value) if known else value, known, hint)


def node_fields(document: Document, key: str) -> LinkFields:
    """Return what can be changed of a node."""
    make, node = _Fields(document, key), document["nodes"][key]
    fields = LinkFields(load=[make.at("name", _("Name"))])
    kind = node["kind"]
    if kind in ("load", "inverter"):
        fields.load += _load_fields(make)
    elif kind == "source":
        fields.load.append(make.at("system", _("System"), tuple((name, name) for name in SYSTEMS)))
    elif kind == "transformer":
        fields.load += _transformer_fields(make)
    elif kind == "board":
        fields.load += _board_fields(make)
    if kind in ("board", "transformer", "dwelling"):
        fields.load.append(make.at("legs", _("Legs"), _legs_choices(all_legs=True)))
    if kind != "source":
        fields.demand = [make.at("run.pins.demand_va", _("Pin the demand"), hint="VA")]
        fields.device = _device_fields(make)
        fields.conductor = _run_fields(make)
        fields.drop = [
            make.at("run.length", _("Length, one way"), hint=make.book.terms.length_unit),
            make.at("run.pins.length", _("Pin the length, as measured"), hint=make.book.terms.length_unit),
        ]
        fields.reason = make.at("run.pins.reason", _("Reason of the pins"))
    return fields


def _legs_choices(all_legs: bool = False) -> tuple[Choice, ...]:
    single = (("L1", "L1"), ("L2", "L2"), ("L3", "L3"))
    pairs = (("L1-L2", "L1-L2"), ("L2-L3", "L2-L3"), ("L1-L3", "L1-L3"))
    return (("", _("all") if all_legs else _("by its way")), *single, *pairs, ("L1-L2-L3", "L1-L2-L3"))


def _load_fields(make: _Fields) -> list[Field]:
    yes_no = (("", _("by its kind")), ("1", _("yes")), ("0", _("no")))
    found = [
        make.at("load.rating", _("Rating of one")),
        make.at("load.kind", _("Kind"), tuple((kind.value, kind_words(kind.value)) for kind in LoadKind)),
        make.at("load.count", _("How many"), hint="1"),
        make.at("load.phases", _("Phases"), (("", "1"), ("3", "3"))),
        make.at("load.poles", _("Poles"), (("", _("by the supply")), ("1", "1"), ("2", "2"), ("3", "3"))),
        make.at("load.legs", _("Legs"), _legs_choices()),
        make.at("load.way", _("Way")),
        make.at("load.volts", _("Rated for"), hint="V"),
        make.at("load.power_factor", _("Power factor"), hint="1"),
        make.at("load.continuous", _("Continuous"), yes_no),
        make.at("load.nonlinear", _("Nonlinear share"), hint="0"),
        make.at("load.group", _("Never together with (group)")),
        make.at("load.neutral_group", _("Shares a neutral (group)")),
    ]
    if make.metric:
        found.append(make.at("load.diversity", _("Diversity, yours"), hint="1"))
    elif make.node["load"].get("kind") in ("range", "dryer"):
        found.append(make.at("load.household", _("Household equipment"), yes_no))
    return found


def _transformer_fields(make: _Fields) -> list[Field]:
    return [
        make.at("transformer.kva", "kVA"),
        make.at("transformer.secondary", _("Secondary"), tuple((name, name) for name in SYSTEMS)),
        make.at("transformer.connection", _("Connection"), hint="Dyn"),
        make.at("transformer.impedance_percent", _("Impedance"), hint="%"),
    ]


def _board_fields(make: _Fields) -> list[Field]:
    if make.metric:
        return [make.at("diversity", _("Diversity, yours"), hint="1")]
    occupancies = tuple((name, name) for name in make.book.occupancies)
    return [
        make.at("area.floor_area", _("Lighting by area"), hint="ft²"),
        make.at("area.occupancy", _("Occupancy"), (("", _AUTO), *occupancies)),
        make.at("area.va_per_ft2", _("Unit load, yours"), hint="VA/ft²"),
        make.at("dwellings", _("Several dwellings"), (("", _("standard")), ("optional", _("optional, 220.84")))),
    ]


def _run_fields(make: _Fields) -> list[Field]:
    terms, choices = make.book.terms, make.book.choices
    pins = [make.at("run.pins.size", _("Pin the size")), make.at("run.pins.sets", _("Pin the sets"))]
    degrees = "°" + make.document["job"].get("degrees", "C")
    role = make.at("run.role", _("Is a"), (
        ("", _("as it stands")), ("service", _("service")), ("feeder", _("feeder")),
        ("derived", _("secondary of a transformer")),
    ))  # fmt: skip
    ambient, bundled = make.at("run.ambient_c", _("Ambient"), hint=degrees), _("Bundled")
    if make.metric:
        return [
            *pins,
            make.at("run.insulation", _("Insulation"), _words(choices["insulation"], terms.insulation)),
            make.at("run.cable", _("Cable"), _words(choices["cable"], terms.cable)),
            make.at("run.method", _("Method"), _words(choices["method"], terms.method)),
            make.at("run.arrangement", _("Arrangement"), _words(choices["arrangement"], _("by the method"))),
            ambient,
            make.at("run.bundled", bundled, hint=_("circuits")),
            make.at("run.insulated_mm", _("In thermal insulation"), hint="mm"),
            make.at("run.soil_kmw", _("Soil"), hint="K·m/W"),
            role,
        ]
    return [
        *pins,
        make.at("run.material", _("Material"), (("", _("copper")), ("Al", _("aluminum")))),
        make.at("run.insulation", _("Insulation"), _words(choices["insulation"], terms.insulation)),
        make.at("run.method", _("Method"), _words(choices["method"], terms.method)),
        make.at("run.raceway", _("Raceway"), _words(choices["raceway"], terms.raceway)),
        make.at("run.terminal_c", _("Terminals"), (("", _("as the job")), ("60", "60 °C"), ("75", "75 °C"))),
        ambient,
        make.at("run.bundled", bundled, hint=_("wires")),
        make.at("run.insulated_mm", _("In thermal insulation"), hint="mm"),
        role,
        make.at("run.exempt", _("Small-conductor limits"), (("", _("hold")), *((name, name) for name in EXEMPT[1:]))),
    ]


def _device_fields(make: _Fields) -> list[Field]:
    pin = make.at("run.pins.device_a", _("Pin the device"), hint="A")
    if not make.metric:
        return [pin]
    return [
        pin,
        make.at("run.breaker_ambient", _("Keeps in its ambient"), hint="1"),
        make.at("run.breaker_neighbours", _("Keeps beside neighbours"), hint="1"),
        make.at("run.breaker_enclosure", _("Keeps in its enclosure"), hint="1"),
        make.at("run.rewireable_fuse", _("Rewireable fuse"), (("", _("no")), ("1", _("yes")))),
    ]


def _words(known, default: str) -> tuple[Choice, ...]:
    """Return names to choose from; nothing chosen is the book's own."""
    return (("", default), *((name, name) for name in known if name != default))


_PLACES = {
    "name", "system", "legs", "diversity", "dwellings",
    *(f"area.{key}" for key in ("floor_area", "occupancy", "va_per_ft2")),
    *(f"transformer.{key}" for key in ("kva", "secondary", "connection", "impedance_percent")),
    *(f"load.{key}" for key in (
        "rating", "kind", "count", "phases", "poles", "legs", "way", "volts", "power_factor", "continuous",
        "nonlinear", "group", "neutral_group", "diversity", "household",
    )),
    *(f"run.{key}" for key in (
        "length", "material", "insulation", "method", "cable", "raceway", "ambient_c", "bundled", "arrangement",
        "sets", "terminal_c", "soil_kmw", "insulated_mm", "breaker_ambient", "breaker_neighbours",
        "breaker_enclosure", "exempt", "rewireable_fuse", "role",
    )),
    *(f"run.pins.{key}" for key in ("device_a", "size", "sets", "length", "demand_va", "reason")),
}  # fmt: skip


def may_hold(path: tuple[str, ...]) -> bool:
    """Return whether a path leads to a place of a node that the workbench may set."""
    return len(path) > 2 and path[0] == "nodes" and ".".join(path[2:]) in _PLACES  # noqa: PLR2004
