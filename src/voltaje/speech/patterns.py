"""How each quantity of the line is written: patterns made of a family's words, in the order they are looked for."""

from __future__ import annotations

import re
from functools import cache

from voltaje.speech.typed import USED
from voltaje.speech.words import either, words_of

_FRACTION = r"\d+[ -]+\d+/\d+|\d+/\d+|\d*[½⅓⅔¼¾⅕⅛⅜⅝⅞]"
_NUMBER = rf"(?:{_FRACTION}|\d{{1,3}}(?:[ \u2009\u202f]\d{{3}})+(?![\d/])(?:[.,]\d+)?|\d[\d.,]*\d|\d|\.\d+)"
_BEHIND = r"(?<![\w.,/½¼¾⅓⅔⅛])(?<![a-z]-)"
_POWER = r"(?:kva|va|kw|watts?|w)"
_AMPS = r"(?:amperes?|amps?|a)"
_NOTHING = r"(?!)"

Patterns = tuple[tuple[re.Pattern[str], str], ...]


@cache
def patterns(family: str) -> Patterns:
    """Return the patterns of a family, each with the name of what takes it."""
    raw = [*_first(family), *_devices(family), *_supply(family), *_counts(family), *_units(family), *_ways(family)]
    raw += _rest(family)
    return tuple((re.compile(pattern), name) for pattern, name in raw)


def _unit(family: str) -> str:
    """Return what may stand behind a number that is then a quantity, and no way."""
    said = words_of(family).said
    lengths, wires = rf"{said['metres']}|feet|foot|ft", "mm2?|sq|awg|kcmil"
    return rf"(?:{_POWER}|{_AMPS}|{said['horsepower']}|{lengths}|{wires}|ph|{said['poles']}|{said['phase']})"


_COPPER = {True: rf"(?<={USED} )cu|(?<={USED})cu", False: "cu"}
_AMPERES, _ALONE = r"\d+(?:[.,]\d+)?(?: ?a)?", r"(?<![\w.-])"
_NO_DEVICE = r"(?! ?(?:breaker|bkr|fuse|cb|ocpd|device)\b)"
_MOST = r"(?:mocp|mop|max ?fuse|max ?ocpd?)"
# A cable without its kind, as 12-3: gauge and wires; a fraction of an inch or of a horsepower it cannot be.
_BARE_CABLE = (
    r"(?<![\w/.,-])(?P<gauge>14|12|10|8|6)[/-][234](?: ?w/ ?g(?:r(?:oun)?d)?| ?\+ ?g)?"
    r"(?![\w/.-])(?! ?(?:a|amps?|hp|v|kw|kva|p|pole)\b)"
)
# Wires as drawings call them out: 3#6+#10G, 3 #6 & 1 #10 G, 1#8G; and those of a cable: 2-2-2-4.
_CALL_OUT = (
    r"(?<![\w.])(?:(?P<n>[1-4]) ?)?# ?(?P<size>\d{1,3}(?:/0)?)(?P<ground> ?g(?:nd|rd|round)?\b)?"
    r"(?: ?[+&,] ?(?:1 ?)?# ?(?P<earth>\d{1,2}(?:/0)?) ?g(?:nd|rd|round)?\b)?(?= |$|,)"
)
_QUAD = r"(?<![\w.-])(?P<size>\d(?:/0)?)-(?P=size)-(?P=size)(?:-(?P<earth>\d(?:/0)?))?(?![\w-])"
# Several cookers on one circuit: oven 4.6 + oven 3.4 + cooktop 6.9 kW.
_COOKER = r"(?:wall oven|double oven|oven|cooktop|range) ?(?:of )?\d+(?:[.,]\d+)?(?: ?kw)?"
_COOKERS = rf"(?<!\w){_COOKER}(?: ?(?:\+|&|,|and) ?{_COOKER}){{1,5}}(?!\w)"
_SUPPLIES = "110|115|120|208|220|230|240|277"


