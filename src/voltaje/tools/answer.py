"""A tool's answer as plain JSON: result, steps, findings."""

from __future__ import annotations

from collections.abc import Iterable

from voltaje.books.dwellings import Conductor
from voltaje.design.circuits.link import Link
from voltaje.design.ladder import Option
from voltaje.findings import Finding
from voltaje.inputs.shapes import Json
from voltaje.message import write_figure
from voltaje.sheet import Step


def answer(tool: str, book: str, result: Json, steps: Iterable[Step], findings: Iterable[Finding]) -> Json:
    """Return the shape that every tool answers in."""
    steps = list(steps)
    return {
        "tool": tool,
        "book": book,
        "result": result,
        "decided_by": [f"{step.label}: {step.because}" for step in steps if step.decides],
        "steps": [step_json(step) for step in steps],
        "findings": [finding_json(finding) for finding in findings],
    }


def step_json(step: Step) -> Json:
    """Return a step; its formula is plain arithmetic text that evaluates to its value."""
    return {
        "label": str(step.label),
        "formula": step.formula,
        "value": step.value,
        "unit": step.unit,
        "rule": str(step.rule) if step.rule else "",
        "because": str(step.because) if step.because else "",
        "decides": step.decides,
    }


def finding_json(finding: Finding) -> Json:
    """Return a finding."""
    return {
        "severity": finding.severity.value,
        "code": finding.code,
        "message": str(finding.message),
        "rule": str(finding.rule) if finding.rule else "",
        "field": finding.field,
        "mend": str(finding.mend) if finding.mend else "",
    }


def link_json(link: Link) -> Json:
    """Return a link of a circuit's chain; its value in words, with its unit."""
    value = str(link.value) if isinstance(link.value, str) else write_figure(link.value) if link.value else ""
    return {
        "key": link.key,
        "title": str(link.title),
        "value": value,
        "unit": link.unit,
        "why": [str(each) for each in link.why],
        "rule": str(link.rule) if link.rule else "",
        "state": link.state,
        "findings": [finding.code for finding in link.findings],
        "pins": list(link.pins),
    }


def conductor_json(conductor: Conductor) -> Json:
    """Return a conductor; its size is a string without a unit."""
    return {
        "size": conductor.size,
        "material": conductor.material,
        "sets": conductor.sets,
        "ampacity_a": conductor.ampacity_a,
        "rule": str(conductor.rule),
    }


def option_json(option: Option) -> Json:
    """Return an option of the ladder."""
    choice = option.choice
    return {
        "device_a": choice.device_a,
        "conductor": {"size": choice.size, "material": option.material, "sets": choice.sets},
        "equipment_ground": {"size": option.earth.size, "material": option.earth.material},
        "metal_kg": option.metal_kg,
        "conduit": option.conduit,
        "drop_v": option.drop.volts if option.drop else None,
        "drop_percent": option.drop_percent,
        "remark": str(option.remark),
    }


def as_pins(option: Json) -> Json:
    """Return an option as the keys that pin it."""
    conductor = option["conductor"]
    return {
        "device_a": option["device_a"],
        "size": conductor["size"],
        "sets": conductor["sets"],
        "material": conductor["material"],
    }
