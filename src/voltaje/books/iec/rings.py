"""Ring final circuits: one loop of cable from its device and back, which feeds its sockets from both ends."""

from __future__ import annotations

from voltaje.books.answers import Choice, Objection, Run
from voltaje.books.iec.profile import Profile
from voltaje.errors import InputError
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.rounding import DUST
from voltaje.sheet import Sheet
from voltaje.systems import THREE_PHASE

# Half of the load hangs at the far point, the rest is spread round the loop: in the mean it has half the way to go.
CURRENT = Formula("far + (load - far) / 2")
DROP = Formula("millivolts / 4 * amps * length / 1000")


def check(run: Run, profile: Profile) -> None:
    """Raise InputError where a run cannot be a ring. Source: BS 7671 433.1.204, a practice of that profile alone."""
    if not run.ring:
        return
    if not profile.rings:
        raise InputError("ring", Message("{book} has no ring final circuits", book=profile.short))
    if run.phases == THREE_PHASE:
        raise InputError("ring", Message("a ring is of one phase"))


def devices(profile: Profile) -> tuple[float, float]:
    """Return the ratings that guard a ring [A]: of a fuse, of a breaker. Source: BS 7671 433.1.204."""
    return profile.figure("ring_fuse_a"), profile.figure("ring_breaker_a")


def devices_of(run: Run, profile: Profile) -> tuple[float, ...]:
    """Return the rating that a ring has with its kind of device [A]. Source: BS 7671 433.1.204."""
    fuse, breaker = devices(profile)
    return (fuse if run.surroundings.rewireable else breaker,)


def leg_a(run: Run, device_a: float, profile: Profile) -> float:
    """Return what a conductor must carry as it is installed [A]: a ring's legs share, others as their device.

    Source: BS 7671 433.1.204: 20 A.
    """
    return profile.figure("ring_leg_a") if run.ring else device_a


def why(profile: Profile) -> Message:
    """Say why a ring's device may be over what one leg of it carries. Source: BS 7671 433.1.204."""
    leg = Figure(profile.figure("ring_leg_a"), "A")
    return Message("both legs of the ring share: each carries {leg} or more", leg=leg)


def objections(choice: Choice, carries_a: float, profile: Profile) -> list[Objection]:
    """Return why a ring does not comply. Source: BS 7671 433.1.204: 30 or 32 A, 2.5 mm², 20 A in each leg."""
    found, rule = [], profile.cite("ring")
    if choice.device_a not in devices(profile):
        known = [f"{rating:g}" for rating in devices(profile)]
        message = Message("a ring is protected at {known} A, not {device}", known=known, device=f"{choice.device_a:g}")
        found.append(Objection("device_a", message, rule))
    leg, least = profile.figure("ring_leg_a"), profile.figure("ring_least_mm2")
    if float(choice.size) < least:
        message = Message("a ring is of {least} mm² or more", least=f"{least:g}")
        found.append(Objection("size", message, rule))
    elif carries_a < leg - DUST:
        message = Message(
            "{size} mm² carries {carries} in each leg as it is installed, under {leg}",
            size=choice.size,
            carries=Figure(carries_a, "A", 1),
            leg=Figure(leg, "A"),
        )
        found.append(Objection("size", message, rule))
    return found


def drop_v(run: Run, millivolts: float, key: str, profile: Profile, sheet: Sheet) -> float:
    """Return the drop to the middle of a ring [V]; its length is that of the whole loop.

    Source: common practice of BS 7671 rings: a quarter of the loop's resistance, 20 A at the far point, what is more
    spread round it (26 A in all of a 32 A ring).
    """
    far = min(run.amps, profile.figure("ring_leg_a"))
    because = Message("20 A at its far point, the rest spread round it: common practice")
    amps = sheet.apply(CURRENT, Message("Counts as"), "A", profile.cite("ring"), because, far=far, load=run.amps)
    return sheet.apply(
        DROP,
        Message("Voltage drop"),
        "V",
        profile.cite_table(key),
        Message("a quarter of the loop's millivolts: from both ends, at its middle"),
        millivolts=millivolts,
        amps=amps,
        length=run.length_m or 0.0,
    )