def _first(family: str) -> list[tuple[str, str]]:
    """Return what must be looked for before anything else: names, and figures that are no load and no device."""
    words = words_of(family)
    feet = words.said["feet"]
    inches = r"(?:\d+[ -])?(?:\d+/\d+|\d?[½¾¼]|\d+) ?(?:[\"″]|inch\b)"
    return [
        (rf"(?<![\d½¾¼])[\"“”](?P<name>[^\"“”{USED}]{{1,80}})[\"“”]", "called"),
        *(() if words.metric else [(_COOKERS, "cookers")]),
        (r"(?<![\w.,/#])(?P<n>\d{1,3})[ -]?(?:spaces?|ways?|(?:ckt|circuit)(?= (?:sub[- ]?)?panel))\b", "spaces"),
        (rf"(?<!\S)[-−]{_NUMBER} ?(?:{_unit(family)}\b|{feet})", "negative"),
        # 85'-6", 85 ft 6 in: before anything takes the inches for a raceway's.
        (
            r"(?<![\w.,/])\d{1,6} ?(?:'|ft\.?|feet|foot) ?-? ?(?:\d{1,2}(?:\.\d+)?(?:[ -]\d+/\d+)?|\d+/\d+) ?"
            r"(?:\"|″|''|in\b|inch(?:es)?\b)",
            "feet_and_inches",
        ),
        (rf"{_BEHIND}{_NUMBER}[ -]?(?:tons?|toneladas?)\b|{_BEHIND}{_NUMBER} ?k? ?btu(?:/?h|s)?\b", "output"),
        # What stands behind its label is the plate's, unless it is a breaker's; what stands before it only else.
        (
            rf"\bmca:? ?(?P<a>{_AMPERES})\b{_NO_DEVICE}"
            rf"|{_ALONE}(?P<b>{_AMPERES}) ?mca\b(?!:? ?{_AMPERES}\b{_NO_DEVICE})",
            "mca",
        ),
        (rf"\b{_MOST}:? ?(?P<a>{_AMPERES})\b|{_ALONE}(?P<b>{_AMPERES}) ?{_MOST}\b(?!:? ?\d)", "mop"),
        (
            r"(?<![\w.])(?P<z>\d+(?:[.,]\d+)?) ?% ?(?:i?z|imp(?:edance)?)\b"
            r"|\b(?:i?z|imp(?:edance)?) ?[:=]? ?(?P<z2>\d+(?:[.,]\d+)?) ?%",
            "impedance",
        ),
        # Both sides of a transformer as its plate has them: 600D-208Y/120, 480-120, 13.8kV-480Y/277.
        (
            r"(?<![\w.,/])(?:(?P<p2>\d{3}) ?v? ?[x×/] ?)?"
            r"(?:(?P<kv>\d{1,3}(?:\.\d+)?) ?kv|(?P<p>\d{1,2},\d{3}|\d{3,6}) ?v?) ?(?:[dδ]|delta)?"
            r"(?: ?[-–:] ?| to |(?:(?<=\d{4})|(?<=v))/ ?)(?P<s>\d{3}) ?"
            r"(?:(?P<delta>[dδ]|delta)|y? ?/ ?(?P<n>\d{3}))?(?: ?v(?:olts?)?)?(?![\w/])",
            "sides",
        ),
        (r"(?<![\w.,/])(?P<volts>\d{3}) ?[dδ](?![\w])", "volts"),  # a delta as plates have it: 600D
        (rf"{_BEHIND}(?P<kv>\d+(?:[.,]\d+)?) ?kv(?!\w)", "kilovolts"),
        # A plate's amperes for each of its volts: 208-230/460 V 20.6-19/9.5 A.
        (rf"{_BEHIND}(?P<amps>\d+(?:\.\d+)?(?:[-/]\d+(?:\.\d+)?)+) ?{_AMPS}(?!\w|/[a-z])", "several_amps"),
        (r"\b(?:sf|service factor):? ?(?P<a>[12](?:[.,]\d+)?)(?![\w.,])", "service_factor"),
        (rf"\b(?:managed|held|limited)(?: to| at)? (?P<d>\d+(?:[.,]\d+)?) ?{_AMPS}(?!\w)", "held_to"),
        (
            r"\b(?:multi-?wire|mwbc)\b(?: branch\b)?"
            r"|\b(?:(?:with|on|and) )?(?:an? |one |the )?(?:shar(?:e|es|ed|ing)|common)(?: an?| one| the)? neutral\b",
            "shared",
        ),
        (r"(?P<starting>\blra:? ?\d+(?:\.\d+)?)\b", "left_over"),
        (rf"\b(?:fla|rla|flc)[:=]? ?(?P<d2>\d+(?:[.,]\d+)?) ?{_AMPS}?(?!\w)", "load_amps"),
        (r"\bduty(?: cycle)?:? ?(?P<a>\d{1,3}) ?%|\b(?P<b>\d{1,3}) ?% ?duty(?: cycle)?\b", "duty"),
        (
            r"(?P<starting>\b\d+(?:\.\d+)? ?lra\b)"
            rf"|(?P<hertz>\b[56]0 ?hz\b)|(?P<inches>(?<![\w/]){inches})|(?P<curve>\btype [a-d]{{1,2}}\b)"
            r"|(?P<cores>\b[2-5][ -]?core\b)|(?P<code>\bcode(?: letter)?:? [a-v]\b)|(?P<speed>\b\d+ ?rpm\b)"
            r"|(?P<other>(?<![\w.])\d+ ?(?:gal|gallons?|litres?|liters?|cfm|psi|lbs?|°?c rise|° rise)\b)",
            "left_over",
        ),
        (
            rf"(?<![\w.,/#])(?P<n>\d+|{either(words.numbers)}) (?!(?:a|amps?|v|volts?) )"
            rf"(?=(?:\d+ ?(?:a|amps?) )?(?:[a-z&-]+ ){{1,2}}(?:circuits|ckts|circuitos)\b)",
            "circuits",
        ),
    ]


