"""Drawing: from figures to shapes; templates do the markup."""
