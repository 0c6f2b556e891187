"""What a job connects to earth, drawn: enclosures with their bars and jumpers, electrodes in the ground, sizes on each.

Every part is a group of its own, so that it can be touched. Places stand side by side in the order of the supply.
"""

from collections.abc import Iterable

from django.utils.translation import gettext as _

from voltaje.design.earth import BUILDING, DERIVED, SERVICE, EarthPlan, Part, Place
from web.drawing.oneline.blocks import wrapped
from web.drawing.shapes import Drawing, Group, Shape
from web.words.figures import say

_WIDTH = {SERVICE: 300.0, DERIVED: 336.0, BUILDING: 150.0}
_GAP, _TOP, _BOX_BOTTOM, _GROUND, _HEIGHT = 26.0, 58.0, 252.0, 372.0, 486.0
_LINES_Y, _NEUTRAL_Y, _BAR_Y = (88.0, 101.0, 114.0), 152.0, 204.0
_ELECTRODE_BAR_Y = 312.0
_LEAST_WIDTH = 520.0


def earth_drawing(plan: EarthPlan) -> Drawing:
    """Return the drawing of all places; each group's key is its node, its part the key of what it shows."""
    x, groups = 10.0, list[Group]()
    for place in plan.places:
        groups += _place(place, x)
        x += _WIDTH[place.kind] + _GAP
    width = max(x, _LEAST_WIDTH)
    soil = Shape("soil", d=f"M0 {_GROUND}H{width}V{_HEIGHT}H0Z")
    line = Shape("line", d=f"M0 {_GROUND}H{width}")
    return Drawing(width, _HEIGHT, [Group("", "", 0.0, 0.0, (soil, line), "soil"), *groups])


def _place(place: Place, x: float) -> list[Group]:
    if place.kind == DERIVED:
        return _derived(place, x)
    if place.kind == BUILDING:
        return _building(place, x)
    return _iec_service(place, x) if place.system else _service(place, x)


def _group(place: Place, part: str, shapes: Iterable[Shape]) -> Group:
    known = place.parts.get(part)
    title = f"{say(known.name)} {known.size} {known.unit}" if known else place.name
    return Group(f"{place.kind}-{place.key}", title, 0.0, 0.0, tuple(shapes), f"-{part}")


def _said(part: Part | None, x: float, y: float, look: str = "earthword") -> list[Shape]:
    return [Shape(look, x, y, text=f"{part.size} {part.unit}")] if part else []


def _frame(place: Place, x: float, width: float, under: str) -> list[Shape]:
    name = wrapped(place.name, "name", width, 1)
    return [
        Shape("name", x, 22, text=name[0], title=place.name),
        Shape("value", x, 40, text=under),
        Shape("case", d=f"M{x} {_TOP}H{x + width}V{_BOX_BOTTOM}H{x}Z"),
    ]


def _lines(place: Place, x: float, to: float, breaker: float) -> list[Shape]:
    """Return the line conductors from the left to a place, with the blades of their device."""
    ys = _LINES_Y if place.three else _LINES_Y[:2]
    shapes = [Shape("wire", d=f"M{x} {y}H{to}", width=4.0) for y in ys]
    for y in ys:
        shapes += [Shape("gap", d=f"M{breaker - 12} {y - 4}h24v8h-24Z"), Shape("line", d=f"M{breaker - 12} {y}l22 -9")]
    return shapes


# A service under the NEC


def _service(place: Place, x: float) -> list[Group]:
    box, width = x + 92, 208.0
    neutral, bar = box + 14, box + 34
    own = [*_frame(place, box, width, _("service disconnect")), *_lines(place, x, box + width, box + 130)]
    own.append(Shape("value", x, _LINES_Y[0] - 10, text=place.lines))
    own += [
        Shape("open", d=f"M{neutral} {_NEUTRAL_Y - 7}h120v14h-120Z"),
        Shape("value", neutral + 40, _NEUTRAL_Y - 12, text=_("neutral bar")),
        Shape("bar", d=f"M{bar} {_BAR_Y}h130"),
        Shape("value", bar + 4, _BAR_Y + 24, text=_("ground bar, on the steel")),
    ]
    groups = [_group(place, "box", own)]
    y = _NEUTRAL_Y
    d = f"M{x} {y}H{neutral}"
    grounded = place.parts.get("grounded")
    groups.append(
        _group(
            place,
            "grounded",
            [
                Shape("neutral", d=d),
                Shape("neutral-core", d=d),
                Shape("value", x, y - 24, text=_("grounded")),
                *_said(grounded, x, y - 8, "name"),
            ],
        )
    )
    groups.append(
        _group(
            place,
            "jumper",
            [
                Shape("bond", d=f"M{neutral + 70} {y + 7}V{_BAR_Y - 5}", width=8.0),
                Shape("value", neutral + 80, y + 25, text=_("main jumper")),
                *_said(place.parts.get("jumper"), neutral + 80, y + 42),
            ],
        )
    )
    return [*groups, *_electrodes(place, x, neutral + 14)]


