"""The workbench: a whole job on one screen. The path on the left (`tree`), the lenses in the middle
(`single_line` in drawing, `schedule`), the chain of the chosen node on the right (`chain`, `fields`),
every change to the path (`changes`, `csvlist`), thin views and forms."""