_RESIDUAL = r"(?:\brc(?:d|bo) ?)?(?<![\w.,])(?P<ma>10|30|100|300|500) ?ma\b(?: ?rcd\b)?"


def _devices(family: str) -> list[tuple[str, str]]:
    """Return what names a breaker or fuse, and the cables and receptacles that come with a rating."""
    words = words_of(family)
    breaker, circuit, on = words.said["device"], words.said["circuit"], words.said["on"]
    pole = rf"(?P<n{{}}>[123]) ?-?{words.said['poles']}(?!\w)"
    cables = either(words.cables) if words.cables else _NOTHING
    flat = either(word for word, way in words.ways.items() if "cable" in way) if words.metric else _NOTHING
    load = words.said["load"]
    return [
        (r"\b(?:nema )?(?P<shape>l?\d{1,2}-\d{2})[rp]?\b", "shape"),
        (
            rf"(?<![\w/])#?(?P<gauge>\d{{1,2}}(?:/0)?)[/-][234]"
            rf"(?: ?w/ ?g(?:r(?:oun)?d)?| ?\+ ?g)? ?(?P<kind>{cables})\b",
            "cable",
        ),
        *(() if words.metric else [(_BARE_CABLE, "bare_cable"), (_CALL_OUT, "call_out"), (_QUAD, "call_out")]),
        # 2.5/1.5 T&E, 10 mm SWA: the lines, and an earth conductor that follows from its device.
        (
            rf"(?<![\w.,/])(?P<mm2>\d{{1,3}}(?:[.,][05])?)(?:/(?P<cpc>\d{{1,2}}(?:[.,]5)?))?(?: ?mm2?| ?mm²)?"
            rf"(?= {flat}(?!\w))",
            "flat_cable",
        ),
        (
            rf"(?:\b{on} )?(?:\ban? )?(?:(?<![\w.,])(?P<d1>\d+) ?{_AMPS} {breaker}(?!\w)"
            rf"|\b{breaker} ?(?P<d2>\d+) ?{_AMPS}?(?!\w)|\b(?:{circuit}|dedicated) (?P<d3>\d+) ?{_AMPS}\b"
            rf"|(?<![\w.,])(?P<d4>\d+) ?{_AMPS}(?=[ -]{circuit}(?!\w)))",
            "device",
        ),
        (
            rf"(?<![\w.,])(?P<n3>[123])-?p-?(?P<d3>\d{{2,3}}) ?a?\b"
            rf"|(?<![\w.,])(?P<d1>\d{{1,4}}) ?{_AMPS} ?[ /-] ?{pole.format(1)}"
            rf"|(?<![\w.,]){pole.format(2)}[ /-]? ?(?P<d2>\d{{1,4}}) ?{_AMPS}\b"
            + ("" if words.metric else r"|(?<![\w.,/-])(?P<d4>\d{2,4})/(?P<n4>[123])(?![\w/])"),
            "device_by_poles",
        ),
        (rf"(?<![\w.,])(?P<curve>[bcd])(?P<d>\d{{1,3}})\b(?: {breaker}(?!\w))?", "device_by_curve"),
        *(((_RESIDUAL, "residual"), (r"\btype (?P<curve>[bcd])\b(?! rcd)", "curve")) if words.metric else ()),
        (
            rf"(?<![\w.,])(?P<d1>\d+(?:[.,]\d+)?) ?{_AMPS}? ?(?:fla|rla|flc|{load})\b"
            rf"|\b(?:fla|rla|flc|{load})[:=]? ?(?P<d2>\d+(?:[.,]\d+)?) ?{_AMPS}?(?!\w)",
            "load_amps",
        ),
    ]


