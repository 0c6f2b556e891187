"""Which sketches the sheet of a tool shows, each made of the facts of its answer."""

from collections.abc import Callable, Mapping
from typing import Any, NamedTuple

from django.utils.text import capfirst
from django.utils.translation import gettext as _

from voltaje.books.answers import Terms, sets_of
from voltaje.design.loops import KINDS
from web.drawing.legs import colour
from web.drawing.shapes import Drawing
from web.drawing.sketch import amounts, coils, inverter, kitchen, legs, loop, motor, service
from web.drawing.sketch.circuit import Circuit, circuit
from web.drawing.sketch.scales import Bar, bars
from web.words.figures import say, write

Facts = Mapping[str, Any]
_THREE = 3


class Picture(NamedTuple):
    """A sketch, and what it is to who cannot see it."""

    drawing: Drawing
    label: str


# Words that drawings have in common


def rating(amps: float) -> str:
    """A device's rating in words."""
    return f"{write(amps)} A"


def conductor(found: Any, terms: Terms) -> str:
    """A conductor of an answer as it is read aloud: `2 × 250 kcmil Cu`."""
    size = sets_of(found["size"], found.get("sets", 1))
    return f"{size} {terms.gauge(found['size'])} {found.get('material', '')}".rstrip()


def _board(facts: Facts) -> str:
    return str(capfirst(facts["w"]["board"]))


def _ground(found: Any, terms: Terms) -> str:
    if not found:
        return ""
    word = _("ground") if terms.family == "nec" else _("earth")
    return f"{word} {conductor(found, terms)}"


def _volts(volts: float, phases: int) -> str:
    return f"{write(volts)} V, 3 ph" if phases == _THREE else f"{write(volts)} V"


def _amps(amps: float, decimals: int = 1) -> str:
    return f"{write(amps, decimals)} A"


def _drop(result: Facts) -> str:
    volts, percent = result.get("drop_v"), result.get("drop_percent")
    parts = [f"{write(volts, 1)} V" if volts else "", f"{write(percent, 1)} %" if percent else ""]
    return ", ".join(part for part in parts if part)


# Sketches by tool


def _circuit(facts: Facts, load: str, amps: float, plate: str = "") -> Picture:
    asked, result, terms = facts["asked"], facts["r"], facts["book"].terms
    drawn = circuit(
        Circuit(
            terms.symbols == "iec",
            _board(facts),
            _volts(asked.volts, asked.phases),
            _THREE if asked.phases == _THREE else 2,
            rating(result["device_a"]),
            conductor(result["conductor"], terms),
            _ground(result["equipment_ground"], terms),
            load,
            _amps(amps),
            plate,
            facts["length"],
            _drop(result),
        )
    )
    return Picture(drawn, _("The circuit drawn: panel, breaker, conductors, load"))


def _run(facts: Facts) -> Picture:
    return _circuit(facts, _amps(facts["asked"].amps), facts["asked"].amps)


def _appliance(facts: Facts) -> Picture:
    return _circuit(facts, say(facts["kind_words"]), facts["r"]["amps"], facts["plate"])


def _appliance_scale(facts: Facts) -> Picture:
    result = facts["r"]
    device, most = result["device_a"], result["device_max_a"]
    over = most > device
    rows = [
        Bar(_("it draws"), result["amps"], _amps(result["amps"]), "busbar"),
        Bar(_("wire must carry"), result["required_a"], _amps(result["required_a"], 2)),
        Bar(
            _("breaker"),
            device,
            rating(device),
            strong="big",
            dot=True,
            most=most if over else 0.0,
            most_words=_("at most %(device)s") % {"device": rating(most)} if over else "",
        ),
    ]
    return Picture(bars(rows), _("Load, need, device on a scale of amperes"))


