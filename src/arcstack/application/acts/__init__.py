"""Acts of a builder at a head: what each asks for, what stands against it, and what it stores.

Each takes the head as it was opened and the hand that acts. It raises ``FieldError`` by the argument that is at fault,
``Frozen`` for a head that is signed off, and stores all it does or nothing.
"""
