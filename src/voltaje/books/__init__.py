"""Books: rule sets with an edition. each family is a folder of rules, clauses and tables."""