def _motor(facts: Facts) -> Picture:
    asked, result, found, terms = facts["asked"], facts["r"], facts["found"], facts["book"].terms
    branch = found.circuit
    locked = result["locked_rotor_a"]
    why = ""
    if branch.short_circuit_only:
        why = _("Two guards share the work: that is why a %(device)s device may stand on a wire that carries %(amps)s.")
        why %= {"device": rating(result["device_a"]), "amps": _amps(found.design.capacity.ampacity_a, 0)}
    elif branch.curve:
        why = _("Type %(curve)s: it does not trip at once at the %(amps)s of the start.")
        why %= {"curve": branch.curve, "amps": _amps(locked, 0)}
    ways = " · ".join(
        part
        for part in (
            facts["length"],
            _("drop %(drop)s") % {"drop": _drop(result)} if facts["length"] and result.get("drop_v") else "",
        )
        if part
    )
    output = f"{write(asked.hp, 2)} hp" if asked.hp else f"{write(asked.kw, 2)} kW" if asked.kw else ""
    seen = motor.MotorCircuit(
        terms.symbols == "iec",
        _board(facts),
        _volts(asked.volts, asked.phases),
        asked.phases != 1,
        branch.device_kind in ("dual_element_fuse", "nontime_delay_fuse"),
        branch.short_circuit_only,
        rating(result["device_a"]),
        conductor(result["conductor"], terms),
        ways,
        _ground(result["equipment_ground"], terms),
        _("%(amps)s or more") % {"amps": _amps(result["disconnect_min_a"])},
        _amps(result["overload_a"]),
        _("never over %(amps)s") % {"amps": _amps(result["overload_max_a"])} if branch.short_circuit_only else "",
        output,
        _amps(result["flc_a"]),
        _("starts at %(amps)s") % {"amps": _amps(locked, 0)} if locked else "",
        why,
    )
    return Picture(motor.motor_circuit(seen), _("The circuit drawn: panel, disconnect, starter, motor"))


def _motor_devices(facts: Facts) -> Picture:
    result, found = facts["r"], facts["found"]
    kinds = [
        motor.Reach(
            f"device_kind={kind['key']}",
            say(kind["title"]),
            kind["reach"].first_a,
            kind["reach"].most_a,
            _("%(percent)s %% of %(amps)s, to %(most)s %%")
            % {
                "percent": write(kind["reach"].percent),
                "amps": _amps(result["flc_a"]),
                "most": write(kind["reach"].most_percent),
            },
            kind["key"] == found.circuit.device_kind,
        )
        for kind in facts["kinds"]
    ]
    marks = motor.Marks(result["flc_a"], found.design.capacity.ampacity_a, result["locked_rotor_a"] or 0.0)
    return Picture(motor.reaches(kinds, marks), _("Kinds of devices on a scale of amperes"))


_CURVES = {"current_percent": "curve-current", "heating_percent": "curve-heating", "torque_percent": "curve-torque"}


def _motor_volts(facts: Facts) -> Picture:
    result = facts["r"]
    curves = [motor.Curve(say(each["words"]), _CURVES[each["key"]], each["points"]) for each in facts["curves"]]
    said = _("%(current)s %% A · %(heat)s %% heat · %(torque)s %% torque") % {
        "current": write(result["current_percent"]),
        "heat": write(result["heating_percent"]),
        "torque": write(result["torque_percent"]),
    }
    drawn = motor.on_other_volts(curves, result["rated_v"], facts["asked"].supply_v, said)
    return Picture(drawn, _("Current, heating and torque by voltage"))


def _motor_feeder(facts: Facts) -> Picture:
    result, terms = facts["r"], facts["book"].terms
    motors = [
        motor.Fed(each["name"], rating(each["device_a"]), _amps(each["flc_a"]), each["count"])
        for each in result["motors"]
    ]
    drawn = motor.motor_feeder(
        _("%(device)s at most") % {"device": rating(result["device_max_a"])},
        f"{write(facts['volts'])} V" if facts["volts"] else "",
        conductor(result["conductor"], terms),
        _("%(amps)s needed") % {"amps": _amps(result["conductor_min_a"])},
        motors,
        terms.symbols == "iec",
    )
    return Picture(drawn, _("The feeder, its bus and the motors"))


