"""A small authority of the shop's own, and a certificate of it for the machine that keeps the workshop.

A tablet that trusts the authority keeps its camera, and what it stores offline; without it a browser refuses both.
"""

import ipaddress
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from arcstack.application.backups.copies import put_bytes
from arcstack.errors import StoreError
from arcstack.settings import setting
from arcstack.store import own_folder
from arcstack.store.trouble import worded

FOLDER, AUTHORITY, AUTHORITY_KEY = "certificates", "authority.pem", "authority.key.pem"
CERTIFICATE, KEY = "bench.pem", "bench.key.pem"
YEARS, DAYS = int(setting("certificate.authority_years")), int(setting("certificate.days"))


@dataclass(frozen=True)
class Made:
    """Files of a certificate and its key, of the authority that signed it, when it ends, and the authority's mark."""

    certificate: Path
    key: Path
    authority: Path
    ends: datetime
    fingerprint: str


def folder_of_certificates(data: Path) -> Path:
    """Where a workshop keeps them."""
    return data / FOLDER


def make(data: Path, names: tuple[str, ...], now: datetime) -> Made:
    """A certificate for the names and addresses that the machine is called by. The authority is made where
    there is none yet, and kept, so that a tablet trusts the next certificate too.

    Raises ``StoreError``, also for a name that is none.
    """
    folder = folder_of_certificates(data)
    with worded(folder / CERTIFICATE):
        own_folder(data)
        own_folder(folder)
        key, authority = _authority(folder, now)
        own = ec.generate_private_key(ec.SECP256R1())
        ends = now + timedelta(days=DAYS)
        try:
            called = x509.SubjectAlternativeName([_name(n) for n in names])
            subject = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, names[0][:64])])
        except (ValueError, IndexError) as error:
            raise StoreError(f"A name of a machine is such as bench.local or 192.168.1.20: {error}.") from error
        made = (
            x509.CertificateBuilder()
            .subject_name(subject)
            .issuer_name(authority.subject)
            .public_key(own.public_key())
            .serial_number(x509.random_serial_number())
            .not_valid_before(now - timedelta(days=1))
            .not_valid_after(ends)
            .add_extension(called, critical=False)
            .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
            .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
            .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(key.public_key()), critical=False)
            .sign(key, hashes.SHA256())
        )
        put_bytes(folder / KEY, _private(own))
        put_bytes(folder / CERTIFICATE, made.public_bytes(serialization.Encoding.PEM))
        return Made(folder / CERTIFICATE, folder / KEY, folder / AUTHORITY, ends, fingerprint(authority))


def _authority(folder: Path, now: datetime) -> tuple[ec.EllipticCurvePrivateKey, x509.Certificate]:
    """The authority that is there, or a new one; it may sign nothing but machines of this shop."""
    if (folder / AUTHORITY).is_file() and (folder / AUTHORITY_KEY).is_file():
        kept = serialization.load_pem_private_key((folder / AUTHORITY_KEY).read_bytes(), None)
        if isinstance(kept, ec.EllipticCurvePrivateKey):
            return kept, x509.load_pem_x509_certificate((folder / AUTHORITY).read_bytes())
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, f"Arc Stack, this shop, {now:%Y-%m-%d}")])
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=365 * YEARS))
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_signs(), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    put_bytes(folder / AUTHORITY_KEY, _private(key))
    put_bytes(folder / AUTHORITY, made.public_bytes(serialization.Encoding.PEM))
    return key, made


def _signs() -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=False, content_commitment=False, key_encipherment=False, data_encipherment=False,
        key_agreement=False, key_cert_sign=True, crl_sign=True, encipher_only=False, decipher_only=False,
    )  # fmt: skip


def _private(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )


def _name(name: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(name))
    except ValueError:
        if not name or not all(
            part and part.replace("-", "a").isalnum() and part.isascii() for part in name.split(".")
        ):
            raise ValueError(f"“{name[:40]}”") from None
        return x509.DNSName(name)


def names_of(file: Path) -> tuple[str, ...]:
    """Names and addresses that a certificate is for. Raises ``StoreError`` where it is none."""
    try:
        made = x509.load_pem_x509_certificate(file.read_bytes())
        called = made.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except (OSError, ValueError, x509.ExtensionNotFound) as error:
        raise StoreError(f"{file.name} is no certificate: {error}.") from error
    return (*called.get_values_for_type(x509.DNSName), *map(str, called.get_values_for_type(x509.IPAddress)))


def fingerprint(certificate: x509.Certificate) -> str:
    """By what an authority is known on a tablet: SHA-256, in pairs."""
    return ":".join(f"{b:02X}" for b in certificate.fingerprint(hashes.SHA256()))


def authority(data: Path) -> tuple[bytes, str] | None:
    """The authority as a tablet takes it (DER), and its mark; None where there is none."""
    file = folder_of_certificates(data) / AUTHORITY
    if not file.is_file():
        return None
    made = x509.load_pem_x509_certificate(file.read_bytes())
    return made.public_bytes(serialization.Encoding.DER), fingerprint(made)
