"""The shop's own authority: what it signs is trusted by whoever trusts it, and by nobody else."""

import ssl
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from cryptography import x509

from arcstack.application.certificates import AUTHORITY_KEY, DAYS, authority, folder_of_certificates, make, names_of
from arcstack.errors import StoreError

NOW = datetime(2026, 3, 1, 8, 30, tzinfo=UTC)


def test_a_certificate_is_for_its_names_and_ends(tmp_path: Path) -> None:
    made = make(tmp_path, ("bench.local", "192.168.1.20"), NOW)
    assert names_of(made.certificate) == ("bench.local", "192.168.1.20")
    assert made.ends == NOW + timedelta(days=DAYS)
    kept = x509.load_pem_x509_certificate(made.certificate.read_bytes())
    kept.verify_directly_issued_by(x509.load_pem_x509_certificate(made.authority.read_bytes()))
    assert not kept.extensions.get_extension_for_class(x509.BasicConstraints).value.ca
    for secret in (made.key, folder_of_certificates(tmp_path) / AUTHORITY_KEY):
        assert secret.stat().st_mode & 0o077 == 0
    ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER).load_cert_chain(made.certificate, made.key)


def test_the_next_one_is_of_the_same_authority(tmp_path: Path) -> None:
    first, second = make(tmp_path, ("bench.local",), NOW), make(tmp_path, ("bench.local",), NOW + timedelta(days=300))
    assert first.fingerprint == second.fingerprint
    told = authority(tmp_path)
    assert told is not None
    assert told[1] == first.fingerprint
    assert x509.load_der_x509_certificate(told[0]).subject.rfc4514_string().startswith("CN=Arc Stack")
    assert make(tmp_path / "other", ("bench.local",), NOW).fingerprint != first.fingerprint


@pytest.mark.parametrize("name", ["", "bench local", "bénch.local", "http://bench", "bench..local"])
def test_what_is_no_name_is_refused(tmp_path: Path, name: str) -> None:
    with pytest.raises(StoreError, match="A name of a machine"):
        make(tmp_path, (name,), NOW)
    assert authority(tmp_path / "nothing") is None
    with pytest.raises(StoreError, match="no certificate"):
        names_of(tmp_path / "none.pem")