def _kitchen(facts: Facts) -> Picture:
    result, found, terms = facts["r"], facts["found"], facts["book"].terms
    least = result["neutral_min"]
    taps = [
        kitchen.Cooker(
            tap.unit.kind,
            f"{tap.unit.name} {write(tap.unit.va / 1000, 1)} kW",
            _("tap %(size)s") % {"size": f"{tap.size} {terms.gauge(tap.size)}"},
            " · ".join(part for part in (_amps(tap.amps), long) if part),
        )
        for tap, long in zip(found.taps, facts["lengths"], strict=False)
    ]
    alone = facts["units"][0]
    carries = _("carries %(amps)s") % {"amps": _amps(found.design.capacity.ampacity_a, 0)}
    beneath = ""
    if least:
        beneath = _("70 %% of %(device)s = %(amps)s") % {
            "device": rating(result["device_a"]),
            "amps": _amps(least["amps"]),
        }
    seen = kitchen.Kitchen(
        terms.symbols == "iec",
        _board(facts),
        rating(result["device_a"]),
        conductor(result["conductor"], terms),
        " · ".join(part for part in (facts["branch_length"], carries) if part),
        _("neutral %(size)s") % {"size": found.design.neutral} if found.design.neutral else "",
        beneath,
        _("ground %(size)s") % {"size": found.design.earth.size},
        _amps(result["amps"]),
        taps or [kitchen.Cooker(alone.kind, f"{alone.name} {write(alone.va / 1000, 1)} kW")],
    )
    return Picture(kitchen.kitchen(seen), _("The kitchen drawn: panel, box, taps, appliances"))


def _inverter(facts: Facts) -> Picture:
    asked, result, rule, terms = facts["asked"], facts["r"], facts["rule"], facts["book"].terms
    device, kept = result["device_a"], rule.factors.all
    said = [_("It carries %(amps)s for hours on end.") % {"amps": _amps(result["needed_a"], 2)}]
    if kept < 1:
        said = [
            _("Where it stands it keeps %(kept)s %% of its rating: %(device)s carries %(carries)s.")
            % {"kept": write(kept * 100), "device": rating(device), "carries": _amps(device * kept)}
        ]
    plain = result["device_at_factors_of_1_a"]
    if plain and plain != device:
        said.append(_("With all factors 1 it would be %(device)s.") % {"device": rating(plain)})
    seen = inverter.Inverter(
        _board(facts),
        rating(asked.main_a) if asked.main_a else "",
        rating(asked.busbar_a) if asked.busbar_a else "",
        rating(device),
        asked.phases,
        _amps(result["amps"]),
        conductor(result["conductor"], terms) if result["conductor"] else "",
        _ground(result["equipment_ground"], terms),
        said,
    )
    return Picture(inverter.inverter(seen), _("The inverter, its breaker, the board that it feeds"))


def _busbar(facts: Facts) -> Picture:
    asked, least = facts["asked"], facts["r"]["busbar_min_a"]
    rows = [Bar(_("asked of it"), least, _amps(least))]
    if asked.busbar_a:
        rows.append(Bar(_("it is rated"), asked.busbar_a, rating(asked.busbar_a), "busbar"))
    return Picture(bars(rows), _("What is asked of the busbar, and what it has"))


def _service(facts: Facts) -> Picture:
    asked, result, terms = facts["asked"], facts["r"], facts["book"].terms
    grounded, electrodes = result["grounded_conductor"], result["electrode_conductors"]
    seen = service.Service(
        f"{write(asked.kva, 1)} kVA",
        asked.system.name,
        len(asked.system.legs),
        conductor(result["conductor"], terms),
        _amps(result["load_a"]),
        conductor(grounded, terms) if grounded else "",
        rating(result["device_a"]),
        f"{electrodes['water_pipe']} Cu" if electrodes else "",
    )
    return Picture(service.service(seen), _("The transformer, the service conductors, the disconnect"))


def _beside(facts: Facts) -> Picture:
    mine = facts["asked"].system.name
    rows = [
        Bar(each["system"], each["amps"], _amps(each["amps"]), "busbar" if each["system"] == mine else "reached")
        for each in facts["r"]["beside"]
    ]
    return Picture(bars(rows), _("Amperes by supply"))


def _between_lines(facts: Facts) -> Picture:
    asked, result = facts["asked"], facts["r"]
    drawn = amounts.between_lines(
        f"{write(asked.volts)} V",
        _amps(result["amps"]),
        f"{write(result['kva'], 2)} kVA",
        f"{write(result['kw'], 2)} kW",
        asked.phases == _THREE,
    )
    return Picture(drawn, _("The load between its lines"))


def _without_root(facts: Facts) -> Picture:
    amps, other = facts["r"]["amps"], facts["other"]
    three = facts["asked"].phases == _THREE
    rows = [
        Bar(_("three phases") if three else _("single phase"), amps, _amps(amps), "busbar"),
        Bar(_("without √3") if three else _("÷ √3"), other, _amps(other), strong="note"),
    ]
    return Picture(bars(rows), _("The two beside each other"))


