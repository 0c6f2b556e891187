"""What the longer tools ask: their inputs declared, apart from how they are answered."""
