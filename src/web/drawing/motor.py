"""A motor's torque over its speed before its volts are mended and after, with the torque that its load asks."""

from django.utils.translation import gettext as _

from voltaje.physics.motor_curve import PEAK, running, torque
from web.drawing.shapes import Drawing, Group, Shape
from web.words.figures import write

WIDTH, HEIGHT = 690.0, 250.0
_LEFT, _RIGHT, _TOP, _BOTTOM = 56.0, 560.0, 34.0, 206.0
_POINTS, _LEAST_SLIP = 100, 0.001
_TORQUES = (0, 1, 2)
_SPEEDS = (0, 25, 50, 75, 100)


def motor_drawing(before: float, after: float, volts: tuple[float, float]) -> Drawing:
    """Return the two curves; before, after: volts, of the motor's own [share]; volts: the same [V]."""
    most = max(PEAK * max(before, after) ** 2, 2.0) * 1.06

    def place(slip: float, share: float) -> tuple[float, float]:
        return _RIGHT - (_RIGHT - _LEFT) * slip, _BOTTOM - (_BOTTOM - _TOP) * share / most

    shapes = [Shape("name", 12, 20, text=_("Torque over speed"))]
    for share in _TORQUES:
        y = place(0, share)[1]
        shapes += [
            Shape("soft", d=f"M{_LEFT:.0f} {y:.1f}H{_RIGHT:.0f}"),
            Shape("label-end", _LEFT - 6, y + 4, text=f"{share * 100} %"),
        ]
    for percent in _SPEEDS:
        x = place(1 - percent / 100, 0)[0]
        shapes.append(Shape("label-mid", x, _BOTTOM + 18, text=f"{percent} %"))
    shapes.append(
        Shape("label", _LEFT, HEIGHT - 8, text=_("speed, of that of its field; 100 % torque is what its load asks"))
    )
    for volt, look, said, at in (
        (before, "limit", _("before: %(volts)s V"), 0),
        (after, "wire-neutral", _("after: %(volts)s V"), 1),
    ):
        points = [
            place(slip, torque(slip, share)) for slip in (_LEAST_SLIP + step / _POINTS for step in range(_POINTS))
        ]
        d = "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in points)
        shapes.append(Shape(look, d=d, width=2.4))
        found = running(volt)
        words = said % {"volts": write(volts[at], 0)}
        runs = _("stalls") if found is None else _("runs at %(speed)s %%") % {"speed": write((1 - found.slip) * 100, 1)}
        y = _TOP + 40 + at * 64
        shapes += [
            Shape("wrong-word" if at == 0 else "earthword", _RIGHT + 10, y, text=words),
            Shape("label", _RIGHT + 10, y + 18, text=runs),
        ]
        if found is not None:
            x, height = place(found.slip, 1)
            shapes.append(Shape("terminal", x, height, r=4))
            heat = _("rotor heat %(times)s ×") % {"times": write(found.heat, 2)}
            shapes.append(Shape("label", _RIGHT + 10, y + 34, text=heat))
    return Drawing(WIDTH, HEIGHT, [Group("motor", "", 0, 0, tuple(shapes))])