def _dwelling(facts: Facts) -> Picture:
    result, other = facts["r"], facts["r"]["other_method"]
    demand = f"{write(result['demand_va'] / 1000, 1)} · {_amps(result['amps'])} · "
    demand += _("%(device)s service") % {"device": rating(result["device_a"])}
    rows = [
        Bar(_("connected"), result["connected_va"], write(result["connected_va"] / 1000, 1), strong="note"),
        Bar(result["method"], result["demand_va"], demand, "busbar"),
        Bar(
            other["method"],
            other["demand_va"],
            f"{write(other['demand_va'] / 1000, 1)} · {rating(other['device_a'])}",
            strong="note",
        ),
    ]
    return Picture(bars(rows), _("Connected load and demand"))


def _auto_windings(facts: Facts) -> Picture:
    asked, result = facts["asked"], facts["r"]
    loaded = bool(result["load_va"])
    built = ""
    if loaded:
        built = _("built for %(built)s kVA, carries %(load)s kVA: only the series winding is transformed") % {
            "built": write(result["built_va"] / 1000, 2),
            "load": write(result["load_va"] / 1000, 2),
        }
    comes, goes = f"{write(asked.from_v, 1)} V ⟶", f"{write(result['output_v'], 1)} V"
    seen = coils.Windings(
        asked.from_v >= result["output_v"],
        f"{comes} {_amps(result['input_a'], 2)}" if loaded else comes,
        f"{goes} · {_amps(result['output_a'], 2)} ⟶" if loaded else f"{goes} ⟶",
        _("series %(volts)s V") % {"volts": write(result["series_v"], 1)},
        _amps(result["series_a"], 2) if loaded else "",
        _("common %(volts)s V") % {"volts": write(result["common_v"], 1)},
        _amps(result["common_a"], 2) if loaded else "",
        built,
    )
    return Picture(coils.auto_windings(seen), _("The series and the common winding, their volts and amperes"))


def _joined(facts: Facts) -> Picture:
    wiring, result = facts["best"].wiring, facts["r"]
    ways = _("in at X1 and H4, out at H1 and H4")
    if result["connection"] == "boost":
        ways = _("in at H1 and H4, out at X1 and H4")
    said = _("join %(joints)s · %(ways)s") % {"joints": ", ".join(result["joints"]), "ways": ways}
    drawn = coils.joined_terminals(
        f"{write(wiring.primary_coil_v)} V", f"{write(wiring.secondary_coil_v)} V", wiring.joints, said
    )
    return Picture(drawn, _("The terminals joined"))


def _hue(leg: str, facts: Facts) -> str:
    system = getattr(facts["asked"], "system", None)
    return colour(leg, facts["book"].terms.family, system.line_to_line_v if system else 0.0)


def _balance(facts: Facts) -> Picture:
    result = facts["r"]
    found = [
        legs.Leg(leg, _hue(leg, facts), amps, result["legs_before"].get(leg, 0.0))
        for leg, amps in result["legs"].items()
    ]
    return Picture(legs.now_and_after(found, result["bound_a"]), _("Each leg now and after"))


def _two_supplies(facts: Facts) -> Picture:
    result = facts["r"]
    found = [legs.Leg(leg, _hue(leg, facts), amps) for leg, amps in result["amps_by_leg"].items()]
    drawn = legs.two_supplies(result["amps_single"], result["single_phase_limit_a"], result["system"], found)
    return Picture(drawn, _("Single phase and three phases beside each other"))


def _arrows(facts: Facts) -> Picture:
    found = [legs.Leg(each.name, each.hue, each.amps) for each in facts["curves"]]
    return Picture(legs.arrows(found), _("Arrows on the conductors"))


def _ohms(value: float) -> str:
    return f"{write(value, 2)} Ω"


def _fault_loop(facts: Facts) -> Picture:
    asked, found = facts["asked"], facts["loop"]
    protective = _("earth %(size)s mm², %(ohms)s") % {"size": found.protective, "ohms": _ohms(found.protective_ohm)}
    seen = loop.Way(
        _("supply %(ohms)s") % {"ohms": _ohms(found.ze_ohm)},
        _("line %(size)s mm², %(ohms)s") % {"size": asked.line_mm2, "ohms": _ohms(found.line_ohm)},
        protective,
        f"{say(KINDS[asked.device_kind])} {rating(asked.device_a)}",
        _("fault %(amps)s") % {"amps": _amps(found.fault_a, 0)},
        asked.earthing == "TT",
    )
    return Picture(loop.way_round(seen, facts["book"].terms.symbols == "iec"), _("The way of the fault's current"))