_ELECTRODES = ("water_pipe", "concrete_encased", "rod", "ring", "steel")


def _electrodes(place: Place, x: float, start: float) -> list[Group]:
    """Return the bar that the electrode conductors meet on, and each electrode in the ground with its conductor."""
    there = [key for key in _ELECTRODES if key in place.parts]
    if not there:
        return []
    apart = 62.0
    first = x + 32
    last = first + apart * (len(there) - 1)
    whole = max((place.parts[key] for key in there), key=lambda part: _rank(part.size))
    groups = [
        _group(
            place,
            whole.key if whole.key != "ring" else "water_pipe",
            [
                Shape("bond", d=f"M{start} {_NEUTRAL_Y + 7}V{_ELECTRODE_BAR_Y}", width=4.5),
                Shape("bar", d=f"M{min(first, start) - 8} {_ELECTRODE_BAR_Y}H{max(last, start) + 8}"),
                Shape("value", start + 8, _BOX_BOTTOM + 20, text=_("electrode conductor")),
                *_said(whole, start + 8, _BOX_BOTTOM + 38),
            ],
        )
    ]
    groups[0] = Group(groups[0].key, groups[0].title, 0.0, 0.0, groups[0].shapes, "-electrodes")
    for at, key in enumerate(there):
        cx = first + at * apart
        name, shapes = _electrode(key, cx)
        groups.append(
            _group(
                place,
                key,
                [
                    Shape("bond", d=f"M{cx} {_ELECTRODE_BAR_Y}V{_GROUND + 24}"),
                    *shapes,
                    Shape("earthword", cx + 6, _ELECTRODE_BAR_Y + 34, text=place.parts[key].size),
                    Shape("letter", cx, _HEIGHT - 12, text=name),
                ],
            )
        )
    return groups


def _rank(size: str) -> float:
    """Return a size's place among sizes: 6 below 4 below 1/0 below 250."""
    plain = size.rpartition("× ")[2]
    if "/" in plain:
        return 100.0 + float(plain.split("/")[0])
    value = float(plain)
    return value if value >= _KCMIL else -value


_KCMIL = 200


def _electrode(key: str, x: float) -> tuple[str, list[Shape]]:
    """Return an electrode's name and how it lies in the ground."""
    y = _GROUND + 24
    if key == "water_pipe":
        pipe = [Shape("open", d=f"M{x - 26} {y}h52v15h-52Z"), Shape("bar", d=f"M{x - 5} {y + 7}h10")]
        return _("water pipe"), pipe
    if key == "concrete_encased":
        return _("footing"), [
            Shape("open", d=f"M{x - 20} {y}h40l6 34h-52Z"),
            Shape("line", d=f"M{x - 14} {y + 12}h28m-26 9h26"),
        ]
    if key == "rod":
        return _("rod"), [Shape("bar", d=f"M{x - 5} {y - 4}h10"), Shape("open", d=f"M{x - 4} {y}h8v40l-4 12l-4 -12Z")]
    if key == "ring":
        return _("ring"), [Shape("wire", d=f"M{x - 24} {y + 14}a24 10 0 1 0 48 0a24 10 0 1 0 -48 0", width=3.0)]
    steel = [Shape("line", d=f"M{x - 7} {_GROUND - 22}V{y + 20}M{x + 7} {_GROUND - 22}V{y + 20}")]
    return _("steel"), [*steel, Shape("open", d=f"M{x - 22} {y + 20}h44v18h-44Z")]


# A derived system: the transformer, and the first disconnect that it feeds


