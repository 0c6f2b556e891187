"""Equipment on its circuit, whichever door it is asked through: one function a kind."""
