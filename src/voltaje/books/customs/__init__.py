"""Customs that no rule family owns: colours of conductors by region."""