def _derived(place: Place, x: float) -> list[Group]:
    box, width = x + 2, 124.0
    other = box + width + 88
    middle = box + 66
    own = [*_frame(place, box, width, _("a source of its own")), *_windings(middle, 100)]
    own += [
        Shape("name", other, 22, text=wrapped(place.feeds or " ", "name", 118, 1)[0], title=place.feeds),
        Shape("value", other, 40, text=_("first disconnect")),
        Shape("case", d=f"M{other} {_TOP}h122V{_BOX_BOTTOM}h-122Z"),
        *_lines(place, middle + 34, other + 112, other + 52),
        Shape("value", box + width + 4, _LINES_Y[0] - 10, text=place.lines),
        Shape("bar", d=f"M{box + 12} {_BAR_Y}h{width - 24}"),
        Shape("bar", d=f"M{other + 10} {_BAR_Y}h102"),
        Shape("open", d=f"M{other + 22} {_NEUTRAL_Y - 7}h88v14h-88Z"),
        Shape("terminal", middle, _NEUTRAL_Y, r=13),
        Shape("letter", middle, _NEUTRAL_Y + 4, text="X0"),
    ]
    d = f"M{middle + 13} {_NEUTRAL_Y}H{other + 22}"
    own += [Shape("neutral", d=d), Shape("neutral-core", d=d), Shape("neutral", d=f"M{middle} 122V{_NEUTRAL_Y - 13}")]
    if place.bond_here:
        own.append(Shape("value", other + 10, _NEUTRAL_Y + 26, text=_("kept off the steel")))
    groups = [_group(place, "box", own)]
    if "ground" in place.parts:
        groups.append(
            _group(
                place,
                "ground",
                [
                    Shape("earth", d=f"M{x - _GAP - 40} {_BAR_Y}H{box + 12}"),
                    *_said(place.parts["ground"], x - _GAP - 44, _BAR_Y - 10),
                ],
            )
        )
    if "supply_side" in place.parts:
        groups.append(
            _group(
                place,
                "supply_side",
                [
                    *(Shape("earth", d=f"M{box + width - 12} {_BAR_Y + dy}H{other + 10}") for dy in (-2, 4)),
                    *_said(place.parts["supply_side"], box + width + 4, _BAR_Y + 26),
                ],
            )
        )
    jumper = place.parts.get("jumper")
    if jumper:
        at = middle if place.bond_here else other + 40
        low = _NEUTRAL_Y + (13 if place.bond_here else 7)
        said = (box + 6, 186.0) if place.bond_here else (at + 10, 186.0)
        groups.append(
            _group(place, "jumper", [Shape("bond", d=f"M{at} {low}V{_BAR_Y - 5}", width=9.0), *_said(jumper, *said)])
        )
        groups.append(_second_bond(place, other + 40 if place.bond_here else middle, middle, other))
    electrode = place.parts.get("electrode")
    if electrode:
        start = middle + 20 if place.bond_here else other + 76
        shapes = _electrode("steel", start)[1]
        groups.append(
            _group(
                place,
                "electrode",
                [
                    Shape("bond", d=f"M{start} {_BAR_Y}V{_GROUND - 20}", width=4.5),
                    *shapes,
                    *_said(electrode, start + 8, _BOX_BOTTOM + 24),
                    Shape("value", start + 8, _BOX_BOTTOM + 42, text=_("electrode conductor")),
                    Shape("letter", start, _HEIGHT - 12, text=_("steel or pipe")),
                ],
            )
        )
    return groups


def _second_bond(place: Place, at: float, middle: float, other: float) -> Group:
    """Return what a second bond would do, drawn but not shown: neutral current through the steel."""
    low = _NEUTRAL_Y + 7
    shapes = [
        Shape("wrong", d=f"M{at} {low}V{_BAR_Y - 5}", width=9.0),
        Shape("wrong", d=f"M{other + 20} {_BAR_Y}H{middle}", width=4.0),
        Shape("wrong-word", middle + 40, _BAR_Y - 12, text=_("neutral current in the steel")),
    ]
    return Group(f"{place.kind}-{place.key}", _("a second bond: not allowed"), 0.0, 0.0, tuple(shapes), "-second")


