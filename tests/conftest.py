from pathlib import Path

import pytest

HERE = Path(__file__).parent


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--cases", default=str(HERE / "reference_cases.json"), help="reference cases to hold the core to")