def _supply(family: str) -> list[tuple[str, str]]:
    """Return how systems, volts, phases, poles and legs are written."""
    said = words_of(family).said
    three, single, two = said["three_whole"], said["single_whole"], said["two_whole"]
    return [
        (r"(?<![\w/])(?P<a>\d{3}) ?v? ?(?P<y>y?) ?/? ?(?P<b>\d{3})(?!\d)(?: ?v(?:olts?)?\b)?", "system"),
        (
            rf"(?<![\w.])(?P<volts>\d{{3}}) ?v?[/-] ?(?P<n>[13])(?: ?-?{said['phase']})?(?P<hertz>/[56]0)?(?![\w/])",
            "volts_and_phase",
        ),
        (
            rf"(?<![\w.,/])(?:(?P<three>{said['three']})|(?P<two>2)|{said['single']})[ -]?{said['phase']}(?![a-z])"
            r"(?:[ ,]*[34][ -]?w(?:ires?)?\b)?",
            "phases",
        ),
        (rf"(?<!\w)(?:(?P<three>{three})|(?P<two>{two})|{single})(?!\w)", "phases"),
        (rf"\b(?P<n>[123]|single|double|triple|two|three|one)[ -]?{said['poles']}(?!\w)", "poles"),
        (
            r"\b(?:on )?(?:legs? |phases? )?(?P<legs>l[123](?:[-/, ]{0,2}l[123]){0,2})\b"
            r"|\b(?:on )?(?:leg|phase) (?P<letter>[abc])\b",
            "legs",
        ),
    ]


def _ways(family: str) -> list[tuple[str, str]]:
    """Return how a run is said to be made, and the way it is on."""
    words = words_of(family)
    circuit = words.said["circuit"]
    return [
        (
            r"\b(?:pf|p\.f\.|power factor|cos ?(?:φ|phi)?) ?[=:]? ?(?P<before>[01]?[.,]\d+|1)\b"
            r"|(?<=\s)(?P<after>[01]?[.,]\d+) ?(?:pf|power factor)\b",
            "power_factor",
        ),
        (r"\b(?P<non>non[- ]?continuous)\b|(?:(?P<share>\d+) ?% ?)?\bcont(?:inuous)?\b\.?", "continuous"),
        (
            r"\bambient(?: of)? (?P<one>-?\d+) ?°? ?(?P<u1>[cf])\b|(?P<two>-?\d+) ?° ?(?P<u2>[cf])\b(?: ambient)?"
            r"|\b(?P<three>\d+) ?(?P<u3>[cf]) ambient\b",
            "ambient",
        ),
        # Under a metric code CU alone is a consumer unit; behind a size it is copper.
        (rf"\b(?:copper|{_COPPER[words.metric]}|aluminium|aluminum|alum|alu|al)\b", "material"),
        (rf"\b(?:in |on )?(?:an? )?(?<!\w)(?P<word>{either(words.ways)})(?![\w&])", "ways"),
        (r"\bmethod (?P<letter>[a-f])\b", "method"),
        # A number with a unit behind it is a rating or a length, not a way: "cooker circuit 32 A".
        (
            rf"\b(?:on )?(?:way|{circuit}) ?#?(?P<way>\d+)\b(?![.,/]\d)(?! \d{{3}}\b)"
            r"(?! (?:receptacles|outlets|sockets|plugs|lights|lamps|luminaires|fixtures|points)\b)"
            rf"(?! ?{_unit(family)}\b)(?! ?(?:mm²|'|%|°))",
            "way",
        ),
    ]


