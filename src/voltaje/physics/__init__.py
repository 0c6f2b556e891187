"""Physics: phasors and currents; no code of practice is known here."""
