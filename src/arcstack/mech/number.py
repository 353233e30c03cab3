"""A scalar or an array: closed formulae take either, all arguments of one kind."""

from typing import TypeVar

from arcstack.mech.cam.law import Array

Number = TypeVar("Number", float, Array)
