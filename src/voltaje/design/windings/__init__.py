"""Questions put to the solver of windings: vector groups, banks, autotransformers, buck and boost."""