def _windings(x: float, y: float) -> list[Shape]:
    return [Shape("open", x - 15, y, r=22), Shape("line", x + 15, y, r=22)]


# A building of its own


def _building(place: Place, x: float) -> list[Group]:
    middle = x + 80
    own = [
        Shape("name", x, 232, text=wrapped(place.name, "name", 160, 1)[0], title=place.name),
        Shape("value", x, 249, text=_("a building of its own")),
        Shape("case", d=f"M{x + 20} {_GROUND}V292L{middle} 258L{x + 140} 292V{_GROUND}"),
        Shape("bar", d=f"M{middle - 24} 316h48"),
    ]
    name, shapes = _electrode("rod", middle)
    groups = [_group(place, "box", own)]
    if "ground" in place.parts:
        groups.append(
            _group(
                place,
                "ground",
                [Shape("earth", d=f"M{x - _GAP} 306H{middle}V312"), *_said(place.parts["ground"], x - _GAP + 2, 300)],
            )
        )
    groups.append(
        _group(
            place,
            "rod",
            [
                Shape("bond", d=f"M{middle} 320V{_GROUND + 24}"),
                *shapes,
                *_said(place.parts.get("rod"), middle + 8, 350),
                Shape("letter", middle, _HEIGHT - 12, text=name),
            ],
        )
    )
    return groups


# A supply in the IEC family


def _iec_service(place: Place, x: float) -> list[Group]:
    """Return the supply's head, the board, the main earthing terminal and what is bonded to it."""
    head, board, met = x + 4, x + 190, x + 78
    combined, own_electrode = place.system == "TN-C-S", place.system == "TT"
    own = [
        Shape("name", x, 22, text=wrapped(place.name, "name", 300, 1)[0], title=place.name),
        Shape("value", x, 40, text=f"{place.system} · {place.lines}"),
        Shape("case", d=f"M{head} {_TOP}h86V182h-86Z"),
        Shape("value", head + 6, 74, text=_("supply's head")),
        Shape("case", d=f"M{board} {_TOP}h134V{_BOX_BOTTOM}h-134Z"),
        Shape("value", board + 8, 74, text=_("board")),
        *_lines(place, x, board + 120, board + 50),
        Shape("bar", d=f"M{met} 284h150"),
        Shape("earthword", met + 24, 276, text=_("main earthing terminal")),
        Shape("bar", d=f"M{board + 14} 214h100"),
        Shape("earth", d=f"M{board + 30} 219V280"),
    ]
    d = f"M{x} 140H{board + 110}"
    own += [Shape("neutral", d=d), Shape("neutral-core", d=d), Shape("letter", board + 118, 144, text="N")]
    if combined:
        own.append(Shape("bond", d=f"M{head + 60} 143V162", width=7.0))
        own.append(Shape("value", head - 2, 200, text=_("N and earth joined here")))
    elif not own_electrode:
        own.append(Shape("earth", d=f"M{x} 160H{head + 60}"))
        own.append(Shape("value", head - 2, 200, text=_("earth of the supply's cable")))
    groups = [_group(place, "box", own)]
    earthing = place.parts.get("earthing")
    if own_electrode:
        name, shapes = _electrode("rod", met + 20)
        conductor = [
            Shape("bond", d=f"M{met + 20} 288V{_GROUND + 24}"),
            *shapes,
            Shape("letter", met + 20, _HEIGHT - 12, text=name),
            *_said(earthing, met + 28, 340),
        ]
    else:
        conductor = [Shape("bond", d=f"M{head + 60} 162V250H{met + 10}V280"), *_said(earthing, head - 2, 244)]
    groups.append(_group(place, "earthing", conductor))
    bonding = place.parts.get("bonding")
    shapes = [Shape("earthword", board + 102, 350, text=f"{bonding.size} {bonding.unit}" if bonding else "")]
    for at, name in enumerate((_("water"), _("gas"), _("steel"))):
        cx = board - 30 + at * 62
        shapes += [
            Shape("bond", d=f"M{met + 140 - at * 8} 288V{300 + at * 9}H{cx}V{_GROUND + 20}"),
            Shape("open", d=f"M{cx - 22} {_GROUND + 20}h44v14h-44Z"),
            Shape("letter", cx, _HEIGHT - 52, text=name),
        ]
    groups.append(_group(place, "bonding", shapes))
    return groups
