"""Template tags of quick sheets."""