def _loop_against(facts: Facts) -> Picture:
    found = facts["loop"]
    parts = [
        loop.Part(_("supply %(ohms)s") % {"ohms": _ohms(found.ze_ohm)}, found.ze_ohm, "wire-black"),
        loop.Part(_("line %(ohms)s") % {"ohms": _ohms(found.line_ohm)}, found.line_ohm, "bus"),
        loop.Part(_("back %(ohms)s") % {"ohms": _ohms(found.protective_ohm)}, found.protective_ohm, "back"),
    ]
    most = (found.most_rcd_ohm if found.by == "RCD" else found.most_ohm) or 0.0
    words = _("Zs %(zs)s · on the meter, cold, to %(cold)s") % {
        "zs": _ohms(found.zs_ohm),
        "cold": _ohms(found.measured_ohm) if found.measured_ohm else "–",
    }
    drawn = loop.unrolled(parts, words, most, _("%(most)s at most") % {"most": _ohms(most)} if most else "")
    return Picture(drawn, _("The loop unrolled, against its limit"))


def _mm2(value: float) -> str:
    return f"{write(value, 1)} mm²"


def _adiabatic(facts: Facts) -> Picture:
    found = facts["heat"]
    rows = [Bar(_("asked for"), found.least_mm2, _mm2(found.least_mm2), look="back", width=11)]
    if found.armour_mm2 is not None:
        rows.append(Bar(_("the armour"), found.armour_mm2, _mm2(found.armour_mm2), look="bus", width=11))
    for name, size in ((_("next size"), found.size), (_("by its line"), found.table)):
        if size:
            look = "bus" if size == found.taken else "reached"
            rows.append(Bar(name, float(size), _mm2(float(size)), look=look, width=11))
    return Picture(bars(rows), _("Sizes beside each other"))


def _house_demand(facts: Facts) -> Picture:
    rows = [Bar(row.item.kind, row.demand_a, _amps(row.demand_a), look="bus", width=11) for row in facts["rows"]]
    for leg, amps in facts["legs"].items():
        rows.append(Bar(_("together, %(leg)s") % {"leg": leg}, amps, _amps(amps), look="back", width=14))
    if facts["fuse"]:
        rows.append(Bar(_("main fuse"), facts["fuse"], rating(facts["fuse"]), look="wire-black", width=5))
    return Picture(bars(rows, 170.0), _("What each counts, and the fuse"))


def _usual_circuit(facts: Facts) -> Picture:
    asked, result, terms, solved = facts["asked"], facts["r"], facts["book"].terms, facts["solved"]
    drawn = circuit(
        Circuit(
            terms.symbols == "iec",
            _board(facts),
            _volts(solved.nominal_v, 1),
            2,
            rating(result["device_a"]),
            f"{result['line_mm2']} mm²",
            f"{result['protective_mm2']} mm²",
            asked.circuit,
            _amps(result["design_a"]),
            "",
            facts["length"],
            _drop({"drop_v": result["drop_v"], "drop_percent": solved.drop_percent}),
        )
    )
    return Picture(drawn, _("The circuit drawn: board, breaker, cable, what it feeds"))


PICTURES: Mapping[str, Callable[[Facts], Picture]] = {
    "run": _run,
    "appliance": _appliance,
    "appliance-scale": _appliance_scale,
    "motor": _motor,
    "motor-devices": _motor_devices,
    "motor-volts": _motor_volts,
    "motor-feeder": _motor_feeder,
    "kitchen": _kitchen,
    "inverter": _inverter,
    "busbar": _busbar,
    "service": _service,
    "beside": _beside,
    "between-lines": _between_lines,
    "without-root": _without_root,
    "dwelling": _dwelling,
    "auto-windings": _auto_windings,
    "joined": _joined,
    "balance": _balance,
    "two-supplies": _two_supplies,
    "arrows": _arrows,
    "fault-loop": _fault_loop,
    "loop-against": _loop_against,
    "adiabatic": _adiabatic,
    "house-demand": _house_demand,
    "usual-circuit": _usual_circuit,
}
