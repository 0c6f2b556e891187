"""What is asked of a person or a file, declared once: the reader with its errors, the JSON Schema, the forms follow.

`shapes.py` says what a value is, `declare.py` what a field is, `read.py` reads, all errors together and each at its
field, `schema.py` writes JSON Schema. Declarations are made on dataclasses, not on a validation package's models: how
a value is read (units, fractions, the book's unit of length) is ours in any case, and so are the words of its errors.
"""