def _counts(family: str) -> list[tuple[str, str]]:
    """Return how many of it there are."""
    words = words_of(family)
    said, word = words.said, rf"(?:\d+|{either(words.numbers)})"
    return [
        (rf"\b(?:all )?on (?:one|1|a|a single|the same) {said['circuit']}(?!\w)", "together"),
        (rf"(?<![\w.,/#])(?P<n>{word}) [ {USED}]*{said['circuit']}(?!\w)", "circuits"),
        (
            rf"(?<![\w.,/])(?P<c1>\d+) ?[x×](?=[ \d]|$)|(?<!\w)[x×] ?(?P<c2>\d+)\b|\bqty:? ?(?P<c3>\d+)\b"
            rf"|(?<!\S)\((?P<c4>\d+)\)|\b(?P<c5>\d+) ?@|(?<![\w.,/])(?P<c6>{word}) ?{said['of_them']}(?![\w.])"
            rf"|(?<![\w.,/])(?P<c7>{word}) ?{said['each']}(?!\w)",
            "count",
        ),
    ]


def _units(family: str) -> list[tuple[str, str]]:
    """Return what is told by its unit, then sizes."""
    said = words_of(family).said
    square_feet, square_metres = r"(?:sq\.? ?ft|sf|sqft|ft2|ft²|square feet)", r"(?P<metric>m2|m²|sqm|sq\.? ?m)"
    return [
        (
            rf"{_BEHIND}(?P<number>{_NUMBER})[ -]?(?:(?P<unit>{_POWER})|(?P<hp>{said['horsepower']}))(?!\w|/[a-z])",
            "power",
        ),
        (rf"{_BEHIND}(?P<number>{_NUMBER})[ -]?{_AMPS}(?!\w|/[a-z])", "amps"),
        # A supply's volts before an outlet are its volts: nobody has 110 of them.
        (
            r"(?<![\w.,/])(?P<volts>110|115|120|208|220|230|240|277) (?=(?:outlets?|plugs?|receptacles?|sockets?)\b)",
            "volts",
        ),
        (rf"(?<![\w.,½¼¾⅓⅔⅛])(?P<volts>\d+(?:[.,]\d+)?(?:[/Yy-]+\d+)*) ?{said['volts']}(?!\w)", "volts"),
        (rf"{_BEHIND}(?P<number>{_NUMBER})[ -]?(?:{square_feet}|{square_metres})(?!\w)", "area"),
        (
            rf"{_BEHIND}(?P<number>{_NUMBER})[ -]?"
            rf"(?:(?P<yards>yards?|yd)|(?P<metres>{said['metres']})|{said['feet']})(?!\w)",
            "length",
        ),
        # A #2 behind a noun is its name ("pump #2"); behind a quantity, or before what a wire is made of, a size.
        (
            rf"(?<={USED})[ ,]*#(?P<hash>\d+(?:/0)?)\b|#(?P<hash2>\d+(?:/0)?)(?= (?:cu|al|copper|awg|wire|th[hw]|xhhw))"
            rf"|\b(?P<awg>\d+(?:/0)?) ?awg\b|\b(?P<kcmil>\d+) ?(?:kcmil|mcm)\b|(?<![\w/])(?P<ought>[1-4]/0)(?![\w/])"
            rf"|\b(?P<mm2>\d+(?:[.,]\d+)?) ?(?:mm2|mm²|sq ?mm)(?!\w)|(?<![\w.])(?P<mm>\d+(?:[.,]\d+)?) ?mm\b",
            "size",
        ),
    ]


def _rest(family: str) -> list[tuple[str, str]]:
    """Return what is looked for when all else is found: "each", and the board it is on."""
    said = words_of(family).said
    return [
        (rf"(?<![\w/]){said['each']}(?!\w)", "said_each"),
        (rf"\b{said['on']} (?:the )?(?P<board>[^{USED}]+?)(?=[ ,]*(?:{USED}|$))", "board"),
    ]
