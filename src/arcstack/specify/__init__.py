"""Which parts of a shelf would do: every combination checked in columns, counted, ranked."""

from arcstack.specify.ask import Ask, Want
from arcstack.specify.measured import Alone
from arcstack.specify.search import Counted, Found, Row, search
from arcstack.specify.space import VARIED, Space

__all__ = ["VARIED", "Alone", "Ask", "Counted", "Found", "Row", "Space", "Want", "search"]
