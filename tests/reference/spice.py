"""A circuit simulator from outside: netlists of sources, lines and loads, solved at one frequency."""

import cmath
import math
import re
import subprocess

FREQUENCY = 60.0
_PRINTED = re.compile(r"^(\S+) = (\S+),(\S+)$", re.MULTILINE)


class Netlist:
    """Elements between named nodes; "0" is the neutral."""

    def __init__(self):
        self.lines = []
        self.asked = []

    def source(self, name, node, volts):
        """An ideal source of a phasor, from a node to the neutral; its current is among the answers."""
        size, angle = abs(volts), math.degrees(cmath.phase(volts))
        self.lines.append(f"V{name} {node} 0 DC 0 AC {size:.12g} {angle:.12g}")
        self.asked.append(f"v{name}#branch".lower())

    def impedance(self, name, start, end, ohms):
        """A resistance and a reactance in a row."""
        middle = f"{name}m" if ohms.imag else end
        self.lines.append(f"R{name} {start} {middle} {max(ohms.real, 1e-9):.12g}")
        if ohms.imag:
            self.lines.append(f"L{name} {middle} {end} {ohms.imag / (2 * math.pi * FREQUENCY):.12g}")

    def winding(self, name, primary, secondary, ratio):
        """Two windings on one core, each between two nodes; the secondary's current is among the answers.

        ratio: secondary volts to primary volts
        """
        (start, end), (hot, cold) = primary, secondary
        self.lines.append(f"E{name} {name}x {cold} {start} {end} {ratio:.12g}")
        self.lines.append(f"R{name}w {name}x {name}y 1e-4")  # ideal sources may not close a ring
        self.lines.append(f"V{name} {name}y {hot} DC 0 AC 0")
        self.lines.append(f"F{name} {start} {end} V{name} {ratio:.12g}")
        self.asked.append(f"v{name}#branch".lower())

    def draw(self, name, start, end, amps):
        """A load that draws a phasor of current, whatever its voltage."""
        size, angle = abs(amps), math.degrees(cmath.phase(amps))
        self.lines.append(f"I{name} {start} {end} DC 0 AC {size:.12g} {angle:.12g}")

    def voltage(self, node):
        """Ask for a node's voltage."""
        self.asked.append(f"v({node})".lower())

    def probe(self, name, start, end):
        """A joint without ohms whose current is among the answers, from its first node to its other."""
        self.lines.append(f"V{name} {start} {end} DC 0 AC 0")
        self.asked.append(f"v{name}#branch".lower())

    def solve(self):
        """Return every answer as a phasor, by what was asked."""
        control = [
            ".control",
            "set numdgt=12",
            f"ac lin 1 {FREQUENCY} {FREQUENCY}",
            *(f"print {each}" for each in self.asked),
            ".endc",
        ]
        text = "\n".join(["network", *self.lines, *control, ".end", ""])
        done = subprocess.run(["ngspice", "-b"], input=text, capture_output=True, text=True, check=False)
        found = {name.lower(): complex(float(x), float(y)) for name, x, y in _PRINTED.findall(done.stdout)}
        assert found.keys() >= set(self.asked), done.stdout + done.stderr
        return found
