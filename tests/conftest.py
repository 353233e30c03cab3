from pathlib import Path

import pytest

HERE = Path(__file__).parent


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--tables", default=40, help="how many lift tables the bands of a measured curve are held to")
    parser.addoption("--lives", default=30, help="how many lives the shadow of the evidence plays to each seed")
    parser.addoption("--cases", default=str(HERE / "reference_cases.json"), help="reference cases to hold the core to")
